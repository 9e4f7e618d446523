using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>Metal joins two cavities that should be apart.</summary>
/// <param name="A">Cavity such as <c>ECU:17</c>.</param>
/// <param name="B">The other cavity.</param>
/// <param name="Ohm">The bridge, ohms; 0 or more.</param>
public sealed record ShortFault(string A, string B, double Ohm) : Fault
{
    /// <inheritdoc/>
    public override string Title(Loom loom) => $"{A} and {B} touch";

    /// <inheritdoc/>
    public override string Why(Loom loom) => $"metal between {A} and {B} would read so. Look for a stray strand or crushed insulation.";

    /// <inheritdoc/>
    public override IEnumerable<string> Places(Loom loom) => [A, B];

    /// <inheritdoc/>
    public override string UsualFix() => "insulation made good";

    /// <inheritdoc/>
    internal override void ApplyTo(BuiltLoom built) => built.Bridge(A, B, Ohm);
}
