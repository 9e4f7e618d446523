using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Electrical;

/// <summary>What a device puts between its pins while nothing has power: a resistance, or a diode.</summary>
/// <param name="From">Name of a node; of the anode for a diode.</param>
/// <param name="Ohm">Limits; meaningless for a diode.</param>
/// <param name="Diode">Null for a resistance.</param>
/// <param name="Label">Ref of the device.</param>
internal sealed record FittedPart(string From, string To, OhmRange Ohm, DiodeModel? Diode, string Label);

/// <summary>Where the wipers of all potentiometers stand.</summary>
internal enum WiperSetting
{
    Rest,
    Least,
    Most,
}

/// <summary>A loom's devices as a meter of resistance finds them: plugged in, without power.</summary>
internal static class FittedParts
{
    /// <summary>Name of the engine's metal.</summary>
    internal const string Case = "(case)";

    /// <summary>All parts of all devices. Left out: controllers (one measures from their plugs), batteries (disconnected), keys (off), and what <paramref name="without"/> names.</summary>
    /// <param name="ambientC">Temperature of sensors, degrees Celsius.</param>
    /// <param name="conditions">Conditions that hold, such as "no oil pressure" of an engine at rest.</param>
    internal static IEnumerable<FittedPart> Of(Loom loom, double ambientC, IReadOnlySet<string> conditions, IReadOnlySet<string> without, WiperSetting wiper, double ambientK) =>
        loom.Devices.Where(d => !without.Contains(d.Ref)).SelectMany(d => Of(loom, d, ambientC, conditions, wiper, ambientK));

    private static IEnumerable<FittedPart> Of(Loom loom, Device device, double ambientC, IReadOnlySet<string> conditions, WiperSetting wiper, double ambientK)
    {
        // A pin in a cavity without a wire leads nowhere that a probe could touch.
        string Pin(string role) => device.Joint(role) is { } joint && (!ProbePoint.TryParse(joint, out var point) || loom.WiresAt(point).Any()) ? joint : $"{device.Ref}#{role}";
        string PinOrCase(string role) => device.Joint(role) is null ? Case : Pin(role);
        var (first, second) = device.Kind == "motor" ? ("+", "-") : ("1", "2");
        FittedPart Plain(OhmRange ohm) => new(Pin(first), PinOrCase(second), ohm, null, device.Ref);
        switch (device.Model)
        {
            case LoadModel load:
                yield return Plain(load.AtRest);
                break;
            case NtcModel ntc when ntc.Fit.OhmsAt(ambientC) is var ohms && !double.IsNaN(ohms):
                // The sensor stands somewhere in the same air as the copper: warmer is less, colder is more.
                var (warm, cold) = (ntc.Fit.OhmsAt(ambientC + ambientK), ntc.Fit.OhmsAt(ambientC - ambientK));
                yield return Plain(new(double.IsNaN(warm) ? ohms : warm, ohms, double.IsNaN(cold) ? ohms : cold));
                break;
            case PotModel pot:
                var share = wiper switch { WiperSetting.Least => pot.Least, WiperSetting.Most => pot.Most, _ => pot.Rest };
                yield return new(Pin("1"), Pin("wiper"), pot.Ohm.Scaled(share), null, device.Ref);
                yield return new(Pin("wiper"), PinOrCase("2"), pot.Ohm.Scaled(1 - share), null, device.Ref);
                break;
            case SwitchModel contact when conditions.Contains(contact.ClosedWhen):
                yield return Plain(contact.Closed);
                break;
            case FuseModel fuse:
                yield return Plain(fuse.Ohm);
                break;
            case DiodeModel diode:
                yield return new(Pin("anode"), PinOrCase("cathode"), default, diode, device.Ref);
                break;
            case RelayModel relay:
                foreach (var part in Of(device, relay, Pin))
                {
                    yield return part;
                }

                break;
            case TransducerModel transducer:
                yield return new(Pin("5V"), PinOrCase("ground"), transducer.Supply, null, device.Ref);
                yield return new(Pin("signal"), PinOrCase("ground"), transducer.Output, null, device.Ref);
                break;
            case CableModel cable:
                foreach (var (group, i) in cable.Joins.Select((g, i) => (g, i)))
                {
                    foreach (var pin in group.Where(p => device.Joint(p) is not null))
                    {
                        yield return new(Pin(pin), cable.ToCase ? Case : $"{device.Ref}#{i}", cable.Ohm, null, device.Ref);
                    }
                }

                break;
        }
    }

    private static IEnumerable<FittedPart> Of(Device device, RelayModel relay, Func<string, string> pin)
    {
        var (plus, minus) = (pin("coil+"), device.Joint("coil-") is null ? Case : pin("coil-"));
        yield return new(plus, minus, relay.Coil, null, device.Ref);
        if (relay.CoilResistor is { } beside)
        {
            yield return new(plus, minus, beside, null, device.Ref);
        }

        if (relay.CoilDiode)
        {
            yield return new(minus, plus, default, DiodeModel.Usual, device.Ref);
        }

        foreach (var contact in relay.Contacts)
        {
            if (contact.Resting is { } resting && device.Joint(resting) is not null && device.Joint(contact.Common) is not null)
            {
                yield return new(pin(contact.Common), pin(resting), relay.Contact, null, device.Ref);
            }
        }
    }
}
