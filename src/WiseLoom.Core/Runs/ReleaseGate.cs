using System.Collections.Immutable;

namespace WiseLoom.Core.Runs;

/// <summary>One thing that keeps a loom from release.</summary>
/// <param name="Kind"><c>not-tested</c>, <c>failing</c>, <c>retest</c>, <c>meter</c>, <c>fault</c>, <c>seen</c>, <c>power-up</c>, <c>skips</c>, <c>plan</c>, <c>earlier</c> or <c>set-aside</c>.</param>
/// <param name="Text">What it is, in words.</param>
/// <param name="Steps">The steps concerned; empty for a fault.</param>
/// <param name="Fault">The fault's number; null for steps.</param>
public sealed record Hold(string Kind, string Text, ImmutableArray<int> Steps, int? Fault)
{
    /// <summary>The name under which a lead lets it pass with a reason; null for what nobody lets pass here: it is done, or decided elsewhere.</summary>
    public string? On { get; init; }

    /// <summary>Number of the event since which it stands as it does: who has not seen that event cannot let it pass.</summary>
    public long Since { get; init; }

    /// <summary>The lead's decision that lets it pass; null while it stands against release.</summary>
    public Happened? Decision { get; init; }

    /// <summary>What was proposed for it last, and by whom; null for nothing.</summary>
    public Happened? Proposal { get; init; }
}

/// <summary>Decides whether a loom may be released.</summary>
public static class ReleaseGate
{
    /// <summary>Names of holds that a lead can let pass.</summary>
    internal const string OnFailing = "failing", OnRetest = "retest", OnSkips = "skips", OnPlan = "plan", OnSchool = "school";

    /// <summary>Everything that stands against release; empty when the loom may go.</summary>
    /// <remarks>Skipped steps up to the shop's limit and readings that cannot tell do not hold a loom; the pack names them as not proven.</remarks>
    public static ImmutableArray<Hold> Holds(BenchRun run) => [.. All(run).Where(h => h.Decision is null)];

    /// <summary>What a lead let pass, each with the decision that lets it: the pack prints it.</summary>
    public static ImmutableArray<Hold> LetPass(BenchRun run) => [.. All(run).Where(h => h.Decision is not null)];

    /// <summary>The name of a fault's hold.</summary>
    internal static string OnFault(int fault) => $"fault {fault}";

    /// <summary>The steps that a hold is about now.</summary>
    internal static ImmutableArray<int> StepsOf(BenchRun run, string on) => on switch
    {
        OnFailing => In(run, StepState.Fail),
        OnRetest => In(run, StepState.Retest),
        _ => [],
    };

    /// <summary>Holds that only a lead's decision takes away, or a measurement of what an earlier run left: skips, a plan of less than the shop asks for, earlier failures.</summary>
    internal static IEnumerable<Hold> ForTheLead(BenchRun run)
    {
        var skipped = run.Count(StepState.Skipped);
        if (!run.SkipsUndecided.IsEmpty && (skipped > run.Plan.MostSkipped * run.Plan.Steps.Length || run.SkipsUndecided.Any(run.FeedsAndGrounds.Contains)))
        {
            var steps = run.SkipsUndecided.ToImmutableArray();
            var critical = steps.Count(run.FeedsAndGrounds.Contains);
            yield return new("skips", $"{Count(skipped, "step")} of {run.Plan.Steps.Length} {(skipped == 1 ? "is" : "are")} skipped{(critical > 0 ? $", {critical} of them at feeds or grounds" : "")}: that is a lead’s decision.", steps, null)
            {
                On = OnSkips,
                Since = steps.Max(s => run[s].ChangedAt),
                Proposal = Proposal(run, OnSkips),
            };
        }
        else if (run.Accepted.GetValueOrDefault(OnSkips) is { } decision && In(run, StepState.Skipped).Where(s => run[s].By is { What: StepSkipped { ByLead: false } } by && by.Number < decision.Number).ToImmutableArray() is [_, ..] let)
        {
            yield return new("skips", $"{Count(let.Length, "step")} skipped.", let, null) { On = OnSkips, Decision = decision };
        }

        if (!run.Plan.LessThanAsked.IsEmpty)
        {
            yield return WithDecision(run, new("plan", $"The shop asks for more than this plan: {string.Join("; ", run.Plan.LessThanAsked)}.", [], null) { On = OnPlan });
        }

        foreach (var earlier in run.EarlierFailures.Where(e => !run.IsMadeGood(e)))
        {
            yield return WithDecision(run, new("earlier", $"Run {earlier.Failure.Run}, set aside: {earlier.Failure.Words}. {HowToMakeGood(run, earlier)}", earlier.Steps, null) { On = earlier.Failure.On });
        }
    }

