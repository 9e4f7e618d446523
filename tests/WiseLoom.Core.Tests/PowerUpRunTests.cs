using System.Collections.Immutable;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Practice;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Runs;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Tests;

/// <summary>What a run keeps of a power-up, and what it refuses: stages in their order, cautions first, faults, fixes, the gate.</summary>
public sealed class PowerUpRunTests
{
    private static readonly Loom Fan = Looms.FrostFan;

    private static readonly PowerUpPlan Plan = PowerUpPlan.Of(Fan, BenchFit.AsDrawn, 20, School.Bench);

    [Fact]
    public void Nothing_is_answered_before_it_is_begun_nor_what_is_not_in_it()
    {
        var run = BenchRun.Begin(Fan, Bench.Plan(Fan, Core.Planning.Isolation.Neighbours));
        Answered(run, Plan.Checks.First()).ShouldBeOfType<Decision.Conflict>().Words.ShouldContain("not begun");
        var begun = Begun();
        begun.Answer(Guid.CreateVersion7(), Answer("none", true, begun)).ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/check");
        begun.Answer(Guid.CreateVersion7(), Answer(Plan.Checks.First().Id, true, begun) with { Seen = 99 }).ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/seen");
        begun.Answer(Guid.Empty, Answer(Plan.Checks.First().Id, true, begun)).ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/key");
    }

    [Fact]
    public void Cautions_come_before_the_answer_and_stages_in_their_order()
    {
        var run = Begun();
        var first = Plan.Checks.First();
        run.Answer(Guid.CreateVersion7(), Answer(first.Id, true, run) with { CautionsSeen = false }).ShouldBeOfType<Decision.Conflict>().Words.ShouldContain("cautions");
        Answered(run, Plan.Checks.First(c => c.Stage == 2)).ShouldBeOfType<Decision.Conflict>().Words.ShouldContain("locked");
        run = Through(run, 1);
        run.PowerUp!.StateOf(1).ShouldBe(StageState.Passed);
        run.PowerUp.Current.ShouldBe(2);
        Answered(run, Plan.Checks.First(c => c.Stage == 2)).ShouldBeOfType<Decision.Accepted>();
    }

    [Fact]
    public void A_stage_with_one_open_check_is_not_passed_and_unlocks_nothing()
    {
        var run = Begun();
        foreach (var check in Plan.Checks.Where(c => c.Stage == 1).Skip(1))
        {
            run = After(run, Answered(run, check));
        }

        run.PowerUp!.StateOf(1).ShouldBe(StageState.Open);
        run.PowerUp.StateOf(2).ShouldBe(StageState.Locked);
        Answered(run, Plan.Checks.First(c => c.Stage == 2)).ShouldBeOfType<Decision.Conflict>();
    }

    [Fact]
    public void The_same_answer_twice_is_one_and_a_key_is_not_used_for_another()
    {
        var run = Begun();
        var (key, answer) = (Guid.CreateVersion7(), Answer(Plan.Checks.First().Id, true, run));
        run = After(run, key, run.Answer(key, answer));
        run.Answer(key, answer).ShouldBeOfType<Decision.Already>();
        run.Answer(key, answer with { Check = Plan.Checks.ElementAt(1).Id }).ShouldBeOfType<Decision.Conflict>();
    }

    [Fact]
    public void A_pass_that_did_not_know_of_a_failure_does_not_undo_it_and_one_that_did_does()
    {
        var run = Begun();
        var check = Plan.Checks.First().Id;
        var late = Answer(check, true, run);
        run = After(run, run.Answer(Guid.CreateVersion7(), Answer(check, false, run)));
        run = After(run, run.Answer(Guid.CreateVersion7(), late));
        run.PowerUp![check].State.ShouldBe(CheckState.Failed);
        run.Holds.ShouldContain(h => h.Kind == "power-up");
        run = After(run, run.Answer(Guid.CreateVersion7(), Answer(check, true, run)));
        run.PowerUp![check].State.ShouldBe(CheckState.Passed);
    }

