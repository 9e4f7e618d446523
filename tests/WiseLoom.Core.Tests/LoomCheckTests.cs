using System.Text.Json;
using System.Text.Json.Nodes;
using CsCheck;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>A check that follows a change of one wire says what reading the changed file anew would say.</summary>
public sealed class LoomCheckTests
{
    private static readonly string[] Ends = ["A:1", "A:2", "B:1", "B:2", "C:1", "C:99", "Q:1", "S1", "S2", "nonsense"];

    /// <summary>Entries of a wire list, right and wrong in every way that counts.</summary>
    private static readonly Gen<JsonObject> Entries =
        from id in Gen.OneOfConst("W1", "W2", "W3", "W4", "", "a:b")
        from @from in Gen.OneOfConst(Ends)
        from to in Gen.OneOfConst(Ends)
        from colour in Gen.OneOfConst("BU", "BU/WH", "PUCE", "")
        from length in Gen.OneOfConst(0, 1000, -1, 60_000)
        from leave in Gen.Int[0, 9]
        select Entry(id, @from, to, colour, length, leave);

    private static JsonObject Entry(string id, string from, string to, string colour, int length, int leave)
    {
        var entry = new JsonObject { ["id"] = id, ["from"] = from, ["to"] = to, ["mm2"] = leave == 8 ? "thick" : 0.5, ["lengthMm"] = length, ["colour"] = colour };
        if (leave < entry.Count)
        {
            entry.RemoveAt(leave);
        }

        return entry;
    }

    private static JsonObject File(IEnumerable<JsonObject> wires) => new()
    {
        ["format"] = "wise-loom/loom",
        ["version"] = 1,
        ["loom"] = new JsonObject { ["name"] = "Test", ["revision"] = "A" },
        ["families"] = new JsonArray(
            JsonNode.Parse("""{ "id": "sealed", "rows": [["1","2"]], "sealed": true }"""),
            JsonNode.Parse("""{ "id": "open", "rows": [["1","2"]] }""")),
        ["branches"] = new JsonArray(JsonNode.Parse("""{ "id": "trunk", "parent": null, "lengthMm": 70000 }""")),
        ["connectors"] = new JsonArray(
            JsonNode.Parse("""{ "ref": "A", "family": "sealed" }"""),
            JsonNode.Parse("""{ "ref": "B", "family": "open" }"""),
            JsonNode.Parse("""{ "ref": "C", "family": "sealed", "blanked": ["2"] }""")),
        ["splices"] = new JsonArray(JsonNode.Parse("""{ "ref": "S1" }""")),
        ["wires"] = new JsonArray([.. wires.Select(w => w.DeepClone())]),
        ["devices"] = new JsonArray(JsonNode.Parse("""{ "ref": "d", "kind": "sparkle", "pins": { "1": "A:1" } }""")),
    };

    private static LoomCheck Read(JsonObject file)
    {
        using var text = LoomText.Parse(LoomDocument.Bytes(file));
        text.Read();
        return text.Check.ShouldNotBeNull();
    }

    private static JsonElement Element(JsonNode node) => JsonSerializer.SerializeToElement(node);

    [Fact]
    public void Change_after_change_it_stays_what_reading_the_file_would_say() => Gen.Select(Entries.Array[1, 6], Gen.Select(Gen.Int[0, 5], Entries).Array[1, 6]).Sample((wires, changes) =>
    {
        var now = wires.ToArray();
        var check = Read(File(now));
        foreach (var (any, entry) in changes)
        {
            now[any % now.Length] = entry;
            check = check.WithWire(any % now.Length, Element(entry)).ShouldNotBeNull();
            var fresh = Read(File(now));
            check.Problems.ShouldBe(fresh.Problems);
            check.Warnings.ShouldBe(fresh.Warnings);
        }
    }, iter: 400);

    [Fact]
    public void An_earlier_check_is_not_changed_by_what_follows_it()
    {
        var wires = new[] { Entry("W1", "A:1", "B:1", "BU", 10, 9), Entry("W2", "A:2", "B:2", "BU", 10, 9) };
        var first = Read(File(wires));
        var before = first.Problems;
        first.WithWire(0, Element(Entry("W2", "A:2", "Q:1", "PUCE", -1, 9)))!.Problems.Length.ShouldBeGreaterThan(before.Length);
        first.Problems.ShouldBe(before);
        first.WithWire(0, Element(wires[0]))!.Problems.ShouldBe(before);
    }

    [Fact]
    public void The_second_wire_of_a_sealed_cavity_is_named_when_the_first_comes_in()
    {
        var check = Read(File([Entry("W1", "B:1", "B:2", "BU", 10, 9), Entry("W2", "A:1", "S1", "BU", 10, 9)]))
            .WithWire(0, Element(Entry("W1", "A:1", "B:2", "BU", 10, 9)))!;
        check.Problems.ShouldContain(p => p.At == "/wires/1/from" && p.Message.Contains("already holds W1", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData(-1, "{}")]
    [InlineData(2, "{}")]
    [InlineData(0, "[]")]
    [InlineData(0, "5")]
    [InlineData(0, "{\"id\":\"W1\",\"id\":\"W2\"}")]
    [InlineData(0, "{\"note\":\"\\ud800\"}")]
    [InlineData(0, "{\"note\":1e999}")]
    public void What_it_cannot_follow_it_leaves_to_the_reader(int index, string entry) =>
        Read(File([Entry("W1", "A:1", "B:1", "BU", 10, 9), Entry("W2", "A:2", "B:2", "BU", 10, 9)])).WithWire(index, Raw(entry)).ShouldBeNull();

    [Fact]
    public void An_entry_nested_too_deep_for_the_file_is_not_followed() =>
        Read(File([Entry("W1", "A:1", "B:1", "BU", 10, 9)])).WithWire(0, Raw($"{{\"x\":{new string('[', 30)}{new string(']', 30)}}}")).ShouldBeNull();

    [Fact]
    public void Places_and_rows_that_do_not_agree_are_left_to_the_reader()
    {
        var file = File([Entry("W1", "A:1", "B:1", "BU", 10, 9)]);
        file["wires"]!.AsArray().Insert(0, JsonValue.Create(5));
        Read(file).WithWire(0, Element(Entry("W9", "A:1", "B:1", "BU", 10, 9))).ShouldBeNull();
        Read(file).WithWire(1, Element(Entry("W9", "A:1", "B:1", "BU", 10, 9))).ShouldBeNull();
    }

    private static JsonElement Raw(string json)
    {
        using var document = JsonDocument.Parse(json);
        return document.RootElement.Clone();
    }
}
