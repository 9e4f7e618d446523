using System.Collections.Immutable;
using WiseLoom.Core.Circuits;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>The drawn nets that some faults touch, as they would then be: which places metal joins, and by how much.</summary>
/// <remarks>Everything else of the loom reads as drawn. Parts are solved as they are asked for, each by itself.</remarks>
internal sealed class Altered
{
    private readonly Dictionary<int, int> firstOf = [];
    private readonly Dictionary<ProbePoint, int> filled = [];
    private readonly List<(int From, int To, Part Part)> edges = [];
    private readonly int[] root;
    private readonly Dictionary<int, Solved> solved = [];
    private readonly DrawnLoom plan;
    private Dictionary<int, HashSet<int>>? drawnOn;

    /// <param name="plan">The loom as it is drawn.</param>
    /// <param name="faults">What is wrong with it; may be nothing.</param>
    /// <param name="nets">Numbers of the drawn nets that they touch, or more.</param>
    internal Altered(DrawnLoom plan, IReadOnlyList<Fault> faults, IReadOnlySet<int> nets)
    {
        Nets = nets;
        this.plan = plan;
        var touched = plan.Touched(faults);
        var nodes = 0;
        foreach (var net in nets)
        {
            var skeleton = plan.SkeletonOf(net);
            firstOf.Add(net, nodes);
            foreach (var (from, to, wire) in skeleton.Edges)
            {
                if (!touched.Contains(wire))
                {
                    edges.Add((nodes + from, nodes + to, plan.PartOf(wire)));
                }
            }

            nodes += skeleton.NodeOf.Count;
        }

        if (faults.Count > 0)
        {
            Lay(new BuiltLoom(plan.Loom, faults, touched.Select(w => plan.Loom.Wires[w])), ref nodes);
        }

        root = new int[nodes];
        for (var i = 0; i < nodes; i++)
        {
            root[i] = i;
        }

        foreach (var (from, to, _) in edges)
        {
            root[Root(from)] = Root(to);
        }

        for (var i = 0; i < nodes; i++)
        {
            root[i] = Root(i);
        }
    }

    /// <summary>Wires that are not as drawn, and metal between places.</summary>
    private void Lay(BuiltLoom built, ref int nodes)
    {
        var count = nodes;
        var names = new Dictionary<string, int>(StringComparer.Ordinal);
        int Index(string name)
        {
            if (names.TryGetValue(name, out var known))
            {
                return known;
            }

            var point = plan.PointOf(name);
            if (plan.Graph.NumberOf(name) is { } net && firstOf.TryGetValue(net, out var first))
            {
                known = first + plan.SkeletonOf(net).NodeOf[name];
            }
            else
            {
                known = count++;
                if (point is { } empty)
                {
                    filled.Add(empty, known);
                }
            }

            names.Add(name, known);
            return known;
        }

        foreach (var wire in built.Wires)
        {
            var part = plan.PartOf(plan.PlaceOf(wire.Drawn.Id));
            foreach (var piece in wire.Pieces())
            {
                edges.Add((Index(piece.From), Index(piece.To), part with { Mean = (part.Mean * piece.Share) + piece.AddedOhm, Sd = part.Sd * piece.Share }));
            }
        }

        for (var i = 0; i < built.Bridges.Count; i++)
        {
            var (a, b, ohm) = built.Bridges[i];
            edges.Add((Index(a), Index(b), new Part(BridgeAt(i), ohm, 0)));
        }

        nodes = count;
    }

    /// <summary>The part that stands for one of the bridges, in their order.</summary>
    internal static int BridgeAt(int bridge) => -2 - bridge;

    /// <summary>Numbers of the drawn nets it holds.</summary>
    internal IReadOnlySet<int> Nets { get; }

    /// <summary>Points that are nodes of it.</summary>
    internal IEnumerable<ProbePoint> Points => firstOf.Keys.SelectMany(n => plan.SkeletonOf(n).Points.Select(p => p.Point)).Concat(filled.Keys);

    /// <summary>Cavities without a wire in the drawing that hold one here.</summary>
    internal IReadOnlyCollection<ProbePoint> Filled => filled.Keys;

    /// <summary>Whether a point is a node of it.</summary>
    internal bool Has(ProbePoint point) => NodeOf(point) >= 0;

    /// <summary>The piece of metal that a point is on; negative for a point that it does not hold.</summary>
    internal int PieceOf(ProbePoint point) => NodeOf(point) is var node and >= 0 ? root[node] : -1;

    /// <summary>Numbers of the drawn nets with a place on a piece of metal.</summary>
    internal IReadOnlySet<int> DrawnNetsOn(int piece)
    {
        if (drawnOn is null)
        {
            drawnOn = [];
            foreach (var (net, first) in firstOf)
            {
                foreach (var (_, node) in plan.SkeletonOf(net).Points)
                {
                    if (!drawnOn.TryGetValue(root[first + node], out var on))
                    {
                        drawnOn.Add(root[first + node], on = []);
                    }

                    on.Add(net);
                }
            }
        }

        return drawnOn.GetValueOrDefault(piece, []);
    }

