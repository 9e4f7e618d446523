using System.Text;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

public sealed class LoomReaderTests
{
    [Theory]
    [InlineData("frost-fan.json", 38, 150, 12)]
    [InlineData("work-launch.json", 25, 110, 4)]
    public void The_demo_looms_read_without_a_problem_or_a_warning(string file, int connectors, int wires, int splices)
    {
        var reading = LoomReader.Read(Looms.DemoFile(file));

        reading.Problems.ShouldBeEmpty();
        reading.Warnings.ShouldBeEmpty();
        reading.Loom!.Connectors.Length.ShouldBeGreaterThanOrEqualTo(connectors);
        reading.Loom.Wires.Length.ShouldBeGreaterThanOrEqualTo(wires);
        reading.Loom.Splices.Length.ShouldBeGreaterThanOrEqualTo(splices);
        reading.Loom.Wires.ShouldContain(w => w.Group != null);
        reading.Loom.Wires.ShouldContain(w => w.Role == WireRole.Shield);
    }

    /// <summary>Each change to a good file, and the place and a word of the problem it must bring.</summary>
    public static TheoryData<string, string, string, string> Spoiled => new()
    {
        { "format", "\"something/else\"", "/format", "wise-loom/loom" },
        { "version", "2", "/version", "version 1" },
        { "version", "\"1\"", "/version", "number" },
        { "loom", "null", "/loom", "name" },
        { "loom/name", "7", "/loom/name", "text" },
        { "loom/name", "\"\"", "/loom/name", "Empty" },
        { "loom/ambientC", "\"NaN\"", "/loom/ambientC", "number" },
        { "loom/ambientC", "1e999", "/loom/ambientC", "large" },
        { "families", "{}", "/families", "list" },
        { "families/0", "3", "/families/0", "object" },
        { "families/0/rows", "[]", "/families/0/rows", "cavity" },
        { "families/0/rows/0/1", "\"1\"", "/families/0/rows/0/1", "twice" },
        { "families/0/rows/0/1", "5", "/families/0/rows/0/1", "text" },
        { "families/0/contactMilliohm", "-1", "/families/0/contactMilliohm", "between" },
        { "families/0/contactMilliohm", "{\"min\":5,\"nominal\":4,\"max\":9}", "/families/0/contactMilliohm", "rise" },
        { "families/0/numberedFrom", "\"front\"", "/families/0/numberedFrom", "wire-side" },
        { "families/0/kind", "\"ring\"", "/families/0/rows", "exactly one" },
        { "branches/0/lengthMm", "-5", "/branches/0/lengthMm", "between" },
        { "branches/0/parent", "\"nowhere\"", "/branches/0/parent", "nowhere" },
        { "connectors/0/family", "\"tem\"", "/connectors/0/family", "Is 'ten' meant?" },
        { "connectors/0/branch", "\"trnk\"", "/connectors/0/branch", "trunk" },
        { "connectors/0/atMm", "1200", "/connectors/0/atMm", "1000 mm" },
        { "connectors/0/ref", "\"A:1\"", "/connectors/0/ref", "colon" },
        { "connectors/1/ref", "\"A\"", "/connectors/1/ref", "earlier" },
        { "connectors/0/blanked", "[\"99\"]", "/connectors/0/blanked/0", "no cavity" },
        { "connectors/0/blanked", "[\"1\"]", "/wires/0/from", "blanked" },
        { "splices/0/ref", "\"A\"", "/splices/0/ref", "connector" },
        { "splices/0/kind", "\"glue\"", "/splices/0/kind", "crimp" },
        { "wires/0/id", "null", "/wires/0/id", "Missing" },
        { "wires/1/id", "\"W1\"", "/wires/1/id", "earlier" },
        { "wires/0/to", "\"B:77\"", "/wires/0/to", "no cavity '77'" },
        { "wires/0/to", "\"D:1\"", "/wires/0/to", "No connector" },
        { "wires/0/to", "\"B\"", "/wires/0/to", "B:1" },
        { "wires/0/to", "\"S9\"", "/wires/0/to", "No splice" },
        { "wires/0/to", "\"A:1\"", "/wires/0/to", "starts and ends" },
        { "wires/0/to", "12", "/wires/0/to", "text" },
        { "wires/0/mm2", "0", "/wires/0/mm2", "between" },
        { "wires/0/mm2", "null", "/wires/0/mm2", "mm2 or awg" },
        { "wires/0/awg", "2", "/wires/0/mm2", "contradict each other" },
        { "wires/0/lengthMm", "-1", "/wires/0/lengthMm", "between" },
        { "wires/0/lengthMm", "null", "/wires/0/lengthMm", "Missing" },
        { "wires/0/colour", "\"BU/ZZ\"", "/wires/0/colour", "'ZZ'" },
        { "wires/0/role", "\"power\"", "/wires/0/role", "feed" },
        { "wires/0/circuit", "\"a\\u0007b\"", "/wires/0/circuit", "control" },
        { "wires/0/note", "\"\\ud800\"", "/wires/0/note", "half a character" },
        { "devices", "[{\"ref\":\"d\",\"kind\":\"magic\"}]", "/devices/0/kind", "resistor" },
        { "devices", "[{\"ref\":\"d\",\"kind\":\"resistor\"}]", "/devices/0/ohm", "Missing" },
        { "devices", "[{\"ref\":\"d\",\"kind\":\"ntc\",\"points\":[[0,1]]}]", "/devices/0/points", "three" },
        { "devices", "[{\"ref\":\"d\",\"kind\":\"switch\",\"closedWhen\":\"x\",\"pins\":{\"1\":\"Q:1\"}}]", "/devices/0/pins/1", "No connector" },
        { "devices", "[{\"ref\":\"d\",\"kind\":\"fuse\",\"amps\":\"ten\"}]", "/devices/0/amps", "number" },
    };

