using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Handover;

/// <summary>Who and what a run's record is about.</summary>
/// <param name="Run">The run's number.</param>
/// <param name="StandsAt">Number of the last event that it tells of.</param>
public sealed record RunSheetHead(long Job, string Customer, string Machine, long Run, long StandsAt, string Meter, string StartedBy, DateTimeOffset StartedAt);

/// <summary>A reading in a run's record.</summary>
/// <param name="Value">What was shown; null for over range.</param>
/// <param name="Unit">What it is in.</param>
/// <param name="Counts">Whether the step stood by it when it came.</param>
/// <param name="From"><c>meter</c>, <c>typed</c>, or the file it was brought in by.</param>
public sealed record SheetReading(double? Value, ReadingUnit Unit, string Verdict, string By, DateTimeOffset At, string From, bool Counts);

/// <summary>A step in a run's record.</summary>
/// <param name="Red">Null for all other circuits, and where nothing is probed.</param>
/// <param name="Subject">What was pulled or looked at there; null for what is probed.</param>
/// <param name="State">Where it stands, in a word or two.</param>
/// <param name="Why">Why it has no reading; null when it has one.</param>
public sealed record SheetStep(int Number, string Kind, string Black, string? Red, string? Subject, string MustRead, string State, string? Why, ImmutableArray<SheetReading> Readings);

/// <summary>A check of the meter in a run's record.</summary>
public sealed record SheetCheck(string Check, string Showed, bool Passed, string By, DateTimeOffset At);

/// <summary>A reading beside the plan in a run's record.</summary>
/// <param name="Reading">Between what, and what it showed, in words.</param>
/// <param name="Counts">Whether it still does: nothing was mended since, and the meter was right.</param>
public sealed record SheetProbe(string Reading, string By, DateTimeOffset At, bool Counts);

/// <summary>A fault in a run's record.</summary>
public sealed record SheetFault(int Number, int Step, string Seen, string? Cause, string? Did, ImmutableArray<string> Places, string State, string By);

/// <summary>A whole run as a paper: every step with every reading that was ever taken, the checks of the meter, faults and fixes, and what was not proven.</summary>
public sealed record RunSheet(
    RunSheetHead Head, string Loom, string Revision, double AmbientC, Isolation Isolation, string Result, ImmutableArray<string> NotProven,
    ImmutableArray<SheetCheck> Checks, ImmutableArray<SheetFault> Faults, ImmutableArray<SheetProbe> Probes, ImmutableArray<SheetStep> Steps)
{
    /// <summary>What kind of file its JSON is.</summary>
    public string Format { get; } = "wise-loom/run-record";

    /// <summary>Of that format.</summary>
    public int Version { get; } = 3;

    /// <summary>Brings a run and its events together.</summary>
    /// <param name="events">All of the run's, up to its last.</param>
    public static RunSheet Of(RunSheetHead head, BenchRun run, IReadOnlyCollection<Happened> events)
    {
        ArgumentNullException.ThrowIfNull(run);
        var record = RunRecord.Of(run, events);
        return new(
            head, run.Loom.Name, run.Loom.Revision, run.Plan.AmbientC, run.Plan.Isolation, Sum(run), PackModel.NotProven(run, record),
            [.. events.Where(e => e.What is MeterChecked).Select(Check)],
            [.. run.Faults.Select(f => new SheetFault(f.Number, f.Step, f.Seen, f.Cause?.Words, f.Fix?.Did, f.Fix?.Places ?? [], Words(run.StateOf(f).ToString()), f.FixedBy ?? f.LoggedBy))],
            [.. events.Where(e => e.What is ProbeTaken or SightingTaken).Select(e => new SheetProbe(e.What is SightingTaken seen ? seen.What.InWords() : ((ProbeTaken)e.What).InWords(), e.By.Name, e.At, run.Probes.Concat(run.Sightings).Any(p => p.Number == e.Number)))],
            [.. record.Select(Step)]);
    }

    private static string Sum(BenchRun run)
    {
        var all = run.Plan.Steps.Length;
        var parts = Enum.GetValues<StepState>().Where(s => run.Count(s) > 0).Select(s => string.Create(CultureInfo.InvariantCulture, $"{run.Count(s)} {Word(s)}"));
        return string.Create(CultureInfo.InvariantCulture, $"Of {all} steps: {string.Join(", ", parts)}.");
    }

    private static SheetCheck Check(Happened happened)
    {
        var check = (MeterChecked)happened.What;
        return new(new MeterCheck(check.Check, check.LinkOhms).Title, check.Reading.InWords(), check.Passed, happened.By.Name, happened.At);
    }

    private static SheetStep Step(RecordedStep s) => new(
        s.Step.Number, s.Step.Kind, s.Step.Black.ToString(), s.Step.Red?.ToString(), s.Step.Subject, s.Step.Passes(), Word(s.State), s.Skipped ?? s.Carried ?? s.Group,
        [.. s.Readings.Select(r => new SheetReading(r.Reading.Value, r.Reading.Unit, r.Verdict.InWords(), r.By, r.At, (r.Elsewhere ?? (r.FromMeter ? "meter" : "typed")) + (r.Moved is { } moved ? $", {moved.InWords()}" : ""), r.Bearing == Bearing.Stands))]);

    private static string Word(StepState state) => state switch
    {
        StepState.NotTested => "not tested",
        StepState.CantTell => "can’t tell",
        StepState.Retest => "to be measured again",
        _ => Words(state.ToString()),
    };

    private static string Words(string name) => string.Concat(name.Select((c, i) => i > 0 && char.IsUpper(c) ? $" {char.ToLowerInvariant(c)}" : char.ToLowerInvariant(c).ToString()));
}
