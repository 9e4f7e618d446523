namespace WiseLoom.Core.Diagnosis;

/// <summary>A reading with its places as they are in the drawing: they are looked up once, and asked for often.</summary>
/// <param name="A">Places that one probe touches.</param>
/// <param name="B">Places that the other touches; null for all other drawn nets.</param>
/// <param name="Own">Drawn nets of the first probe's places; negative for cavities without a wire.</param>
/// <param name="AsDrawn">What it would be with the loom as drawn; null for apart.</param>
internal sealed record Located(Spot[] A, Spot[]? B, HashSet<int> Own, Predicted? AsDrawn)
{
    internal static Located Of(DrawnLoom drawn, Observation seen)
    {
        Spot[] a = [.. seen.A.Select(drawn.SpotOf)];
        Spot[]? b = seen.B is { } far ? [.. far.Select(drawn.SpotOf)] : null;
        return new(a, b, a.Select(s => s.Net).ToHashSet(), b is null ? null : Joined(drawn, a, b));
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
