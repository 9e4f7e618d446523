using System.Collections.Immutable;
using WiseLoom.Core.Circuits;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Electrical;

/// <summary>Everything that metal joins: cavities, splices and the wires between them.</summary>
public sealed class Net
{
    private readonly WireGraph graph;
    private readonly Dictionary<int, int> localOf;
    private readonly int[] places;
    private readonly NetSolution?[] solved = new NetSolution?[3];

    internal Net(int number, WireGraph graph, ImmutableArray<int> nodes, ImmutableArray<GraphEdge> edges)
    {
        Number = number;
        this.graph = graph;
        Nodes = nodes;
        Edges = edges;
        localOf = nodes.Select((node, local) => (node, local)).ToDictionary(x => x.node, x => x.local);
        Points = [.. nodes.Select(n => graph.Points[n]).OfType<ProbePoint>()];
        places = [.. Enumerable.Range(0, nodes.Length).Where(i => graph.Points[nodes[i]] is not null)];
    }

    /// <summary>Its place in <see cref="WireGraph.Nets"/>.</summary>
    public int Number { get; }

    /// <summary>Graph indices of its nodes.</summary>
    public ImmutableArray<int> Nodes { get; }

    /// <summary>Every piece of metal in the net.</summary>
    public ImmutableArray<GraphEdge> Edges { get; }

    /// <summary>The places that a probe can touch, in the graph's order.</summary>
    public ImmutableArray<ProbePoint> Points { get; }

    /// <summary>Effective resistance between two points of this net, with its exact limits.</summary>
    /// <returns>Ohms; all 0 when both are one point. Effective resistance never falls when any part's resistance rises
    /// (Rayleigh's monotonicity law), so the limits are the values with every part at its least and at its most.</returns>
    /// <exception cref="ArgumentException">A point is not in this net: the pair is apart.</exception>
    public OhmRange Between(ProbePoint a, ProbePoint b) => BetweenPlaces(Local(a), Local(b));

    /// <summary>The same for two nodes by their places in <see cref="Nodes"/>.</summary>
    internal OhmRange BetweenPlaces(int i, int j) => new(Solved(Corner.Min).Ohms(i, j), Solved(Corner.Nominal).Ohms(i, j), Solved(Corner.Max).Ohms(i, j));

    /// <summary>Effective resistance at one corner of the tolerances, ohms.</summary>
    /// <exception cref="ArgumentException">A point is not in this net.</exception>
    public double Between(ProbePoint a, ProbePoint b, Corner corner) => Solved(corner).Ohms(Local(a), Local(b));

    /// <summary>What makes up the nominal resistance between two points.</summary>
    /// <returns>For each part that carries current: its share of the current (0 to 1) and the ohms it contributes
    /// (share² × its own ohms). The contributions add up to the effective resistance (Thomson's principle: power is the sum of I²R).</returns>
    public ImmutableArray<Contribution> Explain(ProbePoint a, ProbePoint b)
    {
        var (i, j) = (Local(a), Local(b));
        var solution = Solved(Corner.Nominal);
        double Potential(int node) => solution.Transfer(node, i) - solution.Transfer(node, j);
        var parts = ImmutableArray.CreateBuilder<Contribution>();
        foreach (var edge in Edges)
        {
            var ohm = edge.Ohm.Nominal;
            var share = ohm > 0 ? Math.Abs(Potential(localOf[edge.From]) - Potential(localOf[edge.To])) / ohm : 0;
            if (share > 1e-6)
            {
                parts.Add(new(edge.Label, edge.Ohm, share, share * share * ohm));
            }
        }

        return parts.ToImmutable();
    }

