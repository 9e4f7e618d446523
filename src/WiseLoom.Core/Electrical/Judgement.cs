using System.Collections.Immutable;

namespace WiseLoom.Core.Electrical;

/// <summary>What a reading says about a pair.</summary>
public enum Verdict
{
    /// <summary>Within limits, whatever the meter's error.</summary>
    Pass,

    /// <summary>Outside limits, whatever the meter's error.</summary>
    Fail,

    /// <summary>The meter's error reaches over a limit: this reading cannot decide.</summary>
    CantTell,
}

/// <summary>How verdicts are said.</summary>
public static class Verdicts
{
    /// <summary>A verdict in a word or two.</summary>
    public static string InWords(this Verdict verdict) => verdict switch
    {
        Verdict.Pass => "pass",
        Verdict.Fail => "fail",
        _ => "can’t tell",
    };
}

/// <summary>The limits a reading is held against.</summary>
/// <param name="Least">Ohms; 0 for no lower limit.</param>
/// <param name="Most">Ohms; infinite for no upper limit.</param>
public readonly record struct Limits(double Least, double Most)
{
    /// <summary>Pairs of different nets read at least this, ohms.</summary>
    public const double ApartOhms = 10e6;

    /// <summary>The limits of a pair that must be apart.</summary>
    public static Limits Apart => new(ApartOhms, double.PositiveInfinity);

    /// <summary>As a person reads them, the unit written once where both share it: <c>52.1 to 98.0 mΩ</c>; <c>at least 10 MΩ</c> without an upper one.</summary>
    public string InWords() => double.IsPositiveInfinity(Most) ? Words.Of($"at least {Say.Ohms(Least)}") : Say.Between(Say.Ohms(Least), Say.Ohms(Most));
}

/// <summary>A stretch of the scale that has one verdict.</summary>
/// <param name="From">Where it starts, in the unit that the step is read in.</param>
/// <param name="To">Where it ends, in the same unit; null for the end of the meter's scale and beyond.</param>
public readonly record struct VerdictBand(double From, double? To, Verdict Verdict);

/// <summary>Holds readings against limits with a guard band for the meter's error.</summary>
/// <remarks>Source of the rule: JCGM 106, decision with guard bands. With U the worst-case uncertainty of reading x, the reading
/// passes when [x−U, x+U] lies inside the limits, fails when it lies wholly outside, else it cannot tell.</remarks>
public static class Judgement
{
    /// <summary>The verdict for one reading.</summary>
    /// <param name="reading">A value below 0 (a nulled lead can do that) is judged as it is.</param>
    public static Verdict Of(Reading reading, Limits limits, Meter meter)
    {
        if (reading.Ohms is not { } ohms || ohms > meter.UpToOhms)
        {
            return meter.UpToOhms >= limits.Most ? Verdict.Fail
                : double.IsInfinity(limits.Most) && meter.UpToOhms >= limits.Least ? Verdict.Pass
                : Verdict.CantTell;
        }

        return Of(ohms, meter.Uncertainty(ohms), limits);
    }

    /// <summary>The whole scale of a meter cut where the verdict changes, for a page that shows a verdict before its reading is stored.</summary>
    /// <returns>Bands in ohms without gaps from 0 upwards; the last has no end and holds over range too.</returns>
    public static ImmutableArray<VerdictBand> Bands(Limits limits, Meter meter)
    {
        var cuts = new SortedSet<double> { 0 };
        var start = 0.0;
        foreach (var range in meter.Ranges)
        {
            var p = range.Percent / 100;
            var c = range.FloorOhms + meter.TouchOhms;
            double[] candidates = [start, (limits.Least + c) / (1 - p), (limits.Most - c) / (1 + p), (limits.Least - c) / (1 + p), (limits.Most + c) / (1 - p)];
            foreach (var cut in candidates.Where(x => x >= start && x < range.UpToOhms && double.IsFinite(x)))
            {
                cuts.Add(cut);
            }

            start = range.UpToOhms;
        }

        var bands = new List<VerdictBand>();
        var edges = cuts.Append(meter.UpToOhms).Distinct().ToArray();
        for (var i = 0; i + 1 < edges.Length; i++)
        {
            Extend(bands, edges[i], edges[i + 1], Of(new Reading((edges[i] + edges[i + 1]) / 2), limits, meter));
        }

        Extend(bands, meter.UpToOhms, null, Of(Reading.OverRange, limits, meter));
        return [.. bands];
    }

    /// <summary>The smallest resistance added to a pair that this meter surely notices.</summary>
    /// <param name="nominal">What the pair reads when it is as drawn, ohms.</param>
    /// <returns>Ohms above nominal beyond which every reading fails; null when the meter's scale ends before.</returns>
    public static double? SurelyNoticedOhms(double nominal, Limits limits, Meter meter)
    {
        // The true value x must show as x−U at least, and even that reading must fail: x − U(x) − U(x−U) > Most.
        foreach (var range in meter.Ranges)
        {
            var p = range.Percent / 100;
            var c = range.FloorOhms + meter.TouchOhms;
            var failsFrom = (limits.Most + c) / (1 - p);
            var truth = (failsFrom + c) / (1 - p);
            if (truth <= range.UpToOhms)
            {
                return Math.Max(0, truth - nominal);
            }
        }

        return null;
    }

    private static Verdict Of(double ohms, double uncertainty, Limits limits)
    {
        if (ohms - uncertainty >= limits.Least - Slack(limits.Least) && ohms + uncertainty <= limits.Most)
        {
            return Verdict.Pass;
        }

        return ohms + uncertainty < limits.Least || ohms - uncertainty > limits.Most ? Verdict.Fail : Verdict.CantTell;
    }

    /// <summary>A lower limit of 0 is no limit: nothing reads below it but the meter's own error.</summary>
    private static double Slack(double least) => least <= 0 ? double.PositiveInfinity : 0;

    private static void Extend(List<VerdictBand> bands, double from, double? to, Verdict verdict)
    {
        if (bands.Count > 0 && bands[^1].Verdict == verdict)
        {
            bands[^1] = bands[^1] with { To = to };
        }
        else
        {
            bands.Add(new(from, to, verdict));
        }
    }
}
