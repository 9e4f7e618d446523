using System.Collections.Immutable;
using WiseLoom.Core.Circuits;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.States;

/// <summary>Puts devices into a loom's circuit, each kind by what it is made of.</summary>
internal sealed class DeviceParts(LoomCircuit circuit)
{
    /// <summary>What a controller draws through a supply pin, and what lies behind its other pins, while it is asleep, ohms.</summary>
    private const double AsleepOhms = 100_000;

    /// <summary>An input without a pull of its own, ohms.</summary>
    private const double InputOhms = 1e6;

    /// <summary>A network pin rests at this, volts, through <see cref="NetworkOhms"/>.</summary>
    private const double NetworkVolts = 2.5, NetworkOhms = 30_000;

    internal void Add(Device device)
    {
        switch (device.Model)
        {
            case LoadModel load: Load(device, load); break;
            case NtcModel ntc: Ntc(device, ntc); break;
            case PotModel pot: Pot(device, pot); break;
            case SwitchModel contact:
                circuit.Contact(First(device), Second(device), device.Ref, contact.Closed.Nominal, Mover.None, (s, _) => Plugged(s, device) && s.Conditions.Contains(contact.ClosedWhen));
                break;
            case RelayModel relay: Relay(device, relay); break;
            case DiodeModel diode: circuit.Junction(circuit.PinNode(device, "anode"), circuit.PinOrCase(device, "cathode"), diode, device.Ref); break;
            case FuseModel fuse: circuit.Contact(First(device), Second(device), device.Ref, fuse.Ohm.Nominal, Mover.None, (s, _) => Plugged(s, device)); break;
            case BatteryModel battery: Battery(device, battery); break;
            case KeyModel key: Key(device, key); break;
            case TransducerModel transducer: Transducer(device, transducer); break;
            case ControllerModel controller: Controller(device, controller); break;
            case CableModel cable: Cable(device, cable); break;
            default: circuit.Note($"{device.Title}: the file does not say enough to take it into the circuit; its pins carry nothing."); break;
        }
    }

    private static bool Plugged(Situation situation, Device device) => situation.Without.IsEmpty || !situation.Without.Contains(device.Ref);

    private int First(Device device) => circuit.PinNode(device, Terminals(device).First);

    private int Second(Device device) => circuit.PinOrCase(device, Terminals(device).Second);

    private static (string First, string Second) Terminals(Device device) => DeviceKinds.Find(device.Kind)?.Terminals ?? ("1", "2");

    /// <summary>A plain resistance that can be unplugged.</summary>
    private int Plain(Device device, int from, int to, double ohms, string? part = null) =>
        circuit.Contact(from, to, part is null ? device.Ref : $"{device.Ref}/{part}", ohms, Mover.None, (s, _) => Plugged(s, device));

    private void Load(Device device, LoadModel load)
    {
        var index = circuit.Loads.Count;
        var (rest, work) = (1 / Math.Max(load.Cold.Nominal, 1e-6), 1 / Math.Max(load.AtWork.Nominal, 1e-6));
        var branch = circuit.Varying(First(device), Second(device), device.Ref, new(MoverKind.Load, index), (s, states) => (!Plugged(s, device) ? 0 : states.AtWork[index] ? work : rest, 0));
        circuit.Loads.Add(new(device, load, First(device), Second(device), branch, load.WorksFrom(circuit.Loom.SupplyVolts)));
    }

    private void Ntc(Device device, NtcModel ntc)
    {
        var ohms = ntc.Fit.OhmsAt(circuit.AmbientC);
        if (double.IsNaN(ohms))
        {
            circuit.Note(ntc.Fit.Wrong is { } wrong
                ? $"{device.Title}: {wrong} It is taken as open."
                : $"{device.Title}: its curve does not reach {circuit.AmbientC} °C. It is taken as open.");
            return;
        }

        Plain(device, First(device), Second(device), ohms);
    }

    private void Pot(Device device, PotModel pot)
    {
        var wiper = circuit.PinNode(device, "wiper");
        Plain(device, circuit.PinNode(device, "1"), wiper, pot.Ohm.Nominal * pot.Rest, "1");
        Plain(device, wiper, circuit.PinOrCase(device, "2"), pot.Ohm.Nominal * (1 - pot.Rest), "2");
    }

