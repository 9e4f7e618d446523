using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Planning.Steps;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Diagnosis;

/// <summary>A reading of a run as evidence.</summary>
/// <param name="Step">Number of its step; 0 for one beside the plan.</param>
/// <param name="Probe">The event, of one beside the plan; null otherwise.</param>
/// <param name="Number">Number of its event.</param>
public sealed record RunObservation(int Step, Happened? Probe, Observation Seen, long Number);

/// <summary>What the readings of a run say of the bare loom.</summary>
public static class RunObservations
{
    /// <summary>Those that steps stand by, then those beside the plan. What is from before a fix, or was taken with a meter that was found out, does not count.</summary>
    public static ImmutableArray<RunObservation> Of(BenchRun run)
    {
        ArgumentNullException.ThrowIfNull(run);
        var steps = run.Plan.Steps.Select(s => (s.Number, Seen: Of(run, s))).Where(x => x.Seen is not null).Select(x => new RunObservation(x.Number, null, x.Seen!, run[x.Number].By!.Number));
        var probes = run.Probes.Select(p => (p, What: (ProbeTaken)p.What)).Select(x => new RunObservation(0, x.p, new(x.What.A, x.What.B, x.What.Ohm, x.What.Moved), x.p.Number));

        // Two readings of the same places that contradict each other are told; a third settles it, and the last one stands.
        return [.. steps.Concat(probes).GroupBy(o => Places(o.Seen)).SelectMany(g => g.Count() > 2 ? [g.MaxBy(o => o.Number)!] : g.AsEnumerable()).OrderBy(o => o.Probe is not null).ThenBy(o => o.Probe is null ? o.Step : o.Number)];
    }

    private static string Places(Observation seen)
    {
        var (a, b) = (string.Join(' ', seen.A.Order()), seen.B is { } far ? string.Join(' ', far.Order()) : "*");
        return $"{(string.CompareOrdinal(a, b) < 0 ? $"{a}|{b}" : $"{b}|{a}")} {seen.Moved} {seen.With is null}";
    }

    private static Observation? Of(BenchRun run, PlanStep step)
    {
        var standing = run[step.Number];
        if (step.Phase is not (StepPhase.Bare or StepPhase.UnderLoad) || standing.State == StepState.Retest)
        {
            return null;
        }

        if (standing is { By.What: GroupProven })
        {
            return Observation.Of(step.Black, null, null);
        }

        if (standing.Reading is not { } taken || step.AsPair(taken.Reading) is not { Unit: ReadingUnit.Ohm } says)
        {
            return null;
        }

        return taken.Moved is not { } moved ? Observation.Of(step.Black, step.Red, says.Ohms) with { With = step is LoadStep ? run.Plan.MeterFor(step) : null }
            : step.IsJoined ? Observation.Of(step.Black, step.Red, moved.Breaks > 0 ? null : says.Ohms) with { Moved = true }
            : null;
    }
}
