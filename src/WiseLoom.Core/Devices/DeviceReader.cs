using System.Collections.Immutable;
using System.Text.Json;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Devices;

/// <summary>Reads what a device is electrically from its entry in a loom file. Defaults are those that docs/formats lists.</summary>
internal static class DeviceReader
{
    /// <summary>Every kind that a loom file may name.</summary>
    public static ImmutableArray<string> Kinds { get; } =
    [
        "resistor", "ntc", "pot", "switch", "relay", "diode", "fuse", "battery", "key", "transducer", "controller", "motor", "cable",
    ];

    /// <summary>What each use of a plain resistance does when it works.</summary>
    private static readonly Dictionary<string, string> Verbs = new(StringComparer.Ordinal)
    {
        ["injector"] = "fires", ["coil"] = "fires", ["lamp"] = "lights", ["heater"] = "heats", ["solenoid"] = "pulls", ["valve"] = "moves", ["siren"] = "sounds",
        ["sensor"] = "", ["resistor"] = "",
    };

    /// <summary>Checks the fields of one device and reads its model.</summary>
    /// <param name="pins">Names of its pins.</param>
    /// <returns>Null when a field that it needs is missing or wrong; the place has then been told.</returns>
    internal static DeviceModel? Read(JsonPlace place, string kind, IReadOnlyCollection<string> pins, double supplyVolts) => kind switch
    {
        "resistor" => Resistor(place),
        "motor" => Motor(place),
        "ntc" => Ntc(place),
        "pot" => Pot(place),
        "switch" => place.Text("closedWhen", required: true) is { } when
            ? new SwitchModel(when, place.Range("closedMilliohm", 0.001, "milliohms") ?? OhmRange.Exactly(0.01)) : null,
        "relay" => Relay(place, pins, supplyVolts),
        "diode" => new DiodeModel(
            place.Number("saturationAmps", 1e-20, 1, unit: "amperes") ?? DiodeModel.Usual.SaturationAmps,
            place.Number("ideality", 0.5, 10) ?? DiodeModel.Usual.Ideality,
            place.Number("seriesOhm", 0, 1e6, unit: "ohms") ?? DiodeModel.Usual.SeriesOhms),
        "fuse" => place.Number("amps", 0.001, 10_000, required: true, unit: "amperes") is { } amps
            ? new FuseModel(amps, place.Range("milliohm", 0.001, "milliohms") ?? OhmRange.Exactly(0.075 / amps)) : null,
        "battery" => Battery(place),
        "key" => Key(place),
        "transducer" => Transducer(place),
        "controller" => ControllerReader.Read(place, pins, supplyVolts),
        "cable" => Cable(place, pins),
        _ => null,
    };

    private static readonly string[] ScaleFields = ["lowVolts", "lowUnits", "highVolts", "highUnits"];

    private static LoadModel? Resistor(JsonPlace place)
    {
        var cold = place.Range("ohmCold", 1, "ohms") ?? place.Range("ohm", 1, "ohms", required: !place.Has("ohmCold"));
        var hot = place.Range("ohmHot", 1, "ohms");
        var use = place.Text("use", longest: 40) ?? (place.Has("ohmCold") ? "lamp" : "");
        var from = place.Number("worksFromVolts", 0, 1000, unit: "volts");
        if (use.Length > 0 && !Verbs.ContainsKey(use))
        {
            place.Wrong("use", $"'{use}' is not known here; write one of {string.Join(", ", Verbs.Keys)}.");
        }

        return cold is { } rest ? new LoadModel(rest, hot ?? rest, Verbs.GetValueOrDefault(use, "works"), from) : null;
    }

    private static LoadModel Motor(JsonPlace place)
    {
        var standing = place.Range("ohm", 1, "ohms") ?? OhmRange.Exactly(1);
        return new(standing, place.Range("ohmRunning", 1, "ohms") ?? standing, "runs", place.Number("worksFromVolts", 0, 1000, unit: "volts"));
    }

