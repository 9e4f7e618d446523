using System.Buffers;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Nodes and the parts that join them: what two nodes of one piece read, and how the current goes.</summary>
/// <remarks>
/// Looms are trees with a loop here and there. Parts are taken as a tree of the least ohms (Kruskal, 1956); between two nodes lies the way through it, and each part
/// that closes a loop takes its share by the loop equations (Maxwell, 1873), which are as many as there are loops. A piece with more loops than
/// <see cref="MostLoops"/> is solved whole.
/// </remarks>
internal sealed class Metal
{
    /// <summary>Loops of one piece that are solved as loops.</summary>
    private const int MostLoops = 40;

    /// <summary>As they were laid; what they measure is in <see cref="means"/>.</summary>
    private readonly List<(int From, int To, Part Part)> parts;
    private readonly double[] means;
    private readonly int[] piece;
    private readonly int[] parent;
    private readonly int[] up;
    private readonly int[] depth;

    /// <summary>All nodes, piece by piece, each behind the one that it hangs on; and of each node where it is.</summary>
    private readonly int[] order, places;
    private readonly List<int> closed;

    /// <summary>Pieces that have loops, solved when they are asked about.</summary>
    private readonly Dictionary<int, Lazy<ISolvedMetal>>? looped;

    /// <param name="nodes">How many there are; those that no part joins are pieces of their own.</param>
    /// <param name="parts">Kept.</param>
    internal Metal(int nodes, List<(int From, int To, Part Part)> parts)
    {
        this.parts = parts;
        means = [.. parts.Select(p => p.Part.Mean)];
        (parent, up, depth, piece, order, places) = (new int[nodes], new int[nodes], new int[nodes], new int[nodes], new int[nodes], new int[nodes]);
        var room = ArrayPool<int>.Shared.Rent((3 * nodes) + 1 + (2 * parts.Count));
        var isTree = ArrayPool<bool>.Shared.Rent(parts.Count);
        closed = Tree(Enumerable.Range(0, parts.Count), room.AsSpan(0, nodes), isTree);
        if (closed.Count > 0)
        {
            closed = Tree(Enumerable.Range(0, parts.Count).OrderBy(e => means[e]), room.AsSpan(0, nodes), isTree);
        }

        Root(room.AsSpan(0, nodes + 1), room.AsSpan(nodes + 1, nodes), room.AsSpan((2 * nodes) + 1), isTree);
        ArrayPool<int>.Shared.Return(room);
        ArrayPool<bool>.Shared.Return(isTree);
        looped = Looped();
    }

    /// <summary>The same tree with other ohms.</summary>
    private Metal(Metal of, double[] means)
    {
        (parts, this.means, piece, parent, up, depth, order, places, closed) = (of.parts, means, of.piece, of.parent, of.up, of.depth, of.order, of.places, of.closed);
        looped = Looped();
    }

    /// <summary>The same with so many ohms more in one part.</summary>
    internal Metal Resized(int place, double more)
    {
        double[] other = [.. means];
        other[place] = Math.Max(0, other[place] + more);
        return new(this, other);
    }

    private Dictionary<int, Lazy<ISolvedMetal>>? Looped() =>
        closed.Count == 0 ? null : closed.GroupBy(e => piece[parts[e].From]).ToDictionary(g => g.Key, g => new Lazy<ISolvedMetal>(() => g.Count() > MostLoops ? new WholeMetal(PartsOf(p => p == g.Key)) : new Loops(this, [.. g])));

    /// <summary>Whether it is the same but for the ohms of its parts.</summary>
    internal bool IsLike(Metal other) => ReferenceEquals(parts, other.parts);

    /// <summary>The piece that a part is on.</summary>
    internal int PieceOfPart(int place) => piece[parts[place].From];

    /// <summary>Whether any two of its nodes have more than one way between them.</summary>
    internal bool HasLoops => closed.Count > 0;

    /// <summary>The piece that a node is on: one of its nodes stands for it.</summary>
    internal int PieceOf(int node) => piece[node];

