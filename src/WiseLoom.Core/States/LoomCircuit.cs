using System.Collections.Immutable;
using WiseLoom.Core.Circuits;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.States;

/// <summary>What a branch of the circuit is in a situation.</summary>
internal delegate (double Siemens, double Emf) BranchValue(Situation situation, DeviceStates states);

/// <summary>Whose state a branch depends on, apart from the situation.</summary>
/// <param name="Index">Which of its kind.</param>
internal readonly record struct Mover(MoverKind Kind, int Index)
{
    internal static Mover None => new(MoverKind.None, 0);
}

/// <summary>A kind of device that is one way or another.</summary>
internal enum MoverKind
{
    None,
    Relay,
    Controller,
    Load,
}

/// <summary>A loom with everything that is plugged into it, as a circuit; parts at their nominal values.</summary>
/// <remarks>0 V is the negative pole of the first battery. A device with one pin returns through the engine's metal (the case),
/// which is 0 V itself unless a <c>cable</c> says what it is bolted to.</remarks>
internal sealed class LoomCircuit
{
    /// <summary>Name of the engine's metal; no name in a file can be it.</summary>
    internal const string Case = "(case)";

    /// <summary>Least resistance of a contact that opens and closes, ohms: a switch of 0 Ω is one of 1 µΩ.</summary>
    private const double LeastContactOhms = 1e-6;

    private readonly Circuit.Builder build = new();
    private readonly List<(int Branch, BranchValue Value)> varying = [];
    private readonly Dictionary<Mover, List<int>> moved = [];
    private readonly List<(int Branch, double Siemens)> constant = [];
    private readonly Dictionary<string, int> wireBranch = new(StringComparer.Ordinal);
    private readonly List<string> notes = [];
    private readonly bool caseIsBolted;
    private readonly int conductors;
    private List<(int, int)>[]? beside;

    private LoomCircuit(AsBuilt built, double ambientC)
    {
        var loom = built.Drawn;
        (Loom, AmbientC) = (loom, ambientC);
        caseIsBolted = loom.Devices.Any(d => d.Model is CableModel { ToCase: true });
        foreach (var point in loom.ProbePoints())
        {
            build.Node(point.ToString());
        }

        var batteries = loom.Devices.Where(d => d.Model is BatteryModel).ToList();
        Reference = batteries.Count > 0 && batteries[0].Joint("-") is { } minus ? build.Node(minus) : build.Node(Case);
        foreach (var metal in built.Conductors)
        {
            wireBranch.TryAdd(metal.Label, Part(metal.From, metal.To, metal.Ohm, metal.Label));
        }

        conductors = built.Conductors.Length;
        foreach (var open in loom.Wires.Where(w => !wireBranch.ContainsKey(w.Id)))
        {
            wireBranch[open.Id] = build.Branch(build.Node(open.From.Text), build.Node(open.To.Text), open.Id);
        }

        var parts = new DeviceParts(this);
        foreach (var device in loom.Devices)
        {
            parts.Add(device);
        }

        if (batteries.Count == 0)
        {
            notes.Add("No battery is in this loom: nothing in it has a voltage of its own.");
        }
        else
        {
            Supply = batteries[0].Joint("+") is { } plus ? build.Node(plus) : build.Node($"{batteries[0].Ref}#+");
        }

        if (EstimatedCopper.InWords(loom) is { } estimated)
        {
            notes.Add(estimated);
        }

        Circuit = build.Done(Reference);
        LookedAt = Circuit.Reach(Circuit.Junctions.SelectMany(j => new[] { j.From, j.To })
            .Concat(Relays.SelectMany(r => new[] { r.Plus, r.Minus }))
            .Concat(Controllers.SelectMany(c => c.Supplies.Select(s => s.Node).Concat(c.Wakes).Append(c.Ground)))
            .Concat(Loads.SelectMany(l => new[] { l.Plus, l.Minus })));
        if (Circuit.RingLabels.ToList() is { Count: > 0 } rings)
        {
            notes.Add($"{string.Join(", ", rings)}: parts of 0 Ω close a ring; how a current divides in it cannot be known, and equal shares are shown.");
        }
    }

