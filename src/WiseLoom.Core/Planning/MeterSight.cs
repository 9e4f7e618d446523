using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning.Steps;

namespace WiseLoom.Core.Planning;

/// <summary>What the meter of a plan can see and what it would miss, before the first touch.</summary>
/// <param name="Pairs">How many pairs must be joined.</param>
/// <param name="Sure">In how many of them the meter surely notices <see cref="LoadTest.GoodEnoughOhms"/> too much.</param>
/// <param name="UnderLoad">How many of the others get a test under load.</param>
/// <param name="Weakest">Those others, the weakest first: the step, and what is surely noticed there (null for nothing).</param>
public sealed record MeterSight(int Pairs, int Sure, int UnderLoad, ImmutableArray<ContinuityStep> Weakest)
{
    /// <summary>Looks through a plan.</summary>
    public static MeterSight Of(TestPlan plan)
    {
        ArgumentNullException.ThrowIfNull(plan);
        var pairs = plan.Steps.OfType<ContinuityStep>().ToList();
        var weak = pairs.Where(s => !(s.NoticedOhms <= LoadTest.GoodEnoughOhms)).OrderByDescending(s => s.NoticedOhms ?? double.PositiveInfinity).ThenBy(s => s.Number);
        return new(pairs.Count, pairs.Count(s => s.NoticedOhms <= LoadTest.GoodEnoughOhms), plan.Steps.Count(s => s.Phase == StepPhase.UnderLoad), [.. weak]);
    }

    /// <summary>The same in a sentence or two.</summary>
    public string Sentence()
    {
        var good = Say.Ohms(LoadTest.GoodEnoughOhms);
        if (Weakest.IsEmpty)
        {
            return $"This meter surely notices {good} too much in every pair that must be joined.";
        }

        var worst = Weakest[0].NoticedOhms is { } ohms ? $"as much as {Say.Ohms(ohms)}" : "any resistance";
        var load = UnderLoad == 0 ? "" : string.Create(CultureInfo.InvariantCulture, $" {UnderLoad} of them, feeds and grounds, are tested under load as well.");
        return string.Create(CultureInfo.InvariantCulture, $"This meter cannot tell a good joint from a poor one in {Weakest.Length} of {Pairs} pairs: it may miss {worst} there.{load}");
    }
}
