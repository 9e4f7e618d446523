using System.Globalization;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Bench;

/// <summary>A loom with a battery, a key, fuses, relays, controllers and what hangs on them, of any size; the same for the same seed.</summary>
internal sealed class PoweredLoom
{
    private const int CavitiesPerConnector = 40;

    private readonly Random random;
    private readonly JsonArray wires = [];
    private readonly JsonArray devices = [];
    private readonly JsonArray splices = [];
    private int cavities;

    private PoweredLoom(int seed) => random = new(seed);

    /// <summary>Makes a loom of at least so many wires with so many devices.</summary>
    internal static JsonObject File(int wireCount, int deviceCount, int seed)
    {
        var loom = new PoweredLoom(seed);
        loom.Fill(wireCount, deviceCount);
        var connectors = (loom.cavities / CavitiesPerConnector) + 1;
        return new JsonObject
        {
            ["format"] = "wise-loom/loom",
            ["version"] = 1,
            ["loom"] = new JsonObject { ["name"] = "Generated", ["revision"] = "A" },
            ["families"] = new JsonArray(new JsonObject { ["id"] = "f", ["rows"] = new JsonArray(new JsonArray([.. Enumerable.Range(1, CavitiesPerConnector).Select(i => (JsonNode)Text(i))])) }),
            ["connectors"] = new JsonArray([.. Enumerable.Range(0, connectors).Select(i => (JsonNode)new JsonObject { ["ref"] = $"C{Text(i)}", ["family"] = "f" })]),
            ["splices"] = loom.splices,
            ["wires"] = loom.wires,
            ["devices"] = loom.devices,
        };
    }

    internal static Loom Loom(int wireCount, int deviceCount, int seed)
    {
        var reading = LoomReader.Read(System.Text.Encoding.UTF8.GetBytes(File(wireCount, deviceCount, seed).ToJsonString()));
        return reading.Loom ?? throw new InvalidOperationException(string.Join("\n", reading.Problems.Take(5)));
    }

    private void Fill(int wireCount, int deviceCount)
    {
        var (plus, minus) = (Splice(), Splice());
        Device("battery", new() { ["volts"] = 12.6 }, ("+", Wire(plus)), ("-", Wire(minus)));
        var ignition = Splice();
        Device("key", new()
        {
            ["joins"] = new JsonObject { ["accessory"] = new JsonArray("B", "ACC"), ["on"] = new JsonArray("B", "ACC", "IGN"), ["start"] = new JsonArray("B", "IGN", "ST"), ["running"] = new JsonArray("B", "ACC", "IGN") },
        }, ("B", Wire(plus)), ("ACC", Wire(Splice())), ("IGN", Wire(ignition)), ("ST", Wire(Splice())));
        while (devices.Count < deviceCount)
        {
            Controller(plus, minus, ignition, Math.Min(50, deviceCount - devices.Count));
        }

        // The rest of the wires: doubled grounds and feeds, as a shop lays them where the current is large.
        while (wires.Count < wireCount)
        {
            var from = random.Next(3) == 0 ? plus : minus;
            var middle = Splice();
            Join(from, middle);
            Join(middle, from);
        }
    }

