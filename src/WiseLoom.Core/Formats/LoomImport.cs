using System.Collections.Immutable;
using System.Globalization;
using System.IO.Compression;
using System.Text.Json.Nodes;
using WiseLoom.Core.Intake;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Formats;

/// <summary>What came of reading a file that somebody brings in.</summary>
/// <param name="Kind">What the file is: <c>loom file</c>, <c>CSV</c>, <c>CSV set</c>, <c>workbook</c>.</param>
/// <param name="Document">The loom file as it would be after taking this in; null when the file itself cannot be read.</param>
/// <param name="Problems">All that is wrong, each said with its place in the file that was brought.</param>
/// <param name="Warnings">Doubtful things.</param>
public sealed record ImportReading(string Kind, JsonObject? Document, ImmutableArray<Problem> Problems, ImmutableArray<Problem> Warnings)
{
    /// <summary>How a stranger's tables were understood; null for files of our own shapes.</summary>
    public IntakeReading? Intake { get; init; }

    /// <summary>Whether the document is a loom without problems.</summary>
    public bool IsSound => Document is not null && Problems.IsEmpty;
}

/// <summary>Reads any of the open formats. Nothing is stored by reading.</summary>
public static class LoomImport
{
    /// <summary>Reads a file of our own shapes, and otherwise whatever tables stand in it.</summary>
    /// <param name="over">The job's loom as it is now; tables of our own are laid over it, a stranger's take its place.</param>
    /// <param name="said">What a person said of a stranger's tables; null for nothing. With something said the tables are a stranger's.</param>
    /// <param name="memory">What the shop has learned of papers; null for nothing.</param>
    public static ImportReading ReadAny(byte[] bytes, string name, JsonObject? over, IntakeSaid? said = null, IntakeMemory? memory = null)
    {
        var own = said is null || said.IsNothing ? Read(bytes, name, over) : null;
        if (own is not null && (own.IsSound || own.Kind is "loom file" or "CSV set" or "file" || IsOurs(own, over)))
        {
            return own;
        }

        var intake = LoomIntake.Read(bytes, name, said, memory);
        if (own is not null && intake.Tables.IsEmpty)
        {
            return own;
        }

        return new(intake.Tables.Length == 1 ? "a table" : $"{intake.Tables.Length} tables", intake.Document, [], []) { Intake = intake };
    }

    /// <summary>Whether tables that have problems are of our own shape all the same: they came to be a loom, and more than its wires were known before.</summary>
    private static bool IsOurs(ImportReading own, JsonObject? over) => own.Document is not null && (over?["connectors"] as JsonArray is { Count: > 0 } || own.Document["families"] as JsonArray is { Count: > 0 });

    /// <summary>Reads a file.</summary>
    /// <param name="name">The file's name; a CSV's table is told by it.</param>
    /// <param name="over">What tables are laid over: the job's loom as it is now. A JSON file replaces it whole.</param>
    public static ImportReading Read(byte[] bytes, string name, JsonObject? over)
    {
        ArgumentNullException.ThrowIfNull(bytes);
        ArgumentNullException.ThrowIfNull(name);
        var problems = new List<Problem>();
        if (bytes.Length > LoomReader.LargestFile)
        {
            problems.Add(new(name, string.Create(CultureInfo.InvariantCulture, $"The file has {bytes.Length / 1048576.0:0.0} MB; at most {LoomReader.LargestFile / 1048576} MB are read.")));
            return new("file", null, [.. problems], []);
        }

        if (SafeZip.IsZip(bytes))
        {
            var names = SafeZip.Names(bytes, name, problems);
            var isWorkbook = names?.Contains("[Content_Types].xml") ?? name.EndsWith(".xlsx", StringComparison.OrdinalIgnoreCase);
            var tables = names is null ? null : isWorkbook ? Workbook.Read(bytes, name, problems) : CsvSet(bytes, problems);
            return Tables(isWorkbook ? "workbook" : "CSV set", name, tables, over, problems);
        }

        if (LooksLikeJson(bytes) || name.EndsWith(".json", StringComparison.OrdinalIgnoreCase))
        {
            if (JsonSize.TooMuch(bytes) is { } tooMuch)
            {
                return new("loom file", null, [tooMuch], []);
            }

            var reading = LoomReader.Read(bytes);
            return new("loom file", LoomDocument.Parse(bytes), reading.Problems, reading.Warnings);
        }

        var table = CsvText.Read(bytes, Path.GetFileNameWithoutExtension(name), name, problems);
        return Tables("CSV", name, table is null ? null : [table], over, problems);
    }

    private static ImportReading Tables(string kind, string name, ImmutableArray<TextTable>? tables, JsonObject? over, List<Problem> problems)
    {
        if (tables is { IsEmpty: true })
        {
            problems.Add(new(name, "No table stands in it."));
        }

        if (tables is not { IsEmpty: false } some)
        {
            return new(kind, null, [.. problems], []);
        }

        var reader = new LoomTableReader(problems);
        var document = reader.Over(over ?? LoomDocument.Empty("New loom"), some);
        if (problems.Count > 0)
        {
            return new(kind, null, [.. problems], []);
        }

        var reading = LoomReader.Read(LoomDocument.Bytes(document));
        return new(kind, document, [.. reading.Problems.Select(reader.Placed)], [.. reading.Warnings.Select(reader.Placed)]);
    }

    private static ImmutableArray<TextTable>? CsvSet(byte[] bytes, List<Problem> problems)
    {
        using var zip = new ZipArchive(new MemoryStream(bytes, false), ZipArchiveMode.Read);
        var tables = ImmutableArray.CreateBuilder<TextTable>();
        var entries = zip.Entries.Where(e => e.Name.EndsWith(".csv", StringComparison.OrdinalIgnoreCase)).ToList();
        if (entries.Count > SheetBudget.MostSheets)
        {
            problems.Add(new("", $"More than {SheetBudget.MostSheets} tables; a loom has a dozen."));
            return null;
        }

        foreach (var entry in entries)
        {
            using var stream = entry.Open();
            using var memory = new MemoryStream();
            stream.CopyTo(memory);
            if (memory.Length > LoomReader.LargestFile)
            {
                problems.Add(new(entry.Name, $"Unpacks to more than the {LoomReader.LargestFile / 1048576} MB that are read of a table."));
                return null;
            }

            if (CsvText.Read(memory.ToArray(), Path.GetFileNameWithoutExtension(entry.Name), entry.Name, problems) is { } table)
            {
                tables.Add(table);
            }
        }

        return problems.Count > 0 ? null : tables.ToImmutable();
    }

    private static bool LooksLikeJson(ReadOnlySpan<byte> bytes)
    {
        if (bytes.StartsWith(System.Text.Encoding.UTF8.Preamble))
        {
            bytes = bytes[3..];
        }

        var start = bytes.TrimStart(" \t\r\n"u8);
        return start.Length > 0 && start[0] is (byte)'{' or (byte)'[';
    }
}
