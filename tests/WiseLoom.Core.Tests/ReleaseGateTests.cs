using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Tests;

/// <summary>What holds a loom, who lets it pass, and what a run that was set aside leaves to the next one.</summary>
public sealed class ReleaseGateTests
{
    private static readonly Loom Loom = Looms.Of("A:1-B:1", "A:2-B:2", "A:3-B:3");

    private static readonly TestPlan Plan = Bench.Sorted(Bench.Plan(Loom, Isolation.Neighbours));

    private readonly Bench bench = new(Loom, Plan);

    private static int Step(Loom loom, TestPlan plan, string black) => plan.Steps.First(s => s.IsJoined && s.Black.ToString() == black).Number;

    private static Bench Next(Bench before, Loom? loom = null, TestPlan? plan = null, long meter = 7)
    {
        before.Ask(Guid.NewGuid(), Bench.Mira, Bench.Start, run => run.PutAside(Guid.NewGuid())).ShouldBeOfType<Decision.Accepted>();
        return new(BenchRun.Begin(loom ?? before.Run.Loom, plan ?? before.Run.Plan, Inheritance.Of(before.Run, 41, 7), meter));
    }

    private static Bench Passing(Bench on)
    {
        on.ReadAll(_ => true);
        return on;
    }

    [Fact]
    public void More_skips_than_the_shop_lets_pass_are_a_leads_decision_that_covers_no_later_skip()
    {
        bench.ReadAll(s => s.Number > 2);
        bench.Skip(1, "No plug at hand.", lead: false);
        bench.Run.Holds.Select(h => (h.Kind, h.On)).ShouldBe([("not-tested", null), ("skips", "skips")]);
        bench.Skip(2, "No plug at hand.", lead: false);
        bench.Run.Holds.ShouldHaveSingleItem().Text.ShouldBe("2 steps of 5 are skipped: that is a lead’s decision.");
        bench.Run.Summary().Undecided.ShouldBe(1);

        bench.Accept("skips", "The customer has the plug.", lead: false);
        bench.Run.Holds.ShouldHaveSingleItem().Proposal!.By.ShouldBe(Bench.Mira);
        bench.Sign().ShouldBeOfType<Decision.Conflict>();
        bench.Accept("skips", "The customer has the plug.");
        bench.Run.Holds.ShouldBeEmpty();
        bench.Run.Proposed.ShouldBeEmpty();
        PackDecision.Of(bench.Run).ShouldHaveSingleItem().ShouldSatisfyAllConditions(
            d => d.What.ShouldBe("2 steps skipped: steps 1, 2."), d => d.Reason.ShouldBe("The customer has the plug."), d => d.By.ShouldBe("Mira Solstad"));

        bench.Skip(3, "No time.", lead: false);
        bench.Run.Holds.ShouldHaveSingleItem().Kind.ShouldBe("skips");
        bench.Skip(3, "No time.", lead: true);
        bench.Run.Holds.ShouldBeEmpty("a lead skipped it");
    }

    /// <summary>Five steps: a fifth of them is one.</summary>
    [Theory]
    [InlineData(0.2, 1, false)]
    [InlineData(0.19, 1, true)]
    [InlineData(0.2, 2, true)]
    [InlineData(0.4, 2, false)]
    public void The_shops_share_of_skips_is_meant_to_the_step(double most, int skipped, bool holds)
    {
        var few = new Bench(Loom, Plan with { MostSkipped = most });
        few.ReadAll(s => s.Number > skipped);
        for (var step = 1; step <= skipped; step++)
        {
            few.Skip(step, lead: false);
        }

        few.Run.Holds.Any(h => h.Kind == "skips").ShouldBe(holds);
    }

    [Fact]
    public void A_fault_that_is_known_and_not_mended_holds_though_its_step_passes()
    {
        bench.ReadAll(s => s.Number > 1);
        bench.Read(1, Verdict.Fail);
        bench.Log(1);
        bench.Cause(1, "The crimp is bad.");
        bench.Read(1, Verdict.Pass);
        bench.Run.Holds.ShouldHaveSingleItem().Text.ShouldContain("has a known cause but no fix yet");
    }

    [Fact]
    public void One_skipped_feed_is_a_leads_decision_however_few_it_is()
    {
        var loom = Loom with { Wires = [.. Loom.Wires.Select((w, i) => i == 0 ? w with { Role = WireRole.Feed } : w)] };
        var plan = Bench.Sorted(Bench.Plan(loom, Isolation.Neighbours)) with { MostSkipped = 0.5 };
        var feed = new Bench(loom, plan);
        feed.ReadAll(s => s.Number > 2);
        feed.Read(1, Verdict.Pass);
        feed.Skip(2, lead: false);
        feed.Run.Holds.ShouldBeEmpty();
        feed.Skip(1, lead: false);
        feed.Run.Holds.ShouldHaveSingleItem().Text.ShouldContain("1 of them at feeds or grounds");
    }

