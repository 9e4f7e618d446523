using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Electrical;

/// <summary>A resistance between two nodes of a graph.</summary>
/// <param name="From">Index of a node.</param>
/// <param name="To">Index of another node.</param>
/// <param name="Label">What it is: the id of a wire, or of a fault's bridge.</param>
public readonly record struct GraphEdge(int From, int To, OhmRange Ohm, string Label);

/// <summary>A loom as nodes (cavities with a contact, splices) and resistances (wires with their ends).</summary>
/// <remarks>Parts into nets: two nodes are in one net exactly when metal joins them.</remarks>
public sealed class WireGraph
{
    private static readonly ConditionalWeakTable<Loom, WireGraph> Found = [];

    private readonly Dictionary<string, int> indexOf;
    private readonly int[] netOf;

    private WireGraph(ImmutableArray<string> nodes, ImmutableArray<ProbePoint?> points, ImmutableArray<GraphEdge> edges)
    {
        Nodes = nodes;
        Points = points;
        Edges = edges;
        indexOf = nodes.Select((n, i) => (n, i)).ToDictionary(x => x.n, x => x.i, StringComparer.Ordinal);
        (netOf, Nets) = FindNets();
    }

    /// <summary>Names of the nodes: <c>ECU:17</c> or a splice's ref.</summary>
    public ImmutableArray<string> Nodes { get; }

    /// <summary>The probe point of each node; null for a splice.</summary>
    public ImmutableArray<ProbePoint?> Points { get; }

    /// <summary>Every piece of metal of the loom.</summary>
    public ImmutableArray<GraphEdge> Edges { get; }

    /// <summary>The nets in the order of their first node.</summary>
    public ImmutableArray<Net> Nets { get; }

    /// <summary>The graph of a loom as it is drawn.</summary>
    /// <param name="ambientC">Temperature of the copper, degrees Celsius.</param>
    /// <remarks>A wire's resistance is its copper plus what each end adds: the family's contact, or the splice's leg.</remarks>
    public static WireGraph Of(Loom loom, double ambientC, CopperTolerance tolerance) => Begin(loom, ambientC, tolerance).Done();

    /// <summary>What metal joins; its resistances are those of nominal copper at 20 °C and are not meant to be judged by.</summary>
    /// <remarks>Found once for each loom, and kept as long as the loom is.</remarks>
    public static WireGraph Topology(Loom loom) => Found.GetValue(loom, static l => Of(l, 20, CopperTolerance.Usual));

    /// <summary>The wires of a loom, ready for more to be added.</summary>
    internal static Builder Begin(Loom loom, double ambientC, CopperTolerance tolerance)
    {
        var build = new Builder();
        foreach (var point in loom.ProbePoints())
        {
            build.Node(point);
        }

        foreach (var wire in loom.Wires)
        {
            build.Edge(wire.From.Text, wire.To.Text, EndToEnd(loom, wire, ambientC, tolerance), wire.Id);
        }

        return build;
    }

    /// <summary>A wire's resistance from end to end, contacts and splice legs included, ohms.</summary>
    public static OhmRange EndToEnd(Loom loom, Wire wire, double ambientC, CopperTolerance tolerance)
        => Copper.Wire(wire, ambientC, tolerance) + AtEnd(loom, wire.From) + AtEnd(loom, wire.To);

    /// <summary>What a contact or a splice's leg adds, ohms.</summary>
    internal static OhmRange AtEnd(Loom loom, WireEnd end) => end.IsSplice ? loom.Splice(end.Text).Leg : loom.Connector(end.Point.Connector).Family.Contact;

    /// <summary>The net a probe point lies in; null for a cavity without a wire.</summary>
    public Net? NetOf(ProbePoint point) => indexOf.TryGetValue(point.ToString(), out var node) ? Nets[netOf[node]] : null;

    /// <summary>The index of a probe point's node, or −1 for a cavity without a wire.</summary>
    public int NodeOf(ProbePoint point) => indexOf.TryGetValue(point.ToString(), out var node) ? node : -1;

    /// <summary>The index of a node by its name, or −1.</summary>
    internal int IndexOf(string node) => indexOf.GetValueOrDefault(node, -1);

    /// <summary>Number of the net that a node is in; null for one that no part meets.</summary>
    internal int? NumberOf(string node) => indexOf.TryGetValue(node, out var at) ? netOf[at] : null;