    internal Loom Loom { get; }

    internal double AmbientC { get; }

    internal Circuit Circuit { get; }

    /// <summary>Node that is 0 V.</summary>
    internal int Reference { get; }

    /// <summary>Node of the first battery's positive pole; −1 without a battery.</summary>
    internal int Supply { get; } = -1;

    /// <summary>Places in the order, closed under later neighbours, at which diodes and devices look at a voltage.</summary>
    internal int[] LookedAt { get; }

    /// <summary>Branches that are batteries.</summary>
    internal HashSet<int> Batteries { get; } = [];

    internal List<RelayCoil> Relays { get; } = [];

    internal List<ControllerInCircuit> Controllers { get; } = [];

    internal List<LoadInCircuit> Loads { get; } = [];

    internal List<TransducerInCircuit> Transducers { get; } = [];

    /// <summary>What could not be taken into the circuit, and what is odd in it, in words.</summary>
    internal IReadOnlyList<string> Notes => notes;

    internal static LoomCircuit Of(AsBuilt built, double ambientC) => new(built, ambientC);

    /// <summary>The branch of a wire.</summary>
    internal int BranchOf(string wire) => wireBranch[wire];

    /// <summary>What is joined to a node: the other node, and the branch.</summary>
    internal IReadOnlyList<(int Node, int Branch)> Beside(int node) => (beside ??= Neighbours())[node];

    /// <summary>Whether a branch is metal of the loom itself: they come before all parts of devices.</summary>
    internal bool IsMetal(int branch) => branch < conductors;

    private List<(int, int)>[] Neighbours()
    {
        var all = new List<(int, int)>[Circuit.Names.Length];
        for (var i = 0; i < all.Length; i++)
        {
            all[i] = [];
        }

        foreach (var (branch, i) in Circuit.Branches.Select((b, i) => (b, i)))
        {
            all[branch.From].Add((branch.To, i));
            all[branch.To].Add((branch.From, i));
        }

        return all;
    }

    /// <summary>A session with all that never changes in it.</summary>
    internal CircuitSession Begin()
    {
        var session = new CircuitSession(Circuit);
        foreach (var (branch, siemens) in constant)
        {
            session.Set(branch, siemens, 0);
        }

        return session;
    }

    /// <summary>Puts a situation into a session.</summary>
    internal void Apply(CircuitSession session, Situation situation, DeviceStates states)
    {
        foreach (var (branch, value) in varying)
        {
            Set(session, branch, value, situation, states);
        }
    }

    /// <summary>Moves devices in a session that holds the same situation.</summary>
    internal void Apply(CircuitSession session, Situation situation, DeviceStates states, DeviceStates before)
    {
        void Changed(MoverKind kind, ImmutableArray<bool> was, ImmutableArray<bool> now)
        {
            for (var i = 0; i < now.Length; i++)
            {
                if (was[i] != now[i] && moved.TryGetValue(new(kind, i), out var parts))
                {
                    foreach (var part in parts)
                    {
                        Set(session, varying[part].Branch, varying[part].Value, situation, states);
                    }
                }
            }
        }

        Changed(MoverKind.Relay, before.Pulled, states.Pulled);
        Changed(MoverKind.Controller, before.Awake, states.Awake);
        Changed(MoverKind.Load, before.AtWork, states.AtWork);
    }

    private static void Set(CircuitSession session, int branch, BranchValue value, Situation situation, DeviceStates states)
    {
        var (siemens, emf) = value(situation, states);
        session.Set(branch, siemens, emf);
    }

    internal DeviceStates AtRest() => new(
        [.. Enumerable.Repeat(false, Relays.Count)], [.. Enumerable.Repeat(false, Controllers.Count)], [.. Enumerable.Repeat(false, Loads.Count)]);

