using System.Collections.Immutable;
using WiseLoom.Core.Circuits;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.States;

/// <summary>What every point of a loom shows, for any key position and conditions. Made once for a loom, asked often.</summary>
/// <remarks>A key is turned from off through accessory, on and start to running. Each position begins from the state of the one before
/// it, so that a relay which holds itself after the start is found holding. Asking is safe from several threads.</remarks>
public sealed class LoomStates
{
    /// <summary>No loom carries more; a circuit that would is one of ideal parts, amperes.</summary>
    private const double MostAmps = 1e5;

    /// <summary>A battery that gives more while nothing is started, or stands at less than this share of its voltage, is as good as shorted.</summary>
    private const double ShortAmps = 200, ShortAmpsAtStart = 500, ShortShare = 0.8;

    private readonly LoomCircuit circuit;
    private readonly StateSolver solver;
    private readonly ImmutableArray<ImmutableArray<(ProbePoint Point, int Node)>> nets;

    private LoomStates(AsBuilt built, double ambientC)
    {
        circuit = LoomCircuit.Of(built, ambientC);
        solver = new(circuit);
        var graph = Joined(built);
        nets = [.. graph.Nets.Where(n => n.Points.Length > 0).Select(n => n.Points.Select(p => (p, circuit.Node(p.ToString()))).ToImmutableArray())];
    }

    /// <summary>The loom asked about.</summary>
    public Loom Loom => circuit.Loom;

    /// <summary>Temperature of the copper and of the sensors, degrees Celsius.</summary>
    public double AmbientC => circuit.AmbientC;

    /// <summary>Names that a situation may hold: conditions that switches and outputs know, and names of outputs.</summary>
    public ImmutableArray<string> Conditions =>
    [
        .. Loom.Devices.Select(d => d.Model).OfType<SwitchModel>().Select(s => s.ClosedWhen)
            .Concat(circuit.Controllers.SelectMany(c => c.Pins).SelectMany(p => p.Pin.OnWhen))
            .Distinct(StringComparer.Ordinal).Order(NaturalOrder.Comparer),
    ];

    /// <summary>Names of outputs that can be driven.</summary>
    public ImmutableArray<string> Outputs =>
        [.. circuit.Controllers.SelectMany(c => c.Pins).Where(p => p.Pin.IsOutput).Select(p => p.Pin.Output).Distinct(StringComparer.Ordinal).Order(NaturalOrder.Comparer)];

    /// <summary>Puts a loom together with its devices.</summary>
    /// <param name="ambientC">Degrees Celsius.</param>
    public static LoomStates For(Loom loom, double ambientC) => new(AsBuilt.AsDrawn(loom, ambientC), ambientC);

    /// <summary>The same for a loom as it came off the board.</summary>
    /// <param name="ambientC">Degrees Celsius.</param>
    public static LoomStates For(AsBuilt built, double ambientC) => new(built, ambientC);

    /// <summary>The state in one situation.</summary>
    /// <param name="withProbes">Whether to say at each point what a meter and lamps show; the voltages alone cost far less.</param>
    public OperatingState At(Situation situation, bool withProbes = true) => At(situation, _ => withProbes);

    /// <summary>The state in one situation, with what a meter and lamps show at some points.</summary>
    /// <param name="probed">At which; others of their nets are told too.</param>
    public OperatingState At(Situation situation, Func<ProbePoint, bool> probed) => Report(Reached(situation, situation.Key)[^1], probed);

    /// <summary>Only what some points show, and which functions can be had: far cheaper than the whole state.</summary>
    /// <param name="functions">Whether functions are asked for.</param>
    internal Glimpse Glimpse(Situation situation, IReadOnlySet<ProbePoint> points, bool functions)
    {
        var agreed = Reached(situation, situation.Key)[^1].Agreed;
        return NoState(agreed.Solution) is not null ? new(ImmutableSortedDictionary<ProbePoint, PointState>.Empty, [])
            : new(
                points.Count == 0 ? ImmutableSortedDictionary<ProbePoint, PointState>.Empty : Answers(situation, agreed, n => n.Any(x => points.Contains(x.Point)), _ => true),
                functions ? new FunctionReport(circuit, solver, situation, agreed).All() : []);
    }

