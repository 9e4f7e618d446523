using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Electrical;

/// <summary>What a device puts between two nodes while nothing has power: a resistance, or a diode.</summary>
/// <param name="From">Name of a node; of the anode for a diode.</param>
/// <param name="Ohm">Limits; meaningless for a diode.</param>
/// <param name="Diode">Null for a resistance.</param>
/// <param name="Label">Ref of the device.</param>
internal sealed record FittedPart(string From, string To, OhmRange Ohm, DiodeModel? Diode, string Label);

/// <summary>A loom's devices as a meter of resistance finds them: plugged in, without power.</summary>
internal static class FittedParts
{
    /// <summary>All parts of all devices but those that <paramref name="without"/> names.</summary>
    internal static IEnumerable<FittedPart> Of(Loom loom, RestingState at, IReadOnlySet<string> without) =>
        loom.Devices.Where(d => d.Model is not null && !without.Contains(d.Ref)).SelectMany(d => d.Model!.AtRest(at).Select(p => Placed(loom, d, p)).OfType<FittedPart>());

    private static FittedPart? Placed(Loom loom, Device device, RestingPart part)
    {
        // A pin in a cavity without a wire leads nowhere that a probe could touch; a ring can be touched, and a strap may be all that leads to it.
        bool IsTouched(ProbePoint point) => loom.WiresAt(point).Any() || loom.FindConnector(point.Connector)?.Family.Kind == HousingKind.Ring;
        string Pin(string role) => device.Joint(role) is { } joint && (!ProbePoint.TryParse(joint, out var point) || IsTouched(point)) ? joint : $"{device.Ref}#{role}";
        if (part.NeedsBoth && (device.Joint(part.From) is null || (part.Middle is null && device.Joint(part.To) is null)))
        {
            return null;
        }

        var to = part.Middle switch
        {
            RestingState.Case => RestingState.Case,
            { } middle => $"{device.Ref}{middle}",
            null => device.Joint(part.To) is null ? RestingState.Case : Pin(part.To),
        };
        return new(Pin(part.From), to, part.Ohm, part.Diode, device.Ref);
    }
}