    private void Relay(Device device, RelayModel relay)
    {
        var index = circuit.Relays.Count;
        var (plus, minus) = (circuit.PinNode(device, "coil+"), circuit.PinOrCase(device, "coil-"));
        circuit.Relays.Add(new(device, relay, plus, minus));
        Plain(device, plus, minus, relay.Coil.Nominal, "coil");
        if (relay.CoilResistor is { } beside)
        {
            Plain(device, plus, minus, beside.Nominal, "coil resistor");
        }

        if (relay.CoilDiode)
        {
            circuit.Junction(minus, plus, DiodeModel.Usual, $"{device.Ref}/coil diode");
        }

        foreach (var (common, working, resting) in relay.Contacts)
        {
            void Side(string? pin, bool whenPulled)
            {
                if (pin is not null && device.Joint(pin) is not null && device.Joint(common) is not null)
                {
                    circuit.Contact(
                        circuit.PinNode(device, common), circuit.PinNode(device, pin), $"{device.Ref}/{pin}", relay.Contact.Nominal, new(MoverKind.Relay, index),
                        (s, states) => Plugged(s, device) && states.Pulled[index] == whenPulled);
                }
            }

            Side(working, true);
            Side(resting, false);
        }
    }

    private void Battery(Device device, BatteryModel battery)
    {
        var (plus, minus) = (circuit.PinNode(device, "+"), circuit.PinOrCase(device, "-"));
        double Volts(Situation s) => s.Key switch
        {
            KeyPosition.Start => battery.StartVolts,
            KeyPosition.Running => battery.RunningVolts,
            _ => battery.Volts,
        };
        if (battery.Ohm.Nominal > 0)
        {
            circuit.Batteries.Add(circuit.Varying(plus, minus, device.Ref, Mover.None, (s, _) => Plugged(s, device) ? (1 / battery.Ohm.Nominal, Volts(s)) : (0, 0)));
        }
        else
        {
            circuit.Batteries.Add(circuit.IdealSource(plus, minus, device.Ref, (s, _) => (0, Volts(s))));
        }
    }

    private void Key(Device device, KeyModel key)
    {
        foreach (var (a, b) in key.Joins.Values.SelectMany(groups => groups).SelectMany(Steps).Distinct())
        {
            if (device.Joint(a) is { } from && device.Joint(b) is { } to)
            {
                circuit.Contact(
                    circuit.Node(from), circuit.Node(to), $"{device.Ref}/{a}–{b}", key.Contact.Nominal, Mover.None,
                    (s, _) => Plugged(s, device) && key.Joins.TryGetValue(s.Key, out var groups) && groups.Any(g => Steps(g).Contains((a, b))));
            }
        }
    }

    /// <summary>From the first terminal of a group to each of the others.</summary>
    private static IEnumerable<(string A, string B)> Steps(ImmutableArray<string> group) => group.Skip(1).Select(other => (group[0], other));

    private void Transducer(Device device, TransducerModel transducer)
    {
        var (supply, ground, signal) = (circuit.PinNode(device, "5V"), circuit.PinOrCase(device, "ground"), circuit.PinNode(device, "signal"));
        Plain(device, supply, ground, transducer.Supply.Nominal, "supply");
        var output = circuit.Varying(signal, ground, $"{device.Ref}/signal", Mover.None, (s, _) => (Plugged(s, device) ? 1 / Math.Max(transducer.Output.Nominal, 1e-3) : 0, double.NaN));
        circuit.Transducers.Add(new(device, transducer, supply, ground, signal, output));
    }

    private void Cable(Device device, CableModel cable)
    {
        foreach (var (group, i) in cable.Joins.Select((g, i) => (g, i)))
        {
            var middle = cable.ToCase ? circuit.CaseNode() : circuit.Node($"{device.Ref}#{i}");
            foreach (var pin in group.Where(p => device.Joint(p) is not null))
            {
                Plain(device, circuit.Node(device.Joint(pin)!), middle, cable.Ohm.Nominal, pin);
            }
        }
    }