    [Theory]
    [MemberData(nameof(Spoiled))]
    public void Each_wrong_thing_is_named_at_its_place_with_what_would_be_right(string path, string value, string at, string says)
    {
        var reading = Looms.Read(Spoil(path, value));

        reading.Loom.ShouldBeNull();
        reading.Problems.ShouldContain(p => p.At == at && p.Message.Contains(says, StringComparison.Ordinal), string.Join("\n", reading.Problems));
    }

    [Fact]
    public void All_problems_of_a_file_are_listed_at_once()
    {
        var file = Looms.Json("A:1-B:1", "A:2-B:2", "A:3-B:3");
        foreach (var wire in file["wires"]!.AsArray())
        {
            wire!["mm2"] = -1;
            wire["to"] = "NOWHERE:1";
        }

        Looms.Read(file.ToJsonString()).Problems.Select(p => p.At).ShouldBe(
            ["/wires/0/to", "/wires/0/mm2", "/wires/1/to", "/wires/1/mm2", "/wires/2/to", "/wires/2/mm2"]);
    }

    [Fact]
    public void A_loop_of_branches_is_named_on_every_branch_in_it_and_nowhere_else()
    {
        var file = Looms.Json("A:1-B:1");
        file["branches"] = JsonNode.Parse("""
            [ { "id": "trunk", "parent": null, "lengthMm": 900 }, { "id": "a", "parent": "c", "lengthMm": 10 },
              { "id": "b", "parent": "a", "lengthMm": 10 }, { "id": "c", "parent": "b", "lengthMm": 10 }, { "id": "d", "parent": "c", "lengthMm": 10 } ]
            """);

        Looms.Read(file.ToJsonString()).Problems.Select(p => p.At).ShouldBe(["/branches/1/parent", "/branches/2/parent", "/branches/3/parent"]);
    }

    [Fact]
    public void A_branch_that_is_its_own_parent_is_a_loop()
    {
        var file = Looms.Json("A:1-B:1");
        file["branches"] = JsonNode.Parse("""[ { "id": "trunk", "parent": "trunk", "lengthMm": 900 } ]""");

        Looms.Read(file.ToJsonString()).Problems.ShouldHaveSingleItem().Message.ShouldContain("leads back to itself");
    }

