using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Nodes;
using CsCheck;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;

namespace WiseLoom.Core.Tests;

/// <summary>What a supposition leaves: between which circuits a bridge is looked for, and where none is.</summary>
public sealed class UnexplainedTests
{
    private static readonly Loom Launch = Looms.WorkLaunch, Large = WithPlug(20);

    /// <summary>A plug of two rows, each contact with a wire to a plug of ten; and two circuits that have nothing to do with it.</summary>
    private static Loom WithPlug(int inARow)
    {
        string Name(int i) => (i + 1).ToString(CultureInfo.InvariantCulture);
        var json = Looms.Json([.. Enumerable.Range(0, 2 * inARow).Select(i => $"P:{Name(i)}-X{Name(i / 10)}:{Name(i % 10)}@{500 + (37 * i % 900)}"), "Q:1-R:1@800", "Q:2-R:2@700"]);
        json["families"]!.AsArray().Add(new JsonObject
        {
            ["id"] = "large",
            ["rows"] = new JsonArray([.. new[] { 0, inARow }.Select(from => (JsonNode)new JsonArray([.. Enumerable.Range(from, inARow).Select(i => (JsonNode)Name(i))]))]),
            ["contactMilliohm"] = 0,
        });
        json["connectors"]!.AsArray().First(c => (string)c!["ref"]! == "P")!["family"] = "large";
        return Looms.Read(json.ToJsonString()).Loom!;
    }

    private static List<Observation> Read(Loom loom, params Fault[] hidden)
    {
        var plan = Bench.Plan(loom, Isolation.Thorough, Meter.BenchFourWire);
        var bench = new SimulatedBench(loom, Meter.BenchFourWire, [.. hidden], 7);
        return [.. plan.Steps.Select(s => (Step: s, Probes: StepProbes.Of(loom, plan, s))).Select(x => Observation.Of(x.Step.Black, x.Step.Red, bench.Measure(x.Probes.Red, x.Probes.Black).Ohms))];
    }

    private static Unexplained Left(DrawnLoom own, List<Observation> readings, params ImmutableArray<Fault> by) =>
        Unexplained.Of(own, new(own, Meter.BenchFourWire, readings), new(own, Priors.Learned(FaultTally.None)), by.IsEmpty ? null : new Weighed(by, 0, 0, new Altered(own, by, own.NetsOf(by))));

    private static DrawnLoom Drawn(Loom loom) => new DrawnLoom(loom, loom.AmbientC, CopperTolerance.Usual).Leaning(null);

    /// <summary>The circuit that no step holds against all others, because it was the other side of each.</summary>
    private static int Last(DrawnLoom own, Evidence evidence) => own.Graph.Nets.Single(n => n.Points.Length > 0 && !evidence.All.Any(o => o.B is null && own.NetOf(o.A[0]) == n.Number)).Number;

    [Fact]
    public void A_bridge_is_looked_for_between_the_circuits_that_it_joins_and_one_that_was_not_held_against_all() => Gen.Select(Gen.Int[0, 300], Gen.Int[0, 300]).Sample((one, other) =>
    {
        var (own, points) = (Drawn(Launch), Launch.ProbePoints().ToList());
        var bridge = new ShortFault(points[one % points.Count].ToString(), points[other % points.Count].ToString(), 0.1);
        if (own.NetsOf([bridge]).ToList() is not [var a, var b])
        {
            return true;
        }

        var readings = Read(Launch, bridge);
        int[] nets = [a, b, Last(own, new(own, Meter.BenchFourWire, readings))];
        var bridged = Left(own, readings).Bridged;
        return bridged.Contains((Math.Min(a, b), Math.Max(a, b))) && bridged.All(p => nets.Contains(p.A) && nets.Contains(p.B));
    }, iter: 12);

