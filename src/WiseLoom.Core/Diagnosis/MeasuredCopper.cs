namespace WiseLoom.Core.Diagnosis;

/// <summary>What each wire seems to have, from all readings at once that say something of it.</summary>
/// <remarks>Each reading is a sum of parts, each by its share of the current squared (Thomson's principle). Parts have the mean and spread of the drawing before, and
/// are moved by all readings together.</remarks>
internal static class MeasuredCopper
{
    /// <summary>Readings further off than this many standard deviations are not of the copper.</summary>
    private const double TooFar = 6;

    /// <summary>Beyond so many the copper is taken as those before show it.</summary>
    private const int MostReadings = 400;

    /// <summary>The loom with the parts that its readings show.</summary>
    /// <param name="metal">The nets asked about, without what is still looked for.</param>
    internal static DrawnLoom Of(DrawnLoom drawn, Evidence evidence, Altered metal)
    {
        var valued = new List<Valued>();
        foreach (var seen in evidence.Touching(metal.Nets, metal.Filled).Where(o => !o.Moved && Evidence.IsJoined(o)).Take(MostReadings))
        {
            if (evidence.Predict(seen, metal) is { } predicted && Math.Abs(evidence.Off(seen, predicted)) <= TooFar)
            {
                valued.Add(new(predicted, seen.Ohm!.Value - evidence.LeadsOf(seen) - predicted.Ohms, Math.Pow(evidence.Noise(seen), 2)));
            }
        }

        return valued.Count == 0 ? drawn : drawn.With(Correlated.Copper(valued, wire => drawn.PartOf(wire).Sd));
    }
}
