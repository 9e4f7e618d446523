using System.Collections.Immutable;
using WiseLoom.Core.Circuits;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.States;

/// <summary>Tells how a point comes to what it shows: the path of the current through it, or what holds it where none flows.</summary>
internal sealed class Explainer
{
    /// <summary>Less than this is no current that a person would follow, amperes.</summary>
    private const double LeastAmps = 1e-3;

    private readonly LoomCircuit loom;
    private readonly Situation situation;
    private readonly AgreedState agreed;
    private readonly Dictionary<int, List<Step>> near = [];

    internal Explainer(LoomCircuit loom, Situation situation, AgreedState agreed)
    {
        (this.loom, this.situation, this.agreed) = (loom, situation, agreed);
        if (!agreed.Solution.Holds)
        {
            return;
        }

        var circuit = loom.Circuit;
        for (var i = 0; i < circuit.Branches.Length; i++)
        {
            var b = circuit.Branches[i];
            if (b.Fixed || agreed.Session.Siemens[i] > 1e-7)
            {
                Add(b.From, b.To, b.Label, agreed.Solution.Amps[i], b.Fixed ? 0 : 1 / agreed.Session.Siemens[i], agreed.Session.Emf[i] != 0);
            }
        }

        for (var j = 0; j < circuit.Junctions.Length; j++)
        {
            var junction = circuit.Junctions[j];
            if (agreed.Session.JunctionLine(j).Siemens > 1e-7)
            {
                Add(junction.From, junction.To, junction.Label, agreed.Solution.JunctionAmps[j], 1 / agreed.Session.JunctionLine(j).Siemens, false);
            }
        }
    }

    private double[] Volts => agreed.Solution.Volts;

    internal PointExplanation Tell(ProbePoint point, PointState? state)
    {
        if (state is null)
        {
            return new(point, null, ["There is no state in this key position."], [], []);
        }

        var node = loom.Node(point.ToString());
        if (state.Floats)
        {
            return new(point, state, [.. Floating(node, state)], [], []);
        }

        var (up, down) = (Follow(node, upstream: true), Follow(node, upstream: false));
        var flows = (up.Count > 0 || down.Count > 0) && up.Concat(down).Any(s => Math.Abs(s.Amps) >= LeastAmps);
        if (!flows)
        {
            // What holds the point: its source when it reads like one, ground when it reads ground, both when it lies between.
            var supply = loom.Supply >= 0 ? Volts[loom.Supply] : 0;
            up = ReadsGround(node, supply) ? [] : Nearest(node, n => n == loom.Supply || IsSource(n));
            down = ReadsSupply(node, supply) ? [] : Nearest(node, n => n == loom.Reference);
        }

        return new(point, state, [.. Sentences(node, state, flows, up, down)], [.. Enumerable.Reverse(up).Select(s => Part(s, flows))], [.. down.Select(s => Part(s, flows))]);
    }

    private bool ReadsSupply(int node, double supply) => supply > 0 && Volts[node] > 0.9 * supply;

    private bool ReadsGround(int node, double supply) => Math.Abs(Volts[node]) < 0.05 * Math.Max(supply, 1);

    private void Add(int from, int to, string label, double amps, double ohms, bool source)
    {
        void One(Step step)
        {
            if (!near.TryGetValue(step.At, out var steps))
            {
                near.Add(step.At, steps = []);
            }

            steps.Add(step);
        }

        if (from != to)
        {
            One(new(from, to, label, amps, ohms, source));
            One(new(to, from, label, -amps, ohms, source));
        }
    }

    private List<Step> StepsAt(int node) => near.GetValueOrDefault(node) ?? [];

    private bool IsSource(int node) => StepsAt(node).Any(s => s.Source && Math.Abs(Volts[s.At] - Volts[s.Next]) > 0.5 && s.Ohms < 1e6 && !IsBattery(s.Label));

    private bool IsBattery(string label) => loom.Loom.Devices.Any(d => d.Ref == label && d.Model is BatteryModel);

    /// <summary>Along the largest current, against it towards its source or with it towards 0 V.</summary>
    private List<Step> Follow(int node, bool upstream)
    {
        var path = new List<Step>();
        var seen = new HashSet<int> { node };
        var at = node;
        while (at != loom.Supply && at != loom.Reference)
        {
            // Seen from a node, a step with current above 0 leads out of it.
            var next = StepsAt(at).Where(s => !seen.Contains(s.Next) && (upstream ? -s.Amps : s.Amps) >= LeastAmps / 10).MaxBy(s => Math.Abs(s.Amps));
            if (next is null)
            {
                break;
            }

            path.Add(next);
            seen.Add(at = next.Next);
            if (next.Source)
            {
                break;
            }
        }

        return path;
    }