    [Fact]
    public void Which_of_two_bridges_joins_which_circuits_is_not_known_yet()
    {
        var own = Drawn(Large);
        ShortFault[] both = [new("P:1", "P:2", 0.1), new("X3:4", "X3:5", 0.2)];
        var readings = Read(Large, both);
        int[] nets = [.. both.SelectMany(b => own.NetsOf([b]))];
        var last = Last(own, new(own, Meter.BenchFourWire, readings));
        Left(own, readings).Bridged.Where(p => p.B != last).ShouldBe(from a in nets from b in nets where a < b select (a, b), ignoreOrder: true);
    }

    /// <summary>Forty circuits that come to each other's places are forty readings, and no bridge is behind more than two of them: contacts stand elsewhere.</summary>
    [Fact]
    public void Where_no_bridge_is_behind_an_eighth_of_what_was_found_none_is_looked_for()
    {
        var own = Drawn(Large);
        var bridge = new ShortFault("Q:1", "Q:2", 0.2);
        var readings = Read(Large, new MirroredFault("P"), bridge);
        var left = Left(own, readings);
        left.Bridged.ShouldBeEmpty();
        left.Apart.Count.ShouldBe(42);
        Left(own, readings, new MirroredFault("P")).Bridged.ShouldContain(p => own.NetsOf(new[] { bridge }).SetEquals(new[] { p.A, p.B }));
    }

    [Fact]
    public void A_small_plug_filled_from_the_wrong_face_leaves_bridges_to_be_looked_for()
    {
        var small = WithPlug(4);
        Left(Drawn(small), Read(small, new MirroredFault("P"))).Bridged.ShouldNotBeEmpty();
    }

    /// <summary>And it is found: both faults, by what is measured of a plug with forty contacts.</summary>
    [Fact]
    public void A_bridge_beside_a_large_plug_that_is_filled_wrongly_is_found()
    {
        Fault[] hidden = [new MirroredFault("P"), new ShortFault("R:1", "R:2", 0.2)];
        var found = Played(Large, hidden, Read(Large, hidden));
        found.Ranking[0].Faults.Select(FaultKeys.Of).ShouldBe(hidden.Select(FaultKeys.Of), ignoreOrder: true, found.Ranking[0].Sentence);
    }

    /// <summary>In the middle of a run, as long as most circuits were not held against all others.</summary>
    [Fact]
    public void Where_a_circuit_may_be_joined_to_very_many_the_nearest_are_looked_at_first()
    {
        var (wide, own) = (WithPlug(40), Drawn(WithPlug(40)));
        var bridge = new ShortFault("X3:4", "X3:5", 0.2);
        var left = Left(own, Begun(wide, own, bridge));
        left.Bridged.Count.ShouldBe(64);
        left.Bridged.ShouldContain(p => own.NetsOf(new[] { bridge }).SetEquals(new[] { p.A, p.B }));
        var suspects = new Suspects(own, Priors.Learned(FaultTally.None));
        suspects.Nearness(Math.Min(own.NetOf(new("X3", "4")), own.NetOf(new("X3", "5"))), Math.Max(own.NetOf(new("X3", "4")), own.NetOf(new("X3", "5")))).ShouldBe(2);
        suspects.Nearness(Math.Min(own.NetOf(new("X3", "1")), own.NetOf(new("X3", "4"))), Math.Max(own.NetOf(new("X3", "1")), own.NetOf(new("X3", "4")))).ShouldBe(1);
        suspects.Nearness(own.NetOf(new("P", "1")), own.NetOf(new("Q", "1"))).ShouldBe(0);
    }