    [Fact]
    public void A_fault_that_a_check_opened_is_proven_when_the_check_passes_after_the_fix()
    {
        var run = Through(Begun(), 2);
        var check = Plan.Checks.First(c => c.Id == "lamp charge-lamp controller-off");
        run = After(run, run.Answer(Guid.CreateVersion7(), Answer(check.Id, false, run)));
        run = After(run, run.LogFault(Guid.CreateVersion7(), 0, "The charge lamp stays dark.", []));
        var fault = run.Faults.ShouldHaveSingleItem();
        fault.Checks.ShouldBe([check.Id]);
        run.FailedChecks.ShouldBeEmpty();
        run.LogFault(Guid.CreateVersion7(), 0, "The same again.", []).ShouldBeOfType<Decision.Conflict>();
        run = After(run, run.Mend(Guid.CreateVersion7(), 1, new("re-crimp", ["W94"], 5, null, null, [])));
        run.PowerUp![check.Id].State.ShouldBe(CheckState.Again);
        run.StateOf(run.Faults[0]).ShouldBe(FaultState.Fixed);
        // An answer from before the fix proves nothing.
        var stale = run.Answer(Guid.CreateVersion7(), Answer(check.Id, true, run) with { Seen = 1 });
        After(run, stale).PowerUp![check.Id].State.ShouldBe(CheckState.Again);
        run = Bench.Measured(Fan, run.Plan) is var measured && run.Faults[0].Fix!.Retests.IsEmpty ? run : Measured(run, measured);
        run = After(run, run.Answer(Guid.CreateVersion7(), Answer(check.Id, true, run)));
        run.StateOf(run.Faults[0]).ShouldBe(FaultState.Proven);
    }

    [Fact]
    public void A_fix_marks_what_depends_on_its_places_and_nothing_else()
    {
        var run = Through(Begun(), 3);
        var before = run.PowerUp!.In(CheckState.Passed).Count();
        run = After(run, run.Answer(Guid.CreateVersion7(), Answer(Plan.Checks.First(c => c.Stage == 4).Id, false, run)));
        run = After(run, run.LogFault(Guid.CreateVersion7(), 0, "Stays on.", []));
        run = After(run, run.Mend(Guid.CreateVersion7(), 1, new("re-crimp", ["FUSE:C5"], 5, null, null, [])));
        var again = run.PowerUp!.In(CheckState.Again).Select(c => c.Id).ToList();
        again.ShouldContain("feed ECU-A:57 on controller-off");
        again.ShouldNotContain("limited volts ECU-A:58");
        again.Count.ShouldBeLessThan(before);
    }

    /// <summary>Whoever has a contact out has the wires at it in hand.</summary>
    [Fact]
    public void A_fix_at_a_contact_marks_what_depends_on_the_wires_at_it()
    {
        var (check, wire) = Plan.Checks.Where(c => c.Stage <= 3).SelectMany(c => Fan.Wires.Where(w => c.Touches.Contains(w.Id)).Select(w => (c, w)))
            .First(x => !x.c.Touches.Contains(x.w.To.Text) && Fan.HasPlace(x.w.To.Text));
        var run = Through(Begun(), 3);
        run = After(run, run.Answer(Guid.CreateVersion7(), Answer(Plan.Checks.First(c => c.Stage == 4).Id, false, run)));
        run = After(run, run.LogFault(Guid.CreateVersion7(), 0, "Stays on.", []));
        run = After(run, run.Mend(Guid.CreateVersion7(), 1, new("re-crimp", [wire.To.Text], 5, null, null, [])));
        run.PowerUp![check.Id].State.ShouldBe(CheckState.Again);
    }

