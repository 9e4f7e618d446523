using System.Collections.Immutable;

namespace WiseLoom.Core.Formats;

/// <summary>One row of a table of texts.</summary>
/// <param name="Number">Its row in the file it came from, from 1; the head is counted.</param>
public sealed record TextRow(int Number, ImmutableArray<string> Cells)
{
    /// <summary>The text of a column; empty beyond the row's end.</summary>
    public string this[int column] => column >= 0 && column < Cells.Length ? Cells[column] : "";
}

/// <summary>A table of texts with a head: a CSV file, a sheet of a workbook, or rows pasted from one.</summary>
/// <param name="Name">What it is called: a file's name without ending, or a sheet's name.</param>
/// <param name="Source">How problems name it: <c>wires.csv</c>, <c>sheet wires</c>.</param>
/// <param name="HeadRow">The head's row in the file, from 1.</param>
public sealed record TextTable(string Name, string Source, int HeadRow, ImmutableArray<string> Head, ImmutableArray<TextRow> Rows)
{
    /// <summary>Longer tables are refused: no loom has so many wires.</summary>
    public const int MostRows = 20_000;

    /// <summary>Wider tables are refused.</summary>
    public const int MostColumns = 200;

    /// <summary>A place as problems say it: <c>wires.csv row 4, column length_mm</c>.</summary>
    public string Place(int row, string? column = null) => column is null ? $"{Source} row {row}" : $"{Source} row {row}, column {column}";
}
