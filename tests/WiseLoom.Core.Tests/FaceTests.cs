using System.Collections.Immutable;
using System.Text.Json.Nodes;
using CsCheck;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>Faces made from a pattern, and cavities found from words.</summary>
public sealed class FaceTests
{
    private static readonly Gen<FacePattern> Patterns =
        from rows in Gen.Int[1, 12].Array[1, 5]
        from start in Gen.Enum<FaceCorner>()
        from columns in Gen.Bool
        from zigzag in Gen.Bool
        from naming in Gen.OneOfConst(CavityNaming.Numbers, CavityNaming.LetterRows)
        from first in Gen.Int[0, 40]
        from gap in Gen.Int[0, 1000]
        let row = gap % rows.Length
        let gaps = rows.Sum() > 1 && gap % 3 == 0 ? [[row + 1, (gap % rows[row]) + 1]] : ImmutableArray<ImmutableArray<int>>.Empty
        select new FacePattern([.. rows], gaps, start, columns, zigzag, naming, first);

    private static ConnectorFamily Family(FacePattern pattern) => FamilyLibrary.Read(new JsonObject
    {
        ["id"] = "made",
        ["rows"] = new JsonArray([.. pattern.Face().Select(r => (JsonNode)new JsonArray([.. r.Select(c => c is null ? null : (JsonNode)JsonValue.Create(c))]))]),
    }).Family!;

    [Fact]
    public void A_pattern_names_every_place_once() => Patterns.Where(p => p.Problems().IsEmpty).Sample(p =>
    {
        var face = p.Face();
        face.Select(r => r.Length).ShouldBe(p.Rows);
        var names = face.SelectMany(r => r).OfType<string>().ToList();
        names.Count.ShouldBe(p.Rows.Sum() - p.Gaps.Length);
        names.Distinct().Count().ShouldBe(names.Count);
    });

    [Fact]
    public void The_words_for_a_cavity_lead_back_to_it_on_either_face() => Patterns.Where(p => p.Problems().IsEmpty).Sample(p =>
    {
        var family = Family(p);
        foreach (var side in Enum.GetValues<FaceSide>())
        {
            foreach (var cell in FaceLayout.Of(family, side).Cells)
            {
                FaceWords.Find(family, side, $"row {cell.Row}, {cell.Place}th from the left").Cavity.ShouldBe(cell.Cavity);
                FaceWords.Find(family, side == FaceSide.WireSide ? FaceSide.MatingFace : FaceSide.WireSide, $"{cell.Spoken}, seen from the {(side == FaceSide.WireSide ? "wire side" : "mating face")}")
                    .Cavity.ShouldBe(cell.Spoken == "the only cavity" ? null : cell.Cavity, cell.Spoken);
            }
        }
    }, iter: 60);

    [Fact]
    public void Numbering_runs_the_way_that_was_asked()
    {
        FacePattern Make(FaceCorner start, bool columns, bool zigzag, params int[] rows) => new([.. rows], [], start, columns, zigzag, CavityNaming.Numbers, 1);
        string Say(FacePattern p) => string.Join(" / ", p.Face().Select(r => string.Join(' ', r)));
        Say(Make(FaceCorner.TopLeft, false, false, 3, 3)).ShouldBe("1 2 3 / 4 5 6");
        Say(Make(FaceCorner.TopRight, false, false, 3, 3)).ShouldBe("3 2 1 / 6 5 4");
        Say(Make(FaceCorner.BottomLeft, false, true, 3, 3)).ShouldBe("6 5 4 / 1 2 3");
        Say(Make(FaceCorner.TopLeft, true, false, 3, 3)).ShouldBe("1 3 5 / 2 4 6");
        Say(Make(FaceCorner.BottomRight, true, false, 2, 2)).ShouldBe("4 2 / 3 1");
        string.Join(" / ", new FacePattern([3, 2], [[1, 2]], FaceCorner.TopLeft, false, false, CavityNaming.LetterRows, 1).Face().Select(r => string.Join(' ', r.Select(c => c ?? "_")))).ShouldBe("A1 _ A2 / B1 B2");
    }

    [Theory]
    [InlineData("second row, fifth from the left", "14")]
    [InlineData("2nd row, 5th from the left, seen from the mating face", "14")]
    [InlineData("second row, fourth from the left, seen from the wire side", "15")]
    [InlineData("bottom row, first", "10")]
    [InlineData("top row third from the right", "7")]
    [InlineData("row 2 last", "18")]
    [InlineData("first row from the bottom, second from the left", "11")]
    [InlineData("17", "17")]
    public void A_place_said_in_words_is_one_cavity(string words, string cavity) =>
        FaceWords.Find(Family(new([9, 9], [], FaceCorner.TopLeft, false, false, CavityNaming.Numbers, 1)), FaceSide.MatingFace, words).Cavity.ShouldBe(cavity);

    [Theory]
    [InlineData("", "Say the row")]
    [InlineData("fifth from the left", "Say the row")]
    [InlineData("third row, first", "2 rows")]
    [InlineData("second row", "say the place in it")]
    [InlineData("second row, twelfth from the left", "9 cavities")]
    public void Words_that_lead_nowhere_say_what_is_missing(string words, string says)
    {
        var found = FaceWords.Find(Family(new([9, 9], [], FaceCorner.TopLeft, false, false, CavityNaming.Numbers, 1)), FaceSide.MatingFace, words);
        found.Cavity.ShouldBeNull();
        found.Message.ShouldContain(says);
    }

    [Fact]
    public void Patterns_that_make_no_face_say_why()
    {
        new FacePattern([], [], 0, false, false, CavityNaming.Numbers, 1).Problems().ShouldHaveSingleItem().At.ShouldBe("/rows");
        new FacePattern([3, 0], [], 0, false, false, CavityNaming.Numbers, 1).Problems().ShouldHaveSingleItem().At.ShouldBe("/rows");
        new FacePattern([500], [], 0, false, false, CavityNaming.Numbers, 1).Problems().ShouldHaveSingleItem().At.ShouldBe("/rows");
        new FacePattern([3], [[2, 1]], 0, false, false, CavityNaming.Numbers, 1).Problems().ShouldHaveSingleItem().At.ShouldBe("/gaps");
        new FacePattern([30], [], 0, false, false, CavityNaming.Letters, 1).Problems().ShouldHaveSingleItem().At.ShouldBe("/naming");
        new FacePattern([3], [], 0, false, false, CavityNaming.Numbers, -1).Problems().ShouldHaveSingleItem().At.ShouldBe("/first");
    }

    [Fact]
    public void A_large_cavity_must_be_one_of_the_face()
    {
        var (family, problems) = FamilyLibrary.Read(JsonNode.Parse("""{ "id": "x", "rows": [["1","2"]], "large": ["2","7"] }""")!.AsObject());
        family.ShouldBeNull();
        problems.ShouldHaveSingleItem().At.ShouldBe("/large/1");
    }
}
