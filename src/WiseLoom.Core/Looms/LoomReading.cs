using System.Collections.Immutable;

namespace WiseLoom.Core.Looms;

/// <summary>What came of reading a file: a loom, or everything that keeps it from being one.</summary>
/// <param name="Loom">The loom; null exactly when <paramref name="Problems"/> has an entry. A draft with problems still gives what can be drawn of it.</param>
/// <param name="Problems">All that is wrong, in file order.</param>
/// <param name="Warnings">Doubtful things that do not keep the loom from being used.</param>
public sealed record LoomReading(Loom? Loom, ImmutableArray<Problem> Problems, ImmutableArray<Problem> Warnings);
