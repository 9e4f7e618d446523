using WiseLoom.Core.Circuits;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>The drawn nets that some faults touch, as they would then be: which places metal joins, and by how much.</summary>
/// <remarks>Everything else of the loom reads as drawn. Parts are solved as they are asked for, each by itself.</remarks>
internal sealed class Altered
{
    private readonly Dictionary<ProbePoint, int> nodeOf = [];
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
        var names = new Dictionary<string, int>(StringComparer.Ordinal);
        int Index(string name)
        {
            if (!names.TryGetValue(name, out var index))
            {
                names.Add(name, index = names.Count);
                if (plan.PointOf(name) is { } point)
                {
                    nodeOf.Add(point, index);
                }
            }

            return index;
        }

        foreach (var point in nets.SelectMany(n => plan.Graph.Nets[n].Points))
        {
            Index(point.ToString());
        }

        var built = new BuiltLoom(plan.Loom, faults, nets.SelectMany(n => plan.WiresOf(n)));
        foreach (var wire in built.Wires.Where(w => !w.Open))
        {
            edges.Add((Index(wire.From), Index(wire.To), plan.PartOf(wire.Drawn, wire.AddedOhm)));
        }

        foreach (var (a, b, ohm) in built.Bridges)
        {
            edges.Add((Index(a), Index(b), new Part(-1, ohm, 0)));
        }

        root = [.. Enumerable.Range(0, names.Count)];
        foreach (var (from, to, _) in edges)
        {
            root[Root(from)] = Root(to);
        }

        for (var i = 0; i < root.Length; i++)
        {
            root[i] = Root(i);
        }
    }

    /// <summary>Numbers of the drawn nets it holds.</summary>
    internal IReadOnlySet<int> Nets { get; }

    /// <summary>Points that are nodes of it.</summary>
    internal IEnumerable<ProbePoint> Points => nodeOf.Keys;

    /// <summary>Whether a point is a node of it.</summary>
    internal bool Has(ProbePoint point) => nodeOf.ContainsKey(point);

    /// <summary>The piece of metal that a point is on; negative for a point that it does not hold.</summary>
    internal int PieceOf(ProbePoint point) => nodeOf.TryGetValue(point, out var node) ? root[node] : -1;

    /// <summary>Numbers of the drawn nets with a place on a piece of metal.</summary>
    internal IReadOnlySet<int> DrawnNetsOn(int piece)
    {
        if (drawnOn is null)
        {
            drawnOn = [];
            foreach (var (point, node) in nodeOf)
            {
                if (plan.NetOf(point) is var net and >= 0)
                {
                    if (!drawnOn.TryGetValue(root[node], out var on))
                    {
                        drawnOn.Add(root[node], on = []);
                    }

                    on.Add(net);
                }
            }
        }

        return drawnOn.GetValueOrDefault(piece, []);
    }

    /// <summary>Mean and parts of the resistance between two sets of its points, each joined; null where nothing joins them.</summary>
    internal Predicted? Between(IReadOnlyList<ProbePoint> a, IReadOnlyList<ProbePoint> b)
    {
        if (a.Count == 1 && b.Count == 1)
        {
            return nodeOf.TryGetValue(a[0], out var from) && nodeOf.TryGetValue(b[0], out var to) && root[from] == root[to] ? SolvedOf(root[from]).Between(from, to) : null;
        }

        // Several points joined by the fixture: the pieces they are on become one.
        int[] one = [.. a.Select(p => nodeOf.GetValueOrDefault(p, -1)).Where(n => n >= 0)], other = [.. b.Select(p => nodeOf.GetValueOrDefault(p, -1)).Where(n => n >= 0)];
        var pieces = one.Select(n => root[n]).ToHashSet();
        if (!other.Any(n => pieces.Contains(root[n])))
        {
            return null;
        }

        pieces.UnionWith(other.Select(n => root[n]));
        return new Solved([.. edges.Where(e => pieces.Contains(root[e.From])), .. Joined(one), .. Joined(other)]).Between(one[0], other[0]);
    }

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

        internal Predicted Between(int a, int b)
        {
            if (a == b)
            {
                return Predicted.Nothing;
            }

            var (i, j) = (localOf[a], localOf[b]);
            var weights = new List<(int Wire, double Weight, double Sd)>();
            foreach (var (from, to, part) in edges.Where(e => e.Part.Mean > 0))
            {
                var (u, v) = (localOf[from], localOf[to]);
                var share = (solution.Transfer(u, i) - solution.Transfer(v, i) - solution.Transfer(u, j) + solution.Transfer(v, j)) / part.Mean;
                if (Math.Abs(share) > 1e-4)
                {
                    weights.Add((part.Wire, share * share, part.Sd));
                }
            }

            return new(solution.Ohms(i, j), weights);
        }
    }
}

/// <summary>A resistance in a net.</summary>
/// <param name="Wire">Place of the wire in the loom; negative for a bridge or the fixture.</param>
/// <param name="Mean">Ohms.</param>
/// <param name="Sd">Its spread, one standard deviation, ohms.</param>
internal readonly record struct Part(int Wire, double Mean, double Sd);

/// <summary>What a pair would read, and how that moves with each part.</summary>
/// <param name="Ohms">Mean.</param>
/// <param name="Weights">Share of the current, squared, by wire: how much of a part's own ohms shows (Thomson's principle).</param>
internal sealed record Predicted(double Ohms, IReadOnlyList<(int Wire, double Weight, double Sd)> Weights)
{
    internal static Predicted Nothing { get; } = new(0, []);

    /// <summary>Spread of the copper alone, squared.</summary>
    internal double Variance => Weights.Sum(w => w.Weight * w.Weight * w.Sd * w.Sd);

    /// <summary>Weight of a wire; 0 when it carries nothing.</summary>
    internal double Of(int wire) => Weights.FirstOrDefault(w => w.Wire == wire, (-1, 0, 0)).Weight;
}
