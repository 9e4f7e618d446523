using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Planning.Steps;

namespace WiseLoom.Core.Tests;

public sealed class PlannerTests
{
    public static TheoryData<string> DemoLooms => ["frost", "launch"];

    private static Loom Demo(string name) => name == "frost" ? Looms.FrostFan : Looms.WorkLaunch;

    [Theory]
    [MemberData(nameof(DemoLooms))]
    public void Continuity_steps_span_every_net_with_one_step_fewer_than_its_points(string name)
    {
        var loom = Demo(name);
        var graph = WireGraph.Topology(loom);
        var plan = Bench.Plan(loom, Isolation.Neighbours);

        foreach (var net in graph.Nets.Where(n => n.Points.Length > 0))
        {
            var own = plan.Steps.Where(s => s is ContinuityStep && graph.NetOf(s.Black)!.Number == net.Number).ToList();
            own.Count.ShouldBe(net.Points.Length - 1);
            own.SelectMany(s => new[] { s.Black, s.Red!.Value }).Concat(net.Points.Length == 1 ? net.Points : []).Distinct().ShouldBe(net.Points, ignoreOrder: true);
        }
    }

    [Theory]
    [MemberData(nameof(DemoLooms))]
    public void Thorough_isolation_takes_one_step_fewer_than_there_are_nets(string name)
    {
        var loom = Demo(name);
        var nets = WireGraph.Topology(loom).Nets.Count(n => n.Points.Length > 0);
        var plan = Bench.Plan(loom, Isolation.Thorough);

        plan.Steps.Count(s => s is IsolationStep).ShouldBe(nets - 1);
        plan.Unproven.ShouldBeEmpty();
    }

    [Theory]
    [MemberData(nameof(DemoLooms))]
    public void Neighbour_isolation_covers_every_pair_of_nets_side_by_side_in_a_face_and_says_what_it_leaves(string name)
    {
        var loom = Demo(name);
        var graph = WireGraph.Topology(loom);
        var plan = Bench.Plan(loom, Isolation.Neighbours);
        var covered = plan.Steps.Where(s => s is IsolationStep).Select(s => Pair(graph.NetOf(s.Black)!, graph.NetOf(s.Red!.Value)!)).ToHashSet();

        foreach (var connector in loom.Connectors)
        {
            foreach (var (a, b) in FaceLayout.Neighbours(connector.Family))
            {
                if (graph.NetOf(new(connector.Ref, a)) is { } one && graph.NetOf(new(connector.Ref, b)) is { } other && one.Number != other.Number)
                {
                    covered.ShouldContain(Pair(one, other));
                }
            }
        }

        plan.Steps.Count(s => s is IsolationStep).ShouldBe(covered.Count);
        plan.Unproven.ShouldHaveSingleItem();
    }

    [Fact]
    public void Repaired_places_come_first_then_isolation_is_read_on_the_way()
    {
        var loom = Looms.FrostFan;
        var graph = WireGraph.Topology(loom);
        var repaired = loom.Wires.First(w => w.Circuit?.Contains("Injector", StringComparison.Ordinal) == true);
        var own = graph.NetOf(repaired.From.IsSplice ? repaired.To.Point : repaired.From.Point)!.Number;
        bool Is(PlanStep s) => graph.NetOf(s.Black)!.Number == own || (s.Red is { } red && graph.NetOf(red)!.Number == own);

        var plan = Planner.Plan(loom, PlanTerms.Usual(Meter.BenchFourWire, Isolation.Neighbours, 20, CopperTolerance.Usual) with { First = [repaired.Id] });

        plan.Steps.TakeWhile(Is).Count().ShouldBe(plan.Steps.Count(Is));
        plan.Steps.Count(Is).ShouldBeGreaterThan(1);
        Bench.Plan(loom, Isolation.Neighbours).Steps.SkipWhile(s => s is ContinuityStep).Count(s => s is ContinuityStep).ShouldBeGreaterThan(50);
    }

