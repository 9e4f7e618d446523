using System.Collections.Concurrent;
using System.Collections.Immutable;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Sightings;

namespace WiseLoom.Core.Diagnosis;

/// <summary>A supposition that was held against all readings.</summary>
/// <param name="Faults">Poor joints and bridges with the size that fits best.</param>
/// <param name="Score">Logarithm of how likely it is, prior and readings together, against the loom as drawn.</param>
/// <param name="Gain">The readings' part of it.</param>
/// <param name="Laid">What it touches.</param>
internal sealed record Weighed(ImmutableArray<Fault> Faults, double Score, double Gain, Laid Laid)
{
    internal Weighed(ImmutableArray<Fault> faults, double score, double gain, Altered altered)
        : this(faults, score, gain, new Laid(altered))
    {
    }

    internal Altered Altered => Laid.Metal;

    /// <summary>Numbers of the drawn nets that it touches.</summary>
    internal IReadOnlySet<int> Nets => Laid.Nets;

    /// <summary>How many readings say joined where it joins nothing, or the other way round; null while that was not asked.</summary>
    internal int? Denials { get; init; }

    /// <summary>What finding its sizes costs, as part of the gain; a logarithm. Null where they were not looked for.</summary>
    internal double? Law { get; init; }

    /// <summary>Whether fitting its sizes once more changed nothing.</summary>
    internal bool IsRefined { get; init; }

    /// <summary>How likely it is before anything is read; a logarithm.</summary>
    internal double LogPrior => Score - Gain;

    /// <summary>The loom that it supposes, with its devices; null while nothing but resistances was held against it.</summary>
    internal SuspectLoom? As { get; init; }
}

/// <summary>A supposition laid out, before its sizes are known.</summary>
/// <param name="OfAnySize">Its faults with sizes of an ohm.</param>
internal sealed record Laying(Supposition Supposed, ImmutableArray<Fault> OfAnySize, Altered Metal, Evidence.Denials Denials);

/// <summary>Holds suppositions against readings.</summary>
internal sealed class Weighing(DrawnLoom drawn, Evidence evidence)
{
    private const int Halvings = 24, MostHalved = 3, Rounds = 3;

    /// <summary>A poor joint adds so many ohms at the least.</summary>
    private const double LeastPoor = 0.005;

    /// <summary>Readings further off than this many of their standard deviations are not asked for the size of a fault.</summary>
    private const double Agrees = 8;

    /// <summary>Sizes that fit best where nothing else is wrong; the same fault is held against many others.</summary>
    private readonly ConcurrentDictionary<string, double> alone = new(StringComparer.Ordinal);

    /// <summary>Weighs one; the sizes of its poor joints and bridges are fitted first.</summary>
    internal Weighed Weigh(Supposition supposed) => Denied(supposed) is { } denials ? WeighMoved(supposed, denials) : WeighLaid(Lay(supposed));

    /// <summary>What readings deny of contacts that stand elsewhere: told before any metal is laid out. Null for all else.</summary>
    internal Evidence.Denials? Denied(Supposition supposed) => supposed.Faults is [CavityFault only] ? evidence.Denied(only) : null;

    /// <summary>The same for contacts that stand elsewhere.</summary>
    /// <param name="isBehind">It is far behind others by what is denied alone: no value would change that, and none is asked.</param>
    internal Weighed WeighMoved(Supposition supposed, Evidence.Denials denials, bool isBehind = false)
    {
        var gain = denials.Out ?? (isBehind ? Evidence.Impossible * denials.More : (double?)null);
        var weighed = gain is { } known
            ? new(supposed.Faults, supposed.LogPrior + known, known, new Laid(drawn, supposed.Faults))
            : Fitted(supposed, Alter(supposed.Faults));
        return weighed with { Denials = denials.Wrong };
    }

    /// <summary>Lays one out with sizes of an ohm: of any size it joins the same places.</summary>
    internal Laying Lay(Supposition supposed)
    {
        ImmutableArray<Fault> ofAnySize = [.. supposed.Faults.Select(f => IsUnsized(f) ? Sized(f, 1) : f)];
        var laid = Alter(ofAnySize);
        return new(supposed, ofAnySize, laid, evidence.Denied(laid));
    }

    /// <summary>How many readings say joined where one joins nothing, or the other way round.</summary>
    internal int DenialsOf(Weighed one) => one.Denials ?? evidence.Denied(one.Altered).Wrong;

    /// <summary>The same for one that was laid out.</summary>
    internal Weighed WeighLaid(Laying laid) =>
        (laid.Denials.Out is { } denied ? new(laid.OfAnySize, laid.Supposed.LogPrior + denied, denied, laid.Metal) : Fitted(laid.Supposed, laid.Metal)) with { Denials = laid.Denials.Wrong };

