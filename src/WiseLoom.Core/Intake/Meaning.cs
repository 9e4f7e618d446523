using System.Collections.Immutable;
using WiseLoom.Core.Formats;

namespace WiseLoom.Core.Intake;

/// <summary>What a column of a stranger's table holds.</summary>
public enum Meaning
{
    /// <summary>Nothing that a loom needs.</summary>
    Ignore,

    /// <summary>The wire's own number.</summary>
    Wire,

    /// <summary>The connector at one end.</summary>
    Connector,

    /// <summary>The cavity at one end.</summary>
    Pin,

    /// <summary>Connector and cavity of one end in one cell, or a splice.</summary>
    End,

    /// <summary>The connector at the other end.</summary>
    OtherConnector,

    /// <summary>The cavity at the other end.</summary>
    OtherPin,

    /// <summary>Connector and cavity of the other end in one cell, or a splice.</summary>
    OtherEnd,

    /// <summary>Colour of the insulation.</summary>
    Colour,

    /// <summary>Copper cross-section.</summary>
    Section,

    /// <summary>Length of the wire.</summary>
    Length,

    /// <summary>What the wire carries.</summary>
    Signal,

    /// <summary>Feed, ground, signal and so on, as the loom file has it.</summary>
    Role,

    /// <summary>A name that wires twisted together share.</summary>
    Twisted,

    /// <summary>The splice that the wire ends in, where it has one end in a cavity.</summary>
    Splice,

    /// <summary>A remark.</summary>
    Note,
}

/// <summary>A column and what it was taken for.</summary>
/// <param name="Column">Its place in the table, from 0.</param>
/// <param name="Heading">What stands above it; empty where nothing does.</param>
/// <param name="Unit">Of its numbers: <c>mm</c>, <c>cm</c>, <c>m</c>, <c>in</c>, <c>ft</c>; <c>mm2</c> or <c>awg</c>; null for what has none.</param>
/// <param name="Probability">How sure that is, 0 to 1.</param>
/// <param name="Samples">Cells that it was told by.</param>
/// <param name="Of">The connector whose cavities it holds, where the heading names it (<c>ECU pin</c>).</param>
public sealed record ColumnReading(int Column, string Heading, Meaning Meaning, string? Unit, double Probability, ImmutableArray<string> Samples, string? Of = null);

/// <summary>How a table says what is joined.</summary>
public enum TableShape
{
    /// <summary>A row for each wire, with both its ends.</summary>
    Wires,

    /// <summary>A row for each cavity of one connector.</summary>
    Chart,

    /// <summary>Cavities down and across, marks where metal joins them.</summary>
    Cross,
}

/// <summary>A table that was found in a file.</summary>
/// <param name="Sheet">The sheet it stands in; the file's name for text.</param>
/// <param name="Connector">The connector that a chart is about; null for other shapes, and where nothing says it.</param>
/// <param name="HeadRow">Row of its headings, from 1; 0 where it has none.</param>
/// <param name="Rows">How many rows hold something.</param>
/// <param name="Struck">Rows that were left out: titles, totals, remarks.</param>
/// <param name="Sample">Its first rows, and some that have problems.</param>
/// <param name="Remembered">The shop's name for tables with these headings, where it knows them; null where it does not.</param>
/// <param name="StruckRows">The first of those that were left out, with what stands in them.</param>
public sealed record TableReading(
    string Sheet, TableShape Shape, string? Connector, int HeadRow, int Rows, ImmutableArray<int> Struck, ImmutableArray<ColumnReading> Columns, ImmutableArray<TextRow> Sample,
    string? Remembered, ImmutableArray<TextRow> StruckRows);

/// <summary>Something that was not understood, or that contradicts something else.</summary>
/// <param name="Sheet">The sheet; the file's name for text; empty for the file as a whole.</param>
/// <param name="Row">From 1; 0 for the whole sheet.</param>
/// <param name="Column">The heading, or a letter; empty for the whole row.</param>
/// <param name="Message">What is wrong and what would be right.</param>
/// <param name="Cell">The column of the cell in its table, from 0; −1 where no single cell is meant.</param>
public sealed record IntakeProblem(string Sheet, int Row, string Column, string Message, int Cell = -1);
