namespace WiseLoom.Core.Devices;

/// <summary>A sensor on three wires that puts out a share of its supply.</summary>
/// <param name="Supply">What lies between its supply and ground pins.</param>
/// <param name="Output">What lies in series with its signal.</param>
/// <param name="ReferenceVolts">Supply at which the two voltages hold.</param>
/// <param name="RestVolts">Signal with the engine at rest.</param>
/// <param name="Scale">Volts to units; null when the file does not say.</param>
public sealed record TransducerModel(OhmRange Supply, OhmRange Output, double ReferenceVolts, double RestVolts, TransducerScale? Scale) : DeviceModel
{
    /// <inheritdoc/>
    internal override DeviceModel AtCorner(Corner corner) => this with { Supply = OhmRange.Exactly(Supply.At(corner)), Output = OhmRange.Exactly(Output.At(corner)) };

    /// <inheritdoc/>
    internal override IEnumerable<RestingPart> AtRest(RestingState at) => [new("5V", "ground", Supply), new("signal", "ground", Output)];
}

/// <summary>Units of a transducer by two points of its line.</summary>
/// <param name="Unit">The unit's sign, such as <c>kPa</c>.</param>
public sealed record TransducerScale(double LowVolts, double LowUnits, double HighVolts, double HighUnits, string Unit)
{
    private const double Most = 1e9;

    /// <summary>What of it cannot be; null when it can. The two points must differ in volts and in units.</summary>
    public Problem? Wrong() =>
        new[] { LowVolts, LowUnits, HighVolts, HighUnits }.Any(v => !(Math.Abs(v) <= Most)) ? new("/scale", "The volts and units of a line lie between -1,000,000,000 and 1,000,000,000.")
        : Math.Abs(HighVolts - LowVolts) < 1e-9 || Math.Abs(HighUnits - LowUnits) < 1e-12 ? new("/scale/highVolts", "The two points of the line must differ in volts and in units.")
        : null;

    /// <summary>The quantity for a voltage; beyond the two points the line goes on.</summary>
    public double UnitsAt(double volts) => LowUnits + ((volts - LowVolts) / (HighVolts - LowVolts) * (HighUnits - LowUnits));

    /// <summary>The voltage for a quantity.</summary>
    public double VoltsAt(double units) => LowVolts + ((units - LowUnits) / (HighUnits - LowUnits) * (HighVolts - LowVolts));
}

/// <summary>Sensors on three wires.</summary>
internal static class TransducerKind
{
    /// <summary>The kind in files.</summary>
    internal static DeviceKind Kind { get; } = new("transducer", false, e => Read(e.Place),
        ["5V", "supply", "+", "vref", "reference", "1", "a"], ["ground", "gnd", "-", "2", "b"], ["signal", "sig", "output", "out", "3", "c"]);

    private static readonly string[] ScaleFields = ["lowVolts", "lowUnits", "highVolts", "highUnits"];

    private static TransducerModel Read(JsonPlace place)
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
                if (scale.Wrong() is { } wrong)
                {
                    line.Wrong("highVolts", wrong.Message);
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
}
