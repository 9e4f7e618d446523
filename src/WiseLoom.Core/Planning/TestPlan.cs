using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning;

/// <summary>What a step proves.</summary>
public enum StepKind
{
    /// <summary>Metal joins the pair, with no more resistance than the copper explains.</summary>
    Continuity,

    /// <summary>No metal joins the pair.</summary>
    Apart,

    /// <summary>A known current through the pair drops no more than the copper explains.</summary>
    Load,
}

/// <summary>How isolation is proven.</summary>
public enum Isolation
{
    /// <summary>Each net against all others, joined by a shorting plug.</summary>
    Thorough,

    /// <summary>Only nets that stand next to each other in a face or run twisted together.</summary>
    Neighbours,
}

/// <summary>One touch.</summary>
/// <param name="Number">Its place in the plan, from 1; never changes within a run.</param>
/// <param name="Black">Where the black probe stays.</param>
/// <param name="Red">Where the red probe goes; null for the shorting plug that joins all other nets.</param>
/// <param name="Expected">What copper and contacts explain, ohms; null for a step of kind apart.</param>
/// <param name="Limits">What passes.</param>
/// <param name="Seconds">Planned time: moving, turning and touching.</param>
/// <param name="NoticedOhms">Smallest added resistance that the run's meter surely notices; null for apart, or when it notices none.</param>
/// <param name="Circuit">What the net is for, when a wire says so.</param>
/// <param name="Load">The test under load; null for the other kinds.</param>
public sealed record PlanStep(
    int Number,
    StepKind Kind,
    ProbePoint Black,
    ProbePoint? Red,
    OhmRange? Expected,
    Limits Limits,
    double Seconds,
    double? NoticedOhms,
    string? Circuit,
    LoadTest? Load = null)
{
    /// <summary>Whether metal must join the two places.</summary>
    public bool IsJoined => Kind != StepKind.Apart;
}

/// <summary>Steps that prove a loom, with the limits they are judged by; a run keeps it as it was made.</summary>
/// <param name="AmbientC">Temperature the limits hold for, degrees Celsius.</param>
/// <param name="Unproven">What this plan leaves open, in words; empty when nothing.</param>
/// <param name="Copper">The tolerance its limits come from; null for the usual.</param>
public sealed record TestPlan(
    Isolation Isolation,
    double AmbientC,
    Meter Meter,
    ImmutableArray<PlanStep> Steps,
    ImmutableArray<string> Unproven,
    CopperTolerance? Copper = null)
{
    /// <summary>What a step is measured with: the run's meter, or lamp and millivolts.</summary>
    public Meter MeterFor(PlanStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        return step.Load?.AsMeter() ?? Meter;
    }

    public double Seconds => Steps.Sum(s => s.Seconds);
}
