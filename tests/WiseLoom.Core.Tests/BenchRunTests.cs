using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Shop;

namespace WiseLoom.Core.Tests;

/// <summary>What a run decides, by example: three wires side by side, three continuity and two isolation steps.</summary>
public sealed class BenchRunTests
{
    private static readonly Loom Loom = Looms.Of("A:1-B:1", "A:2-B:2", "A:3-B:3");

    private readonly Bench bench = new(Loom, Bench.Sorted(Bench.Plan(Loom, Isolation.Neighbours)));

    private BenchRun Run => bench.Run;

    [Fact]
    public void The_plan_of_three_wires_side_by_side_has_three_continuity_and_two_isolation_steps() =>
        Run.Plan.Steps.Select(s => (s.Kind, $"{s.Black} {s.Red}")).ShouldBe([
            ("continuity", "A:1 B:1"), ("continuity", "A:2 B:2"), ("continuity", "A:3 B:3"), ("apart", "A:1 B:2"), ("apart", "A:2 B:3")]);

    [Fact]
    public void A_step_goes_by_its_last_reading()
    {
        bench.Read(1, Verdict.Fail);
        bench.Read(1, Verdict.Pass);
        bench.Skip(2);
        bench.Read(3, Verdict.CantTell);

        Enumerable.Range(1, 5).Select(n => Run[n].State).ShouldBe([StepState.Pass, StepState.Skipped, StepState.CantTell, StepState.NotTested, StepState.NotTested]);
        Run.Next(3)!.Number.ShouldBe(4);
        Run.Next(5)!.Number.ShouldBe(4);
        Run.SecondsLeft.ShouldBe(Run.Plan.Steps[3].Seconds + Run.Plan.Steps[4].Seconds, 1e-9);
    }

    [Fact]
    public void A_fix_asks_for_its_steps_again_before_anything_else()
    {
        bench.Read(1, Verdict.Fail);
        bench.Read(4, Verdict.Pass);
        bench.Log(1);
        bench.Fix(1, "A:1");

        (Run[1].State, Run[4].State).ShouldBe((StepState.Retest, StepState.Retest));
        Run.Next(2)!.Number.ShouldBe(4);
        Run.Next(4)!.Number.ShouldBe(1);
        Run.StateOf(Run.Faults[0]).ShouldBe(FaultState.Fixed);
    }

    [Fact]
    public void A_fault_is_proven_only_when_every_retest_has_passed_since_the_fix()
    {
        bench.Read(1, Verdict.Fail);
        bench.Log(1);
        Run.StateOf(Run.Faults[0]).ShouldBe(FaultState.Open);
        bench.Cause(1, "strand broken");
        Run.StateOf(Run.Faults[0]).ShouldBe(FaultState.CauseKnown);
        bench.Fix(1, "A:1");
        bench.Read(1, Verdict.Pass);
        Run.StateOf(Run.Faults[0]).ShouldBe(FaultState.Fixed);
        bench.Read(4, Verdict.CantTell);
        Run.StateOf(Run.Faults[0]).ShouldBe(FaultState.Fixed);
        bench.Skip(4);
        Run.StateOf(Run.Faults[0]).ShouldBe(FaultState.Fixed);
        bench.Read(4, Verdict.Pass);
        Run.StateOf(Run.Faults[0]).ShouldBe(FaultState.Proven);
    }

    [Fact]
    public void A_reading_from_before_the_fix_is_kept_and_shown_and_does_not_prove_it()
    {
        bench.Read(1, Verdict.Fail);
        bench.Log(1);
        var known = Run.LastEvent;
        bench.Fix(1, "A:1");

        bench.Read(1, Verdict.Pass, Bench.Tomas, known).ShouldBeOfType<Decision.Accepted>().What.ShouldBeOfType<ReadingTaken>().Bearing.ShouldBe(Bearing.BeforeFix);
        (Run[1].State, Run[1].Late!.By).ShouldBe((StepState.Retest, Bench.Tomas));
        bench.Record()[0].Readings.Length.ShouldBe(2);
        bench.Read(1, Verdict.Pass, Bench.Tomas, known + 1);
        (Run[1].State, Run[1].Late).ShouldBe((StepState.Pass, null));
    }

    [Fact]
    public void A_failing_reading_is_not_covered_by_somebody_who_did_not_know_of_it()
    {
        bench.Read(2, Verdict.Fail);

        bench.Read(2, Verdict.Pass, Bench.Tomas, 0);
        Run[2].State.ShouldBe(StepState.Fail);
        Run[2].Late!.What.ShouldBeOfType<ReadingTaken>().Bearing.ShouldBe(Bearing.Overtaken);
        bench.Read(2, Verdict.Pass, Bench.Tomas, Run.LastEvent);
        Run[2].State.ShouldBe(StepState.Pass);
        bench.Read(2, Verdict.Fail, Bench.Mira, 0);
        Run[2].State.ShouldBe(StepState.Fail);
    }

