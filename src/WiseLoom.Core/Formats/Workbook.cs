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
    /// <param name="fillMerged">Whether what merged cells show stands in each of them; otherwise they are refused, since it is not clear which column their text belongs to.</param>
    /// <remarks>A formula is read as the value that the spreadsheet last showed for it.</remarks>
    public static ImmutableArray<TextTable>? Read(byte[] bytes, string source, List<Problem> problems, bool fillMerged = false)
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

            var sheets = workbook.Descendants<Sheet>().Take(SheetBudget.MostSheets + 1).ToList();
            if (sheets.Count > SheetBudget.MostSheets)
            {
                problems.Add(new(source, $"More than {SheetBudget.MostSheets} sheets; a loom has a dozen tables."));
                return null;
            }

            var before = problems.Count;
            var budget = new SheetBudget();
            var texts = SharedTexts.Read(part, source, budget, problems);
            var tables = ImmutableArray.CreateBuilder<TextTable>();
            foreach (var sheet in problems.Count > before ? [] : sheets)
            {
                if (sheet.Id?.Value is { } id && part.GetPartById(id) is WorksheetPart worksheet
                    && new SheetReader(sheet.Name?.Value ?? "sheet", texts, budget, problems, fillMerged).Read(worksheet) is { } table)
                {
                    tables.Add(table);
                }

                if (budget.IsSpent)
                {
                    break;
                }
            }

            return problems.Count > before ? null : tables.ToImmutable();
        }
        catch (OversizedTextException e)
        {
            problems.Add(new(source, e.Message));
            return null;
        }
        catch (Exception e) when (e is OpenXmlPackageException or InvalidDataException or XmlException or FormatException or IOException or InvalidOperationException or ArgumentException or KeyNotFoundException or UriFormatException)
        {
            problems.Add(new(source, "The workbook is damaged: it cannot be read."));
            return null;
        }
    }

    /// <summary>Writes a workbook; every cell is plain text or a number, never a formula.</summary>
    /// <param name="coloured">Whether cells that hold a verdict have its colour.</param>
    public static byte[] Write(IEnumerable<TextTable> tables, bool coloured = false)
    {
        ArgumentNullException.ThrowIfNull(tables);
        using var stream = new MemoryStream();
        using (var document = SpreadsheetDocument.Create(stream, SpreadsheetDocumentType.Workbook))
        {
            var part = document.AddWorkbookPart();
            var sheets = new Sheets();
            part.Workbook = new(sheets);
            if (coloured)
            {
                part.AddNewPart<WorkbookStylesPart>().Stylesheet = VerdictStyles.Sheet();
            }

            var number = 0u;
            foreach (var table in tables)
            {
                var worksheet = part.AddNewPart<WorksheetPart>();
                using (var writer = OpenXmlWriter.Create(worksheet))
                {
                    writer.WriteStartElement(new Worksheet());
                    writer.WriteStartElement(new SheetData());
                    foreach (var row in table.Rows.Select(r => r.Cells).Prepend(table.Head))
                    {
                        writer.WriteElement(Line(row, coloured));
                    }

                    writer.WriteEndElement();
                    writer.WriteEndElement();
                }

                sheets.Append(new Sheet { Id = part.GetIdOfPart(worksheet), SheetId = ++number, Name = SheetName(table.Name, number) });
            }
        }

        return stream.ToArray();
    }

    /// <summary>A name that a sheet can have: at most 31 signs, none of those that formulas use.</summary>
    private static string SheetName(string name, uint number)
    {
        var plain = string.Concat(name.Select(c => c is '[' or ']' or ':' or '*' or '?' or '/' or '\\' ? '-' : c));
        return plain.Length <= 31 ? plain : string.Create(CultureInfo.InvariantCulture, $"{plain[..26]} {number}");
    }

    private static Row Line(ImmutableArray<string> cells, bool coloured) => new(cells.Select(c => new Cell
    {
        StyleIndex = coloured && VerdictStyles.Of(c) is > 0 and var style ? style : null,
        DataType = CellValues.InlineString,
        InlineString = new(new Text(c) { Space = SpaceProcessingModeValues.Preserve }),
    }));
}
