using System.Buffers;
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

        if (CommandLine.FindLoom(line.File) is not { } loom)
        {
            return 1;
        }

        if (line.Has("--fitted"))
        {
            var fitted = FittedTable.For(loom, ambient ?? loom.AmbientC, CopperTolerance.Usual, line.All("--set").ToHashSet(), line.All("--without").ToHashSet());
            CommandLine.Write((json, output) => WriteFitted(json, output, fitted));
            return 0;
        }

        var table = ExpectationTable.For(loom, ambient ?? loom.AmbientC, CopperTolerance.Usual);
        CommandLine.Write((json, output) => WriteTable(json, output, table.AmbientC, table.Nets, ExpectationTable.PairsFrom, (row, names, pair) =>
        {
            row.WriteString(Field.A, names[pair.A]);
            row.WriteString(Field.B, names[pair.B]);
            WriteOhm(row, Field.Ohm, pair.Ohm);
        }));
        return 0;
    }

    private static void WriteFitted(Utf8JsonWriter json, Stream output, FittedTable table) => WriteTable(
        json,
        output,
        table.AmbientC,
        table.Nets,
        table.PairsFrom,
        (row, names, pair) =>
        {
            row.WriteString(Field.A, names[pair.A]);
            row.WriteString(Field.B, names[pair.B]);
            WriteOhm(row, Field.Ohm, pair.Ohm);
            if (pair.ThroughDiode)
            {
                WriteOhm(row, Field.Reversed, pair.Reversed);
                row.WriteNumber("testAmps", FittedTable.TestAmps);
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

    /// <summary>Millions of pairs are worked out and written on all processors; they stand in the order of their nets and points all the same.</summary>
    private static void WriteTable<T>(
        Utf8JsonWriter json, Stream output, double ambientC, IEnumerable<Net> nets, Func<Net, int, IEnumerable<T>> pairsFrom, Action<Utf8JsonWriter, Dictionary<ProbePoint, JsonEncodedText>, T> write, Action? head = null)
    {
        json.WriteStartObject();
        json.WriteNumber("ambientC", ambientC);
        head?.Invoke();
        json.WriteStartArray("nets");
        var names = new Dictionary<ProbePoint, JsonEncodedText>();
        foreach (var net in nets)
        {
            json.WriteStartArray();
            foreach (var point in net.Points)
            {
                json.WriteStringValue(names[point] = JsonEncodedText.Encode(point.ToString(), CommandLine.Json.Encoder));
            }

            json.WriteEndArray();
        }

        json.WriteEndArray();
        json.WriteStartArray("pairs");
        json.Flush();
        var first = true;
        foreach (var row in nets.SelectMany(net => Enumerable.Range(0, net.Points.Length).Select(point => (net, point))).AsParallel().AsOrdered().WithMergeOptions(ParallelMergeOptions.NotBuffered)
            .Select(at => Row(pairsFrom(at.net, at.point), (row, pair) => write(row, names, pair))).Where(r => !r.IsEmpty))
        {
            if (!first)
            {
                output.WriteByte((byte)',');
            }

            output.Write(row.Span);
            first = false;
        }

        json.WriteEndArray();
        json.WriteEndObject();
    }

    /// <summary>A point's pairs as they stand in the list, without what is around it.</summary>
    private static ReadOnlyMemory<byte> Row<T>(IEnumerable<T> pairs, Action<Utf8JsonWriter, T> write)
    {
        var buffer = new ArrayBufferWriter<byte>();
        using (var json = new Utf8JsonWriter(buffer, CommandLine.Json))
        {
            json.WriteStartArray();
            foreach (var pair in pairs)
            {
                json.WriteStartObject();
                write(json, pair);
                json.WriteEndObject();
            }

            json.WriteEndArray();
        }

        return buffer.WrittenMemory[1..^1];
    }

    /// <summary>Limits in ohms; null for over range, and as the upper limit for none.</summary>
    private static void WriteOhm(Utf8JsonWriter json, JsonEncodedText name, OhmRange? range)
    {
        if (range is not { } ohm)
        {
            json.WriteNull(name);
            return;
        }

        json.WriteStartObject(name);
        json.WriteNumber(Field.Min, ohm.Min);
        json.WriteNumber(Field.Nominal, ohm.Nominal);
        if (double.IsFinite(ohm.Max))
        {
            json.WriteNumber(Field.Max, ohm.Max);
        }
        else
        {
            json.WriteNull(Field.Max);
        }

        json.WriteEndObject();
    }

    /// <summary>Names that are written millions of times.</summary>
    private static class Field
    {
        internal static readonly JsonEncodedText A = JsonEncodedText.Encode("a"), B = JsonEncodedText.Encode("b"), Ohm = JsonEncodedText.Encode("ohm"), Reversed = JsonEncodedText.Encode("ohmReversed"),
            Min = JsonEncodedText.Encode("min"), Nominal = JsonEncodedText.Encode("nominal"), Max = JsonEncodedText.Encode("max");
    }
}
