namespace WiseLoom.Core.Devices;

/// <summary>A source of power.</summary>
/// <param name="StartVolts">Its voltage while the starter turns.</param>
/// <param name="RunningVolts">Its voltage while the engine charges it.</param>
/// <param name="Ohm">What lies in series with it; may be 0.</param>
public sealed record BatteryModel(double Volts, double StartVolts, double RunningVolts, OhmRange Ohm) : DeviceModel;

/// <summary>Batteries.</summary>
internal static class BatteryKind
{
    /// <summary>The kind in files.</summary>
    internal static DeviceKind Kind { get; } = new("battery", true, e => Read(e.Place),
        ["+", "plus", "positive", "1"], ["-", "−", "minus", "negative", "2"]);

    private static BatteryModel? Read(JsonPlace place)
    {
        var volts = place.Number("volts", 0, 1000, required: true, unit: "volts");
        var start = place.Number("startVolts", 0, 1000, unit: "volts");
        var running = place.Number("runningVolts", 0, 1000, unit: "volts");
        var ohm = place.Range("milliohm", 0.001, "milliohms") ?? OhmRange.Exactly(0.01);
        return volts is { } v ? new(v, start ?? v, running ?? v, ohm) : null;
    }
}
