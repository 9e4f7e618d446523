using System.Collections.Immutable;
using System.Globalization;
using System.Xml;
using DocumentFormat.OpenXml.Packaging;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Formats;

/// <summary>One pass through one sheet, row by row and cell by cell as they stream by.</summary>
internal sealed class SheetReader(string name, List<string> texts, SheetBudget budget, List<Problem> problems, bool fillMerged)
{
    private readonly string source = $"sheet {name}";
    private readonly int before = problems.Count;
    private readonly List<TextRow> rows = [];

    internal TextTable? Read(WorksheetPart part)
    {
        using var xml = SheetXml.Open(part);
        var number = 0;
        while (!budget.IsSpent && xml.Read())
        {
            if (xml is { NodeType: XmlNodeType.Element, LocalName: "row" })
            {
                number = int.TryParse(xml.GetAttribute("r"), NumberStyles.None, CultureInfo.InvariantCulture, out var given) ? given : number + 1;
                if (rows.Count > TextTable.MostRows)
                {
                    Wrong(number, null, string.Create(CultureInfo.InvariantCulture, $"At most {TextTable.MostRows} rows are read."));
                    return null;
                }

                if (budget.TakeRow() is { } tooMuch)
                {
                    Wrong(number, null, tooMuch);
                    return null;
                }

                var cells = Cells(xml, number);
                if (cells.Any(c => c.Length > 0))
                {
                    rows.Add(new(number, cells));
                }
            }
            else if (xml is { NodeType: XmlNodeType.Element, LocalName: "mergeCell" } && xml.GetAttribute("ref") is { } merged)
            {
                if (fillMerged)
                {
                    Fill(merged);
                    continue;
                }

                Tell(new($"{source}, {merged}", "These cells are merged, so it is not clear which column their text belongs to. Split them and write it into each."));
            }
        }

        return rows.Count == 0 || problems.Count > before ? null : new(name, source, rows[0].Number, rows[0].Cells, [.. rows.Skip(1)]);
    }

    /// <summary>Puts the text of a merged range into each of its cells that rows of the sheet have.</summary>
    private void Fill(string range)
    {
        if (range.Split(':') is not [var first, var last] || (ColumnOf(first), ColumnOf(last)) is not (var left and >= 0, var right) || right < left || right >= TextTable.MostColumns
            || !int.TryParse(first.TrimStart(Capitals), NumberStyles.None, CultureInfo.InvariantCulture, out var top) || !int.TryParse(last.TrimStart(Capitals), NumberStyles.None, CultureInfo.InvariantCulture, out var bottom))
        {
            return;
        }

        var from = rows.FindIndex(r => r.Number == top);
        if (from < 0 || rows[from][left] is not { Length: > 0 } text)
        {
            return;
        }

        for (var at = from; at < rows.Count && rows[at].Number <= bottom; at++)
        {
            if (budget.TakeText(text.Length * (right - left + 1)) is { } tooMuch)
            {
                Wrong(rows[at].Number, left, tooMuch);
                return;
            }

            rows[at] = rows[at] with { Cells = [.. Enumerable.Range(0, Math.Max(rows[at].Cells.Length, right + 1)).Select(c => c >= left && c <= right ? text : rows[at][c])] };
        }
    }

    /// <summary>The cells of the row at which the reader stands; it is left at the row's end.</summary>
    private ImmutableArray<string> Cells(XmlReader xml, int number)
    {
        if (xml.IsEmptyElement)
        {
            return [];
        }

        var (cells, depth, next) = (new List<string>(), xml.Depth, 0);
        while (!budget.IsSpent && xml.Read() && xml.Depth > depth)
        {
            if (xml is not { NodeType: XmlNodeType.Element, LocalName: "c" })
            {
                continue;
            }

            if (budget.TakeCell() is { } tooMuch)
            {
                Wrong(number, null, tooMuch);
                break;
            }

            var column = xml.GetAttribute("r") is { } place ? ColumnOf(place) : next;
            if (column < next && column >= 0)
            {
                Wrong(number, column, "This cell stands twice in the file, or out of its order. Open the file in a spreadsheet and save it.");
                budget.Stop();
                break;
            }

            next = column + 1;
            if (column >= TextTable.MostColumns)
            {
                Wrong(number, column, $"At most {TextTable.MostColumns} columns are read.");
                budget.Stop();
                break;
            }

            var value = Value(xml, number, column);
            if (budget.TakeText(value.Length) is { } tooLong)
            {
                Wrong(number, column, tooLong);
                break;
            }

            if (value.Length > 0 && column >= 0)
            {
                while (cells.Count <= column)
                {
                    cells.Add("");
                }

                cells[column] = value;
            }
        }

        return [.. cells];
    }

    /// <summary>What a person sees in the cell at which the reader stands; it is left at the cell's end.</summary>
    private string Value(XmlReader xml, int row, int column)
    {
        var (type, raw, text, formula) = (xml.GetAttribute("t"), "", "", false);
        if (!xml.IsEmptyElement)
        {
            var depth = xml.Depth;
            xml.Read();
            while (xml.Depth > depth)
            {
                switch (xml)
                {
                    case { NodeType: XmlNodeType.Element, LocalName: "v" }:
                        raw = SheetXml.Content(xml);
                        break;
                    case { NodeType: XmlNodeType.Element, LocalName: "is" }:
                        text = SheetXml.PlainText(xml);
                        break;
                    default:
                        formula |= xml is { NodeType: XmlNodeType.Element, LocalName: "f" };
                        xml.Read();
                        break;
                }
            }
        }

        if (formula && raw.Length == 0 && type != "str")
        {
            Wrong(row, column, "Holds a formula whose value was never computed. Open the file in a spreadsheet and save it, or write the value.");
            return "";
        }

        switch (type)
        {
            case "e":
                Wrong(row, column, $"Shows the error {raw}. Write a value.");
                return "";
            case "s":
                return int.TryParse(raw, NumberStyles.None, CultureInfo.InvariantCulture, out var index) && index < texts.Count ? texts[index] : "";
            case "inlineStr":
                return text;
            case "b":
                return raw == "1" ? "true" : "false";
            default:
                // Binary noise of a stored number (0.34999999999999998) is not what the person typed.
                return type is null or "n" && double.TryParse(raw, NumberStyles.Float, CultureInfo.InvariantCulture, out var number) && double.IsFinite(number)
                    ? Math.Round(number, 12).ToString("0.############", CultureInfo.InvariantCulture)
                    : raw;
        }
    }

    private void Wrong(int row, int? column, string message) =>
        Tell(new(column is { } c ? $"{source} row {row}, column {Letters(c)}" : $"{source} row {row}", message));

    private void Tell(Problem problem)
    {
        problems.Add(problem);
        if (problems.Count - before >= SheetBudget.MostProblems)
        {
            budget.Stop();
        }
    }

    private static readonly char[] Capitals = [.. Enumerable.Range('A', 26).Select(c => (char)c)];

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