    /// <summary>Mean ohms between two nodes of one piece.</summary>
    internal double Ohms(int a, int b)
    {
        if (a == b)
        {
            return 0;
        }

        if (looped?.GetValueOrDefault(piece[a]) is { } solved)
        {
            return solved.Value.Ohms(a, b);
        }

        var sum = 0.0;
        while (a != b)
        {
            ref var deeper = ref depth[a] >= depth[b] ? ref a : ref b;
            sum += means[up[deeper]];
            deeper = parent[deeper];
        }

        return sum;
    }

    /// <summary>What an ampere from one node to another of its piece does.</summary>
    internal Flow Between(int a, int b)
    {
        if (looped?.GetValueOrDefault(piece[a]) is { } solved)
        {
            return solved.Value.Between(a, b);
        }

        var way = Way(a, b);
        return new(Sum(way), way, null);
    }

    /// <summary>The same from some nodes, joined, to others, joined; null where nothing leads from one to the other.</summary>
    internal Flow? Between(ReadOnlySpan<int> a, ReadOnlySpan<int> b)
    {
        if (a is not [var from] || (closed.Count > MostLoops && b.Length > 1))
        {
            return Joined(a.ToArray(), b.ToArray());
        }

        var (there, last) = (0, -1);
        foreach (var node in b)
        {
            if (piece[node] == piece[from])
            {
                (there, last) = (there + 1, node);
            }
        }

        return there == 0 ? null : there == 1 ? Between(from, last) : Grounded.From(this, from, b);
    }

    /// <summary>Mean ohms between nodes of one piece while some of its nodes are joined by the fixture.</summary>
    internal Func<int, int, double> WithJoined(int[] nodes)
    {
        var at = piece[nodes[0]];
        return new WholeMetal([.. PartsOf(p => p == at), .. Joining(nodes)]).Ohms;
    }

    /// <summary>The nodes of a node's piece lie one after the other, each behind the one that it hangs on: where the first is, and how many.</summary>
    internal (int Start, int Count) SpanOf(int node)
    {
        var (start, end) = (places[piece[node]], places[piece[node]] + 1);
        while (end < order.Length && piece[order[end]] == piece[node])
        {
            end++;
        }

        return (start, end - start);
    }

    /// <summary>Where a node is among all.</summary>
    internal int PlaceOf(int node) => places[node];

    /// <summary>Where the node is that the one at a place hangs on.</summary>
    internal int Before(int place) => places[parent[order[place]]];

    /// <summary>The part that the node at a place hangs on.</summary>
    internal int Up(int place) => up[order[place]];

    /// <summary>Parts of a node's piece that close a loop.</summary>
    internal IEnumerable<int> ClosedOn(int node) => closed.Where(e => piece[parts[e].From] == piece[node]);

    /// <summary>How many parts there are.</summary>
    internal int Count => parts.Count;

    /// <summary>What a part is.</summary>
    internal Part PartAt(int place) => parts[place].Part with { Mean = means[place] };

    /// <summary>Ohms of a part.</summary>
    internal double MeanOf(int place) => means[place];

    /// <summary>The nodes that a part joins.</summary>
    internal (int From, int To) EndsOf(int place) => (parts[place].From, parts[place].To);

    /// <summary>Pieces that the fixture joins become one.</summary>
    private Flow? Joined(int[] a, int[] b)
    {
        var pieces = a.Select(n => piece[n]).ToHashSet();
        if (!b.Any(n => pieces.Contains(piece[n])))
        {
            return null;
        }

        pieces.UnionWith(b.Select(n => piece[n]));
        return new WholeMetal([.. PartsOf(pieces.Contains), .. Joining(a), .. Joining(b)]).Between(a[0], b[0]);
    }

    private static IEnumerable<(int Place, int From, int To, double Ohms)> Joining(int[] nodes) => nodes.Skip(1).Select(n => (-1, nodes[0], n, 0.0));