    /// <summary>The same by values: what one bridge leaves off, read against very many at once.</summary>
    [Fact]
    public void Where_a_value_against_very_many_is_off_the_nearest_are_looked_at_first()
    {
        var own = Drawn(WithPlug(40));
        ImmutableArray<ProbePoint> all = [.. own.Loom.ProbePoints().Where(p => p.Connector == "P")];
        var left = Left(own, [new Observation([all[0]], [.. all.Skip(1)], 7, false)], new ShortFault("P:1", "P:2", 0.1));
        left.Bridged.Count.ShouldBe(64);
        left.Off.Count.ShouldBe(80);
        left.Bridged.ShouldContain(p => own.NetsOf(new[] { new ShortFault("P:1", "P:2", 0) }).SetEquals(new[] { p.A, p.B }));
    }

    /// <summary>What was read apart makes room for others: where half of them were, one that lies nowhere near is looked for as well.</summary>
    [Fact]
    public void What_was_read_apart_makes_room_for_what_lies_further()
    {
        var (wide, own) = (WithPlug(40), Drawn(WithPlug(40)));
        var bridge = new ShortFault("X1:1", "R:2", 0.2);
        var begun = Begun(wide, own, bridge);
        Left(own, begun).Bridged.ShouldNotContain(p => own.NetsOf(new[] { bridge }).SetEquals(new[] { p.A, p.B }));
        List<Observation> apart = [.. wide.ProbePoints().Where(p => p.Connector == "P" && own.NetOf(p) != own.NetOf(new("X1", "1"))).Take(40).Select(p => Observation.Of(new("X1", "1"), p, null))];
        var evidence = new Evidence(own, Meter.BenchFourWire, apart);
        evidence.AreApart(own.NetOf(new("X1", "1")), own.NetOf(apart[0].B!.Value[0])).ShouldBeTrue();
        evidence.AreApart(own.NetOf(new("X1", "1")), own.NetOf(new("R", "2"))).ShouldBeFalse();
        Left(own, [.. begun, .. apart]).Bridged.ShouldContain(p => own.NetsOf(new[] { bridge }).SetEquals(new[] { p.A, p.B }));
    }

    /// <summary>Which of eighty circuits it is joined to is asked of half of them at once, and then of half of those.</summary>
    [Theory]
    [InlineData("X1:1", "R:2")]
    [InlineData("X3:4", "X7:9")]
    public void One_of_very_many_circuits_is_found_by_halves(string a, string b)
    {
        var (wide, own) = (WithPlug(40), Drawn(WithPlug(40)));
        var bridge = new ShortFault(a, b, 0.2);
        var readings = Begun(wide, own, bridge);
        var before = readings.Count;
        var found = Played(wide, [bridge], readings).Ranking[0];
        own.NetsOf(found.Faults).ShouldBe(own.NetsOf([bridge]), ignoreOrder: true, found.Sentence);
        readings.Skip(before).ShouldContain(o => o.B != null && o.B.Value.Length > 8);
        (readings.Count - before).ShouldBeLessThanOrEqualTo(12);
    }

    /// <summary>All joined pairs of a loom, and one of a bridge's circuits against all others.</summary>
    private static List<Observation> Begun(Loom loom, DrawnLoom own, ShortFault bridge)
    {
        var all = Read(loom, bridge);
        return [.. all.Where(o => o.B is not null), all.First(o => o.B is null && own.NetsOf([bridge]).Contains(own.NetOf(o.A[0])))];
    }

    private static Diagnosed Played(Loom loom, Fault[] hidden, List<Observation> readings)
    {
        var engine = new Diagnostician(loom, 20, CopperTolerance.Usual, FaultTally.None);
        var bench = new SimulatedBench(loom, Meter.BenchFourWire, [.. hidden], 7);
        var found = engine.Find(readings, Meter.BenchFourWire, TestContext.Current.CancellationToken);
        for (var extra = 0; found.Next is { } next && extra < Trial.MostExtra; extra++)
        {
            readings.Add(new([next.A], next.B, bench.Measure(next.B ?? StepProbes.Against(loom, next.A), [next.A]).Ohms, next.Moved));
            found = engine.Find(readings, Meter.BenchFourWire, TestContext.Current.CancellationToken);
        }

        return found;
    }
}
