using System.Collections.Immutable;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Intake;

/// <summary>A sheet, or a text, as rows of cells; no row is a head yet.</summary>
/// <param name="Sheet">The sheet's name; the file's for text.</param>
/// <param name="Rows">Those that hold something, each with its number in the file.</param>
internal sealed record Grid(string Sheet, ImmutableArray<TextRow> Rows)
{
    /// <summary>All sheets of a file; null when it cannot be read, and why is then listed.</summary>
    /// <param name="name">The file's name, which names a text's only sheet.</param>
    internal static ImmutableArray<Grid>? Read(byte[] bytes, string name, List<Problem> problems)
    {
        if (SafeZip.IsZip(bytes))
        {
            return Workbook.Read(bytes, name, problems, fillMerged: true) is { } tables ? [.. tables.Select(Of)] : null;
        }

        var text = CsvText.Decode(bytes);
        if (!text.AsSpan().ContainsAny(",;\t"))
        {
            return BlankColumns.Read(text, Path.GetFileNameWithoutExtension(name), problems) is { } columns ? [columns] : null;
        }

        var strict = new List<Problem>();
        var table = CsvText.Read(text, Path.GetFileNameWithoutExtension(name), name, strict) ?? Loose(text, name, strict);
        if (table is null)
        {
            problems.AddRange(strict);
            return null;
        }

        // A comma in a remark does not make a table of commas.
        return table.Head.Length + table.Rows.Sum(r => r.Cells.Length) <= 2 * (table.Rows.Length + 1) && BlankColumns.Read(text, table.Name, []) is { } byBlanks && byBlanks.Rows.Max(r => r.Cells.Length) > 2 ? [byBlanks] : [Of(table)];
    }

    private static Grid Of(TextTable table) => new(table.Name, [new TextRow(table.HeadRow, Trimmed(table.Head)), .. table.Rows.Select(r => r with { Cells = Trimmed(r.Cells) })]);

    private static ImmutableArray<string> Trimmed(ImmutableArray<string> cells) => [.. cells.Select(c => c.Trim())];

    /// <summary>The same text without any rule of quotation marks: <c>44.5"</c> is a length in inches.</summary>
    private static TextTable? Loose(string text, string name, List<Problem> problems)
    {
        if (!problems.TrueForAll(p => p.Message.Contains("uotation mark", StringComparison.Ordinal)))
        {
            return null;
        }

        return CsvText.Read(text.Replace("\"", "\u2033", StringComparison.Ordinal), Path.GetFileNameWithoutExtension(name), name, []);
    }
}
