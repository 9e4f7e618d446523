using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>A wire does not conduct.</summary>
/// <inheritdoc cref="WireFault"/>
public sealed record OpenFault(string Wire, string? End = null) : WireFault(Wire, End)
{
    /// <inheritdoc/>
    public override string Title(Loom loom) => $"Open in {Named(loom)}";

    /// <inheritdoc/>
    public override string Why(Loom loom) => $"with {Named(loom)} broken nothing joins them. Look at both contacts first, then at the wire.";

    /// <inheritdoc/>
    public override string WhyLive(Loom loom) => $"with {Named(loom)} broken no current passes there. Look at both contacts first, then at the wire.";

    private protected override void Change(BuiltWire wire) => (wire.Open, wire.OpenEnd) = (true, End);
}
