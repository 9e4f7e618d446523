using System.Collections.Immutable;

namespace WiseLoom.Core.Looms;

/// <summary>A connector's tag on the stem. Lengths are fractions of the drawing's width.</summary>
/// <param name="LeavesAt">Where its branch leaves the trunk, 0 (start) to 1 (end).</param>
/// <param name="Centre">Middle of the tag, 0 to 1.</param>
/// <param name="Above">Above or below the trunk.</param>
/// <param name="Lane">0 nearest to the trunk, then 1, ….</param>
public sealed record StemTag(string Connector, double LeavesAt, double Centre, bool Above, int Lane);

/// <summary>The trunk to scale with every connector as a tag where it leaves.</summary>
/// <param name="TrunkMm">Length of the trunk, millimetres.</param>
/// <param name="TagWidth">Width of one tag as a fraction of the drawing's width.</param>
/// <param name="Lanes">Greatest number of tag rows on one side.</param>
/// <param name="Tags">In walking order.</param>
/// <param name="Marks">Landmarks on the trunk: id, kind, and place 0 to 1.</param>
public sealed record StemLayout(
    double TrunkMm,
    double TagWidth,
    int Lanes,
    ImmutableArray<StemTag> Tags,
    ImmutableArray<(string Id, string Kind, double At)> Marks)
{
    /// <summary>A tag narrower than this cannot hold a ref that is read at arm's length.</summary>
    private const double NarrowestTag = 0.041;

    /// <summary>Lays out the stem of a loom; works for any number of connectors and for looms without geometry.</summary>
    public static StemLayout Of(Loom loom)
    {
        var tree = new TrunkTree(loom);
        var length = Math.Max(1, tree.LengthMm);
        var walk = tree.WalkingOrder();
        var leaves = walk.ToDictionary(c => c.Ref, c => LeavesAt(tree, c, length, walk), StringComparer.Ordinal);
        var (above, below) = Sides(tree, walk, leaves);
        var most = Math.Max(1, Math.Max(above.Count, below.Count));
        var lanes = (int)Math.Ceiling(most * NarrowestTag);
        var width = Math.Min(0.08, 1.0 / Math.Ceiling(1.0 * most / lanes));
        var tags = Place(above, leaves, true, lanes, width).Concat(Place(below, leaves, false, lanes, width)).ToDictionary(t => t.Connector, StringComparer.Ordinal);
        return new(tree.LengthMm, width, lanes, [.. walk.Select(c => tags[c.Ref])], [.. loom.Landmarks.Select(m => (m.Id, m.Kind, Math.Clamp(tree.Place(m.Branch, m.AtMm).TrunkMm / length, 0, 1)))]);
    }

    private static double LeavesAt(TrunkTree tree, Connector connector, double length, ImmutableArray<Connector> walk) => tree.Trunk is null
        ? (walk.IndexOf(connector) + 0.5) / walk.Length
        : Math.Clamp(tree.Place(connector).TrunkMm / length, 0, 1);

    /// <summary>One branch stays on one side; the branches take turns so that both sides fill alike.</summary>
    private static (List<string> Above, List<string> Below) Sides(TrunkTree tree, ImmutableArray<Connector> walk, Dictionary<string, double> leaves)
    {
        var above = new List<string>();
        var below = new List<string>();
        foreach (var group in walk.GroupBy(c => tree.Place(c).Through is [var first, ..] ? "/" + first : c.Ref).OrderBy(g => leaves[g.First().Ref]))
        {
            (above.Count <= below.Count ? above : below).AddRange(group.Select(c => c.Ref));
        }

        return (above, below);
    }

    private static IEnumerable<StemTag> Place(List<string> side, Dictionary<string, double> leaves, bool above, int lanes, double width)
    {
        var sorted = side.Select((r, i) => (Ref: r, Index: i)).OrderBy(x => leaves[x.Ref]).ThenBy(x => x.Index).Select(x => x.Ref).ToList();
        for (var lane = 0; lane < lanes; lane++)
        {
            var row = sorted.Where((_, i) => i % lanes == lane).ToList();
            var centres = Spread([.. row.Select(r => leaves[r])], width);
            for (var i = 0; i < row.Count; i++)
            {
                yield return new(row[i], leaves[row[i]], centres[i], above, lane);
            }
        }
    }

    /// <summary>Centres as near as can be (least squares) to the wanted places, at least <paramref name="width"/> apart, inside 0 to 1.</summary>
    /// <remarks>Pool-adjacent-violators on the wanted places less their rank (Ayer and others, 1955).</remarks>
    internal static double[] Spread(double[] wanted, double width)
    {
        var pools = new List<(double Mean, int Count)>();
        for (var i = 0; i < wanted.Length; i++)
        {
            pools.Add((wanted[i] - (i * width), 1));
            while (pools.Count > 1 && pools[^2].Mean >= pools[^1].Mean)
            {
                var (a, b) = (pools[^2], pools[^1]);
                pools.RemoveRange(pools.Count - 2, 2);
                pools.Add((((a.Mean * a.Count) + (b.Mean * b.Count)) / (a.Count + b.Count), a.Count + b.Count));
            }
        }

        var most = Math.Max(width / 2, 1 - (width / 2) - ((wanted.Length - 1) * width));
        return [.. pools.SelectMany(p => Enumerable.Repeat(Math.Clamp(p.Mean, width / 2, most), p.Count)).Select((x, i) => x + (i * width))];
    }
}
