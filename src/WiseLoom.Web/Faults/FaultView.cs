using System.Collections.Immutable;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Runs;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Faults;

/// <summary>A retest and where it stands.</summary>
internal sealed record RetestView(int Step, string Black, string? Red, StepState State);

/// <summary>A logged fault as the page shows it.</summary>
/// <param name="LetPass">Which lead let it pass as it stands, and why; null for none.</param>
/// <param name="From">The run that was set aside and had it; null for a fault of this run.</param>
/// <param name="Suggested">What the readings say now, the likeliest first; once it is mended, what they said when it was logged.</param>
internal sealed record FaultView(
    int Number,
    int Step,
    string? Black,
    string? Red,
    string Seen,
    FaultState State,
    string Title,
    string LoggedBy,
    DateTimeOffset LoggedAt,
    ImmutableArray<CauseView> Suggested,
    CauseFound? Cause,
    FixDone? Fix,
    string? FixedBy,
    ImmutableArray<string> Sighted,
    ImmutableArray<string> Checks,
    ImmutableArray<RetestView> Retests,
    string? LetPass,
    FaultOrigin? From)
{
    /// <param name="diagnosis">What the run's readings say; null to tell what was said when the fault was logged.</param>
    internal static FaultView Of(LoggedFault fault, BenchRun run, RunDiagnosis? diagnosis)
    {
        var step = run.Plan.Step(fault.Step);
        var now = fault.Fix is null && diagnosis?.CaseOf(fault.Step) is { } own ? own.Causes : fault.Ranked;
        return new(
            fault.Number,
            fault.Step,
            step?.Black.ToString(),
            step?.Red?.ToString(),
            fault.Seen,
            run.StateOf(fault),
            fault.Title,
            fault.LoggedBy,
            fault.LoggedAt,
            [.. now.Select(c => CauseView.Of(c, run))],
            fault.Cause,
            fault.Fix,
            fault.FixedBy,
            fault.Sighted,
            fault.Checks,
            [.. (fault.Fix?.Retests ?? []).Select(n => run.Plan.Step(n)!).Select(s => new RetestView(s.Number, s.Black.ToString(), s.Red?.ToString(), run[s.Number].State))],
            fault.LetPass,
            fault.From);
    }
}

/// <summary>The faults page.</summary>
/// <param name="Remote">Whether the run's meter is on the network: then it takes a reading when it is asked.</param>
/// <param name="LastEvent">Number of the run's last event; 0 without a run.</param>
/// <param name="Cases">Failing readings, gathered into as few cases as explain them.</param>
/// <param name="Probes">Readings beside the plan that count.</param>
internal sealed record FaultsView(
    long? RunId, bool Remote, long LastEvent, ImmutableArray<CaseView> Cases, int Probes, ImmutableArray<FaultView> Faults, ImmutableArray<HoldView> Holds, ImmutableArray<string> Works)
{
    internal static FaultsView Of(OpenRun open, RunDiagnosis diagnosis, CancellationToken cancel)
    {
        var run = open.Run;
        return new(
            open.Head.Id,
            open.Head.Meter.Answers,
            run.LastEvent,
            [.. diagnosis.Cases.Select(c => CaseView.Of(c, diagnosis, run, cancel))],
            run.Probes.Count,
            [.. run.Faults.Select(f => FaultView.Of(f, run, diagnosis))],
            HoldView.Of(run),
            FixWork.ByHand);
    }
}
