using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Planning;
using WiseLoom.Store;

namespace WiseLoom.Web.Bench;

/// <summary>A meter of the shop as the page offers it.</summary>
/// <param name="Remote">Answers on the network; otherwise its readings are typed.</param>
internal sealed record MeterView(long Id, string Name, bool FourWire, bool Remote)
{
    internal static MeterView Of(ShopMeter meter) => new(meter.Id, meter.Name, meter.Describe().FourWire, meter.Host is not null);
}

/// <summary>What a step's readings are in.</summary>
internal enum ReadingUnit
{
    Ohm,
    Volt,
}

/// <summary>A reading as the page shows it.</summary>
/// <param name="Value">In the unit of its step; null for over range.</param>
internal sealed record ReadingView(Guid Key, double? Value, string Text, Verdict Verdict, string By, DateTimeOffset At)
{
    internal static ReadingView Of(StoredReading r) => new(r.Key, r.Reading.Volts ?? r.Reading.Ohms, Say.Reading(r.Reading), r.Verdict, r.TakenBy, r.TakenAt);
}

/// <summary>A stretch of the scale with one verdict; no end means over range too.</summary>
internal sealed record BandView(double From, double? To, Verdict Verdict);

/// <summary>One step as the touch card shows it.</summary>
/// <param name="Unit">Of the ruler, the bands and the readings.</param>
/// <param name="Bands">The whole scale with its verdicts, guard band included, so that a verdict stands at once.</param>
/// <param name="NoticedText">The smallest added resistance this meter surely notices, in words; null for none.</param>
/// <param name="Remote">Whether the meter on the network can take this reading; otherwise it is typed.</param>
/// <param name="Setup">How the current of a load test is sent through the pair; null for the other kinds.</param>
internal sealed record StepView(
    int Number,
    StepKind Kind,
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
    StepState State,
    ReadingView? Last,
    string? Skipped,
    string? Carried);

/// <summary>How far a connector's steps have come.</summary>
internal sealed record ConnectorMarkView(string Ref, StepState State);

/// <summary>How far a run has come.</summary>
/// <param name="Left">Planned time for what is left, in words.</param>
/// <param name="Next">The step to go to; null when all is dealt with.</param>
internal sealed record ProgressView(int Done, int Total, int Failing, int Retests, string Left, int? Next)
{
    internal static ProgressView Of(RunState state, int after) => new(
        state.Done,
        state.Plan.Steps.Length,
        state.Count(StepState.Fail),
        state.Count(StepState.Retest),
        Say.Duration(state.SecondsLeft),
        state.After(after)?.Number);
}

/// <summary>A run as the bench page shows it.</summary>
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
    ImmutableArray<string> Unproven)
{
    internal static RunView Of(BenchNow bench, int position)
    {
        var run = bench.Run;
        var last = bench.Readings.GroupBy(r => r.Step).ToDictionary(g => g.Key, g => g.Last());
        var skips = bench.Skips.GroupBy(s => s.Step).ToDictionary(g => g.Key, g => g.Last().Reason);
        var carried = bench.Carried.ToDictionary(c => c.Step, c => c.Words);
        var next = bench.State.After(0)?.Number;
        return new(
            run.Id,
            run.JobId,
            run.RevisionId,
            MeterView.Of(run.Meter),
            run.Plan.Isolation,
            run.Plan.AmbientC,
            run.StartedBy,
            run.StartedAt,
            [.. run.Plan.Steps.Select(s => Step(s, run, bench.State[s.Number], last.GetValueOrDefault(s.Number), skips.GetValueOrDefault(s.Number), carried.GetValueOrDefault(s.Number)))],
            [.. bench.Loom.Connectors.Select(c => new ConnectorMarkView(c.Ref, bench.State.StateOf(c.Ref)))],
            ProgressView.Of(bench.State, 0),
            position > 0 ? position : next ?? 1,
            run.Plan.Unproven);
    }

    private static StepView Step(PlanStep s, Run run, StepState state, StoredReading? last, string? skipped, string? carried)
    {
        double Shown(double ohms) => s.Load is { } load ? load.DropAt(ohms) : ohms;
        var ruler = Ruler.For(s.Load is { } test ? new(test.LeastDropVolts, test.MostDropVolts) : s.Limits);
        return new(
            s.Number,
            s.Kind,
            s.Black.ToString(),
            s.Red?.ToString(),
            s.Circuit,
            s.Load is null ? ReadingUnit.Ohm : ReadingUnit.Volt,
            Say.Passes(s),
            ruler.FromOhms,
            ruler.ToOhms,
            [.. Judgement.Bands(s.Limits, run.Plan.MeterFor(s)).Select(b => new BandView(Shown(b.FromOhms), b.ToOhms is { } to ? Shown(to) : null, b.Verdict))],
            Noticed(s),
            run.Meter.Host is not null && s.Load is null,
            s is { Load: { } under, Red: { } red } ? under.Setup(s.Black, red) : null,
            state,
            last is null ? null : ReadingView.Of(last),
            state == StepState.Skipped ? skipped : null,
            last is null && state == StepState.Pass ? carried : null);
    }

    private static string? Noticed(PlanStep s) => s.Kind == StepKind.Apart ? null
        : s.NoticedOhms is { } ohms ? $"{(s.Load is null ? "This meter" : "This")} surely notices {Say.Ohms(ohms)} too much."
        : "This meter notices no added resistance here.";
}

/// <summary>What the bench page needs before and during a run.</summary>
/// <param name="Cautions">Before the run.</param>
/// <param name="LoadCautions">Before each step under load.</param>
internal sealed record BenchView(RunView? Run, ImmutableArray<MeterView> Meters, ImmutableArray<string> Cautions, ImmutableArray<string> LoadCautions);
