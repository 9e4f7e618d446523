using System.Collections.Immutable;
using System.Text.Json.Nodes;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Intake;

/// <summary>What came of reading a stranger's tables.</summary>
/// <param name="Document">The loom that would come out; null when nothing could be read.</param>
/// <param name="Loom">The same, read; null when it has problems still.</param>
/// <param name="Guessed">What was taken for granted, in sentences.</param>
/// <param name="Problems">What was not understood, what contradicts, what is asked.</param>
public sealed record IntakeReading(ImmutableArray<TableReading> Tables, JsonObject? Document, Loom? Loom, ImmutableArray<string> Guessed, ImmutableArray<IntakeProblem> Problems);

/// <summary>Reads any table of wires, pinouts or crosses into a loom. Nothing is stored by reading.</summary>
public static class LoomIntake
{
    private const int MostProblems = 500;

    /// <summary>So many rows of a table are shown beside its columns.</summary>
    private const int Shown = 8;

    /// <summary>Names of sheets that programs give, and that name no connector.</summary>
    private static readonly HashSet<string> Nameless = new(StringComparer.OrdinalIgnoreCase) { "sheet", "tabelle", "feuil", "feuille", "hoja", "table", "wires", "loom", "pinout", "pinouts", "matrix", "list", "data" };

    /// <summary>Reads a file.</summary>
    /// <param name="bytes">A workbook, or text with columns by commas, semicolons, tabs or blanks.</param>
    /// <param name="name">The file's name.</param>
    /// <param name="mapping">What a person said of its columns; null for none.</param>
    /// <param name="connector">The connector of charts that name none; null where nobody said.</param>
    public static IntakeReading Read(byte[] bytes, string name, IntakeMapping? mapping = null, string? connector = null)
    {
        ArgumentNullException.ThrowIfNull(bytes);
        ArgumentNullException.ThrowIfNull(name);
        var (wrong, problems, guessed) = (new List<Problem>(), new List<IntakeProblem>(), new List<string>());
        if (bytes.Length > LoomReader.LargestFile)
        {
            return Nothing([new("", 0, "", $"At most {LoomReader.LargestFile / 1048576} MB are read.")]);
        }

        if (Grid.Read(bytes, name, wrong) is not { } grids)
        {
            return Nothing([.. wrong.Select(p => new IntakeProblem(p.At, 0, "", p.Message))]);
        }

        var (tables, rows) = (ImmutableArray.CreateBuilder<TableReading>(), new List<PaperRow>());
        foreach (var grid in grids)
        {
            Read(grid, grids.Length, mapping, connector, tables, rows, problems);
        }

        if (rows.Count == 0)
        {
            problems.Add(new("", 0, "", tables.Count == 0
                ? "No table was found in it. A table of wires has a row for each wire with both its ends; a pinout has a row for each pin; a cross table has pins down and across."
                : "No row says which places a wire joins. Say which columns hold the connectors and the pins."));
            return new(tables.ToImmutable(), null, null, [], [.. problems.Take(MostProblems)]);
        }

        var assembler = new Assembler(problems, guessed);
        var wires = assembler.Join(rows);
        var document = PaperLoom.Write(Path.GetFileNameWithoutExtension(name), wires, assembler.Splices, assembler.Alone, guessed);
        var reading = LoomReader.Read(LoomDocument.Bytes(document));
        problems.AddRange(reading.Problems.Select(p => Placed(p, wires)));
        return new(tables.ToImmutable(), document, reading.Loom, [.. guessed], [.. problems.Take(MostProblems)]);
    }

    private static void Read(Grid grid, int sheets, IntakeMapping? mapping, string? connector, ImmutableArray<TableReading>.Builder tables, List<PaperRow> rows, List<IntakeProblem> problems)
    {
        if (CrossTables.Find(grid) is { } cross)
        {
            tables.Add(new(grid.Sheet, TableShape.Cross, cross.Connector, cross.HeadRow, cross.Rows, [], [], []));
            problems.AddRange(cross.Odd.Select(o => new IntakeProblem(grid.Sheet, o.Row, o.Column, $"‘{o.Cell}’ is no mark. Write X where metal joins the two, and nothing where it does not.")));
            rows.AddRange(cross.Marks.Select(m => new PaperRow(grid.Sheet, m.Row, false, "", m.One, m.Other, WireColour.None, null, null, null, "", "", "", "")));
            return;
        }

        foreach (var found in TableFinder.In(grid))
        {
            var columns = ColumnJudge.Judge(found.Head, found.Body);
            columns = mapping?.Over(columns, found.Body) ?? columns;
            var isChart = RowReader.IsChart(columns);
            var plug = isChart ? found.Title ?? SheetsConnector(grid.Sheet, sheets) ?? connector : null;
            tables.Add(new(grid.Sheet, isChart ? TableShape.Chart : TableShape.Wires, plug, found.HeadRow, found.Body.Length, found.Struck, columns, [.. found.Body.Take(Shown)]));
            if (isChart && plug is null)
            {
                problems.Add(new(grid.Sheet, found.HeadRow, "", "These are the pins of one connector, and nothing says which. Name it."));
                continue;
            }

            rows.AddRange(new RowReader(found, columns, plug, problems).Rows());
        }
    }

    /// <summary>A sheet's name names its connector, unless a program gave it.</summary>
    private static string? SheetsConnector(string sheet, int sheets) =>
        Plain.Words(sheet) is [var only, ..] && (Nameless.Contains(only) || Nameless.Contains(only.TrimEnd("0123456789".ToCharArray()))) ? null : sheets > 1 || sheet.Length <= 12 ? sheet.Trim() : null;

    /// <summary>A problem of the loom that came out, said with the row that its wire came from.</summary>
    private static IntakeProblem Placed(Problem problem, ImmutableArray<PaperWire> wires) =>
        problem.At.Split('/') is [_, "wires", var index, ..] && int.TryParse(index, out var at) && at < wires.Length
            ? new(wires[at].Row.Sheet, wires[at].Row.Row, problem.At.Split('/').ElementAtOrDefault(3) ?? "", problem.Message)
            : new("", 0, "", $"{problem.At}: {problem.Message}");

    private static IntakeReading Nothing(ImmutableArray<IntakeProblem> problems) => new([], null, null, [], problems);
}
