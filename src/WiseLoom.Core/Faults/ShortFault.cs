using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Serialization;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>Metal joins two cavities that should be apart, or two wires somewhere along the way.</summary>
/// <param name="A">Cavity such as <c>ECU:17</c>; a wire's id where <see cref="AlongMm"/> says how far along it.</param>
/// <param name="B">The other.</param>
/// <param name="Ohm">The bridge, ohms; 0 or more.</param>
public sealed record ShortFault(string A, string B, double Ohm) : Fault
{
    /// <summary>How far along each of two wires, millimetres from its <c>from</c> end; null between cavities.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<double>? AlongMm { get; init; }

    /// <inheritdoc/>
    public override string Title(Loom loom) => AlongMm is null ? $"{A} and {B} touch" : $"{A} and {B} touch along the way";

    /// <inheritdoc/>
    public override string Why(Loom loom) => AlongMm is [var a, var b]
        ? $"metal between {A}, {Along(loom, A, a)}, and {B}, {Along(loom, B, b)}, would read so. Look for crushed or rubbed insulation there."
        : $"metal between {A} and {B} would read so. Look for a stray strand or crushed insulation.";

    /// <inheritdoc/>
    public override string WhyLive(Loom loom) => Why(loom).Replace("would read so", "would show so", StringComparison.Ordinal);

    /// <inheritdoc/>
    public override IEnumerable<string> Places(Loom loom) => AlongMm is null ? [A, B] : new[] { A, B }.Where(w => loom.FindWire(w) is not null);

    /// <inheritdoc/>
    public override string UsualFix() => "insulation made good";

    /// <inheritdoc/>
    internal override void ApplyTo(BuiltLoom built)
    {
        if (AlongMm is not [var a, var b])
        {
            built.Bridge(A, B, Ohm);
        }
        else if (built.Wire(A) is { } one && built.Wire(B) is { } other)
        {
            built.Bridge(one.Tap(a), other.Tap(b), Ohm);
        }
    }

    /// <summary>Equal when it joins the same places.</summary>
    public bool Equals(ShortFault? other) => other is not null && A == other.A && B == other.B && Ohm.Equals(other.Ohm) && (AlongMm ?? []).SequenceEqual(other.AlongMm ?? []);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(A, B, Ohm);

    /// <summary>A place along a wire, from both ends.</summary>
    private static string Along(Loom loom, string wire, double mm) => loom.FindWire(wire) is { } drawn
        ? string.Create(CultureInfo.InvariantCulture, $"some {mm:0} mm from {drawn.From} and {Math.Max(0, drawn.LengthMm - mm):0} mm from {drawn.To}")
        : string.Create(CultureInfo.InvariantCulture, $"some {mm:0} mm along");
}
