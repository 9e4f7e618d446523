using System.Collections.Immutable;
using WiseLoom.Core.Formats;

namespace WiseLoom.Core.Intake;

/// <summary>A joint that a cross table marks.</summary>
/// <param name="Row">Its row in the file.</param>
internal sealed record Mark(PaperEnd One, PaperEnd Other, int Row, string Column);

/// <summary>A cross table: cavities of one side down, of the other across, and marks where metal joins them.</summary>
internal sealed record CrossTable(int HeadRow, string? Connector, int Rows, int Columns, ImmutableArray<Mark> Marks, ImmutableArray<(int Row, string Column, string Cell, int At)> Odd);

/// <summary>Finds a cross table in a grid.</summary>
internal static class CrossTables
{
    private static readonly HashSet<string> Joined = new(StringComparer.OrdinalIgnoreCase) { "x", "1", "●", "•", "○", "✓", "✔", "yes", "y", "ja", "oui", "si", "sí", "*", "+", "true", "ok", "o", "■" };

    private static readonly HashSet<string> Apart = new(StringComparer.OrdinalIgnoreCase) { "", "0", "-", "–", "—", ".", "no", "n", "nein", "non", "false", "ol", "o.l.", "∞", "open" };

    /// <summary>The cross table; null where the grid is none.</summary>
    internal static CrossTable? Find(Grid grid)
    {
        var width = grid.Rows.Max(r => r.Cells.Length);
        if (width < 4 || grid.Rows.Length < 3)
        {
            return null;
        }

        // One or two rows of names across, one or two columns of names down.
        foreach (var (top, left) in ((int, int)[])[(1, 1), (2, 1), (1, 2), (2, 2)])
        {
            if (Read(grid, width, top, left) is { } found)
            {
                return found;
            }
        }

        return null;
    }

    private static CrossTable? Read(Grid grid, int width, int top, int left)
    {
        var body = grid.Rows.Skip(top).ToList();
        if (body.Count < 2 || width - left < 3)
        {
            return null;
        }

        var corner = grid.Rows.Take(top).SelectMany(r => Enumerable.Range(0, left).Select(c => r[c])).Where(t => t.Length > 0).ToList();
        var across = Names(Enumerable.Range(left, width - left).Select(c => grid.Rows.Take(top).Select(r => r[c]).ToArray()), null);
        var down = Names(body.Select(r => Enumerable.Range(0, left).Select(c => r[c]).ToArray()), corner is [.., var last] ? ConnectorIn(last) : null);
        var named = Enumerable.Range(0, width - left).Where(i => across[i] is not null).ToList();
        var (cells, odd, marks) = (0, new List<(int, string, string, int)>(), new List<Mark>());
        for (var r = 0; r < body.Count; r++)
        {
            foreach (var i in named)
            {
                var cell = body[r][left + i];
                cells++;
                var ohms = cell.Length > 0 ? Quantities.NumberOf(cell.TrimEnd('Ω', ' ')) : null;
                var joins = Joined.Contains(cell) || (ohms is > 0 and < 1000);
                if (!joins && !Apart.Contains(cell) && ohms is null)
                {
                    odd.Add((body[r].Number, $"{across[i]}", cell, left + i));
                }
                else if (joins && down[r] is { } one && across[i] is { } other && one != other)
                {
                    marks.Add(new(one, other, body[r].Number, $"{other}"));
                }
            }
        }

        // Nearly all rows and columns must be named, and nearly all cells be marks; a mark for some.
        var isOne = marks.Count > 0 && named.Count >= 0.9 * (width - left) && down.Count(d => d is not null) >= 0.8 * body.Count && odd.Count <= 0.02 * cells && marks.Count <= 0.5 * cells;
        return isOne ? new(grid.Rows[top - 1].Number, corner.Count > 0 ? ConnectorIn(corner[^1]) : null, body.Count, named.Count, [.. marks.DistinctBy(m => (Least(m), Most(m)))], [.. odd]) : null;
    }

    /// <summary>Each end by its labels: plug and pin in two cells, both in one, or only a pin of a connector that the corner names.</summary>
    private static List<PaperEnd?> Names(IEnumerable<string[]> labels, string? corner)
    {
        var (all, above) = (new List<PaperEnd?>(), "");
        foreach (var label in labels)
        {
            PaperEnd? end;
            if (label.Length == 2)
            {
                above = label[0].Length > 0 ? label[0] : above;
                end = label[1].Length > 0 && above.Length > 0 && EndForms.IsPin(label[1]) ? new(above, label[1]) : null;
            }
            else
            {
                end = EndForms.Read(label[0]) ?? (corner is not null && EndForms.IsPin(label[0]) ? new(corner, label[0]) : null);
            }

            all.Add(end);
        }

        return all;
    }

    private static string? ConnectorIn(string corner) => corner.Length is > 0 and <= 40 ? corner.Split(['\\', '/', '|', '\n'], 2)[0].Trim() is { Length: > 0 } name ? name : null : null;

    private static string Least(Mark m) => string.CompareOrdinal($"{m.One}", $"{m.Other}") < 0 ? $"{m.One}" : $"{m.Other}";

    private static string Most(Mark m) => string.CompareOrdinal($"{m.One}", $"{m.Other}") < 0 ? $"{m.Other}" : $"{m.One}";
}
