using WiseLoom.Core.Devices;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Sightings;

/// <summary>Which way round the signal of a coil with two wires came, as a log of its edges tells.</summary>
/// <param name="Device">Ref of a device with an inductive trigger.</param>
/// <param name="Reversed">Whether it came the other way round.</param>
public sealed record PolaritySeen(string Device, bool Reversed) : Sighting
{
    private const double Right = 0.97, Wrong = 1e-5;

    /// <inheritdoc/>
    public override string InWords() => $"the signal of {Device} comes {(Reversed ? "the other way round" : "the right way round")}";

    /// <inheritdoc/>
    public override string Subject() => $"polarity {Device}";

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Loom loom) =>
        loom.Devices.Any(d => d.Ref == Device && d.Trigger is { Kind: TriggerKind.Inductive } && d.Pins.Count >= 2) ? [] : [new("/device", $"This loom has no inductive trigger '{Device}'.")];

    internal override IEnumerable<ProbePoint> Begins(Loom loom) => loom.Devices.Where(d => d.Ref == Device).SelectMany(d => d.Pins.Values);

    internal override double LogLikelihood(SuspectLoom of) => Math.Log(of.IsReversed(Device) == Reversed ? Right : Wrong);

    internal override bool Fits(SuspectLoom of) => of.IsReversed(Device) == Reversed;

    internal override string Expected(SuspectLoom of) => of.IsReversed(Device) switch { true => "it the other way round", false => "it the right way round", null => "no signal" };
}
