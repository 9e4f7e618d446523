namespace WiseLoom.Core.Planning.Order;

/// <summary>Something that one step must prove, apart from where and when: a pair of points, one of each set.</summary>
/// <param name="First">Points that the first probe may touch.</param>
/// <param name="Second">Points that the second probe may touch.</param>
/// <param name="Tree">The net whose spanning tree it is a part of; −1 when it is of none. A tree's free edge has all points of the net in both
/// sets and joins any two that are not joined yet.</param>
internal sealed record Obligation(int[] First, int[] Second, int Tree)
{
    /// <summary>Whether any two points of the net will do that are not joined yet.</summary>
    internal bool IsFreeEdge => Tree >= 0 && ReferenceEquals(First, Second);

    /// <summary>An edge of a net's tree, wherever.</summary>
    internal static Obligation Edge(TouchMap map, int net) => new(map.Nets[net], map.Nets[net], net);

    /// <summary>Two nets that must be apart, measured at any of their points; the plug's net stands for all others.</summary>
    internal static Obligation Apart(TouchMap map, int one, int other) => new(map.Nets[one], map.Nets[other], -1);

    /// <summary>This very pair.</summary>
    /// <param name="tree">The net whose tree it counts for; −1 for none.</param>
    internal static Obligation Exactly(int a, int b, int tree) => new([a], [b], tree);
}
