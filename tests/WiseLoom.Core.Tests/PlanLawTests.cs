using CsCheck;
using WiseLoom.Bench;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Planning.Steps;

namespace WiseLoom.Core.Tests;

/// <summary>A plan of any loom proves what it says, and each step stands on its own feet.</summary>
public sealed class PlanLawTests
{
    private static readonly Gen<Loom> AnyLoom = Gen.Select(Gen.Int[1, 3], Gen.Int[1, 150], Gen.Int[1, 100_000]).Select((plugs, wires, seed) => GeneratedLoom.Loom(40 * plugs, wires, seed));

    [Fact]
    public void Steps_that_must_be_joined_join_every_net_and_nothing_beside_it() => AnyLoom.Sample(
        loom =>
        {
            var graph = WireGraph.Topology(loom);
            var plan = Bench.Plan(loom, Isolation.Neighbours);
            var joined = graph.Nets.SelectMany(n => n.Points).ToDictionary(p => p, p => p);
            ProbePoint Root(ProbePoint p) => joined[p] == p ? p : joined[p] = Root(joined[p]);
            foreach (var step in plan.Steps.OfType<ContinuityStep>())
            {
                graph.NetOf(step.Black)!.Number.ShouldBe(graph.NetOf(step.Red!.Value)!.Number);
                Root(step.Black).ShouldNotBe(Root(step.Red!.Value), "a step that the ones before have proven");
                joined[Root(step.Black)] = Root(step.Red!.Value);
            }

            foreach (var net in graph.Nets)
            {
                net.Points.Select(Root).Distinct().Count().ShouldBe(1);
            }
        },
        iter: 30);

    [Fact]
    public void Every_two_nets_side_by_side_in_a_face_have_a_step_between_them() => AnyLoom.Sample(
        loom =>
        {
            var graph = WireGraph.Topology(loom);
            (int, int) Pair(ProbePoint a, ProbePoint b) => (graph.NetOf(a)!.Number, graph.NetOf(b)!.Number) is var (x, y) && x < y ? (x, y) : (y, x);
            var measured = Bench.Plan(loom, Isolation.Neighbours).Steps.OfType<IsolationStep>().Select(s => Pair(s.Black, s.Red!.Value)).ToList();
            measured.ShouldBeUnique();
            measured.ShouldAllBe(p => p.Item1 != p.Item2);
            foreach (var connector in loom.Connectors)
            {
                foreach (var (a, b) in FaceLayout.Neighbours(connector.Family).Select(n => (new ProbePoint(connector.Ref, n.Item1), new ProbePoint(connector.Ref, n.Item2))))
                {
                    if (graph.NetOf(a) is { } one && graph.NetOf(b) is { } other && one.Number != other.Number)
                    {
                        measured.ShouldContain(Pair(a, b));
                    }
                }
            }
        },
        iter: 20);

    [Fact]
    public void Against_all_others_each_net_but_one_has_a_step() => AnyLoom.Sample(
        loom =>
        {
            var graph = WireGraph.Topology(loom);
            var steps = Bench.Plan(loom, Isolation.Thorough).Steps.OfType<IsolationStep>().ToList();
            steps.ShouldAllBe(s => s.Red == null);
            steps.Select(s => graph.NetOf(s.Black)!.Number).ShouldBeUnique();
            steps.Count.ShouldBe(graph.Nets.Length - 1);
        },
        iter: 20);

    [Fact]
    public void Numbers_follow_one_another_seconds_are_of_a_hand_and_limits_hold_what_is_drawn() => Gen.Select(AnyLoom, Gen.OneOfConst(Meter.BenchFourWire, Meter.HandTwoWire), Gen.Enum<Isolation>()).Sample(
        (loom, meter, isolation) =>
        {
            var plan = Bench.Plan(loom, isolation, meter);
            plan.Steps.Select(s => s.Number).ShouldBe(Enumerable.Range(1, plan.Steps.Length));
            plan.Steps.ShouldAllBe(s => s.Seconds >= TouchCost.Usual.Touch && s.Seconds < 60);
            plan.Seconds.ShouldBeInRange(plan.LowerBoundSeconds - 1e-6, plan.PinOrderSeconds + 1e-6);
            plan.Seconds.ShouldBe(plan.Steps.Sum(s => s.Seconds), 1e-6);
            foreach (var step in plan.Steps.OfType<ContinuityStep>())
            {
                step.Expected.Nominal.ShouldBeInRange(step.Limits.Least, step.Limits.Most);
                plan.Judge(step, new(step.Expected.Nominal)).ShouldNotBe(Verdict.Fail, "a wire as drawn");
                plan.Judge(step, Reading.OverRange).ShouldBe(Verdict.Fail);
            }

            foreach (var step in plan.Steps.OfType<IsolationStep>())
            {
                plan.Judge(step, new(0.05)).ShouldBe(Verdict.Fail);
                plan.Judge(step, Reading.OverRange).ShouldNotBe(Verdict.Fail);
            }
        },
        iter: 16);

    /// <summary>Feeds and grounds of it go into hundreds of connectors: looking at every pair of those beside every step would take minutes.</summary>
    [Theory]
    [InlineData(Isolation.Thorough, 1.05, 0.85)]
    [InlineData(Isolation.Neighbours, 1.2, 0.6)]
    public void A_loom_of_three_thousand_wires_is_planned_near_the_bound(Isolation isolation, double aboveBound, double ofPinOrder)
    {
        var loom = ShopLoom.Make(1930, 7, wide: false);
        var plan = Bench.Plan(loom, isolation);

        plan.Seconds.ShouldBeLessThan(aboveBound * plan.LowerBoundSeconds);
        plan.Seconds.ShouldBeLessThan(ofPinOrder * plan.PinOrderSeconds);
        plan.Steps.Count(s => s is ContinuityStep).ShouldBe(WireGraph.Topology(loom).Nets.Sum(n => n.Points.Length - 1));
    }

    [Fact]
    public void A_plan_is_the_same_each_time_it_is_made() => AnyLoom.Sample(
        loom => Known.PlanAnew(loom, Isolation.Neighbours, Meter.BenchFourWire, null).Steps.ShouldBe(Bench.Plan(loom, Isolation.Neighbours).Steps), iter: 6);
}