    /// <summary>One controller with its main relay, sensors, injectors, lamps and motors.</summary>
    private void Controller(string plus, string minus, string ignition, int most)
    {
        var (pins, roles, first) = (new JsonObject(), new JsonObject(), devices.Count);
        string Pin(string net, JsonObject role)
        {
            var name = Text(pins.Count + 1);
            pins[name] = Wire(net);
            roles[name] = role;
            return net;
        }

        Pin(plus, new() { ["role"] = "supply" });
        Pin(minus, new() { ["role"] = "ground" });
        Pin(minus, new() { ["role"] = "ground" });
        Pin(ignition, new() { ["role"] = "wake" });
        var (five, sensorGround) = (Pin(Splice(), new() { ["role"] = "reference5" }), Pin(Splice(), new() { ["role"] = "sensorGround" }));
        var (feed, trigger) = (Splice(), Pin(Splice(), new() { ["role"] = "lowSide", ["output"] = $"Main relay {Text(first)}", ["onIn"] = new JsonArray("on", "start", "running") }));
        Device("relay", new() { ["coilOhm"] = 90, ["coilDiode"] = true }, ("coil+", Wire(plus)), ("coil-", Wire(trigger)), ("contact in", Wire(plus)), ("contact out", Wire(feed)));
        while (devices.Count - first < most - 1)
        {
            var kind = random.Next(8);
            switch (kind)
            {
                case 0 or 1:
                    Device("resistor", new() { ["ohm"] = 12, ["use"] = "injector" }, ("1", Wire(feed)),
                        ("2", Wire(Pin(Splice(), new() { ["role"] = "lowSide", ["output"] = $"Injector {Text(devices.Count)}", ["pulsed"] = true, ["onIn"] = new JsonArray("start", "running") }))));
                    break;
                case 2:
                    Device("ntc", new() { ["points"] = new JsonArray(new JsonArray(-10, 9400), new JsonArray(20, 2500), new JsonArray(80, 320)) },
                        ("1", Wire(Pin(Splice(), new() { ["role"] = "analogIn" }))), ("2", Wire(sensorGround)));
                    break;
                case 3:
                    Device("transducer", [], ("5V", Wire(five)), ("ground", Wire(sensorGround)), ("signal", Wire(Pin(Splice(), new() { ["role"] = "analogIn", ["pull"] = "down", ["ohm"] = 100_000 }))));
                    break;
                case 4:
                    Device("switch", new() { ["closedWhen"] = $"switch {Text(devices.Count)}" }, ("1", Wire(Pin(Splice(), new() { ["role"] = "digitalIn" }))), ("2", Wire(minus)));
                    break;
                case 5:
                    var fused = Splice();
                    Device("fuse", new() { ["amps"] = 10 }, ("1", Wire(feed)), ("2", Wire(fused)));
                    Device("resistor", new() { ["ohmCold"] = 1.5, ["ohmHot"] = 12 }, ("1", Wire(fused)), ("2", Wire(minus)));
                    break;
                case 6:
                    var blocked = Splice();
                    Device("diode", [], ("anode", Wire(feed)), ("cathode", Wire(blocked)));
                    Device("resistor", new() { ["ohm"] = 80 }, ("1", Wire(blocked)), ("2", Wire(minus)));
                    break;
                default:
                    var (coil, motor) = (Pin(Splice(), new() { ["role"] = "lowSide", ["output"] = $"Pump relay {Text(devices.Count)}", ["onIn"] = new JsonArray("running") }), Splice());
                    Device("relay", new() { ["coilOhm"] = 90 }, ("coil+", Wire(feed)), ("coil-", Wire(coil)), ("contact in", Wire(plus)), ("contact out", Wire(motor)));
                    Device("motor", new() { ["ohm"] = 1.5, ["ohmRunning"] = 3 }, ("+", Wire(motor)), ("-", Wire(minus)));
                    break;
            }
        }

        devices.Add(new JsonObject { ["ref"] = $"d{Text(devices.Count)}", ["title"] = $"Controller {Text(first)}", ["kind"] = "controller", ["pins"] = pins, ["roles"] = roles });
    }

    private void Device(string kind, JsonObject fields, params (string Pin, string At)[] pins)
    {
        fields["ref"] = $"d{Text(devices.Count)}";
        fields["kind"] = kind;
        fields["pins"] = new JsonObject(pins.Select(p => KeyValuePair.Create(p.Pin, (JsonNode?)p.At)));
        devices.Add(fields);
    }

    /// <summary>A cavity with a wire to a splice.</summary>
    private string Wire(string splice)
    {
        var cavity = $"C{Text(cavities / CavitiesPerConnector)}:{Text((cavities % CavitiesPerConnector) + 1)}";
        cavities++;
        Join(cavity, splice);
        return cavity;
    }

    private void Join(string from, string to) => wires.Add(new JsonObject
    {
        ["id"] = $"W{Text(wires.Count)}",
        ["from"] = from,
        ["to"] = to,
        ["mm2"] = random.Next(2) == 0 ? 0.5 : 1.5,
        ["lengthMm"] = random.Next(100, 3000),
    });

    private string Splice()
    {
        var name = $"S{Text(splices.Count)}";
        splices.Add(new JsonObject { ["ref"] = name });
        return name;
    }

    private static string Text(int number) => number.ToString(CultureInfo.InvariantCulture);
}