    /// <summary>The hold of a power-up with less than the shop's template asks for; null when it is as asked.</summary>
    internal static Hold? School(BenchRun run) => run.PowerUp is { Terms: { AskedSchool: { Length: > 0 } asked, School: var school } }
        ? WithDecision(run, new("power-up", $"The shop asks for the power-up in the school ‘{asked}’; this one is ‘{school}’.", [], null) { On = $"{OnSchool} {school}" })
        : null;

    private static IEnumerable<Hold> All(BenchRun run)
    {
        ArgumentNullException.ThrowIfNull(run);
        if (run.SetAside is { } aside)
        {
            yield return new("set-aside", $"This run was set aside by {aside.By.Name}; another took its place.", [], null);
        }

        if (run.Care.IsOut || run.Care.IsSuspect)
        {
            yield return new("meter", run.Care.IsOut ? "The meter was found not to be right. Check it until all three checks pass." : "A check of the meter failed once. Repeat it: a second failure means that the meter has drifted.", [], null);
        }

        IEnumerable<Hold> rest =
        [
            .. Steps(run, StepState.Fail, OnFailing, n => $"{Count(n, "step")} {(n == 1 ? "fails" : "fail")}."),
            .. Steps(run, StepState.Retest, OnRetest, n => $"{Count(n, "step")} must be measured again after {(run.Care.DriftedAt > 0 ? "a fix, or because the meter was not right" : "a fix")}."),
            .. NotTested(run),
            .. Faults(run),
            .. Seen(run),
            .. PowerUp(run),
            .. ForTheLead(run),
        ];
        foreach (var hold in rest)
        {
            yield return hold;
        }
    }

    private static IEnumerable<Hold> Faults(BenchRun run)
    {
        foreach (var fault in run.Faults)
        {
            var missing = run.StateOf(fault) switch
            {
                FaultState.Proven => null,
                FaultState.Fixed when fault.Fix!.Did == FixWork.DrawingCorrected && fault.FixedAt > 0 => "is of the drawing, which was corrected: the run on the new revision proves it.",
                FaultState.Fixed when fault.IsOutOfPlan || (fault.Fix!.Retests.IsEmpty && fault.Sighted.IsEmpty && fault.Checks.IsEmpty) => "is fixed, and no step of this plan can prove it.",
                FaultState.Fixed => "is fixed but not proven: its retests must pass.",
                FaultState.CauseKnown => "has a known cause but no fix yet.",
                _ => "is open.",
            };
            if (missing is not null)
            {
                var from = fault.From is { } origin ? $", of run {origin.Run}" : "";
                var on = OnFault(fault.Number);
                yield return new("fault", $"Fault {fault.Number}{from} ({fault.Title}) {missing}", [], fault.Number)
                {
                    On = on,
                    Since = Math.Max(fault.LoggedNumber, fault.FixedAt),
                    Decision = fault.Accepted,
                    Proposal = Proposal(run, on),
                };
            }
        }
    }

    private static IEnumerable<Hold> Seen(BenchRun run)
    {
        if (run.SeenAndNotLogged is [var first, ..] seen)
        {
            yield return new("seen", $"{Count(seen.Length, "thing")} {(seen.Length == 1 ? "was" : "were")} seen that {(seen.Length == 1 ? "is" : "are")} not as drawn, and {(seen.Length == 1 ? "is" : "are")} not logged as a fault: {first.InWords()}.", [], null);
        }
    }

