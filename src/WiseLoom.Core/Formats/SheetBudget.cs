namespace WiseLoom.Core.Formats;

/// <summary>What is read of one file of tables, at most, whatever it claims to hold: each sheet takes from the same budget.</summary>
internal sealed class SheetBudget
{
    /// <summary>Sheets of a workbook, tables of a set.</summary>
    internal const int MostSheets = 40;

    /// <summary>Rows, empty ones too, of all sheets together.</summary>
    internal const int MostRows = 100_000;

    /// <summary>Cells, empty ones too, of all sheets together.</summary>
    internal const int MostCells = 350_000;

    /// <summary>Texts that sheets share.</summary>
    internal const int MostTexts = 500_000;

    /// <summary>Characters of those texts together: a few bytes of a packed file may stand for megabytes of one text, many times over.</summary>
    internal const int MostCharacters = 8_000_000;

    /// <summary>Characters of one text, as spreadsheets have them at most.</summary>
    internal const int MostOfText = 32_767;

    /// <summary>Merged ranges and other problems of one file that are told; then reading stops.</summary>
    internal const int MostProblems = 1000;

    private int rows, cells, characters;

    /// <summary>Nothing more is read.</summary>
    internal bool IsSpent { get; private set; }

    /// <summary>Takes a row; says what is wrong when it was one too many, once.</summary>
    internal string? TakeRow() => Take(++rows > MostRows, "rows", MostRows);

    /// <summary>The same for a cell.</summary>
    internal string? TakeCell() => Take(++cells > MostCells, "cells", MostCells);

    /// <summary>The same for the characters of a text, whether sheets share it or a cell has it to itself.</summary>
    internal string? TakeText(int length) => Take((characters += length) > MostCharacters, "characters", MostCharacters);

    /// <summary>So many problems are told that nobody reads more.</summary>
    internal void Stop() => IsSpent = true;

    private string? Take(bool isTooMuch, string what, int most)
    {
        if (!isTooMuch || IsSpent)
        {
            return null;
        }

        IsSpent = true;
        return string.Create(System.Globalization.CultureInfo.InvariantCulture, $"More than {most:#,0} {what} in this file: no loom has as many. Copy what is filled into a new file.");
    }
}