    /// <summary>Least resistance between two points with one part of the net taken out, ohms; infinite when nothing else joins them.</summary>
    /// <param name="part">One of <see cref="Edges"/>.</param>
    /// <remarks>Taking out a part of resistance r between u and v lowers the conductance there by 1/r; by the formula of Sherman and Morrison the
    /// resistance between a and b rises by t² / (r − R(u,v)), t being what one ampere from a to b makes between u and v.</remarks>
    internal double LeastWithout(GraphEdge part, ProbePoint a, ProbePoint b)
    {
        var (i, j, u, v) = (Local(a), Local(b), localOf[part.From], localOf[part.To]);
        var solution = Solved(Corner.Min);
        var across = solution.Transfer(i, u) - solution.Transfer(i, v) - solution.Transfer(j, u) + solution.Transfer(j, v);
        var spare = part.Ohm.Min - solution.Ohms(u, v);
        var isOnlyWay = spare <= 1e-9 * part.Ohm.Min;
        return isOnlyWay
            ? Math.Abs(across) > 0.5 * part.Ohm.Min ? double.PositiveInfinity : solution.Ohms(i, j)
            : solution.Ohms(i, j) + (across * across / spare);
    }

    /// <summary>Whether a part is not the only way between its ends.</summary>
    internal bool IsDoubled(GraphEdge part) => part.Ohm.Min - Solved(Corner.Min).Ohms(localOf[part.From], localOf[part.To]) > 1e-9 * part.Ohm.Min;

    /// <summary>Points at the ends of a part; where an end is a splice, those at the other ends of its parts.</summary>
    internal ImmutableArray<ProbePoint> AtEnds(GraphEdge part)
    {
        int[] ends = [part.From, part.To];
        var near = ends.Concat(ends.Where(e => graph.Points[e] is null).SelectMany(e => Edges.Where(x => x.From == e || x.To == e).Select(x => x.From == e ? x.To : x.From)));
        return [.. near.Distinct().Select(n => graph.Points[n]).OfType<ProbePoint>()];
    }

    /// <summary>Effective resistance between two nodes at nominal values, ohms; each is of this net.</summary>
    internal double OhmsBetween(string from, string to) => Solved(Corner.Nominal).Ohms(localOf[graph.IndexOf(from)], localOf[graph.IndexOf(to)]);

    /// <summary>Volts at a node for each ampere that is fed in at another, given by its place, at nominal values, against a node that is the same for all.</summary>
    internal double Transfer(int fed, string node) => Solved(Corner.Nominal).Transfer(localOf[graph.IndexOf(node)], fed);

    /// <summary>Whether a node of the graph is in this net.</summary>
    internal bool Contains(int node) => localOf.ContainsKey(node);

    /// <summary>Solved when it is first asked for, once, whoever asks.</summary>
    private NetSolution Solved(Corner corner)
    {
        if (solved[(int)corner] is { } known)
        {
            return known;
        }

        lock (solved)
        {
            return solved[(int)corner] ??= NetSolution.Of(Nodes.Length, [.. Edges.Select(e => (localOf[e.From], localOf[e.To], e.Ohm.At(corner)))]);
        }
    }

    /// <summary>The place in <see cref="Nodes"/> of one of <see cref="Points"/>, by its own place there.</summary>
    internal int PlaceOf(int point) => places[point];

    /// <summary>A point's place in <see cref="Nodes"/>.</summary>
    /// <exception cref="ArgumentException">It is not in this net.</exception>
    internal int Local(ProbePoint point)
    {
        var node = graph.NodeOf(point);
        return node >= 0 && localOf.TryGetValue(node, out var local)
            ? local
            : throw new ArgumentException($"{point} is not in this net: the pair is apart.", nameof(point));
    }
}

/// <summary>One part's share in a resistance between two points.</summary>
/// <param name="Label">Id of the wire.</param>
/// <param name="Own">The part's own resistance, ohms.</param>
/// <param name="Share">Fraction of the current that flows through it, 0 to 1.</param>
/// <param name="Ohms">What it adds to the whole, ohms.</param>
public readonly record struct Contribution(string Label, OhmRange Own, double Share, double Ohms);
