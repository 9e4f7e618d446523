using System.Text.Json.Nodes;
using CsCheck;
using WiseLoom.Core.Formats;

namespace WiseLoom.Core.Tests;

/// <summary>One cell of a table: what people write in it, what it holds, and what it cannot hold.</summary>
public sealed class CellCodecTests
{
    private static readonly Dictionary<string, CellCodec> Codecs = new(StringComparer.Ordinal)
    {
        ["text"] = CellCodec.Text, ["number"] = CellCodec.Number, ["flag"] = CellCodec.Flag, ["names"] = CellCodec.Names,
        ["range"] = CellCodec.Range, ["face"] = CellCodec.Face, ["pins"] = CellCodec.Pins,
    };

    [Theory]
    [InlineData("text", " two words ", "\" two words \"")]
    [InlineData("number", " 1450 ", "1450")]
    [InlineData("number", "0,5", "0.5")]
    [InlineData("number", "-1.5e3", "-1.5e3")]
    [InlineData("flag", "Yes", "true")]
    [InlineData("flag", "n", "false")]
    [InlineData("names", "S1  S2", "[\"S1\",\"S2\"]")]
    [InlineData("range", "12", "12")]
    [InlineData("range", "11 12 13", "{\"min\":11,\"nominal\":12,\"max\":13}")]
    [InlineData("face", "1 2 / _ 3", "[[\"1\",\"2\"],[null,\"3\"]]")]
    [InlineData("pins", "1=INJ1:1 2=INJ1:2", "{\"1\":\"INJ1:1\",\"2\":\"INJ1:2\"}")]
    public void A_cell_is_read_as_a_person_means_it(string kind, string cell, string json) =>
        JsonNode.DeepEquals(Codecs[kind].Read(cell), JsonNode.Parse(json)).ShouldBeTrue(Codecs[kind].Read(cell)?.ToJsonString());

    [Theory]
    [InlineData("number", "1.450,0")]
    [InlineData("number", "1 450")]
    [InlineData("number", "0x10")]
    [InlineData("number", "01")]
    [InlineData("number", "1e999")]
    [InlineData("number", "NaN")]
    [InlineData("flag", "maybe")]
    [InlineData("flag", "1")]
    [InlineData("range", "1 2")]
    [InlineData("range", "1 2 3 4")]
    [InlineData("range", "least 2 3")]
    [InlineData("pins", "1")]
    [InlineData("pins", "=INJ1:1")]
    [InlineData("pins", "1=A:1 1=A:2")]
    public void A_cell_that_means_nothing_is_not_guessed_at(string kind, string cell)
    {
        Codecs[kind].Read(cell).ShouldBeNull();
        Codecs[kind].Wanted.ShouldNotBeEmpty();
    }

    [Theory]
    [InlineData("text", "\"\"")]
    [InlineData("text", "\"a\\u0000b\"")]
    [InlineData("text", "12")]
    [InlineData("number", "\"12\"")]
    [InlineData("names", "[\"two words\"]")]
    [InlineData("names", "[1]")]
    [InlineData("names", "\"S1\"")]
    [InlineData("range", "{\"min\":1}")]
    [InlineData("range", "{\"min\":1,\"nominal\":2,\"max\":3,\"note\":\"x\"}")]
    [InlineData("face", "[[]]")]
    [InlineData("face", "[[\"_\"]]")]
    [InlineData("face", "[[\"a b\"]]")]
    [InlineData("pins", "{\"1\":2}")]
    [InlineData("pins", "{\"a=b\":\"A:1\"}")]
    [InlineData("pins", "{\"1\":\"A 1\"}")]
    public void A_value_that_would_not_come_back_is_not_written(string kind, string json) => Codecs[kind].Write(JsonNode.Parse(json)).ShouldBeNull();

    [Fact]
    public void What_is_written_is_what_was_there() =>
        Gen.Select(Gen.OneOfConst([.. Codecs.Keys]), Gen.String, Gen.Double, Gen.Bool, Gen.Int[0, 6]).Sample(
            (kind, text, number, flag, shape) =>
            {
                JsonNode? value = shape switch
                {
                    0 => text,
                    1 when double.IsFinite(number) => number,
                    2 => flag,
                    3 => new JsonArray(text, "S2"),
                    4 => new JsonObject { ["min"] = 1, ["nominal"] = 2, ["max"] = flag ? 3 : null },
                    5 => new JsonArray(new JsonArray(text, null), new JsonArray("3")),
                    _ => new JsonObject { [text] = "A:1" },
                };
                if (Codecs[kind].Write(value) is { } cell)
                {
                    JsonNode.DeepEquals(Codecs[kind].Read(cell), value).ShouldBeTrue(cell);
                }
            },
            iter: 5000);
}
