namespace WiseLoom.Core.Diagnosis;

/// <summary>A reading with its places as they are in the drawing: they are looked up once, and asked for often.</summary>
/// <param name="Seen">The reading.</param>
/// <param name="A">Places that one probe touches.</param>
/// <param name="B">Places that the other touches; null for all other drawn nets.</param>
/// <param name="Own">Drawn nets of the first probe's places; negative for cavities without a wire.</param>
/// <param name="AsDrawn">What it would be with the loom as drawn; null for apart.</param>
/// <param name="HasOneWay">Whether it is between two places of a net that has no loops.</param>
internal sealed record Located(Observation Seen, Spot[] A, Spot[]? B, HashSet<int> Own, Predicted? AsDrawn, bool HasOneWay)
{
    internal static Located Of(DrawnLoom drawn, Observation seen)
    {
        Spot[] a = [.. seen.A.Select(drawn.SpotOf)];
        if (seen.B is not { } far)
        {
            return new(seen, a, null, Own(), null, false);
        }

        Spot[] b = [.. far.Select(drawn.SpotOf)];
        if (a is not [var one] || b is not [var other])
        {
            return new(seen, a, b, Own(), Joined(drawn, a, b), false);
        }

        var net = one.Net >= 0 && one.Net == other.Net ? drawn.AsDrawn(one.Net) : null;
        return new(seen, a, b, Own(), net?.Between([one.Node], [other.Node]), net?.HasLoops == false);

        HashSet<int> Own() => [.. a.Select(s => s.Net)];
    }

    /// <summary>Whether metal joins its two sides in the drawing, without asking by how much.</summary>
    internal bool JoinsAsDrawn { get; } = B is not null && Array.Exists(A, a => a.Net >= 0 && Array.Exists(B, b => b.Net == a.Net));

    /// <summary>The same with some nets altered.</summary>
    internal bool Joins(Altered altered)
    {
        foreach (var a in A)
        {
            var node = altered.Node(a);
            if (B is null ? node >= 0 && JoinsStranger(altered, node) : node >= 0 ? JoinsFar(altered, node) : a.Net >= 0 && Array.Exists(B, b => b.Net == a.Net && altered.Node(b) < 0))
            {
                return true;
            }
        }

        return false;
    }

    private bool JoinsStranger(Altered altered, int node)
    {
        foreach (var net in altered.DrawnNetsOn(altered.PieceAt(node)))
        {
            if (!Own.Contains(net))
            {
                return true;
            }
        }

        return false;
    }

    private bool JoinsFar(Altered altered, int node)
    {
        foreach (var b in B!)
        {
            if (altered.Node(b) is var other && other >= 0 && altered.PieceAt(other) == altered.PieceAt(node))
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>Whether some nets hold any of its places.</summary>
    internal bool Touches(Altered altered) => Array.Exists(A, s => altered.Node(s) >= 0) || (B is not null && Array.Exists(B, s => altered.Node(s) >= 0));

    /// <summary>What places would read as drawn, through the first net that holds some of either.</summary>
    internal static Predicted? Joined(DrawnLoom drawn, IEnumerable<Spot> a, IEnumerable<Spot> b)
    {
        var near = a.ToLookup(s => s.Net, s => s.Node);
        return b.GroupBy(s => s.Net, s => s.Node).Where(g => g.Key >= 0 && near.Contains(g.Key)).Select(g => drawn.AsDrawn(g.Key).Between([.. near[g.Key]], [.. g])).FirstOrDefault();
    }
}