    /// <summary>Voltages, currents and what the devices do, and nothing told; null when there is no state.</summary>
    internal BareState? Bare(Situation situation)
    {
        var agreed = Reached(situation, situation.Key)[^1].Agreed;
        return NoState(agreed.Solution) is null ? new(circuit, agreed) : null;
    }

    /// <summary>Voltages and functions of each key position up to that of a situation, turned through once; null where there is no state.</summary>
    /// <param name="drive">Which idle outputs are driven to find out what they bring about, by key position.</param>
    internal ImmutableArray<TurnedState?> Turned(Situation situation, Func<KeyPosition, IReadOnlySet<string>> drive) =>
    [
        .. Reached(situation, situation.Key).Select(r => NoState(r.Agreed.Solution) is null
            ? new TurnedState(new(circuit, r.Agreed), new FunctionReport(circuit, solver, r.Situation, r.Agreed, drive(r.Situation.Key)).All()) : null),
    ];

    /// <summary>The states of all key positions, in the order of <see cref="KeyPositions.All"/>.</summary>
    /// <param name="withProbes">Whether to say at each point what a meter and lamps show.</param>
    public ImmutableArray<OperatingState> InAllPositions(ImmutableHashSet<string>? conditions = null, bool withProbes = true)
    {
        var reached = Reached(new(KeyPosition.Off, conditions ?? [], []), KeyPosition.Running);
        var reports = new OperatingState[reached.Count];
        // A position that closes nothing more than the one before shows the same.
        bool Repeats(int i) => i > 0 && Same(reached[i].Agreed, reached[i - 1].Agreed);
        Parallel.For(0, reports.Length, i => reports[i] = Repeats(i) ? null! : Report(reached[i], _ => withProbes));
        for (var i = 1; i < reports.Length; i++)
        {
            reports[i] ??= reports[i - 1] with { Situation = reached[i].Situation };
        }

        return [.. reports];
    }

    /// <summary>How a point comes to what it shows.</summary>
    /// <exception cref="ArgumentException">The loom has no wire at this point.</exception>
    public PointExplanation Explain(Situation situation, ProbePoint point)
    {
        if (circuit.Loom.WiresAt(point).FirstOrDefault() is null)
        {
            throw new ArgumentException($"{point} has no wire.", nameof(point));
        }

        var agreed = Reached(situation, situation.Key)[^1].Agreed;
        return new Explainer(circuit, situation, agreed).Tell(point, Answers(situation, agreed, n => n.Any(x => x.Point == point), _ => true).GetValueOrDefault(point));
    }

    private List<(Situation Situation, AgreedState Agreed)> Reached(Situation situation, KeyPosition last)
    {
        var list = new List<(Situation, AgreedState)>();
        var (states, session) = (circuit.AtRest(), (CircuitSession?)null);
        foreach (var key in KeyPositions.All.TakeWhile(k => k <= last))
        {
            var here = situation with { Key = key };
            var agreed = solver.Solve(here, states, session);
            list.Add((here, agreed));
            if (agreed.Solution.Holds && agreed.Stays)
            {
                (states, session) = (agreed.States, agreed.Session);
            }
        }

        return list;
    }

    private static bool Same(AgreedState a, AgreedState b) =>
        a.Stays && b.Stays && a.States.Key == b.States.Key && a.Session.Siemens.SequenceEqual(b.Session.Siemens) && a.Session.Emf.SequenceEqual(b.Session.Emf);

    private ImmutableSortedDictionary<ProbePoint, PointState> Answers(Situation situation, AgreedState agreed, Func<ImmutableArray<(ProbePoint Point, int Node)>, bool> which, Func<ProbePoint, bool> probed)
    {
        if (!agreed.Solution.Holds)
        {
            return ImmutableSortedDictionary<ProbePoint, PointState>.Empty;
        }

        var answers = new ProbeAnswers(circuit, solver, situation, agreed);
        return nets.Where(which).SelectMany(n => n.Any(x => probed(x.Point)) ? answers.Of(n) : n.Select(x => (x.Point, State: answers.Bare(x.Node)))).ToImmutableSortedDictionary(x => x.Point, x => x.State);
    }

