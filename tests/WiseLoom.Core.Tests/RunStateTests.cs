using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Shop;

namespace WiseLoom.Core.Tests;

public sealed class RunStateTests
{
    private static readonly Loom Loom = Looms.Of("A:1-B:1", "A:2-B:2", "A:3-B:3");

    private static readonly TestPlan Plan = Planner.Plan(Loom, Meter.BenchFourWire, Isolation.Neighbours);

    private long order;

    [Fact]
    public void The_plan_of_three_wires_side_by_side_has_three_continuity_and_two_isolation_steps() =>
        Plan.Steps.Select(s => (s.Kind, $"{s.Black} {s.Red}")).ShouldBe([
            (StepKind.Continuity, "A:1 B:1"), (StepKind.Continuity, "A:2 B:2"), (StepKind.Continuity, "A:3 B:3"),
            (StepKind.Apart, "A:1 A:2"), (StepKind.Apart, "A:2 A:3")]);

    [Fact]
    public void A_step_goes_by_its_last_reading()
    {
        var state = RunState.Of(Plan, [Read(1, Verdict.Fail), Read(1, Verdict.Pass), Skip(2), Read(3, Verdict.CantTell)]);

        Enumerable.Range(1, 5).Select(n => state[n]).ShouldBe([StepState.Pass, StepState.Skipped, StepState.CantTell, StepState.NotTested, StepState.NotTested]);
        state.After(3)!.Number.ShouldBe(4);
        state.After(5)!.Number.ShouldBe(4);
        state.SecondsLeft.ShouldBe(Plan.Steps[3].Seconds + Plan.Steps[4].Seconds);
    }

    [Fact]
    public void Events_count_in_the_order_in_which_they_were_stored_whatever_order_they_come_in()
    {
        RunEvent[] events = [Read(1, Verdict.Fail), Fix(1, 1), Read(1, Verdict.Pass)];

        RunState.Of(Plan, events.Reverse())[1].ShouldBe(StepState.Pass);
    }

    [Fact]
    public void A_fix_asks_for_its_steps_again_before_anything_else()
    {
        RunEvent[] before = [Read(1, Verdict.Fail), Read(4, Verdict.Pass)];
        var fix = Fix(1, 1, 4);
        var state = RunState.Of(Plan, [.. before, fix]);

        state[1].ShouldBe(StepState.Retest);
        state[4].ShouldBe(StepState.Retest);
        state.After(2)!.Number.ShouldBe(4);
        state.Proves(fix).ShouldBeFalse();
    }

    [Fact]
    public void A_fault_is_proven_only_when_every_retest_has_passed_since_the_fix()
    {
        var early = Read(4, Verdict.Pass);
        var fix = Fix(1, 1, 4);
        var half = RunState.Of(Plan, [early, fix, Read(1, Verdict.Pass)]);
        half.Proves(fix).ShouldBeFalse();

        RunState.Of(Plan, [early, fix, Read(1, Verdict.Pass), Read(4, Verdict.Pass)]).Proves(fix).ShouldBeTrue();
        RunState.Of(Plan, [early, fix, Read(1, Verdict.Pass), Read(4, Verdict.CantTell)]).Proves(fix).ShouldBeFalse();
        RunState.Of(Plan, [early, fix, Read(1, Verdict.Pass), Skip(4)]).Proves(fix).ShouldBeFalse();
    }

    [Fact]
    public void A_connector_shows_what_most_needs_a_hand()
    {
        RunState.Of(Plan, [Read(1, Verdict.Pass)]).StateOf("A").ShouldBe(StepState.NotTested);
        RunState.Of(Plan, [.. Passing(), Read(2, Verdict.Fail)]).StateOf("B").ShouldBe(StepState.Fail);
        RunState.Of(Plan, Passing()).StateOf("B").ShouldBe(StepState.Pass);
        RunState.Of(Plan, Passing()).StateOf("Z").ShouldBe(StepState.NotTested);
    }

