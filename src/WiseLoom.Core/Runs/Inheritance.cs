using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Planning.Steps;

namespace WiseLoom.Core.Runs;

/// <summary>A run that was set aside, as the pack names it.</summary>
/// <param name="Revision">Of the loom that it measured.</param>
/// <param name="Steps">How many steps its plan had.</param>
/// <param name="Done">How many of them were dealt with.</param>
/// <param name="Found">What it found: each fault, failing step and failed check, in words.</param>
public sealed record EarlierRun(long Id, string Revision, int Steps, int Done, string SetAsideBy, DateTimeOffset SetAsideAt, ImmutableArray<string> Found);

/// <summary>A fault that was not proven mended when its run was set aside.</summary>
/// <param name="Fault">As it stood then; its origin is the run that it was logged in.</param>
/// <param name="Step">The failing step of that run's plan; null for what no step shows.</param>
public sealed record EarlierFault(LoggedFault Fault, PlanStep? Step);

/// <summary>Something that failed in a run that was set aside, and did not pass since.</summary>
/// <param name="Run">The run in which it failed.</param>
/// <param name="Words">What failed and how, in words.</param>
/// <param name="Step">The failing step; null for a check of the power-up.</param>
/// <param name="Check">The failed check; null for a step.</param>
public sealed record EarlierFailure(long Run, string Words, PlanStep? Step, PlannedCheck? Check)
{
    /// <summary>Names it among the holds of a run.</summary>
    public string On => $"earlier {Run} {(Step is not null ? $"step {Step.Number}" : $"check {Check!.Id}")}";
}

/// <summary>What the runs that were set aside leave to the loom's next run: faults and failures belong to the loom, not to a run.</summary>
/// <param name="Runs">The runs that were set aside, the oldest first.</param>
/// <param name="MetersOut">Numbers of shop meters that were found out, and not right again before their run was set aside.</param>
public sealed record Inheritance(ImmutableArray<EarlierRun> Runs, ImmutableArray<EarlierFault> Faults, ImmutableArray<EarlierFailure> Failures, ImmutableArray<long> MetersOut)
{
    private const int MostFound = 200;

    /// <summary>Of a loom's first run.</summary>
    public static Inheritance None { get; } = new([], [], [], []);

    /// <summary>What a run leaves to the one that takes its place.</summary>
    /// <param name="run">Set aside: nothing comes after it.</param>
    /// <param name="id">Its number.</param>
    /// <param name="meter">Number of its shop meter.</param>
    public static Inheritance Of(BenchRun run, long id, long meter)
    {
        ArgumentNullException.ThrowIfNull(run);
        var faults = run.Faults.Where(f => run.StateOf(f) != FaultState.Proven).ToImmutableArray();
        var failing = run.Plan.Steps.Where(s => Failed(run, s.Number, faults)).Select(s => new EarlierFailure(id, InWords(run, s), s, null));
        ImmutableArray<EarlierFailure> failures = [.. run.EarlierFailures.Where(e => !run.IsMadeGood(e)).Select(e => e.Failure), .. failing, .. Checks(run, id)];
        return new(
            [.. run.Inherited.Runs, new(id, run.Loom.Revision, run.Plan.Steps.Length, run.Done, run.SetAside?.By.Name ?? "", run.SetAside?.At ?? default, Found(run, failures.Where(f => f.Run == id)))],
            [.. faults.Select(f => new EarlierFault(f with { From = f.From ?? new(id, f.Number) }, run.StepOfEarlier(f) ?? run.Plan.Step(f.Step)))],
            failures,
            [.. run.Inherited.MetersOut.Where(m => m != meter), .. run.Care.IsOut || run.Care.IsSuspect ? (long[])[meter] : []]);
    }

