using System.Collections.Immutable;

namespace WiseLoom.Core.Intake;

/// <summary>A cell as a person says it should read.</summary>
/// <param name="Row">In the file, from 1.</param>
/// <param name="Column">In its table, from 0.</param>
public sealed record SaidCell(string Sheet, int Row, int Column, string Text);

/// <summary>A row of a sheet.</summary>
/// <param name="Row">In the file, from 1.</param>
public sealed record RowPlace(string Sheet, int Row);

/// <summary>What a person said of one file: of its columns, of single cells, and of rows that belong to a table or do not.</summary>
/// <param name="Columns">By heading.</param>
/// <param name="Connector">Of charts that name none; null where nobody said.</param>
/// <param name="Cells">Cells that read otherwise than in the file.</param>
/// <param name="Struck">Rows that are no rows of a table, though they look it.</param>
/// <param name="Kept">Rows that belong to a table, though they look like remarks.</param>
/// <param name="Faces">Family of the shop by connector, as a person chose it; an empty text says that the face made from its pins is right.</param>
/// <param name="Rows">How many rows of each table are shown; 0 for the usual few.</param>
public sealed record IntakeSaid(
    ImmutableSortedDictionary<string, MappedColumn>? Columns = null,
    string? Connector = null,
    ImmutableArray<SaidCell> Cells = default,
    ImmutableArray<RowPlace> Struck = default,
    ImmutableArray<RowPlace> Kept = default,
    ImmutableSortedDictionary<string, string>? Faces = null,
    int Rows = 0)
{
    /// <summary>The most cells, or rows, of which something is said.</summary>
    public const int Most = 2000;

    /// <summary>The longest text of a cell.</summary>
    public const int LongestCell = 200;

    /// <summary>The most rows of a table that are shown.</summary>
    public const int MostRows = 500;

    /// <summary>Nothing said.</summary>
    public static IntakeSaid Nothing { get; } = new();

    /// <summary>Whether nothing is said of how tables are read.</summary>
    public bool IsNothing => Columns is null && Connector is null && Cells.IsDefaultOrEmpty && Struck.IsDefaultOrEmpty && Kept.IsDefaultOrEmpty && Faces is null;

    /// <summary>What is wrong with it; null for nothing.</summary>
    public string? Wrong() =>
        Columns is { } columns && columns.Values.Any(c => c is null || !Enum.IsDefined(c.Meaning)) ? "Each column needs a meaning."
        : Faces is { } faces && (faces.Count > Most || faces.Values.Any(f => f is null || f.Length > 80)) ? "A face is the id of a family of the shop, or an empty text."
        : Columns?.Count > Most || Length(Cells) > Most || Length(Struck) > Most || Length(Kept) > Most ? $"At most {Most} columns, cells or rows are said at once; change the file instead."
        : !Cells.IsDefaultOrEmpty && Cells.Any(c => c is not { Sheet: not null, Text.Length: <= LongestCell }) ? $"A cell needs its sheet, row, column and a text of at most {LongestCell} signs."
        : Rows is < 0 or > MostRows ? $"At most {MostRows} rows of a table are shown."
        : null;

    private static int Length<T>(ImmutableArray<T> of) => of.IsDefault ? 0 : of.Length;

    /// <summary>A grid with its cells as they were said.</summary>
    internal Grid Over(Grid grid)
    {
        if (Cells.IsDefaultOrEmpty)
        {
            return grid;
        }

        var said = Cells.Where(c => c.Sheet == grid.Sheet && c.Column is >= 0 and < 1000).ToLookup(c => c.Row);
        return grid with { Rows = [.. grid.Rows.Select(row => said.Contains(row.Number) ? row with { Cells = With(row.Cells, said[row.Number]) } : row)] };
    }

    /// <summary>Whether a row belongs to its table: as a person said, else as it looks.</summary>
    internal bool IsStruck(string sheet, int row, bool looks) =>
        (!Struck.IsDefaultOrEmpty && Struck.Contains(new(sheet, row))) || (looks && (Kept.IsDefaultOrEmpty || !Kept.Contains(new(sheet, row))));

    private static ImmutableArray<string> With(ImmutableArray<string> cells, IEnumerable<SaidCell> said)
    {
        var row = cells.ToList();
        foreach (var cell in said)
        {
            while (row.Count <= cell.Column)
            {
                row.Add("");
            }

            row[cell.Column] = cell.Text.Trim();
        }

        return [.. row];
    }
}