    [Fact]
    public void A_failing_step_is_let_pass_as_it_was_seen_and_holds_again_when_it_is_read_again()
    {
        bench.ReadAll(s => s.Number > 1);
        bench.Read(1, Verdict.Fail);
        bench.Accept("failing", "x").ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/reason");
        bench.Accept("failing", seen: bench.Run.LastEvent - 1).ShouldBeOfType<Decision.Conflict>().Words.ShouldContain("Something came since");
        bench.Accept("failing", seen: 99).ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/seen");
        bench.Accept("failing", steps: 2).ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/steps");
        bench.Accept("not-tested").ShouldBeOfType<Decision.Conflict>();
        bench.Accept("failing", lead: false).ShouldBeOfType<Decision.Accepted>();
        bench.Run.Summary().Failing.ShouldBe(1, "a proposal");
        bench.Accept("failing", steps: 1).ShouldBeOfType<Decision.Accepted>();
        bench.Run.Holds.ShouldBeEmpty();
        bench.Run.Summary().IsClear.ShouldBeTrue();

        bench.Read(1, Verdict.Fail);
        bench.Run.Summary().Failing.ShouldBe(1);
        bench.Run.Holds.ShouldHaveSingleItem().Kind.ShouldBe("failing");
    }

    [Fact]
    public void A_fault_is_let_pass_by_a_lead_until_it_is_fixed_and_not_proven()
    {
        bench.ReadAll(s => s.Number > 1);
        bench.Read(1, Verdict.Fail);
        bench.Log(1);
        bench.Read(1, Verdict.Pass);
        bench.Run.Holds.ShouldHaveSingleItem().On.ShouldBe("fault 1");
        bench.Accept("fault 1", "It was a bad touch.");
        bench.Run.Holds.ShouldBeEmpty();
        bench.Run.Faults[0].LetPass.ShouldBe("Mira Solstad: It was a bad touch.");
        bench.Fix(1, "A:1");
        bench.Run.Faults[0].LetPass.ShouldBeNull();
        bench.Run.Holds.Select(h => h.Kind).ShouldBe(["retest", "fault"]);
    }

    [Fact]
    public void A_drawing_is_corrected_by_its_own_way_only_and_proven_by_the_run_on_the_new_revision()
    {
        var first = Step(Loom, Plan, "A:1");
        bench.ReadAll(s => s.Number != first);
        bench.Read(first, Verdict.Fail);
        bench.Log(first);
        bench.Ask(Guid.NewGuid(), Bench.Mira, Bench.Start, run => run.Mend(Guid.NewGuid(), 1, new(FixWork.DrawingCorrected, ["A:1"], null, null, null, [])))
            .ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/did");
        bench.Ask(Guid.NewGuid(), Bench.Mira, Bench.Start, run => run.CorrectDrawing(Guid.NewGuid(), 1, "B", ["A:1", "A:2", "B:1", "B:2"]));
        Passing(bench).Run.StateOf(bench.Run.Faults[0]).ShouldBe(FaultState.Fixed);

        var corrected = Looms.Of("A:1-B:2", "A:2-B:1", "A:3-B:3");
        var next = Next(bench, corrected, Bench.Sorted(Bench.Plan(corrected, Isolation.Neighbours)));
        next.Run.Holds.Select(h => h.Kind).ShouldBe(["not-tested", "fault"], "what failed by the wrong drawing is the fault’s");
        Passing(next).Run.Holds.ShouldBeEmpty();
        next.Run.StateOf(next.Run.Faults[0]).ShouldBe(FaultState.Proven);
    }

    [Fact]
    public void What_a_run_set_aside_found_holds_the_next_one_until_the_same_passes()
    {
        bench.ReadAll(s => s.Number > 2);
        bench.Read(1, Verdict.Fail);
        bench.Log(1);
        bench.Read(2, Verdict.Fail);
        var next = Next(bench);
        next.ReadAll(s => s.Number > 2);
        next.Skip(1, lead: false);
        next.Skip(2, lead: false);
        next.Accept("skips");
        next.Run.Holds.Select(h => h.Text).ShouldBe(
        [
            "Fault 1, of run 41 (reads wrong) is open.",
            $"Run 41, set aside: {Failure(bench, 1)}. It stands until step 1 passes.",
            $"Run 41, set aside: {Failure(bench, 2)}. It stands until step 2 passes.",
        ]);
        next.Run.Summary().Undecided.ShouldBe(2);
        PackModel.Of(new(1, "c", "m", "l", "A", 1, "", "Ada", Bench.Start, "m"), next.Run, []).Earlier.ShouldHaveSingleItem().Found.Length.ShouldBe(3);

        next.Read(1, Verdict.Pass);
        next.Read(2, Verdict.Pass);
        next.Run.Holds.ShouldHaveSingleItem().On.ShouldBe("fault 1", "nobody has said what was done");
        next.Cause(1, "A contact was not home.");
        next.Fix(1, "A:1");
        Passing(next).Run.Holds.ShouldBeEmpty();

        var third = Next(next);
        third.Run.Faults.ShouldBeEmpty();
        third.Run.Inherited.Runs.Length.ShouldBe(2);
        Passing(third).Run.Holds.ShouldBeEmpty();
    }