    /// <summary>Ohms from a point to the nearest place on its piece that is drawn in another net: near what it reads against all of them joined. Null where there is none.</summary>
    internal double? NearestStranger(ProbePoint point)
    {
        if (PieceOf(point) is not (var piece and >= 0))
        {
            return null;
        }

        var own = plan.NetOf(point);
        var nearest = firstOf.Where(n => n.Key != own).SelectMany(n => plan.SkeletonOf(n.Key).Points).Where(p => PieceOf(p.Point) == piece).Select(p => Ohms(point, p.Point)!.Value).DefaultIfEmpty(double.PositiveInfinity).Min();
        return double.IsPositiveInfinity(nearest) ? null : nearest;
    }

    /// <summary>Mean and parts of the resistance between two sets of its points, each joined; null where nothing joins them.</summary>
    internal Predicted? Between(IReadOnlyList<ProbePoint> a, IReadOnlyList<ProbePoint> b) => Joining(a, b) is var (metal, from, to) ? metal.Between(from, to) : null;

    /// <summary>The metal between two sets of its points, each joined, and a node of either; null where nothing joins them.</summary>
    private (Solved Metal, int From, int To)? Joining(IReadOnlyList<ProbePoint> a, IReadOnlyList<ProbePoint> b)
    {
        if (a.Count == 1 && b.Count == 1)
        {
            return NodeOf(a[0]) is var from and >= 0 && NodeOf(b[0]) is var to and >= 0 && root[from] == root[to] ? (SolvedOf(root[from]), from, to) : null;
        }

        // Several points joined by the fixture: the pieces they are on become one.
        int[] one = [.. a.Select(NodeOf).Where(n => n >= 0)], other = [.. b.Select(NodeOf).Where(n => n >= 0)];
        var pieces = one.Select(n => root[n]).ToHashSet();
        if (!other.Any(n => pieces.Contains(root[n])))
        {
            return null;
        }

        pieces.UnionWith(other.Select(n => root[n]));
        return (new Solved([.. edges.Where(e => pieces.Contains(root[e.From])), .. Joined(one), .. Joined(other)]), one[0], other[0]);
    }

    /// <summary>What two sets of its points read, and would with more and more in series with one wire or bridge, without solving anything anew; null where nothing joins them.</summary>
    /// <returns>Ohms by added ohms, null where it is no single part of the metal that joins them.</returns>
    internal (Predicted As, Func<double, double>? With)? InSeries(IReadOnlyList<ProbePoint> a, IReadOnlyList<ProbePoint> b, int part) =>
        Joining(a, b) is var (metal, from, to) ? (metal.Between(from, to), metal.InSeries(from, to, part)) : null;

    /// <summary>Mean ohms of a wire from end to end, by itself.</summary>
    internal double Whole(Wire wire) => plan.PartOf(plan.PlaceOf(wire.Id)).Mean;

    /// <summary>The piece of metal that a node is on, splices too; negative for one that it does not hold.</summary>
    internal int PieceOf(string node) => NodeOf(node) is var at and >= 0 ? root[at] : -1;

    /// <summary>Mean ohms between two nodes, splices too; null where nothing joins them.</summary>
    internal double? Ohms(string a, string b) =>
        NodeOf(a) is var from and >= 0 && NodeOf(b) is var to and >= 0 && root[from] == root[to] ? SolvedOf(root[from]).Ohms(from, to) : null;

    /// <summary>Mean ohms between nodes of one piece, splices too, while some of its points are joined by the fixture.</summary>
    internal Func<string, string, double> WithJoined(ImmutableArray<ProbePoint> points)
    {
        int[] nodes = [.. points.Select(NodeOf)];
        var whole = new Solved([.. edges.Where(e => root[e.From] == root[nodes[0]]), .. Joined(nodes)]);
        return (a, b) => whole.Ohms(NodeOf(a), NodeOf(b));
    }

    /// <summary>Mean ohms between two points of one piece; null where nothing joins them.</summary>
    internal double? Ohms(ProbePoint a, ProbePoint b) =>
        NodeOf(a) is var from and >= 0 && NodeOf(b) is var to and >= 0 && root[from] == root[to] ? SolvedOf(root[from]).Ohms(from, to) : null;

    private int NodeOf(ProbePoint point) =>
        plan.NodeOf(point) is var (net, node) && firstOf.TryGetValue(net, out var first) ? first + node : filled.GetValueOrDefault(point, -1);

    private int NodeOf(string name) =>
        plan.Graph.NumberOf(name) is { } net ? firstOf.TryGetValue(net, out var first) ? first + plan.SkeletonOf(net).NodeOf[name] : -1
        : plan.PointOf(name) is { } empty ? filled.GetValueOrDefault(empty, -1) : -1;

    private static IEnumerable<(int From, int To, Part Part)> Joined(int[] nodes) => nodes.Skip(1).Select(n => (nodes[0], n, new Part(-1, 0, 0)));

