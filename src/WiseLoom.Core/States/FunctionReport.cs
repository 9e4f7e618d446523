using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Circuits;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;

namespace WiseLoom.Core.States;

/// <summary>Which functions of a loom can be had in a state, and why.</summary>
/// <param name="drive">Which idle outputs are driven to find out; null for all.</param>
internal sealed class FunctionReport(LoomCircuit loom, StateSolver solver, Situation situation, AgreedState state, IReadOnlySet<string>? drive = null)
{
    /// <summary>A reference is there while it is this near its voltage, share.</summary>
    private const double ReferenceTolerance = 0.05;

    private double[] Volts => state.Solution.Volts;

    internal ImmutableArray<FunctionState> All()
    {
        var functions = ImmutableArray.CreateBuilder<FunctionState>();
        foreach (var (controller, i) in loom.Controllers.Select((c, i) => (c, i)).Where(x => !x.c.Model.Pins.IsEmpty))
        {
            functions.Add(Comes($"{controller.Device.Title} awake", controller.Device.Ref, [.. state.Ring.Select(r => r.States.Awake[i])], "It is awake and asleep by turns.") ?? Awake(controller, state.States.Awake[i]));
            functions.AddRange(controller.Pins.Where(p => p.Pin.Role == ControllerRole.Reference5).Select(p => Reference(controller, p.Pin, p.Node)));
        }

        var driven = Driven();
        functions.AddRange(loom.Loads.Where(l => l.Model.Verb.Length > 0).Select(load => Of(load, driven)));
        functions.AddRange(loom.Transducers.Select(Powered));
        return functions.ToImmutable();
    }

    private static string V(double volts) => Say.Volts(volts);

    private FunctionState Awake(ControllerInCircuit controller, bool awake)
    {
        var (title, ground, least) = (controller.Device.Title, Volts[controller.Ground], controller.Model.LeastVolts);
        var supplies = controller.Pins.Where(p => p.Pin.Role == ControllerRole.Supply).ToList();
        var wakes = controller.Pins.Where(p => p.Pin.Role == ControllerRole.Wake).ToList();
        string Reads(List<(string Name, ControllerPin Pin, int Node, int Branch)> pins) =>
            string.Join(", ", pins.Select(p => $"{loom.Circuit.Names[p.Node]} {V(Volts[p.Node])}"));
        bool Any(List<(string, ControllerPin, int Node, int)> pins) => pins.Exists(p => Volts[p.Node] - ground >= least);
        var sentence = !situation.Without.Contains(controller.Device.Ref) || awake
            ? awake ? $"Supply ({Reads(supplies)}) and wake ({(wakes.Count == 0 ? "none needed" : Reads(wakes))}) leave it enough."
                : supplies.Count == 0 ? "No pin is its supply."
                : !Any(supplies) && ground > 1 ? $"Its ground stands at {V(ground)}: no good ground reaches it."
                : !Any(supplies) ? $"No supply reaches {V(least)}: {Reads(supplies)}."
                : wakes.Count > 0 && !Any(wakes) ? $"Nothing wakes it: {Reads(wakes)}, and {V(least)} are needed."
                : $"A supply that it needs is missing: {Reads(supplies)}."
            : "It is unplugged.";
        return new($"{title} awake", controller.Device.Ref, awake, awake, null, sentence);
    }

    /// <summary>A function that comes and goes as something chatters; null when it does not.</summary>
    /// <param name="moments">Whether it is there, moment by moment; empty when nothing chatters.</param>
    private static FunctionState? Comes(string name, string device, IReadOnlyCollection<bool> moments, string sentence) =>
        moments.Contains(true) && moments.Contains(false) ? new(name, device, false, false, null, $"Flickers. {sentence}", Flickers: true) : null;

    /// <summary>The same for what needs a voltage between two nodes.</summary>
    private FunctionState? Comes(string name, string device, int plus, int minus, Func<double, bool> there)
    {
        var volts = state.Ring.Select(r => r.Solution.Volts[plus] - r.Solution.Volts[minus]).ToList();
        return volts.Count == 0 ? null : Comes(name, device, [.. volts.Select(there)], $"It has between {V(volts.Min(Math.Abs))} and {V(volts.Max(Math.Abs))}, by turns, as something chatters.");
    }

