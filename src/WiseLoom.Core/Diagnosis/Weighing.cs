using System.Collections.Immutable;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Sightings;

namespace WiseLoom.Core.Diagnosis;

/// <summary>A supposition that was held against all readings.</summary>
/// <param name="Faults">Poor joints and bridges with the size that fits best.</param>
/// <param name="Score">Logarithm of how likely it is, prior and readings together, against the loom as drawn.</param>
/// <param name="Gain">The readings' part of it.</param>
/// <param name="Laid">The nets it touches, laid out when they are asked for: most are out before that.</param>
internal sealed record Weighed(ImmutableArray<Fault> Faults, double Score, double Gain, Lazy<Altered> Laid)
{
    internal Weighed(ImmutableArray<Fault> faults, double score, double gain, Altered altered)
        : this(faults, score, gain, new Lazy<Altered>(altered))
    {
    }

    internal Altered Altered => Laid.Value;

    /// <summary>The loom that it supposes, with its devices; null while nothing but resistances was held against it.</summary>
    internal SuspectLoom? As { get; init; }
}

/// <summary>Holds suppositions against readings.</summary>
internal sealed class Weighing(DrawnLoom drawn, Evidence evidence)
{
    private const int Halvings = 24, Rounds = 3;

    /// <summary>Weighs one; the sizes of its poor joints and bridges are fitted first.</summary>
    internal Weighed Weigh(Supposition supposed)
    {
        var faults = supposed.Faults;
        if (faults is [CavityFault only])
        {
            if (evidence.Denied(only) is { } cavities)
            {
                return new(faults, supposed.LogPrior + cavities, cavities, new Lazy<Altered>(() => Alter(faults)));
            }
        }
        else
        {
            // Of any size it joins the same places.
            ImmutableArray<Fault> ofAnySize = [.. faults.Select(f => IsUnsized(f) ? Sized(f, 1) : f)];
            var laid = Alter(ofAnySize);
            if (evidence.Denied(laid) is { } metal)
            {
                return new(ofAnySize, supposed.LogPrior + metal, metal, laid);
            }
        }

        int[] open = [.. Enumerable.Range(0, faults.Length).Where(i => IsUnsized(faults[i]))];
        var laws = new double[faults.Length];

        // Two sizes are fitted in turn, each with the other as it is known by then.
        foreach (var i in open.Length > 1 ? [.. open, .. open] : open)
        {
            (faults, laws[i]) = Fit(faults, i);
        }

        var altered = Alter(faults);
        var gain = GainOf(faults, altered) + laws.Sum();
        return new(faults, supposed.LogPrior + gain, gain, altered);
    }

    /// <summary>Fits the sizes of poor joints and bridges once more, now with all that the other readings say of the copper on the way (Gauss and Newton's step, by the covariance of all of them).</summary>
    internal Weighed Refine(Weighed one)
    {
        for (var i = 0; i < one.Faults.Length; i++)
        {
            for (var round = 0; round < Rounds && SizeOf(one.Faults[i]) is { } size; round++)
            {
                var least = one.Faults[i] is ShortFault ? 0 : 0.005;
                var better = Math.Max(least, size + evidence.Step(one.Altered, PartOf(one.Faults, i)));
                if (Math.Abs(better - size) < 1e-5 + (1e-4 * size))
                {
                    break;
                }

                var sized = one.Faults.SetItem(i, Sized(one.Faults[i], better));
                var (before, altered) = (GainOf(one.Faults, one.Altered), Alter(sized));
                var more = GainOf(sized, altered) - before;
                if (more <= 0)
                {
                    break;
                }

                one = new(sized, one.Score + more, one.Gain + more, altered);
            }
        }

        return one;
    }

    private int PartOf(ImmutableArray<Fault> faults, int at) =>
        faults[at] is ResistiveFault poor ? drawn.PlaceOf(poor.Wire) : Altered.BridgeAt(faults.Take(at).Count(f => f is ShortFault));

    private static double? SizeOf(Fault fault) => fault switch { ResistiveFault poor => poor.Ohm, ShortFault bridge => bridge.Ohm, _ => null };

