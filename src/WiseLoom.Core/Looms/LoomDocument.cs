using System.Text.Json;
using System.Text.Json.Nodes;

namespace WiseLoom.Core.Looms;

/// <summary>A loom file as it is written, right or wrong: what a person is still working on.</summary>
public static class LoomDocument
{
    /// <summary>Lists of a loom file whose entries have a name of their own, with the field that holds it.</summary>
    public static IReadOnlyList<(string Field, string Name, string Word)> Lists { get; } =
    [
        ("families", "id", "family"), ("branches", "id", "branch"), ("landmarks", "id", "landmark"), ("connectors", "ref", "connector"),
        ("splices", "ref", "splice"), ("wires", "id", "wire"), ("devices", "ref", "device"),
        ("box", "id", "thing in the box"), ("fitting", "id", "step of fitting"), ("codeReadings", "id", "way of reading codes"),
    ];

    /// <summary>A loom file without any part.</summary>
    public static JsonObject Empty(string name)
    {
        var document = new JsonObject
        {
            ["format"] = "wise-loom/loom",
            ["version"] = 1,
            ["loom"] = new JsonObject { ["name"] = name, ["revision"] = "A", ["supplyVolts"] = 12.6, ["ambientC"] = 20 },
        };
        foreach (var (field, _, _) in Lists)
        {
            document[field] = new JsonArray();
        }

        return document;
    }

    /// <summary>The file as an object; null when it is no JSON object at all, or one that could not be stored.</summary>
    public static JsonObject? Parse(ReadOnlyMemory<byte> utf8)
    {
        using var document = JsonText.Parse(utf8, []);
        return document?.RootElement.ValueKind == JsonValueKind.Object ? JsonObject.Create(document.RootElement.Clone()) : null;
    }

    /// <summary>The file as bytes.</summary>
    public static byte[] Bytes(JsonObject document) => JsonSerializer.SerializeToUtf8Bytes(document);
}