    /// <summary>The way of least resistance to a node of a kind.</summary>
    private List<Step> Nearest(int node, Func<int, bool> wanted)
    {
        var (from, queue, done) = (new Dictionary<int, Step>(), new PriorityQueue<(int Node, Step? By), double>(), new HashSet<int>());
        queue.Enqueue((node, null), 0);
        while (queue.TryDequeue(out var next, out var ohms))
        {
            if (!done.Add(next.Node))
            {
                continue;
            }

            if (next.By is { } by)
            {
                from[next.Node] = by;
            }

            if (wanted(next.Node))
            {
                var path = new List<Step>();
                for (var at = next.Node; from.TryGetValue(at, out var step); at = step.At)
                {
                    path.Add(step);
                }

                path.Reverse();
                return path;
            }

            foreach (var step in StepsAt(next.Node).Where(s => !done.Contains(s.Next) && !IsBattery(s.Label)))
            {
                queue.Enqueue((step.Next, step), ohms + step.Ohms);
            }
        }

        return [];
    }

    private PathPart Part(Step step, bool flows)
    {
        var names = loom.Circuit.Names;
        var device = DeviceOf(step.Label);
        var wire = device is null ? loom.Loom.Wires.FirstOrDefault(w => w.Id == step.Label) : null;
        // Shown in the direction of the current.
        var (from, to) = step.Amps >= 0 ? (step.At, step.Next) : (step.Next, step.At);
        return new(wire?.Id, device?.Ref, device?.Title ?? wire?.Circuit ?? step.Label, names[from], names[to], flows ? Math.Abs(step.Amps) : 0);
    }

    private Device? DeviceOf(string label) => loom.Loom.Wires.Any(w => w.Id == label) ? null : loom.Loom.Devices.FirstOrDefault(d => d.Ref == label.Split('/')[0]);

    /// <summary>Titles of the devices on a way, each once.</summary>
    private List<string> Titles(IEnumerable<Step> path) => [.. path.Select(s => DeviceOf(s.Label)?.Title).OfType<string>().Distinct(StringComparer.Ordinal)];

    private IEnumerable<string> Sentences(int node, PointState state, bool flows, List<Step> up, List<Step> down)
    {
        var volts = Volts[node];
        var supply = loom.Supply >= 0 ? Volts[loom.Supply] : 0;
        var loads = LoadsOn(flows ? [] : up);
        var groundLoads = LoadsOn(flows ? [] : down);
        var outputs = OutputsOn(node);
        if (flows)
        {
            var amps = new[] { up.FirstOrDefault(), down.FirstOrDefault() }.Max(s => Math.Abs(s?.Amps ?? 0));
            yield return $"Reads {Say.Volts(volts)}. {Say.Amps(amps)} {Way(up, down)}.";
        }
        else if (ReadsSupply(node, supply))
        {
            yield return loads.Count > 0
                ? $"Reads supply through {string.Join(" and ", loads)}: no current flows, so nothing is lost on the way."
                : $"Reads supply{Through(up)}; nothing takes current from it.";
        }
        else if (ReadsGround(node, supply))
        {
            yield return groundLoads.Count > 0
                ? $"Reads ground through {string.Join(" and ", groundLoads)}: no current flows."
                : $"Reads ground{Through(down)}; no current flows.";
        }
        else
        {
            yield return $"Reads {Say.Volts(volts)}: {Between(up, down)}.";
        }

        foreach (var (controller, pin, on) in outputs)
        {
            yield return on
                ? $"{controller.Device.Title} drives ‘{pin.Output}’ here."
                : pin.Role == ControllerRole.LowSide
                    ? $"{controller.Device.Title} switches the ground side here (‘{pin.Output}’) and does not drive it now{(volts > 0.9 * supply && supply > 0 ? ": to read supply is right" : "")}."
                    : $"{controller.Device.Title} switches the feed side here (‘{pin.Output}’) and does not drive it now{(Math.Abs(volts) < 0.5 ? ": to read nothing is right" : "")}.";
        }

        if (outputs.Count == 0 && loads.Count == 0 && SwitchedBehind(node) is { } behind)
        {
            yield return behind;
        }

        if (state.Shows is { } shows && shows.Meter > 0.9 * supply && supply > 0 && shows.LampToGround.Glow == Glow.Dark)
        {
            yield return $"A meter shows {Say.Volts(shows.Meter)} here and a lamp to ground stays dark: {Say.Ohms(shows.SourceOhms)} lie in the way. A voltage without a load proves nothing about this path.";
        }
        else if (state.Shows is { } lamps && (lamps.LampToGround.Flickers || lamps.LampToSupply.Flickers))
        {
            yield return "A lamp here makes a device let go and come back: it flickers.";
        }

        if (!agreed.Stays)
        {
            yield return $"Something chatters in this position: the point swings between {Say.Volts(state.Least)} and {Say.Volts(state.Most)}.";
        }
    }

