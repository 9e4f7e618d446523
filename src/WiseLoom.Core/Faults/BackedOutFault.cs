using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>A contact stands back or is spread, and does not meet the pin of what its connector is plugged into. It does not show on a bare loom.</summary>
/// <param name="Connector">Its ref.</param>
/// <param name="Cavity">The cavity.</param>
public sealed record BackedOutFault(string Connector, string Cavity) : Fault
{
    private ProbePoint Point => new(Connector, Cavity);

    /// <inheritdoc/>
    public override string Title(Loom loom) => $"The contact of {Point} does not meet its pin";

    /// <inheritdoc/>
    public override string Why(Loom loom) => $"with a contact in {Point} that stands back or is spread nothing passes there once it is plugged in, however well it reads bare. Pull at the wire, look at the contact's height, and try a loose pin in it.";

    /// <inheritdoc/>
    public override string UsualFix() => "re-pin";

    /// <inheritdoc/>
    public override IEnumerable<string> Places(Loom loom) => loom?.HasPlace(Point.ToString()) == true ? [Point.ToString()] : [];

    /// <inheritdoc/>
    internal override void ApplyTo(BuiltLoom built)
    {
        foreach (var device in built.Drawn.DevicesOn(Connector))
        {
            built.Refit(device.Ref, d =>
            {
                var apart = d.Pins.Where(p => p.Value == Point).Select(p => p.Key).ToList();
                return d with { Pins = d.Pins.RemoveRange(apart), Inner = d.Inner.SetItems(apart.Select(p => KeyValuePair.Create(p, $"{Device.InnerSign}apart {d.Ref} {p}"))) };
            });
        }
    }
}
