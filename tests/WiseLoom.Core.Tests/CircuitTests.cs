using CsCheck;
using WiseLoom.Core.Circuits;
using WiseLoom.Core.Devices;

namespace WiseLoom.Core.Tests;

/// <summary>Laws of operating points on arbitrary networks, and circuits one can work out by hand.</summary>
public sealed class CircuitTests
{
    /// <summary>A network: resistances of a tree and across it, sources in series with some, diodes.</summary>
    private sealed record Network(int Nodes, (int From, int To, double Ohms, double Emf)[] Parts, (int Anode, int Cathode)[] Diodes);

    private static readonly Gen<Network> Linear = Networks(0);

    private static readonly Gen<Network> WithDiodes = Networks(4);

    [Fact]
    public void Currents_add_up_to_nothing_at_every_node() => WithDiodes.Sample(network =>
    {
        var (circuit, solution) = Solve(network);
        solution.Settled.ShouldBeTrue();
        var sum = new double[circuit.Names.Length];
        for (var node = 0; node < sum.Length; node++)
        {
            sum[node] = node == circuit.Reference ? 0 : Circuit.Leak * solution.Volts[node];
        }

        for (var i = 0; i < circuit.Branches.Length; i++)
        {
            sum[circuit.Branches[i].From] += solution.Amps[i];
            sum[circuit.Branches[i].To] -= solution.Amps[i];
        }

        for (var j = 0; j < circuit.Junctions.Length; j++)
        {
            sum[circuit.Junctions[j].From] += solution.JunctionAmps[j];
            sum[circuit.Junctions[j].To] -= solution.JunctionAmps[j];
        }

        sum.Where((_, node) => node != circuit.Reference).ShouldAllBe(amps => Math.Abs(amps) < 1e-9);
    });

    /// <summary>A network in which two blocked diodes once trembled for ever by what a conducting one rounded off.</summary>
    [Fact]
    public void What_only_trembles_by_rounding_is_settled() => WithDiodes.Sample(network => Solve(network).Solution.Settled.ShouldBeTrue(), seed: "0UJAk8kUset3", iter: 1);

    [Fact]
    public void Every_part_obeys_its_law() => WithDiodes.Sample(network =>
    {
        var (circuit, solution) = Solve(network);
        for (var i = 0; i < network.Parts.Length; i++)
        {
            var (from, to, ohms, emf) = network.Parts[i];
            (solution.Amps[i] * ohms).ShouldBe(solution.Volts[from] - solution.Volts[to] - emf, 1e-9);
        }

        for (var j = 0; j < network.Diodes.Length; j++)
        {
            // Shockley with its series resistance, written out once more.
            var (across, amps) = (solution.Volts[network.Diodes[j].Anode] - solution.Volts[network.Diodes[j].Cathode], solution.JunctionAmps[j]);
            var expected = 1e-12 * (Math.Exp((across - (amps * 0.05)) / (1.8 * 0.02585)) - 1);
            amps.ShouldBe(expected, 1e-12 + (1e-6 * Math.Abs(expected)));
        }
    });

    [Fact]
    public void Effects_of_sources_add_where_there_is_no_diode() => Linear.Sample(network =>
    {
        var all = Solve(network).Solution.Volts;
        var sum = new double[all.Length];
        for (var i = 0; i < network.Parts.Length; i++)
        {
            var kept = i;
            var only = network with { Parts = [.. network.Parts.Select((p, n) => n == kept ? p : p with { Emf = 0 })] };
            var part = Solve(only).Solution.Volts;
            for (var node = 0; node < sum.Length; node++)
            {
                sum[node] += part[node];
            }
        }

        for (var node = 0; node < sum.Length; node++)
        {
            sum[node].ShouldBe(all[node], 1e-8);
        }
    });

    [Fact]
    public void Other_names_and_another_order_change_nothing() => Gen.Select(WithDiodes, Gen.Int[0, 1_000_000]).Sample((network, seed) =>
    {
        var names = Enumerable.Range(0, network.Nodes).ToArray();
        new Random(seed).Shuffle(names.AsSpan(1));
        var (parts, diodes) = (network.Parts.Select(p => (names[p.From], names[p.To], p.Ohms, p.Emf)).ToArray(), network.Diodes.Select(d => (names[d.Anode], names[d.Cathode])).ToArray());
        new Random(seed).Shuffle(parts);
        var (before, after) = (Solve(network).Solution, Solve(new(network.Nodes, parts, diodes)).Solution);
        for (var node = 0; node < network.Nodes; node++)
        {
            after.Volts[names[node]].ShouldBe(before.Volts[node], 1e-8);
        }
    });

    [Fact]
    public void A_session_that_follows_changes_ends_where_a_fresh_one_begins() => Gen.Select(WithDiodes, Gen.Double[1e-3, 1e6].Array[30], Gen.Int[0, 40]).Sample((network, ohms, which) =>
    {
        var circuit = Build(network);
        var session = Session(circuit, network);
        session.Solve();
        foreach (var (r, i) in ohms.Select((r, i) => (r, i % network.Parts.Length)))
        {
            session.Set(i, i == which % network.Parts.Length ? 0 : 1 / r, network.Parts[i].Emf);
            session.Solve(currents: false);
        }

        // Back to what it was, after everything else.
        for (var i = 0; i < network.Parts.Length; i++)
        {
            session.Set(i, 1 / network.Parts[i].Ohms, network.Parts[i].Emf);
        }

        var (followed, fresh) = (session.Solve(), Session(circuit, network).Solve());
        for (var node = 0; node < network.Nodes; node++)
        {
            followed.Volts[node].ShouldBe(fresh.Volts[node], 1e-8);
        }
    });

