using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Tests;

/// <summary>What is asked for next costs what hands need from where the probes stand.</summary>
public sealed class HandsTests
{
    private static readonly ProbePoint A1 = new("A", "1"), A2 = new("A", "2"), B1 = new("B", "1"), B2 = new("B", "2"), C1 = new("C", "1"), C2 = new("C", "2");

    /// <summary>A splice with three legs, and a wire beside each.</summary>
    private static readonly Loom Star = Looms.Of("A:1-S1@400", "B:1-S1@500", "C:1-S1@600", "A:2-B:2@900", "C:2-D:2@900");

    private static Measurement To(ProbePoint a, params ProbePoint[] b) => new(a, [.. b], false);

    public static TheoryData<Measurement, double> Costs => new()
    {
        { To(A1, B1), 5 },
        { To(B1, A1), 5 },
        { To(A1, B2), 5 + 2.5 },
        { To(A2, B2), 5 + (2 * 2.5) },
        { To(B2, A1), 5 + 2.5 },
        { To(A1, C1), 5 + 2.5 + 8 },
        { To(C1, new ProbePoint("D", "2")), 5 + (2 * (2.5 + 8)) },
        { To(A1, B2, new ProbePoint("B", "3")), 5 + 2.5 + (2 * 0.25) },
        { new(A1, null, false), 5 + 2.5 + 8 + 5 },
        { new(A1, [B1], true), 5 + 10 },
    };

    [Theory]
    [MemberData(nameof(Costs))]
    public void Seconds_are_those_from_where_the_probes_stand(Measurement next, double seconds) =>
        (Hands.Usual with { Stand = new(A1, B1) }).Seconds(next).ShouldBe(seconds, 1e-9);

    [Fact]
    public void Where_nobody_knows_where_the_probes_stand_every_pair_is_as_far()
    {
        ProbePoint[] all = [A1, A2, B1, B2, C1, C2];
        all.SelectMany(a => all.Where(b => b != a).Select(b => Hands.Usual.Seconds(To(a, b)))).Distinct().ShouldBe([5 + (2 * (2.5 + 8.0))]);
        Hands.After([]).ShouldBe(Hands.Usual);
    }

    [Fact]
    public void The_last_reading_is_where_the_probes_stand()
    {
        Hands.After([Observation.Of(A1, B1, 0.1), Observation.Of(B2, C2, null)]).Stand.ShouldBe(new ProbePair(B2, C2));
        Hands.After([Observation.Of(A1, null, null)]).Stand.ShouldBe(new ProbePair(A1, null));
    }

    [Fact]
    public void A_shop_that_moves_more_slowly_pays_more_for_moves() =>
        new Hands(new(A1, B1), new TouchCost(1, 30)).Seconds(To(A1, C1)).ShouldBe(5 + 1 + 30, 1e-9);

    /// <summary>Either of two legs is open, and one touch from the third tells which: the probe that stands at one of them stays.</summary>
    [Fact]
    public void Of_two_touches_that_tell_the_same_the_nearer_one_is_asked_for()
    {
        var diagnostician = new Diagnostician(Star, 20, CopperTolerance.Usual, FaultTally.None);
        Observation[] open = [Observation.Of(A1, B1, null)];
        string Next(ProbePair stand)
        {
            var next = diagnostician.Find(open, [], Meter.BenchFourWire, Hands.Usual with { Stand = stand }, TestContext.Current.CancellationToken).Next.ShouldNotBeNull();
            return string.Join(" and ", next.B!.Value.Add(next.A).Order());
        }

        Next(new(A1, C2)).ShouldBe("A:1 and C:1");
        Next(new(B1, C2)).ShouldBe("B:1 and C:1");
    }

    /// <summary>Where the probes stand says nothing of what is wrong.</summary>
    [Fact]
    public void The_ranking_is_the_same_from_everywhere()
    {
        var diagnostician = new Diagnostician(Star, 20, CopperTolerance.Usual, FaultTally.None);
        Observation[] open = [Observation.Of(A1, B1, null), Observation.Of(A2, B2, 0.03)];
        var shares = new[] { Hands.Usual, Hands.After(open), Hands.Usual with { Stand = new(C1, null) } }
            .Select(h => string.Join(' ', diagnostician.Find(open, [], Meter.BenchFourWire, h, TestContext.Current.CancellationToken).Ranking.Select(f => $"{f.Sentence} {f.Probability:R}")));
        shares.Distinct().Count().ShouldBe(1);
    }
}
