using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>Looms for tests: the demo's two, and small ones written as wires.</summary>
internal static class Looms
{
    internal static Loom FrostFan { get; } = Demo("frost-fan.json");

    internal static Loom WorkLaunch { get; } = Demo("work-launch.json");

    internal static byte[] DemoFile(string name) => File.ReadAllBytes(Path.Combine(AppContext.BaseDirectory, "demo", name));

    internal static LoomReading Read(string json) => LoomReader.Read(Encoding.UTF8.GetBytes(json));

    /// <summary>A loom from wires written <c>A:1-B:1</c> or <c>A:1-S1</c>, each 1 m of 0.5 mm² unless <c>@length</c> in millimetres follows.
    /// Connectors have ten cavities in two rows, are unsealed and add no contact resistance.</summary>
    internal static Loom Of(params string[] wires) => Read(Json(wires).ToJsonString()).Loom!;

    internal static JsonObject Json(params string[] wires)
    {
        var parts = wires.Select(w => w.Split('-', '@')).ToArray();
        var ends = parts.SelectMany(p => p.Take(2)).ToArray();
        var connectors = ends.Where(e => e.Contains(':', StringComparison.Ordinal)).Select(e => e.Split(':')[0]).Distinct();
        var splices = ends.Where(e => !e.Contains(':', StringComparison.Ordinal)).Distinct();
        return new JsonObject
        {
            ["format"] = "wise-loom/loom",
            ["version"] = 1,
            ["loom"] = new JsonObject { ["name"] = "Test", ["revision"] = "A", ["ambientC"] = 20 },
            ["families"] = new JsonArray(JsonNode.Parse("""{ "id": "ten", "rows": [["1","2","3","4","5"],["6","7","8","9","10"]], "contactMilliohm": 0 }""")),
            ["branches"] = new JsonArray(JsonNode.Parse("""{ "id": "trunk", "parent": null, "atMm": 0, "lengthMm": 1000 }""")),
            ["connectors"] = new JsonArray([.. connectors.Select(c => (JsonNode)new JsonObject { ["ref"] = c, ["family"] = "ten", ["branch"] = "trunk" })]),
            ["splices"] = new JsonArray([.. splices.Select(s => (JsonNode)new JsonObject { ["ref"] = s, ["legMilliohm"] = 0 })]),
            ["wires"] = new JsonArray([.. parts.Select((p, i) => (JsonNode)new JsonObject
            {
                ["id"] = string.Create(CultureInfo.InvariantCulture, $"W{i + 1}"),
                ["from"] = p[0],
                ["to"] = p[1],
                ["mm2"] = 0.5,
                ["lengthMm"] = p.Length > 2 ? double.Parse(p[2], CultureInfo.InvariantCulture) : 1000,
                ["colour"] = "BU",
            })]),
        };
    }

    internal static Loom Demo(string name) => LoomReader.Read(DemoFile(name)).Loom!;
}
