using System.Collections.Immutable;
using WiseLoom.Core.Runs;

namespace WiseLoom.Web.Runs;

/// <summary>One thing that keeps a loom from release, as pages show it.</summary>
/// <param name="On">The name under which a lead lets it pass; null for what nobody lets pass here.</param>
/// <param name="Proposal">What somebody proposes for it; null for nothing.</param>
internal sealed record HoldView(string Kind, string Text, ImmutableArray<int> Steps, int? Fault, string? On, string? Proposal)
{
    internal static ImmutableArray<HoldView> Of(BenchRun run) => [.. run.Holds.Select(h => new HoldView(h.Kind, h.Text, h.Steps, h.Fault, h.On, Said(h.Proposal)))];

    private static string? Said(Happened? proposal) => proposal is { What: HoldAccepted said } ? $"{proposal.By.Name} proposes to let it pass: {said.Reason}" : null;
}
