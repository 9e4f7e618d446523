using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning;

/// <summary>Which points each probe touches in a step.</summary>
/// <param name="Red">One point; or, for a step against all other nets, every point that the shorting plug joins.</param>
/// <param name="Black">One point.</param>
public sealed record StepProbes(ImmutableArray<ProbePoint> Red, ImmutableArray<ProbePoint> Black)
{
    /// <summary>Refs of the devices that are plugged in meanwhile; empty for the loom alone.</summary>
    public ImmutableArray<string> Fitted { get; init; } = [];

    /// <summary>The points of a step of a plan.</summary>
    public static StepProbes Of(Loom loom, TestPlan plan, PlanStep step)
    {
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(step);
        return step.Phase == StepPhase.Fitted ? Of(loom, step) with { Fitted = plan.Fitted } : Of(loom, step);
    }

    private static StepProbes Of(Loom loom, PlanStep step)
    {
        if (step.Red is { } red)
        {
            return new([red], [step.Black]);
        }

        return new(Against(loom, step.Black), [step.Black]);
    }

    /// <summary>All points of all other nets than a point's own, which the shorting plug joins.</summary>
    public static ImmutableArray<ProbePoint> Against(Loom loom, ProbePoint point)
    {
        var graph = WireGraph.Topology(loom);
        var own = graph.NetOf(point)?.Number;
        return [.. graph.Nets.Where(n => n.Number != own).SelectMany(n => n.Points)];
    }
}
