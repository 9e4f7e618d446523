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
    public IEnumerable<ExpectedPair> Pairs()
    {
        foreach (var net in Nets)
        {
            for (var i = 0; i < net.Points.Length; i++)
            {
                for (var j = i + 1; j < net.Points.Length; j++)
                {
                    yield return new(net.Points[i], net.Points[j], net.Between(net.Points[i], net.Points[j]));
                }
            }
        }
    }
}

/// <summary>A pair of probe points and what lies between them.</summary>
/// <param name="Ohm">Effective resistance with its exact limits, ohms.</param>
public readonly record struct ExpectedPair(ProbePoint A, ProbePoint B, OhmRange Ohm);
