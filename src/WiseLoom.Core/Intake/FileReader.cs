using System.Collections.Immutable;
using WiseLoom.Core.Formats;

namespace WiseLoom.Core.Intake;

/// <summary>Finds the tables of a file's sheets and reads their rows.</summary>
/// <param name="sheets">How many sheets the file has.</param>
internal sealed class FileReader(IntakeSaid said, IntakeMemory memory, int sheets, List<IntakeProblem> problems)
{
    /// <summary>So many rows of a table are shown beside its columns, so many more that have problems, and so many that were left out.</summary>
    private const int First = 8, Troubled = 60, LeftOut = 40;

    private const int MostUnknown = 50;

    /// <summary>Names of sheets that programs give, and that name no connector.</summary>
    private static readonly HashSet<string> Nameless = new(StringComparer.OrdinalIgnoreCase)
    {
        "sheet", "tabelle", "feuil", "feuille", "hoja", "table", "wires", "loom", "pinout", "pinouts", "matrix", "list", "data", "pasted",
    };

    private readonly IntakeMapping? mapping = said.Columns is { } columns ? new(columns) : null;
    private readonly SortedSet<string> unknown = new(StringComparer.Ordinal);
    private readonly List<ImmutableArray<TextRow>> bodies = [];

    /// <summary>What each table was taken for.</summary>
    internal List<TableReading> Tables { get; } = [];

    /// <summary>All rows of all tables.</summary>
    internal List<PaperRow> Rows { get; } = [];

    /// <summary>Words in columns of colours that nobody knows.</summary>
    internal ImmutableArray<string> UnknownColours => [.. unknown.Take(MostUnknown)];

    internal void Read(Grid grid)
    {
        if (CrossTables.Find(grid) is { } cross)
        {
            bodies.Add([]);
            Tables.Add(new(grid.Sheet, TableShape.Cross, cross.Connector, cross.HeadRow, cross.Rows, [], [], [], null, []));
            problems.AddRange(cross.Odd.Select(o => new IntakeProblem(
                grid.Sheet, o.Row, o.Column, $"‘{o.Cell}’ is no mark. Write X where metal joins the two, and nothing where it does not.", o.At)));
            Rows.AddRange(cross.Marks.Select(m => new PaperRow(grid.Sheet, m.Row, false, "", m.One, m.Other, Looms.WireColour.None, null, null, null, "", "", "", "")));
            return;
        }

        foreach (var found in TableFinder.In(grid, said))
        {
            Read(found);
        }
    }

    /// <summary>The tables with the rows that a person looks at: the first, and those that have problems.</summary>
    internal ImmutableArray<TableReading> Shown()
    {
        var wrong = problems.Where(p => p.Row > 0).Select(p => (p.Sheet, p.Row)).ToHashSet();
        var first = Math.Max(First, said.Rows);
        return [.. Tables.Zip(bodies, (table, body) => table with
        {
            Sample = [.. body.Take(first), .. body.Skip(first).Where(r => wrong.Contains((table.Sheet, r.Number))).Take(Troubled)],
        })];
    }

    private void Read(FoundTable found)
    {
        var known = memory.For(found.Head);
        var columns = ColumnJudge.Judge(found.Head, found.Body);
        columns = known?.Over(columns, found.Body) ?? columns;
        columns = mapping?.Over(columns, found.Body) ?? columns;
        var isChart = RowReader.IsChart(columns);
        var plug = isChart ? found.Title ?? SheetsConnector(found.Sheet) ?? said.Connector : null;
        bodies.Add(found.Body);
        Tables.Add(new(
            found.Sheet, isChart ? TableShape.Chart : TableShape.Wires, plug, found.HeadRow, found.Body.Length, [.. found.Struck.Select(r => r.Number)], columns, [],
            known?.Name, [.. found.Struck.Where(r => r.Cells.Any(c => c.Length > 0)).Take(LeftOut)]));
        if (isChart && plug is null)
        {
            problems.Add(new(found.Sheet, found.HeadRow, "", "These are the pins of one connector, and nothing says which. Name it."));
            return;
        }

        Rows.AddRange(new RowReader(found, columns, plug, memory.Colours, unknown, problems).Rows());
    }

    /// <summary>A sheet's name names its connector, unless a program gave it.</summary>
    private string? SheetsConnector(string sheet) =>
        Plain.Words(sheet) is [var only, ..] && (Nameless.Contains(only) || Nameless.Contains(only.TrimEnd("0123456789".ToCharArray()))) ? null
            : sheets > 1 || sheet.Length <= 12 ? sheet.Trim() : null;
}
