using System.Collections.Immutable;
using System.Globalization;
using System.Xml;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;

namespace WiseLoom.Core.Formats;

/// <summary>Columns to be added to a sheet, behind all of its own.</summary>
/// <param name="Heads">Rows that have the headings, from 1.</param>
/// <param name="Columns">The headings.</param>
/// <param name="Rows">What stands in the new columns, by row from 1.</param>
internal sealed record SheetAddition(string Sheet, ImmutableArray<int> Heads, ImmutableArray<string> Columns, IReadOnlyDictionary<int, ImmutableArray<string>> Rows);

/// <summary>Adds columns to sheets of somebody's workbook and leaves everything else as it is: order, formats, formulas, other sheets.</summary>
internal static class WorkbookFill
{
    /// <summary>The most columns that a sheet can have.</summary>
    private const int MostColumns = 16384;

    /// <summary>The workbook with the columns; null when it cannot be written to.</summary>
    internal static byte[]? Add(byte[] bytes, IEnumerable<SheetAddition> additions)
    {
        try
        {
            using var stream = new MemoryStream();
            stream.Write(bytes);
            using (var document = SpreadsheetDocument.Open(stream, true, new OpenSettings { AutoSave = false, MaxCharactersInPart = SafeZip.MostUnpacked }))
            {
                var part = document.WorkbookPart!;
                foreach (var addition in additions)
                {
                    if (part.Workbook!.Descendants<Sheet>().FirstOrDefault(s => s.Name?.Value == addition.Sheet)?.Id?.Value is { } id && part.GetPartById(id) is WorksheetPart sheet)
                    {
                        Add(sheet.Worksheet!, addition);
                        // Parts that are only looked at are not written anew.
                        sheet.Worksheet!.Save();
                    }
                }
            }

            return stream.ToArray();
        }
        catch (Exception e) when (e is OpenXmlPackageException or InvalidDataException or XmlException or FormatException or IOException or InvalidOperationException or ArgumentException or NullReferenceException)
        {
            return null;
        }
    }

    private static void Add(Worksheet sheet, SheetAddition addition)
    {
        if (sheet.GetFirstChild<SheetData>() is not { } data)
        {
            return;
        }

        var rows = data.Elements<Row>().Select((row, i) => (Row: row, Number: (int?)row.RowIndex?.Value ?? i + 1)).ToList();
        var last = rows.SelectMany(r => r.Row.Elements<Cell>().Where(IsFilled).Select((c, i) => Column(c, i))).DefaultIfEmpty().Max();
        if (last + addition.Columns.Length > MostColumns)
        {
            throw new InvalidOperationException("No column is free.");
        }

        foreach (var (row, number) in rows)
        {
            var texts = addition.Heads.Contains(number) ? addition.Columns : addition.Rows.GetValueOrDefault(number);
            for (var i = 0; !texts.IsDefault && i < texts.Length; i++)
            {
                Put(row, number, last + 1 + i, texts[i], addition.Heads.Contains(number) ? row.Elements<Cell>().LastOrDefault(IsFilled)?.StyleIndex : null);
            }

            // Hints of how far rows reach would be wrong now.
            row.Spans = null;
        }

        if (sheet.SheetDimension?.Reference?.Value is { } said && said.Split(':') is [var first, _])
        {
            sheet.SheetDimension.Reference = $"{first}:{Name(last + addition.Columns.Length)}{rows.Max(r => r.Number)}";
        }
    }

    private static void Put(Row row, int number, int column, string text, UInt32Value? style)
    {
        var cell = row.Elements<Cell>().FirstOrDefault(c => c.CellReference?.Value is { } reference && Number(reference) == column);
        if (cell is null)
        {
            cell = new Cell { CellReference = $"{Name(column)}{number.ToString(CultureInfo.InvariantCulture)}" };
            var next = row.Elements<Cell>().FirstOrDefault(c => c.CellReference?.Value is { } reference && Number(reference) > column);
            row.InsertBefore(cell, next);
        }

        cell.StyleIndex ??= style;
        cell.CellValue = null;
        cell.DataType = CellValues.InlineString;
        cell.InlineString = new(new Text(text) { Space = SpaceProcessingModeValues.Preserve });
    }

    private static bool IsFilled(Cell cell) => cell.CellValue is not null || cell.InlineString is not null || cell.CellFormula is not null;

    private static int Column(Cell cell, int place) => cell.CellReference?.Value is { } reference ? Number(reference) : place + 1;

    /// <summary>A column's number from 1, by the letters of a reference such as <c>AB12</c>.</summary>
    private static int Number(string reference) => reference.TakeWhile(char.IsAsciiLetter).Aggregate(0, (n, c) => (n * 26) + char.ToUpperInvariant(c) - 'A' + 1);

    private static string Name(int column) => column <= 0 ? "" : Name((column - 1) / 26) + (char)('A' + ((column - 1) % 26));
}