    private void Controller(Device device, ControllerModel controller)
    {
        var index = circuit.Controllers.Count;
        var ground = circuit.Node($"{device.Ref}#ground");
        if (controller.Pins.IsEmpty)
        {
            circuit.Note($"{device.Title}: no pin has a role; the controller carries nothing and never wakes.");
        }
        else
        {
            NoteMissing(device, controller);
            if (!controller.Pins.Values.Any(p => p.Role == ControllerRole.Ground))
            {
                Plain(device, ground, circuit.CaseNode(), 0.005, "housing");
            }
        }

        var pins = ImmutableArray.CreateBuilder<(string, ControllerPin, int, int)>();
        foreach (var (name, pin) in controller.Pins)
        {
            var node = circuit.Node(device.Joint(name)!);
            pins.Add((name, pin, node, ControllerPinPart(device, controller, index, ground, name, pin, node)));
        }

        foreach (var bus in pins.Where(p => p.Item2.Role == ControllerRole.Network).GroupBy(p => p.Item2.Bus))
        {
            if (bus.ToList() is [var first, var second, ..] && (first.Item2.Ohms ?? second.Item2.Ohms) is { } ohms)
            {
                Plain(device, first.Item3, second.Item3, ohms, $"termination of {bus.Key}");
            }
        }

        circuit.Controllers.Add(new(device, controller, ground, pins.ToImmutable()));
    }

    private void NoteMissing(Device device, ControllerModel controller)
    {
        bool Has(ControllerRole role) => controller.Pins.Values.Any(p => p.Role == role);
        if (!Has(ControllerRole.Supply))
        {
            circuit.Note($"{device.Title}: no pin is its supply; it never wakes.");
        }

        if (!Has(ControllerRole.Ground))
        {
            circuit.Note($"{device.Title}: no pin is its ground; it is taken as grounded through its housing.");
        }

        if (!Has(ControllerRole.Wake))
        {
            circuit.Note($"{device.Title}: no pin wakes it; it is taken as awake whenever it is supplied.");
        }
    }

    private int ControllerPinPart(Device device, ControllerModel controller, int index, int ground, string name, ControllerPin pin, int node)
    {
        var label = $"{device.Ref}/{name}";
        var ohms = pin.Ohms ?? InputOhms;
        var supply = SupplyOf(device, controller, pin);
        int Toward(int to, Func<Situation, bool, (double Ohms, double Volts)> value) => circuit.Varying(node, to, label, new(MoverKind.Controller, index), (s, states) =>
        {
            var (r, e) = Plugged(s, device) ? value(s, states.Awake[index]) : (0, 0);
            return (r > 0 ? 1 / r : 0, e);
        });
        return pin.Role switch
        {
            ControllerRole.Supply => Toward(ground, (_, awake) => (awake ? ohms : AsleepOhms, 0)),
            ControllerRole.Ground or ControllerRole.SensorGround or ControllerRole.Wake => Toward(ground, (_, _) => (ohms, 0)),
            ControllerRole.LowSide => Toward(ground, (s, awake) => (awake && pin.IsOn(s.Key, s.Conditions) ? ohms : 0, 0)),
            ControllerRole.HighSide => Toward(supply ?? ground, (s, awake) => (awake && supply is not null && pin.IsOn(s.Key, s.Conditions) ? ohms : 0, 0)),
            ControllerRole.Reference5 => Toward(ground, (_, awake) => awake ? (ohms, pin.Volts) : (AsleepOhms, 0)),
            ControllerRole.Network => Toward(ground, (_, awake) => (NetworkOhms, awake ? NetworkVolts : 0)),
            _ => Toward(ground, (_, awake) => pin.Pull switch
            {
                Pull.Up => (ohms, awake ? pin.Volts : 0),
                Pull.Down => (ohms, 0),
                _ => (InputOhms, 0),
            }),
        };
    }

    private int? SupplyOf(Device device, ControllerModel controller, ControllerPin pin) =>
        (pin.From ?? controller.Pins.FirstOrDefault(p => p.Value.Role == ControllerRole.Supply).Key) is { } supply
            ? circuit.Node(device.Joint(supply)!)
            : null;
}
