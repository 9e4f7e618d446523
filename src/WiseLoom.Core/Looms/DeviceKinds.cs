using System.Collections.Immutable;
using System.Text.Json;

namespace WiseLoom.Core.Looms;

/// <summary>The kinds of device a connector can plug into, and the fields each one needs.</summary>
public static class DeviceKinds
{
    /// <summary>Every kind that a loom file may name.</summary>
    public static ImmutableArray<string> All { get; } =
    [
        "resistor", "ntc", "pot", "switch", "relay", "diode", "fuse", "battery", "key", "transducer", "controller", "motor", "cable",
    ];

    /// <summary>Checks the fields of one device; unknown fields are left alone.</summary>
    /// <returns>What it measures cold, when it is a plain resistance.</returns>
    internal static OhmRange? ReadFields(JsonPlace place, string kind)
    {
        OhmRange? ohm = null;
        switch (kind)
        {
            case "resistor":
                ohm = place.Range("ohmCold", 1, "ohms") ?? place.Range("ohm", 1, "ohms", required: !place.Has("ohmCold"));
                place.Range("ohmHot", 1, "ohms");
                break;
            case "motor" or "pot":
                ohm = place.Range("ohm", 1, "ohms");
                break;
            case "ntc":
                ReadPoints(place);
                break;
            case "switch":
                place.Text("closedWhen", required: true);
                break;
            case "relay":
                ohm = place.Range("coilOhm", 1, "ohms");
                place.Number("pullInVolts", 0, 1000, unit: "volts");
                place.Number("dropOutVolts", 0, 1000, unit: "volts");
                break;
            case "fuse":
                place.Number("amps", 0.001, 10_000, required: true, unit: "amperes");
                ohm = place.Range("milliohm", 0.001, "milliohms");
                break;
            case "battery":
                place.Number("volts", 0, 1000, required: true, unit: "volts");
                place.Range("milliohm", 0.001, "milliohms");
                break;
        }

        return ohm;
    }

    private static void ReadPoints(JsonPlace place)
    {
        var points = place.Items("points").ToList();
        if (points.Count < 3)
        {
            place.Wrong("points", "An NTC needs at least three [celsius, ohm] pairs.");
            return;
        }

        foreach (var (value, at) in points)
        {
            if (value.ValueKind != JsonValueKind.Array || value.GetArrayLength() != 2)
            {
                place.Wrong($"points", $"{at}: a pair [celsius, ohm] is needed.");
                continue;
            }

            place.NumberOf(value[0], $"{at}/0", -273.15, 2000, "degrees Celsius");
            place.NumberOf(value[1], $"{at}/1", 1e-6, 1e12, "ohms");
        }
    }
}