    [Fact]
    public void A_leads_word_on_a_stage_does_not_hold_after_a_fix_at_what_it_was_given_on()
    {
        var run = Through(Begun([3]), 2);
        run = After(run, run.Answer(Guid.CreateVersion7(), Answer("lamp charge-lamp controller-off", false, run)));
        run = After(run, run.LogFault(Guid.CreateVersion7(), 0, "The charge lamp stays dark.", []));
        run = After(run, run.PassStage(Guid.CreateVersion7(), new(3, false, "The customer knows of it.", ""), true));
        run.PowerUp!.StateOf(3).ShouldBe(StageState.Waived);
        run = After(run, run.Mend(Guid.CreateVersion7(), 1, new("re-crimp", ["W94"], 5, null, null, [])));
        run.PowerUp!.StateOf(3).ShouldBe(StageState.Open);
        run.PowerUp.Missing.ShouldBe([3]);
        run.Holds.ShouldContain(h => h.Kind == "power-up");
    }

    [Fact]
    public void A_lead_lets_a_stage_pass_and_anybody_proposes_that_one_cannot_be_done_with_a_reason_and_a_word()
    {
        var run = Begun();
        Decision Pass(bool notDone, string reason, string word, bool lead, int stage = 1) => run.PassStage(Guid.CreateVersion7(), new(stage, notDone, reason, word), lead);
        Pass(false, "It may go on.", "", false).ShouldBeOfType<Decision.Conflict>().Words.ShouldContain("lead");
        Pass(false, "", "", true).ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/reason");
        Pass(true, "No engine here.", "", false).ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/word");
        Pass(true, "No engine here.", "Mira", true, 2).ShouldBeOfType<Decision.Conflict>().Words.ShouldContain("locked");
        Pass(true, "No engine here.", "Mira", false, 12).ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/stage");
        run = After(run, Pass(true, "No supply here.", "Mira", false));
        run.PowerUp!.StateOf(1).ShouldBe(StageState.Open, "a proposal");
        run.PowerUp.StateOf(2).ShouldBe(StageState.Locked);
        run = After(run, Pass(true, "No supply here.", "Mira", true));
        run.PowerUp!.StateOf(1).ShouldBe(StageState.Waived);
        run = After(run, run.Answer(Guid.CreateVersion7(), Answer(Plan.Checks.First(c => c.Stage == 2).Id, false, run)));
        Pass(true, "Not done.", "Mira", true, 2).ShouldBeOfType<Decision.Conflict>().Words.ShouldContain("failed");
        run = After(run, Pass(false, "The customer knows of it.", "", true, 2));
        run.PowerUp!.Against.ShouldBe(run.PowerUp.Missing.Length);
    }

    [Fact]
    public void A_stage_that_was_not_done_or_let_pass_does_not_cover_a_check_that_fails_after()
    {
        var run = Begun([1]);
        run = After(run, run.PassStage(Guid.CreateVersion7(), new(1, true, "No supply here.", "Mira"), true));
        run.PowerUp!.Against.ShouldBe(0);
        run = After(run, run.Answer(Guid.CreateVersion7(), Answer(Plan.Checks.First().Id, false, run)));
        run.PowerUp!.StateOf(1).ShouldBe(StageState.Open);
        run.Holds.Select(h => h.Text).ShouldContain(t => t.StartsWith("1 check of the power-up failed", StringComparison.Ordinal));
        run.Summary().IsClear.ShouldBeFalse();
        run = After(run, run.PassStage(Guid.CreateVersion7(), new(1, false, "Known and harmless.", ""), true));
        run.Holds.ShouldNotContain(h => h.Kind == "power-up");
    }