    /// <summary>Stages that the shop asks for, and checks that failed or must be done again, unless a lead let their stage pass since.</summary>
    private static IEnumerable<Hold> PowerUp(BenchRun run)
    {
        if (run.PowerUp is not { } record)
        {
            yield break;
        }

        PlannedCheck[] Left(CheckState state) => [.. record.In(state).Where(c => !record.IsCovered(c))];
        if (Left(CheckState.Failed) is [var failed, ..] all)
        {
            yield return new("power-up", $"{Count(all.Length, "check")} of the power-up failed: {failed.Title}", [], null);
        }

        if (Left(CheckState.Again) is [var again, ..] due)
        {
            yield return new("power-up", $"{Count(due.Length, "check")} of the power-up must be done again after a fix: {again.Title}", [], null);
        }

        if (record.DisplacedLeft is [var before, ..] displaced)
        {
            yield return new("power-up", $"{Count(displaced.Length, "check")} failed before the bench was changed: {before.Check.Title} Put the bench back and repeat it, or a lead lets stage {before.Check.Stage} pass.", [], null);
        }

        if (record.Missing is [var stage, ..] missing)
        {
            var proposed = missing.Where(record.Proposals.ContainsKey).ToList();
            yield return new("power-up", $"{(missing.Length == 1 ? $"Stage {stage}" : $"Stages {string.Join(", ", missing)}")} of the power-up {(missing.Length == 1 ? "is" : "are")} neither passed nor let pass by a lead.{(proposed.Count > 0 ? $" Proposed as not done: {string.Join(", ", proposed)}; a lead decides." : "")}", [], null);
        }

        if (School(run) is { } school)
        {
            yield return school;
        }
    }

    private static IEnumerable<Hold> NotTested(BenchRun run)
    {
        if (In(run, StepState.NotTested) is [_, ..] steps)
        {
            yield return new("not-tested", $"{Count(steps.Length, "step")} {(steps.Length == 1 ? "has" : "have")} no reading yet. Measure or skip with a reason.", steps, null);
        }
    }

    /// <summary>Steps of one state: those that stand against release together, and those that each decision lets pass.</summary>
    private static IEnumerable<Hold> Steps(BenchRun run, StepState state, string on, Func<int, string> text)
    {
        var steps = In(run, state);
        if (steps.Where(s => !run.IsLetPass(s)).ToImmutableArray() is [_, ..] left)
        {
            yield return new(on, text(left.Length), left, null) { On = on, Since = left.Max(s => Math.Max(run[s].By?.Number ?? 0, run[s].AgainAt)), Proposal = Proposal(run, on) };
        }

        foreach (var let in steps.Where(run.IsLetPass).GroupBy(s => run.AcceptedSteps[s].Number))
        {
            yield return new(on, text(let.Count()), [.. let], null) { On = on, Decision = run.AcceptedSteps[let.First()] };
        }
    }

    private static Hold WithDecision(BenchRun run, Hold hold) => hold with { Decision = run.Accepted.GetValueOrDefault(hold.On!), Proposal = Proposal(run, hold.On!) };

    private static string HowToMakeGood(BenchRun run, EarlierStanding earlier) => earlier.Failure.Check is { } check
        ? run.PowerUp?.Find(check.Id)?.Fingerprint == check.Fingerprint ? "It stands until the same check passes." : "This power-up does not have the same check: a lead may let it pass."
        : earlier.Steps.IsEmpty ? "This plan does not measure the same: a lead may let it pass."
        : earlier.Steps.Length == 1 ? $"It stands until step {earlier.Steps[0]} passes." : $"It stands until steps {string.Join(", ", earlier.Steps)} pass.";

    private static Happened? Proposal(BenchRun run, string on) => run.Proposed.FindLast(p => ((HoldAccepted)p.What).On == on);

    private static ImmutableArray<int> In(BenchRun run, StepState which) =>
        run.Count(which) == 0 ? [] : [.. run.Plan.Steps.Where(s => run[s.Number].State == which).Select(s => s.Number)];

    private static string Count(int n, string what) => n == 1 ? $"1 {what}" : $"{n} {what}s";
}
