using System.Collections.Immutable;
using System.Text.RegularExpressions;
using WiseLoom.Core.Formats;

namespace WiseLoom.Core.Intake;

/// <summary>A table that stands in a grid, before its columns have a meaning.</summary>
/// <param name="Title">The connector that a line above it names; null for none.</param>
/// <param name="Head">A text for each column; empty ones where it has no headings.</param>
internal sealed record FoundTable(string Sheet, string? Title, int HeadRow, ImmutableArray<string> Head, ImmutableArray<TextRow> Body, ImmutableArray<TextRow> Struck);

/// <summary>Finds tables in a grid: headings in one row or two, titles above them, totals and remarks below.</summary>
internal static partial class TableFinder
{
    private const int MostTables = 200;

    [GeneratedRegex(@"^(?:connector|plug|socket|housing|stecker|steckverbinder|connecteur|conector|device|component|bauteil)\b\s*(?:no\.?|nr\.?|name|ref)?\s*[:#=-]?\s*(?<c>\S.*?)\s*(?:[(\[].*[)\]])?$", RegexOptions.IgnoreCase)]
    private static partial Regex Named();

    [GeneratedRegex(@"^(?<c>[\p{L}][\p{L}\d_.-]{0,30})\s*(?:[(\[]?\s*\d+[\s-]*(?:pins?|ways?|way|polig|-pol|voies|vías)\s*[)\]]?)?:?$", RegexOptions.IgnoreCase)]
    private static partial Regex Bare();

    [GeneratedRegex(@"^(?:totals?|sum|summe|gesamt|subtotal|suma|somme|note|notes|remark|remarks|bemerkung|hinweis|remarque|nota|notas|drawn|checked|date|rev)\b", RegexOptions.IgnoreCase)]
    private static partial Regex Remark();

    internal static IEnumerable<FoundTable> In(Grid grid, IntakeSaid saying)
    {
        var heads = Enumerable.Range(0, grid.Rows.Length).Where(i => HeadingWords.IsHead(grid.Rows[i].Cells)).ToList();
        heads = [.. heads.Where((h, i) => i == 0 || heads[i - 1] != h - 1 || !IsBelow(grid.Rows[heads[i - 1]], grid.Rows[h]))];
        if (heads.Count == 0)
        {
            var rows = grid.Rows.Where(r => r.Cells.Count(c => c.Length > 0) >= 2).ToList();
            if (rows.Count < 2)
            {
                return [];
            }

            // Words over cells with figures are headings, though unknown ones.
            return IsUnlike(rows[0], rows.Skip(1).Take(20).ToList()) ? [Cut(grid, saying, null, rows[0].Number, rows[0].Cells, [.. grid.Rows.Where(r => r.Number > rows[0].Number)])] : [Cut(grid, saying, null, 0, [.. Enumerable.Repeat("", rows.Max(r => r.Cells.Length))], grid.Rows)];
        }

        return heads.Take(MostTables).Select((at, i) =>
        {
            var isTwo = at + 1 < grid.Rows.Length && IsBelow(grid.Rows[at], grid.Rows[at + 1]);
            var until = i + 1 < heads.Count ? heads[i + 1] : grid.Rows.Length;
            // What names the next table is no row of this one.
            var title = Title(grid, at);
            var end = i + 1 < heads.Count && Title(grid, until) is not null ? until - 1 : until;
            return Cut(grid, saying, title, grid.Rows[at].Number, isTwo ? Both(grid.Rows[at], grid.Rows[at + 1]) : grid.Rows[at].Cells, grid.Rows[(at + (isTwo ? 2 : 1))..Math.Max(at + (isTwo ? 2 : 1), end)]);
        });
    }

    private static bool IsUnlike(TextRow first, List<TextRow> below) =>
        !first.Cells.Any(c => c.Any(char.IsDigit)) && Enumerable.Range(0, first.Cells.Length).Count(c => below.Count(r => r[c].Any(char.IsDigit)) * 2 > below.Count) * 2 >= first.Cells.Count(c => c.Length > 0);

    private static FoundTable Cut(Grid grid, IntakeSaid saying, string? title, int headRow, ImmutableArray<string> head, ImmutableArray<TextRow> rows)
    {
        var width = Math.Max(head.Length, rows.Select(r => r.Cells.Length).DefaultIfEmpty().Max());
        head = [.. head, .. Enumerable.Repeat("", width - head.Length)];
        var struck = rows.ToLookup(r => saying.IsStruck(grid.Sheet, r.Number, IsStruck(r, head)));
        return new(grid.Sheet, title, headRow, head, [.. struck[false]], [.. struck[true]]);
    }

    /// <summary>Whether a row is no row of the table: one cell alone in a wide table, a total, a remark.</summary>
    private static bool IsStruck(TextRow row, ImmutableArray<string> head)
    {
        var filled = row.Cells.Where(c => c.Length > 0).ToList();
        return filled.Count == 0 || (filled.Count == 1 && head.Count(h => h.Length > 0) >= 2) || (Remark().IsMatch(filled[0]) && filled.Count <= Math.Max(2, head.Length / 2));
    }

    /// <summary>The connector that the line above a head names.</summary>
    private static string? Title(Grid grid, int head)
    {
        if (head == 0 || grid.Rows[head - 1].Cells.Where(c => c.Length > 0).ToList() is not [var line])
        {
            return null;
        }

        return Named().Match(line) is { Success: true } named ? named.Groups["c"].Value : Bare().Match(line) is { Success: true } bare ? bare.Groups["c"].Value : null;
    }

    /// <summary>Whether a row under a head belongs to it: it has headings only, and fills what the upper row leaves open.</summary>
    private static bool IsBelow(TextRow upper, TextRow lower)
    {
        var filled = lower.Cells.Where(c => c.Length > 0).ToList();
        return filled.Count > 0 && filled.TrueForAll(c => HeadingWords.Read(c).IsKnown || HeadingWords.Read(c).Unit is not null) && filled.Count < upper.Cells.Length
            && lower.Cells.Length <= upper.Cells.Length + 1 && upper.Cells.Any(c => c.Length == 0);
    }

    /// <summary>Two rows of headings as one: what stands above reaches to the right as far as nothing else does.</summary>
    private static ImmutableArray<string> Both(TextRow upper, TextRow lower)
    {
        var (both, above) = (ImmutableArray.CreateBuilder<string>(), "");
        for (var c = 0; c < Math.Max(upper.Cells.Length, lower.Cells.Length); c++)
        {
            above = upper[c].Length > 0 ? upper[c] : lower[c].Length > 0 ? above : "";
            both.Add($"{above} {lower[c]}".Trim());
        }

        return both.ToImmutable();
    }
}
