using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Shop;

/// <summary>Where a job is in the shop.</summary>
public enum Stage
{
    /// <summary>No loom file yet.</summary>
    NoLoom,

    /// <summary>Nothing measured yet.</summary>
    WaitingForBench,

    /// <summary>Something is left to measure, to mend or to prove.</summary>
    OnBench,

    /// <summary>All is measured and proven; the lead has not signed.</summary>
    ReadyToSign,

    /// <summary>A signed pack is out.</summary>
    Released,

    /// <summary>A signed pack is out, and what was measured or logged after the signature speaks against it.</summary>
    Overturned,
}

/// <summary>Where a job is, and what holds it there.</summary>
/// <param name="Text">The stage in words, with its numbers.</param>
/// <param name="HeldBy">What holds it; empty when nothing does.</param>
public sealed record JobStage(Stage Stage, string Text, string HeldBy)
{
    /// <summary>Works out the stage.</summary>
    /// <param name="run">The current run on the job's newest loom; null before the first.</param>
    /// <param name="waitingFor">What somebody wrote that the job waits for; comes before all else that holds it, but for a pack that no longer holds.</param>
    public static JobStage Of(bool hasLoom, RunSummary? run, string? waitingFor)
    {
        var stage = Plain(hasLoom, run);
        return waitingFor is { Length: > 0 } wait && stage.Stage is not (Stage.Released or Stage.Overturned) ? stage with { HeldBy = $"Waits for {wait}" } : stage;
    }

    /// <summary>What speaks against a pack that is out, in words; null while it holds.</summary>
    /// <param name="newer">The revision that the loom has become since the pack was signed; null while it is the same.</param>
    public static string? AgainstPack(RunSummary run, string? newer = null)
    {
        ArgumentNullException.ThrowIfNull(run);
        return run.IsOverturned ? $"Since it was signed: {Reasons(run)}."
            : run.IsOutdated ? "Since it was signed something was found and mended: it does not tell of it."
            : newer is not null ? $"Since it was signed the loom has become revision {newer}: it does not tell of that."
            : null;
    }

    private static JobStage Plain(bool hasLoom, RunSummary? run) => (hasLoom, run) switch
    {
        (false, _) => new(Stage.NoLoom, "No loom file", "Import the loom file"),
        (_, null) => new(Stage.WaitingForBench, "Waiting for the bench", ""),
        (_, { IsOverturned: true }) => new(Stage.Overturned, $"Pack {run.Pack} no longer holds", Reasons(run)),
        (_, { IsOutdated: true }) => new(Stage.ReadyToSign, $"Mended since pack {run.Pack}, ready to sign", "The lead’s signature"),
        (_, { Pack: { } pack }) => new(Stage.Released, $"Released, pack {pack}", ""),
        (_, { IsClear: true }) => new(Stage.ReadyToSign, "Tested, ready to sign", "The lead’s signature"),
        _ => new(Stage.OnBench, $"On the bench, {run.Done} of {run.Steps}", Reasons(run with { NotTested = 0, Failing = 0 })),
    };

    private static string Reasons(RunSummary run)
    {
        string[] reasons =
        [
            Count(run.Failing, "step fails", "steps fail"), Count(run.Faults, "fault not proven", "faults not proven"),
            Count(run.PowerUp, "thing left of the power-up", "things left of the power-up"), Count(run.Retests, "retest missing", "retests missing"), Count(run.NotTested, "step without a reading", "steps without a reading"),
            Count(run.Undecided, "decision of a lead missing", "decisions of a lead missing"),
        ];
        return string.Join(", ", reasons.Where(r => r.Length > 0));
    }

    private static string Count(int n, string one, string many) => n switch { 0 => "", 1 => $"1 {one}", _ => $"{n} {many}" };
}
