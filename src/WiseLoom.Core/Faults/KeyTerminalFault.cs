using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>A feed sits on a terminal of the key that drops while the engine cranks: the one for accessories. It shows only at start.</summary>
/// <param name="Device">Ref of the key.</param>
/// <param name="Terminal">Which of its pins.</param>
public sealed record KeyTerminalFault(string Device, string Terminal) : Fault
{
    /// <inheritdoc/>
    public override string Title(Loom loom) => $"The feed at {Named(loom)} sits on a terminal that drops at start";

    /// <inheritdoc/>
    public override string Why(Loom loom) => $"with the lead of {Named(loom)} on the terminal for accessories it stands with the key on and drops while the engine cranks. Look at the key, and move the lead to the terminal that stays on.";

    /// <inheritdoc/>
    public override string UsualFix() => "re-pin";

    /// <inheritdoc/>
    public override IEnumerable<string> Places(Loom loom) => loom.Devices.Where(d => d.Ref == Device && d.Pins.ContainsKey(Terminal)).Select(d => d.Pins[Terminal].ToString());

    /// <inheritdoc/>
    internal override void ApplyTo(BuiltLoom built) => built.Refit(Device, d => d.Model is KeyModel key ? d with { Model = key with { Joins = Moved(key.Joins) } } : d);

    private ImmutableSortedDictionary<KeyPosition, ImmutableArray<ImmutableArray<string>>> Moved(ImmutableSortedDictionary<KeyPosition, ImmutableArray<ImmutableArray<string>>> joins)
    {
        if (!joins.TryGetValue(KeyPosition.On, out var on))
        {
            return joins;
        }

        // What the terminal is joined to with the key on it now has in accessory, too; at start it has nothing.
        var groups = on.Where(g => g.Contains(Terminal)).ToImmutableArray();
        var before = joins.GetValueOrDefault(KeyPosition.Accessory, []);
        var start = joins.GetValueOrDefault(KeyPosition.Start, []).Select(g => g.Remove(Terminal)).Where(g => g.Length > 1);
        return joins.SetItem(KeyPosition.Accessory, [.. before, .. groups]).SetItem(KeyPosition.Start, [.. start]);
    }

    private string Named(Loom loom) => loom.Devices.FirstOrDefault(d => d.Ref == Device) is { } key ? $"{key.Title}, {Terminal}" : Device;
}
