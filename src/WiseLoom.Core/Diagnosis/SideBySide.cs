using System.Collections.Concurrent;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Work on the items of a list on all cores.</summary>
internal static class SideBySide
{
    /// <summary>Items are handed out one by one as cores come free: some take a hundred times as long as others, and where they come in bundles one core waits for
    /// the last of the other.</summary>
    internal static ParallelQuery<T> Spread<T>(this IList<T> items) => Partitioner.Create(items, EnumerablePartitionerOptions.NoBuffering).AsParallel();
}
