using CsCheck;
using WiseLoom.Bench;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>Stem, faces, walking order, names and colours.</summary>
public sealed class DrawingTests
{
    private static readonly Gen<string> Names = Gen.String[Gen.Char["A1b09"], 0, 6];

    [Fact]
    public void Tags_never_overlap_and_stay_on_the_drawing() => Gen.Double[0, 1].Array[1, 24].Sample(places =>
    {
        var wanted = places.Order().ToArray();
        var width = 1.0 / 24;
        var centres = StemLayout.Spread(wanted, width);
        centres[0].ShouldBeGreaterThanOrEqualTo((width / 2) - 1e-9);
        centres[^1].ShouldBeLessThanOrEqualTo(1 - (width / 2) + 1e-9);
        centres.Zip(centres.Skip(1)).ShouldAllBe(p => p.Second - p.First >= width - 1e-9);
    });

    [Fact]
    public void Tags_that_have_room_stand_where_their_branch_leaves() =>
        StemLayout.Spread([0.2, 0.5, 0.8], 0.1).ShouldBe([0.2, 0.5, 0.8], 1e-12);

    [Fact]
    public void Every_connector_of_the_demo_looms_has_one_tag()
    {
        foreach (var loom in new[] { Looms.FrostFan, Looms.WorkLaunch })
        {
            var stem = StemLayout.Of(loom);
            stem.Tags.Select(t => t.Connector).ShouldBe(loom.Connectors.Select(c => c.Ref), ignoreOrder: true);
            foreach (var row in stem.Tags.GroupBy(t => (t.Above, t.Lane)))
            {
                var centres = row.Select(t => t.Centre).Order().ToList();
                centres.Zip(centres.Skip(1)).ShouldAllBe(p => p.Second - p.First >= stem.TagWidth - 1e-9);
            }
        }
    }

    [Fact]
    public void Tags_of_a_loom_of_any_size_stay_on_the_drawing() => Gen.Int[4, 900].Sample(
        circuits =>
        {
            var stem = StemLayout.Of(ShopLoom.Make(circuits, 7, wide: false));
            stem.Tags.ShouldAllBe(t => t.Centre - (stem.TagWidth / 2) > -1e-9 && t.Centre + (stem.TagWidth / 2) < 1 + 1e-9 && t.Lane < stem.Lanes);
            foreach (var row in stem.Tags.GroupBy(t => (t.Above, t.Lane)))
            {
                var centres = row.Select(t => t.Centre).Order().ToList();
                centres.Zip(centres.Skip(1)).ShouldAllBe(p => p.Second - p.First >= stem.TagWidth - 1e-9);
            }
        },
        iter: 40);

    [Fact]
    public void The_walk_starts_at_the_controller_and_follows_the_trunk()
    {
        var walk = new TrunkTree(Looms.FrostFan).WalkingOrder().Select(c => c.Ref).ToList();

        walk.Take(2).ShouldBe(["ECU-A", "ECU-B"]);
        walk.IndexOf("FUSE").ShouldBeLessThan(walk.IndexOf("INJ1"));
        walk.IndexOf("INJ1").ShouldBeLessThan(walk.IndexOf("INJ4"));
        walk.IndexOf("INJ4").ShouldBeLessThan(walk.IndexOf("O2-L"));
    }

    [Fact]
    public void A_place_is_measured_along_its_branches()
    {
        var place = new TrunkTree(Looms.FrostFan).Place(Looms.FrostFan.Connector("O2-L"));

        place.TrunkMm.ShouldBe(2250);
        place.OffTrunkMm.ShouldBe(160 + 240);
        place.Through.ShouldBe(["rear", "exhaust"]);
    }

    [Fact]
    public void The_other_face_is_the_mirror_image()
    {
        foreach (var family in Looms.FrostFan.Families.Concat(Looms.WorkLaunch.Families))
        {
            var (mating, wire) = (FaceLayout.Of(family, FaceSide.MatingFace), FaceLayout.Of(family, FaceSide.WireSide));
            var other = wire.Cells.ToDictionary(c => c.Cavity, StringComparer.Ordinal);
            mating.Cells.ShouldAllBe(c => Math.Abs(c.X + other[c.Cavity].X - mating.Columns) < 1e-9 && c.Y == other[c.Cavity].Y);
        }
    }

    [Fact]
    public void A_cavity_is_counted_in_words_from_the_side_one_looks_at()
    {
        var family = Looms.FrostFan.Connector("ECU-A").Family;
        string Words(FaceSide side) => FaceLayout.Of(family, side).Cells.Single(c => c.Cavity == "25").Spoken;

        Words(FaceSide.WireSide).ShouldBe("row 2, 16th from the left");
        Words(FaceSide.MatingFace).ShouldBe("row 2, 5th from the left");
    }

    [Fact]
    public void Gaps_and_short_rows_keep_neighbours_apart_that_do_not_touch()
    {
        var family = Looms.FrostFan.Connector("FUSE").Family;
        var pairs = FaceLayout.Neighbours(family).ToHashSet();

        pairs.ShouldContain(("A1", "A2"));
        pairs.ShouldNotContain(("B2", "B3"));
        pairs.ShouldNotContain(("A7", "B1"));
    }

    [Fact]
    public void Names_with_numbers_stand_in_number_order()
    {
        string[] names = ["INJ10", "INJ2", "A", "INJ1", "INJ02"];

        names.Order(NaturalOrder.Comparer).ShouldBe(["A", "INJ1", "INJ02", "INJ2", "INJ10"]);
    }

    [Fact]
    public void Natural_order_is_an_order() => Gen.Select(Names, Names, Names).Sample((a, b, c) =>
    {
        Math.Sign(NaturalOrder.Compare(a, b)).ShouldBe(-Math.Sign(NaturalOrder.Compare(b, a)));
        if (NaturalOrder.Compare(a, b) <= 0 && NaturalOrder.Compare(b, c) <= 0)
        {
            NaturalOrder.Compare(a, c).ShouldBeLessThanOrEqualTo(0);
        }
    });

    [Theory]
    [InlineData("BU/WH", "blue with white")]
    [InlineData("gnye", "green-and-yellow")]
    [InlineData("", "no colour given")]
    public void Colours_are_said_in_words(string text, string words)
    {
        WireColour.TryParse(text, out var colour, out _).ShouldBeTrue();
        colour.Spoken.ShouldBe(words);
    }

    [Theory]
    [InlineData("ECU:17", "ECU", "17")]
    [InlineData("X:a:b", "X", "a:b")]
    public void Points_read_as_they_are_written(string text, string connector, string cavity)
    {
        ProbePoint.Parse(text).ShouldBe(new ProbePoint(connector, cavity));
        ProbePoint.Parse(text).ToString().ShouldBe(text);
    }

    [Theory]
    [InlineData("S1")]
    [InlineData(":1")]
    [InlineData("ECU:")]
    [InlineData("")]
    public void What_is_no_point_is_not_read_as_one(string text) => ProbePoint.TryParse(text, out _).ShouldBeFalse();
}
