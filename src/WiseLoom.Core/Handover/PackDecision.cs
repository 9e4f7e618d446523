using System.Collections.Immutable;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Handover;

/// <summary>Something that stood against release and that a lead let pass.</summary>
/// <param name="What">What stood against release, in words.</param>
/// <param name="By">Name of the lead.</param>
public sealed record PackDecision(string What, string Reason, string By, DateTimeOffset At)
{
    /// <summary>All that holds of a run, in the order of the gate.</summary>
    public static ImmutableArray<PackDecision> Of(BenchRun run) =>
        [.. ReleaseGate.LetPass(run).Select(h => new PackDecision(Said(h), ((HoldAccepted)h.Decision!.What).Reason, h.Decision.By.Name, h.Decision.At))];

    private static string Said(Hold hold) => hold.Steps.IsEmpty || hold.Kind == "earlier" ? hold.Text
        : $"{hold.Text.TrimEnd('.')}: {(hold.Steps.Length == 1 ? "step" : "steps")} {string.Join(", ", hold.Steps)}.";
}