    private double GainOf(ImmutableArray<Fault> faults, Altered altered) => evidence.Gain(altered, [.. faults.OfType<IntermittentFault>().Select(f => drawn.PlaceOf(f.Wire))]);

    internal Altered Alter(IReadOnlyList<Fault> faults) => new(drawn, faults, drawn.NetsOf(faults));

    /// <summary>Finds the size of a fault by the readings that it shows in most, and what finding it costs (Occam: the width of the fit times the density before it).</summary>
    private (ImmutableArray<Fault> Faults, double Law) Fit(ImmutableArray<Fault> faults, int at)
    {
        Altered With(double ohm) => Alter([.. faults.SetItem(at, Sized(faults[at], ohm)).Where(f => !IsUnsized(f))]);

        // A bridge of an ohm is a part that can be made smaller; one of none is no part.
        var isBridge = faults[at] is ShortFault;
        var has = isBridge ? 1.0 : 0;
        var (metal, other) = (With(has), new Lazy<Altered>(() => With(1 - has)));
        var part = PartOf([.. faults.Where((f, i) => i == at || !IsUnsized(f))], faults.Take(at).Count(f => !IsUnsized(f)));
        var shows = evidence.Touching(metal.Nets, []).Where(o => !o.Moved && Evidence.IsJoined(o)).Select(Shown).OfType<Shows>().Where(s => s.At1 - s.At0 > 1e-3).ToList();
        if (shows.Count == 0)
        {
            return (faults.SetItem(at, Sized(faults[at], isBridge ? 0 : 1)), 0);
        }

        // Least squares where it adds one to one; else by halving on the reading that shows it most.
        double size;
        if (shows.TrueForAll(s => s.At1 - s.At0 > 0.98))
        {
            size = shows.Sum(s => s.Weight * (s.Ohm - s.At0)) / shows.Sum(s => s.Weight);
        }
        else
        {
            var most = shows.MaxBy(s => (s.At1 - s.At0) * Math.Sqrt(s.Weight))!;
            var (from, to) = (1e-3, 1e4);
            for (var step = 0; step < Halvings; step++)
            {
                var middle = Math.Sqrt(from * to);
                var predicted = most.With is null ? evidence.Predict(most.Seen, With(middle))?.Ohms : most.With(middle - has);
                (from, to) = predicted is null || predicted > most.Ohm ? (from, middle) : (middle, to);
            }

            size = Math.Sqrt(from * to);
        }

        size = Math.Max(isBridge ? 0 : 0.005, size);
        var width = 1 / Math.Sqrt(shows.Sum(s => s.Weight * Math.Pow(s.At1 - s.At0, 2)));
        var density = isBridge ? OhmLaws.Bridge(size) : OhmLaws.PoorJoint(size);
        return (faults.SetItem(at, Sized(faults[at], size)), Math.Log(Math.Min(1, density * width * 2.507)));

        Shows? Shown(Observation seen)
        {
            var (near, far) = evidence.Ends(seen, metal);
            if (near.Count == 0 || far.Count == 0 || metal.InSeries(near, far, part) is not var (predicted, with))
            {
                return null;
            }

            var less = with is null ? evidence.Predict(seen, other.Value)?.Ohms : with((1 - has) - has);
            return less is { } changed ? new(seen, seen.Ohm!.Value - evidence.LeadsOf(seen), isBridge ? changed : predicted.Ohms, isBridge ? predicted.Ohms : changed, evidence.Noise(seen), predicted, with) : null;
        }
    }

    /// <summary>A reading that shows the size of a fault: what it would be with none of it, and with an ohm.</summary>
    /// <param name="With">What it would be with so much more; null where that has to be solved.</param>
    private sealed record Shows(Observation Seen, double Ohm, double At0, double At1, double Noise, Predicted As, Func<double, double>? With)
    {
        private double? weight;

        internal double Weight => weight ??= 1 / (As.Variance + (Noise * Noise));
    }

    private static bool IsUnsized(Fault fault) => fault is ResistiveFault { Ohm: double.NaN } or ShortFault { Ohm: double.NaN };

    private static Fault Sized(Fault fault, double ohm) => fault switch
    {
        ResistiveFault poor => poor with { Ohm = ohm },
        ShortFault bridge => bridge with { Ohm = ohm },
        _ => fault,
    };
}
