using System.Collections.Immutable;
using System.Text;
using WiseLoom.Core.Intake;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Formats;

/// <summary>Somebody's own table with results in it.</summary>
/// <param name="Bytes">Null when the file cannot be filled in; why is then listed.</param>
/// <param name="Rows">How many rows have a verdict.</param>
public sealed record FilledPaper(byte[]? Bytes, bool IsWorkbook, int Rows, ImmutableArray<Problem> Problems);

/// <summary>Gives a customer's table back with two more columns, what each row reads and its verdict; all else stays as it came.</summary>
public static class FilledPapers
{
    private const string Reads = "reads", Verdict = "verdict";

    /// <summary>Fills a file in.</summary>
    /// <param name="said">What a person said of it; null for nothing.</param>
    /// <param name="memory">What the shop has learned of papers; null for nothing.</param>
    public static FilledPaper Fill(byte[] bytes, string name, PairResults results, IntakeSaid? said = null, IntakeMemory? memory = null)
    {
        ArgumentNullException.ThrowIfNull(bytes);
        ArgumentNullException.ThrowIfNull(results);
        var reading = LoomIntake.Read(bytes, name, said, memory);
        if (reading.Placed.IsEmpty)
        {
            return new(null, false, 0, [.. reading.Problems.Take(20).Select(p => new Problem(p.Sheet, p.Message)), new("", "No row of it names two places of a loom.")]);
        }

        var known = reading.Placed.Select(r => (r.Sheet, r.Row, Result: r.Other is { } other ? results.Of(r.One, other) : results.Of(r.One))).Where(r => r.Result.State is not null)
            .DistinctBy(r => (r.Sheet, r.Row)).ToList();
        if (known.Count == 0)
        {
            return new(null, false, 0, [new("", "Nothing of this run is about the places that it names. Is it the list of another loom?")]);
        }

        // A table of something else is left alone.
        var additions = known.GroupBy(k => k.Sheet, StringComparer.Ordinal).Select(sheet => new SheetAddition(
            sheet.Key,
            [.. Heads(reading.Tables, sheet.Key, [.. sheet.Select(k => k.Row)])],
            [Reads, Verdict],
            sheet.ToDictionary(k => k.Row, k => (ImmutableArray<string>)[k.Result.Reads, k.Result.Verdict]))).ToList();
        return SafeZip.IsZip(bytes)
            ? WorkbookFill.Add(bytes, additions) is { } filled ? new(filled, true, known.Count, []) : new(null, true, 0, [new(name, "The workbook cannot be written to.")])
            : new(Text(bytes, name, additions), false, known.Count, []);
    }

    /// <summary>Rows of headings under which some row has a result.</summary>
    private static IEnumerable<int> Heads(ImmutableArray<TableReading> tables, string sheet, ImmutableArray<int> rows)
    {
        var heads = tables.Where(t => t.Sheet == sheet && t.HeadRow > 0).Select(t => t.HeadRow).Order().ToList();
        return heads.Where((head, i) => rows.Any(r => r > head && (i + 1 == heads.Count || r < heads[i + 1])));
    }

    /// <summary>A text with two more columns, in the signs that part its own.</summary>
    private static byte[] Text(byte[] bytes, string name, List<SheetAddition> additions)
    {
        var grid = Grid.Read(bytes, name, [])!.Value[0];
        var text = CsvText.Decode(bytes);
        var head = text.AsSpan(0, text.IndexOf('\n') is var end && end < 0 ? text.Length : end);
        var sign = head.Contains('\t') ? '\t' : head.Count(';') > head.Count(',') ? ';' : ',';
        var width = grid.Rows.Max(r => r.Cells.Length);
        var (addition, filled) = (additions[0], new StringBuilder());
        var last = 0;
        foreach (var row in grid.Rows)
        {
            // Empty lines stay where they are.
            for (last++; last < row.Number; last++)
            {
                filled.Append("\r\n");
            }

            var more = addition.Heads.Contains(row.Number) ? addition.Columns : addition.Rows.GetValueOrDefault(row.Number, ["", ""]);
            filled.AppendJoin(sign, Enumerable.Range(0, width).Select(c => row[c]).Concat(more).Select(c => Quoted(c, sign))).Append("\r\n");
        }

        return [.. Encoding.UTF8.Preamble, .. Encoding.UTF8.GetBytes(filled.ToString())];
    }

    private static string Quoted(string cell, char sign) => cell.AsSpan().ContainsAny(sign, '"', '\n') || cell.Contains('\r', StringComparison.Ordinal) ? $"\"{cell.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : cell;
}
