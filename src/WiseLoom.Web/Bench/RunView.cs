using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;
using WiseLoom.Store;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Bench;

/// <summary>A meter of the shop as the page offers it.</summary>
/// <param name="Remote">Answers on the network; otherwise its readings are typed.</param>
/// <param name="Matrix">Closes the way to both places by itself; otherwise hands hold the probes.</param>
/// <param name="Overdue">What is wrong with its calibration, in words; null when nothing is.</param>
internal sealed record MeterView(long Id, string Name, bool FourWire, bool Remote, bool Matrix, string? Overdue)
{
    internal static MeterView Of(ShopMeter meter, DateTimeOffset now) =>
        new(meter.Id, meter.Name, meter.Describe().FourWire, meter.Answers, meter.Matrix, meter.Overdue(now));
}

/// <summary>A reading as the page shows it.</summary>
/// <param name="Value">In the unit of its step; null for over range.</param>
/// <param name="Moved">How the loom was moved meanwhile, in words; null when it lay still.</param>
internal sealed record ReadingView(Guid Key, double? Value, string Text, Verdict Verdict, string By, DateTimeOffset At, string? Moved)
{
    internal static ReadingView Of(Happened happened, ReadingTaken taken) =>
        new(happened.Key, taken.Reading.Value, taken.Reading.InWords(), taken.Verdict, happened.By.Name, happened.At, taken.Moved?.InWords());
}

/// <summary>A stretch of the scale with one verdict; no end means over range too.</summary>
internal sealed record BandView(double From, double? To, Verdict Verdict);

/// <summary>One step as the touch card shows it: what it asks, which never changes within a run, and where it stands.</summary>
/// <param name="Kind">In one word, as files write it.</param>
/// <param name="Joined">Whether metal must join the two places.</param>
/// <param name="MustBe">What must be between them, in words.</param>
/// <param name="Sign">The sign between them in a list.</param>
/// <param name="Way">The wires and splices that lead from black to red, in that order; empty where none does.</param>
/// <param name="Unit">Of the ruler, the bands and the readings.</param>
/// <param name="Bands">The whole scale with its verdicts, guard band included, so that a verdict stands at once.</param>
/// <param name="NoticedText">The smallest added resistance this meter surely notices, in words; null for none.</param>
/// <param name="Remote">Whether the meter on the network can take this reading; otherwise it is typed.</param>
/// <param name="Setup">How the bench is set up beyond touching two places; null when that is all.</param>
/// <param name="Phase">What the bench is set up for.</param>
/// <param name="Subject">What is pulled or looked at; null where two places are probed.</param>
/// <param name="Looks">What an eye goes through there, one thing after another.</param>
internal sealed record StepView(
    int Number,
    string Kind,
    bool Joined,
    string MustBe,
    string Sign,
    ImmutableArray<string> Way,
    string Black,
    string? Red,
    string? Circuit,
    ReadingUnit Unit,
    string LimitsText,
    double RulerFrom,
    double RulerTo,
    ImmutableArray<BandView> Bands,
    string? NoticedText,
    bool Remote,
    string? Setup,
    StepPhase Phase,
    string? Subject,
    ImmutableArray<string> Looks,
    StandingView Standing)
{
    internal static StepView Of(PlanStep s, OpenRun open, WireGraph drawn)
    {
        var ruler = s.Ruler();
        return new(
            s.Number,
            s.Kind,
            s.IsJoined,
            s.MustBe,
            s.Sign,
            s is { IsJoined: true, Red: { } red } ? drawn.Way(s.Black, red) : [],
            s.Black.ToString(),
            s.Red?.ToString(),
            s.Circuit,
            s.Unit,
            s.Passes(),
            ruler.From,
            ruler.To,
            [.. s.Bands(open.Run.Plan.Meter).Select(b => new BandView(b.From, b.To, b.Verdict))],
            s.NoticedInWords(),
            open.Head.Meter.Answers && s.ByInstrument,
            s.Setup(),
            s.Phase,
            s.Subject,
            s.Looks,
            StandingView.Of(s.Number, open.Run));
    }
}

/// <summary>Where a step stands.</summary>
/// <param name="Last">The reading it stands by, or stood by before a fix.</param>
/// <param name="Photos">Keys of the photos taken at it.</param>
/// <param name="Late">Why the newest reading does not count, in words; null when it does.</param>
internal sealed record StandingView(int Step, StepState State, ReadingView? Last, string? Late, string? Skipped, string? Carried, ImmutableArray<Guid> Photos)
{
    internal static StandingView Of(int step, BenchRun run)
    {
        var stands = run[step];
        return new(
            step,
            stands.State,
            stands is { By: { } by, Reading: { } taken } ? ReadingView.Of(by, taken) : null,
            LateReading.InWords(stands.Late, run),
            stands is { State: StepState.Skipped, By.What: StepSkipped skipped } ? skipped.Reason : null,
            stands is { State: StepState.Pass, By.What: ProofCarried or GroupProven } ? (stands.By.What as ProofCarried)?.Words ?? (stands.By.What as GroupProven)?.InWords() : null,
            stands.Photos);
    }
}