    /// <summary>For the feed side of a load: who switches its other side.</summary>
    private string? SwitchedBehind(int node)
    {
        var net = NetOf(node);
        foreach (var load in loom.Loads)
        {
            var far = net.Contains(load.Plus) ? load.Minus : net.Contains(load.Minus) ? load.Plus : -1;
            if (far >= 0 && OutputsOn(far).Find(o => !o.On && o.Pin.Role == ControllerRole.LowSide) is { Pin: { } pin } found && Math.Abs(Volts[far] - Volts[node]) < 0.5)
            {
                return $"It feeds {load.Device.Title}. {found.Controller.Device.Title} switches the ground side (‘{pin.Output}’) and does not drive it now, so that both its terminals read the same. This is right.";
            }
        }

        return null;
    }

    private static string Between(List<Step> up, List<Step> down) => (up.Count, down.Count) switch
    {
        (0, 0) => "nothing near holds it",
        (0, _) => $"{Say.Ohms(down.Sum(s => s.Ohms))} lead to ground",
        (_, 0) => $"{Say.Ohms(up.Sum(s => s.Ohms))} lead to its source",
        _ => $"it lies between {Say.Ohms(up.Sum(s => s.Ohms))} to its source and {Say.Ohms(down.Sum(s => s.Ohms))} to ground",
    };

    private string Way(List<Step> up, List<Step> down)
    {
        var (before, after) = (Titles(Enumerable.Reverse(up)), Titles(down));
        return (before.Count > 0 ? $"comes from {string.Join(", ", before)}" : "comes from the battery") + (after.Count > 0 ? $" and goes on through {string.Join(", ", after)}" : " and goes to ground");
    }

    private string Through(List<Step> path) => Titles(path) is { Count: > 0 } titles ? $" through {string.Join(", ", Enumerable.Reverse(titles))}" : "";

    private List<string> LoadsOn(List<Step> path) =>
        [.. path.Select(s => DeviceOf(s.Label)).Where(d => d?.Model is LoadModel or RelayModel && path.Any(s => s.Label == d.Ref || s.Label == $"{d.Ref}/coil")).Select(d => d!.Title).Distinct(StringComparer.Ordinal)];

    private HashSet<int> NetOf(int node)
    {
        var wires = loom.Loom.Wires.Select(w => w.Id).ToHashSet(StringComparer.Ordinal);
        var (net, queue) = (new HashSet<int> { node }, new Queue<int>([node]));
        while (queue.TryDequeue(out var at))
        {
            foreach (var step in StepsAt(at).Where(s => wires.Contains(s.Label) && net.Add(s.Next)))
            {
                queue.Enqueue(step.Next);
            }
        }

        return net;
    }

    private List<(ControllerInCircuit Controller, ControllerPin Pin, bool On)> OutputsOn(int node)
    {
        var net = NetOf(node);
        return
        [
            .. loom.Controllers.SelectMany((c, i) => c.Pins.Where(p => p.Pin.IsOutput && net.Contains(p.Node))
                .Select(p => (c, p.Pin, agreed.States.Awake[i] && p.Pin.IsOn(situation.Key, situation.Conditions)))),
        ];
    }

    private IEnumerable<string> Floating(int node, PointState state)
    {
        var net = NetOf(node);
        var open = loom.Circuit.Branches.Select((b, i) => (b, i))
            .Where(x => !x.b.Fixed && agreed.Session.Siemens[x.i] <= 1e-7 && (net.Contains(x.b.From) != net.Contains(x.b.To)))
            .Select(x => DeviceOf(x.b.Label)).OfType<Device>().DistinctBy(d => d.Ref).Select(d => d.Title).ToList();
        yield return open.Count > 0
            ? $"Floats: {string.Join(" and ", open)} {(open.Count == 1 ? "is" : "are")} open, and nothing else leads from here to the battery."
            : "Floats: nothing leads from here to the battery.";
        yield return $"A meter shows {Say.Volts(state.Shows?.Meter ?? 0)} or drifts; that is no voltage.";
    }

    /// <summary>A part seen from one of its ends.</summary>
    private sealed record Step(int At, int Next, string Label, double Amps, double Ohms, bool Source);
}
