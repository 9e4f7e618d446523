using System.Collections.Immutable;
using System.Globalization;

namespace WiseLoom.Core.Looms;

/// <summary>Which corner of a face the first cavity stands in.</summary>
public enum FaceCorner
{
    /// <summary>Numbering begins at the top left.</summary>
    TopLeft,
    /// <summary>Numbering begins at the top right.</summary>
    TopRight,
    /// <summary>Numbering begins at the bottom left.</summary>
    BottomLeft,
    /// <summary>Numbering begins at the bottom right.</summary>
    BottomRight,
}

/// <summary>How cavities are named.</summary>
public enum CavityNaming
{
    /// <summary>1, 2, 3 … on through all rows.</summary>
    Numbers,

    /// <summary>A letter for the row and a number in it: A1, A2 … B1.</summary>
    LetterRows,

    /// <summary>A, B, C … on through all rows, I and O left out as on most housings.</summary>
    Letters,
}

/// <summary>A face in a few words, from which its rows are made.</summary>
/// <param name="Rows">How many cavities each row has, top row first.</param>
/// <param name="Gaps">Places that hold no cavity, as row and place from 1, counted left to right with the gaps.</param>
/// <param name="Start">Where naming begins.</param>
/// <param name="ByColumns">Whether naming runs along columns rather than rows.</param>
/// <param name="BackAndForth">Whether each second line is named in the other direction.</param>
/// <param name="First">The first number, for <see cref="CavityNaming.Numbers"/>.</param>
public sealed record FacePattern(
    ImmutableArray<int> Rows,
    ImmutableArray<ImmutableArray<int>> Gaps,
    FaceCorner Start,
    bool ByColumns,
    bool BackAndForth,
    CavityNaming Naming,
    int First)
{
    /// <summary>No housing has more.</summary>
    public const int MostCavities = 400;

    private const string FaceLetters = "ABCDEFGHJKLMNPQRSTUVWXYZ";

    /// <summary>What keeps the pattern from being a face; empty when nothing.</summary>
    public ImmutableArray<Problem> Problems()
    {
        var problems = ImmutableArray.CreateBuilder<Problem>();
        if (Rows.IsDefaultOrEmpty || Rows.Any(r => r < 1))
        {
            problems.Add(new("/rows", "Give each row at least one place: 10, 10, 9."));
        }
        else if (Rows.Sum() > MostCavities)
        {
            problems.Add(new("/rows", $"{Rows.Sum()} cavities; at most {MostCavities} make a face."));
        }
        else if (!Gaps.IsDefaultOrEmpty && Gaps.Any(g => g.Length != 2 || g[0] < 1 || g[0] > Rows.Length || g[1] < 1 || g[1] > Rows[g[0] - 1]))
        {
            problems.Add(new("/gaps", "A gap is a row and a place in it, both from 1, inside the face."));
        }
        else if (Naming == CavityNaming.Letters && Cells().Count > FaceLetters.Length)
        {
            problems.Add(new("/naming", $"Letters reach for {FaceLetters.Length} cavities only."));
        }
        else if (Naming == CavityNaming.LetterRows && Rows.Length > FaceLetters.Length)
        {
            problems.Add(new("/naming", $"Letters reach for {FaceLetters.Length} rows only."));
        }

        if (First is < 0 or > 9999)
        {
            problems.Add(new("/first", "The first number lies between 0 and 9999."));
        }

        return problems.ToImmutable();
    }

    /// <summary>The rows as a loom file lists them.</summary>
    /// <exception cref="InvalidOperationException">The pattern has <see cref="Problems"/>.</exception>
    public ImmutableArray<ImmutableArray<string?>> Face()
    {
        if (Problems() is [var first, ..])
        {
            throw new InvalidOperationException(first.Message);
        }

        var names = Named().ToDictionary(n => n.Cell, n => n.Name);
        return [.. Rows.Select((length, y) => Enumerable.Range(0, length).Select(x => names.GetValueOrDefault((y, x))).ToImmutableArray())];
    }

    private IEnumerable<((int Row, int Place) Cell, string Name)> Named()
    {
        var fromRight = Start is FaceCorner.TopRight or FaceCorner.BottomRight;
        var fromBottom = Start is FaceCorner.BottomLeft or FaceCorner.BottomRight;

        // Rows shorter than the longest stand in the middle, so columns are told by the place on the face, not by the count.
        double Across((int Row, int Place) c) => c.Place - ((Rows[c.Row] - 1) / 2.0);
        var lines = Cells().GroupBy(c => ByColumns ? Across(c) : c.Row).OrderBy(g => ByColumns ? (fromRight ? -g.Key : g.Key) : fromBottom ? -g.Key : g.Key).ToList();
        var count = 0;
        for (var line = 0; line < lines.Count; line++)
        {
            var ordered = ByColumns
                ? lines[line].OrderBy(c => fromBottom ? -c.Row : c.Row)
                : lines[line].OrderBy(c => fromRight ? -c.Place : c.Place);
            var inLine = 0;
            foreach (var cell in BackAndForth && line % 2 == 1 ? ordered.Reverse() : ordered)
            {
                yield return (cell, Naming switch
                {
                    CavityNaming.Numbers => (First + count).ToString(CultureInfo.InvariantCulture),
                    CavityNaming.Letters => FaceLetters[count].ToString(),
                    _ => string.Create(CultureInfo.InvariantCulture, $"{FaceLetters[line % FaceLetters.Length]}{++inLine}"),
                });
                count++;
            }
        }
    }

    private List<(int Row, int Place)> Cells()
    {
        var gaps = Gaps.IsDefaultOrEmpty ? [] : Gaps.Select(g => (g[0] - 1, g[1] - 1)).ToHashSet();
        return [.. Rows.SelectMany((length, y) => Enumerable.Range(0, length).Select(x => (y, x))).Where(c => !gaps.Contains(c))];
    }
}