    [Fact]
    public void Of_one_persons_readings_the_one_taken_last_stands_in_whatever_order_they_come()
    {
        NewReading At(int second, Verdict verdict) => new(Guid.NewGuid(), 1, Bench.Showing(Run.Plan, 1, verdict), false, "m", Bench.Start.AddSeconds(second), 0);
        bench.Take(At(20, Verdict.Pass));
        bench.Take(At(10, Verdict.Fail));

        Run[1].State.ShouldBe(StepState.Pass);
        bench.Take(At(30, Verdict.Fail));
        Run[1].State.ShouldBe(StepState.Fail);
    }

    [Fact]
    public void The_same_key_twice_is_the_same_event_and_for_something_else_a_refusal()
    {
        var reading = new NewReading(Guid.NewGuid(), 1, 0.04, false, "m", Bench.Start, 0);
        bench.Take(reading).ShouldBeOfType<Decision.Accepted>();

        bench.Take(reading).ShouldBe(new Decision.Already(1));
        bench.Take(reading with { Shown = 0.05 }).ShouldBe(BenchRun.KeyTaken);
        bench.Take(reading with { Step = 2 }).ShouldBe(BenchRun.KeyTaken);
        bench.Ask(reading.Key, Bench.Mira, Bench.Start, run => run.Skip(reading.Key, 1, "no time", false)).ShouldBe(BenchRun.KeyTaken);
        bench.Ask(Guid.Empty, Bench.Mira, Bench.Start, run => run.Skip(Guid.Empty, 1, "no time", false)).ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/key");
        bench.Events.Count.ShouldBe(1);
    }

    [Theory]
    [InlineData(0, 0.04, 0, 0, "/step")]
    [InlineData(6, 0.04, 0, 0, "/step")]
    [InlineData(1, double.NaN, 0, 0, "/ohms")]
    [InlineData(1, -2.0, 0, 0, "/ohms")]
    [InlineData(1, 2e12, 0, 0, "/ohms")]
    [InlineData(1, 0.04, 1, 0, "/seen")]
    [InlineData(1, 0.04, -1, 0, "/seen")]
    [InlineData(1, 0.04, 0, 30, "/takenAt")]
    [InlineData(1, 0.04, 0, -9000, "/takenAt")]
    public void A_reading_that_cannot_be_says_which_of_its_fields_is_wrong(int step, double shown, long seen, int hours, string at)
    {
        bench.Take(new(Guid.NewGuid(), step, shown, false, "m", Bench.Start.AddHours(hours), seen)).ShouldBeOfType<Decision.Wrong>().At.ShouldBe(at);
        bench.Events.ShouldBeEmpty();
    }

    [Fact]
    public void A_step_that_fails_cannot_be_left_out()
    {
        bench.Read(1, Verdict.Fail);

        bench.Skip(1).ShouldBeOfType<Decision.Conflict>().Words.ShouldContain("fails");
        bench.Skip(2, "x").ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/reason");
        bench.Skip(9).ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/step");
    }

    [Fact]
    public void Faults_and_fixes_say_what_is_wrong_with_them()
    {
        bench.Log(1).ShouldBeOfType<Decision.Conflict>().Words.ShouldContain("does not fail");
        bench.Read(1, Verdict.Fail);
        bench.Log(1).ShouldBeOfType<Decision.Accepted>();
        bench.Cause(1, " ").ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/words");
        bench.Cause(2, "broken").ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/fault");
        bench.Fix(2, "A:1").ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/fault");
        bench.Fix(1).ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/places");
        bench.Fix(1, "nowhere").ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/places");
        FixDone Done(string did, double? minutes) => new(did, ["A:1"], minutes, null, null, []);
        bench.Ask(Guid.NewGuid(), Bench.Mira, Bench.Start, run => run.Mend(Guid.NewGuid(), 1, Done("prayed", 1))).ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/did");
        bench.Ask(Guid.NewGuid(), Bench.Mira, Bench.Start, run => run.Mend(Guid.NewGuid(), 1, Done("re-crimp", -1))).ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/minutes");
    }

    [Fact]
    public void A_loom_is_held_by_untested_failing_and_retest_steps_and_by_faults_that_are_not_proven()
    {
        bench.Read(1, Verdict.Fail);
        bench.Log(1);
        bench.Cause(1, "open wire");
        bench.Fix(1, "W1");
        bench.Read(4, Verdict.Pass);
        bench.Read(2, Verdict.Fail);
        var holds = Run.Holds;

        holds.Select(h => h.Kind).ShouldBe(["failing", "retest", "not-tested", "fault"]);
        holds.Take(3).Select(h => string.Join(' ', h.Steps)).ShouldBe(["2", "1", "3 5"]);
        holds[3].Text.ShouldContain("Fault 1 (open wire) is fixed but not proven");
        bench.Sign().ShouldBeOfType<Decision.Conflict>().Words.ShouldContain("1 step fails");
    }

