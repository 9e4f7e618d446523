using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Devices;

/// <summary>Reads the roles of a controller's pins.</summary>
internal static class ControllerReader
{
    /// <summary>What lies behind a pin when the file does not say, ohms.</summary>
    private const double SupplyOhms = 60, WakeOhms = 10_000, OutputOhms = 0.2, ReferenceOhms = 0.5, PullOhms = 2200, DigitalPullOhms = 10_000;

    private static readonly Dictionary<string, ControllerRole> Roles = new(StringComparer.Ordinal)
    {
        ["supply"] = ControllerRole.Supply, ["ground"] = ControllerRole.Ground, ["wake"] = ControllerRole.Wake,
        ["lowSide"] = ControllerRole.LowSide, ["highSide"] = ControllerRole.HighSide, ["reference5"] = ControllerRole.Reference5,
        ["sensorGround"] = ControllerRole.SensorGround, ["analogIn"] = ControllerRole.AnalogIn, ["digitalIn"] = ControllerRole.DigitalIn,
        ["network"] = ControllerRole.Network,
    };

    private static readonly Dictionary<string, Pull> Pulls = new(StringComparer.Ordinal) { ["up"] = Pull.Up, ["down"] = Pull.Down, ["none"] = Pull.None };

    /// <summary>The kind in files.</summary>
    internal static DeviceKind Kind { get; } = new("controller", false, e => Read(e.Place, e.Pins, e.SupplyVolts));

    private static ControllerModel Read(JsonPlace place, IReadOnlyCollection<string> pins, double supplyVolts)
    {
        var roles = ImmutableSortedDictionary.CreateBuilder<string, ControllerPin>(NaturalOrder.Comparer);
        if (place.Object("roles") is { } all)
        {
            foreach (var (name, _, _) in place.Fields("roles"))
            {
                if (!pins.Contains(name))
                {
                    all.Wrong(name, $"'{name}' is no pin of this controller; a role belongs to one of its pins.");
                }
                else if (all.Object(name) is { } pin)
                {
                    if (ReadPin(pin, name, supplyVolts) is { } read)
                    {
                        roles[name] = read;
                    }
                }
                else
                {
                    all.Wrong(name, "An object with a role is needed here, such as {\"role\": \"ground\"}.");
                }
            }

            foreach (var (name, pin) in roles.Where(r => r.Value.From is { } from && !(roles.TryGetValue(from, out var supply) && supply.Role == ControllerRole.Supply)))
            {
                all.Wrong(name, $"'{pin.From}' is no supply pin of this controller.");
            }
        }
        else if (place.Has("roles"))
        {
            place.Wrong("roles", "An object is needed here: for each pin its role, such as {\"1\": {\"role\": \"supply\"}}.");
        }

        return new(roles.ToImmutable(), place.Number("leastVolts", 0, 1000, unit: "volts") ?? 6)
        {
            FiringOrder = Firing(place, [.. roles.Values.Where(p => p.IsOutput).Select(p => p.Output)]),
            Settings = ControllerSetting.Read(place),
        };
    }

    private static ImmutableArray<string> Firing(JsonPlace place, HashSet<string> outputs)
    {
        var order = ImmutableArray.CreateBuilder<string>();
        foreach (var (value, at) in place.Items("firingOrder"))
        {
            if (value.ValueKind != System.Text.Json.JsonValueKind.String || !outputs.Contains(value.GetString()!))
            {
                place.WrongAt(at, $"The name of an output of this controller is needed here{(outputs.Count == 0 ? "; it has none" : $", such as \"{outputs.Order(NaturalOrder.Comparer).First()}\"")}.");
            }
            else if (order.Contains(value.GetString()!))
            {
                place.WrongAt(at, $"'{value.GetString()}' stands in this order already; each output fires once in it.");
            }
            else
            {
                order.Add(value.GetString()!);
            }
        }

        return order.ToImmutable();
    }

    private static ControllerPin? ReadPin(JsonPlace pin, string name, double supplyVolts)
    {
        if (!pin.Has("role"))
        {
            pin.Wrong("role", $"Missing. Write one of {string.Join(", ", Roles.Keys)}.");
            return null;
        }

        if (pin.Word("role", Roles) is not { } role)
        {
            return null;
        }

        var ohms = pin.Number("ohm", 1e-6, 1e9, unit: "ohms");
        var pull = pin.Word("pull", Pulls) ?? (role == ControllerRole.AnalogIn ? Pull.Up : role == ControllerRole.DigitalIn ? Pull.Up : Pull.None);
        var volts = pin.Number("volts", 0, 1000, unit: "volts") ?? (role == ControllerRole.Reference5 || role == ControllerRole.AnalogIn ? 5 : role == ControllerRole.DigitalIn ? supplyVolts : 0);
        var on = ImmutableArray.CreateBuilder<KeyPosition>();
        foreach (var word in Texts(pin, "onIn"))
        {
            if (KeyPositions.Find(word) is { } position)
            {
                on.Add(position);
            }
            else
            {
                pin.Wrong("onIn", $"'{word}' is no key position; write off, accessory, on, start or running.");
            }
        }

        return new(
            role, ohms ?? Usual(role), volts, pull,
            pin.Text("output", longest: 80) ?? name, on.ToImmutable(), [.. Texts(pin, "onWhen")],
            pin.Flag("pulsed") ?? false, pin.Flag("needed") ?? false, pin.Text("from"), pin.Text("bus", longest: 60) ?? "network")
        {
            Channel = pin.Text("channel", longest: 80),
            Unit = pin.Text("unit", longest: 20) ?? "",
        };
    }

    private static double? Usual(ControllerRole role) => role switch
    {
        ControllerRole.Supply => SupplyOhms,
        ControllerRole.Ground or ControllerRole.SensorGround => 0.005,
        ControllerRole.Wake => WakeOhms,
        ControllerRole.LowSide or ControllerRole.HighSide => OutputOhms,
        ControllerRole.Reference5 => ReferenceOhms,
        ControllerRole.AnalogIn => PullOhms,
        ControllerRole.DigitalIn => DigitalPullOhms,
        _ => null,
    };

    private static List<string> Texts(JsonPlace pin, string field)
    {
        var texts = new List<string>();
        foreach (var (value, at) in pin.Items(field))
        {
            if (value.ValueKind == System.Text.Json.JsonValueKind.String)
            {
                texts.Add(value.GetString()!);
            }
            else
            {
                pin.WrongAt(at, "A text in quotation marks is needed here.");
            }
        }

        return texts;
    }
}
