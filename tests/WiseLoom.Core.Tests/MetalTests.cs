using CsCheck;
using WiseLoom.Core.Circuits;
using WiseLoom.Core.Diagnosis;

namespace WiseLoom.Core.Tests;

/// <summary>Metal as a tree with loops, against the same solved as a whole.</summary>
public sealed class MetalTests
{
    private sealed record Net(int Nodes, List<(int From, int To, Part Part)> Parts)
    {
        public override string ToString() => string.Join(' ', Parts.Select(p => $"{p.From}-{p.To}:{p.Part.Mean:G4}"));
    }

    /// <summary>A tree of two to thirty nodes, some joints of no ohms, and so many parts beside it.</summary>
    private static Gen<Net> Nets(int fewest, int most) => Gen.Select(Gen.Int[2, 30], Gen.Int[fewest, most], Gen.Int[0, 1_000_000]).Select((nodes, beside, seed) =>
    {
        var random = new Random(seed);
        double Ohms() => random.Next(8) == 0 ? 0 : Math.Pow(10, (random.NextDouble() * 6) - 3);
        var parts = Enumerable.Range(1, nodes - 1).Select(i => (From: random.Next(i), To: i)).Concat(Enumerable.Range(0, beside).Select(_ => (From: random.Next(nodes), To: random.Next(nodes))).Where(p => p.From != p.To))
            .Select(p => random.Next(2) == 0 ? p : (From: p.To, To: p.From)).Select((p, i) => (p.From, p.To, new Part(i, Ohms(), 0.01))).OrderBy(_ => random.Next()).ToList();
        return new Net(nodes, parts);
    });

    private static double Whole(Net net, int a, int b, params (int From, int To, double Ohms)[] joints) =>
        NetSolution.Of(net.Nodes, [.. net.Parts.Select(p => (p.From, p.To, p.Part.Mean)), .. joints]).Ohms(a, b);

    private static bool Near(double one, double other) => Math.Abs(one - other) <= 1e-9 * (1 + Math.Abs(other));

    [Fact]
    public void Two_nodes_read_what_the_whole_net_solved_says() => Gen.Select(Nets(0, 6), Gen.Int[0, 900]).Sample((net, pick) =>
    {
        var (a, b) = (pick % net.Nodes, pick / 30 % net.Nodes);
        var metal = new Metal(net.Nodes, net.Parts);
        return Near(metal.Ohms(a, b), Whole(net, a, b)) && Near(metal.Between(a, b).Ohms, Whole(net, a, b));
    }, iter: 2000);

    [Fact]
    public void A_piece_with_more_loops_than_are_solved_one_by_one_reads_the_same() => Gen.Select(Nets(60, 90), Gen.Int[0, 900]).Sample((net, pick) =>
    {
        var (a, b) = (pick % net.Nodes, pick / 30 % net.Nodes);
        return Near(new Metal(net.Nodes, net.Parts).Between(a, b).Ohms, Whole(net, a, b));
    }, iter: 200);

    /// <summary>What comes to a node leaves it, and the ampere's work is the ohms between.</summary>
    [Fact]
    public void The_current_comes_to_every_node_as_it_leaves_it() => Gen.Select(Nets(0, 6), Gen.Int[0, 900]).Sample((net, pick) =>
    {
        var (a, b) = (pick % net.Nodes, pick / 30 % net.Nodes);
        var flow = new Metal(net.Nodes, net.Parts).Between(a, b);
        if (a == b)
        {
            return flow.Ohms == 0;
        }

        var left = new double[net.Nodes];
        (left[a], left[b]) = (1, -1);
        foreach (var (at, share) in flow.Shares)
        {
            left[net.Parts[at].From] -= share;
            left[net.Parts[at].To] += share;
        }

        return left.All(x => Math.Abs(x) < 1e-9) && Near(flow.Shares.Sum(s => s.Share * s.Share * net.Parts[s.Part].Part.Mean), flow.Ohms);
    }, iter: 2000);

    [Fact]
    public void More_ohms_in_one_part_read_as_the_net_with_them_solved_anew() => Gen.Select(Nets(0, 5), Gen.Int[0, 900], Gen.Double[0, 50]).Sample((net, pick, more) =>
    {
        var (a, b) = (pick % net.Nodes, pick / 30 % net.Nodes);
        var at = pick % net.Parts.Count;
        var (from, to, part) = net.Parts[at];
        if (part.Mean == 0)
        {
            return true;
        }

        var metal = new Metal(net.Nodes, net.Parts);
        var anew = net with { Parts = [.. net.Parts[..at], (from, to, part with { Mean = part.Mean + more }), .. net.Parts[(at + 1)..]] };
        return Math.Abs(metal.Between(a, b).With(at, more) - Whole(anew, a, b)) < 1e-6 * (1 + more) && Near(metal.Resized(at, more).Ohms(a, b), Whole(anew, a, b));
    }, iter: 2000);

