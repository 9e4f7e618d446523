using System.Text.Json;
using WiseLoom.Core.Devices;
using WiseLoom.Core.States;

namespace WiseLoom.Cli;

/// <summary><c>state LOOM --key on [--set NAME]…</c>: what every point shows in one key position.</summary>
internal static class StateCommand
{
    internal static int Run(string[] args)
    {
        var line = CommandLine.Parse(args, "--key", "--set", "--without", "--ambient");
        var ambient = line.Ambient();
        if (line.Wrong is not null || line.File is null)
        {
            return Usage.Print(line.Wrong ?? "state needs a loom file.");
        }

        if (KeyPositions.Find(line.Text("--key") ?? "on") is not { } key)
        {
            return Usage.Print($"--key is one of {string.Join(", ", KeyPositions.All.Select(KeyPositions.Word))}, not '{line.Text("--key")}'.");
        }

        if (CommandLine.FindLoom(line.File) is not { } loom)
        {
            return 1;
        }

        if (line.All("--without").FirstOrDefault(w => loom.Devices.All(d => d.Ref != w)) is { } unknown)
        {
            return Usage.Print($"No device of this loom has the ref '{unknown}'.");
        }

        var states = LoomStates.For(loom, ambient ?? loom.AmbientC);
        var state = states.At(new(key, [.. line.All("--set")], [.. line.All("--without")]));
        string[] known = [.. states.Conditions, .. states.Outputs];
        string[] unheard = [.. line.All("--set").Where(s => !known.Contains(s)).Select(s => $"Nothing in this loom knows the condition '{s}'. It knows: {(known.Length == 0 ? "none" : string.Join(", ", known))}.")];
        CommandLine.Write(json => Write(json, states, state, unheard));
        return state.NoState is null ? 0 : 1;
    }

    private static void Write(Utf8JsonWriter json, LoomStates states, OperatingState state, string[] unheard)
    {
        json.WriteStartObject();
        json.WriteString("key", KeyPositions.Word(state.Situation.Key));
        json.WriteNumber("ambientC", states.AmbientC);
        json.WriteString("noState", state.NoState);
        Texts(json, "chatters", state.Chatters);
        Texts(json, "notes", [.. state.Notes, .. unheard]);
        json.WriteStartObject("points");
        foreach (var (point, shows) in state.Points)
        {
            json.WriteStartObject(point.ToString());
            Number(json, "volts", shows.Volts);
            json.WriteBoolean("floats", shows.Floats);
            if (shows.Most - shows.Least > 1e-9)
            {
                json.WriteNumber("leastVolts", shows.Least);
                json.WriteNumber("mostVolts", shows.Most);
            }

            if (shows.Shows is { } probes)
            {
                json.WriteNumber("meter", probes.Meter);
                if (probes.MeterMost - probes.MeterLeast > 1e-9)
                {
                    json.WriteNumber("meterLeast", probes.MeterLeast);
                    json.WriteNumber("meterMost", probes.MeterMost);
                }

                Lamp(json, "lampToGround", probes.LampToGround);
                Lamp(json, "lampToSupply", probes.LampToSupply);
                json.WriteNumber("sourceOhm", probes.SourceOhms);
            }

            json.WriteEndObject();
        }

        json.WriteEndObject();
        json.WriteStartObject("wires");
        foreach (var wire in states.Loom.Wires.Where(w => state.Wires.ContainsKey(w.Id)))
        {
            json.WriteStartObject(wire.Id);
            json.WriteNumber("amps", state.Wires[wire.Id].Amps);
            json.WriteNumber("dropVolts", state.Wires[wire.Id].DropVolts);
            if (state.Wires[wire.Id] is var w && w.MostAmps - w.LeastAmps > 1e-9)
            {
                json.WriteNumber("leastAmps", w.LeastAmps);
                json.WriteNumber("mostAmps", w.MostAmps);
            }

            json.WriteEndObject();
        }

        json.WriteEndObject();
        json.WriteStartArray("functions");
        foreach (var function in state.Functions)
        {
            json.WriteStartObject();
            json.WriteString("name", function.Name);
            json.WriteString("device", function.Device);
            json.WriteBoolean("works", function.Works);
            json.WriteBoolean("now", function.Now);
            json.WriteBoolean("flickers", function.Flickers);
            json.WriteString("whenDriven", function.WhenDriven);
            json.WriteString("sentence", function.Sentence);
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteStartArray("devices");
        foreach (var device in state.Devices)
        {
            json.WriteStartObject();
            json.WriteString("device", device.Device);
            json.WriteString("state", device.Word);
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteEndObject();
    }

    private static void Lamp(Utf8JsonWriter json, string name, LampShows lamp)
    {
        json.WriteString(name, lamp.Flickers ? "flickers" : lamp.Glow switch { Glow.Bright => "bright", Glow.Dim => "dim", _ => "dark" });
        json.WriteNumber($"{name}Volts", lamp.Volts);
        if (lamp.Flickers)
        {
            json.WriteNumber($"{name}LeastVolts", lamp.LeastVolts);
        }
    }

    private static void Number(Utf8JsonWriter json, string name, double? number)
    {
        if (number is { } value)
        {
            json.WriteNumber(name, value);
        }
        else
        {
            json.WriteNull(name);
        }
    }

    private static void Texts(Utf8JsonWriter json, string name, IEnumerable<string> texts)
    {
        json.WriteStartArray(name);
        foreach (var text in texts)
        {
            json.WriteStringValue(text);
        }

        json.WriteEndArray();
    }
}
