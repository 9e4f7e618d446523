using System.Collections.Immutable;
using System.Text.Json;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Practice;

namespace WiseLoom.Core.Tests;

/// <summary>Metal between two wires somewhere along the way: what it reads, and where it is found.</summary>
public sealed class AlongTheWayTests
{
    private static readonly Loom Two = Looms.Of("A:1-B:1@2000", "A:2-B:2@2000", "A:3-B:3@2000");

    private static ShortFault At(double a, double b, double ohm = 0.05) => new("W1", "W2", ohm) { AlongMm = [a, b] };

    /// <summary>All pairs of a small loom by a meter with its own error, the far ends too.</summary>
    private static List<Observation> Loop(Loom loom, Fault hidden, Meter meter, int seed)
    {
        var bench = new SimulatedBench(loom, meter, [hidden], seed);
        var points = loom.ProbePoints().ToList();
        return [.. from i in Enumerable.Range(0, points.Count) from j in Enumerable.Range(i + 1, points.Count - i - 1) select Observation.Of(points[i], points[j], bench.Measure([points[j]], [points[i]]).Ohms)];
    }

    /// <summary>By hand: 0.5 mm² of copper is 34.5 mΩ a metre at 20 °C; 0.5 m, then the bridge, then 1.5 m.</summary>
    [Fact]
    public void Readings_differ_by_the_copper_on_either_side()
    {
        var built = new BuiltLoom(Two, [At(500, 500)]).Graph(20, CopperTolerance.Usual);
        double Reads(string a, string b) => built.NetOf(ProbePoint.Parse(a))!.Between(ProbePoint.Parse(a), ProbePoint.Parse(b), Corner.Nominal);
        var metre = Reads("A:3", "B:3") / 2;
        Reads("A:1", "A:2").ShouldBe(metre + 0.05, 1e-9);
        Reads("B:1", "B:2").ShouldBe((3 * metre) + 0.05, 1e-9);
        Reads("A:1", "B:2").ShouldBe((2 * metre) + 0.05, 1e-9);
        Reads("A:1", "B:1").ShouldBe(2 * metre, 1e-9);
    }

    [Theory]
    [InlineData(300, 300)]
    [InlineData(1200, 1200)]
    [InlineData(1700, 1650)]
    public void A_four_wire_meter_finds_the_place_within_thirty_millimetres(double a, double b)
    {
        for (var seed = 1; seed <= 5; seed++)
        {
            var found = new Diagnostician(Two, 20, CopperTolerance.Usual, FaultTally.None).Find(Loop(Two, At(a, b), Meter.BenchFourWire, seed), Meter.BenchFourWire, TestContext.Current.CancellationToken);
            var bridge = found.Ranking[0].Faults.ShouldHaveSingleItem().ShouldBeOfType<ShortFault>();
            new[] { bridge.A, bridge.B }.Order().ShouldBe(["W1", "W2"]);
            bridge.AlongMm!.Value.Zip(bridge.A == "W1" ? new[] { a, b } : [b, a]).ShouldAllBe(p => Math.Abs(p.First - p.Second) <= 30, $"{bridge.AlongMm.Value[0]}, {bridge.AlongMm.Value[1]}: {found.Ranking[0].Sentence}");
            found.Ranking[0].Sentence.ShouldContain("mm from A:1");
            found.Ranking[0].Sentence.ShouldContain("Give or take");
        }
    }

    /// <summary>The first and the second circuit touch at one place, the second and the third at another: both are found, and where.</summary>
    [Theory]
    [InlineData(500, 500, 1500, 1400)]
    [InlineData(1200, 1100, 300, 350)]
    [InlineData(900, 900, 1000, 1100)]
    public void Two_bridges_that_chain_three_circuits_are_both_placed(double one, double other, double third, double last)
    {
        ShortFault[] hidden = [new("W1", "W2", 0.05) { AlongMm = [one, other] }, new("W2", "W3", 0.12) { AlongMm = [third, last] }];
        var bench = new SimulatedBench(Two, Meter.BenchFourWire, [.. hidden], 3);
        var points = Two.ProbePoints().ToList();
        List<Observation> readings = [.. from i in Enumerable.Range(0, points.Count) from j in Enumerable.Range(i + 1, points.Count - i - 1) select Observation.Of(points[i], points[j], bench.Measure([points[j]], [points[i]]).Ohms)];
        var found = new Diagnostician(Two, 20, CopperTolerance.Usual, FaultTally.None).Find(readings, Meter.BenchFourWire, TestContext.Current.CancellationToken).Ranking[0];
        found.Faults.Select(FaultKeys.Of).ShouldBe(hidden.Select(FaultKeys.Of), ignoreOrder: true, found.Sentence);
        foreach (var bridge in found.Faults.Cast<ShortFault>())
        {
            var truth = hidden.Single(h => FaultKeys.Of(h) == FaultKeys.Of(bridge));
            bridge.AlongMm!.Value.Zip(bridge.A == truth.A ? truth.AlongMm!.Value : truth.AlongMm!.Value.Reverse()).ShouldAllBe(p => Math.Abs(p.First - p.Second) <= 60, found.Sentence);
        }
    }