    private static NtcModel? Ntc(JsonPlace place)
    {
        var points = ImmutableArray.CreateBuilder<NtcPoint>();
        var items = place.Items("points").ToList();
        if (items.Count < 3)
        {
            place.Wrong("points", "An NTC needs at least three [celsius, ohm] pairs.");
            return null;
        }

        foreach (var (value, at) in items)
        {
            if (value.ValueKind != JsonValueKind.Array || value.GetArrayLength() != 2)
            {
                place.Wrong("points", $"{at}: a pair [celsius, ohm] is needed.");
                continue;
            }

            if (place.NumberOf(value[0], $"{at}/0", -273.15, 2000, "degrees Celsius") is { } celsius && place.NumberOf(value[1], $"{at}/1", 1e-6, 1e12, "ohms") is { } ohms)
            {
                points.Add(new(celsius, ohms));
            }
        }

        return points.Count == items.Count ? new NtcModel(points.ToImmutable()) : null;
    }

    private static PotModel Pot(JsonPlace place)
    {
        var ohm = place.Range("ohm", 1, "ohms") ?? OhmRange.Exactly(5000);
        var wiper = place.Range("wiper", 1, "shares of the track") ?? new OhmRange(0, 0.5, 1);
        if (wiper.Max > 1)
        {
            place.Wrong("wiper", "A share of the track lies between 0 and 1.");
            wiper = new OhmRange(0, 0.5, 1);
        }

        return new(ohm, wiper.Min, wiper.Nominal, wiper.Max);
    }

    private static RelayModel Relay(JsonPlace place, IReadOnlyCollection<string> pins, double supplyVolts)
    {
        var pullIn = place.Number("pullInVolts", 0, 1000, unit: "volts") ?? 0.6 * supplyVolts;
        var dropOut = place.Number("dropOutVolts", 0, 1000, unit: "volts") ?? 0.1 * supplyVolts;
        if (dropOut > pullIn)
        {
            place.Wrong("dropOutVolts", "A relay lets go at a lower voltage than it pulls in at: dropOutVolts is at most pullInVolts.");
        }

        var contacts = ImmutableArray.CreateBuilder<RelayContact>();
        foreach (var contact in place.Objects("contacts"))
        {
            string? Pin(string field)
            {
                var name = contact.Text(field);
                if (name is not null && !pins.Contains(name))
                {
                    contact.Wrong(field, $"'{name}' is no pin of this relay; its pins are {string.Join(", ", pins)}.");
                    return null;
                }

                return name;
            }

            if (Pin("common") is { } common)
            {
                contacts.Add(new(common, Pin("working"), Pin("resting")));
            }
            else if (!contact.Has("common"))
            {
                contact.Wrong("common", "Missing. The pin that a contact starts from is needed here.");
            }
        }

        var coil = place.Range("coilOhm", 1, "ohms") ?? OhmRange.Exactly(90);
        if (coil.Min <= 0)
        {
            place.Wrong("coilOhm", "A coil has more than 0 Ω.");
        }

        return new(
            coil, pullIn, dropOut, place.Range("contactMilliohm", 0.001, "milliohms") ?? OhmRange.Exactly(0.02),
            contacts.Count > 0 ? contacts.ToImmutable() : [new("contact in", "contact out", "contact rest")],
            place.Flag("coilDiode") ?? false, place.Range("coilResistorOhm", 1, "ohms"));
    }

    private static BatteryModel? Battery(JsonPlace place)
    {
        var volts = place.Number("volts", 0, 1000, required: true, unit: "volts");
        var start = place.Number("startVolts", 0, 1000, unit: "volts");
        var running = place.Number("runningVolts", 0, 1000, unit: "volts");
        var ohm = place.Range("milliohm", 0.001, "milliohms") ?? OhmRange.Exactly(0.01);
        return volts is { } v ? new(v, start ?? v, running ?? v, ohm) : null;
    }

