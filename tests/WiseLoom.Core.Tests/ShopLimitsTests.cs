using System.Collections.Immutable;
using System.Text.Json;
using CsCheck;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Shop;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Tests;

/// <summary>The figures that a shop may change, and what they change.</summary>
public sealed class ShopLimitsTests
{
    private static readonly Gen<CopperTolerance> Tolerances = Gen.Select(Gen.Double[0, 0.5], Gen.Double[0, 1000], Gen.Double[0, 30], Gen.Double[0.5, 1])
        .Select((share, mm, k, least) => new CopperTolerance(share, mm, k, least));

    [Fact]
    public void The_usual_ones_can_be_and_are_kept_and_read_back()
    {
        ShopLimits.Usual.Problems().ShouldBeEmpty();
        var back = JsonSerializer.Deserialize<ShopLimits>(JsonSerializer.Serialize(ShopLimits.Usual, CoreJson.Options), CoreJson.Options)!;
        back.Copper.ShouldBe(ShopLimits.Usual.Copper);
        back.Cable.Table.ShouldBe(ShopLimits.Usual.Cable.Table);
        (back.Cable with { Table = ShopLimits.Usual.Cable.Table }).ShouldBe(ShopLimits.Usual.Cable);
    }

    [Fact]
    public void More_tolerance_never_makes_limits_narrower_and_never_moves_what_is_nominal() => Gen.Select(Tolerances, Tolerances, Gen.Double[1, 20_000], Gen.Double[-40, 120]).Sample((a, b, length, ambient) =>
    {
        var wide = new CopperTolerance(Math.Max(a.LengthShare, b.LengthShare), Math.Max(a.LengthMm, b.LengthMm), Math.Max(a.AmbientK, b.AmbientK), Math.Min(a.LeastOfNominal, b.LeastOfNominal));
        var (narrow, most) = (Copper.Wire(Section.FromMm2(0.5), length, ambient, a), Copper.Wire(Section.FromMm2(0.5), length, ambient, wide));
        most.Min.ShouldBeLessThanOrEqualTo(narrow.Min);
        most.Max.ShouldBeGreaterThanOrEqualTo(narrow.Max);
        most.Nominal.ShouldBe(narrow.Nominal);
    });

    [Fact]
    public void A_plan_and_the_fitted_table_go_by_the_shops_tolerance()
    {
        var loom = Looms.Of("A:1-B:1");
        var exact = new CopperTolerance(0, 0, 0, 1);
        var plan = Planner.Plan(loom, PlanTerms.Usual(Meter.BenchFourWire, Isolation.Neighbours, loom.AmbientC, exact));

        // 1 m of 0.5 mm² at 20 °C: 17.241 / 0.5 = 34.482 mΩ at its least, 37.1 mΩ by the table at its most.
        plan.Steps[0].Limits.Least.ShouldBe(0.034482, 1e-9);
        plan.Steps[0].Limits.Most.ShouldBe(0.0371, 1e-9);
        plan.Copper.ShouldBe(exact);
        FittedTable.For(loom, loom.AmbientC, exact, new HashSet<string>(), new HashSet<string>()).Between(ProbePoint.Parse("A:1"), ProbePoint.Parse("B:1")).Ohm!.Value.Min.ShouldBe(0.034482, 1e-9);
        Bench.Plan(loom, Isolation.Neighbours).Steps[0].Limits.Least.ShouldBeLessThan(0.034);
    }

    [Fact]
    public void A_section_beyond_the_shops_table_lies_on_the_line_of_its_last_two_rows()
    {
        var cable = CableLimits.Usual with { Table = [new(1, 10), new(4, 20)] };
        cable.Amps(Section.FromMm2(2), 1).ShouldBe(10 * Math.Sqrt(2), 1e-9);
        cable.Amps(Section.FromMm2(16), 1).ShouldBe(40, 1e-9);
        cable.Amps(Section.FromMm2(0.25), 1).ShouldBe(5, 1e-9);
    }

    public static TheoryData<string, ShopLimits> Bad
    {
        get
        {
            var usual = ShopLimits.Usual;
            ShopLimits With(CableLimits cable) => usual with { Cable = cable };
            return new()
            {
                { "/copper/lengthShare", usual with { Copper = usual.Copper with { LengthShare = 0.51 } } },
                { "/copper/lengthMm", usual with { Copper = usual.Copper with { LengthMm = -1 } } },
                { "/copper/ambientK", usual with { Copper = usual.Copper with { AmbientK = double.NaN } } },
                { "/copper/leastOfNominal", usual with { Copper = usual.Copper with { LeastOfNominal = 1.01 } } },
                { "/cable/feedDrop", With(usual.Cable with { FeedDrop = 0 }) },
                { "/cable/sensorGroundDrop", With(usual.Cable with { SensorGroundDrop = 2 }) },
                { "/cable/fuseLoad", With(usual.Cable with { FuseLoad = 1.2 }) },
                { "/cable/insulationC", With(usual.Cable with { InsulationC = 90 }) },
                { "/cable/table", With(usual.Cable with { Table = [new(1, 10)] }) },
                { "/cable/table", With(usual.Cable with { Table = default }) },
                { "/cable/table/1", With(usual.Cable with { Table = [new(1, 10), new(1, 12)] }) },
                { "/cable/table/1", With(usual.Cable with { Table = [new(1, 10), new(2, 9)] }) },
                { "/cable/table/0/mm2", With(usual.Cable with { Table = [new(0, 10), new(2, 19)] }) },
                { "/cable/table/1/amps", With(usual.Cable with { Table = [new(1, 10), new(2, double.PositiveInfinity)] }) },
            };
        }
    }

    [Theory]
    [MemberData(nameof(Bad))]
    public void A_figure_that_cannot_be_is_named_at_its_place(string at, ShopLimits limits) => limits.Problems().ShouldHaveSingleItem().At.ShouldBe(at);
}