    [Fact]
    public void What_failed_stays_failed_when_the_bench_is_changed_and_when_it_is_changed_back()
    {
        var run = Through(Begun(), 2);
        var check = Plan.Checks.First(c => c.Id == "lamp charge-lamp controller-off");
        run = After(run, run.Answer(Guid.CreateVersion7(), Answer(check.Id, false, run)));
        var nothing = PowerUpPlan.Of(Fan, new(Fan.Devices.Where(d => d.Model is Core.Devices.LoadModel).ToImmutableSortedDictionary(d => d.Ref, _ => (Fitting)new NothingFitted())), 20, School.Bench);
        nothing.Checks.ShouldNotContain(c => c.Id == check.Id);
        run = After(run, run.BeginPowerUp(Guid.CreateVersion7(), PlannedPowerUp.Terms(nothing, 20, [], 60)));
        run.PowerUp!.DisplacedOpen.ShouldHaveSingleItem().Check.Id.ShouldBe(check.Id);
        run.Holds.ShouldContain(h => h.Text.StartsWith("1 check failed before the bench was changed", StringComparison.Ordinal));
        run.PowerUp.StateOf(3).ShouldNotBe(StageState.Passed);
        run.PassStage(Guid.CreateVersion7(), new(3, true, "Nothing there.", "Mira"), false).ShouldBeOfType<Decision.Conflict>().Words.ShouldContain("failed");

        run = After(run, run.BeginPowerUp(Guid.CreateVersion7(), PlannedPowerUp.Terms(Plan, 20, [], 60)));
        run.Holds.ShouldContain(h => h.Text.StartsWith("1 check failed before the bench was changed", StringComparison.Ordinal));
        run.PassStage(Guid.CreateVersion7(), new(3, true, "Nothing there.", "Mira"), false).ShouldBeOfType<Decision.Conflict>();
        run = Through(run, 3);
        run.PowerUp!.DisplacedOpen.ShouldBeEmpty();
        run.Holds.ShouldNotContain(h => h.Kind == "power-up");
    }

    [Fact]
    public void A_stage_emptied_by_what_is_fitted_is_not_passed_by_that()
    {
        var nothing = PowerUpPlan.Of(Fan, new(Fan.Devices.Where(d => d.Model is not (Core.Devices.BatteryModel or Core.Devices.KeyModel)).ToImmutableSortedDictionary(d => d.Ref, _ => (Fitting)new NothingFitted())), 20, School.Bench);
        foreach (var stage in Plan.Stages.Where(s => !s.Checks.IsEmpty))
        {
            nothing.Stages.First(s => s.Number == stage.Number).IsVacant.ShouldBeFalse($"stage {stage.Number}");
        }
    }

    [Fact]
    public void A_leads_word_on_a_stage_holds_for_the_checks_that_it_was_given_on()
    {
        var run = Begun([1, 2, 3, 4]);
        foreach (var stage in new[] { 1, 2, 3, 4 })
        {
            run = After(run, run.PassStage(Guid.CreateVersion7(), new(stage, true, "Not here.", "Ada"), true));
        }

        run.PowerUp!.Against.ShouldBe(0);
        var without = PowerUpPlan.Of(Fan, new(ImmutableSortedDictionary<string, Fitting>.Empty.Add("charge-lamp", new NothingFitted())), 20, School.Bench);
        run = After(run, run.BeginPowerUp(Guid.CreateVersion7(), PlannedPowerUp.Terms(without, 20, [1, 2, 3, 4], 60)));
        run.PowerUp!.StateOf(3).ShouldNotBe(StageState.Waived);
        run.PowerUp.Proposals.Keys.ShouldContain(3);
        run.PowerUp.Missing.ShouldContain(3);
    }

