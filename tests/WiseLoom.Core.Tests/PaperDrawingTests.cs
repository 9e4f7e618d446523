using System.Globalization;
using System.Xml.Linq;
using CsCheck;
using WiseLoom.Bench;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>Faces and stems as they are drawn on paper: whole, well-formed, nothing outside the sheet.</summary>
public sealed class PaperDrawingTests
{
    private static readonly XNamespace Svg = "http://www.w3.org/2000/svg";

    private static double Number(XElement element, string attribute) => double.Parse(element.Attribute(attribute)!.Value, CultureInfo.InvariantCulture);

    private static double[] ViewBox(XElement svg) => [.. svg.Attribute("viewBox")!.Value.Split(' ').Select(n => double.Parse(n, CultureInfo.InvariantCulture))];

    private static IEnumerable<string> Texts(XElement svg) => svg.Descendants().Where(e => e.Name.LocalName == "text").Select(e => e.Value);

    [Fact]
    public void Every_face_of_the_demo_looms_shows_each_cavity_once_inside_its_frame()
    {
        foreach (var loom in new[] { Looms.FrostFan, Looms.WorkLaunch })
        {
            foreach (var connector in loom.Connectors)
            {
                foreach (var side in Enum.GetValues<FaceSide>())
                {
                    var svg = XDocument.Parse(LoomDrawings.Face(loom, connector.Ref, side)).Root!;
                    Texts(svg).ShouldBe(connector.Family.Cavities, ignoreOrder: true);
                    var box = ViewBox(svg);
                    foreach (var cell in svg.Descendants().Where(e => e.Attribute("transform") is not null))
                    {
                        var at = cell.Attribute("transform")!.Value["translate(".Length..^1].Split(' ').Select(n => double.Parse(n, CultureInfo.InvariantCulture)).ToArray();
                        at[0].ShouldBeInRange(0, box[2] - 30);
                        at[1].ShouldBeInRange(0, box[3] - 30);
                    }
                }
            }
        }
    }

    [Fact]
    public void The_two_faces_of_a_plug_are_mirror_images()
    {
        var loom = Looms.Of("A:1-B:6");
        string[] Row(FaceSide side) => [.. Texts(XDocument.Parse(LoomDrawings.Face(loom, "A", side)).Root!).Take(5)];
        double[] Columns(FaceSide side) =>
        [
            .. XDocument.Parse(LoomDrawings.Face(loom, "A", side)).Root!.Descendants().Where(e => e.Attribute("transform") is not null).Take(5)
                .Select(e => double.Parse(e.Attribute("transform")!.Value["translate(".Length..].Split(' ')[0], CultureInfo.InvariantCulture)),
        ];
        var (mating, wire) = (Row(FaceSide.MatingFace).Zip(Columns(FaceSide.MatingFace)).ToDictionary(), Row(FaceSide.WireSide).Zip(Columns(FaceSide.WireSide)).ToDictionary());
        mating.Keys.ShouldBe(wire.Keys, ignoreOrder: true);
        mating.Select(x => x.Value + wire[x.Key]).Distinct().ShouldHaveSingleItem();
    }

    [Fact]
    public void A_stem_of_any_loom_is_well_formed_and_names_its_connectors() => Gen.Select(Gen.Int[1, 4], Gen.Int[1, 150], Gen.Int[1, 10_000]).Sample(
        (plugs, wires, seed) =>
        {
            var loom = GeneratedLoom.Loom(40 * plugs, wires, seed);
            var svg = XDocument.Parse(LoomDrawings.Stem(loom)).Root!;
            svg.Name.ShouldBe(Svg + "svg");
            var words = string.Join(" ", Texts(svg));
            loom.Connectors.ShouldAllBe(c => words.Contains(c.Ref, StringComparison.Ordinal));
            var box = ViewBox(svg);
            foreach (var line in svg.Descendants(Svg + "line"))
            {
                foreach (var (attribute, most) in new[] { ("x1", box[2]), ("x2", box[2]), ("y1", box[3]), ("y2", box[3]) })
                {
                    Number(line, attribute).ShouldBeInRange(0, most);
                }
            }
        },
        iter: 40);

    [Theory]
    [InlineData("<i>")]
    [InlineData("\"'")]
    [InlineData("&lt;")]
    [InlineData("a & b")]
    public void Names_with_signs_of_markup_are_drawn_as_words(string name)
    {
        var file = Looms.Json("A:1-B:1");
        file["families"]![0]!["rows"]![0]![1] = name;
        var loom = Looms.Read(file.ToJsonString()).Loom!;
        var svg = XDocument.Parse(LoomDrawings.Face(loom, "A", FaceSide.MatingFace)).Root!;
        Texts(svg).ShouldContain(name);
        svg.Descendants().ShouldNotContain(e => e.Name.LocalName == "script" || e.Attribute("onload") != null);
    }
}
