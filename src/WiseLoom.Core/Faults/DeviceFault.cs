using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>A device is not as drawn. It does not show on a bare loom.</summary>
/// <param name="Device">Ref of the device.</param>
/// <param name="Ohm">What it measures, ohms; null when nothing joins its pins.</param>
public sealed record DeviceFault(string Device, double? Ohm = null) : Fault
{
    /// <inheritdoc/>
    public override string Title(Loom loom) => Ohm is { } ohm ? $"{Named(loom)} measures {Say.Ohms(ohm)}" : $"{Named(loom)} does nothing, or its plug is off";

    /// <inheritdoc/>
    public override string Why(Loom loom) => $"with {Named(loom)} {(Ohm is { } ohm ? $"at {Say.Ohms(ohm)}" : "dead, or unplugged,")} it would show so. Measure it by itself.";

    private string Named(Loom loom) => loom.Devices.FirstOrDefault(d => d.Ref == Device)?.Title ?? Device;

    /// <inheritdoc/>
    public override string UsualFix() => "other";

    /// <inheritdoc/>
    public override IEnumerable<string> Places(Loom loom) => loom.Devices.Where(d => d.Ref == Device).SelectMany(d => d.Pins.Values).Select(p => p.ToString());

    /// <inheritdoc/>
    internal override void ApplyTo(BuiltLoom built) => built.Refit(Device, d => Ohm is { } ohm ? d with { Model = d.Model?.Measuring(ohm) } : null);
}