    [Fact]
    public void Another_school_than_the_shop_asks_for_keeps_its_stages_and_is_a_leads_decision()
    {
        var terms = PlannedPowerUp.Terms(Plan, 20, [1, 7, 9], 60, School.Vehicle);
        terms.Required.ShouldBe([1, 7, 9]);
        terms.AskedSchool.ShouldBe("vehicle");
        PlannedPowerUp.Terms(Plan, 20, [], 60, School.Vehicle).AskedSchool.ShouldBe("");
        var run = BenchRun.Begin(Fan, Bench.Plan(Fan, Core.Planning.Isolation.Neighbours));
        run = After(run, run.BeginPowerUp(Guid.CreateVersion7(), terms));
        run.PowerUp!.Missing.ShouldBe([1, 7, 9]);
        run.Summary().PowerUp.ShouldBe(4);
        run = After(run, run.Accept(Guid.CreateVersion7(), "school bench", [], "The machine is far away.", run.LastEvent, true));
        run.Summary().PowerUp.ShouldBe(3);
        run = Through(run, 6);
        run = After(run, run.PassStage(Guid.CreateVersion7(), new(7, true, "No engine.", "Ada"), true));
        run = After(run, run.PassStage(Guid.CreateVersion7(), new(9, true, "No engine.", "Ada"), true));
        run.Summary().PowerUp.ShouldBe(0);
    }

    [Fact]
    public void A_failed_check_of_a_run_set_aside_holds_the_next_until_the_same_check_passes()
    {
        var run = Begun();
        run = After(run, run.Answer(Guid.CreateVersion7(), Answer(Plan.Checks.First().Id, false, run)));
        run = After(run, run.PutAside(Guid.CreateVersion7()));
        var next = BenchRun.Begin(Fan, run.Plan, Inheritance.Of(run, 9, 1), 1);
        next.Holds.ShouldContain(h => h.Kind == "earlier" && h.Text.Contains("does not have the same check", StringComparison.Ordinal));
        next = After(next, next.BeginPowerUp(Guid.CreateVersion7(), PlannedPowerUp.Terms(Plan, 20, [], 60)));
        next.Holds.ShouldContain(h => h.Kind == "earlier" && h.Text.Contains("until the same check passes", StringComparison.Ordinal));
        next = Through(next, 1);
        next.Holds.ShouldNotContain(h => h.Kind == "earlier");
    }

    [Fact]
    public void What_the_shop_asks_for_holds_the_loom_until_it_is_passed()
    {
        var run = Begun([1, 2]);
        run.Summary().PowerUp.ShouldBe(2);
        run.Holds.ShouldContain(h => h.Kind == "power-up" && h.Text.Contains("1, 2"));
        run = Through(run, 2);
        run.PowerUp!.Missing.ShouldBeEmpty();
        run.Summary().PowerUp.ShouldBe(0);
        PlannedPowerUp.Asked(Fan, PowerUpTemplate.Usual).ShouldBeNull();
        PlannedPowerUp.Asked(Fan, PowerUpTemplate.Usual with { Required = [1, 5] })!.Required.ShouldBe([1, 5]);
    }

    [Fact]
    public void Another_bench_keeps_what_is_expected_as_before_and_asks_again_for_the_rest()
    {
        var run = Through(Begun(), 2);
        var fit = new BenchFit(ImmutableSortedDictionary<string, Fitting>.Empty.Add("charge-lamp", new StandInLamp(5)));
        var plan = PowerUpPlan.Of(Fan, fit, 20, School.Bench);
        run = After(run, run.BeginPowerUp(Guid.CreateVersion7(), PlannedPowerUp.Terms(plan, 20, [], 60)));
        run.PowerUp!["fuse fuse-a1"].State.ShouldBe(CheckState.Passed);
        run.PowerUp.Terms.Fit.ShouldBe(fit);
        run.BeginPowerUp(Guid.CreateVersion7(), PlannedPowerUp.Terms(plan, 20, [], 60) with { Fit = new(ImmutableSortedDictionary<string, Fitting>.Empty.Add("horn", new NothingFitted())) }).ShouldBeOfType<Decision.Wrong>();
    }