    private static KeyModel Key(JsonPlace place)
    {
        var joins = ImmutableSortedDictionary.CreateBuilder<KeyPosition, ImmutableArray<ImmutableArray<string>>>();
        foreach (var (name, value, at) in place.Fields("joins"))
        {
            if (KeyPositions.Find(name) is not { } position)
            {
                place.Wrong("joins", $"'{name}' is no key position; write off, accessory, on, start or running.");
            }
            else
            {
                joins[position] = Groups(place, value, at);
            }
        }

        if (!joins.ContainsKey(KeyPosition.Running) && joins.TryGetValue(KeyPosition.On, out var on))
        {
            joins[KeyPosition.Running] = on;
        }

        return new(joins.ToImmutable(), place.Range("contactMilliohm", 0.001, "milliohms") ?? OhmRange.Exactly(0.01));
    }

    private static TransducerModel Transducer(JsonPlace place)
    {
        var reference = place.Number("referenceVolts", 0.1, 100, unit: "volts") ?? 5;
        TransducerScale? scale = null;
        if (place.Object("scale") is { } line)
        {
            var values = ScaleFields.Select(f => line.Number(f, -1e9, 1e9, required: true)).ToList();
            var unit = line.Text("unit", required: true, longest: 20);
            if (values.All(v => v is not null) && unit is not null)
            {
                scale = new(values[0]!.Value, values[1]!.Value, values[2]!.Value, values[3]!.Value, unit);
                if (Math.Abs(scale.HighVolts - scale.LowVolts) < 1e-9 || Math.Abs(scale.HighUnits - scale.LowUnits) < 1e-12)
                {
                    line.Wrong("highVolts", "The two points of the line must differ in volts and in units.");
                    scale = null;
                }
            }
        }

        return new(
            place.Range("supplyOhm", 1, "ohms") ?? OhmRange.Exactly(1000),
            place.Range("outputOhm", 1, "ohms") ?? OhmRange.Exactly(100),
            reference,
            place.Number("restVolts", 0, 100, unit: "volts") ?? scale?.LowVolts ?? 0.1 * reference,
            scale);
    }

    private static CableModel Cable(JsonPlace place, IReadOnlyCollection<string> pins)
    {
        var joins = place.Has("joins")
            ? [.. place.Items("joins").Select(x => Names(place, x.Value, x.At)).Where(g => !g.IsEmpty)]
            : ImmutableArray.Create(pins.ToImmutableArray());
        foreach (var name in joins.SelectMany(g => g).Where(n => !pins.Contains(n)).Distinct())
        {
            place.Wrong("joins", $"'{name}' is no pin of this device; its pins are {string.Join(", ", pins)}.");
        }

        return new(joins, place.Flag("toCase") ?? false, place.Range("milliohm", 0.001, "milliohms") ?? OhmRange.Exactly(0.001));
    }

    /// <summary>Groups of names: a list of lists, or one list for a single group.</summary>
    private static ImmutableArray<ImmutableArray<string>> Groups(JsonPlace place, JsonElement value, string at)
    {
        if (value.ValueKind == JsonValueKind.Array && value.EnumerateArray().All(e => e.ValueKind == JsonValueKind.Array))
        {
            return [.. value.EnumerateArray().Select((group, i) => Names(place, group, $"{at}/{i}"))];
        }

        return [Names(place, value, at)];
    }

    private static ImmutableArray<string> Names(JsonPlace place, JsonElement value, string at)
    {
        if (value.ValueKind == JsonValueKind.Array && value.EnumerateArray().All(e => e.ValueKind == JsonValueKind.String))
        {
            return [.. value.EnumerateArray().Select(e => e.GetString()!).Distinct(StringComparer.Ordinal)];
        }

        place.WrongAt(at, "A list of names of pins is needed, such as [\"B\", \"IGN\"].");
        return [];
    }
}
