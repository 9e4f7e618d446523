using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Tests;

/// <summary>Plans and papers of looms, worked out once for all test classes and forgotten with their loom.</summary>
internal static class Known
{
    private static readonly ConditionalWeakTable<Loom, ConcurrentDictionary<(Isolation, Meter, LoadInHand?), Lazy<TestPlan>>> Plans = [];
    private static readonly ConditionalWeakTable<Loom, Lazy<PackPapers?>> AllPapers = [];

    /// <summary>The plan with the usual tolerance, at the loom's own temperature.</summary>
    internal static TestPlan Plan(Loom loom, Isolation isolation, Meter meter, LoadInHand? load) => Plans.GetValue(loom, _ => new())
        .GetOrAdd((isolation, meter, load), _ => new(() => PlanAnew(loom, isolation, meter, load))).Value;

    /// <summary>The same, whatever was made before.</summary>
    internal static TestPlan PlanAnew(Loom loom, Isolation isolation, Meter meter, LoadInHand? load) =>
        Planner.Plan(loom, PlanTerms.Usual(meter, isolation, loom.AmbientC, CopperTolerance.Usual) with { Load = load });

    /// <summary>The papers at 20 °C; null where none can be worked out.</summary>
    internal static PackPapers? Papers(Loom loom) => AllPapers.GetValue(loom, l => new(() => PackPapers.Of(l, 20))).Value;
}
