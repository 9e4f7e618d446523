using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Sightings;

/// <summary>What a device measures by itself, unplugged, between the two pins that its drawing gives a resistance.</summary>
/// <param name="Device">Its ref.</param>
/// <param name="Ohm">Ohms; null for over range.</param>
public sealed record DeviceAlone(string Device, double? Ohm) : Sighting
{
    /// <inheritdoc/>
    public override string InWords() => $"the device {Device} by itself measures {(Ohm is { } ohm ? Say.Ohms(ohm) : "over range")}";

    /// <inheritdoc/>
    public override string Subject() => $"device {Device}";

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Loom loom) =>
        (loom.Devices.Any(d => d.Ref == Device) ? [] : new[] { new Problem("/device", $"This loom has no device '{Device}'.") }).Concat(Ohm is { } ohm ? Outside(ohm, -1, 1e12, "/ohm", "Ω") : []);

    internal override IEnumerable<ProbePoint> Begins(Loom loom) => loom.Devices.Where(d => d.Ref == Device).SelectMany(d => d.Pins.Values);

    internal override double LogLikelihood(SuspectLoom of) => of.LogOf(Ohm, of.DeviceAlone(Device));

    internal override bool Fits(SuspectLoom of) => of.IsNear(Ohm, of.DeviceAlone(Device));

    internal override string Expected(SuspectLoom of) => Said(of.DeviceAlone(Device));
}
