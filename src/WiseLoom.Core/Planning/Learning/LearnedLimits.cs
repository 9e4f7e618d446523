using System.Collections.Immutable;
using MathNet.Numerics.Statistics;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning.Steps;

namespace WiseLoom.Core.Planning.Learning;

/// <summary>What good looms read between two places, and what is taken from that.</summary>
/// <param name="Ohms">Their median.</param>
/// <param name="Least">A further good loom reads at least this, ohms.</param>
/// <param name="Most">And at most this.</param>
/// <param name="Contradiction">Why drawing and looms cannot both be right; null when they can.</param>
public sealed record LearnedPair(ProbePoint A, ProbePoint B, double Ohms, double Least, double Most, string? Contradiction);

/// <summary>A length that a good loom tells, where the section is known.</summary>
/// <param name="Millimetres">From end to end.</param>
public sealed record LearnedLength(string Wire, double Millimetres);

/// <summary>Limits learned from looms that a lead declared good.</summary>
/// <param name="Looms">How many.</param>
/// <param name="From">Which: <c>looms 12, 15 and 19</c>.</param>
public sealed record LearnedLimits(int Looms, string From, ImmutableArray<LearnedPair> Pairs, ImmutableArray<LearnedLength> Lengths)
{
    /// <summary>From so many looms on, their spread is known well enough for a tolerance interval.</summary>
    public const int Many = 5;

    /// <summary>Around one good loom: a share of what it read, and at least so many ohms.</summary>
    private const double OneShare = 0.25, OneOhms = 0.020;

    /// <summary>The same around two to four.</summary>
    private const double FewShare = 0.15, FewOhms = 0.015;

    /// <summary>The most good looms that are looked at.</summary>
    public const int MostLooms = 200;

    /// <summary>Where a limit comes from, in words.</summary>
    public string Origin => $"learned from {From}";

    /// <summary>Learns from readings of one plan.</summary>
    /// <param name="loom">As it is drawn.</param>
    /// <param name="plan">Whose steps were read.</param>
    /// <param name="good">For each good loom its readings by step, ohms.</param>
    /// <param name="from">Which looms they are.</param>
    /// <exception cref="ArgumentException">No loom, or more than <see cref="MostLooms"/>.</exception>
    public static LearnedLimits Of(Loom loom, TestPlan plan, IReadOnlyList<IReadOnlyDictionary<int, double>> good, string from)
    {
        ArgumentNullException.ThrowIfNull(loom);
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(good);
        if (good.Count is 0 or > MostLooms)
        {
            throw new ArgumentException($"1 to {MostLooms} good looms are learned from.", nameof(good));
        }

        var table = ExpectationTable.For(loom, plan.AmbientC, plan.Copper);
        var pairs = ImmutableArray.CreateBuilder<LearnedPair>();
        foreach (var step in plan.Steps.OfType<ContinuityStep>().Where(s => s.Red is not null))
        {
            var read = good.Select(g => g.TryGetValue(step.Number, out var ohms) ? (double?)ohms : null).OfType<double>().ToList();
            // What not every good loom has was not seen often enough.
            if (read.Count == good.Count)
            {
                var (least, middle, most) = Around(read, plan.Meter);
                var drawn = table.Between(step.Black, step.Red!.Value);
                pairs.Add(new(step.Black, step.Red.Value, middle, least, most, Contradiction(middle, plan.Meter.Uncertainty(middle), drawn)));
            }
        }

        return new(good.Count, from, pairs.ToImmutable(), [.. LengthsOf(loom, plan, pairs)]);
    }

    /// <summary>The plan with these limits where something was learned; a limit that contradicts its drawing is left as it was computed.</summary>
    public TestPlan Over(TestPlan plan)
    {
        ArgumentNullException.ThrowIfNull(plan);
        var learned = Pairs.Where(p => p.Contradiction is null).ToDictionary(p => Key(p.A, p.B));
        return plan with
        {
            Steps = [.. plan.Steps.Select(s => s is ContinuityStep { Red: { } red } step && learned.TryGetValue(Key(step.Black, red), out var pair)
                ? step with
                {
                    Limits = new(pair.Least, pair.Most),
                    Expected = new(pair.Least, pair.Ohms, pair.Most),
                    NoticedOhms = Judgement.SurelyNoticedOhms(pair.Ohms, new(pair.Least, pair.Most), plan.Meter),
                    Origin = Origin,
                }
                : s)],
        };
    }

    private static (double Least, double Middle, double Most) Around(List<double> read, Meter meter)
    {
        var middle = read.Median();
        double least, most;
        if (read.Count >= Many)
        {
            var (mean, deviation) = read.MeanStandardDeviation();
            var reach = ToleranceFactor.TwoSided(read.Count) * deviation;
            (least, most) = (mean - reach, mean + reach);
        }
        else
        {
            var reach = read.Count == 1 ? Math.Max(OneShare * middle, OneOhms) : Math.Max(FewShare * middle, FewOhms);
            (least, most) = (Math.Min(read.Min(), middle - reach), Math.Max(read.Max(), middle + reach));
        }

        return (Math.Max(0, least - meter.Uncertainty(Math.Max(0, least))), middle, most + meter.Uncertainty(most));
    }

    private static string? Contradiction(double ohms, double uncertainty, OhmRange? drawn) =>
        drawn is not { } range ? "The drawing has no metal between the two."
            : ohms + uncertainty < range.Min || ohms - uncertainty > range.Max
                ? $"The good looms read {Say.Ohms(ohms)}, and the drawing explains {Say.Between(Say.Ohms(range.Min), Say.Ohms(range.Max))}: one of the two is wrong."
            : null;

    /// <summary>Lengths of wires that nobody measured and that alone join a pair that was read.</summary>
    private static IEnumerable<LearnedLength> LengthsOf(Loom loom, TestPlan plan, IEnumerable<LearnedPair> pairs)
    {
        var read = pairs.ToDictionary(p => Key(p.A, p.B));
        var graph = WireGraph.Topology(loom);
        foreach (var wire in loom.Wires.Where(w => w is { LengthRange: not null, SectionRange: null } && !w.From.IsSplice && !w.To.IsSplice))
        {
            if (read.TryGetValue(Key(wire.From.Point, wire.To.Point), out var pair) && graph.NetOf(wire.From.Point) is { Edges.Length: 1 })
            {
                var ends = WireGraph.AtEnd(loom, wire.From).Nominal + WireGraph.AtEnd(loom, wire.To).Nominal;
                var perMetre = Copper.Wire(wire.Section, 1000, plan.AmbientC, plan.Copper).Nominal;
                if (pair.Ohms > ends)
                {
                    yield return new(wire.Id, Math.Round((pair.Ohms - ends) / perMetre * 1000));
                }
            }
        }
    }

    private static (ProbePoint, ProbePoint) Key(ProbePoint a, ProbePoint b) => b < a ? (b, a) : (a, b);
}
