using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>A reading as evidence, wherever it was taken.</summary>
/// <param name="A">Points that one probe touches, joined; at least one.</param>
/// <param name="B">Points that the other touches, joined; null for all points of all other drawn nets, joined by the shorting plug.</param>
/// <param name="Ohm">What the meter showed, ohms; null for over range.</param>
/// <param name="Moved">Whether the loom was moved meanwhile: over range then means that it broke.</param>
public sealed record Observation(ImmutableArray<ProbePoint> A, ImmutableArray<ProbePoint>? B, double? Ohm, bool Moved)
{
    /// <summary>What it was taken with, when not with the meter of the others; its leads add nothing.</summary>
    public Meter? With { get; init; }

    /// <summary>Between two points, at rest.</summary>
    public static Observation Of(ProbePoint a, ProbePoint? b, double? ohm) => new([a], b is { } other ? [other] : null, ohm, false);

    /// <summary>Whether another is the same, however it came here.</summary>
    internal bool IsSame(Observation other) => ReferenceEquals(this, other)
        || (Ohm.Equals(other.Ohm) && Moved == other.Moved && With == other.With && A.SequenceEqual(other.A) && (B is { } b ? other.B is { } far && b.SequenceEqual(far) : other.B is null));

    /// <summary>The two places in words.</summary>
    public string Places() => $"{Said(A)} to {(B is { } b ? Said(b) : "all other circuits")}";

    private static string Said(ImmutableArray<ProbePoint> points) => points.Length <= 3 ? string.Join(" and ", points) : $"{points[0]} and {points.Length - 1} more";
}
