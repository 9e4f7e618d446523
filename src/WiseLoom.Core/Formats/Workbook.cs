using System.Collections.Immutable;
using System.Globalization;
using System.Xml;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Formats;

/// <summary>Reads and writes XLSX workbooks: a sheet for each table.</summary>
public static class Workbook
{
    /// <summary>Reads every sheet that holds something.</summary>
    /// <returns>The tables; null when there is a problem, which is then listed with sheet, row and column.</returns>
    /// <remarks>A formula is read as the value that the spreadsheet last showed for it. Merged cells are refused, since it is not clear which column their text belongs to.</remarks>
    public static ImmutableArray<TextTable>? Read(byte[] bytes, string source, List<Problem> problems)
    {
        ArgumentNullException.ThrowIfNull(bytes);
        if (SafeZip.Names(bytes, source, problems) is null)
        {
            return null;
        }

        try
        {
            using var document = SpreadsheetDocument.Open(new MemoryStream(bytes, false), false, new OpenSettings { MaxCharactersInPart = SafeZip.MostUnpacked });
            if (document.WorkbookPart is not { Workbook: { } workbook } part)
            {
                problems.Add(new(source, "This is no workbook."));
                return null;
            }

            var texts = part.SharedStringTablePart?.SharedStringTable?.Elements<SharedStringItem>().Select(PlainText).ToList() ?? [];
            var tables = ImmutableArray.CreateBuilder<TextTable>();
            var before = problems.Count;
            foreach (var sheet in workbook.Descendants<Sheet>())
            {
                if (sheet.Id?.Value is { } id && part.GetPartById(id) is WorksheetPart worksheet
                    && new SheetReader(sheet.Name?.Value ?? "sheet", texts, problems).Read(worksheet) is { } table)
                {
                    tables.Add(table);
                }
            }

            return problems.Count > before ? null : tables.ToImmutable();
        }
        catch (Exception e) when (e is OpenXmlPackageException or InvalidDataException or XmlException or FormatException or IOException or InvalidOperationException or ArgumentException or KeyNotFoundException or UriFormatException)
        {
            problems.Add(new(source, "The workbook is damaged: it cannot be read."));
            return null;
        }
    }

    /// <summary>Writes a workbook; every cell is plain text or a number, never a formula.</summary>
    public static byte[] Write(IEnumerable<TextTable> tables)
    {
        using var stream = new MemoryStream();
        using (var document = SpreadsheetDocument.Create(stream, SpreadsheetDocumentType.Workbook))
        {
            var part = document.AddWorkbookPart();
            var sheets = new Sheets();
            part.Workbook = new(sheets);
            foreach (var table in tables)
            {
                var worksheet = part.AddNewPart<WorksheetPart>();
                worksheet.Worksheet = new(new SheetData(table.Rows.Select(r => r.Cells).Prepend(table.Head).Select(Line)));
                sheets.Append(new Sheet { Id = part.GetIdOfPart(worksheet), SheetId = (uint)sheets.Count() + 1, Name = table.Name });
            }
        }

        return stream.ToArray();
    }

    private static Row Line(ImmutableArray<string> cells) => new(cells.Select(c => new Cell
    {
        DataType = CellValues.InlineString,
        InlineString = new(new Text(c) { Space = SpaceProcessingModeValues.Preserve }),
    }));

    internal static string PlainText(OpenXmlElement element) =>
        string.Concat(element.Descendants<Text>().Where(t => t.Parent is not PhoneticRun).Select(t => t.Text));
}

/// <summary>One pass through one sheet.</summary>
internal sealed class SheetReader(string name, List<string> texts, List<Problem> problems)
{
    private readonly string source = $"sheet {name}";
    private readonly int before = problems.Count;

    internal TextTable? Read(WorksheetPart part)
    {
        var rows = new List<TextRow>();
        using var reader = OpenXmlReader.Create(part);
        var number = 0;
        while (reader.Read())
        {
            if (reader.ElementType == typeof(Row) && reader.IsStartElement)
            {
                var row = (Row)reader.LoadCurrentElement()!;
                number = row.RowIndex?.Value is { } given ? (int)given : number + 1;
                if (rows.Count > TextTable.MostRows)
                {
                    Wrong(number, null, string.Create(CultureInfo.InvariantCulture, $"At most {TextTable.MostRows} rows are read."));
                    return null;
                }

                var cells = Cells(row, number);
                if (cells.Any(c => c.Length > 0))
                {
                    rows.Add(new(number, cells));
                }
            }
            else if (reader.ElementType == typeof(MergeCell) && reader.IsStartElement && ((MergeCell)reader.LoadCurrentElement()!).Reference?.Value is { } merged)
            {
                problems.Add(new($"{source}, {merged}", "These cells are merged, so it is not clear which column their text belongs to. Split them and write it into each."));
            }
        }

        return rows.Count == 0 || problems.Count > before ? null : new(name, source, rows[0].Number, rows[0].Cells, [.. rows.Skip(1)]);
    }

    private ImmutableArray<string> Cells(Row row, int number)
    {
        var cells = new List<string>();
        foreach (var cell in row.Elements<Cell>())
        {
            var column = cell.CellReference?.Value is { } place ? ColumnOf(place) : cells.Count;
            if (column >= TextTable.MostColumns)
            {
                Wrong(number, column, $"At most {TextTable.MostColumns} columns are read.");
                break;
            }

            while (cells.Count <= column)
            {
                cells.Add("");
            }

            cells[column] = Value(cell, number, column);
        }

        return [.. cells];
    }

    private string Value(Cell cell, int row, int column)
    {
        var raw = cell.CellValue?.Text ?? "";
        var type = cell.DataType?.Value;
        if (cell.CellFormula is not null && raw.Length == 0 && type != CellValues.String)
        {
            Wrong(row, column, "Holds a formula whose value was never computed. Open the file in a spreadsheet and save it, or write the value.");
            return "";
        }

        if (type == CellValues.Error)
        {
            Wrong(row, column, $"Shows the error {raw}. Write a value.");
            return "";
        }

        if (type == CellValues.SharedString)
        {
            return int.TryParse(raw, NumberStyles.None, CultureInfo.InvariantCulture, out var index) && index < texts.Count ? texts[index] : "";
        }

        if (type == CellValues.InlineString)
        {
            return cell.InlineString is { } text ? Workbook.PlainText(text) : "";
        }

        if (type == CellValues.Boolean)
        {
            return raw == "1" ? "true" : "false";
        }

        // Binary noise of a stored number (0.34999999999999998) is not what the person typed.
        return type is null && double.TryParse(raw, NumberStyles.Float, CultureInfo.InvariantCulture, out var number) && double.IsFinite(number)
            ? Math.Round(number, 12).ToString("0.############", CultureInfo.InvariantCulture)
            : raw;
    }

    private void Wrong(int row, int? column, string message) =>
        problems.Add(new(column is { } c ? $"{source} row {row}, column {Letters(c)}" : $"{source} row {row}", message));

    private static int ColumnOf(string place) => place.TakeWhile(char.IsAsciiLetterUpper).Take(4).Aggregate(0, (sum, c) => (sum * 26) + (c - 'A' + 1)) - 1;

    private static string Letters(int column)
    {
        var letters = "";
        for (var n = column + 1; n > 0; n = (n - 1) / 26)
        {
            letters = (char)('A' + ((n - 1) % 26)) + letters;
        }

        return letters;
    }
}