    [Fact]
    public void The_same_question_with_another_answer_to_expect_is_open_again()
    {
        var run = Through(Begun(), 9);
        var before = run.PowerUp!.Terms.Checks.ToDictionary(c => c.Id);
        var plan = PowerUpPlan.Of(Fan, new(ImmutableSortedDictionary<string, Fitting>.Empty.Add("charge-lamp", new StandInLamp(5)).Add("fuel-pump", new StandInLamp(21))), 20, School.Bench);
        run = After(run, run.BeginPowerUp(Guid.CreateVersion7(), PlannedPowerUp.Terms(plan, 20, [], 60)));
        var other = run.PowerUp!.Terms.Checks.Where(c => before.TryGetValue(c.Id, out var was) && was.Fingerprint != c.Fingerprint).ToList();
        other.ShouldNotBeEmpty();
        other.ShouldAllBe(c => run.PowerUp[c.Id].State == CheckState.Open);
    }

    [Fact]
    public void Events_of_a_power_up_come_back_as_they_were_written()
    {
        var run = Begun([1]);
        RunEvent[] all =
        [
            new PowerUpBegun(run.PowerUp!.Terms with { Fit = new(ImmutableSortedDictionary<string, Fitting>.Empty.Add("fuel-pump", new StandInLamp(21)).Add("injector-1", new NothingFitted()).Add("idle-valve", new StandInResistor(8))) }),
            Answer("a", false, run) with { Told = [new(new Sightings.WorksSeen(Devices.KeyPosition.On, ["x"], [], "siren", true), false), new(new Sightings.CurrentSeen(Devices.KeyPosition.On, [], [], new("R-BAT", "1"), 1.5), true), new(new Sightings.PolaritySeen("crank-sensor", true), false)], Note = "as felt" },
            new StagePassed(3, true, "No engine.", "Mira"), new CheckPhoto("a"),
        ];
        foreach (var one in all)
        {
            var json = System.Text.Json.JsonSerializer.Serialize(one, Core.Json.CoreJson.Options);
            var back = System.Text.Json.JsonSerializer.Deserialize<RunEvent>(json, Core.Json.CoreJson.Options)!;
            System.Text.Json.JsonSerializer.Serialize(back, Core.Json.CoreJson.Options).ShouldBe(json);
            back.Fingerprint().ShouldBe(one.Fingerprint());
        }
    }

    private static BenchRun Begun(params ImmutableArray<int> required)
    {
        var run = BenchRun.Begin(Fan, Bench.Plan(Fan, Core.Planning.Isolation.Neighbours));
        return After(run, run.BeginPowerUp(Guid.CreateVersion7(), PlannedPowerUp.Terms(Plan, 20, required, 60)));
    }

    private static BenchRun Through(BenchRun run, int stage) =>
        Plan.Checks.Where(c => c.Stage <= stage).Aggregate(run, (r, c) => After(r, r.Answer(Guid.CreateVersion7(), Answer(c.Id, true, r))));

    private static CheckAnswered Answer(string check, bool passed, BenchRun run) => new(check, passed ? "as expected" : "otherwise", "as expected", passed, true, [], null, run.LastEvent);

    private static Decision Answered(BenchRun run, PowerUpCheck check) => run.Answer(Guid.CreateVersion7(), Answer(check.Id, true, run));

    private static BenchRun After(BenchRun run, Decision decision) => After(run, Guid.CreateVersion7(), decision);

    private static BenchRun After(BenchRun run, Guid key, Decision decision) =>
        run.After(new Happened(run.LastEvent + 1, key, Bench.Mira, Bench.Start.AddSeconds(run.LastEvent), decision.ShouldBeOfType<Decision.Accepted>(decision.ToString()).What));

    /// <summary>The retests of a fix, as a sound loom reads.</summary>
    private static BenchRun Measured(BenchRun run, BenchRun sound) => run.Faults[0].Fix!.Retests.Aggregate(run, (r, step) =>
    {
        var reading = new NewReading(Guid.CreateVersion7(), step, sound[step].Reading!.Reading.Ohms, true, "meter", Bench.Start, r.LastEvent);
        return After(r, reading.Key, r.Take(reading, Bench.Mira, Bench.Start));
    });
}
