using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>A device is not as drawn. It does not show on a bare loom.</summary>
/// <param name="Device">Ref of the device.</param>
/// <param name="Ohm">What it measures, ohms; null when nothing joins its pins.</param>
public sealed record DeviceFault(string Device, double? Ohm = null) : Fault
{
    /// <inheritdoc/>
    public override string Title(Loom loom) => $"{Device} is not as drawn";

    /// <inheritdoc/>
    public override string Why(Loom loom) => $"with {Device} not as drawn the reading through it would be off. Measure it by itself.";

    /// <inheritdoc/>
    public override string UsualFix() => "other";

    /// <inheritdoc/>
    public override IEnumerable<string> Places(Loom loom) => loom.Devices.Where(d => d.Ref == Device).SelectMany(d => d.Pins.Values).Select(p => p.ToString());

    /// <inheritdoc/>
    internal override void ApplyTo(BuiltLoom built)
    {
        // The wires are as drawn.
    }
}
