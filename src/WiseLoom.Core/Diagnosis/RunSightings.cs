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
public sealed record RunSighting(int Step, Happened? Event, Sighting What);

/// <summary>What a run says besides resistances of the bare loom.</summary>
public static class RunSightings
{
    /// <summary>What was seen beside the plan; and, where any of them failed, the readings through devices.</summary>
    /// <returns>At most <see cref="Diagnostician.MostSightings"/>, failed ones first.</returns>
    public static ImmutableArray<RunSighting> Of(BenchRun run)
    {
        ArgumentNullException.ThrowIfNull(run);
        var beside = run.Sightings.Select(e => new RunSighting(0, e, ((SightingTaken)e.What).What));
        var fitted = run.Plan.Steps.Where(s => s is { Phase: StepPhase.Fitted, Red: not null } && run[s.Number] is { State: StepState.Pass or StepState.Fail, Reading: not null }).ToList();
        var failed = fitted.FindAll(s => run[s.Number].State == StepState.Fail);
        return
        [
            .. beside.Concat(failed.Concat(failed.Count == 0 ? [] : fitted.Except(failed))
                .Select(s => new RunSighting(s.Number, null, new FittedSeen(s.Black, s.Red!.Value, run[s.Number].Reading!.Reading.Ohms, run.Plan.Fitted))))
                .Take(Diagnostician.MostSightings),
        ];
    }
}