    private FunctionState Reference(ControllerInCircuit controller, ControllerPin pin, int node)
    {
        bool There(double v) => Math.Abs(v - pin.Volts) <= ReferenceTolerance * pin.Volts;
        var volts = Volts[node] - Volts[controller.Ground];
        var there = There(volts);
        var name = string.Create(CultureInfo.InvariantCulture, $"{controller.Device.Title}: {pin.Volts:0.##} V at {loom.Circuit.Names[node]}");
        return Comes(name, controller.Device.Ref, node, controller.Ground, There) ?? new(name, controller.Device.Ref, there, there, null, there ? $"It reads {V(volts)}." : $"It reads {V(volts)} where {V(pin.Volts)} are due.");
    }

    private FunctionState Powered(TransducerInCircuit transducer)
    {
        bool There(double v) => v >= 0.9 * transducer.Model.ReferenceVolts;
        var volts = Volts[transducer.Supply] - Volts[transducer.Ground];
        var (there, name) = (There(volts), $"{transducer.Device.Title} has its supply");
        return Comes(name, transducer.Device.Ref, transducer.Supply, transducer.Ground, There) ?? new(name, transducer.Device.Ref, there, there, null,
            there ? $"{V(volts)} between its supply and its ground." : $"Only {V(volts)} between its supply ({V(Volts[transducer.Supply])}) and its ground ({V(Volts[transducer.Ground])}).");
    }

    /// <summary>Volts at all nodes with each output driven that is not on.</summary>
    private List<(string Output, bool Pulsed, double[] Volts)> Driven()
    {
        var result = new List<(string, bool, double[])>();
        var idle = loom.Controllers.Where((_, i) => state.States.Awake[i]).SelectMany(c => c.Pins)
            .Where(p => p.Pin.IsOutput && !p.Pin.IsOn(situation.Key, situation.Conditions))
            .GroupBy(p => p.Pin.Output, StringComparer.Ordinal);
        foreach (var output in idle.Where(o => drive?.Contains(o.Key) != false))
        {
            var asked = situation with { Conditions = situation.Conditions.Add(output.Key) };
            var agreed = solver.Solve(asked, state.States, state.Session, currents: false);
            if (agreed.Stays && agreed.Solution.Holds)
            {
                result.Add((output.Key, output.All(p => p.Pin.Pulsed), agreed.Solution.Volts));
            }
        }

        return result;
    }

    private FunctionState Of(LoadInCircuit load, List<(string Output, bool Pulsed, double[] Volts)> driven)
    {
        double Across(double[] volts) => Math.Abs(volts[load.Plus] - volts[load.Minus]);
        var (name, device) = ($"{load.Device.Title} {load.Model.Verb}", load.Device.Ref);
        var across = Across(Volts);
        if (situation.Without.Contains(device))
        {
            return new(name, device, false, false, null, "It is unplugged.");
        }

        if (Comes(name, device, load.Plus, load.Minus, v => Math.Abs(v) >= load.WorksFrom) is { } flickers)
        {
            return flickers;
        }

        if (across >= load.WorksFrom)
        {
            return new(name, device, true, true, null, $"{V(across)} across it, {Say.Amps(Math.Abs(state.Solution.Amps[load.Branch]))}.");
        }

        var how = driven.Find(d => Across(d.Volts) >= load.WorksFrom);
        if (how.Output is not null)
        {
            var sentence = $"Not at this moment; with ‘{how.Output}’ driven there are {V(Across(how.Volts))} across it.";
            return new(name, device, how.Pulsed, false, how.Output, sentence);
        }

        var (plus, minus) = (Volts[load.Plus], Volts[load.Minus]);
        var supply = loom.Supply >= 0 ? Volts[loom.Supply] : 0;
        var high = supply > 0 && Math.Min(plus, minus) > 0.8 * supply;
        var low = Math.Max(plus, minus) < 0.2 * loom.Loom.SupplyVolts;
        return new(name, device, false, false, null,
            $"Only {V(across)} across it; {V(load.WorksFrom)} are needed. " + (high ? "Both its terminals read supply: nothing takes it to ground." : low ? "No supply reaches it." : $"Its terminals read {V(plus)} and {V(minus)}."));
    }
}
