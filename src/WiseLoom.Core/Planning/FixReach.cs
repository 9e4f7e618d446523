using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning;

/// <summary>How far a fix could have changed a loom: the nets that hands were on, and the cavities beside.</summary>
public sealed class FixReach
{
    private readonly WireGraph graph;
    private readonly HashSet<int> nets;
    private readonly HashSet<ProbePoint> near;
    private readonly HashSet<int> besideUncovered;

    /// <summary>Works it out.</summary>
    /// <param name="places">Cavities such as <c>ECU:17</c>, wire ids and splice refs that hands were on.</param>
    public FixReach(Loom loom, TestPlan plan, IEnumerable<string> places)
    {
        ArgumentNullException.ThrowIfNull(loom);
        ArgumentNullException.ThrowIfNull(plan);
        graph = WireGraph.Topology(loom);
        var touched = places.SelectMany(p => PointsOf(loom, p)).ToHashSet();
        nets = [.. touched.Select(NetOf).OfType<int>()];
        near = [.. touched.SelectMany(p => Beside(loom, p)).Concat(touched)];

        // A plan of k nets against all others has k − 1 such steps: a net without one is proven by those of the nets beside it.
        var covered = plan.Steps.Where(s => s.Red is null).Select(s => NetOf(s.Black)).OfType<int>().ToHashSet();
        var bare = touched.Where(p => NetOf(p) is { } net && !covered.Contains(net));
        besideUncovered = [.. bare.SelectMany(p => Beside(loom, p)).Select(NetOf).OfType<int>()];
    }

    /// <summary>Whether hands were on a point's net.</summary>
    public bool InNets(ProbePoint point) => NetOf(point) is { } net && nets.Contains(net);

    /// <summary>Whether a cavity was touched, or stands beside one that was.</summary>
    public bool Near(ProbePoint point) => near.Contains(point);

    /// <summary>Whether a point's net stands beside touched cavities of a net that no step holds against all others.</summary>
    public bool BesideUncovered(ProbePoint point) => NetOf(point) is { } net && besideUncovered.Contains(net);

    /// <summary>Cavities that stand beside one in its face.</summary>
    internal static IEnumerable<ProbePoint> Beside(Loom loom, ProbePoint point) =>
        loom.FindConnector(point.Connector) is not { } connector
            ? []
            : FaceLayout.Neighbours(connector.Family)
                .Where(n => n.A == point.Cavity || n.B == point.Cavity)
                .Select(n => new ProbePoint(point.Connector, n.A == point.Cavity ? n.B : n.A));

    private int? NetOf(ProbePoint point) => graph.NetOf(point)?.Number;

    /// <summary>Cavities of a place: itself, or the ends of a wire or of those that meet in a splice.</summary>
    internal static IEnumerable<ProbePoint> PointsOf(Loom loom, string place)
    {
        if (ProbePoint.TryParse(place, out var point))
        {
            return [point];
        }

        return loom.Wires.Where(w => w.Id == place || w.From.Text == place || w.To.Text == place)
            .SelectMany(w => new[] { w.From, w.To })
            .Where(e => !e.IsSplice)
            .Select(e => e.Point);
    }
}
