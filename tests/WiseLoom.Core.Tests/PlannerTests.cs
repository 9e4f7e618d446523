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
    public void The_black_probe_stays_at_the_controller_and_drives_come_first()
    {
        var plan = Bench.Plan(Looms.FrostFan, Isolation.Neighbours);

        plan.Steps[0].Black.Connector.ShouldBe("ECU-A");
        plan.Steps[0].Circuit!.ShouldContain("Coil");
        plan.Steps.Select(s => s.Number).ShouldBe(Enumerable.Range(1, plan.Steps.Length));
        plan.Steps.TakeWhile(s => s is ContinuityStep).Count().ShouldBe(plan.Steps.Count(s => s is ContinuityStep));
    }

    [Fact]
    public void Staying_on_a_connector_costs_a_touch_and_moving_costs_more()
    {
        var cost = new TouchCost();
        var (a1, a2, b1) = (new ProbePoint("A", "1"), new ProbePoint("A", "2"), new ProbePoint("B", "1"));

        cost.Between((a1, b1), (a1, b1)).ShouldBe(2.5);
        cost.Between((a1, a2), (a1, b1)).ShouldBe(10.5);
        cost.Between(null, (a1, null)).ShouldBe(2.5 + 8 + 5);
    }

    [Fact]
    public void A_plan_keeps_its_limits_through_storage()
    {
        var plan = Bench.Plan(Looms.Of("A:1-B:1", "A:2-B:2"), Isolation.Neighbours);
        var json = System.Text.Json.JsonSerializer.Serialize(plan, CoreJson.Options);
        var back = System.Text.Json.JsonSerializer.Deserialize<TestPlan>(json, CoreJson.Options)!;

        back.Steps.ShouldBe(plan.Steps);
        back.Steps[^1].Limits.Most.ShouldBe(double.PositiveInfinity);
        System.Text.Json.JsonSerializer.Serialize(back, CoreJson.Options).ShouldBe(json);
    }

    private static (int, int) Pair(Net a, Net b) => (Math.Min(a.Number, b.Number), Math.Max(a.Number, b.Number));
}