/// <summary>How far a connector's steps have come.</summary>
internal sealed record ConnectorMarkView(string Ref, StepState State)
{
    internal static ImmutableArray<ConnectorMarkView> Of(BenchRun run)
    {
        var marks = run.Connectors();
        return [.. run.Loom.Connectors.Select(c => new ConnectorMarkView(c.Ref, marks[c.Ref]))];
    }
}

/// <summary>How far a run has come.</summary>
/// <param name="Left">Planned time for what is left, in words.</param>
/// <param name="Next">The step to go to; null when all is dealt with.</param>
/// <param name="Care">Why the meter should be checked now, in words; null while it need not be.</param>
/// <param name="MeterInDoubt">Whether the meter failed a check and has not been right since.</param>
internal sealed record ProgressView(int Done, int Total, int Failing, int Retests, string Left, int? Next, string? Care, bool MeterInDoubt)
{
    internal static ProgressView Of(BenchRun run, int after) => new(
        run.Done,
        run.Plan.Steps.Length,
        run.Count(StepState.Fail),
        run.Count(StepState.Retest),
        Say.Duration(run.SecondsLeft),
        run.Next(after)?.Number,
        CareView.NoteOf(run),
        run.Care.IsOut || run.Care.IsSuspect);
}

/// <summary>A run as the bench page shows it.</summary>
/// <param name="LastEvent">Number of its last event: what the page has seen.</param>
internal sealed record RunView(
    long Id,
    long JobId,
    long RevisionId,
    MeterView Meter,
    Isolation Isolation,
    double AmbientC,
    string StartedBy,
    DateTimeOffset StartedAt,
    ImmutableArray<StepView> Steps,
    ImmutableArray<ConnectorMarkView> Connectors,
    ProgressView Progress,
    int Position,
    long LastEvent,
    ImmutableArray<string> Unproven)
{
    internal static RunView Of(OpenRun open, int position, DateTimeOffset now)
    {
        var (head, run) = (open.Head, open.Run);
        var drawn = WireGraph.Topology(run.Loom);
        return new(
            head.Id,
            head.JobId,
            head.RevisionId,
            MeterView.Of(head.Meter, now),
            run.Plan.Isolation,
            run.Plan.AmbientC,
            head.StartedBy,
            head.StartedAt,
            [.. run.Plan.Steps.Select(s => StepView.Of(s, open, drawn))],
            ConnectorMarkView.Of(run),
            ProgressView.Of(run, 0),
            position > 0 ? position : run.Next(0)?.Number ?? 1,
            run.LastEvent,
            run.Plan.LeftOpen);
    }
}

/// <summary>What has changed in a run since one of its events.</summary>
/// <param name="Run">Its number.</param>
/// <param name="SetAside">Who put another run in its place; null while it is the current one.</param>
internal sealed record ChangesSinceView(
    long Run, ImmutableArray<StandingView> Steps, ImmutableArray<ConnectorMarkView> Connectors, ProgressView Progress, long LastEvent, string? SetAside)
{
    internal static ChangesSinceView Of(OpenRun open, long number)
    {
        var run = open.Run;
        return new(
            open.Head.Id,
            [.. run.Plan.Steps.Where(s => run[s.Number].ChangedAt > number).Select(s => StandingView.Of(s.Number, run))],
            ConnectorMarkView.Of(run),
            ProgressView.Of(run, 0),
            run.LastEvent,
            run.SetAside?.By.Name);
    }
}

/// <summary>The job's current run, which a new one would set aside.</summary>
/// <param name="Text">What it is and how far it came, in words.</param>
internal sealed record StandingRunView(long Id, string Text)
{
    internal static StandingRunView Of(RunHead head) => new(
        head.Id,
        string.Create(
            CultureInfo.InvariantCulture,
            $"{head.StartedBy} started a run with {head.Meter.Name} on {head.StartedAt.UtcDateTime:yyyy-MM-dd HH:mm} UTC{(head.Summary is { } s ? $"; {s.Done} of {s.Steps} steps are done" : "")}{(head.Summary?.Pack is { } pack ? $", and pack {pack} was signed from it" : "")}."));
}

/// <summary>What the bench page needs before and during a run.</summary>
/// <param name="Run">The current run when it is on the newest revision; null otherwise.</param>
/// <param name="Current">The current run on whichever revision, in words; null before the first.</param>
/// <param name="Cautions">Before the run.</param>
/// <param name="LoadCautions">Before each step under load.</param>
internal sealed record BenchView(RunView? Run, StandingRunView? Current, ImmutableArray<MeterView> Meters, ImmutableArray<string> Cautions, ImmutableArray<string> LoadCautions);
