using System.Collections.Immutable;

namespace WiseLoom.Core.Planning;

/// <summary>Where a logged fault stands.</summary>
public enum FaultState
{
    Open,
    CauseKnown,
    Fixed,
    Proven,
}

/// <summary>A fault as the release gate looks at it.</summary>
public sealed record FaultStanding(int Number, string Title, FaultState State);

/// <summary>One thing that keeps a loom from release.</summary>
/// <param name="Kind"><c>not-tested</c>, <c>failing</c>, <c>retest</c> or <c>fault</c>.</param>
/// <param name="Text">What it is, in words.</param>
/// <param name="Steps">The steps concerned; empty for a fault.</param>
/// <param name="Fault">The fault's number; null for steps.</param>
public sealed record Hold(string Kind, string Text, ImmutableArray<int> Steps, int? Fault);

/// <summary>Decides whether a loom may be released.</summary>
public static class ReleaseGate
{
    /// <summary>Everything that stands against release; empty when the loom may go.</summary>
    /// <remarks>Skipped steps and readings that cannot tell do not hold a loom; the pack names them as not proven.</remarks>
    public static ImmutableArray<Hold> Holds(RunState state, IEnumerable<FaultStanding> faults)
    {
        var holds = ImmutableArray.CreateBuilder<Hold>();
        AddSteps(holds, state, StepState.Fail, "failing", n => $"{Count(n, "step")} {(n == 1 ? "fails" : "fail")}.");
        AddSteps(holds, state, StepState.Retest, "retest", n => $"{Count(n, "step")} must be measured again after a fix.");
        AddSteps(holds, state, StepState.NotTested, "not-tested", n => $"{Count(n, "step")} {(n == 1 ? "has" : "have")} no reading yet. Measure or skip with a reason.");
        foreach (var fault in faults.Where(f => f.State != FaultState.Proven))
        {
            var missing = fault.State switch
            {
                FaultState.Fixed => "is fixed but not proven: its retests must pass.",
                FaultState.CauseKnown => "has a known cause but no fix yet.",
                _ => "is open.",
            };
            holds.Add(new("fault", $"Fault {fault.Number} ({fault.Title}) {missing}", [], fault.Number));
        }

        return holds.ToImmutable();
    }

    private static void AddSteps(ImmutableArray<Hold>.Builder holds, RunState state, StepState which, string kind, Func<int, string> text)
    {
        ImmutableArray<int> steps = [.. state.Plan.Steps.Where(s => state[s.Number] == which).Select(s => s.Number)];
        if (steps.Length > 0)
        {
            holds.Add(new(kind, text(steps.Length), steps, null));
        }
    }

    private static string Count(int n, string what) => n == 1 ? $"1 {what}" : $"{n} {what}s";
}