    /// <summary>Anywhere between any two wires, at the very ends too: shares stay shares, and the two circuits are named.</summary>
    [Fact]
    public void Wherever_two_wires_touch_the_answer_is_a_share_and_names_their_circuits()
    {
        var loom = Looms.WorkLaunch;
        var graph = WireGraph.Topology(loom);
        var random = new Random(7);
        for (var i = 0; i < 25; i++)
        {
            var (one, other) = (loom.Wires[random.Next(loom.Wires.Length)], loom.Wires[random.Next(loom.Wires.Length)]);
            var (a, b) = (graph.NumberOf(one.From.Text)!.Value, graph.NumberOf(other.From.Text)!.Value);
            if (a == b)
            {
                continue;
            }

            var hidden = new ShortFault(one.Id, other.Id, 0.1) { AlongMm = [one.LengthMm * (i % 4) / 3, random.NextDouble() * other.LengthMm] };
            var bench = new SimulatedBench(loom, Meter.BenchFourWire, [hidden], i);
            var points = graph.Nets[a].Points.Take(8).Concat(graph.Nets[b].Points.Take(8)).ToList();
            var readings = points.SelectMany((p, k) => points.Skip(k + 1).Select(q => Observation.Of(p, q, bench.Measure([q], [p]).Ohms))).ToList();
            var found = new Diagnostician(loom, loom.AmbientC, CopperTolerance.Usual, FaultTally.None).Find(readings, Meter.BenchFourWire, TestContext.Current.CancellationToken);
            found.Ranking.ShouldAllBe(r => r.Probability >= 0 && r.Probability <= 1);
            found.Ranking.Sum(r => r.Probability).ShouldBeInRange(0.2, 1.000001);
            var bridge = found.Ranking[0].Faults.OfType<ShortFault>().ShouldHaveSingleItem($"{hidden.Title(loom)}: {found.Ranking[0].Sentence}");
            int Net(string place) => graph.NumberOf(place) ?? graph.NumberOf(loom.FindWire(place)!.From.Text)!.Value;
            new[] { Net(bridge.A), Net(bridge.B) }.Order().ShouldBe(new[] { a, b }.Order());
        }
    }

    /// <summary>A ground that goes everywhere: twenty legs from one splice. The lead beside them touches one of them, and two contacts of the same ground are exchanged.</summary>
    private static readonly Loom Star = Looms.Of([.. Enumerable.Range(1, 20).Select(i => $"S1-C{(i + 1) / 2}:{2 - (i % 2)}@{600 + (97 * i)}"), "P:1-Q:1@1500", "P:2-C3:3@1200", "P:3-C7:3@1400", "P:4-Q:4@800"]);

    public static TheoryData<int, double, double, string> Beside => new()
    {
        { 3, 0.3, 0.6, "C3" }, { 9, 0.5, 0.2, "C7" }, { 14, 0.4, 0.5, "C3" }, { 20, 0.25, 0.8, "C7" }, { 6, 0.6, 0.4, "C3" },
    };

    /// <summary>Which leg it is only its own far end tells, and the exchanged contacts lead readings astray.</summary>
    [Theory]
    [MemberData(nameof(Beside))]
    public void A_bridge_on_one_of_many_legs_is_found_beside_contacts_that_are_exchanged(int leg, double t, double s, string exchanged)
    {
        var wire = Star.Wires[leg - 1];
        ImmutableArray<Fault> hidden = [new ShortFault(wire.Id, "W21", 0.08) { AlongMm = [t * wire.LengthMm, s * 1500] }, SwapFault.Of(exchanged, "1", "3")];
        var played = new Trial(Star, Bench.Plan(Star, Planning.Isolation.Thorough, Meter.BenchFourWire)).Play(hidden, leg, TestContext.Current.CancellationToken);
        played.Found.ShouldBeTrue($"{played.FirstProbability}: {played.Sentence}");
        played.Extra.ShouldBeLessThan(Trial.MostExtra);
    }

