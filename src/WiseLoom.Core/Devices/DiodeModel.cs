namespace WiseLoom.Core.Devices;

/// <summary>A diode by Shockley's law: I = Is·(exp((V − I·Rs)/(n·25.85 mV)) − 1).</summary>
/// <param name="SaturationAmps">Is, amperes.</param>
/// <param name="Ideality">n.</param>
/// <param name="SeriesOhms">Rs.</param>
public sealed record DiodeModel(double SaturationAmps, double Ideality, double SeriesOhms) : DeviceModel
{
    /// <summary>A small silicon rectifier: 1 pA saturation current, emission coefficient 1.8, 50 mΩ in series.</summary>
    public static DiodeModel Usual { get; } = new(1e-12, 1.8, 0.05);

    /// <inheritdoc/>
    internal override DeviceModel Measuring(double ohm) => LoadModel.Plain(ohm, "anode", "cathode");

    /// <inheritdoc/>
    internal override IEnumerable<RestingPart> AtRest(RestingState at) => [new("anode", "cathode", default, this)];
}

/// <summary>Diodes.</summary>
internal static class DiodeKind
{
    /// <summary>The kind in files.</summary>
    internal static DeviceKind Kind { get; } = new("diode", true, e => Read(e.Place),
        ["anode", "a", "+", "1"], ["cathode", "k", "c", "-", "2"]);

    private static DiodeModel Read(JsonPlace place) => new(
        place.Number("saturationAmps", 1e-20, 1, unit: "amperes") ?? DiodeModel.Usual.SaturationAmps,
        place.Number("ideality", 0.5, 10) ?? DiodeModel.Usual.Ideality,
        place.Number("seriesOhm", 0, 1e6, unit: "ohms") ?? DiodeModel.Usual.SeriesOhms);
}
