using System.Text;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Tests;

/// <summary>Builds small looms with devices: each wire is a metre of 1 mm² between one-cavity connectors, made when they are first named.</summary>
internal sealed class BenchLoom
{
    private readonly JsonArray wires = [];
    private readonly JsonArray devices = [];
    private readonly SortedSet<string> connectors = new(StringComparer.Ordinal);

    /// <summary>Adds a wire from plug to plug.</summary>
    internal BenchLoom Wire(string from, string to, double lengthMm = 1000)
    {
        connectors.Add(from);
        connectors.Add(to);
        wires.Add(new JsonObject { ["id"] = $"W{wires.Count + 1}", ["from"] = $"{from}:1", ["to"] = $"{to}:1", ["mm2"] = 1, ["lengthMm"] = lengthMm });
        return this;
    }

    /// <summary>Adds a device; fields and pins as JSON, a pin's plug without its cavity.</summary>
    internal BenchLoom Device(string reference, string kind, string pins, string fields = "{}")
    {
        var device = JsonNode.Parse(fields)!.AsObject();
        (device["ref"], device["kind"]) = (reference, kind);
        device["pins"] = new JsonObject(JsonNode.Parse(pins)!.AsObject().Select(p => KeyValuePair.Create(p.Key, (JsonNode?)(p.Value!.GetValue<string>() is var at && at[0] == '@' ? at : $"{at}:1"))));
        devices.Add(device);
        return this;
    }

    /// <summary>A battery of 12.6 V and 10 mΩ between the plugs BAT and GND.</summary>
    internal BenchLoom Battery(string fields = """{ "volts": 12.6 }""") => Device("battery", "battery", """{ "+": "BAT", "-": "GND" }""", fields);

    internal LoomReading Read()
    {
        var file = new JsonObject
        {
            ["format"] = "wise-loom/loom",
            ["version"] = 1,
            ["loom"] = new JsonObject { ["name"] = "Bench", ["revision"] = "A" },
            ["families"] = new JsonArray(new JsonObject { ["id"] = "one", ["rows"] = new JsonArray(new JsonArray("1")), ["contactMilliohm"] = 0 }),
            ["connectors"] = new JsonArray([.. connectors.Select(c => (JsonNode)new JsonObject { ["ref"] = c, ["family"] = "one" })]),
            ["wires"] = wires.DeepClone(),
            ["devices"] = devices.DeepClone(),
        };
        return LoomReader.Read(Encoding.UTF8.GetBytes(file.ToJsonString()));
    }

    internal Loom Loom()
    {
        var reading = Read();
        return reading.Loom ?? throw new InvalidOperationException(string.Join("\n", reading.Problems));
    }

    internal LoomStates States() => LoomStates.For(Loom(), 20);
}
