using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Planning.Steps;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Tests;

/// <summary>What a fix could have changed.</summary>
public sealed class RetestTests
{
    [Fact]
    public void A_fix_is_retested_on_its_nets_and_beside_its_cavities_and_nowhere_else()
    {
        var loom = Looms.Of("A:1-B:1", "A:2-B:2", "A:3-B:3");
        var plan = Bench.Sorted(Bench.Plan(loom, Isolation.Neighbours));

        Retest.Of(loom, plan, ["A:1"], [1]).ShouldBe([1, 4]);
        Retest.Of(loom, plan, ["A:2"], []).ShouldBe([2, 4, 5]);
        Retest.Of(loom, plan, ["W3"], [3]).ShouldBe([3, 5]);
        Retest.Of(loom, plan, ["nowhere"], [2]).ShouldBe([2]);
    }

    [Fact]
    public void A_remade_splice_is_retested_on_every_leg()
    {
        var loom = Looms.Of("A:1-S1", "S1-B:1", "S1-C:1", "A:5-B:5");
        var plan = Bench.Plan(loom, Isolation.Thorough);

        Retest.Of(loom, plan, ["S1"], []).Select(n => plan.Steps[n - 1]).Count(s => s is ContinuityStep).ShouldBe(2);
    }

    /// <summary>What lies along the way of a wire, and splices that sit close together, are near as well as the next cavity.</summary>
    [Fact]
    public void A_twisted_wire_and_a_splice_close_by_are_held_against_what_was_mended()
    {
        var twisted = Looms.Json("A:1-B:1", "A:5-B:5", "A:8-B:8");
        foreach (var i in new[] { 0, 1 })
        {
            twisted["wires"]![i]!["group"] = "pair";
        }

        Against(Looms.Read(twisted.ToJsonString()).Loom!, "W1").ShouldBe([("1", "5")]);

        var spliced = Looms.Json("A:1-S1", "S1-B:1", "A:5-S2", "S2-B:5", "A:8-S3", "S3-B:8");
        foreach (var (i, mm) in new[] { (0, 100), (1, 130), (2, 900) })
        {
            (spliced["splices"]![i]!["branch"], spliced["splices"]![i]!["atMm"]) = ("trunk", mm);
        }

        var near = Looms.Read(spliced.ToJsonString()).Loom!;
        Against(near, "S1").ShouldBe([("1", "5")]);
        Retest.Of(near, Bench.Plan(near, Isolation.Neighbours), ["S1"], []).Length.ShouldBe(2);
    }

    /// <summary>Hands on a splice were on every wire that ends in it, and so in both of their plugs.</summary>
    [Theory]
    [InlineData("A:1-S1", "S1-B:1")]
    [InlineData("S1-A:1", "B:1-S1")]
    public void A_remade_splice_is_held_against_what_stands_beside_each_of_its_wires(string one, string other) =>
        Against(Looms.Of(one, other, "A:2-C:1", "B:2-D:5"), "S1").Count().ShouldBe(2);

    /// <summary>Pairs of circuits, by their cavities, that a fix at one place has held against each other again.</summary>
    private static IEnumerable<(string, string)> Against(Loom loom, string place)
    {
        var plan = Bench.Plan(loom, Isolation.Neighbours);
        return Retest.Of(loom, plan, [place], []).Select(n => plan.Steps[n - 1]).OfType<IsolationStep>()
            .Select(s => string.CompareOrdinal(s.Black.Cavity, s.Red!.Value.Cavity) < 0 ? (s.Black.Cavity, s.Red!.Value.Cavity) : (s.Red!.Value.Cavity, s.Black.Cavity));
    }

    /// <summary>A thorough plan holds all nets but one against the others. Hands on that one are proven by the nets beside it.</summary>
    [Fact]
    public void Hands_on_the_net_that_has_no_step_against_all_others_are_retested_by_its_neighbours()
    {
        var loom = Looms.Of("A:1-B:1", "A:2-B:2", "A:5-B:5");
        var plan = Bench.Plan(loom, Isolation.Thorough);
        var apart = plan.Steps.OfType<IsolationStep>().ToDictionary(s => s.Black.Cavity, s => s.Number);
        apart.Count.ShouldBe(2);

        foreach (var (cavity, beside) in new[] { ("1", "2"), ("2", "1") })
        {
            var again = Retest.Of(loom, plan, [$"A:{cavity}"], []);
            again.ShouldContain(apart.TryGetValue(cavity, out var own) ? own : apart[beside]);
            again.ShouldNotContain(apart.GetValueOrDefault("5"));
        }
    }

    [Theory]
    [InlineData(0.06, 0.09, 0.01, 1000)]
    [InlineData(0, 0.01, 0.0001, 1)]
    public void The_ruler_spans_whole_decades_around_the_limits(double least, double most, double from, double to)
    {
        var ruler = Ruler.For(new Limits(least, most));

        ruler.From.ShouldBe(from, from * 1e-9);
        ruler.To.ShouldBeInRange(most * 8, to);
        Ruler.For(Limits.Apart).ShouldBe(new Ruler(1, 1e8));
    }
}
