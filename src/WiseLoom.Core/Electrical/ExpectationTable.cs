using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Electrical;

/// <summary>What every pair of probe points of a bare loom must read.</summary>
public sealed class ExpectationTable
{
    private ExpectationTable(WireGraph graph, double ambientC)
    {
        Graph = graph;
        AmbientC = ambientC;
    }

    /// <summary>The metal the table was made from.</summary>
    public WireGraph Graph { get; }

    /// <summary>The temperature the limits hold for, degrees Celsius.</summary>
    public double AmbientC { get; }

    /// <summary>Nets with at least one probe point.</summary>
    public IEnumerable<Net> Nets => Graph.Nets.Where(n => n.Points.Length > 0);

    /// <summary>Computes the table; each net is solved on its own, when it is first asked for.</summary>
    /// <param name="ambientC">Degrees Celsius.</param>
    /// <param name="tolerance">How far a wire may be from its drawing.</param>
    public static ExpectationTable For(Loom loom, double ambientC, CopperTolerance tolerance) =>
        new(WireGraph.Of(loom, ambientC, tolerance), ambientC);

    /// <summary>What a pair must read: its limits when metal joins it, null when it must be apart.</summary>
    public OhmRange? Between(ProbePoint a, ProbePoint b) =>
        Graph.NetOf(a) is { } net && Graph.NetOf(b)?.Number == net.Number ? net.Between(a, b) : null;

    /// <summary>All pairs within nets, net by net, each pair once.</summary>
    public IEnumerable<ExpectedPair> Pairs() => Nets.SelectMany(net => Enumerable.Range(0, net.Points.Length).SelectMany(i => PairsFrom(net, i)));

    /// <summary>The pairs of a point with those that stand after it in its net.</summary>
    /// <param name="point">Its place in <see cref="Net.Points"/>.</param>
    public static IEnumerable<ExpectedPair> PairsFrom(Net net, int point)
    {
        ArgumentNullException.ThrowIfNull(net);
        for (var other = point + 1; other < net.Points.Length; other++)
        {
            yield return new(net.Points[point], net.Points[other], net.BetweenPlaces(net.PlaceOf(point), net.PlaceOf(other)));
        }
    }
}

/// <summary>A pair of probe points and what lies between them.</summary>
/// <param name="Ohm">Effective resistance with its exact limits, ohms.</param>
public readonly record struct ExpectedPair(ProbePoint A, ProbePoint B, OhmRange Ohm);
