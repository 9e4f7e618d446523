using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Shop;

/// <summary>Where a job is in the shop.</summary>
public enum Stage
{
    /// <summary>No loom file yet.</summary>
    NoLoom,

    /// <summary>Nothing measured yet.</summary>
    WaitingForBench,

    OnBench,

    /// <summary>All is measured and proven; the lead has not signed.</summary>
    ReadyToSign,

    /// <summary>A signed pack is out.</summary>
    Released,
}

/// <summary>Where a job is, and what holds it there.</summary>
/// <param name="Text">The stage in words, with its numbers.</param>
/// <param name="HeldBy">What holds it; empty when nothing does.</param>
public sealed record JobStage(Stage Stage, string Text, string HeldBy)
{
    /// <summary>Works out the stage.</summary>
    /// <param name="run">The newest run; null before the first.</param>
    /// <param name="waitingFor">What somebody wrote that the job waits for; comes before all else.</param>
    /// <param name="packVersion">The newest signed pack; null before the first.</param>
    /// <param name="packIsOfRun">Whether that pack was made from the newest run.</param>
    public static JobStage Of(bool hasLoom, RunState? run, IReadOnlyCollection<FaultStanding> faults, string? waitingFor, int? packVersion, bool packIsOfRun)
    {
        var stage = Plain(hasLoom, run, faults, packVersion, packIsOfRun);
        return waitingFor is { Length: > 0 } wait && stage.Stage != Stage.Released ? stage with { HeldBy = $"Waits for {wait}" } : stage;
    }

    private static JobStage Plain(bool hasLoom, RunState? run, IReadOnlyCollection<FaultStanding> faults, int? packVersion, bool packIsOfRun)
    {
        if (!hasLoom)
        {
            return new(Stage.NoLoom, "No loom file", "Import the loom file");
        }

        if (run is null)
        {
            return new(Stage.WaitingForBench, "Waiting for the bench", "");
        }

        if (packVersion is { } version && packIsOfRun)
        {
            return new(Stage.Released, $"Released, pack {version}", "");
        }

        var holds = ReleaseGate.Holds(run, faults);
        if (holds.IsEmpty)
        {
            return new(Stage.ReadyToSign, "Tested, ready to sign", "The lead’s signature");
        }

        var done = run.Done;
        var open = faults.Count(f => f.State != FaultState.Proven);
        var retests = run.Count(StepState.Retest);
        string[] reasons = [Count(open, "fault not proven", "faults not proven"), Count(retests, "retest missing", "retests missing")];
        return new(Stage.OnBench, $"On the bench, {done} of {run.Plan.Steps.Length}", string.Join(", ", reasons.Where(r => r.Length > 0)));
    }

    private static string Count(int n, string one, string many) => n switch { 0 => "", 1 => $"1 {one}", _ => $"{n} {many}" };
}