    /// <summary>What metal joins.</summary>
    private static WireGraph Joined(AsBuilt built)
    {
        var build = new WireGraph.Builder();
        foreach (var point in built.Drawn.ProbePoints())
        {
            build.Node(point);
        }

        foreach (var metal in built.Conductors)
        {
            build.Edge(metal.From, metal.To, OhmRange.Exactly(metal.Ohm), metal.Label);
        }

        return build.Done();
    }

    private OperatingState Report((Situation Situation, AgreedState Agreed) reached, Func<ProbePoint, bool> probed)
    {
        var (situation, agreed) = reached;
        var solution = agreed.Solution;
        if (NoState(solution) is { } why)
        {
            return new(situation, why, 0, [], ImmutableSortedDictionary<ProbePoint, PointState>.Empty, ImmutableDictionary<string, WireState>.Empty, [], [], [], [.. circuit.Notes]);
        }

        var points = Answers(situation, agreed, _ => true, probed);
        var wires = Loom.Wires.ToImmutableDictionary(w => w.Id, w =>
        {
            var branch = circuit.Circuit.Branches[circuit.BranchOf(w.Id)];
            var amps = agreed.Stays ? [solution.Amps[circuit.BranchOf(w.Id)]] : agreed.Ring.Select(r => r.Solution.Amps[circuit.BranchOf(w.Id)]).ToArray();
            return new WireState(solution.Amps[circuit.BranchOf(w.Id)], Math.Abs(solution.Volts[branch.From] - solution.Volts[branch.To]), amps.Min(), amps.Max());
        });
        var chattering = Chattering(agreed);
        return new(
            situation, null, circuit.Supply < 0 ? 0 : solution.Volts[circuit.Supply], chattering, points, wires,
            new FunctionReport(circuit, solver, situation, agreed).All(), Devices(agreed, chattering), Parts(solution), [.. circuit.Notes.Concat(Odd(situation, agreed, points))]);
    }

    private string? NoState(CircuitSolution solution)
    {
        if (solution.Conflict >= 0)
        {
            var b = circuit.Circuit.Branches[solution.Conflict];
            return $"No state exists: {Title(b.Label)} holds {circuit.Circuit.Names[b.From]} and {circuit.Circuit.Names[b.To]} apart by its voltage, while other parts of 0 Ω hold them at another. Ideal sources contradict each other; give one of them a resistance.";
        }

        if (!solution.Settled)
        {
            return circuit.Transducers.Count > 0
                ? "No state was found in which all diodes and transducers agree with the voltages: what a transducer puts out may lift its own supply or ground."
                : "No state was found in which all diodes agree with the voltages.";
        }

        if (solution.Amps.Length > 0 && solution.Amps.Index().MaxBy(a => Math.Abs(a.Item)) is var most && Math.Abs(most.Item) > MostAmps)
        {
            return $"No state exists: {Title(circuit.Circuit.Branches[most.Index].Label)} would carry {Say.Amps(Math.Abs(most.Item))}. Sources and parts of 0 Ω close a ring there; give one of them a resistance.";
        }

        return null;
    }

    private string Title(string label) => Loom.Devices.FirstOrDefault(d => d.Ref == label.Split('/')[0])?.Title ?? label;

    private ImmutableArray<string> Chattering(AgreedState agreed) =>
    [
        .. circuit.Relays.Where((_, i) => agreed.Ring.Select(r => r.States.Pulled[i]).Distinct().Skip(1).Any()).Select(r => r.Device.Title)
            .Concat(circuit.Controllers.Where((_, i) => agreed.Ring.Select(r => r.States.Awake[i]).Distinct().Skip(1).Any()).Select(c => c.Device.Title))
            .Concat(circuit.Loads.Where((_, i) => agreed.Ring.Select(r => r.States.AtWork[i]).Distinct().Skip(1).Any()).Select(l => l.Device.Title)),
    ];