    /// <summary>The next plan goes another way through the same circuit: what failed may lie in any of its steps.</summary>
    [Fact]
    public void A_failing_pair_that_the_next_plan_does_not_measure_is_good_when_all_steps_of_its_circuit_pass()
    {
        var loom = Looms.Of("A:1-B:1", "A:1-C:1", "A:2-B:2");
        var plan = Bench.Sorted(Bench.Plan(loom, Isolation.Neighbours));
        var joined = plan.Steps.Where(s => s.IsJoined && s.Black.Cavity == "1").ToList();
        var ends = joined.SelectMany(s => new[] { s.Black, s.Red!.Value }).GroupBy(p => p).Where(g => g.Count() == 1).Select(g => g.Key).ToList();
        var failure = new EarlierFailure(41, "Read over range.", joined[0] with { Black = ends[0], Red = ends[1] }, null);
        var next = new Bench(BenchRun.Begin(loom, plan, Inheritance.None with { Failures = [failure] }));
        joined.Count.ShouldBe(2);
        next.ReadAll(s => s.Number != joined[1].Number);
        next.Skip(joined[1].Number);
        next.Run.Holds.ShouldContain(h => h.Kind == "earlier");
        next.Read(joined[1].Number, Verdict.Pass);
        next.Run.Holds.ShouldBeEmpty();
    }

    [Fact]
    public void What_the_next_plan_does_not_measure_is_for_a_lead_and_goes_on_to_the_run_after()
    {
        bench.Read(1, Verdict.Fail);
        bench.Log(1);
        var shorter = Looms.Of("A:2-B:2", "A:3-B:3");
        var plan = Bench.Sorted(Bench.Plan(shorter, Isolation.Neighbours));
        var next = Passing(Next(bench, shorter, plan));
        next.Run.Holds.Select(h => h.On).ShouldBe(["fault 1", "earlier 41 step 1"]);
        next.Fix(1, "B:2");
        Passing(next).Run.Holds.Select(h => h.Text).First().ShouldContain("no step of this plan can prove it");
        var third = Passing(Next(next));
        third.Run.Holds.Select(h => h.On).ShouldBe(["fault 1", "earlier 41 step 1"]);
        third.Accept("fault 1", "The wire is gone.");
        third.Accept("earlier 41 step 1", "The wire is gone.");
        third.Run.Holds.ShouldBeEmpty();
        PackDecision.Of(third.Run).Length.ShouldBe(2);
    }

    [Fact]
    public void A_fault_of_this_run_keeps_its_number_and_an_earlier_runs_fault_gives_it_up()
    {
        bench.Read(1, Verdict.Fail);
        bench.Log(1);
        var next = Next(bench);
        next.Run.Fault(1)!.From.ShouldBe(new(41, 1));
        var before = next.Run.After(new Happened(1, Guid.NewGuid(), Bench.Mira, Bench.Start, new FaultLogged(1, 2, "stored before", null, [])));
        before.Fault(1)!.Seen.ShouldBe("stored before");
        before.Fault(2)!.From.ShouldBe(new(41, 1));
        next.Read(2, Verdict.Fail);
        next.Log(2);
        next.Run.Fault(2)!.From.ShouldBeNull();
    }

    [Fact]
    public void A_meter_that_was_out_stays_out_in_the_next_run_with_it_until_all_checks_pass()
    {
        bench.CheckAll();
        bench.Check(CheckKind.KnownLink, false);
        bench.Check(CheckKind.KnownLink, false);
        Passing(Next(bench, meter: 8)).Run.Holds.ShouldBeEmpty("another meter");
        var next = new Bench(BenchRun.Begin(Loom, Plan, Inheritance.Of(bench.Run, 41, 7), 7));
        next.Run.Holds.ShouldContain(h => h.Kind == "meter");
        next.Read(1, Verdict.Pass);
        next.Run[1].State.ShouldBe(StepState.NotTested, "read with a meter that is out");
        Passing(next.CheckAll()).Run.Holds.ShouldBeEmpty();
        Inheritance.Of(next.Run, 42, 7).MetersOut.ShouldBeEmpty();
    }

    [Fact]
    public void Less_than_the_shop_asks_of_a_plan_is_a_leads_decision()
    {
        var asked = new BenchTemplate(0.1, true, true, true).On(Plan, false, true);
        asked.MostSkipped.ShouldBe(0.1);
        var less = Passing(new Bench(Loom, asked));
        less.Run.Holds.ShouldHaveSingleItem().Text.ShouldBe("The shop asks for more than this plan: each circuit against all others, where this plan goes by neighbours; crimp samples, which this plan leaves out.");
        less.Accept("plan", "The customer pays for neighbours.");
        less.Run.Holds.ShouldBeEmpty();
        BenchTemplate.Usual.On(Plan, false, false).LessThanAsked.ShouldBeEmpty();
    }

    private static string Failure(Bench of, int step) =>
        $"Step {step}, {of.Run.Plan.Step(step)!.Black} to {of.Run.Plan.Step(step)!.RedInWords}, read {of.Run[step].Reading!.Reading.InWords()}, should be {of.Run.Plan.Step(step)!.Passes()}";
}
