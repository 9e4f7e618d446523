using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Sightings;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Something that was seen in a run, as evidence.</summary>
/// <param name="Step">Number of its step; 0 for one beside the plan.</param>
/// <param name="Event">The event, of one beside the plan; null otherwise.</param>
/// <param name="What">What was seen.</param>
public sealed record RunSighting(int Step, Happened? Event, Sighting What)
{
    /// <summary>The check of the power-up that tells it; null for none.</summary>
    public string? Check { get; init; }
}

/// <summary>What a run says besides resistances of the bare loom.</summary>
public static class RunSightings
{
    /// <summary>Of a power-up so many failed checks, so many that passed, and so many situations besides those of the failed ones.</summary>
    private const int MostFailed = 12, MostPassed = 40, MostSituations = 4;

    /// <summary>What was seen beside the plan; and, where any of them failed, the readings through devices.</summary>
    /// <returns>At most <see cref="Diagnostician.MostSightings"/>, failed ones first.</returns>
    public static ImmutableArray<RunSighting> Of(BenchRun run)
    {
        ArgumentNullException.ThrowIfNull(run);
        ImmutableArray<RunSighting> checks = run.PowerUp is { } record ? [.. OfChecks(record)] : [];
        var beside = run.Sightings.Select(e => new RunSighting(0, e, ((SightingTaken)e.What).What));
        var fitted = run.Plan.Steps.Where(s => s is { Phase: StepPhase.Fitted, Red: not null } && run[s.Number] is { State: StepState.Pass or StepState.Fail, Reading: not null }).ToList();
        var failed = fitted.FindAll(s => run[s.Number].State == StepState.Fail);
        return
        [
            .. beside.Concat(checks).Concat(failed.Concat(failed.Count == 0 ? [] : fitted.Except(failed))
                .Select(s => new RunSighting(s.Number, null, new FittedSeen(s.Black, s.Red!.Value, run[s.Number].Reading!.Reading.Ohms, run.Plan.Fitted))))
                .Take(Diagnostician.MostSightings),
        ];
    }

    /// <summary>What failed checks of the power-up tell; and, of those that passed, what was seen in the same situations or depends on the same places.</summary>
    /// <remarks>Each situation costs a state for each supposition: a few tell most.</remarks>
    private static IEnumerable<RunSighting> OfChecks(PowerUpRecord record)
    {
        var failed = record.In(CheckState.Failed).Take(MostFailed).ToList();
        if (failed.Count == 0)
        {
            return [];
        }

        IEnumerable<RunSighting> Tells(PlannedCheck check) => record[check.Id].Answered!.Told.Select(t => new RunSighting(0, null, t.What) { Check = check.Id });
        var told = failed.SelectMany(Tells).ToList();
        var situations = told.Select(t => Situation(t.What)).ToHashSet(StringComparer.Ordinal);
        var touched = failed.SelectMany(c => c.Touches).ToHashSet(StringComparer.Ordinal);
        var passed = record.In(CheckState.Passed).Where(c => record[c.Id].Answered!.Told.All(t => t.AsExpected))
            .OrderByDescending(c => c.Touches.Count(touched.Contains)).SelectMany(Tells).ToList();
        foreach (var near in passed.Select(t => Situation(t.What)).Where(s => !situations.Contains(s)).Distinct().Take(MostSituations).ToList())
        {
            situations.Add(near);
        }

        return told.Concat(passed.Where(t => situations.Contains(Situation(t.What))).Take(MostPassed)).DistinctBy(t => t.What.Subject());
    }

    private static string Situation(Sighting seen) => seen is PoweredSighting powered
        ? $"{powered.Key}|{string.Join('\u001f', powered.Set)}|{string.Join('\u001f', powered.Without)}" : "";
}