    [Fact]
    public void A_sealed_cavity_takes_one_wire_unless_its_family_says_otherwise()
    {
        var file = Looms.Json("A:1-B:1", "A:1-B:2");
        file["families"]![0]!["sealed"] = true;

        var problem = Looms.Read(file.ToJsonString()).Problems.ShouldHaveSingleItem();
        problem.At.ShouldBe("/wires/1/from");
        problem.Message.ShouldContain("A:1 already holds W1");

        file["families"]![0]!["wiresPerCavity"] = 2;
        Looms.Read(file.ToJsonString()).Problems.ShouldBeEmpty();
    }

    [Fact]
    public void Open_cavities_of_a_sealed_connector_are_a_warning_only()
    {
        var file = Looms.Json("A:1-B:1");
        file["families"]![0]!["sealed"] = true;

        var reading = Looms.Read(file.ToJsonString());
        reading.Problems.ShouldBeEmpty();
        reading.Warnings.Select(w => w.At).ShouldBe(["/connectors/0", "/connectors/1"]);
    }

    public static TheoryData<byte[], string> NotLooms => new()
    {
        { [], "not JSON" },
        { "{"u8.ToArray(), "Row 1" },
        { "{\"format\": \"wise-loom/loom\",\n \"version\": oops }"u8.ToArray(), "Row 2" },
        { "[1,2,3]"u8.ToArray(), "one object" },
        { "{\"a\":1,\"a\":2}"u8.ToArray(), "Duplicate" },
        { [.. "{\"format\":\n\""u8, 0xff, 0xfe, .. "\"}"u8], "Row 2, byte 2: not UTF-8" },
        { Encoding.Latin1.GetBytes("{\"name\":\"Grüße\"}"), "not UTF-8" },
        { Encoding.Unicode.GetBytes("{\"format\":\"wise-loom/loom\"}"), "not JSON" },
        { Encoding.UTF8.GetBytes(new string('[', 5000)), "depth" },
        { Encoding.UTF8.GetBytes("{\"x\":" + new string('[', 200) + new string(']', 200) + "}"), "depth" },
        { new byte[LoomReader.LargestFile + 1], "at most 8 MB" },
    };

    [Theory]
    [MemberData(nameof(NotLooms))]
    public void What_is_no_loom_file_at_all_is_told_in_one_line(byte[] file, string says)
    {
        var reading = LoomReader.Read(file);

        reading.Loom.ShouldBeNull();
        reading.Problems.ShouldHaveSingleItem().Message.ShouldContain(says);
    }

    [Fact]
    public void A_byte_order_mark_is_no_problem()
    {
        byte[] file = [.. Encoding.UTF8.Preamble, .. Encoding.UTF8.GetBytes(Looms.Json("A:1-B:1").ToJsonString())];

        LoomReader.Read(file).Problems.ShouldBeEmpty();
    }

    [Fact]
    public void Unknown_fields_and_very_long_wires_are_taken_the_latter_with_a_doubt()
    {
        var file = Looms.Json("A:1-B:1@1000000000");
        file["wires"]![0]!["shelf"] = "C4";

        var reading = Looms.Read(file.ToJsonString());
        reading.Problems.ShouldBeEmpty();
        reading.Warnings.ShouldHaveSingleItem().At.ShouldBe("/wires/0/lengthMm");
    }

    private static string Spoil(string path, string value)
    {
        JsonNode at = Looms.Json("A:1-B:1", "A:2-S1", "S1-C:1", "S1-C:2");
        var root = at;
        var steps = path.Split('/');
        foreach (var step in steps.SkipLast(1))
        {
            at = (int.TryParse(step, out var index) ? at[index] : at[step])!;
        }

        // Written as text and put in afterwards, so that a number which no node can hold reaches the reader as it is.
        const string Mark = "\"<spoiled>\"";
        if (at is JsonArray list)
        {
            list[int.Parse(steps[^1], System.Globalization.CultureInfo.InvariantCulture)] = "<spoiled>";
        }
        else
        {
            at[steps[^1]] = "<spoiled>";
        }

        return root.ToJsonString(new() { Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping }).Replace(Mark, value, StringComparison.Ordinal);
    }
}
