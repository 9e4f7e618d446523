using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>Devices in a file: what they become, and what is said to those that cannot be.</summary>
public sealed class DeviceReaderTests
{
    [Theory]
    [InlineData("resistor", "{}", "/ohm", "Missing")]
    [InlineData("resistor", """{ "ohm": 12, "use": "toaster" }""", "/use", "write one of injector")]
    [InlineData("resistor", """{ "ohm": { "min": 3, "nominal": 2, "max": 4 } }""", "/ohm", "must rise")]
    [InlineData("ntc", """{ "points": [[0, 1]] }""", "/points", "at least three")]
    [InlineData("ntc", """{ "points": [[0, 1], [1], [2, 3]] }""", "/points", "a pair")]
    [InlineData("ntc", """{ "points": [[0, "x"], [1, 2], [2, 3]] }""", "/points/0/1", "a text")]
    [InlineData("pot", """{ "wiper": 1.5 }""", "/wiper", "between 0 and 1")]
    [InlineData("switch", "{}", "/closedWhen", "Missing")]
    [InlineData("relay", """{ "pullInVolts": 2, "dropOutVolts": 5 }""", "/dropOutVolts", "at most pullInVolts")]
    [InlineData("relay", """{ "coilOhm": 0 }""", "/coilOhm", "more than 0")]
    [InlineData("relay", """{ "contacts": [{ "common": "nowhere" }] }""", "/contacts/0/common", "no pin of this relay")]
    [InlineData("relay", """{ "contacts": [{ "working": "1" }] }""", "/contacts/0/common", "Missing")]
    [InlineData("diode", """{ "ideality": 0 }""", "/ideality", "cannot be")]
    [InlineData("fuse", "{}", "/amps", "Missing")]
    [InlineData("fuse", """{ "amps": 0 }""", "/amps", "cannot be")]
    [InlineData("battery", "{}", "/volts", "Missing")]
    [InlineData("battery", """{ "volts": "twelve" }""", "/volts", "a text")]
    [InlineData("key", """{ "joins": { "ignition": ["1", "2"] } }""", "/joins", "no key position")]
    [InlineData("key", """{ "joins": { "on": "1" } }""", "/joins/on", "list of names")]
    [InlineData("transducer", """{ "scale": { "lowVolts": 1, "lowUnits": 0, "highVolts": 1, "highUnits": 5, "unit": "kPa" } }""", "/scale/highVolts", "must differ")]
    [InlineData("controller", """{ "roles": { "9": { "role": "supply" } } }""", "/roles/9", "no pin of this controller")]
    [InlineData("controller", """{ "roles": { "1": { } } }""", "/roles/1/role", "Missing")]
    [InlineData("controller", """{ "roles": { "1": { "role": "boss" } } }""", "/roles/1/role", "not known here")]
    [InlineData("controller", """{ "roles": { "1": "supply" } }""", "/roles/1", "An object with a role")]
    [InlineData("controller", """{ "roles": [] }""", "/roles", "An object is needed")]
    [InlineData("controller", """{ "roles": { "1": { "role": "lowSide", "onIn": ["sometimes"] } } }""", "/roles/1/onIn", "no key position")]
    [InlineData("controller", """{ "roles": { "1": { "role": "highSide", "from": "2" } } }""", "/roles/1", "no supply pin")]
    [InlineData("cable", """{ "joins": [["1", "7"]] }""", "/joins", "'7' is no pin")]
    [InlineData("wormhole", "{}", "/kind", "write one of resistor")]
    public void A_device_that_cannot_be_is_refused_at_its_place(string kind, string fields, string at, string words)
    {
        var reading = new BenchLoom().Wire("A", "B").Device("d", kind, """{ "1": "A", "2": "B" }""", fields).Read();
        reading.Loom.ShouldBeNull();
        reading.Problems.ShouldContain(p => p.At == "/devices/0" + at && p.Message.Contains(words), string.Join("\n", reading.Problems));
    }

    [Theory]
    [InlineData("@")]
    [InlineData("@a:b")]
    public void An_inner_joint_needs_a_name(string joint) =>
        new BenchLoom().Wire("A", "B").Device("d", "fuse", $$"""{ "1": "A", "2": "{{joint}}" }""", """{ "amps": 5 }""").Read()
            .Problems.Single().ShouldSatisfyAllConditions(p => p.At.ShouldBe("/devices/0/pins/2"), p => p.Message.ShouldContain("inner joint"));

    [Fact]
    public void A_sensor_that_rises_is_doubted_not_refused_and_carries_nothing()
    {
        var reading = new BenchLoom().Wire("A", "B").Device("d", "ntc", """{ "1": "A", "2": "B" }""", """{ "points": [[0, 100], [20, 108], [80, 131]] }""").Read();
        reading.Warnings.ShouldContain(w => w.At == "/devices/0/points" && w.Message.Contains("falls as it warms"));
        ((NtcModel)reading.Loom!.Devices[0].Model!).Fit.OhmsAt(20).ShouldBe(double.NaN);
    }

    [Fact]
    public void What_a_file_leaves_out_has_its_documented_default()
    {
        var loom = new BenchLoom().Wire("A", "B").Device("b", "battery", """{ "+": "A", "-": "B" }""", """{ "volts": 24 }""")
            .Device("r", "relay", """{ "86": "A", "85": "B" }""").Device("f", "fuse", """{ "1": "A", "2": "B" }""", """{ "amps": 15 }""")
            .Device("k", "key", """{ "B": "A", "IGN": "B" }""", """{ "joins": { "on": ["B", "IGN"] } }""").Loom();
        ((BatteryModel)loom.Devices[0].Model!).ShouldBe(new BatteryModel(24, 24, 24, OhmRange.Exactly(0.01)));
        ((RelayModel)loom.Devices[1].Model!).ShouldSatisfyAllConditions(r => r.Coil.Nominal.ShouldBe(90), r => r.PullInVolts.ShouldBe(0.6 * 12.6, 1e-9), r => r.DropOutVolts.ShouldBe(1.26, 1e-9));
        ((FuseModel)loom.Devices[2].Model!).Ohm.Nominal.ShouldBe(0.005, 1e-12);
        ((KeyModel)loom.Devices[3].Model!).Joins[KeyPosition.Running].Single().ShouldBe(["B", "IGN"]);
        loom.Devices[1].Joint("coil+").ShouldBe("A:1");
        loom.Devices[1].Joint("86").ShouldBe("A:1");
    }

    [Fact]
    public void The_published_schema_names_every_name_of_a_pin_that_is_accepted()
    {
        using var schema = System.Text.Json.JsonDocument.Parse(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "loom.schema.json")));
        var rules = schema.RootElement.GetProperty("properties").GetProperty("devices").GetProperty("items").GetProperty("allOf").EnumerateArray()
            .ToDictionary(r => r.GetProperty("if").GetProperty("properties").GetProperty("kind").GetProperty("const").GetString()!, r => r.GetProperty("then").TryGetProperty("description", out var text) ? text.GetString()! : "");
        foreach (var kind in DeviceKinds.All)
        {
            foreach (var pin in kind.Pins)
            {
                rules[kind.Name].ShouldContain($"{pin[0]} (or {string.Join(", ", pin.Skip(1))})", Case.Sensitive, kind.Name);
            }
        }
    }
}
