using System.Collections.Immutable;
using System.Text;
using System.Text.Json;
using WiseLoom.Core.Intake;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;

namespace WiseLoom.Cli;

/// <summary><c>intake FILE [--mapping NAME.json] [--connector NAME] [-o LOOM.json]</c>: a stranger's table as a loom file; what was understood goes to standard error.</summary>
internal static class IntakeCommand
{
    private static readonly JsonWriterOptions Shown = new() { Indented = true, Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <returns>0 when a loom came out without a problem; 1 otherwise.</returns>
    internal static int Run(string[] args)
    {
        var line = CommandLine.Parse([.. args.Select(a => a == "-o" ? "--out" : a)], "--mapping", "--connector", "--out");
        if (line.Wrong is not null || line.File is null)
        {
            return Usage.Print(line.Wrong ?? "intake needs a table: a workbook, or text.");
        }

        byte[] bytes;
        IntakeMapping? mapping = null;
        try
        {
            bytes = File.ReadAllBytes(line.File);
            if (line.Text("--mapping") is { } file)
            {
                mapping = JsonSerializer.Deserialize<IntakeMapping>(File.ReadAllBytes(file), CoreJson.Options);
            }
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or JsonException)
        {
            Console.Error.WriteLine(e.Message);
            return 1;
        }

        var reading = LoomIntake.Read(bytes, Path.GetFileName(line.File), new(mapping?.Columns, line.Text("--connector")));
        Console.OutputEncoding = new UTF8Encoding(false);
        Console.Error.WriteLine(Understood(reading));
        if (reading.Document is not { } document)
        {
            return 1;
        }

        if (line.Text("--out") is { } to)
        {
            try
            {
                File.WriteAllBytes(to, LoomDocument.Bytes(document));
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                Console.Error.WriteLine(e.Message);
                return 1;
            }
        }
        else
        {
            using var output = Console.OpenStandardOutput();
            output.Write(LoomDocument.Bytes(document));
        }

        return reading.Problems.IsEmpty ? 0 : 1;
    }

    private static string Understood(IntakeReading reading)
    {
        using var memory = new MemoryStream();
        using (var json = new Utf8JsonWriter(memory, Shown))
        {
            json.WriteStartObject();
            json.WriteStartArray("tables");
            foreach (var table in reading.Tables)
            {
                Write(json, table);
            }

            json.WriteEndArray();
            json.WriteStartArray("guessed");
            foreach (var sentence in reading.Guessed)
            {
                json.WriteStringValue(sentence);
            }

            json.WriteEndArray();
            json.WriteStartArray("problems");
            foreach (var problem in reading.Problems)
            {
                json.WriteStartObject();
                json.WriteString("sheet", problem.Sheet);
                json.WriteNumber("row", problem.Row);
                json.WriteString("column", problem.Column);
                json.WriteString("message", problem.Message);
                json.WriteEndObject();
            }

            json.WriteEndArray();
            json.WriteEndObject();
        }

        return Encoding.UTF8.GetString(memory.ToArray());
    }

    private static void Write(Utf8JsonWriter json, TableReading table)
    {
        json.WriteStartObject();
        json.WriteString("sheet", table.Sheet);
        json.WriteString("shape", JsonNamingPolicy.KebabCaseLower.ConvertName($"{table.Shape}"));
        json.WriteString("connector", table.Connector);
        json.WriteNumber("headRow", table.HeadRow);
        json.WriteNumber("rows", table.Rows);
        json.WriteStartArray("columns");
        foreach (var column in table.Columns)
        {
            json.WriteStartObject();
            json.WriteString("heading", column.Heading);
            json.WriteString("meaning", JsonNamingPolicy.KebabCaseLower.ConvertName($"{column.Meaning}"));
            json.WriteString("unit", column.Unit);
            json.WriteNumber("probability", column.Probability);
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteEndObject();
    }
}
