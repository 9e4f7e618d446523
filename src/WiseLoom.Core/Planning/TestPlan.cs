using System.Collections.Immutable;
using System.Text.Json.Serialization;
using WiseLoom.Core.Electrical;

namespace WiseLoom.Core.Planning;

/// <summary>How isolation is proven.</summary>
public enum Isolation
{
    /// <summary>Each net against all others, joined by a shorting plug.</summary>
    Thorough,

    /// <summary>Only nets that stand next to each other in a face, run twisted together or are spliced near each other.</summary>
    Neighbours,
}

/// <summary>Steps that prove a loom, with the limits they are judged by; a run keeps it as it was made.</summary>
/// <param name="AmbientC">Temperature the limits hold for, degrees Celsius.</param>
/// <param name="Unproven">What this plan leaves open however it goes, in words; empty when nothing.</param>
/// <param name="Copper">The tolerance its limits come from.</param>
public sealed record TestPlan(
    Isolation Isolation,
    double AmbientC,
    Meter Meter,
    ImmutableArray<PlanStep> Steps,
    ImmutableArray<string> Unproven,
    CopperTolerance Copper)
{
    /// <summary>What the hands were taken to need; the usual for plans that do not say.</summary>
    public TouchCost Cost { get; init; } = TouchCost.Usual;

    /// <summary>Refs of the devices that are plugged in for the steps through devices.</summary>
    public ImmutableArray<string> Fitted { get; init; } = [];

    /// <summary>Seconds below which no order and no choice of pairs could have gone; 0 for plans that do not say.</summary>
    public double LowerBoundSeconds { get; init; }

    /// <summary>Seconds that the same proof takes in the order of the pinout; 0 for plans that do not say.</summary>
    public double PinOrderSeconds { get; init; }

    /// <summary>How many pairs of feeds and grounds were measured with a meter that would miss a poor joint there, and not under load.</summary>
    public int PairsMissed { get; init; }

    /// <summary>Titles of diodes that no open plug lets a meter see by itself.</summary>
    public ImmutableArray<string> UnseenDiodes { get; init; } = [];

    /// <summary>Share of its steps that may be skipped without a lead's decision; the shop's limit when the run was started.</summary>
    public double MostSkipped { get; init; } = UsualMostSkipped;

    /// <summary>What the shop asks of every run and this plan does not do, in words; empty when it does all.</summary>
    public ImmutableArray<string> LessThanAsked { get; init; } = [];

    /// <summary>The share of steps that may be skipped, until a lead has set the shop's own.</summary>
    public const double UsualMostSkipped = 0.05;

    /// <summary>The same as sentences, in plans that were kept as such; none in newer ones.</summary>
    public ImmutableArray<string> NotTested { get; init; } = [];

    /// <summary>Single breaks that none of its readings surely shows.</summary>
    public ImmutableArray<UnseenBreak> Unseen { get; init; } = [];

    /// <summary>How many wires beside which another way lies were not looked at, since there were too many: their breaks may go unnoticed.</summary>
    public int WiresNotLookedAt { get; init; }

    /// <summary>Plugs whose faces nobody has looked at, where neighbours in them are measured against each other.</summary>
    public int FacesNotConfirmed { get; init; }

    /// <summary>Wires with a length or a section that nobody measured.</summary>
    public int WiresEstimated { get; init; }

    /// <summary>All that it leaves open, in words.</summary>
    [JsonIgnore]
    public ImmutableArray<string> LeftOpen => [.. Unproven, .. NotTested, .. CouldNotBe(), .. Unseen.Select(u => u.Sentence())];

    /// <summary>What should have been tested and could not be with what was at hand, in words.</summary>
    public IEnumerable<string> CouldNotBe()
    {
        if (PairsMissed > 0)
        {
            yield return PairsMissed == 1
                ? Words.Text("1 pair of feeds and grounds was measured with a meter that would miss a poor joint there, and not under load.")
                : Words.Of($"{PairsMissed} pairs of feeds and grounds were measured with a meter that would miss a poor joint there, and not under load.");
        }

        if (WiresNotLookedAt > 0)
        {
            yield return Words.Of($"{WiresNotLookedAt} wires beside which another way lies were not looked at one by one: a break of one of them might not be noticed.");
        }

        if (FacesNotConfirmed > 0)
        {
            yield return Words.Of($"Faces that nobody has looked at yet: {FacesNotConfirmed}. Which circuits stand next to each other there was taken from the order of the pins.");
        }

        if (WiresEstimated > 0)
        {
            yield return Words.Of($"Wires with a length or a section that nobody measured: {WiresEstimated}. Their limits are wide, and a poor joint may hide in them.");
        }

        foreach (var diode in UnseenDiodes)
        {
            yield return Words.Of($"{diode}: no open plug lets a meter see this diode by itself, so it was not tested.");
        }
    }

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
