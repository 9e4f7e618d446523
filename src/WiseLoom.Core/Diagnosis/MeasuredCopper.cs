using System.Numerics.Tensors;

namespace WiseLoom.Core.Diagnosis;

/// <summary>What each wire seems to have, from all readings at once that say something of it.</summary>
/// <remarks>Each reading is a sum of parts, each by its share of the current squared (Thomson's principle). Parts have the mean and spread of the drawing before, and
/// are moved reading by reading (Kalman, 1960).</remarks>
internal static class MeasuredCopper
{
    /// <summary>Readings further off than this many standard deviations are not of the copper.</summary>
    private const double TooFar = 6;

    /// <summary>Of larger pieces the copper is taken as drawn.</summary>
    private const int MostWires = 240, MostReadings = 400;

    /// <summary>The loom with the parts that its readings show.</summary>
    /// <param name="metal">The nets asked about, without what is still looked for.</param>
    internal static DrawnLoom Of(DrawnLoom drawn, Evidence evidence, Altered metal)
    {
        // What is held against several at once may read through what is still looked for as well.
        var readings = evidence.Touching(metal.Nets, metal.Filled).Where(r => r is { A.Length: 1, B.Length: 1 } && !r.Seen.Moved && Evidence.IsJoined(r.Seen)).Take(MostReadings)
            .Select(r => (r.Seen, Predicted: evidence.Predict(r, metal))).Where(x => x.Predicted is not null && Math.Abs(evidence.Off(x.Seen, x.Predicted)) <= TooFar).ToList();
        var places = readings.SelectMany(r => r.Predicted!.Weights).Where(w => w.Wire >= 0 && w.Sd > 0).Select(w => w.Wire).Distinct().ToList();
        if (places.Count is 0 or > MostWires)
        {
            return drawn;
        }

        var at = places.Select((p, i) => (p, i)).ToDictionary(x => x.p, x => x.i);
        var (more, spread) = (new double[places.Count], places.Select(_ => new double[places.Count]).ToArray());
        for (var i = 0; i < places.Count; i++)
        {
            spread[i][i] = Math.Pow(drawn.PartOf(places[i]).Sd, 2);
        }

        foreach (var (seen, predicted) in readings)
        {
            var shares = predicted!.Weights.Where(w => w.Wire >= 0 && w.Sd > 0).Select(w => (At: at[w.Wire], Share: w.Weight * w.Sd / drawn.PartOf(w.Wire).Sd)).ToList();
            Take(more, spread, shares, seen.Ohm!.Value - evidence.LeadsOf(seen) - predicted.Ohms, Math.Pow(evidence.Noise(seen), 2));
        }

        return drawn.With(places.Select((p, i) => (p, i)).ToDictionary(x => x.p, x => more[x.i]));
    }

    private static void Take(double[] more, double[][] spread, List<(int At, double Share)> shares, double over, double noise)
    {
        var moves = new double[more.Length];
        foreach (var (at, share) in shares)
        {
            TensorPrimitives.MultiplyAdd(spread[at], share, moves, moves);
        }

        foreach (var (at, share) in shares)
        {
            noise += share * moves[at];
            over -= share * more[at];
        }

        for (var i = 0; i < more.Length; i++)
        {
            if (moves[i] != 0)
            {
                more[i] += moves[i] * over / noise;
                TensorPrimitives.MultiplyAdd(moves, -moves[i] / noise, spread[i], spread[i]);
            }
        }
    }
}
