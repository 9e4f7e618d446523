namespace WiseLoom.Core.Devices;

/// <summary>A contact that a named condition closes.</summary>
/// <param name="Closed">What it measures closed.</param>
public sealed record SwitchModel(string ClosedWhen, OhmRange Closed) : DeviceModel
{
    /// <summary>Whether its condition holds with the engine standing still and nobody's hand on anything.</summary>
    public bool HoldsAtRest { get; init; }

    /// <summary>Whether it holds while the engine runs.</summary>
    public bool HoldsRunning { get; init; }

    /// <inheritdoc/>
    internal override DeviceModel AtCorner(Corner corner) => this with { Closed = OhmRange.Exactly(Closed.At(corner)) };

    /// <inheritdoc/>
    internal override DeviceModel Measuring(double ohm) => LoadModel.Plain(ohm);

    /// <inheritdoc/>
    internal override IEnumerable<RestingPart> AtRest(RestingState at) => at.Conditions.Contains(ClosedWhen) ? [new("1", "2", Closed)] : [];
}

/// <summary>Switches.</summary>
internal static class SwitchKind
{
    /// <summary>The kind in files.</summary>
    internal static DeviceKind Kind { get; } = new("switch", true, e => Read(e.Place));

    private static SwitchModel? Read(JsonPlace place) => place.Text("closedWhen", required: true) is { } when
        ? new(when, place.Range("closedMilliohm", 0.001, "milliohms") ?? OhmRange.Exactly(0.01)) { HoldsAtRest = place.Flag("atRest") ?? false, HoldsRunning = place.Flag("running") ?? place.Flag("atRest") ?? false }
        : null;
}
