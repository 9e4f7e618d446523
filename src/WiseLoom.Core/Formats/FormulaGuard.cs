namespace WiseLoom.Core.Formats;

/// <summary>Keeps a spreadsheet from running a text as a formula.</summary>
/// <remarks>A text that begins with <c>= + - @</c>, a tab, a line end or an apostrophe gets an apostrophe before it; reading takes one away again.</remarks>
public static class FormulaGuard
{
    private const string Dangerous = "=+-@\t\r\n'";

    /// <summary>The text as it may stand in a cell.</summary>
    public static string Neutralise(string text) => text.Length > 0 && Dangerous.Contains(text[0], StringComparison.Ordinal) ? "'" + text : text;

    /// <summary>The text that was meant by a cell.</summary>
    public static string Restore(string cell) => cell.StartsWith('\'') ? cell[1..] : cell;
}
