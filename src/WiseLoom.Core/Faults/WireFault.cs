using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>A fault of one wire.</summary>
/// <param name="Wire">Id of the wire.</param>
/// <param name="End"><c>from</c> or <c>to</c>; null when it may be anywhere along the wire.</param>
public abstract record WireFault(string Wire, string? End) : Fault
{
    /// <summary>The wire with its ends: <c>W12 (ECU:17 to INJ1:1)</c>; the bare id when the loom has none of that name.</summary>
    protected string Named(Loom loom) => Drawn(loom) is { } wire ? $"{wire.Id} ({wire.From} to {wire.To})" : Wire;

    /// <inheritdoc/>
    public override IEnumerable<string> Places(Loom loom)
    {
        if (Drawn(loom) is not { } wire)
        {
            return [];
        }

        return End switch { "from" => [wire.Id, wire.From.Text], "to" => [wire.Id, wire.To.Text], _ => [wire.Id, wire.From.Text, wire.To.Text] };
    }

    /// <inheritdoc/>
    internal override void ApplyTo(BuiltLoom built)
    {
        if (built.Wire(Wire) is { } wire)
        {
            Change(wire);
        }
    }

    /// <summary>What becomes of the wire; nothing when it does not show on a loom at rest.</summary>
    private protected abstract void Change(BuiltWire wire);

    private Wire? Drawn(Loom loom) => loom.FindWire(Wire);
}
