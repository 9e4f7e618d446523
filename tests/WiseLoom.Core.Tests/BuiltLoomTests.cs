using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;

namespace WiseLoom.Core.Tests;

/// <summary>Faults that are put into a loom, and the stand-in that measures it.</summary>
public sealed class BuiltLoomTests
{
    [Fact]
    public void Every_kind_of_fault_changes_the_metal_as_its_name_says()
    {
        var loom = Looms.Of("A:1-B:1", "A:2-B:2", "A:3-B:3");
        bool Joined(Fault fault, string a, string b)
        {
            var graph = new BuiltLoom(loom, [fault]).Graph(20, CopperTolerance.Usual);
            return graph.NetOf(ProbePoint.Parse(a)) is { } net && graph.NetOf(ProbePoint.Parse(b))?.Number == net.Number;
        }

        Joined(new OpenFault("W1"), "A:1", "B:1").ShouldBeFalse();
        Joined(new MissingFault("W1"), "A:1", "B:1").ShouldBeFalse();
        Joined(new IntermittentFault("W1"), "A:1", "B:1").ShouldBeTrue();
        Joined(SwapFault.Of("A", "1", "2"), "A:1", "B:2").ShouldBeTrue();
        Joined(new MisplacedFault("A", "1", "4"), "A:4", "B:1").ShouldBeTrue();
        Joined(new ShortFault("A:1", "A:2", 0.1), "B:1", "B:2").ShouldBeTrue();
        Joined(new ShiftFault("A", ["1", "2", "3"], 1), "A:4", "B:3").ShouldBeTrue();
        Joined(new MirroredFault("A"), "A:5", "B:1").ShouldBeTrue();
        Joined(new OpenFault("no such wire"), "A:1", "B:1").ShouldBeTrue();
    }

    [Fact]
    public void Repair_puts_right_what_is_at_the_place_and_nothing_else()
    {
        var bench = new SimulatedBench(Looms.FrostFan, Meter.BenchFourWire, [SwapFault.Of("ECU-A", "25", "26"), new ResistiveFault("W42", 0.62, "from")], 5);

        bench.Repair("ECU-A:24").ShouldBe(0);
        bench.Hidden.ShouldBe(2);
        bench.Repair("ECU-A:26").ShouldBe(1);
        bench.Repair("COIL8:C").ShouldBe(0, "the poor joint is at the splice end");
        bench.Repair("S6").ShouldBe(1);
        bench.Hidden.ShouldBe(0);
    }

    [Fact]
    public void A_bench_without_faults_passes_every_step_or_cannot_tell()
    {
        foreach (var loom in new[] { Looms.FrostFan, Looms.WorkLaunch })
        {
            foreach (var isolation in Enum.GetValues<Isolation>())
            {
                var plan = Bench.Plan(loom, isolation);
                var bench = new SimulatedBench(loom, Meter.BenchFourWire, [], 3);
                var verdicts = plan.Steps.Select(s => Judgement.Of(Measure(loom, plan, bench, s), s.Limits, plan.Meter)).ToList();
                verdicts.ShouldNotContain(Verdict.Fail);
                verdicts.Count(v => v == Verdict.CantTell).ShouldBeLessThan(plan.Steps.Length / 20);
            }
        }
    }

    private static Reading Measure(Loom loom, TestPlan plan, SimulatedBench bench, PlanStep step)
    {
        var probes = StepProbes.Of(loom, plan, step);
        return bench.Measure(probes.Red, probes.Black);
    }
}