    /// <summary>Steps of a new plan that must pass before an earlier failing step is made good.</summary>
    /// <returns>The same step; else, for a pair that metal must still join, every continuity step of its circuit. Empty when the new plan has neither: then only a lead can let it pass.</returns>
    internal static ImmutableArray<int> Same(Loom loom, TestPlan plan, PlanStep earlier)
    {
        ImmutableArray<int> same = [.. plan.Steps.Where(s => s.AsksTheSameAs(earlier)).Select(s => s.Number)];
        if (!same.IsEmpty || earlier is not ContinuityStep { Red: { } red })
        {
            return same;
        }

        var graph = WireGraph.Topology(loom);
        return graph.NetOf(earlier.Black) is { } net && graph.NetOf(red)?.Number == net.Number
            ? [.. plan.Steps.Where(s => s is ContinuityStep && graph.NetOf(s.Black)?.Number == net.Number).Select(s => s.Number)]
            : [];
    }

    /// <summary>A fault of an earlier run as the new run's log has it: the fix's retests are those of the new plan.</summary>
    internal static LoggedFault Carried(EarlierFault earlier, int number, Loom loom, TestPlan plan)
    {
        var fault = earlier.Fault;
        var same = earlier.Step is { } step ? Same(loom, plan, step) : [];
        var places = Places(earlier).Where(loom.HasPlace).ToImmutableArray();
        ImmutableArray<int> Retests(FixDone fix) =>
            fix.Did != FixWork.DrawingCorrected && earlier.Step is not null && same.IsEmpty ? []
            : Retest.Of(loom, plan, [.. fix.Places.Where(loom.HasPlace), .. fault.Places.Where(loom.HasPlace)], same);
        return fault with
        {
            Number = number,
            Step = same.FirstOrDefault(),
            ShownBy = same,
            IsOutOfPlan = earlier.Step is not null && same.IsEmpty,
            Places = places,
            Fix = fault.Fix is { } fix ? fix with { Retests = Retests(fix) } : null,
            FixedAt = 0,
            LoggedNumber = 0,
            Accepted = null,
        };
    }

    private static ImmutableArray<string> Places(EarlierFault earlier) =>
        earlier.Step is { } step ? [.. earlier.Fault.Places, step.Black.ToString(), .. step.Red is { } red ? (string[])[red.ToString()] : []] : earlier.Fault.Places;

    /// <summary>Whether a step failed and did not pass since; one that waits for the retest of a fault's fix is that fault's.</summary>
    private static bool Failed(BenchRun run, int step, ImmutableArray<LoggedFault> faults) =>
        run[step].State == StepState.Fail
        || (run[step] is { State: StepState.Retest, Reading.Verdict: Verdict.Fail } && !faults.Any(f => f.Fix?.Retests.Contains(step) == true));

    private static string InWords(BenchRun run, PlanStep step) =>
        $"Step {step.Number}, {step.Black} to {step.RedInWords}, read {run[step.Number].Reading?.Reading.InWords()}, should be {step.Passes()}";

    private static IEnumerable<EarlierFailure> Checks(BenchRun run, long id) => run.PowerUp is not { } record ? []
        : record.Unresolved.Select(f => new EarlierFailure(id, $"Check of the power-up, stage {f.Check.Stage}: {f.Check.Title} Seen: {f.Answered.Said}, should be {f.Answered.Expected}", null, f.Check));

    private static ImmutableArray<string> Found(BenchRun run, IEnumerable<EarlierFailure> failures)
    {
        var faults = run.Faults.Where(f => f.From is null)
            .Select(f => $"Fault {f.Number}, {f.Title}: {run.StateOf(f) switch { FaultState.Proven => "mended and proven", FaultState.Fixed => "mended, not proven", FaultState.CauseKnown => "cause known, not mended", _ => "open" }}");
        var all = faults.Concat(failures.Select(f => f.Words)).ToList();
        return all.Count <= MostFound ? [.. all] : [.. all.Take(MostFound), $"and {all.Count - MostFound} more"];
    }
}

/// <summary>An earlier failure and the steps of this plan that make it good.</summary>
/// <param name="Steps">All must pass; empty when only a lead can let it pass, and for checks.</param>
public sealed record EarlierStanding(EarlierFailure Failure, ImmutableArray<int> Steps);
