using System.Collections.Immutable;

namespace WiseLoom.Core.Devices;

/// <summary>A kind of device: what a file calls it and its pins, and how its entry is read.</summary>
/// <param name="Name">In files.</param>
/// <param name="TwoTerminals">Whether the rules use two pins of it and no more.</param>
/// <param name="Read">Checks the fields of one device and reads its model; null when a field that it needs is missing or wrong, and the place has then been told.</param>
/// <param name="Pins">For each pin the names by which a file may call it, the one that the rules use first; empty for a kind whose pins have no names of their own.</param>
internal sealed record DeviceKind(string Name, bool TwoTerminals, Func<DeviceEntry, DeviceModel?> Read, params ImmutableArray<ImmutableArray<string>> Pins)
{
    /// <summary>Roles of the two terminals of a device that has two.</summary>
    internal (string First, string Second) Terminals => Pins.Length >= 2 && TwoTerminals ? (Pins[0][0], Pins[1][0]) : ("1", "2");

    /// <summary>Names of pins that the rules would not know what to do with.</summary>
    internal IEnumerable<string> Strangers(IEnumerable<string> names, DeviceModel model) => Pins.IsEmpty
        ? []
        : Roles(names).Where(r => r.Key == r.Value && !Pins.Any(p => p[0] == r.Key)).Select(r => r.Value).Except(model.OwnPins, StringComparer.Ordinal);

    /// <summary>The pins of a device by the names that the rules use; a pin with a name of its own keeps it.</summary>
    /// <returns>For a device with two terminals and no names of that kind, its first two pins as <c>1</c> and <c>2</c>.</returns>
    internal ImmutableSortedDictionary<string, string> Roles(IEnumerable<string> names)
    {
        var all = names.Order(NaturalOrder.Comparer).ToList();
        if (Pins.IsEmpty && TwoTerminals)
        {
            return all.Take(2).Select((name, i) => (name, i)).ToImmutableSortedDictionary(x => x.i == 0 ? "1" : "2", x => x.name, StringComparer.Ordinal);
        }

        var found = ImmutableSortedDictionary.CreateBuilder<string, string>(StringComparer.Ordinal);
        foreach (var role in Pins)
        {
            // The first of the known names that the file has, in the order they are listed here: "+" before "1".
            foreach (var name in role)
            {
                if (all.Find(n => string.Equals(n, name, StringComparison.OrdinalIgnoreCase) && !found.ContainsValue(n)) is { } pin)
                {
                    found.TryAdd(role[0], pin);
                    break;
                }
            }
        }

        foreach (var name in all.Where(n => !found.ContainsValue(n)))
        {
            found.TryAdd(name, name);
        }

        return found.ToImmutable();
    }
}

/// <summary>One device of a file as its kind reads it.</summary>
/// <param name="Pins">Names of its pins.</param>
/// <param name="SupplyVolts">Of the loom.</param>
internal readonly record struct DeviceEntry(JsonPlace Place, IReadOnlyCollection<string> Pins, double SupplyVolts);

/// <summary>Every kind of device that a loom file may name. A new kind is a file like theirs, a line here, and its part in the circuits of states.</summary>
public static class DeviceKinds
{
    internal static readonly ImmutableArray<DeviceKind> All =
    [
        LoadKinds.Resistor, NtcKind.Kind, PotKind.Kind, SwitchKind.Kind, RelayKind.Kind, DiodeKind.Kind, FuseKind.Kind, BatteryKind.Kind, KeyKind.Kind, TransducerKind.Kind,
        ControllerReader.Kind, LoadKinds.Motor, CableKind.Kind,
    ];

    /// <summary>Their names in files.</summary>
    public static ImmutableArray<string> Names { get; } = [.. All.Select(k => k.Name)];

    /// <summary>A kind by its name; null when there is none.</summary>
    internal static DeviceKind? Find(string? name) => All.FirstOrDefault(k => k.Name == name);
}
