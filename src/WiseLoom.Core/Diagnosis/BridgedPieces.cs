using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Two pieces of metal and what was read from one to the other.</summary>
internal sealed record BridgedPieces(Side A, Side B, double[] Ohms, double[] Weights)
{
    /// <summary>What the copper on a way is off by, squared ohms: somewhat less than a milliohm.</summary>
    private const double CopperVariance = 6e-7;

    /// <summary>Null where no reading leads from one to the other.</summary>
    internal static BridgedPieces? Of(DrawnLoom drawn, Evidence evidence, (Altered Metal, int Piece, List<Leg> Legs) a, (Altered Metal, int Piece, List<Leg> Legs) b)
    {
        var (onA, onB) = (PointsOn(a.Metal, a.Piece), PointsOn(b.Metal, b.Piece));
        if (onA.Count == 0 || onB.Count == 0)
        {
            return null;
        }

        var nets = onA.Concat(onB).Select(drawn.NetOf).Where(n => n >= 0).ToHashSet();
        var seen = evidence.Touching(nets, onA.Concat(onB).Where(p => drawn.NetOf(p) < 0)).Select(r => r.Seen).Where(o => !o.Moved && Evidence.IsJoined(o));
        var values = seen.Select(o => (Seen: o, Ends: Through(o))).Where(v => v.Ends is not null).ToList();
        return values.Count == 0 ? null : new(
            new(a.Metal, onA, a.Legs, values.ConvertAll(v => v.Ends!.Value.A)),
            new(b.Metal, onB, b.Legs, values.ConvertAll(v => v.Ends!.Value.B)),
            [.. values.Select(v => v.Seen.Ohm!.Value - evidence.LeadsOf(v.Seen))],
            [.. values.Select(v => 1 / (Math.Pow(evidence.Noise(v.Seen), 2) + CopperVariance))]);

        // The places that a reading joins on either piece; null for one that does not lead through the bridge.
        (ImmutableArray<ProbePoint> A, ImmutableArray<ProbePoint> B)? Through(Observation o)
        {
            var own = o.A.Select(drawn.NetOf).ToHashSet();
            bool IsFar(ProbePoint p) => o.B is { } far ? far.Contains(p) : drawn.NetOf(p) is var net && net >= 0 && !own.Contains(net);
            ImmutableArray<ProbePoint> On(HashSet<ProbePoint> piece, Func<ProbePoint, bool> side) => [.. piece.Where(side)];
            var (nearA, farA, nearB, farB) = (On(onA, o.A.Contains), On(onA, IsFar), On(onB, o.A.Contains), On(onB, IsFar));
            return nearA.IsEmpty && !farA.IsEmpty && !nearB.IsEmpty && farB.IsEmpty ? (farA, nearB)
                : !nearA.IsEmpty && farA.IsEmpty && nearB.IsEmpty && !farB.IsEmpty ? (nearA, farB)
                : null;
        }
    }

    /// <summary>With the ways on either side: how ill the best bridge fits, and its ohms.</summary>
    internal (double Misfit, double Ohm) At(double[] a, double[] b)
    {
        var (weights, sum, squares) = (0.0, 0.0, 0.0);
        for (var i = 0; i < Ohms.Length; i++)
        {
            var (rest, weight) = (Ohms[i] - a[i] - b[i], Weights[i]);
            (weights, sum, squares) = (weights + weight, sum + (weight * rest), squares + (weight * rest * rest));
        }

        var ohm = Math.Max(0, sum / weights);
        return (squares - (2 * ohm * sum) + (ohm * ohm * weights), ohm);
    }

    private static HashSet<ProbePoint> PointsOn(Altered metal, int piece) => [.. metal.Points.Where(p => metal.PieceOf(p) == piece)];
}

/// <summary>One of the two pieces.</summary>
/// <param name="at">For each reading, the places that it joins here.</param>
internal sealed class Side(Altered metal, HashSet<ProbePoint> points, List<Leg> wires, List<ImmutableArray<ProbePoint>> at)
{
    private readonly List<(string At, Func<string, string, double> Ohms)> from = Froms(metal, at);
    private readonly Dictionary<Leg, (double Whole, double[] Near, double[] Far, double[] Across)> known = new(ReferenceEqualityComparer.Instance);

    internal IReadOnlyCollection<ProbePoint> Points => points;

    internal List<Leg> Wires => wires;

    /// <summary>For each reading: ohms to a cavity.</summary>
    internal double[] To(ProbePoint point) => [.. from.Select(f => f.Ohms(f.At, point.ToString()))];

    /// <summary>For each reading: ohms to a place along a wire.</summary>
    internal double[] Way(Leg leg, double t)
    {
        var (whole, near, far, across) = Of(leg);
        (t, var way) = (PlaceAt(leg, t).Share, new double[near.Length]);
        for (var i = 0; i < way.Length; i++)
        {
            way[i] = ((1 - t) * near[i]) + (t * far[i]) + (t * (1 - t) * (whole - across[i]));
        }

        return way;
    }

    /// <summary>A place along a wire: from 0 where its copper begins to 1 where it ends.</summary>
    internal LegPlace PlaceAt(Leg leg, double t) => leg.PlaceAt(t, metal.Whole(leg.Wire));

    /// <summary>The same for places that cut the wire into so many parts.</summary>
    internal double[][] Ways(Leg leg, int grid) => [.. Enumerable.Range(0, grid + 1).Select(i => Way(leg, (double)i / grid))];

    private (double Whole, double[] Near, double[] Far, double[] Across) Of(Leg leg)
    {
        if (!known.TryGetValue(leg, out var ways))
        {
            known.Add(leg, ways = (leg.Ohms(metal.Whole(leg.Wire)), [.. from.Select(f => f.Ohms(f.At, leg.From))], [.. from.Select(f => f.Ohms(f.At, leg.To))], [.. from.Select(f => f.Ohms(leg.From, leg.To))]));
        }

        return ways;
    }

    private static List<(string At, Func<string, string, double> Ohms)> Froms(Altered metal, List<ImmutableArray<ProbePoint>> at)
    {
        var joined = new Dictionary<string, Func<string, string, double>>(StringComparer.Ordinal);
        return at.ConvertAll<(string, Func<string, string, double>)>(points =>
        {
            if (points.Length == 1)
            {
                return (points[0].ToString(), (a, b) => metal.Ohms(a, b) ?? 0);
            }

            var key = string.Join(' ', points);
            if (!joined.TryGetValue(key, out var ohms))
            {
                joined.Add(key, ohms = metal.WithJoined(points));
            }

            return (points[0].ToString(), ohms);
        });
    }
}
