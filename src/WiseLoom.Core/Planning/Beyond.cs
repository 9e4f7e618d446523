using System.Collections.Immutable;

namespace WiseLoom.Core.Planning;

/// <summary>What a plan asks for beside the bare loom.</summary>
/// <param name="Fitted">Refs of the devices that are plugged in for the steps through devices; empty for none.</param>
/// <param name="Pulls">What crimp samples must hold; null for no samples.</param>
/// <param name="Looks">Whether every connector, ring and twisted pair is looked at.</param>
public sealed record Beyond(ImmutableArray<string> Fitted, PullTable? Pulls, bool Looks)
{
    /// <summary>Nothing but the bare loom.</summary>
    public static Beyond Nothing { get; } = new([], null, false);
}