    [Fact]
    public void What_stands_behind_a_node_is_what_an_ampere_lifts_it_by() => Linear.Sample(network =>
    {
        var circuit = Build(network);
        var session = Session(circuit, network);
        session.Solve();
        var own = session.OwnResistances();
        for (var node = 1; node < network.Nodes; node++)
        {
            var place = circuit.PlaceOf(node);
            own[place].ShouldBe(session.Column(node, circuit.Reference)[place], 1e-9 * own[place]);
        }
    });

    [Fact]
    public void What_is_asked_for_at_some_places_only_is_what_the_whole_answer_has_there() => Linear.Sample(network =>
    {
        var circuit = Build(network);
        var session = Session(circuit, network);
        session.Solve();
        for (var (from, to) = (0, network.Nodes - 1); from < to; from++)
        {
            var wanted = circuit.Reach([(from + 1) % network.Nodes]);
            var some = Enumerable.Repeat(7.0, circuit.Elimination.Count).ToArray();
            session.Column(from, to, wanted, some);
            var all = session.Column(from, to);
            foreach (var place in wanted)
            {
                some[place].ShouldBe(all[place], 1e-12 * (1 + Math.Abs(all[place])));
            }
        }
    });

    [Fact]
    public void A_divider_a_diode_drop_and_an_ideal_battery_are_as_by_hand()
    {
        var build = new Circuit.Builder();
        int ground = build.Node("0"), plus = build.Node("+"), middle = build.Node("m"), anode = build.Node("a");
        build.Branch(plus, ground, "battery", ideal: true);
        build.Branch(plus, middle, "upper");
        build.Branch(middle, ground, "lower");
        build.Branch(plus, anode, "series");
        build.Junction(anode, ground, DiodeModel.Usual, "diode");
        var session = new CircuitSession(build.Done(ground));
        session.Set(0, 0, 12);
        session.Set(1, 1.0 / 3000, 0);
        session.Set(2, 1.0 / 1000, 0);
        session.Set(3, 1.0 / 1000, 0);
        var solution = session.Solve();
        solution.Volts[middle].ShouldBe(3, 1e-5);

        // 12 V through 1 kΩ into a diode: I = (12 − V)/1000 and V = 0.04653·ln(I/1e-12 + 1) + 0.05·I: with I = 10.924 mA that is 1.0755 + 0.0005 V.
        solution.Volts[anode].ShouldBe(1.0761, 1e-4);
        solution.JunctionAmps[0].ShouldBe((12 - solution.Volts[anode]) / 1000, 1e-8);
        solution.Amps[0].ShouldBe(-(solution.Amps[1] + solution.Amps[3]), 1e-7);
    }

    [Fact]
    public void A_ring_of_ideal_parts_shares_its_current_and_contradicting_ones_have_no_state()
    {
        var build = new Circuit.Builder();
        int ground = build.Node("0"), plus = build.Node("+"), far = build.Node("far");
        build.Branch(plus, ground, "battery", ideal: true);
        build.Branch(plus, far, "first wire", ideal: true);
        build.Branch(plus, far, "second wire", ideal: true);
        build.Branch(far, ground, "load");
        var circuit = build.Done(ground);
        var session = new CircuitSession(circuit);
        session.Set(0, 0, 12);
        session.Set(3, 1.0 / 6, 0);
        var solution = session.Solve();
        solution.Amps[1].ShouldBe(1, 1e-7);
        solution.Amps[2].ShouldBe(1, 1e-7);
        circuit.RingLabels.ShouldBe(["second wire"]);

        session.Set(2, 0, 3);
        session.Solve().Conflict.ShouldBe(2);
    }

    private static Gen<Network> Networks(int diodes) =>
        from nodes in Gen.Int[2, 14]
        from tree in Gen.Int[0, 1000].Array[nodes - 1]
        from across in Gen.Select(Gen.Int[0, nodes - 1], Gen.Int[0, nodes - 1]).Array[0, 10]
        from tens in Gen.Double[-3, 5].Array[nodes + 9]
        from emf in Gen.Frequency((3, Gen.Const(0.0)), (1, Gen.Double[-14, 14])).Array[nodes + 9]
        from junctions in Gen.Select(Gen.Int[0, nodes - 1], Gen.Int[0, nodes - 1]).Array[0, diodes]
        select new Network(
            nodes,
            [.. tree.Select((t, i) => (From: i + 1, To: t % (i + 1))).Concat(across.Where(x => x.Item1 != x.Item2).Select(x => (From: x.Item1, To: x.Item2)))
                .Select((e, i) => (e.From, e.To, Math.Pow(10, tens[i]), emf[i]))],
            [.. junctions.Where(j => j.Item1 != j.Item2)]);

    private static (Circuit Circuit, CircuitSolution Solution) Solve(Network network)
    {
        var circuit = Build(network);
        return (circuit, Session(circuit, network).Solve());
    }

    private static Circuit Build(Network network)
    {
        var build = new Circuit.Builder();
        for (var i = 0; i < network.Nodes; i++)
        {
            build.Node($"n{i}");
        }

        foreach (var (from, to, _, _) in network.Parts)
        {
            build.Branch(from, to, "part");
        }

        foreach (var (anode, cathode) in network.Diodes)
        {
            build.Junction(anode, cathode, DiodeModel.Usual, "diode");
        }

        return build.Done(0);
    }

    private static CircuitSession Session(Circuit circuit, Network network)
    {
        var session = new CircuitSession(circuit);
        for (var i = 0; i < network.Parts.Length; i++)
        {
            session.Set(i, 1 / network.Parts[i].Ohms, network.Parts[i].Emf);
        }

        return session;
    }
}
