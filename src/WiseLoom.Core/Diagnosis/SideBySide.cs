using System.Collections.Concurrent;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Work on the items of a list on all cores.</summary>
internal static class SideBySide
{
    /// <summary>Items are handed out as cores come free, a few at a time: of suppositions the bridges come last and take longest, and in halves of a list
    /// one core would wait for the other.</summary>
    internal static ParallelQuery<T> Spread<T>(this IList<T> items) => Partitioner.Create(items, loadBalance: true).AsParallel();
}
