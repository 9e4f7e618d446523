using System.Collections.Immutable;

namespace WiseLoom.Core.Faults;

/// <summary>How often each kind of fault was found, by the shop's own log.</summary>
/// <param name="Counts">By the word of the kind in files, such as <c>open</c>.</param>
public sealed record FaultTally(ImmutableDictionary<string, int> Counts)
{
    /// <summary>A shop without a log.</summary>
    public static FaultTally None { get; } = new(ImmutableDictionary<string, int>.Empty);

    /// <summary>Two are the same when they count the same, however they came here.</summary>
    public bool Equals(FaultTally? other) => other is not null && Counts.Count == other.Counts.Count && Counts.All(c => other.Counts.TryGetValue(c.Key, out var count) && count == c.Value);

    /// <inheritdoc/>
    public override int GetHashCode() => Counts.Aggregate(0, (hash, c) => hash ^ HashCode.Combine(c.Key, c.Value));

    /// <summary>How often one of some kinds was found.</summary>
    public int Of(params ReadOnlySpan<string> kinds)
    {
        var sum = 0;
        foreach (var kind in kinds)
        {
            sum += Counts.GetValueOrDefault(kind);
        }

        return sum;
    }
}