    private double SizeAlone(Fault ofOne) => Fit([ofOne], 0, Alter([ofOne])).Ohm;

    /// <summary>Fits the sizes that are not known.</summary>
    /// <param name="metal">With an ohm for each of them.</param>
    private Weighed Fitted(Supposition supposed, Altered metal)
    {
        var faults = supposed.Faults;
        int[] open = [.. Enumerable.Range(0, faults.Length).Where(i => IsUnsized(faults[i]))];
        var laws = new double[faults.Length];
        if (open.Length > 1)
        {
            // The first as if the other were not; then each with the other as it is known by then.
            var size = alone.GetOrAdd(FaultKeys.Placed(faults[open[0]]), _ => SizeAlone(Sized(faults[open[0]], 1)));
            (faults, metal) = (faults.SetItem(open[0], Sized(faults[open[0]], size)), Resized(metal, PartOf(faults, open[0]), faults.SetItem(open[0], Sized(faults[open[0]], size)).SetItem(open[1], Sized(faults[open[1]], 1)), size - 1));
            open = [open[1], open[0]];
        }

        foreach (var i in open)
        {
            // With an ohm of it, then with what fits.
            var known = SizeOf(faults[i]) is { } before && !double.IsNaN(before) ? before : 1;
            var ofOne = faults.SetItem(i, Sized(faults[i], 1));
            metal = Resized(metal, PartOf(faults, i), ofOne, 1 - known);
            (var size, laws[i]) = Fit(ofOne, i, metal);
            faults = faults.SetItem(i, Sized(faults[i], size));
            metal = Resized(metal, PartOf(faults, i), faults, size - 1);
        }

        var gain = GainOf(faults, metal) + laws.Sum();
        return new(faults, supposed.LogPrior + gain, gain, metal) { Law = laws.Sum() };
    }

    /// <summary>Holds one that was weighed by all readings but the last against that too, with the sizes that it has.</summary>
    internal Weighed Again(Weighed one, Located last)
    {
        if (one.Law is not { } law || !last.Touches(one.Altered))
        {
            return one;
        }

        var denials = evidence.Denied(one.Altered);
        var gain = denials.Out ?? (GainOf(one.Faults, one.Altered) + law);
        return one with { Score = one.LogPrior + gain, Gain = gain, Denials = denials.Wrong, Law = denials.Out is null ? law : null, IsRefined = false };
    }

    /// <summary>The same metal with more of one part.</summary>
    /// <param name="faults">What it is then.</param>
    private Altered Resized(Altered metal, int part, ImmutableArray<Fault> faults, double more) =>
        more == 0 ? metal : metal.PlaceOf(part) is var place and >= 0 ? metal.Resized(place, more) : Alter(faults);

    /// <summary>Fits the sizes of poor joints and bridges once more, together and with all that the other readings say of the copper on the way (Gauss and Newton's step, by the covariance of all of them).</summary>
    internal Weighed Refine(Weighed one)
    {
        if (one.IsRefined)
        {
            return one;
        }

        int[] sized = [.. Enumerable.Range(0, one.Faults.Length).Where(i => SizeOf(one.Faults[i]) is not null)];
        var parts = Array.ConvertAll(sized, i => PartOf(one.Faults, i));
        var (before, gain) = (one, one.Law is { } law ? one.Gain - law : double.NaN);
        for (var round = 0; round < Rounds && sized.Length > 0; round++)
        {
            var sizes = Array.ConvertAll(sized, i => SizeOf(one.Faults[i])!.Value);
            var lowest = sized.Select((i, k) => (one.Faults[i] is ShortFault ? 0 : LeastPoor) - sizes[k]).ToArray();
            var steps = evidence.Steps(one.Altered, parts, lowest);
            if (steps.Select((s, k) => Math.Abs(s) < 1e-5 + (1e-4 * sizes[k])).All(isSmall => isSmall))
            {
                break;
            }

            gain = double.IsNaN(gain) ? GainOf(one.Faults, one.Altered) : gain;
            var (faults, altered) = (one.Faults, one.Altered);
            for (var k = 0; k < sized.Length; k++)
            {
                faults = faults.SetItem(sized[k], Sized(faults[sized[k]], sizes[k] + steps[k]));
                altered = Resized(altered, parts[k], faults, steps[k]);
            }

            var more = GainOf(faults, altered) - gain;
            if (more <= 0)
            {
                break;
            }

            (one, gain) = (one with { Faults = faults, Score = one.Score + more, Gain = one.Gain + more, Laid = new(altered) }, gain + more);
        }

        return ReferenceEquals(one, before) ? one with { IsRefined = true } : one;
    }

    private int PartOf(ImmutableArray<Fault> faults, int at) =>
        faults[at] is ResistiveFault poor ? drawn.PlaceOf(poor.Wire) : Altered.BridgeAt(faults.Take(at).Count(f => f is ShortFault));