    private IEnumerable<(int Place, int From, int To, double Ohms)> PartsOf(Func<int, bool> pieces)
    {
        for (var e = 0; e < parts.Count; e++)
        {
            if (pieces(piece[parts[e].From]))
            {
                yield return (e, parts[e].From, parts[e].To, means[e]);
            }
        }
    }

    /// <summary>The way through the tree, with +1 where a part is passed from its first node to its second.</summary>
    internal (int Part, double Share)[] Way(int a, int b)
    {
        var way = new (int, double)[Steps(a, b)];
        for (var at = 0; at < way.Length; at++)
        {
            // Both climb until they meet; what is climbed from the far end is passed the other way round.
            var isNear = depth[a] >= depth[b];
            ref var deeper = ref isNear ? ref a : ref b;
            var e = up[deeper];
            way[at] = (e, parts[e].From == deeper == isNear ? 1 : -1);
            deeper = parent[deeper];
        }

        return way;
    }

    /// <summary>Of how many parts it is.</summary>
    private int Steps(int a, int b)
    {
        var steps = 0;
        for (; a != b; steps++)
        {
            ref var deeper = ref depth[a] >= depth[b] ? ref a : ref b;
            deeper = parent[deeper];
        }

        return steps;
    }

    internal double Sum((int Part, double Share)[] way)
    {
        var sum = 0.0;
        foreach (var (e, _) in way)
        {
            sum += means[e];
        }

        return sum;
    }

    /// <summary>Takes parts one after the other for the tree.</summary>
    /// <param name="group">Room for a number by node.</param>
    /// <param name="isTree">By part; it is filled.</param>
    /// <returns>Those that close a loop.</returns>
    private List<int> Tree(IEnumerable<int> rising, Span<int> group, Span<bool> isTree)
    {
        var closing = new List<int>();
        for (var i = 0; i < group.Length; i++)
        {
            group[i] = i;
        }

        foreach (var e in rising)
        {
            var (a, b) = (Group(group, parts[e].From), Group(group, parts[e].To));
            isTree[e] = a != b;
            group[a] = b;
            if (a == b)
            {
                closing.Add(e);
            }
        }

        return closing;

        static int Group(Span<int> group, int node)
        {
            while (group[node] != node)
            {
                node = group[node] = group[group[node]];
            }

            return node;
        }
    }

    /// <summary>Gives each node its way to the node that stands for its piece.</summary>
    /// <param name="begin">Room for one number more than there are nodes, <paramref name="filled"/> for as many, <paramref name="beside"/> for two by part.</param>
    private void Root(Span<int> begin, Span<int> filled, Span<int> beside, ReadOnlySpan<bool> isTree)
    {
        // Parts of the tree at each node, one after the other.
        begin.Clear();
        for (var e = 0; e < parts.Count; e++)
        {
            if (isTree[e])
            {
                begin[parts[e].From + 1]++;
                begin[parts[e].To + 1]++;
            }
        }

        for (var i = 0; i < filled.Length; i++)
        {
            begin[i + 1] += begin[i];
        }

        begin[..^1].CopyTo(filled);
        for (var e = 0; e < parts.Count; e++)
        {
            if (isTree[e])
            {
                beside[filled[parts[e].From]++] = e;
                beside[filled[parts[e].To]++] = e;
            }
        }

        Array.Fill(depth, -1);
        for (int root = 0, next = 0, found = 0; root < order.Length; root++)
        {
            if (depth[root] >= 0)
            {
                continue;
            }

            (depth[root], piece[root], parent[root], up[root], order[found++]) = (0, root, root, -1, root);
            for (; next < found; next++)
            {
                var node = order[next];
                places[node] = next;
                foreach (var e in beside[begin[node]..begin[node + 1]])
                {
                    var other = parts[e].From == node ? parts[e].To : parts[e].From;
                    if (depth[other] < 0)
                    {
                        (depth[other], piece[other], parent[other], up[other], order[found++]) = (depth[node] + 1, root, node, e, other);
                    }
                }
            }
        }
    }
}
