using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning.Steps;

namespace WiseLoom.Core.Planning;

/// <summary>The steps of a plan that come after the bare loom and the load: through devices, crimp samples, looks.</summary>
/// <param name="first">Number of the first of them.</param>
internal sealed class BeyondSteps(Loom loom, Survey survey, PlanTerms terms, int first)
{
    /// <summary>Making a sample and pulling it, seconds.</summary>
    internal const double PullSeconds = 40;

    /// <summary>Taking a plug in the hand, and then each thing to look at, seconds.</summary>
    internal const double TakeSeconds = 4, LookSeconds = 2;

    private readonly ImmutableArray<PlanStep>.Builder steps = ImmutableArray.CreateBuilder<PlanStep>();

    /// <summary>Diodes that are plugged in and that no reading shows, in words.</summary>
    internal List<string> UnseenDiodes { get; } = [];

    /// <summary>What they take at least, seconds: a touch each after the first, devices plugged in once, samples and looks as they are.</summary>
    internal double AtLeast { get; private set; }

    private int Number => first + steps.Count;

    /// <summary>Makes all that is asked for.</summary>
    /// <param name="stand">Where the probes stand before.</param>
    internal ImmutableArray<PlanStep> Make(ProbePair? stand)
    {
        Fitted(stand);
        if (terms.Beyond.Pulls is { } pulls)
        {
            Samples(pulls);
        }

        if (terms.Beyond.Looks)
        {
            foreach (var look in LookOver.Of(loom))
            {
                var seconds = TakeSeconds + (look.Things.Length * LookSeconds);
                steps.Add(new LookStep(Number, look.At, null, default, seconds, null, look.Place, look.Things));
                AtLeast += seconds;
            }
        }

        return steps.ToImmutable();
    }

    private void Fitted(ProbePair? stand)
    {
        if (terms.Beyond.Fitted.IsEmpty)
        {
            return;
        }

        var readings = FittedPairs.Of(loom, terms, terms.Beyond.Fitted.ToHashSet(StringComparer.Ordinal), UnseenDiodes);
        var asked = readings.SelectMany(Ways).ToLookup(w => w.Probes, w => w.Make);
        var refit = terms.Cost.Refit;
        foreach (var pair in FixedOrder.Of([.. asked.Select(a => a.Key)], stand, terms.Cost))
        {
            // A diode's other direction: both probes leave their places for each other's.
            var go = stand is { } at && at.IsAt(pair) ? 2 * terms.Cost.Touch : terms.Cost.Between(stand, pair);
            var (make, seconds) = (asked[pair].First(), go + refit);
            AtLeast += refit > 0 ? refit : terms.Cost.Touch;
            steps.Add(make(Number, seconds));
            (stand, refit) = (steps[^1].Probes, 0);
        }
    }

    /// <summary>The steps of a reading: one, or two where a diode decides.</summary>
    private IEnumerable<(ProbePair Probes, Func<int, double, PlanStep> Make)> Ways(FittedReading reading)
    {
        var (red, black, circuit) = (reading.Pair.A, reading.Pair.B, Circuit(reading.Pair));
        if (reading.Pair.ThroughDiode)
        {
            yield return (new(black, red), (number, seconds) => Diode(number, black, red, reading.Pair.Ohm, seconds, circuit));
            yield return (new(red, black), (number, seconds) => Diode(number, red, black, reading.Pair.Reversed, seconds, circuit));
            yield break;
        }

        var limits = reading.Pair.Ohm is { } expected ? new Limits(expected.Min, expected.Max) : Limits.Apart;
        var words = string.Join(" and ", reading.Devices);
        yield return (new(black, red), (number, seconds) => reading.Group is { } group
            ? new PairStep(number, black, red, reading.Pair.Ohm, limits, seconds, circuit, group, words)
            : new FittedStep(number, black, red, reading.Pair.Ohm!.Value, limits, seconds, Judgement.SurelyNoticedOhms(reading.Pair.Ohm.Value.Nominal, limits, terms.Meter), circuit, words, reading.Wires));
    }

    private static DiodeStep Diode(int number, ProbePoint black, ProbePoint red, OhmRange? ohm, double seconds, string? circuit)
    {
        var (least, most) = ohm is { } range ? (Math.Max(0.05, (range.Min * FittedTable.TestAmps) - DiodeStep.SpreadVolts), (range.Max * FittedTable.TestAmps) + DiodeStep.SpreadVolts) : (FittedTable.MostTestVolts, double.PositiveInfinity);
        return new(number, black, red, new(least, most), seconds, circuit, ohm is not null);
    }

    private string? Circuit(FittedPair pair) => survey.Has(pair.A) ? survey.Circuit(survey.NetOf(pair.A)) : null;

    private void Samples(PullTable table)
    {
        var ends = loom.Wires.SelectMany(w => new[] { w.From, w.To }.Where(e => !e.IsSplice).Select(e => (e.Point, w.Section.Mm2, Family: loom.Connector(e.Point.Connector).Family)))
            .Where(e => e.Family.Kind != HousingKind.Tail);
        foreach (var lot in ends.GroupBy(e => (e.Family.Id, e.Mm2)).OrderBy(g => g.Key.Id, NaturalOrder.Comparer).ThenBy(g => g.Key.Mm2))
        {
            var all = lot.ToList();
            var words = string.Create(CultureInfo.InvariantCulture, $"{lot.Key.Mm2:0.##} mm² in {all[0].Family.Title}");
            var samples = table.Samples(all.Count);
            for (var i = 1; i <= samples; i++)
            {
                steps.Add(new PullStep(Number, all[0].Point, null, new(table.Least(lot.Key.Mm2), double.PositiveInfinity), PullSeconds, null, words, all.Count, i, samples));
                AtLeast += PullSeconds;
            }
        }
    }
}