    [Fact]
    public void A_probe_that_stays_keeps_its_colour()
    {
        var plan = Bench.Plan(Looms.FrostFan, Isolation.Neighbours);

        foreach (var (before, step) in plan.Steps.Zip(plan.Steps.Skip(1)))
        {
            (before.Black == step.Red && before.Red != step.Black && step.Red is not null).ShouldBeFalse($"step {step.Number}");
        }
    }

    [Fact]
    public void A_load_is_put_on_once_for_all_pairs_that_need_it()
    {
        var plan = Bench.Plan(Looms.FrostFan, Isolation.Neighbours, Meter.HandTwoWire, LoadInHand.Lamp(21, 12.6));
        var loads = plan.Steps.Where(s => s is LoadStep).ToList();

        loads.Count.ShouldBeGreaterThan(10);
        plan.Steps[^loads.Count..].ShouldBe(loads);
        loads[0].Seconds.ShouldBeGreaterThanOrEqualTo(20);
        loads.Skip(1).ShouldAllBe(s => s.Seconds <= 21);
        plan.Seconds.ShouldBeInRange(plan.LowerBoundSeconds, plan.PinOrderSeconds);
    }

    [Theory]
    [InlineData("A:1-B:1 A:1-B:1", "hand", true)]
    [InlineData("A:1-B:1 A:1-B:1", "bench", false)]
    [InlineData("A:1-B:1 B:1-C:1 A:1-C:1", "bench", false)]
    [InlineData("A:1-B:1 B:1-C:1 A:1-C:1", "hand", true)]
    [InlineData("A:1-B:1 B:1-C:1", "hand", false)]
    public void A_break_that_another_way_hides_is_named_when_the_meter_would_miss_it(string wires, string meter, bool isHidden)
    {
        var plan = Bench.Plan(Looms.Of(wires.Split(' ')), Isolation.Neighbours, meter == "hand" ? Meter.HandTwoWire : Meter.BenchFourWire);

        plan.Unseen.Any().ShouldBe(isHidden);
        if (isHidden)
        {
            plan.LeftOpen.ShouldContain(l => l.Contains("take its end out", StringComparison.Ordinal));
        }
    }

    [Fact]
    public void Staying_on_a_connector_costs_a_touch_and_moving_costs_more()
    {
        var cost = TouchCost.Usual;
        var (a1, a2, b1) = (new ProbePoint("A", "1"), new ProbePoint("A", "2"), new ProbePoint("B", "1"));

        cost.Between(new(a1, b1), new(b1, a1)).ShouldBe(0);
        cost.Between(new(a1, b1), new(b1, a2)).ShouldBe(2.5);
        cost.Between(new(a1, a2), new(a1, b1)).ShouldBe(10.5);
        cost.Between(new(a1, b1), new(a1, null)).ShouldBe(2.5 + 8 + 5);
        cost.Between(null, new(a1, null)).ShouldBe(2 * 10.5 + 5);
        new ProbePair(b1, a2).Moving(new(a1, b1)).ShouldBe(Moving.Red);
    }

    [Fact]
    public void A_plan_keeps_its_limits_through_storage()
    {
        var plan = Bench.Plan(Looms.Of("A:1-B:1", "A:2-B:2"), Isolation.Neighbours);
        var json = System.Text.Json.JsonSerializer.Serialize(plan, CoreJson.Options);
        var back = System.Text.Json.JsonSerializer.Deserialize<TestPlan>(json, CoreJson.Options)!;

        back.Steps.ShouldBe(plan.Steps);
        back.Steps.Last(s => !s.IsJoined).Limits.Most.ShouldBe(double.PositiveInfinity);
        System.Text.Json.JsonSerializer.Serialize(back, CoreJson.Options).ShouldBe(json);
    }

    private static (int, int) Pair(Net a, Net b) => (Math.Min(a.Number, b.Number), Math.Max(a.Number, b.Number));
}
