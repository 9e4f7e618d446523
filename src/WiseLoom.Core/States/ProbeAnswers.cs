using System.Collections.Immutable;
using WiseLoom.Core.Circuits;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.States;

/// <summary>What a meter and a lamp show at each point of a state.</summary>
/// <remarks>What a probe changes is told from the state as it stands: a network of resistances as seen from the probe (Thévenin), and
/// the few diodes that bend under it. Where it moves a device, the whole state is solved again with the probe held there.</remarks>
internal sealed class ProbeAnswers
{
    /// <summary>A hand meter's input, ohms.</summary>
    internal const double MeterOhms = 10e6;

    /// <summary>A test lamp's power at the loom's own supply voltage, watts.</summary>
    internal const double LampWatts = 21;

    /// <summary>A path of less than this to the circuit leaves a point floating, siemens.</summary>
    private const double LeastHold = 1e-8;

    private readonly LoomCircuit loom;
    private readonly StateSolver solver;
    private readonly Situation situation;
    private readonly AgreedState state;
    private readonly CircuitSession session;
    private readonly double[] own;
    private readonly double[] supplyColumn;
    private readonly double lampOhms;
    private readonly bool[] held;
    private readonly BentDiodes diodes;
    private readonly double quiet;
    private readonly double[] column;
    private CircuitSession? again;

    internal ProbeAnswers(LoomCircuit loom, StateSolver solver, Situation situation, AgreedState state)
    {
        (this.loom, this.solver, this.situation, this.state) = (loom, solver, situation, state);
        session = state.Session.Copy();
        own = session.OwnResistances();
        supplyColumn = loom.Supply >= 0 ? session.Column(loom.Supply, loom.Reference) : new double[own.Length];
        lampOhms = loom.Loom.SupplyVolts * loom.Loom.SupplyVolts / LampWatts;
        held = Held();
        diodes = new(loom.Circuit, session, Volts);
        quiet = Math.Min(BentDiodes.StraightVolts, solver.LeastMargin(state.States, Volts));
        column = new double[own.Length];
    }

    private double[] Volts => state.Solution.Volts;

    /// <summary>The voltage of a point, without any probe.</summary>
    internal PointState Bare(int node)
    {
        var (least, most) = Holds(node) ? Swing(node) : (0, 0);
        return new(Holds(node) ? Volts[node] : null, least, most, null);
    }

    /// <summary>All points of one net of metal, with what probes show there.</summary>
    internal IEnumerable<(ProbePoint Point, PointState State)> Of(IReadOnlyList<(ProbePoint Point, int Node)> net)
    {
        double[] meters = [.. AllOf(net, MeterOhms, false).Select(x => x.Volts)];
        LampShows[] grounds = [.. AllOf(net, lampOhms, false).Select(Lamp)];
        LampShows[] supplies = loom.Supply < 0 ? new LampShows[net.Count] : [.. AllOf(net, lampOhms, true).Select(Lamp)];
        return net.Select((x, i) => (x.Point, Bare(x.Node) with { Shows = new(meters[i], grounds[i], supplies[i], Own(x.Node)) }));
    }

    /// <summary>Volts across one kind of probe, from the point to 0 V or from the supply to the point, at each point of a net: the first decides what has to be solved for all.</summary>
    private IEnumerable<(double Volts, bool Flickers)> AllOf(IReadOnlyList<(ProbePoint Point, int Node)> net, double ohms, bool toSupply)
    {
        if (Bent(Port(net[0].Node, ohms, toSupply)) is { } bent)
        {
            ProbeEffect?[] effects = [.. net.Select(x => diodes.Of(Port(x.Node, ohms, toSupply), bent))];
            if (!effects.Contains(null))
            {
                return effects.Select(e => (e!.Amps * ohms, false));
            }
        }

        return Again(net, ohms, toSupply);
    }

    /// <summary>The probe as it is seen from the state without it.</summary>
    private ProbePort Port(int node, double ohms, bool toSupply) => toSupply
        ? new(loom.Supply, node, Volts[loom.Supply] - Volts[node], Math.Max(0, Own(node) + Own(loom.Supply) - (2 * At(supplyColumn, node))), 1 / ohms)
        : new(node, loom.Reference, Volts[node], Own(node), 1 / ohms);

