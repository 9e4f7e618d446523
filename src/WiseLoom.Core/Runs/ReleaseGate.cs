using System.Collections.Immutable;

namespace WiseLoom.Core.Runs;

/// <summary>One thing that keeps a loom from release.</summary>
/// <param name="Kind"><c>not-tested</c>, <c>failing</c>, <c>retest</c>, <c>meter</c>, <c>fault</c>, <c>seen</c>, <c>power-up</c> or <c>set-aside</c>.</param>
/// <param name="Text">What it is, in words.</param>
/// <param name="Steps">The steps concerned; empty for a fault.</param>
/// <param name="Fault">The fault's number; null for steps.</param>
public sealed record Hold(string Kind, string Text, ImmutableArray<int> Steps, int? Fault);

/// <summary>Decides whether a loom may be released.</summary>
public static class ReleaseGate
{
    /// <summary>Everything that stands against release; empty when the loom may go.</summary>
    /// <remarks>Skipped steps and readings that cannot tell do not hold a loom; the pack names them as not proven.</remarks>
    public static ImmutableArray<Hold> Holds(BenchRun run)
    {
        ArgumentNullException.ThrowIfNull(run);
        var holds = ImmutableArray.CreateBuilder<Hold>();
        if (run.SetAside is { } aside)
        {
            holds.Add(new("set-aside", $"This run was set aside by {aside.By.Name}; another took its place.", [], null));
        }

        if (run.Care.IsOut || run.Care.IsSuspect)
        {
            holds.Add(new("meter", run.Care.IsOut ? "The meter was found not to be right. Check it until all three checks pass." : "A check of the meter failed once. Repeat it: a second failure means that the meter has drifted.", [], null));
        }

        AddSteps(holds, run, StepState.Fail, "failing", n => $"{Count(n, "step")} {(n == 1 ? "fails" : "fail")}.");
        AddSteps(holds, run, StepState.Retest, "retest", n => $"{Count(n, "step")} must be measured again after {(run.Care.DriftedAt > 0 ? "a fix, or because the meter was not right" : "a fix")}.");
        AddSteps(holds, run, StepState.NotTested, "not-tested", n => $"{Count(n, "step")} {(n == 1 ? "has" : "have")} no reading yet. Measure or skip with a reason.");
        foreach (var fault in run.Faults)
        {
            var missing = run.StateOf(fault) switch
            {
                FaultState.Proven => null,
                FaultState.Fixed => "is fixed but not proven: its retests must pass.",
                FaultState.CauseKnown => "has a known cause but no fix yet.",
                _ => "is open.",
            };
            if (missing is not null)
            {
                holds.Add(new("fault", $"Fault {fault.Number} ({fault.Title}) {missing}", [], fault.Number));
            }
        }

        if (run.SeenAndNotLogged is [var first, ..] seen)
        {
            holds.Add(new("seen", $"{Count(seen.Length, "thing")} {(seen.Length == 1 ? "was" : "were")} seen that {(seen.Length == 1 ? "is" : "are")} not as drawn, and {(seen.Length == 1 ? "is" : "are")} not logged as a fault: {first.InWords()}.", [], null));
        }

        AddPowerUp(holds, run);
        return holds.ToImmutable();
    }

    /// <summary>Stages that the shop asks for, and checks that failed or must be done again, unless a lead let their stage pass.</summary>
    private static void AddPowerUp(ImmutableArray<Hold>.Builder holds, BenchRun run)
    {
        if (run.PowerUp is not { } record)
        {
            return;
        }

        PlannedCheck[] Left(CheckState state) => [.. record.In(state).Where(c => !record.Passes.ContainsKey(c.Stage))];
        if (Left(CheckState.Failed) is [var failed, ..] all)
        {
            holds.Add(new("power-up", $"{Count(all.Length, "check")} of the power-up failed: {failed.Title}", [], null));
        }

        if (Left(CheckState.Again) is [var again, ..] due)
        {
            holds.Add(new("power-up", $"{Count(due.Length, "check")} of the power-up must be done again after a fix: {again.Title}", [], null));
        }

        if (record.Missing is [var stage, ..] missing)
        {
            holds.Add(new("power-up", $"{(missing.Length == 1 ? $"Stage {stage}" : $"Stages {string.Join(", ", missing)}")} of the power-up {(missing.Length == 1 ? "is" : "are")} neither passed nor said not to be done.", [], null));
        }
    }

    private static void AddSteps(ImmutableArray<Hold>.Builder holds, BenchRun run, StepState which, string kind, Func<int, string> text)
    {
        if (run.Count(which) == 0)
        {
            return;
        }

        ImmutableArray<int> steps = [.. run.Plan.Steps.Where(s => run[s.Number].State == which).Select(s => s.Number)];
        holds.Add(new(kind, text(steps.Length), steps, null));
    }

    private static string Count(int n, string what) => n == 1 ? $"1 {what}" : $"{n} {what}s";
}
