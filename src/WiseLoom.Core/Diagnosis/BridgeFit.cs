using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>How well bridges between cavities of two nets explain the values that were read through one: the two nets as drawn with a bridge between, its ohms fitted.</summary>
/// <remarks>A reading's way leads to the bridge on either net; the ways to each cavity are worked out once, and hundreds of pairs of cavities are held against all readings by them. For one caller at a time.</remarks>
internal sealed class BridgeFit
{
    /// <summary>What copper is off by, as a share of the way.</summary>
    private const double CopperShare = 0.06;

    private readonly DrawnLoom drawn;

    /// <summary>Of each reading its node on either net, negative where it has none there.</summary>
    private readonly List<int> onA = [], onB = [];

    /// <summary>Of each what it reads without the leads, ohms; and its meter's standard deviation, squared.</summary>
    private readonly List<double> ohms = [], noise = [];
    private readonly Dictionary<Spot, double[]> ways = [];
    private readonly int a;

    internal BridgeFit(DrawnLoom drawn, Evidence evidence, int a, int b)
    {
        (this.drawn, this.a) = (drawn, a);
        foreach (var reading in evidence.Touching([a, b], []))
        {
            var seen = reading.Seen;
            if (seen.Moved || !Evidence.IsJoined(seen) || reading is not { A: [var near], B: null or { Length: 1 } } || (near.Net != a && near.Net != b))
            {
                continue;
            }

            // Against all other nets it leads to the bridge and no further.
            var far = reading.B is [var other] ? other : Spot.Nowhere;
            if (reading.B is null || far.Net == (near.Net == a ? b : a))
            {
                onA.Add(near.Net == a ? near.Node : far.Net == a ? far.Node : -1);
                onB.Add(near.Net == b ? near.Node : far.Net == b ? far.Node : -1);
                ohms.Add(seen.Ohm!.Value - evidence.LeadsOf(seen));
                noise.Add(Math.Pow(evidence.Noise(seen), 2) + 1e-9);
            }
        }
    }

    /// <summary>How well one fits; a logarithm without its constant.</summary>
    /// <param name="p">A cavity of the first net.</param>
    /// <param name="q">A cavity of the second.</param>
    internal double Of(ProbePoint p, ProbePoint q)
    {
        var (one, other) = (WaysTo(drawn.SpotOf(p)), WaysTo(drawn.SpotOf(q)));
        var (weights, sum, squares) = (0.0, 0.0, 0.0);
        for (var i = 0; i < one.Length; i++)
        {
            var way = one[i] + other[i];
            var (rest, copper) = (ohms[i] - way, CopperShare * way);
            var weight = 1 / (noise[i] + (copper * copper));
            (weights, sum, squares) = (weights + weight, sum + (weight * rest), squares + (weight * rest * rest));
        }

        var fitted = weights > 0 ? Math.Max(0, sum / weights) : 0;
        return -0.5 * (squares - (2 * fitted * sum) + (fitted * fitted * weights));
    }

    /// <summary>Ohms of each reading's way on a cavity's net to the cavity; 0 where it has none there.</summary>
    private double[] WaysTo(Spot cavity)
    {
        if (!ways.TryGetValue(cavity, out var to))
        {
            var net = drawn.AsDrawn(cavity.Net);
            to = [.. (cavity.Net == a ? onA : onB).Select(n => n < 0 ? 0 : net.Ohms(n, cavity.Node)!.Value)];
            ways.Add(cavity, to);
        }

        return to;
    }
}