    [Fact]
    public void Skipped_and_undecided_steps_do_not_hold_a_loom()
    {
        bench.All(Verdict.Pass);
        bench.Skip(5);
        bench.Read(4, Verdict.CantTell);

        Run.Holds.ShouldBeEmpty();
    }

    [Fact]
    public void A_pack_is_signed_over_the_last_event_or_not_at_all()
    {
        bench.All(Verdict.Pass);
        var printed = Run.LastEvent;
        bench.Read(1, Verdict.Pass);

        bench.Sign(printed).ShouldBeOfType<Decision.Conflict>().Words.ShouldContain("Something happened");
        bench.Sign().ShouldBeOfType<Decision.Accepted>();
        Run.Summary().Pack.ShouldBe(1);
    }

    [Fact]
    public void What_is_set_aside_takes_nothing_more_and_says_by_whom_it_was()
    {
        bench.PutAside();

        bench.Read(1, Verdict.Pass).ShouldBeOfType<Decision.Conflict>().Words.ShouldContain("set aside by Mira Solstad");
        bench.Skip(1).ShouldBeOfType<Decision.Conflict>();
        bench.Sign().ShouldBeOfType<Decision.Conflict>();
        bench.PutAside().ShouldBeOfType<Decision.Conflict>();
        Run.Holds.Select(h => h.Kind).ShouldBe(["set-aside", "not-tested"]);
    }

    [Fact]
    public void A_job_moves_from_stage_to_stage_and_back_when_a_reading_speaks_against_its_pack()
    {
        JobStage Stands(string? waits = null) => JobStage.Of(true, Run.Summary(), waits);
        JobStage.Of(false, null, null).Stage.ShouldBe(Stage.NoLoom);
        JobStage.Of(true, null, "the customer’s controller").ShouldBe(new(Stage.WaitingForBench, "Waiting for the bench", "Waits for the customer’s controller"));
        bench.Read(1, Verdict.Fail);
        bench.Log(1);
        bench.Fix(1, "W1");
        Stands().ShouldBe(new(Stage.OnBench, "On the bench, 0 of 5", "1 fault not proven, 2 retests missing"));
        bench.All(Verdict.Pass);
        Stands().Stage.ShouldBe(Stage.ReadyToSign);
        bench.Sign();
        Stands("paint").ShouldBe(new(Stage.Released, "Released, pack 1", ""));
        JobStage.AgainstPack(Run.Summary()).ShouldBeNull();

        bench.Read(2, Verdict.Fail);
        Stands("paint").ShouldBe(new(Stage.Overturned, "Pack 1 no longer holds", "1 step fails"));
        JobStage.AgainstPack(Run.Summary()).ShouldBe("Since it was signed: 1 step fails.");
        bench.Log(2);
        bench.Fix(2, "W2");
        bench.All(Verdict.Pass);
        Stands().ShouldBe(new(Stage.ReadyToSign, "Mended since pack 1, ready to sign", "The lead’s signature"));
        JobStage.AgainstPack(Run.Summary())!.ShouldContain("does not tell of it");
        bench.Sign(version: 2);
        Stands().Text.ShouldBe("Released, pack 2");
    }

    [Fact]
    public void A_connector_shows_what_most_needs_a_hand()
    {
        bench.Read(1, Verdict.Pass);
        Run.Connectors()["A"].ShouldBe(StepState.NotTested);
        bench.All(Verdict.Pass);
        Run.Connectors()["B"].ShouldBe(StepState.Pass);
        bench.Read(2, Verdict.Fail);
        Run.Connectors().ShouldBe(new Dictionary<string, StepState> { ["A"] = StepState.Fail, ["B"] = StepState.Fail });
    }

    [Fact]
    public void Proof_is_carried_only_to_a_step_that_nobody_has_dealt_with()
    {
        Decision Carry(int step) => bench.Ask(Guid.NewGuid(), Bench.Mira, Bench.Start, run => run.Carry(Guid.NewGuid(), new(step, 7, 3, "carried over")));
        Carry(1).ShouldBeOfType<Decision.Accepted>();
        Carry(1).ShouldBeOfType<Decision.Conflict>();
        Carry(6).ShouldBeOfType<Decision.Wrong>();
        (Run[1].State, bench.Record()[0].Carried).ShouldBe((StepState.Pass, "carried over"));
    }
}
