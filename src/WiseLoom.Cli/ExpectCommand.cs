using System.Text.Json;
using WiseLoom.Core.Electrical;

namespace WiseLoom.Cli;

/// <summary><c>expect LOOM</c>: nets, and what every pair within them must read.</summary>
internal static class ExpectCommand
{
    internal static int Run(string[] args)
    {
        var line = CommandLine.Parse(args, "--ambient");
        var ambient = line.Number("--ambient");
        if (line.Wrong is not null || line.File is null)
        {
            return Usage.Print(line.Wrong ?? "expect needs a loom file.");
        }

        if (ambient is < -60 or > 200)
        {
            return Usage.Print("--ambient lies between -60 and 200 degrees Celsius.");
        }

        var reading = CommandLine.ReadLoom(line.File);
        if (reading.Loom is not { } loom)
        {
            CommandLine.Write(json => CommandLine.WriteProblems(json, reading));
            return 1;
        }

        var table = ExpectationTable.For(loom, ambient);
        CommandLine.Write(json => WriteTable(json, table));
        return 0;
    }

    private static void WriteTable(Utf8JsonWriter json, ExpectationTable table)
    {
        json.WriteStartObject();
        json.WriteNumber("ambientC", table.AmbientC);
        json.WriteStartArray("nets");
        foreach (var net in table.Nets)
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
        foreach (var pair in table.Pairs())
        {
            json.WriteStartObject();
            json.WriteString("a", pair.A.ToString());
            json.WriteString("b", pair.B.ToString());
            json.WriteStartObject("ohm");
            json.WriteNumber("min", pair.Ohm.Min);
            json.WriteNumber("nominal", pair.Ohm.Nominal);
            json.WriteNumber("max", pair.Ohm.Max);
            json.WriteEndObject();
            json.WriteEndObject();
            if (json.BytesPending > 1 << 16)
            {
                json.Flush();
            }
        }

        json.WriteEndArray();
        json.WriteEndObject();
    }
}
