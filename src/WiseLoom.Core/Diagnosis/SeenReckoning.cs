using System.Collections.Immutable;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Sightings;

namespace WiseLoom.Core.Diagnosis;

/// <summary>What resistances and all else that was seen say together.</summary>
/// <remarks>Each supposition is a loom of its own for the state core, so their number is bounded: what the resistances leave, what is near the odd
/// sightings, and pairs of the best where no single one explains all.</remarks>
internal sealed class SeenReckoning(DrawnLoom drawn, Evidence evidence, Priors priors, Witness witness, CancellationToken cancel)
{
    /// <summary>Of what the resistances leave, so many are held against the sightings.</summary>
    private const int MostByOhms = 80;

    /// <summary>Suppositions of two: so many firsts, each with so many seconds.</summary>
    private const int Firsts = 5, Seconds = 16;

    /// <summary>Of wires whose break would show, so many are tried as poor joints.</summary>
    private const int MostPoor = 24;

    /// <summary>The best so many poor joints are fitted once more, in so many steps.</summary>
    private const int ToFit = 4, FitSteps = 8;

    /// <summary>How seldom a wire fails between the bare test and power; a logarithm.</summary>
    private const double LogSince = -3.5;

    /// <summary>Resistances so much against a supposition put it out.</summary>
    private const double Out = -40;

    /// <summary>Between these a poor joint is looked for, ohms, and so far above its least it is told at most, squared.</summary>
    private const double LeastOhms = 0.05, MostOhms = 1e5, FarAbove = 4;

    private static readonly ImmutableArray<double> Sizes = [0.3, 3, 30, 300, 3000];

    private readonly Weighing weighing = new(drawn, evidence);

    /// <summary>Weighs all anew.</summary>
    /// <param name="byOhms">What the resistances say, falling.</param>
    internal List<Weighed> All(List<Weighed> byOhms)
    {
        var suspects = new NearSuspects(drawn, priors);
        var candidates = byOhms.Take(MostByOhms).Append(byOhms.Find(w => w.Faults.IsEmpty)!).Distinct().ToList();
        if (!witness.Odd.IsEmpty)
        {
            var (wires, others) = suspects.From(witness.Odd, witness.Sound);
            var broken = Seen(wires.Select(w => Since(weighing.Weigh(new([new OpenFault(w.Id)], suspects.LogOpen)))));
            // What a break does not change a poor joint does not change either.
            var poor = broken.Where(b => witness.Odd.Any(s => s.Fits(b.As!) || s.Expected(b.As!) != s.Expected(witness.Sound))).Select(b => drawn.Loom.FindWire(((OpenFault)b.Faults[0]).Wire)!).Take(MostPoor).SelectMany(w => Sizes.Select(ohm => Since(weighing.Weigh(new([new ResistiveFault(w.Id, ohm)], suspects.LogPoor - Math.Log(Sizes.Length))))));
            candidates = [.. candidates, .. broken, .. poor, .. others.Select(weighing.Weigh)];
        }

        var all = Fitted(Falling(Seen(candidates.Where(IsLeft))));
        return witness.FitsAll(all[0].As!) && evidence.Unexplained(all[0]).Count == 0 ? all : Falling([.. all, .. Pairs(all)]);
    }

    /// <summary>A wire may have broken since it was measured, or read right only while nothing was drawn: passed readings weigh no more than so much against that.</summary>
    private static Weighed Since(Weighed one) => one.Gain >= LogSince ? one : one with { Score = one.LogPrior + LogSince, Gain = LogSince };

    private static bool IsLeft(Weighed one) => one.Gain > Out || one.Faults.IsEmpty;

    /// <summary>Holds suppositions against the sightings.</summary>
    private List<Weighed> Seen(IEnumerable<Weighed> some) =>
    [
        .. some.DistinctBy(w => string.Join(';', w.Faults.Select(f => f.ToString()))).ToList().Each(w =>
        {
            if (w.As is not null)
            {
                return w;
            }

            var of = witness.With(w.Faults);
            var gain = witness.Gain(of);
            return w with { Score = w.Score + gain, Gain = w.Gain + gain, As = of };
        }, cancel),
    ];

    private static List<Weighed> Falling(IEnumerable<Weighed> some)
    {
        // Of one wire's poor joints of all sizes the likeliest stands for them, with the share of all.
        var all = some.GroupBy(w => w.Faults is [ResistiveFault poor] ? poor.Wire : string.Join(';', w.Faults.Select(f => f.ToString())), StringComparer.Ordinal).Select(g =>
        {
            var best = g.MaxBy(w => w.Score)!;
            return best with { Score = best.Score + Math.Log(g.Sum(w => Math.Exp(w.Score - best.Score))) };
        });
        return [.. all.OrderByDescending(w => Math.Round(w.Score, 2))];
    }

    /// <summary>The size of the best poor joints, finer than it was tried.</summary>
    private List<Weighed> Fitted(List<Weighed> falling)
    {
        var fitted = falling.Select((w, i) => i < ToFit && w.Faults is [ResistiveFault { Ohm: var ohm } poor] && Sizes.Contains(ohm) ? Finer(w, poor) : w);
        return [.. fitted.OrderByDescending(w => Math.Round(w.Score, 2))];
    }

    /// <summary>A size that explains as much: the middle, on a logarithmic scale, of those that do, and not far above the least.</summary>
    private Weighed Finer(Weighed one, ResistiveFault poor)
    {
        double Gain(double ohm) => witness.Gain(witness.With([poor with { Ohm = ohm }]));
        var best = Gain(poor.Ohm);
        double Edge(double beyond)
        {
            var (inside, outside) = (poor.Ohm, beyond);
            for (var step = 0; step < FitSteps; step++)
            {
                cancel.ThrowIfCancellationRequested();
                var middle = Math.Sqrt(inside * outside);
                (inside, outside) = Gain(middle) > best - 0.5 ? (middle, outside) : (inside, middle);
            }

            return inside;
        }

        var least = Edge(LeastOhms);
        var ohm = Math.Sqrt(least * Math.Min(Edge(MostOhms), FarAbove * least));
        ImmutableArray<Fault> faults = [poor with { Ohm = ohm }];
        return one with { Faults = faults, Laid = new(drawn, faults), As = witness.With(faults) };
    }

    private List<Weighed> Pairs(List<Weighed> falling)
    {
        var singles = falling.Where(w => w.Faults.Length == 1).ToList();
        var firsts = singles.Where(w => w.Gain > 1).Take(Firsts).ToList();
        var pairs = new List<Weighed>();
        var taken = new HashSet<string>(StringComparer.Ordinal);
        foreach (var first in firsts)
        {
            var left = witness.Sightings.Where(s => !s.Fits(first.As!)).ToList();
            var seconds = singles.Where(w => w != first).OrderByDescending(w => left.Count(s => s.Fits(w.As!))).ThenByDescending(w => w.Score).Take(Seconds);
            foreach (var second in seconds)
            {
                var names = new[] { first.Faults[0].ToString(), second.Faults[0].ToString() };
                if (taken.Add(string.Join('|', names.Order(StringComparer.Ordinal))))
                {
                    var prior = first.LogPrior + second.LogPrior + priors.LogSecond;
                    pairs.Add(weighing.Weigh(new([first.Faults[0], second.Faults[0]], prior)));
                }
            }
        }

        return Seen(pairs.Where(p => p.Gain > Out));
    }
}
