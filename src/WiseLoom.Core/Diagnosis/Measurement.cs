using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>What to measure next.</summary>
/// <param name="A">One place.</param>
/// <param name="B">The others, joined; null for all other circuits.</param>
/// <param name="Moved">Whether the loom is moved meanwhile.</param>
public sealed record Measurement(ProbePoint A, ImmutableArray<ProbePoint>? B, bool Moved)
{
    /// <summary>Whether it was taken before: what is odd alone may have been the touch.</summary>
    public bool IsAgain { get; init; }

    /// <summary>What to do, in a sentence.</summary>
    public string InWords() => $"{(Moved ? "While the loom is moved, measure" : "Measure")} {A} to {(B is not { } far ? "all other circuits, joined" : far.Length <= 3 ? string.Join(" and ", far) + (far.Length > 1 ? ", joined" : "") : $"{far[0]} and {far.Length - 1} more cavities, joined")}{(IsAgain ? " once more: what it read may have been the touch" : "")}.";

    /// <summary>Between two points, at rest.</summary>
    internal static Measurement Of(ProbePoint a, ProbePoint b) => new(a, [b], false);
}
