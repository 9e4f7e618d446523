namespace WiseLoom.Core.Devices;

/// <summary>A fuse.</summary>
/// <param name="Amps">What it is rated for.</param>
public sealed record FuseModel(double Amps, OhmRange Ohm) : DeviceModel
{
    /// <inheritdoc/>
    internal override DeviceModel Measuring(double ohm) => this with { Ohm = OhmRange.Exactly(ohm) };

    /// <inheritdoc/>
    internal override DeviceModel AtCorner(Corner corner) => this with { Ohm = OhmRange.Exactly(Ohm.At(corner)) };

    /// <inheritdoc/>
    internal override IEnumerable<RestingPart> AtRest(RestingState at) => [new("1", "2", Ohm)];
}

/// <summary>Fuses.</summary>
internal static class FuseKind
{
    /// <summary>The kind in files.</summary>
    internal static DeviceKind Kind { get; } = new("fuse", true, e => Read(e.Place));

    private static FuseModel? Read(JsonPlace place) => place.Number("amps", 0.001, 10_000, required: true, unit: "amperes") is { } amps
        ? new(amps, place.Range("milliohm", 0.001, "milliohms") ?? OhmRange.Exactly(0.075 / amps))
        : null;
}
