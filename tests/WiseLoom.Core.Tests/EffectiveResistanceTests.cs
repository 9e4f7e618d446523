using CsCheck;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>Laws of effective resistance, and values one can work out by hand.</summary>
public sealed class EffectiveResistanceTests
{
    private const double Close = 1e-9;

    /// <summary>Connected graphs of 2 to 12 nodes, some with loops and doubled edges, each edge with its limits.</summary>
    private static readonly Gen<(int Nodes, (int A, int B, double Ohm)[] Edges)> Graphs =
        from nodes in Gen.Int[2, 12]
        from tree in Gen.Int[0, 1000].Array[nodes - 1]
        from across in Gen.Select(Gen.Int[0, nodes - 1], Gen.Int[0, nodes - 1]).Array[0, 14]
        from ohms in Gen.Double[1e-3, 1e3].Array[nodes - 1 + 14]
        select (nodes, tree.Select((t, i) => (A: t % (i + 1), B: i + 1)).Concat(across.Where(x => x.Item1 != x.Item2).Select(x => (A: x.Item1, B: x.Item2)))
            .Select((e, i) => (e.A, e.B, ohms[i])).ToArray());

    [Theory]
    [InlineData("A:1", "B:1", "W1 S1 W2")]
    [InlineData("C:1", "B:1", "W3 S1 W2")]
    [InlineData("D:1", "E:1", "W5")]
    [InlineData("A:1", "D:1", "")]
    [InlineData("A:1", "A:1", "")]
    public void The_way_between_two_points_names_its_wires_and_splices_in_order(string from, string to, string way) =>
        string.Join(' ', WireGraph.Topology(Looms.Of("A:1-S1", "S1-B:1", "S1-C:1", "D:1-E:1@5000", "E:1-D:1@500")).Way(ProbePoint.Parse(from), ProbePoint.Parse(to))).ShouldBe(way);

    [Fact]
    public void It_is_the_same_from_either_end_zero_to_itself_and_never_longer_by_a_detour() => Graphs.Sample(g =>
    {
        var net = NetOf(g.Edges);
        for (var a = 0; a < g.Nodes; a++)
        {
            Ohms(net, a, a).ShouldBe(0);
            for (var b = 0; b < g.Nodes; b++)
            {
                Ohms(net, a, b).ShouldBe(Ohms(net, b, a));
                for (var c = 0; c < g.Nodes; c++)
                {
                    Ohms(net, a, c).ShouldBeLessThanOrEqualTo((Ohms(net, a, b) + Ohms(net, b, c)) * (1 + Close));
                }
            }
        }
    });

    [Fact]
    public void It_agrees_with_plain_elimination_on_the_laplacian() => Graphs.Sample(g =>
    {
        var net = NetOf(g.Edges);
        for (var b = 1; b < g.Nodes; b++)
        {
            (Ohms(net, 0, b) / ByElimination(g.Nodes, g.Edges, b)).ShouldBe(1, 1e-7);
        }
    });

    [Fact]
    public void It_never_falls_when_a_resistance_rises() => Gen.Select(Graphs, Gen.Int[0, 10_000], Gen.Double[1, 50]).Sample((g, which, factor) =>
    {
        var raised = g.Edges.ToArray();
        raised[which % raised.Length].Ohm *= factor;
        var (before, after) = (NetOf(g.Edges), NetOf(raised));
        for (var b = 1; b < g.Nodes; b++)
        {
            Ohms(after, 0, b).ShouldBeGreaterThanOrEqualTo(Ohms(before, 0, b) * (1 - Close));
        }
    });

    [Fact]
    public void The_limits_are_reached_at_the_corners_and_hold_everything_between() => Gen.Select(Graphs, Gen.Double[0, 1].Array[40]).Sample((g, towards) =>
    {
        OhmRange Wide(double ohm) => new(0.9 * ohm, ohm, 1.3 * ohm);
        var limits = NetOf(g.Edges.Select(e => (e.A, e.B, Wide(e.Ohm))));
        var least = NetOf(g.Edges.Select(e => (e.A, e.B, e.Ohm * 0.9)).ToArray());
        var most = NetOf(g.Edges.Select(e => (e.A, e.B, e.Ohm * 1.3)).ToArray());
        var some = NetOf(g.Edges.Select((e, i) => (e.A, e.B, e.Ohm * (0.9 + (0.4 * towards[i])))).ToArray());
        var range = limits.Between(Point(0), Point(g.Nodes - 1));
        (range.Min / Ohms(least, 0, g.Nodes - 1)).ShouldBe(1, Close);
        (range.Max / Ohms(most, 0, g.Nodes - 1)).ShouldBe(1, Close);
        Ohms(some, 0, g.Nodes - 1).ShouldBeInRange(range.Min * (1 - Close), range.Max * (1 + Close));
    });

    [Fact]
    public void It_does_not_depend_on_names_or_on_the_order_of_wires() => Gen.Select(Graphs, Gen.Int[1, 1000]).Sample((g, seed) =>
    {
        var random = new Random(seed);
        var renamed = Enumerable.Range(0, g.Nodes).ToArray();
        random.Shuffle(renamed);
        var shuffled = g.Edges.Select(e => (renamed[e.B], renamed[e.A], e.Ohm)).ToArray();
        random.Shuffle(shuffled);
        var (one, other) = (NetOf(g.Edges), NetOf(shuffled));
        for (var b = 1; b < g.Nodes; b++)
        {
            (Ohms(other, renamed[0], renamed[b]) / Ohms(one, 0, b)).ShouldBe(1, Close);
        }
    });

