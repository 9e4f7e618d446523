using System.Collections.Immutable;

namespace WiseLoom.Core.Looms;

/// <summary>One cavity in the drawing of a face.</summary>
/// <param name="X">Middle of the cavity, in cavity widths from the left edge.</param>
/// <param name="Y">Middle of the cavity, in cavity heights from the top edge.</param>
/// <param name="Spoken">How to count to it: <c>row 2, 5th from the left</c>.</param>
/// <param name="Large">Whether it takes a large contact.</param>
/// <param name="Row">Its row, from 1 at the top.</param>
/// <param name="Place">Its place among the cavities of its row, from 1 at the left; gaps are not counted.</param>
public sealed record FaceCell(string Cavity, double X, double Y, string Spoken, bool Large, int Row, int Place);

/// <summary>A connector's face as one sees it from one side.</summary>
/// <param name="Columns">Width, in cavities.</param>
/// <param name="Rows">Height, in cavities.</param>
public sealed record FaceLayout(FaceSide Side, int Columns, int Rows, ImmutableArray<FaceCell> Cells)
{
    /// <summary>The face seen from <paramref name="side"/>: as the family lists it, or its mirror image.</summary>
    /// <remarks>A row shorter than the longest stands in the middle of the housing; a gap takes the room of a cavity.</remarks>
    public static FaceLayout Of(ConnectorFamily family, FaceSide side)
    {
        var columns = family.Rows.Max(r => r.Length);
        var cells = ImmutableArray.CreateBuilder<FaceCell>();
        for (var y = 0; y < family.Rows.Length; y++)
        {
            var row = family.Rows[y];
            var seen = side == family.NumberedFrom ? row : [.. row.Reverse()];
            var indent = (columns - row.Length) / 2.0;
            var count = 0;
            for (var x = 0; x < seen.Length; x++)
            {
                if (seen[x] is { } cavity)
                {
                    count++;
                    cells.Add(new(cavity, indent + x + 0.5, y + 0.5, family.IsConfirmed || family.Cavities.Length == 1 ? Words(family.Rows.Length, y, count, seen.Count(c => c is not null)) : NotConfirmed, family.Large.Contains(cavity), y + 1, count));
                }
            }
        }

        return new(side, columns, family.Rows.Length, cells.ToImmutable());
    }

    /// <summary>Cavities that touch this one in the face: beside it, and above or below it within three quarters of a width.</summary>
    public static IEnumerable<(string A, string B)> Neighbours(ConnectorFamily family)
    {
        var cells = Of(family, family.NumberedFrom).Cells;
        for (var i = 0; i < cells.Length; i++)
        {
            for (var j = i + 1; j < cells.Length; j++)
            {
                var (dx, dy) = (Math.Abs(cells[i].X - cells[j].X), Math.Abs(cells[i].Y - cells[j].Y));
                if ((dy < 0.1 && dx < 1.1) || (Math.Abs(dy - 1) < 0.1 && dx < 0.75))
                {
                    yield return (cells[i].Cavity, cells[j].Cavity);
                }
            }
        }
    }

    /// <summary>Said in place of a count where nobody has looked at the housing: the pin's name is what counts.</summary>
    public const string NotConfirmed = "face not confirmed";

    private static string Words(int rows, int y, int count, int of)
    {
        var place = of == 1 ? "" : $"{Ordinal(count)} from the left";
        return rows == 1 ? (of == 1 ? "the only cavity" : place) : of == 1 ? $"row {y + 1}" : $"row {y + 1}, {place}";
    }

    private static string Ordinal(int n) => n + ((n % 100) is 11 or 12 or 13 ? "th" : (n % 10) switch { 1 => "st", 2 => "nd", 3 => "rd", _ => "th" });
}
