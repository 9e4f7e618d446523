using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

public sealed class CopperTests
{
    [Fact]
    public void A_metre_of_half_a_square_millimetre_reads_what_hand_calculation_says()
    {
        var ohm = Copper.Wire(Section.FromMm2(0.5), 1000, 20, CopperTolerance.Usual);

        ohm.Nominal.ShouldBe(0.034482, 1e-9);
        ohm.Min.ShouldBe(0.96 * 0.034482 * 0.98 * (1 - (3 * 0.00393)), 1e-9);
        ohm.Max.ShouldBe(0.0371 * 1.02 * (1 + (3 * 0.00393)), 1e-9);
    }

    [Theory]
    [InlineData(20, 0.5176)]
    [InlineData(16, 1.3090)]
    [InlineData(0, 53.4751)]
    [InlineData(-3, 107.219)]
    public void Gauges_have_the_area_of_the_standard(int awg, double mm2) => Section.FromAwg(awg).Mm2.ShouldBe(mm2, 0.001);

    [Fact]
    public void A_size_outside_the_table_may_be_eight_percent_above_nominal()
    {
        var perMetre = Copper.MilliohmPerMetre(Section.FromMm2(0.6), CopperTolerance.Usual);

        (perMetre.Max / perMetre.Nominal).ShouldBe(1.08, 1e-12);
        Copper.MilliohmPerMetre(Section.FromAwg(20), CopperTolerance.Usual).Max.ShouldBe(1.08 * 17.241 / Section.FromAwg(20).Mm2, 1e-9);
    }

    [Fact]
    public void Short_wires_have_twenty_millimetres_of_tolerance_and_never_less_than_no_length()
    {
        Copper.Wire(Section.FromMm2(1), 10, 20, CopperTolerance.Usual).Min.ShouldBe(0);
        (Copper.Wire(Section.FromMm2(1), 100, 20, CopperTolerance.Usual).Max / (0.0185 * 0.120 * (1 + (3 * 0.00393)))).ShouldBe(1, 1e-12);
    }

    [Fact]
    public void Ends_add_their_contact_or_their_splice_leg()
    {
        var file = Looms.Json("A:1-S1");
        file["families"]![0]!["contactMilliohm"] = System.Text.Json.Nodes.JsonNode.Parse("""{ "min": 1, "nominal": 4, "max": 10 }""");
        file["splices"]![0]!["legMilliohm"] = System.Text.Json.Nodes.JsonNode.Parse("""{ "min": 0.1, "nominal": 0.5, "max": 2 }""");
        var loom = Looms.Read(file.ToJsonString()).Loom!;

        var ohm = WireGraph.EndToEnd(loom, loom.Wires[0], 20, CopperTolerance.Usual);
        var copper = Copper.Wire(Section.FromMm2(0.5), 1000, 20, CopperTolerance.Usual);
        (ohm.Nominal - copper.Nominal).ShouldBe(0.0045, 1e-12);
        (ohm.Min - copper.Min).ShouldBe(0.0011, 1e-12);
        (ohm.Max - copper.Max).ShouldBe(0.012, 1e-12);
    }
}
