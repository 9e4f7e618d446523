using System.Collections.Immutable;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>The likeliest two with either exchanged for another of its kind: what is weighed before they are said to be certain.</summary>
public sealed class ExchangingTests
{
    private static readonly Loom Buses = Looms.Of("A:1-S1", "S1-B:1", "S1-C:1", "S1-D:1", "A:2-S2", "S2-B:2", "S2-C:2", "S2-D:2", "A:3-B:3", "A:4-B:4");
    private static readonly Priors Usual = Priors.Learned(FaultTally.None);

    private static readonly ShortFault AtB = new("B:1", "B:2", 0.1), AtC = new("C:1", "C:2", 0.1), AtD = new("D:1", "D:2", 0.1), Elsewhere = new("B:2", "B:3", 0.1), Along = new("W9", "W10", 0.1) { AlongMm = [300, 400] };

    private static readonly DrawnLoom Own = new DrawnLoom(Buses, 20, CopperTolerance.Usual).Leaning(null);

    private static (Exchanging Exchanging, Dictionary<string, Weighed> Singles) Over(params Fault[] known)
    {
        var weighing = new Weighing(Own, new(Own, Meter.BenchFourWire, []));
        var singles = known.Select((f, i) => weighing.Weigh(new([f], -10 - i))).ToDictionary(w => FaultKeys.Of(w.Faults[0]), StringComparer.Ordinal);
        return (new(Usual, weighing, singles), singles);
    }

    private static Weighed Two(Fault one, Fault other, double score) => new([one, other], score, score + 30, new Laid(Own, [one, other]));

    [Fact]
    public void What_stands_beside_one_is_tried_beside_the_others_between_the_same_circuits()
    {
        var (exchanging, singles) = Over(AtB, AtC, AtD, Elsewhere, new OpenFault("W9"));
        List<Weighed> falling = [Two(AtB, Along, 100), Two(AtC, new OpenFault("W9"), 90), Two(Elsewhere, AtD, 80), Two(AtC, Elsewhere, 70)];
        var found = exchanging.Of(falling);
        found.Select(s => s.Faults.Select(FaultKeys.Placed).Order().ToList()).ShouldBe([[FaultKeys.Placed(AtC), FaultKeys.Placed(Along)], [FaultKeys.Placed(AtD), FaultKeys.Placed(Along)]], ignoreOrder: true, "not the one elsewhere, nor what is open");
        found.ShouldAllBe(s => s.Faults.OfType<ShortFault>().All(b => double.IsNaN(b.Ohm)), "sizes are found anew");
        var prior = exchanging.PriorOf(Along, AtB, falling[0]);
        found.Single(s => s.Faults.Contains(AtC with { Ohm = double.NaN })).LogPrior.ShouldBe(singles[FaultKeys.Of(AtC)].LogPrior + prior + Usual.LogSecond, 1e-9);
    }

    [Fact]
    public void One_fault_or_others_that_are_far_behind_ask_for_nothing()
    {
        var (exchanging, _) = Over(AtB, AtC);
        exchanging.Of([new([AtB], 100, 110, new Laid(Own, [AtB])), Two(AtC, Along, 90)]).ShouldBeEmpty();
        exchanging.Of([Two(AtB, Along, 100), Two(AtC, Along, -100)]).ShouldBeEmpty();
    }

    /// <summary>Of two faults that are likely together, what one is not is the other's share.</summary>
    [Fact]
    public void A_bridge_that_was_never_weighed_alone_is_as_likely_as_the_rest_of_both()
    {
        var (exchanging, singles) = Over(AtB);
        var both = Two(AtB, Along, 100);
        exchanging.PriorOf(AtB, Along, both).ShouldBe(singles[FaultKeys.Of(AtB)].LogPrior);
        (exchanging.PriorOf(AtB, Along, both) + exchanging.PriorOf(Along, AtB, both) + Usual.LogSecond).ShouldBe(both.LogPrior, 1e-9);
        ((2 * exchanging.PriorOf(AtC, Along, both)) + Usual.LogSecond).ShouldBe(both.LogPrior, 1e-9, "of two that are not known each has half");
    }
}
