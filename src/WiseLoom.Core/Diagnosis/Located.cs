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
            return new(seen, a, b, Own(), Joined(drawn, a, b, null), false);
        }

        var net = one.Net >= 0 && one.Net == other.Net ? drawn.AsDrawn(one.Net) : null;
        return new(seen, a, b, Own(), net?.Between([one.Node], [other.Node]), net?.HasLoops == false);

        HashSet<int> Own() => [.. a.Select(s => s.Net)];
    }

    /// <summary>Whether metal joins its two sides in the drawing, without asking by how much.</summary>
    internal bool JoinsAsDrawn { get; } = B is not null && Array.Exists(A, a => a.Net >= 0 && Array.Exists(B, b => b.Net == a.Net));

    /// <summary>Whether it found metal where it is drawn, with nothing moved meanwhile.</summary>
    internal bool IsMetalAsDrawn { get; } = AsDrawn is not null && !Seen.Moved && Evidence.IsJoined(Seen);

    /// <summary>The same with some nets altered.</summary>
    internal bool Joins(Altered altered)
    {
        foreach (var a in A)
        {
            var node = altered.Node(a);
            if (B is null ? node >= 0 && JoinsStranger(altered, node) : node >= 0 ? JoinsFar(altered, node) : a.Net >= 0 && JoinsAsDrawnBut(altered, a.Net))
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

    private bool JoinsAsDrawnBut(Altered altered, int net)
    {
        foreach (var b in B!)
        {
            if (b.Net == net && altered.Node(b) < 0)
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>Whether some nets hold any of its places.</summary>
    internal bool Touches(Altered altered) => AreIn(altered, A) || (B is not null && AreIn(altered, B));

    private static bool AreIn(Altered altered, Spot[] spots)
    {
        foreach (var spot in spots)
        {
            if (altered.Node(spot) >= 0)
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>What places would read as drawn, through the first net that holds some of either.</summary>
    /// <param name="but">Nets that are not as drawn are left out; null for none.</param>
    internal static Predicted? Joined(DrawnLoom drawn, Spot[] a, Spot[] b, Altered? but)
    {
        foreach (var far in b)
        {
            if (far.Net >= 0 && !(but?.Node(far) >= 0) && NodesIn(a, far.Net) is { Length: > 0 } near)
            {
                return drawn.AsDrawn(far.Net).Between(near, NodesIn(b, far.Net));
            }
        }

        return null;
    }

    private static int[] NodesIn(Spot[] spots, int net)
    {
        var count = 0;
        foreach (var spot in spots)
        {
            count += spot.Net == net ? 1 : 0;
        }

        var nodes = count == 0 ? [] : new int[count];
        foreach (var spot in spots)
        {
            if (spot.Net == net)
            {
                nodes[^count--] = spot.Node;
            }
        }

        return nodes;
    }
}