    /// <summary>The wires and splices that lead from one point to another by the least resistance, in that order.</summary>
    /// <returns>Ids of wires with refs of the splices between them: <c>W3</c>, <c>S1</c>, <c>W8</c>; empty where no metal leads.</returns>
    /// <remarks>Dijkstra, 1959. Where ways lie side by side this names one of them; current takes all.</remarks>
    public ImmutableArray<string> Way(ProbePoint from, ProbePoint to)
    {
        if (NetOf(from) is not { } net || NetOf(to)?.Number != net.Number || from == to)
        {
            return [];
        }

        var beside = net.Edges.SelectMany(e => new[] { (At: e.From, Edge: e, To: e.To), (At: e.To, Edge: e, To: e.From) }).ToLookup(x => x.At);
        var came = new Dictionary<int, (int From, string Label)>();
        var (start, end, done, next) = (NodeOf(from), NodeOf(to), new HashSet<int>(), new PriorityQueue<(int Node, int From, string Label), double>());
        next.Enqueue((start, start, ""), 0);
        while (next.TryDequeue(out var step, out var ohms))
        {
            if (!done.Add(step.Node))
            {
                continue;
            }

            came[step.Node] = (step.From, step.Label);
            if (step.Node == end)
            {
                break;
            }

            foreach (var (_, edge, node) in beside[step.Node].Where(x => !done.Contains(x.To)))
            {
                next.Enqueue((node, step.Node, edge.Label), ohms + edge.Ohm.Nominal);
            }
        }

        var way = new List<string>();
        for (var node = end; node != start; node = came[node].From)
        {
            way.Add(came[node].Label);
            if (came[node].From != start)
            {
                way.Add(Nodes[came[node].From]);
            }
        }

        way.Reverse();
        return [.. way];
    }

    private (int[] NetOf, ImmutableArray<Net> Nets) FindNets()
    {
        var parent = Enumerable.Range(0, Nodes.Length).ToArray();
        int Root(int node)
        {
            while (parent[node] != node)
            {
                parent[node] = parent[parent[node]];
                node = parent[node];
            }

            return node;
        }

        foreach (var edge in Edges)
        {
            var a = Root(edge.From);
            var b = Root(edge.To);
            parent[Math.Max(a, b)] = Math.Min(a, b);
        }

        var roots = Enumerable.Range(0, Nodes.Length).Select(Root).ToArray();
        var number = roots.Distinct().Select((root, index) => (root, index)).ToDictionary(x => x.root, x => x.index);
        var nodesOf = new List<int>[number.Count];
        var edgesOf = new List<GraphEdge>[number.Count];
        for (var i = 0; i < number.Count; i++)
        {
            nodesOf[i] = [];
            edgesOf[i] = [];
        }

        var of = new int[Nodes.Length];
        for (var node = 0; node < of.Length; node++)
        {
            of[node] = number[roots[node]];
            nodesOf[of[node]].Add(node);
        }

        foreach (var edge in Edges)
        {
            edgesOf[of[edge.From]].Add(edge);
        }

        return (of, [.. nodesOf.Select((nodes, i) => new Net(i, this, [.. nodes], [.. edgesOf[i]]))]);
    }

    /// <summary>Collects nodes and edges of a graph.</summary>
    public sealed class Builder
    {
        private readonly Dictionary<string, int> indexOf = new(StringComparer.Ordinal);
        private readonly List<ProbePoint?> points = [];
        private readonly List<GraphEdge> edges = [];

        /// <summary>Makes sure that a probe point is a node, even when nothing leads to it.</summary>
        public void Node(ProbePoint point) => Index(point.ToString());

        /// <summary>Adds a resistance between two named nodes; a name with a colon is a cavity, another a splice.</summary>
        public void Edge(string from, string to, OhmRange ohm, string label) => edges.Add(new(Index(from), Index(to), ohm, label));

        /// <summary>The graph, which changes no more.</summary>
        public WireGraph Done() => new([.. indexOf.OrderBy(x => x.Value).Select(x => x.Key)], [.. points], [.. edges]);

        private int Index(string name)
        {
            if (!indexOf.TryGetValue(name, out var index))
            {
                indexOf.Add(name, index = points.Count);
                points.Add(ProbePoint.TryParse(name, out var point) ? point : null);
            }

            return index;
        }
    }
}
