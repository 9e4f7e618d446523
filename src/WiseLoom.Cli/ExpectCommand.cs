using System.Text.Json;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Cli;

/// <summary><c>expect LOOM [--fitted]</c>: nets, and what every pair within them must read, bare or through the devices.</summary>
internal static class ExpectCommand
{
    internal static int Run(string[] args)
    {
        var line = CommandLine.Parse(args, "--ambient", "--fitted!", "--set", "--without");
        var ambient = line.Ambient();
        if (line.Wrong is not null || line.File is null)
        {
            return Usage.Print(line.Wrong ?? "expect needs a loom file.");
        }

        var reading = CommandLine.ReadLoom(line.File);
        if (reading.Loom is not { } loom)
        {
            CommandLine.Write(json => CommandLine.WriteProblems(json, reading));
            return 1;
        }

        if (line.Has("--fitted"))
        {
            var fitted = FittedTable.For(loom, ambient ?? loom.AmbientC, CopperTolerance.Usual, line.All("--set").ToHashSet(), line.All("--without").ToHashSet());
            CommandLine.Write(json => WriteFitted(json, fitted));
            return 0;
        }

        var table = ExpectationTable.For(loom, ambient ?? loom.AmbientC, CopperTolerance.Usual);
        CommandLine.Write(json => WriteTable(json, table.AmbientC, table.Nets, table.Pairs(), pair =>
        {
            json.WriteString("a", pair.A.ToString());
            json.WriteString("b", pair.B.ToString());
            WriteOhm(json, "ohm", pair.Ohm);
        }));
        return 0;
    }

    private static void WriteFitted(Utf8JsonWriter json, FittedTable table) => WriteTable(
        json,
        table.AmbientC,
        table.Nets,
        table.Pairs(),
        pair =>
        {
            json.WriteString("a", pair.A.ToString());
            json.WriteString("b", pair.B.ToString());
            WriteOhm(json, "ohm", pair.Ohm);
            if (pair.ThroughDiode)
            {
                WriteOhm(json, "ohmReversed", pair.Reversed);
                json.WriteNumber("testAmps", FittedTable.TestAmps);
            }
        },
        () =>
        {
            json.WriteBoolean("fitted", true);
            json.WriteStartArray("leftOut");
            foreach (var device in table.LeftOut)
            {
                json.WriteStringValue(device);
            }

            json.WriteEndArray();
        });

    private static void WriteTable<T>(Utf8JsonWriter json, double ambientC, IEnumerable<Net> nets, IEnumerable<T> pairs, Action<T> write, Action? head = null)
    {
        json.WriteStartObject();
        json.WriteNumber("ambientC", ambientC);
        head?.Invoke();
        json.WriteStartArray("nets");
        foreach (var net in nets)
        {
            json.WriteStartArray();
            foreach (var point in net.Points)
            {
                json.WriteStringValue(point.ToString());
            }

            json.WriteEndArray();
        }

        json.WriteEndArray();
        json.WriteStartArray("pairs");
        foreach (var pair in pairs)
        {
            json.WriteStartObject();
            write(pair);
            json.WriteEndObject();
            if (json.BytesPending > 1 << 16)
            {
                json.Flush();
            }
        }

        json.WriteEndArray();
        json.WriteEndObject();
    }

    /// <summary>Limits in ohms; null for over range, and as the upper limit for none.</summary>
    private static void WriteOhm(Utf8JsonWriter json, string name, OhmRange? range)
    {
        if (range is not { } ohm)
        {
            json.WriteNull(name);
            return;
        }

        json.WriteStartObject(name);
        json.WriteNumber("min", ohm.Min);
        json.WriteNumber("nominal", ohm.Nominal);
        if (double.IsFinite(ohm.Max))
        {
            json.WriteNumber("max", ohm.Max);
        }
        else
        {
            json.WriteNull("max");
        }

        json.WriteEndObject();
    }
}
