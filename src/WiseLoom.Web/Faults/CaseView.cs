using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Runs;

namespace WiseLoom.Web.Faults;

/// <summary>A supposed cause as the page shows it.</summary>
/// <param name="Probability">0 to 1; null in rows from before causes were weighed.</param>
/// <param name="Disputed">Wires that paper and metal disagree about, when the cause could as well be the drawing's.</param>
/// <param name="Settles">What settles which of the two is right; empty when they do not disagree.</param>
internal sealed record CauseView(ImmutableArray<Fault> Faults, string Title, string Sentence, double? Probability, ImmutableArray<string> Places, ImmutableArray<WireDisputed> Disputed, string Settles)
{
    internal static CauseView Of(Cause cause, BenchRun run)
    {
        var disputed = PaperAndMetal.Of(run.Loom, cause);
        return new(cause.Faults, cause.Title(run.Loom), cause.Sentence, cause.Probability, cause.Places, disputed, PaperAndMetal.Settles(disputed));
    }
}

/// <summary>A step whose reading is not as drawn.</summary>
/// <param name="Text">What it reads and what it must, in words.</param>
internal sealed record OddStepView(int Step, string Black, string? Red, string Text);

/// <summary>What to measure next.</summary>
/// <param name="B">The cavities of the other side; null for all other circuits.</param>
/// <param name="Moved">Whether the loom is moved meanwhile.</param>
internal sealed record NextMeasurementView(string A, ImmutableArray<string>? B, bool Moved, string Text);

/// <summary>What to look at next where resistances of the bare loom tell less.</summary>
/// <param name="Key">Where the key stands; null without power.</param>
/// <param name="Set">Conditions that hold and outputs that are driven meanwhile.</param>
/// <param name="At">A cavity, a wire's id or a device's ref.</param>
/// <param name="To">The other cavity of a load test; null otherwise.</param>
internal sealed record LookView(LookKind Kind, KeyPosition? Key, ImmutableArray<string> Set, ImmutableArray<string> Without, string At, string? To, string Text)
{
    internal static LookView? Of(Look? look) => look is null ? null
        : new(look.Kind, look.Meanwhile?.Key, [.. (look.Meanwhile?.Conditions ?? []).Order(StringComparer.Ordinal)], [.. (look.Meanwhile?.Without ?? []).Order(StringComparer.Ordinal)], look.At, look.To, look.Text);
}

/// <summary>What a cause's share was at some time.</summary>
internal sealed record ShareView(string Title, double Probability);

/// <summary>The ranking after one more reading; its first has none.</summary>
internal sealed record RankedThenView(string? Reading, string? By, DateTimeOffset? At, ImmutableArray<ShareView> Top);

/// <summary>Failing readings that seem to have one reason.</summary>
/// <param name="Fault">Number of a fault that was logged from one of its steps and is not mended; null when there is none.</param>
/// <param name="Doubts">What speaks of the meter and not of the loom.</param>
/// <param name="Unseeable">What these readings cannot show.</param>
/// <param name="Look">What to look at next where that tells more than a measurement; null otherwise.</param>
/// <param name="Seen">What was seen besides that is not as drawn, in words.</param>
/// <param name="Checks">Failed checks of the power-up that have the same reason, by id.</param>
/// <param name="IsSure">Whether what is told is sure enough, so that nothing more is asked for.</param>
/// <param name="History">How the ranking moved with the readings beside the plan; empty without any.</param>
internal sealed record CaseView(
    ImmutableArray<OddStepView> Steps, int? Fault, ImmutableArray<CauseView> Causes, bool IsSure, NextMeasurementView? Next, LookView? Look, ImmutableArray<string> Seen, ImmutableArray<string> Doubts,
    ImmutableArray<string> Unseeable, ImmutableArray<RankedThenView> History, ImmutableArray<string> Checks)
{
    internal static CaseView Of(RunCase one, RunDiagnosis diagnosis, BenchRun run, CancellationToken cancel) => new(
        [.. one.Steps.Select(n => run.Plan.Step(n)!).Select(s => new OddStepView(
            s.Number, s.Black.ToString(), s.Red?.ToString(), $"{s.Black} to {s.RedInWords} reads {run[s.Number].Reading?.Reading.InWords()}, should be {s.Passes()}"))],
        run.Faults.Find(f => f.Fix is null && (f.Step == 0 ? one.Steps.IsEmpty : one.Steps.Contains(f.Step)))?.Number,
        [.. one.Causes.Select(c => CauseView.Of(c, run))],
        one.IsSure,
        one.Next is { } next ? new(next.A.ToString(), next.B is { } far ? [.. far.Select(p => p.ToString())] : null, next.Moved, next.InWords()) : null,
        LookView.Of(one.Look),
        [.. one.OddSightings.Select(s => s.InWords())],
        one.Doubts,
        one.Unseeable,
        [.. diagnosis.History(one, cancel).Select(h => Then(h, run))],
        one.Checks);

    private static RankedThenView Then(RankedThen then, BenchRun run) => new(
        then.Reading?.What switch { ProbeTaken probe => probe.InWords(), SightingTaken seen => seen.What.InWords(), _ => null },
        then.Reading?.By.Name,
        then.Reading?.At,
        [.. then.Top.Select(c => new ShareView(c.Title(run.Loom), c.Probability ?? 0))]);
}
