using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Numerics.Tensors;

namespace WiseLoom.Core.Electrical;

/// <summary>The ways around a net of metal and devices that lead through diodes, and whether a test current would take one.</summary>
/// <remarks>
/// By reciprocity the volts that an ampere between two points puts between the ends of a way are those that an ampere between the ends puts
/// between the points, so they are never more than the effective resistance between the ends, nor than that between the points. A way whose ends lie too
/// close for any current, such as the diode across a relay's coil, is left out once; pairs that lie too close are answered without looking at ways.
/// </remarks>
internal sealed class DiodeWays
{
    private readonly Net net;

    /// <summary>First node of each way, and for each way its other ends.</summary>
    private readonly ImmutableArray<(string First, ImmutableArray<string> Others)> ways;
    private readonly ConcurrentDictionary<int, double[]> rows = [];

    /// <param name="net">A net of metal and devices.</param>
    /// <param name="ways">The nodes at which each way leaves it.</param>
    /// <param name="leastOhms">Ends that lie closer than this never have enough between them.</param>
    internal DiodeWays(Net net, IEnumerable<ImmutableArray<string>> ways, double leastOhms)
    {
        this.net = net;
        this.ways = [.. ways.Where(w => Widest(w) > leastOhms).Select(w => (w[0], w.RemoveAt(0)))];
    }

    /// <summary>Whether the test current from one point to another puts more on a way than its diodes block.</summary>
    /// <param name="a">Place of a node in the net.</param>
    /// <param name="b">Place of another.</param>
    /// <param name="ohms">Effective resistance between the two, or more.</param>
    internal bool CarryBetween(int a, int b, double ohms, double amps, double blocksUpTo)
    {
        if (ways.IsEmpty || ohms * amps <= blocksUpTo)
        {
            return false;
        }

        var (atA, atB, place) = (RowOf(a), RowOf(b), 0);
        var volts = new double[atA.Length];
        TensorPrimitives.Subtract(atA, atB, volts);
        foreach (var (_, others) in ways)
        {
            // The way's first end lies at 0.
            var (least, most) = (0.0, 0.0);
            for (var i = 0; i < others.Length; i++, place++)
            {
                (least, most) = (Math.Min(least, volts[place]), Math.Max(most, volts[place]));
            }

            if ((most - least) * amps > blocksUpTo)
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>No two ends of a way are further apart than this, ohms.</summary>
    private double Widest(ImmutableArray<string> way) => way.Length == 2 ? net.OhmsBetween(way[0], way[1]) : 2 * way.Skip(1).Max(end => net.OhmsBetween(way[0], end));

    private double[] RowOf(int node) => rows.GetOrAdd(node, n => [.. ways.SelectMany(w => w.Others.Select(end => net.Transfer(n, w.First) - net.Transfer(n, end)))]);
}
