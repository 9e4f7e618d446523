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
        var (usual, over, under) = (new Evidence(drawn, meter, observations), 0.0, 0.0);
        var usable = observations.Where(o => Evidence.IsJoined(o) && !o.Moved).Select(o => (Seen: o, Middle: usual.AsDrawn(o))).Where(x => x.Middle is not null && Math.Abs(usual.Off(x.Seen, x.Middle)) <= TooFar).ToList();
        foreach (var (seen, middle) in usable)
        {
            // What it would be with nominal parts, and with parts at their upper limits, by the share that each has of it (Thomson's principle).
            var (from, to) = (0.0, 0.0);
            foreach (var (wire, share, _) in middle!.Weights)
            {
                var range = drawn.RangeOf(wire);
                (from, to) = (from + (share * range.Nominal), to + (share * range.Max));
            }

            var weight = (to - from) / (middle.Variance + Math.Pow(usual.Noise(seen), 2));
            over += weight * (seen.Ohm!.Value - usual.LeadsOf(seen) - from);
            under += weight * (to - from);
        }

        // One reading of a pair tells its lean with a spread of about a third.
        var prior = Weight * 9;
        return drawn.Leaning(Math.Clamp((over + (prior * Before)) / (under + prior), -0.3, 0.7));
    }
}
