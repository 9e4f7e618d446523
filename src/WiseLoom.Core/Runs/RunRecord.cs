using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Runs;

/// <summary>A reading as the test record shows it.</summary>
/// <param name="Bearing">Whether the step stood by it when it came.</param>
/// <param name="Moved">How the loom was moved meanwhile; null when it lay still.</param>
/// <param name="Elsewhere">The file it was brought in by; null when it was taken at this bench.</param>
public sealed record RecordedReading(Reading Reading, Verdict Verdict, string By, DateTimeOffset At, bool FromMeter, Bearing Bearing, string? Elsewhere = null, Moved? Moved = null);

/// <summary>A step with all its readings, or the reason why it has none.</summary>
/// <param name="Skipped">Why it was left out; null when it was not.</param>
/// <param name="Group">How a fixture proved it together with others; null when it was measured by itself.</param>
/// <param name="Carried">Where an earlier revision's run proved it; null when it was measured or left out in this run.</param>
public sealed record RecordedStep(PlanStep Step, StepState State, ImmutableArray<RecordedReading> Readings, string? Skipped, string? Carried, string? Group = null)
{
    /// <summary>The reading that the step stands by, else the last that came; null when there is none.</summary>
    public RecordedReading? Last => Readings.LastOrDefault(r => r.Bearing == Bearing.Stands) ?? Readings.LastOrDefault();
}

/// <summary>A run step by step, with every reading that was ever taken.</summary>
public static class RunRecord
{
    /// <summary>Brings a run and its events together.</summary>
    /// <param name="events">All of the run's, up to its last.</param>
    public static ImmutableArray<RecordedStep> Of(BenchRun run, IEnumerable<Happened> events)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(events);
        var all = events.ToList();
        var readings = all.Where(e => e.What is ReadingTaken).ToLookup(e => ((ReadingTaken)e.What).Step);
        var skips = all.Select(e => e.What).OfType<StepSkipped>().ToLookup(s => s.Step);
        var groups = all.Select(e => e.What).OfType<GroupProven>().SelectMany(g => g.Steps.Select(s => (s, g))).ToLookup(x => x.s, x => x.g);
        var carried = all.Select(e => e.What).OfType<ProofCarried>().ToLookup(c => c.Step);
        return
        [
            .. run.Plan.Steps.Select(s => new RecordedStep(
                s,
                run[s.Number].State,
                [.. readings[s.Number].Select(Recorded)],
                skips[s.Number].LastOrDefault()?.Reason,
                readings.Contains(s.Number) ? null : carried[s.Number].LastOrDefault()?.Words,
                readings.Contains(s.Number) ? null : groups[s.Number].LastOrDefault()?.InWords())),
        ];
    }

    private static RecordedReading Recorded(Happened e) => e.What is ReadingTaken taken
        ? new(taken.Reading, taken.Verdict, e.By.Name, e.At, taken.FromMeter, taken.Bearing, taken.Elsewhere, taken.Moved)
        : throw new InvalidOperationException($"Event {e.Number} is no reading.");
}