    [Fact]
    public void What_the_parts_contribute_adds_up_to_the_whole() => Graphs.Sample(g =>
    {
        var net = NetOf(g.Edges);
        var parts = net.Explain(Point(0), Point(g.Nodes - 1));
        (parts.Sum(p => p.Ohms) / Ohms(net, 0, g.Nodes - 1)).ShouldBe(1, 1e-6);
        parts.ShouldAllBe(p => p.Share <= 1 + Close);
    });

    [Fact]
    public void A_balanced_bridge_reads_as_if_its_middle_were_not_there()
    {
        var net = NetOf([(0, 1, 1.0), (0, 2, 1.0), (1, 3, 1.0), (2, 3, 1.0), (1, 2, 7.0)]);

        Ohms(net, 0, 3).ShouldBe(1, 1e-12);
        net.Explain(Point(0), Point(3)).ShouldNotContain(p => p.Label == "e4");
    }

    [Fact]
    public void A_cube_of_one_ohm_edges_reads_five_sixths_corner_to_corner()
    {
        var edges = from a in Enumerable.Range(0, 8) from bit in new[] { 1, 2, 4 } where (a & bit) == 0 select (a, a | bit, 1.0);

        Ohms(NetOf([.. edges]), 0, 7).ShouldBe(5.0 / 6, 1e-12);
    }

    [Fact]
    public void Zero_ohm_wires_join_two_points_into_one()
    {
        var net = NetOf([(0, 1, 0.0), (1, 2, 3.0), (2, 3, 0.0), (0, 3, 6.0)]);

        Ohms(net, 0, 1).ShouldBe(0);
        Ohms(net, 1, 2).ShouldBe(2, 1e-12);
        Ohms(net, 0, 3).ShouldBe(2, 1e-12);
    }

    [Fact]
    public void A_kilometre_of_feeder_costs_no_digits_of_the_millimetres_behind_it()
    {
        var net = NetOf([(0, 1, 1e4), (1, 2, 1e-4), (2, 3, 2e-4)]);

        Ohms(net, 1, 3).ShouldBe(3e-4, 1e-11);
    }

    [Fact]
    public void Points_of_two_nets_are_apart()
    {
        var table = ExpectationTable.For(Looms.Of("A:1-B:1", "A:2-B:2"), 20, CopperTolerance.Usual);

        table.Between(new("A", "1"), new("B", "2")).ShouldBeNull();
        table.Between(new("A", "1"), new("A", "3")).ShouldBeNull();
        Should.Throw<ArgumentException>(() => table.Nets.First().Between(new("A", "1"), new("B", "2"))).Message.ShouldContain("apart");
    }

    [Fact]
    public void Every_pair_of_a_net_is_in_the_table_once()
    {
        var pairs = ExpectationTable.For(Looms.Of("A:1-S1", "S1-B:1", "S1-C:1", "S1-C:2", "A:5-B:5"), 20, CopperTolerance.Usual).Pairs().ToList();

        pairs.Count.ShouldBe(6 + 1);
        pairs.Select(p => (p.A, p.B)).ShouldBeUnique();
    }

    private static ProbePoint Point(int node) => new("N", $"{node + 1}");

    private static double Ohms(Net net, int a, int b) => net.Between(Point(a), Point(b), Corner.Nominal);

    private static Net NetOf((int A, int B, double Ohm)[] edges) => NetOf(edges.Select(e => (e.A, e.B, OhmRange.Exactly(e.Ohm))));

    private static Net NetOf(IEnumerable<(int A, int B, OhmRange Ohm)> edges)
    {
        var build = new WireGraph.Builder();
        foreach (var (edge, i) in edges.Select((e, i) => (e, i)))
        {
            build.Edge(Point(edge.A).ToString(), Point(edge.B).ToString(), edge.Ohm, $"e{i}");
        }

        return build.Done().Nets.ShouldHaveSingleItem();
    }

    /// <summary>One ampere in at <paramref name="b"/>, out at node 0, by Gauss on the grounded Laplacian with pivoting.</summary>
    private static double ByElimination(int nodes, (int A, int B, double Ohm)[] edges, int b)
    {
        var n = nodes - 1;
        var m = new double[n, n + 1];
        foreach (var (from, to, ohm) in edges)
        {
            foreach (var (i, j) in new[] { (from, to), (to, from) })
            {
                if (i > 0)
                {
                    m[i - 1, i - 1] += 1 / ohm;
                    if (j > 0)
                    {
                        m[i - 1, j - 1] -= 1 / ohm;
                    }
                }
            }
        }

        m[b - 1, n] = 1;
        for (var k = 0; k < n; k++)
        {
            var pivot = Enumerable.Range(k, n - k).MaxBy(r => Math.Abs(m[r, k]));
            for (var c = 0; c <= n; c++)
            {
                (m[k, c], m[pivot, c]) = (m[pivot, c], m[k, c]);
            }

            for (var r = 0; r < n; r++)
            {
                var factor = r == k ? 0 : m[r, k] / m[k, k];
                for (var c = k; c <= n && factor != 0; c++)
                {
                    m[r, c] -= factor * m[k, c];
                }
            }
        }

        return m[b - 1, n] / m[b - 1, b - 1];
    }
}