    private ImmutableArray<DeviceState> Devices(AgreedState agreed, ImmutableArray<string> chattering)
    {
        DeviceState Of(Device device, bool so, string yes, string no) => new(device.Ref, device.Title, chattering.Contains(device.Title) ? "chatters" : so ? yes : no);
        return
        [
            .. circuit.Controllers.Select((c, i) => Of(c.Device, agreed.States.Awake[i], "awake", "asleep")),
            .. circuit.Relays.Select((r, i) => Of(r.Device, agreed.States.Pulled[i], "pulled in", "at rest")),
            .. circuit.Loads.Select(l => Of(l.Device, Math.Abs(agreed.Solution.Volts[l.Plus] - agreed.Solution.Volts[l.Minus]) >= l.WorksFrom, "works", "idle")),
        ];
    }

    private ImmutableArray<PartCurrent> Parts(CircuitSolution solution) =>
    [
        .. circuit.Circuit.Branches.Select((b, i) => new PartCurrent(circuit.Circuit.Names[b.From], circuit.Circuit.Names[b.To], solution.Amps[i], b.Label)),
        .. circuit.Circuit.Junctions.Select((j, i) => new PartCurrent(circuit.Circuit.Names[j.From], circuit.Circuit.Names[j.To], solution.JunctionAmps[i], j.Label)),
    ];

    private IEnumerable<string> Odd(Situation situation, AgreedState agreed, ImmutableSortedDictionary<ProbePoint, PointState> points)
    {
        var batteries = Loom.Devices.Where(d => d.Model is BatteryModel).ToList();
        foreach (var battery in batteries)
        {
            var branch = circuit.Circuit.Branches.ToList().FindIndex(b => b.Label == battery.Ref);
            var amps = agreed.Solution.Amps[branch];
            if (amps > 10)
            {
                yield return $"{battery.Title} takes in {Say.Amps(amps)}: another source of a higher voltage is joined to it.";
            }
            else if (IsShort((BatteryModel)battery.Model!, situation.Key, -amps))
            {
                var poles = agreed.Solution.Volts[circuit.Circuit.Branches[branch].From] - agreed.Solution.Volts[circuit.Circuit.Branches[branch].To];
                yield return $"{battery.Title} gives {Say.Amps(-amps)} and is down to {Say.Volts(poles)} at its poles: a short circuit, or as good as one. With cable and no fuse between, this is a fire.";
            }
        }

        foreach (var relay in circuit.Relays.Where((_, i) => agreed.States.Pulled[i]))
        {
            if (Holds(relay, situation, agreed))
            {
                yield return $"{relay.Device.Title} holds itself: its coil is fed through its own contact, and only a break in that path lets it go.";
            }
        }

        var floating = points.Count(p => p.Value.Floats);
        if (floating > 0)
        {
            yield return $"{floating} {(floating == 1 ? "point floats" : "points float")}: nothing leads from there to the battery in this key position, so a voltage there means nothing.";
        }
    }

    private static bool IsShort(BatteryModel battery, KeyPosition key, double amps) => key == KeyPosition.Start
        ? amps > ShortAmpsAtStart
        : amps > ShortAmps || amps * battery.Ohm.Nominal > (1 - ShortShare) * (key == KeyPosition.Running ? battery.RunningVolts : battery.Volts);

    /// <summary>Whether a pulled relay would let go if its contact were open.</summary>
    private bool Holds(RelayCoil relay, Situation situation, AgreedState agreed)
    {
        var index = circuit.Relays.IndexOf(relay);
        var released = agreed.States with { Pulled = agreed.States.Pulled.SetItem(index, false) };
        var session = agreed.Session.Copy();
        circuit.Apply(session, situation, released);
        var open = session.Solve(currents: false);
        return open.Holds && Math.Abs(open.Volts[relay.Plus] - open.Volts[relay.Minus]) < relay.Model.PullInVolts;
    }
}