    /// <summary>The fixture joins some nodes: with loops, without, and over several pieces.</summary>
    [Theory]
    [InlineData(0)]
    [InlineData(5)]
    public void Joined_nodes_read_what_the_net_with_joints_says(int loops) => Gen.Select(Nets(0, loops), Gen.Int[0, 1_000_000]).Sample((net, seed) =>
    {
        var random = new Random(seed);
        int[] Some(int most) => [.. Enumerable.Range(0, random.Next(1, most + 1)).Select(_ => random.Next(net.Nodes)).Distinct()];
        var (a, b) = (Some(random.Next(3) == 0 ? 3 : 1), Some(6));
        var joints = a.Skip(1).Select(n => (a[0], n, 0.0)).Concat(b.Skip(1).Select(n => (b[0], n, 0.0))).ToArray();
        var flow = new Metal(net.Nodes, net.Parts).Between(a, b)!;
        var place = random.Next(net.Parts.Count);
        var (from, to, part) = net.Parts[place];

        // More of it and less, each asked for twice: what was worked out for one part is kept for the next question.
        bool Holds(double more)
        {
            var anew = net with { Parts = [.. net.Parts[..place], (from, to, part with { Mean = part.Mean + more }), .. net.Parts[(place + 1)..]] };
            // To a millionth of what is read: beside hundreds of ohms a part of a milliohm keeps no more digits.
            var whole = Whole(anew, a[0], b[0], joints);
            return Math.Abs(flow.With(place, more) - whole) < 1e-6 * (1 + Math.Abs(more) + whole);
        }

        return Near(flow.Ohms, Whole(net, a[0], b[0], joints)) && (part.Mean == 0 || (Holds(2) && Holds(-0.9 * part.Mean) && Holds(40)));
    }, iter: 1500);

    /// <summary>From one node to others that are joined: an ampere leaves the one, comes to none but the others, and its work is the ohms between.</summary>
    [Theory]
    [InlineData(0)]
    [InlineData(5)]
    public void The_current_to_joined_nodes_ends_at_them(int loops) => Gen.Select(Nets(0, loops), Gen.Int[0, 1_000_000]).Sample((net, seed) =>
    {
        // Through joints of no ohms current goes as it likes: here there are none.
        net = net with { Parts = net.Parts.ConvertAll(p => p with { Part = p.Part with { Mean = Math.Max(p.Part.Mean, 1e-3) } }) };
        var random = new Random(seed);
        var there = Enumerable.Range(0, random.Next(2, 6)).Select(_ => random.Next(net.Nodes)).Distinct().ToArray();
        var from = random.Next(net.Nodes);
        var flow = new Metal(net.Nodes, net.Parts).Between([from], there)!;
        if (there.Contains(from))
        {
            return flow.Ohms == 0;
        }

        var left = new double[net.Nodes];
        foreach (var (at, share) in flow.Shares)
        {
            left[net.Parts[at].From] += share;
            left[net.Parts[at].To] -= share;
        }

        left[from] -= 1;
        return Math.Abs(there.Sum(n => left[n]) + 1) < 1e-8 && there.All(n => left[n] < 1e-8) && left.Where((_, n) => !there.Contains(n)).All(x => Math.Abs(x) < 1e-8)
            && Near(flow.Shares.Sum(s => s.Share * s.Share * net.Parts[s.Part].Part.Mean), flow.Ohms);
    }, iter: 1500);

    [Fact]
    public void Pieces_that_nothing_joins_lead_nowhere()
    {
        var metal = new Metal(5, [(0, 1, new(0, 1, 0)), (2, 3, new(1, 2, 0))]);
        metal.PieceOf(0).ShouldBe(metal.PieceOf(1));
        metal.PieceOf(2).ShouldNotBe(metal.PieceOf(0));
        metal.Between([0], [2, 3, 4]).ShouldBeNull();
        metal.Between([0, 2], [3])!.Ohms.ShouldBe(2);
        metal.Between([4], [4])!.Ohms.ShouldBe(0);
    }

    [Fact]
    public void A_loop_of_joints_carries_what_it_likes_and_reads_nothing()
    {
        var metal = new Metal(3, [(0, 1, new(0, 0, 0)), (1, 2, new(1, 0, 0)), (2, 0, new(2, 0, 0))]);
        metal.Ohms(0, 2).ShouldBe(0);
        metal.Between(0, 1).Ohms.ShouldBe(0);
    }

    [Fact]
    public void Ohms_with_some_nodes_joined_are_between_any_two_others() => Gen.Select(Nets(0, 4), Gen.Int[0, 900]).Sample((net, pick) =>
    {
        var (a, b, c) = (pick % net.Nodes, pick / 30 % net.Nodes, pick / 7 % net.Nodes);
        return Near(new Metal(net.Nodes, net.Parts).WithJoined([a, b])(b, c), Whole(net, a, c, (a, b, 0)));
    }, iter: 500);
}
