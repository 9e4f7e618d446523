using System.Collections.Immutable;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Store;
using WiseLoom.Web.Looms;

namespace WiseLoom.Web.Bench;

/// <summary>A run with all that happened in it, as it stands now.</summary>
/// <param name="Signed">Whether a pack was made from this run.</param>
internal sealed record BenchNow(
    Run Run,
    Loom Loom,
    RunState State,
    IReadOnlyList<StoredReading> Readings,
    IReadOnlyList<StoredSkip> Skips,
    IReadOnlyList<StoredCarried> Carried,
    ImmutableArray<LoggedFault> Faults,
    bool Signed)
{
    internal IReadOnlyCollection<FaultStanding> Standings => [.. Faults.Select(f => f.Standing(State))];

    internal ImmutableArray<Hold> Holds => ReleaseGate.Holds(State, Standings);

    internal PlanStep? Step(int number) => number >= 1 && number <= Run.Plan.Steps.Length ? Run.Plan.Steps[number - 1] : null;

    /// <summary>The latest reading of each step: what the ranking of causes goes by. Readings from before a step's fix no longer count.</summary>
    internal IReadOnlyDictionary<int, Core.Electrical.Reading> Evidence()
    {
        var evidence = new Dictionary<int, Core.Electrical.Reading>();
        foreach (var reading in Readings.Where(r => State[r.Step] != StepState.Retest))
        {
            evidence[reading.Step] = reading.Reading;
        }

        return evidence;
    }

    internal ImmutableArray<RecordedStep> Record()
    {
        var readings = Readings.ToLookup(r => r.Step);
        var skips = Skips.ToLookup(s => s.Step);
        var carried = Carried.ToDictionary(c => c.Step, c => c.Words);
        return
        [
            .. Run.Plan.Steps.Select(s => new RecordedStep(
                s,
                State[s.Number],
                [.. readings[s.Number].Select(r => new RecordedReading(r.Reading, r.Verdict, r.TakenBy, r.TakenAt, r.FromMeter))],
                skips[s.Number].LastOrDefault()?.Reason,
                readings.Contains(s.Number) ? null : carried.GetValueOrDefault(s.Number))),
        ];
    }
}

/// <summary>Brings a run's rows together. Nothing is kept between requests but looms, which never change.</summary>
internal sealed class BenchLibrary(RunStore runs, FaultStore faults, PackStore packs, LoomLibrary looms)
{
    internal async Task<BenchNow?> FindAsync(long runId, CancellationToken cancel)
    {
        if (await runs.FindAsync(runId, cancel) is not { } run || await looms.FindAsync(run.RevisionId, cancel) is not { } loom)
        {
            return null;
        }

        var readings = await runs.ReadingsAsync(runId, cancel);
        var skips = await runs.SkipsAsync(runId, cancel);
        var carried = await runs.CarriedAsync(runId, cancel);
        ImmutableArray<LoggedFault> logged = [.. await faults.OfRunAsync(runId, cancel)];
        IEnumerable<RunEvent> events =
        [
            .. carried.Select(c => new ProofCarried(0, c.Step, c.Words)),
            .. readings.Select(r => new ReadingTaken(r.Order, r.Step, r.Reading, r.Verdict)),
            .. skips.Select(s => new StepSkipped(s.Order, s.Step, s.Reason)),
            .. logged.Select(f => f.AsEvent).OfType<FixMade>(),
        ];
        return new(run, loom, RunState.Of(run.Plan, events), readings, skips, carried, logged, await packs.MadeFromRunAsync(runId, cancel));
    }
}
