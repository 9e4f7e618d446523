using System.Collections.Immutable;
using WiseLoom.Core.Faults;

namespace WiseLoom.Core.Diagnosis;

/// <summary>A supposition that was held against all readings.</summary>
/// <param name="Faults">Poor joints and bridges with the size that fits best.</param>
/// <param name="Score">Logarithm of how likely it is, prior and readings together, against the loom as drawn.</param>
/// <param name="Gain">The readings' part of it.</param>
internal sealed record Weighed(ImmutableArray<Fault> Faults, double Score, double Gain, Altered Altered);

/// <summary>Holds suppositions against readings.</summary>
internal sealed class Weighing(DrawnLoom drawn, Evidence evidence)
{
    private const int Steps = 8;

    /// <summary>Weighs one; the sizes of its poor joints and bridges are fitted first.</summary>
    internal Weighed Weigh(Supposition supposed)
    {
        var faults = supposed.Faults;
        var law = 0.0;
        for (var i = 0; i < faults.Length; i++)
        {
            if (faults[i] is ResistiveFault { Ohm: double.NaN } or ShortFault { Ohm: double.NaN })
            {
                (faults, var sharp) = Fit(faults, i);
                law += sharp;
            }
        }

        var altered = Alter(faults);
        var loose = faults.OfType<IntermittentFault>().Select(f => drawn.PlaceOf(f.Wire)).ToList();
        var gain = evidence.Gain(altered, loose) + law;
        return new(faults, supposed.LogPrior + gain, gain, altered);
    }

    /// <summary>Fits the sizes of poor joints and bridges once more, now with all that the other readings say of the copper on the way.</summary>
    internal Weighed Refine(Weighed one)
    {
        for (var i = 0; i < one.Faults.Length; i++)
        {
            if (SizeOf(one.Faults[i]) is not { } size)
            {
                continue;
            }

            var (from, to) = (Math.Max(one.Faults[i] is ShortFault ? 0 : 0.005, size - Reach(size)), size + Reach(size));
            for (var step = 0; step < Steps; step++)
            {
                var (left, right) = (from + ((to - from) * 0.382), from + ((to - from) * 0.618));
                if (GainWith(one.Faults.SetItem(i, Sized(one.Faults[i], left))) >= GainWith(one.Faults.SetItem(i, Sized(one.Faults[i], right))))
                {
                    to = right;
                }
                else
                {
                    from = left;
                }
            }

            var (before, after) = (GainWith(one.Faults), one.Faults.SetItem(i, Sized(one.Faults[i], (from + to) / 2)));
            var better = GainWith(after) - before;
            if (better > 0)
            {
                one = one with { Faults = after, Score = one.Score + better, Gain = one.Gain + better, Altered = Alter(after) };
            }
        }

        return one;
    }

    private static double Reach(double size) => 0.015 + (0.05 * size);

    private static double? SizeOf(Fault fault) => fault switch { ResistiveFault poor => poor.Ohm, ShortFault bridge => bridge.Ohm, _ => null };

    private double GainWith(ImmutableArray<Fault> faults) => evidence.Gain(Alter(faults), [.. faults.OfType<IntermittentFault>().Select(f => drawn.PlaceOf(f.Wire))]);

    internal Altered Alter(IReadOnlyList<Fault> faults) => new(drawn, faults, drawn.NetsOf(faults));

    /// <summary>Finds the size of a fault by the readings that it shows in most, and what finding it costs (Occam: the width of the fit times the density before it).</summary>
    private (ImmutableArray<Fault> Faults, double Law) Fit(ImmutableArray<Fault> faults, int at)
    {
        Altered With(double ohm) => Alter(faults.SetItem(at, Sized(faults[at], ohm)));
        var isBridge = faults[at] is ShortFault;
        var (low, high) = (With(0), With(1));
        var shows = evidence.Touching(low.Nets, []).Where(o => !o.Moved && Evidence.IsJoined(o))
            .Select(o => (Seen: o, At0: evidence.Predict(o, low), At1: evidence.Predict(o, high)))
            .Where(x => x.At0 is not null && x.At1 is not null && x.At1.Ohms - x.At0.Ohms > 1e-3)
            .ToList();
        if (shows.Count == 0)
        {
            return (faults.SetItem(at, Sized(faults[at], isBridge ? 0 : 1)), 0);
        }

        // Least squares where it adds one to one; else by halving on the reading that shows it most.
        var straight = shows.TrueForAll(x => x.At1!.Ohms - x.At0!.Ohms > 0.98);
        double WeightOf((Observation Seen, Predicted? At0, Predicted? At1) x) => 1 / (x.At0!.Variance + Math.Pow(evidence.Noise(x.Seen.Ohm!.Value), 2));
        double size;
        if (straight)
        {
            size = shows.Sum(x => WeightOf(x) * (x.Seen.Ohm!.Value - evidence.LeadOhms - x.At0!.Ohms)) / shows.Sum(WeightOf);
        }
        else
        {
            var most = shows.MaxBy(x => (x.At1!.Ohms - x.At0!.Ohms) * Math.Sqrt(WeightOf(x)));
            var target = most.Seen.Ohm!.Value - evidence.LeadOhms;
            var (from, to) = (1e-3, 1e4);
            for (var step = 0; step < Steps * 3; step++)
            {
                var middle = Math.Sqrt(from * to);
                var predicted = evidence.Predict(most.Seen, With(middle));
                (from, to) = predicted is null || predicted.Ohms > target ? (from, middle) : (middle, to);
            }

            size = Math.Sqrt(from * to);
        }

        size = Math.Max(isBridge ? 0 : 0.005, size);
        var width = 1 / Math.Sqrt(shows.Sum(x => WeightOf(x) * Math.Pow(x.At1!.Ohms - x.At0!.Ohms, 2)));
        var density = isBridge ? OhmLaws.Bridge(size) : OhmLaws.PoorJoint(size);
        return (faults.SetItem(at, Sized(faults[at], size)), Math.Log(Math.Min(1, density * width * 2.507)));
    }

    private static Fault Sized(Fault fault, double ohm) => fault switch
    {
        ResistiveFault poor => poor with { Ohm = ohm },
        ShortFault bridge => bridge with { Ohm = ohm },
        _ => fault,
    };
}