    [Fact]
    public void A_loom_is_held_by_untested_failing_and_retest_steps_and_by_faults_that_are_not_proven()
    {
        var state = RunState.Of(Plan, [Read(1, Verdict.Pass), Read(2, Verdict.Fail), Fix(1, 1)]);
        var holds = ReleaseGate.Holds(state, [new(1, "open wire", FaultState.Fixed), new(2, "old", FaultState.Proven)]);

        holds.Select(h => h.Kind).ShouldBe(["failing", "retest", "not-tested", "fault"]);
        holds[0].Steps.ShouldBe([2]);
        holds[1].Steps.ShouldBe([1]);
        holds[2].Steps.ShouldBe([3, 4, 5]);
        holds[3].Text.ShouldContain("Fault 1 (open wire) is fixed but not proven");
    }

    [Fact]
    public void Skipped_and_undecided_steps_do_not_hold_a_loom() =>
        ReleaseGate.Holds(RunState.Of(Plan, [.. Passing(), Skip(5), Read(4, Verdict.CantTell)]), []).ShouldBeEmpty();

    [Fact]
    public void A_job_moves_from_stage_to_stage()
    {
        JobStage.Of(false, null, [], null, null, false).Stage.ShouldBe(Stage.NoLoom);
        JobStage.Of(true, null, [], null, null, false).Stage.ShouldBe(Stage.WaitingForBench);
        JobStage.Of(true, null, [], "the customer’s controller", null, false).HeldBy.ShouldBe("Waits for the customer’s controller");
        var half = RunState.Of(Plan, [Read(1, Verdict.Fail), Fix(1, 1)]);
        var onBench = JobStage.Of(true, half, [new(1, "x", FaultState.Fixed)], null, null, false);
        (onBench.Stage, onBench.Text, onBench.HeldBy).ShouldBe((Stage.OnBench, "On the bench, 0 of 5", "1 fault not proven, 1 retest missing"));
        var done = RunState.Of(Plan, Passing());
        JobStage.Of(true, done, [], null, null, false).Stage.ShouldBe(Stage.ReadyToSign);
        JobStage.Of(true, done, [], "x", 1, true).ShouldBe(new JobStage(Stage.Released, "Released, pack 1", ""));
    }

    [Fact]
    public void A_fix_is_retested_on_its_nets_and_beside_its_cavities_and_nowhere_else()
    {
        Retest.Of(Loom, Plan, ["A:1"], [1]).ShouldBe([1, 4]);
        Retest.Of(Loom, Plan, ["A:2"], []).ShouldBe([2, 4, 5]);
        Retest.Of(Loom, Plan, ["W3"], [3]).ShouldBe([3, 5]);
        Retest.Of(Loom, Plan, ["nowhere"], [2]).ShouldBe([2]);
    }

    [Fact]
    public void A_remade_splice_is_retested_on_every_leg()
    {
        var loom = Looms.Of("A:1-S1", "S1-B:1", "S1-C:1", "A:5-B:5");
        var plan = Planner.Plan(loom, Meter.BenchFourWire, Isolation.Thorough);

        Retest.Of(loom, plan, ["S1"], []).Select(n => plan.Steps[n - 1]).Count(s => s.Kind == StepKind.Continuity).ShouldBe(2);
    }

    [Theory]
    [InlineData(0.06, 0.09, 0.01, 1000)]
    [InlineData(0, 0.01, 0.0001, 1)]
    public void The_ruler_spans_whole_decades_around_the_limits(double least, double most, double from, double to)
    {
        var ruler = Ruler.For(new Limits(least, most));

        ruler.FromOhms.ShouldBe(from, from * 1e-9);
        ruler.ToOhms.ShouldBeInRange(most * 8, to);
        Ruler.For(Limits.Apart).ShouldBe(new Ruler(1, 1e8));
    }

    private ReadingTaken Read(int step, Verdict verdict) => new(++order, step, new Reading(1), verdict);

    private StepSkipped Skip(int step) => new(++order, step, "no time");

    private FixMade Fix(int fault, params int[] retests) => new(++order, fault, [.. retests]);

    private RunEvent[] Passing() => [.. Plan.Steps.Select(s => Read(s.Number, Verdict.Pass))];
}
