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

    /// <summary>A point that less than this holds to the circuit, all paths together, floats, siemens.</summary>
    private const double LeastHold = 1e-8;

    /// <summary>Nodes that at least this joins float together or not at all, siemens.</summary>
    private const double Together = 1e-6;

    /// <summary>Where a probe moves what a transducer puts out by more than this, everything is solved again, volts.</summary>
    private const double MostLift = 0.02;

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
    private readonly Followers? followers;
    private CircuitSession? again;

    internal ProbeAnswers(LoomCircuit loom, StateSolver solver, Situation situation, AgreedState state)
    {
        (this.loom, this.solver, this.situation, this.state) = (loom, solver, situation, state);
        session = state.Session.Copy();
        own = session.OwnResistances();
        supplyColumn = loom.Supply >= 0 ? session.Column(loom.Supply, loom.Reference) : new double[own.Length];
        followers = Followers.Of(loom, session);
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
        ProbeVolts[] meters = [.. AllOf(net, MeterOhms, false)];
        LampShows[] grounds = [.. AllOf(net, lampOhms, false).Select(Lamp)];
        LampShows[] supplies = loom.Supply < 0 ? new LampShows[net.Count] : [.. AllOf(net, lampOhms, true).Select(Lamp)];
        return net.Select((x, i) => (x.Point, Bare(x.Node) with { Shows = new(meters[i].Volts, meters[i].Least, meters[i].Most, grounds[i], supplies[i], Own(x.Node)) }));
    }

    /// <summary>Volts across one kind of probe, from the point to 0 V or from the supply to the point, at each point of a net: the first decides what has to be solved for all.</summary>
    private IEnumerable<ProbeVolts> AllOf(IReadOnlyList<(ProbePoint Point, int Node)> net, double ohms, bool toSupply)
    {
        if (Bent(Port(net[0].Node, ohms, toSupply)) is { } bent)
        {
            ProbeEffect?[] effects = [.. net.Select(x => diodes.Of(Port(x.Node, ohms, toSupply), bent))];
            if (!effects.Contains(null))
            {
                return effects.Select(e => ProbeVolts.Steady(e!.Amps * ohms));
            }
        }

        return Again(net, ohms, toSupply);
    }

    /// <summary>The probe as it is seen from the state without it.</summary>
    private ProbePort Port(int node, double ohms, bool toSupply) => toSupply
        ? new(loom.Supply, node, Volts[loom.Supply] - Volts[node], Math.Max(0, Own(node) + Own(loom.Supply) - (2 * At(supplyColumn, node)) - Extra(node, loom.Supply) - Extra(loom.Supply, node)), 1 / ohms)
        : new(node, loom.Reference, Volts[node], Own(node), 1 / ohms);

    /// <summary>The diodes that a probe bends; null when it moves a device, so that everything has to be solved again.</summary>
    private int[]? Bent(ProbePort port)
    {
        if (!state.Stays || (followers is not null && Math.Abs(port.Amps) * followers.MostLift(port.From, port.To) > MostLift))
        {
            return null;
        }

        if (port.MostMoved < quiet)
        {
            return [];
        }

        session.Column(port.From, port.To, loom.LookedAt, column);
        return diodes.Of(port, column) is { } effect && solver.Agree(state.States, at => Volts[at] + diodes.MovedAt(effect, column, at))
            ? effect.Diodes
            : null;
    }

    private bool Holds(int node) => loom.Circuit.UnknownOf(node) is var u && (u < 0 || held[u]);

    private double Own(int node) => At(own, node) + Extra(node, node);

    private double Extra(int at, int ampere) => followers?.Extra(at, ampere) ?? 0;

    private (double Least, double Most) Swing(int node)
    {
        var (least, most) = (Volts[node], Volts[node]);
        foreach (var (_, solution) in state.Ring)
        {
            (least, most) = (Math.Min(least, solution.Volts[node]), Math.Max(most, solution.Volts[node]));
        }

        return (least, most);
    }

    /// <summary>A lamp that flickers is told as it is at its brightest.</summary>
    private LampShows Lamp(ProbeVolts across)
    {
        var (least, most) = (Math.Min(Math.Abs(across.Least), Math.Abs(across.Most)), Math.Max(Math.Abs(across.Least), Math.Abs(across.Most)));
        var share = most / loom.Loom.SupplyVolts;
        return new(share >= 0.7 ? Glow.Bright : share >= 0.3 ? Glow.Dim : Glow.Dark, most, across.Flickers, least);
    }

    private double At(double[] byPlace, int node) => loom.Circuit.PlaceOf(node) is >= 0 and var place ? byPlace[place] : 0;

    /// <summary>Volts across the probe at each point of a net with everything solved again around it; each goes on where the one before ended.</summary>
    private IEnumerable<ProbeVolts> Again(IReadOnlyList<(ProbePoint Point, int Node)> net, double ohms, bool toSupply)
    {
        AgreedState? at = null;
        foreach (var (_, node) in net)
        {
            at ??= Afresh();
            var found = solver.Continue(situation, at, new Probe(node, 1 / ohms, toSupply ? loom.Supply : null));
            // One that chatters or has no state leaves the session in the middle of something.
            at = found.Stays && found.Solution.Holds ? found : null;
            double Across(double[] volts) => toSupply ? volts[loom.Supply] - volts[node] : volts[node];
            if (!found.Solution.Holds)
            {
                yield return new(0, 0, 0, true);
            }
            else if (found.Stays)
            {
                yield return ProbeVolts.Steady(Across(found.Solution.Volts));
            }
            else
            {
                var all = found.Ring.Select(r => Across(r.Solution.Volts)).ToList();
                yield return new(all.Average(), all.Min(), all.Max(), all.Max() - all.Min() > LeastFlicker);
            }
        }
    }

    /// <summary>A probe that swings by less than this is steady, volts.</summary>
    private const double LeastFlicker = 0.1;

    /// <summary>Volts across a probe.</summary>
    /// <param name="Volts">Steady, or the mean of the moments of something that chatters.</param>
    private readonly record struct ProbeVolts(double Volts, double Least, double Most, bool Flickers)
    {
        internal static ProbeVolts Steady(double volts) => new(volts, volts, volts, false);
    }

    /// <summary>The state without a probe, in a session that may be changed.</summary>
    private AgreedState Afresh()
    {
        again ??= state.Session.Copy();
        again.TakeOver(state.Session);
        return state with { Session = again };
    }

    /// <summary>Unknowns that the circuit holds to 0 V: all paths together count, and the leaks of the nodes themselves do not.</summary>
    private bool[] Held()
    {
        var circuit = loom.Circuit;
        int[] cluster = [.. Enumerable.Range(0, own.Length + 1)];
        int Root(int at)
        {
            while (cluster[at] != at)
            {
                at = cluster[at] = cluster[cluster[at]];
            }

            return at;
        }

        void Join(int from, int to) => cluster[Root(circuit.UnknownOf(from) + 1)] = Root(circuit.UnknownOf(to) + 1);
        for (var i = 0; i < circuit.Branches.Length; i++)
        {
            if (circuit.Branches[i].Fixed || session.Siemens[i] >= Together)
            {
                Join(circuit.Branches[i].From, circuit.Branches[i].To);
            }
        }

        for (var j = 0; j < circuit.Junctions.Length; j++)
        {
            if (session.JunctionLine(j).Siemens >= Together)
            {
                Join(circuit.Junctions[j].From, circuit.Junctions[j].To);
            }
        }

        var nodes = new int[own.Length + 1];
        for (var u = 0; u < own.Length; u++)
        {
            nodes[Root(u + 1)] += circuit.NodesOf(u);
        }

        var ground = Root(0);
        return
        [
            .. Enumerable.Range(0, own.Length).Select(u => Root(u + 1) is var at
                && (at == ground || (1 / own[circuit.Elimination.PositionOf(u)]) - (nodes[at] * Circuit.Leak) >= LeastHold)),
        ];
    }
}