    internal int Node(string name) => build.Node(name);

    /// <summary>The node of a device's pin: its cavity, or a place of its own when the file does not connect it.</summary>
    internal int PinNode(Device device, string role) => device.Joint(role) is { } joint ? build.Node(joint) : build.Node($"{device.Ref}#{role}");

    /// <summary>The node of the second terminal of a two-terminal device, which may be its metal.</summary>
    internal int PinOrCase(Device device, string role) => device.Joint(role) is { } joint ? build.Node(joint) : CaseNode();

    internal int CaseNode() => caseIsBolted ? build.Node(Case) : Reference;

    internal void Note(string note) => notes.Add(note);

    /// <summary>A part that never changes; 0 Ω makes it ideal.</summary>
    internal int Part(string from, string to, double ohms, string label) => Part(build.Node(from), build.Node(to), ohms, label);

    internal int Part(int from, int to, double ohms, string label)
    {
        var ideal = ohms <= 0;
        var branch = build.Branch(from, to, label, ideal);
        if (!ideal)
        {
            constant.Add((branch, 1 / ohms));
        }

        return branch;
    }

    /// <summary>A part that the situation changes.</summary>
    internal int Varying(int from, int to, string label, Mover mover, BranchValue value)
    {
        var branch = build.Branch(from, to, label);
        varying.Add((branch, value));
        if (mover.Kind != MoverKind.None)
        {
            if (!moved.TryGetValue(mover, out var parts))
            {
                moved.Add(mover, parts = []);
            }

            parts.Add(varying.Count - 1);
        }

        return branch;
    }

    /// <summary>A source with nothing in series.</summary>
    internal int IdealSource(int from, int to, string label, BranchValue value)
    {
        var branch = build.Branch(from, to, label, ideal: true);
        varying.Add((branch, value));
        return branch;
    }

    /// <summary>A contact that is closed or open.</summary>
    internal int Contact(int from, int to, string label, double ohms, Mover mover, Func<Situation, DeviceStates, bool> closed)
    {
        var siemens = 1 / Math.Max(ohms, LeastContactOhms);
        return Varying(from, to, label, mover, (situation, states) => (closed(situation, states) ? siemens : 0, 0));
    }

    internal void Junction(int anode, int cathode, DiodeModel model, string label) => build.Junction(anode, cathode, model, label);
}

/// <summary>A relay's coil in the circuit.</summary>
internal sealed record RelayCoil(Device Device, RelayModel Model, int Plus, int Minus);

/// <summary>A controller's pins in the circuit.</summary>
/// <param name="Ground">Its inner ground.</param>
internal sealed record ControllerInCircuit(Device Device, ControllerModel Model, int Ground, ImmutableArray<(string Name, ControllerPin Pin, int Node, int Branch)> Pins)
{
    /// <summary>Supply pins: node, and whether it is awake only with this one.</summary>
    internal ImmutableArray<(int Node, bool Needed)> Supplies { get; } = [.. Pins.Where(p => p.Pin.Role == ControllerRole.Supply).Select(p => (p.Node, p.Pin.Needed))];

    /// <summary>Nodes of wake pins.</summary>
    internal ImmutableArray<int> Wakes { get; } = [.. Pins.Where(p => p.Pin.Role == ControllerRole.Wake).Select(p => p.Node)];
}

/// <summary>A load in the circuit.</summary>
/// <param name="WorksFrom">Volts.</param>
internal sealed record LoadInCircuit(Device Device, LoadModel Model, int Plus, int Minus, int Branch, double WorksFrom);

/// <summary>A transducer's output in the circuit: a source of a share of its supply.</summary>
internal sealed record TransducerInCircuit(Device Device, TransducerModel Model, int Supply, int Ground, int Signal, int Branch)
{
    /// <summary>What it puts out, as a share of its supply.</summary>
    internal double Share => Model.RestVolts / Model.ReferenceVolts;
}
