using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>A wire is not there.</summary>
/// <inheritdoc cref="WireFault"/>
public sealed record MissingFault(string Wire) : WireFault(Wire, null)
{
    /// <inheritdoc/>
    public override string Title(Loom loom) => $"{Named(loom)} is missing";

    /// <inheritdoc/>
    public override string Why(Loom loom) => $"without {Named(loom)} nothing joins them. Look whether both cavities are filled.";

    /// <inheritdoc/>
    public override string WhyLive(Loom loom) => $"without {Named(loom)} no current passes there. Look whether both cavities are filled.";

    /// <inheritdoc/>
    public override string UsualFix() => "wire replaced";

    private protected override void Change(BuiltWire wire) => wire.Open = true;
}