    private static double? SizeOf(Fault fault) => fault switch { ResistiveFault poor => poor.Ohm, ShortFault bridge => bridge.Ohm, _ => null };

    private double GainOf(ImmutableArray<Fault> faults, Altered altered) => evidence.Gain(altered, [.. faults.OfType<IntermittentFault>().Select(f => drawn.PlaceOf(f.Wire))]);

    /// <summary>Drawn nets that a fault touches.</summary>
    internal HashSet<int> NetsOf(Fault fault) => drawn.NetsOf([fault]);

    private Altered Alter(IReadOnlyList<Fault> faults) => new(drawn, faults, drawn.NetsOf(faults));

    /// <summary>Finds the size of a fault by the readings that it shows in most, and what finding it costs (Occam: the width of the fit times the density before it).</summary>
    /// <param name="metal">With an ohm of it.</param>
    private (double Ohm, double Law) Fit(ImmutableArray<Fault> faults, int at, Altered metal)
    {
        var isBridge = faults[at] is ShortFault;
        var place = metal.PlaceOf(PartOf(faults, at));
        Altered With(double ohm) => Alter(faults.SetItem(at, Sized(faults[at], ohm)));
        var without = new Lazy<Altered>(() => With(0));
        var foreseen = evidence.Foresee(metal);
        var shows = foreseen.Readings.Select((r, i) => r.Seen.Moved || !Evidence.IsJoined(r.Seen) ? null : Shown(r, foreseen[i])).OfType<Shows>().Where(s => s.As.Ohms - s.At0 > 1e-3).ToList();
        if (shows.Count == 0)
        {
            return (isBridge ? 0 : 1, 0);
        }

        // Where it adds one to one by all readings; else by halving on those that show it most, that which most others agree with. Another fault may be in some of them.
        var size = Math.Max(isBridge ? 0 : LeastPoor, shows.TrueForAll(s => s.As.Ohms - s.At0 > 0.98)
            ? Added(shows)
            : shows.OrderByDescending(s => (s.As.Ohms - s.At0) * Math.Sqrt(s.Weight)).Take(place < 0 ? 1 : MostHalved).Select(Halved).MinBy(Misfit));
        var width = 1 / Math.Sqrt(shows.Sum(s => s.Weight * Math.Pow(s.As.Ohms - s.At0, 2)));
        var density = isBridge ? OhmLaws.Bridge(size) : OhmLaws.PoorJoint(size);
        return (size, Math.Log(Math.Min(1, density * width * 2.507)));

        double Misfit(double ohm) => place < 0 ? 0 : shows.Sum(s => Math.Min(Agrees * Agrees, s.Weight * Math.Pow(s.Ohm - s.As.With(place, ohm - 1), 2)));

        double Halved(Shows one)
        {
            var (from, to) = (1e-3, 1e4);
            for (var step = 0; step < Halvings; step++)
            {
                var middle = Math.Sqrt(from * to);
                var predicted = place < 0 ? evidence.Predict(one.Seen, With(middle))?.Ohms : one.As.With(place, middle - 1);
                (from, to) = predicted is null || predicted > one.Ohm ? (from, middle) : (middle, to);
            }

            return Math.Sqrt(from * to);
        }

        Shows? Shown(Located at, Predicted? predicted)
        {
            var seen = at.Seen;
            if (predicted is null || !metal.Makes(predicted))
            {
                return null;
            }

            // Without it a bridge is a joint; where a poor wire is no single part, the metal is laid out anew.
            return (place < 0 ? evidence.Predict(at, without.Value)?.Ohms : predicted.With(place, -1)) is { } at0 ? new(seen, seen.Ohm!.Value - evidence.LeadsOf(seen), at0, evidence.Noise(seen), predicted) : null;
        }
    }

    /// <summary>Ohms that were added to readings: least squares of those that agree with their middle by weight.</summary>
    private static double Added(List<Shows> shows)
    {
        var rising = shows.OrderBy(s => s.Ohm - s.At0).ToList();
        var left = shows.Sum(s => s.Weight) / 2;
        var middle = rising.Find(s => (left -= s.Weight) <= 0) is { } half ? half.Ohm - half.At0 : rising[^1].Ohm - rising[^1].At0;
        var agree = shows.Where(s => Math.Abs(s.Ohm - s.At0 - middle) * Math.Sqrt(s.Weight) < Agrees).ToList();
        return agree.Count == 0 ? middle : agree.Sum(s => s.Weight * (s.Ohm - s.At0)) / agree.Sum(s => s.Weight);
    }

    /// <summary>A reading that shows the size of a fault: what it would be with none of it, and with an ohm.</summary>
    private sealed record Shows(Observation Seen, double Ohm, double At0, double Noise, Predicted As)
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
