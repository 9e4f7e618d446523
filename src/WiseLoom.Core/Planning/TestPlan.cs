using System.Collections.Immutable;
using WiseLoom.Core.Electrical;

namespace WiseLoom.Core.Planning;

/// <summary>How isolation is proven.</summary>
public enum Isolation
{
    /// <summary>Each net against all others, joined by a shorting plug.</summary>
    Thorough,

    /// <summary>Only nets that stand next to each other in a face or run twisted together.</summary>
    Neighbours,
}

/// <summary>Steps that prove a loom, with the limits they are judged by; a run keeps it as it was made.</summary>
/// <param name="AmbientC">Temperature the limits hold for, degrees Celsius.</param>
/// <param name="Unproven">What this plan leaves open, in words; empty when nothing.</param>
/// <param name="Copper">The tolerance its limits come from.</param>
public sealed record TestPlan(
    Isolation Isolation,
    double AmbientC,
    Meter Meter,
    ImmutableArray<PlanStep> Steps,
    ImmutableArray<string> Unproven,
    CopperTolerance Copper)
{
    /// <summary>Planned time for all steps, seconds.</summary>
    public double Seconds => Steps.Sum(s => s.Seconds);

    /// <summary>A step by its number; null when the plan has none.</summary>
    public PlanStep? Step(int number) => number >= 1 && number <= Steps.Length ? Steps[number - 1] : null;

    /// <summary>The verdict on a reading of one of its steps.</summary>
    public Verdict Judge(PlanStep step, Reading reading)
    {
        ArgumentNullException.ThrowIfNull(step);
        return step.Judge(reading, Meter);
    }

    /// <summary>What a step is measured with: the run's meter, or lamp and millivolts.</summary>
    public Meter MeterFor(PlanStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        return step.MeasuredWith(Meter);
    }
}
