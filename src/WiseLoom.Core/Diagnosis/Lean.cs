using WiseLoom.Core.Electrical;

namespace WiseLoom.Core.Diagnosis;

/// <summary>How this loom's copper and contacts lie between nominal and their upper limits, all together: one batch of contacts is like itself.</summary>
internal static class Lean
{
    /// <summary>What is taken before anything is read, and how many readings it weighs as much as.</summary>
    private const double Before = 0.12, Weight = 4;

    /// <summary>Readings further off than this many standard deviations say nothing of the batch.</summary>
    private const double TooFar = 3.5;

    /// <summary>The loom with the lean that its readings show.</summary>
    internal static DrawnLoom Of(DrawnLoom drawn, Meter meter, IReadOnlyList<Observation> observations)
    {
        var (low, high) = (drawn.Leaning(0), drawn.Leaning(1));
        var (usual, at0, at1) = (new Evidence(drawn.Leaning(null), meter, observations), new Evidence(low, meter, []), new Evidence(high, meter, []));
        var (over, under) = (0.0, 0.0);
        var usable = observations.Where(o => Evidence.IsJoined(o) && !o.Moved).Select(o => (Seen: o, Middle: usual.AsDrawn(o))).Where(x => x.Middle is not null && Math.Abs(usual.Off(x.Seen, x.Middle)) <= TooFar).ToList();
        foreach (var (seen, middle, from, to) in usable.Each(x => (x.Seen, x.Middle!, at0.AsDrawn(x.Seen)!.Ohms, at1.AsDrawn(x.Seen)!.Ohms), default))
        {
            var weight = (to - from) / (middle.Variance + Math.Pow(usual.Noise(seen), 2));
            over += weight * (seen.Ohm!.Value - usual.LeadsOf(seen) - from);
            under += weight * (to - from);
        }

        // One reading of a pair tells its lean with a spread of about a third.
        var prior = Weight * 9;
        return drawn.Leaning(Math.Clamp((over + (prior * Before)) / (under + prior), -0.3, 0.7));
    }
}