    [Fact]
    public void One_reading_through_a_bridge_does_not_place_it_and_no_place_is_told()
    {
        var some = Loop(Two, At(1000, 1000), Meter.BenchFourWire, 3).Where(o => o.A[0].Connector == "A" && o.B!.Value[0].Connector == "A" || o.A[0].Cavity == o.B!.Value[0].Cavity).ToList();
        var found = new Diagnostician(Two, 20, CopperTolerance.Usual, FaultTally.None).Find(some, Meter.BenchFourWire, TestContext.Current.CancellationToken);
        found.Ranking.Count(r => r.Faults is [ShortFault { AlongMm: not null }]).ShouldBe(1);
        found.Ranking.ShouldAllBe(r => !r.Sentence.Contains(" mm", StringComparison.Ordinal));
        found.Next.ShouldNotBeNull();
    }

    [Fact]
    public void It_is_written_and_read_with_its_lengths_and_one_between_cavities_without()
    {
        var text = JsonSerializer.Serialize<Fault>(At(300, 450), CoreJson.Options);
        text.ShouldContain("\"alongMm\":[300,450]");
        JsonSerializer.Deserialize<Fault>(text, CoreJson.Options).ShouldBe(At(300, 450));
        JsonSerializer.Serialize<Fault>(new ShortFault("A:1", "A:2", 0), CoreJson.Options).ShouldNotContain("along");
    }

    [Theory]
    [InlineData(-50)]
    [InlineData(99_999)]
    public void A_place_beyond_an_end_is_that_end(double mm)
    {
        var built = new BuiltLoom(Two, [At(mm, mm, 0)]).Graph(20, CopperTolerance.Usual);
        var end = mm < 0 ? "A" : "B";
        built.NetOf(new(end, "1"))!.Between(new(end, "1"), new(end, "2"), Corner.Nominal).ShouldBe(0, 1e-9);
    }

    [Fact]
    public void What_is_open_on_one_side_of_the_place_still_conducts_on_the_other()
    {
        bool Joined(Fault open, string a, string b)
        {
            var built = new BuiltLoom(Two, [open, At(1000, 1000)]).Graph(20, CopperTolerance.Usual);
            return built.NetOf(ProbePoint.Parse(a)) is { } net && built.NetOf(ProbePoint.Parse(b))?.Number == net.Number;
        }

        (Joined(new OpenFault("W1", "from"), "B:1", "A:2"), Joined(new OpenFault("W1", "from"), "A:1", "A:2")).ShouldBe((true, false));
        (Joined(new OpenFault("W1", "to"), "A:1", "B:2"), Joined(new OpenFault("W1", "to"), "B:1", "A:2")).ShouldBe((true, false));
        Joined(new MissingFault("W1"), "A:1", "A:2").ShouldBeFalse();
    }

    [Fact]
    public void The_nearest_landmark_is_told_with_the_way_to_it()
    {
        var loom = Looms.FrostFan;
        var route = new WireRoute(loom);
        var wire = loom.Wires.First(w => route.Near(w, w.LengthMm / 2) is not null);
        route.Near(wire, wire.LengthMm / 2)!.ShouldMatch(@"^\d+ mm from (the |splice |where )");
        new WireRoute(Two).Near(Two.Wires[0], 500).ShouldBeNull();
    }

    /// <summary>The few likeliest pairs of cavities are those of all, whatever is told of them before.</summary>
    [Fact]
    public void The_likeliest_cavities_are_the_first_of_all()
    {
        var loom = Looms.Of("A:1-B:1@2000", "A:2-B:2@2000", "C:1-A:1@900", "C:2-B:2@1300", "D:1-B:1@700", "D:2-A:2@400");
        var readings = Loop(loom, new ShortFault("C:1", "D:2", 0.3), Meter.BenchFourWire, 3);
        var drawn = new DrawnLoom(loom, 20, CopperTolerance.Usual).Leaning(null);
        var along = new AlongTheWay(drawn, new Evidence(drawn, Meter.BenchFourWire, readings), []);
        for (var seed = 0; seed < 20; seed++)
        {
            double Prior(ProbePoint a, ProbePoint b) => -12 * new Random(HashCode.Combine(seed, $"{a} {b}".Length, a.Connector[0] * b.Cavity[0])).NextDouble();
            List<(ProbePoint A, ProbePoint B)> Told(int most) => along.Cavities(new("A:1", "A:2", 0), most, Prior, 0).ConvertAll(c => (c.A, c.B));

            var all = Told(100);

            all.Count.ShouldBe(16);
            Told(5).ShouldBe(all[..5]);
            all.ShouldBe(along.Cavities(new("A:1", "A:2", 0), 100, Prior, 0).OrderByDescending(c => c.Prior - (0.5 * c.Misfit)).Select(c => (c.A, c.B)));
        }

        along.Cavities(new("A:1", "A:2", 0), 1, (_, _) => 0, 0)[0].Misfit.ShouldBeLessThan(60);
    }
}