    /// <summary>The diodes that a probe bends; null when it moves a device, so that everything has to be solved again.</summary>
    private int[]? Bent(ProbePort port)
    {
        if (!state.Stays || port.MostMoved < quiet)
        {
            return [];
        }

        session.Column(port.From, port.To, loom.LookedAt, column);
        return diodes.Of(port, column) is { } effect && solver.Agree(state.States, at => Volts[at] + diodes.MovedAt(effect, column, at))
            ? effect.Diodes
            : null;
    }

    private bool Holds(int node) => loom.Circuit.UnknownOf(node) is var u && (u < 0 || held[u]);

    private double Own(int node) => At(own, node);

    private (double Least, double Most) Swing(int node)
    {
        var (least, most) = (Volts[node], Volts[node]);
        foreach (var (_, solution) in state.Ring)
        {
            (least, most) = (Math.Min(least, solution.Volts[node]), Math.Max(most, solution.Volts[node]));
        }

        return (least, most);
    }

    private LampShows Lamp((double Volts, bool Flickers) across)
    {
        var share = Math.Abs(across.Volts) / loom.Loom.SupplyVolts;
        return new(share >= 0.7 ? Glow.Bright : share >= 0.3 ? Glow.Dim : Glow.Dark, Math.Abs(across.Volts), across.Flickers);
    }

    private double At(double[] byPlace, int node) => loom.Circuit.PlaceOf(node) is >= 0 and var place ? byPlace[place] : 0;

    /// <summary>Volts across the probe at each point of a net with everything solved again around it; each goes on where the one before ended.</summary>
    private IEnumerable<(double Volts, bool Flickers)> Again(IReadOnlyList<(ProbePoint Point, int Node)> net, double ohms, bool toSupply)
    {
        AgreedState? at = null;
        foreach (var (_, node) in net)
        {
            at ??= Afresh();
            var found = solver.Continue(situation, at, new Probe(node, 1 / ohms, toSupply ? loom.Supply : null));
            // One that chatters or has no state leaves the session in the middle of something.
            at = found.Stays && found.Solution.Holds ? found : null;
            yield return !found.Solution.Holds ? (0, true)
                : (toSupply ? found.Solution.Volts[loom.Supply] - found.Solution.Volts[node] : found.Solution.Volts[node], !found.Stays);
        }
    }

    /// <summary>The state without a probe, in a session that may be changed.</summary>
    private AgreedState Afresh()
    {
        again ??= state.Session.Copy();
        again.TakeOver(state.Session);
        return state with { Session = again };
    }

    /// <summary>Unknowns from which something leads to 0 V.</summary>
    private bool[] Held()
    {
        var circuit = loom.Circuit;
        var near = new List<int>[own.Length + 1];
        for (var i = 0; i < near.Length; i++)
        {
            near[i] = [];
        }

        void Join(int from, int to)
        {
            var (a, b) = (circuit.UnknownOf(from) + 1, circuit.UnknownOf(to) + 1);
            near[a].Add(b);
            near[b].Add(a);
        }

        for (var i = 0; i < circuit.Branches.Length; i++)
        {
            if (circuit.Branches[i].Fixed || session.Siemens[i] >= LeastHold)
            {
                Join(circuit.Branches[i].From, circuit.Branches[i].To);
            }
        }

        for (var j = 0; j < circuit.Junctions.Length; j++)
        {
            if (session.JunctionLine(j).Siemens >= LeastHold)
            {
                Join(circuit.Junctions[j].From, circuit.Junctions[j].To);
            }
        }

        var reached = new bool[near.Length];
        reached[0] = true;
        var queue = new Queue<int>([0]);
        while (queue.TryDequeue(out var at))
        {
            foreach (var next in near[at])
            {
                if (!reached[next])
                {
                    reached[next] = true;
                    queue.Enqueue(next);
                }
            }
        }

        return reached[1..];
    }
}