    private Solved SolvedOf(int piece)
    {
        if (!solved.TryGetValue(piece, out var known))
        {
            solved.Add(piece, known = new Solved([.. edges.Where(e => root[e.From] == piece)]));
        }

        return known;
    }

    private int Root(int node)
    {
        while (root[node] != node)
        {
            node = root[node] = root[root[node]];
        }

        return node;
    }

    /// <summary>One piece of metal, solved.</summary>
    private sealed class Solved
    {
        private readonly Dictionary<int, int> localOf = [];
        private readonly List<(int From, int To, Part Part)> edges;
        private readonly NetSolution solution;

        internal Solved(List<(int From, int To, Part Part)> edges)
        {
            this.edges = edges;
            int Local(int node)
            {
                if (!localOf.TryGetValue(node, out var local))
                {
                    localOf.Add(node, local = localOf.Count);
                }

                return local;
            }

            (int, int, double)[] own = [.. edges.Select(e => (Local(e.From), Local(e.To), e.Part.Mean))];
            solution = NetSolution.Of(Math.Max(1, localOf.Count), own);
        }

        /// <summary>A change of one conductance by d moves R(a,b) by −d·v²/(1 + d·R(u,w)), v the volts across that part at 1 A (Sherman and Morrison, 1950).</summary>
        internal Func<double, double>? InSeries(int a, int b, int wire)
        {
            var own = edges.FindAll(e => e.Part.Wire == wire);
            if (own is not [var (from, to, part)] || part.Mean <= 0)
            {
                return null;
            }

            var (i, j, u, w) = (localOf[a], localOf[b], localOf[from], localOf[to]);
            var volts = solution.Transfer(u, i) - solution.Transfer(w, i) - solution.Transfer(u, j) + solution.Transfer(w, j);
            var (whole, across) = (solution.Ohms(i, j), solution.Ohms(u, w));
            return added =>
            {
                var change = (1 / Math.Max(1e-9, part.Mean + added)) - (1 / part.Mean);
                return whole - (change * volts * volts / (1 + (change * across)));
            };
        }

        internal double Ohms(int a, int b) => a == b ? 0 : solution.Ohms(localOf[a], localOf[b]);

        internal Predicted Between(int a, int b)
        {
            if (a == b)
            {
                return Predicted.Nothing;
            }

            var (i, j) = (localOf[a], localOf[b]);
            return new(solution.Ohms(i, j), () => Weights(i, j));
        }

        private List<(int Wire, double Weight, double Sd)> Weights(int i, int j)
        {
            var weights = new List<(int Wire, double Weight, double Sd)>();
            foreach (var (from, to, part) in edges)
            {
                if (part.Mean <= 0)
                {
                    continue;
                }

                var (u, v) = (localOf[from], localOf[to]);
                var share = (solution.Transfer(u, i) - solution.Transfer(v, i) - solution.Transfer(u, j) + solution.Transfer(v, j)) / part.Mean;
                if (Math.Abs(share) <= 1e-4)
                {
                    continue;
                }

                // Pieces of one wire lie one after the other, and its copper moves them together.
                var weight = share * share;
                if (weights.Count > 0 && weights[^1] is var (wire, before, sd) && wire == part.Wire)
                {
                    weights[^1] = (wire, before + weight, ((before * sd) + (weight * part.Sd)) / (before + weight));
                }
                else
                {
                    weights.Add((part.Wire, weight, part.Sd));
                }
            }

            return weights;
        }
    }
}

/// <summary>A resistance in a net.</summary>
/// <param name="Wire">Place of the wire in the loom; −1 for the fixture, less for a bridge.</param>
/// <param name="Mean">Ohms.</param>
/// <param name="Sd">Its spread, one standard deviation, ohms.</param>
internal readonly record struct Part(int Wire, double Mean, double Sd);

/// <summary>What a pair would read, and how that moves with each part.</summary>
/// <param name="ohms">Mean.</param>
/// <param name="weigh">Its weights, worked out when they are asked for.</param>
internal sealed class Predicted(double ohms, Func<IReadOnlyList<(int Wire, double Weight, double Sd)>> weigh)
{
    private IReadOnlyList<(int Wire, double Weight, double Sd)>? weights;

    internal static Predicted Nothing { get; } = new(0, () => []);

    /// <summary>Mean.</summary>
    internal double Ohms => ohms;

    /// <summary>Share of the current, squared, by wire: how much of a part's own ohms shows (Thomson's principle).</summary>
    internal IReadOnlyList<(int Wire, double Weight, double Sd)> Weights => weights ??= weigh();

    /// <summary>Spread of the copper alone, squared.</summary>
    internal double Variance => Weights.Sum(w => w.Weight * w.Weight * w.Sd * w.Sd);

    /// <summary>Weight of a wire; 0 when it carries nothing.</summary>
    internal double Of(int wire) => Weights.FirstOrDefault(w => w.Wire == wire, (-1, 0, 0)).Weight;
}
