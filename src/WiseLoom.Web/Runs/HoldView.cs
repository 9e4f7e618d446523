using System.Collections.Immutable;
using WiseLoom.Core.Runs;

namespace WiseLoom.Web.Runs;

/// <summary>One thing that keeps a loom from release, as pages show it.</summary>
internal sealed record HoldView(string Kind, string Text, ImmutableArray<int> Steps, int? Fault)
{
    internal static ImmutableArray<HoldView> Of(BenchRun run) => [.. run.Holds.Select(h => new HoldView(h.Kind, h.Text, h.Steps, h.Fault))];
}
