using System.Collections.Immutable;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Intake;

/// <summary>Reads the rows of a table by the meanings of its columns; what a cell does not say it tells with its place.</summary>
/// <param name="own">Words for colours that only this shop knows.</param>
/// <param name="unknown">Takes words for colours that nobody knows.</param>
internal sealed class RowReader(
    FoundTable table, ImmutableArray<ColumnReading> columns, string? connector, ImmutableSortedDictionary<string, string> own, ISet<string> unknown, List<IntakeProblem> problems)
{
    private static readonly HashSet<string> Roles = ["feed", "ground", "signal", "shield", "network", "drive"];

    private readonly Dictionary<Meaning, ColumnReading> at = columns.Where(c => c.Meaning is not (Meaning.Ignore or Meaning.Note)).ToDictionary(c => c.Meaning);
    private readonly ImmutableArray<ColumnReading> notes = [.. columns.Where(c => c.Meaning == Meaning.Note)];
    private readonly int colours = columns.FirstOrDefault(c => c.Meaning == Meaning.Colour) is { } column ? ColourWords.Best([.. table.Body.Select(r => r[column.Column]).Where(t => t.Length > 0)]).List : 0;
    private string above = "", otherAbove = "";

    /// <summary>Whether the table is about the cavities of one connector.</summary>
    internal static bool IsChart(ImmutableArray<ColumnReading> columns) =>
        columns.Any(c => c is { Meaning: Meaning.Pin, Of: null }) && !columns.Any(c => c.Meaning is Meaning.Connector or Meaning.End);

    internal IEnumerable<PaperRow> Rows()
    {
        var isChart = IsChart(columns);
        foreach (var row in table.Body)
        {
            var one = End(row, Meaning.Connector, Meaning.Pin, Meaning.End, connector, ref above);
            var other = End(row, Meaning.OtherConnector, Meaning.OtherPin, Meaning.OtherEnd, null, ref otherAbove);
            if (Text(row, Meaning.Splice) is { Length: > 0 } splice)
            {
                other = one is null ? other : other ?? new PaperEnd(splice, "");
                one ??= new PaperEnd(splice, "");
            }

            if (one is null && other is null)
            {
                continue;
            }

            yield return new(table.Sheet, row.Number, isChart, Text(row, Meaning.Wire), one, other, Colour(row), Section(row), Gauge(row), Length(row), Text(row, Meaning.Signal), Text(row, Meaning.Twisted),
                Text(row, Meaning.Role).ToLowerInvariant() is var role && Roles.Contains(role) ? role : "", string.Join("; ", notes.Select(n => row[n.Column]).Where(t => t.Length > 0)));
        }
    }

    private string Text(TextRow row, Meaning meaning) => at.TryGetValue(meaning, out var column) ? row[column.Column] : "";

    private PaperEnd? End(TextRow row, Meaning plug, Meaning pin, Meaning both, string? own, ref string last)
    {
        if (at.TryGetValue(both, out var column))
        {
            var cell = row[column.Column];
            if (cell.Length == 0 || IsNothing(cell))
            {
                return null;
            }

            if (EndForms.Read(cell) is { } end && !EndForms.IsSplice(cell))
            {
                return end;
            }

            if (EndForms.IsSplice(cell))
            {
                return new(cell, "");
            }

            // A ring or a single contact has no pin's number.
            return new(cell, "");
        }

        var name = at.TryGetValue(plug, out var plugs) ? row[plugs.Column] : "";
        var number = at.TryGetValue(pin, out var pins) ? row[pins.Column] : "";
        if (plugs is not null)
        {
            last = name.Length > 0 ? name : number.Length > 0 ? last : "";
            name = last;
        }
        else
        {
            name = pins?.Of ?? own ?? "";
        }

        if (number.Length == 0 || IsNothing(number))
        {
            return plugs is not null && name.Length > 0 && !IsNothing(name) && row[plugs.Column].Length > 0 ? new(name, "") : null;
        }

        if (name.Length == 0)
        {
            Wrong(row, plugs ?? pins!, $"The pin {number} belongs to no connector. Write the connector beside it.");
            return null;
        }

        // Numbers of a spreadsheet come as 17 or 17.0.
        return new(name, number.EndsWith(".0", StringComparison.Ordinal) ? number[..^2] : number);
    }

    private WireColour Colour(TextRow row)
    {
        if (!at.TryGetValue(Meaning.Colour, out var column) || row[column.Column] is not { Length: > 0 } cell || IsNothing(cell))
        {
            return WireColour.None;
        }

        if (ColourWords.Read(cell, colours, own) is { } colour)
        {
            return colour;
        }

        unknown.UnionWith(ColourWords.Unknown(cell, colours, own));
        Wrong(row, column, $"‘{cell}’ is no colour that is known here. Write it as BU or BU/WH, or in words: blue, blue with white.");
        return WireColour.None;
    }

    private double? Section(TextRow row)
    {
        if (!at.TryGetValue(Meaning.Section, out var column) || row[column.Column] is not { Length: > 0 } cell || IsNothing(cell) || Gauge(row) is not null)
        {
            return null;
        }

        if (column.Unit != "awg" && Quantities.Mm2(cell) is { } mm2)
        {
            return mm2;
        }

        Wrong(row, column, $"‘{cell}’ is no section. Write mm², such as 0.5, or a gauge, such as 20 AWG.");
        return null;
    }

    private int? Gauge(TextRow row) => at.TryGetValue(Meaning.Section, out var column) ? Quantities.Awg(row[column.Column], column.Unit == "awg") : null;

    private double? Length(TextRow row)
    {
        if (!at.TryGetValue(Meaning.Length, out var column) || row[column.Column] is not { Length: > 0 } cell || IsNothing(cell))
        {
            return null;
        }

        if (Quantities.Millimetres(cell, column.Unit) is { } mm and > 0 and <= 1_000_000)
        {
            return Math.Round(mm, 1);
        }

        Wrong(row, column, $"‘{cell}’ is no length. Write a number of {column.Unit ?? "mm"}, or a number with its unit.");
        return null;
    }

    private static bool IsNothing(string cell) => cell is "-" or "–" or "—" or "n/a" or "N/A" or "n.c." or "NC" or "nc" or "N/C" or "?" or "x" or "unused" or "spare" or "empty" or "frei" or "leer";

    private void Wrong(TextRow row, ColumnReading column, string message) => problems.Add(new(table.Sheet, row.Number, column.Heading.Length > 0 ? column.Heading : $"{column.Column + 1}", message, column.Column));
}
