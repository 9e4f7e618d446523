using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>A wire opens while it is moved; at rest it reads as drawn.</summary>
/// <inheritdoc cref="WireFault"/>
public sealed record IntermittentFault(string Wire, string? End = null) : WireFault(Wire, End)
{
    /// <inheritdoc/>
    public override string Title(Loom loom) => $"{Named(loom)} opens while it is moved";

    /// <inheritdoc/>
    public override string Why(Loom loom) => $"{Named(loom)} opens while it is moved. Look for a strand that broke at a crimp.";

    private protected override void Change(BuiltWire wire)
    {
        // At rest it conducts.
    }
}
