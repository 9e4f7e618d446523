using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>Where on a loom a place along a wire lies, on a branch tree one can walk with a finger.</summary>
public sealed class WireRouteTests
{
    /// <summary>A trunk of 1 m from A; a branch of 400 mm leaves at 600 mm to B, and one at 900 mm to C; a grommet at 300 mm.</summary>
    private static Loom Tree()
    {
        var json = Looms.Json("A:1-B:1@1000", "B:2-C:2@1000", "A:3-S1@500", "S1-C:3@500");
        json["branches"] = JsonNode.Parse("""
            [ { "id": "trunk", "parent": null, "atMm": 0, "lengthMm": 1000 }, { "id": "left", "parent": "trunk", "atMm": 600, "lengthMm": 400 }, { "id": "right", "parent": "trunk", "atMm": 900, "lengthMm": 200 } ]
            """);
        json["landmarks"] = JsonNode.Parse("""[ { "id": "bulkhead", "kind": "grommet", "branch": "trunk", "atMm": 300 } ]""");
        foreach (var (connector, branch, at) in new[] { ("A", "trunk", 0), ("B", "left", 400), ("C", "right", 100) })
        {
            var own = json["connectors"]!.AsArray().First(c => (string?)c!["ref"] == connector)!;
            (own["branch"], own["atMm"]) = (branch, at);
        }

        var splice = json["splices"]![0]!;
        (splice["branch"], splice["atMm"]) = ("trunk", 800);
        return Looms.Read(json.ToJsonString()).Loom!;
    }

    [Theory]
    [InlineData("W1", 0, "300 mm from the grommet bulkhead")]
    [InlineData("W1", 310, "10 mm from the grommet bulkhead")]
    [InlineData("W1", 580, "20 mm from where left leaves")]
    [InlineData("W2", 0, null)]
    [InlineData("W2", 520, "16 mm from where left leaves")]
    [InlineData("W2", 850, "20 mm from where right leaves")]
    [InlineData("W4", 0, "0 mm from splice S1")]
    public void The_nearest_thing_is_named_with_the_way_to_it(string wire, double mm, string? near)
    {
        var loom = Tree();
        new WireRoute(loom).Near(loom.FindWire(wire)!, mm).ShouldBe(near);
    }

    [Fact]
    public void Beyond_an_end_it_is_that_end()
    {
        var loom = Tree();
        var (route, wire) = (new WireRoute(loom), loom.FindWire("W1")!);
        route.Near(wire, -50).ShouldBe(route.Near(wire, 0));
        route.Near(wire, 5000).ShouldBe(route.Near(wire, wire.LengthMm));
    }
}
