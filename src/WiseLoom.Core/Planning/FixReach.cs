using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning.Steps;

namespace WiseLoom.Core.Planning;

/// <summary>How far a fix could have changed a loom: the nets that hands were on, and those that come near them there.</summary>
public sealed class FixReach
{
    private readonly WireGraph graph;
    private readonly HashSet<int> nets;
    private readonly HashSet<int> near;
    private readonly HashSet<int> besideUncovered;
    private readonly HashSet<string> connectors;
    private readonly Dictionary<string, string> ends;

    /// <summary>Works it out.</summary>
    /// <param name="places">Cavities such as <c>ECU:17</c>, wire ids and splice refs that hands were on.</param>
    public FixReach(Loom loom, TestPlan plan, IEnumerable<string> places)
    {
        ArgumentNullException.ThrowIfNull(loom);
        ArgumentNullException.ThrowIfNull(plan);
        graph = WireGraph.Topology(loom);
        ends = loom.Wires.ToDictionary(w => w.Id, w => w.From.Text, StringComparer.Ordinal);
        var all = places.ToList();
        var touched = all.SelectMany(p => PointsOf(loom, p)).ToHashSet();
        connectors = touched.Select(p => p.Connector).ToHashSet(StringComparer.Ordinal);
        nets = [.. touched.Select(NetOf).OfType<int>()];
        near = [.. nets, .. touched.SelectMany(p => Beside(loom, p)).Select(NetOf).OfType<int>(), .. all.SelectMany(p => Along(loom, p)).Select(graph.NumberOf).OfType<int>()];

        // A plan of k nets against all others has k − 1 such steps: a net without one is proven by those of the nets beside it.
        var covered = plan.Steps.Where(s => s is IsolationStep { Red: null }).Select(s => NetOf(s.Black)).OfType<int>().ToHashSet();
        var bare = touched.Where(p => NetOf(p) is { } net && !covered.Contains(net));
        besideUncovered = [.. bare.SelectMany(p => Beside(loom, p)).Select(NetOf).OfType<int>()];
    }

    /// <summary>Whether hands were on a point's net.</summary>
    public bool InNets(ProbePoint point) => NetOf(point) is { } net && nets.Contains(net);

    /// <summary>Whether hands were on the net of a wire.</summary>
    public bool InNetOf(string wire) => ends.TryGetValue(wire, out var end) && graph.NumberOf(end) is { } net && nets.Contains(net);

    /// <summary>Whether hands were in a connector.</summary>
    public bool InConnector(string connector) => connectors.Contains(connector);

    /// <summary>Whether a point's net was touched, or comes near a touched place: in the next cavity, twisted with a touched wire, or in a
    /// splice beside a touched one.</summary>
    public bool Near(ProbePoint point) => NetOf(point) is { } net && near.Contains(net);

    /// <summary>Whether a point's net stands beside touched cavities of a net that no step holds against all others.</summary>
    public bool BesideUncovered(ProbePoint point) => NetOf(point) is { } net && besideUncovered.Contains(net);

    /// <summary>Cavities that stand beside one in its face.</summary>
    internal static IEnumerable<ProbePoint> Beside(Loom loom, ProbePoint point) =>
        loom.FindConnector(point.Connector) is not { } connector
            ? []
            : FaceLayout.Neighbours(connector.Family)
                .Where(n => n.A == point.Cavity || n.B == point.Cavity)
                .Select(n => new ProbePoint(point.Connector, n.A == point.Cavity ? n.B : n.A));

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

    /// <summary>Ends of wires and splices that come near a place along the loom.</summary>
    private static IEnumerable<string> Along(Loom loom, string place)
    {
        var group = loom.Wires.FirstOrDefault(w => w.Id == place)?.Group;
        var twisted = group is null ? [] : loom.Wires.Where(w => w.Group == group).Select(w => w.From.Text);
        var splice = loom.Splices.FirstOrDefault(s => s.Ref == place);
        return twisted.Concat(splice is null ? [] : loom.Splices.Where(splice.IsNear).Select(s => s.Ref));
    }

    private int? NetOf(ProbePoint point) => graph.NetOf(point)?.Number;
}
