using System.Collections.Immutable;
using System.Globalization;
using System.Text.RegularExpressions;

namespace WiseLoom.Core.Looms;

/// <summary>Where a cavity lies as somebody said it, and which cavity that is.</summary>
/// <param name="Cavity">The cavity; null when the words do not lead to exactly one.</param>
/// <param name="Side">The face that the words were counted on.</param>
/// <param name="Message">The place said back in full, or what is missing.</param>
public sealed record FaceFinding(string? Cavity, FaceSide Side, string Message);

/// <summary>Finds a cavity from words such as “second row, fifth from the left, seen from the wire side”.</summary>
public static partial class FaceWords
{
    private static readonly ImmutableArray<string> Ordinals =
    [
        "first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth", "eleventh", "twelfth", "thirteenth",
        "fourteenth", "fifteenth", "sixteenth", "seventeenth", "eighteenth", "nineteenth", "twentieth",
    ];

    /// <summary>Finds the cavity.</summary>
    /// <param name="side">The face that is meant when the words do not name one.</param>
    /// <remarks>Rows are counted from the top unless the words say from the bottom; places from the left unless they say from the right. Gaps are not counted.</remarks>
    public static FaceFinding Find(ConnectorFamily family, FaceSide side, string words)
    {
        ArgumentNullException.ThrowIfNull(family);
        ArgumentNullException.ThrowIfNull(words);
        var text = $" {words.Trim().ToLowerInvariant().Replace(',', ' ').Replace('-', ' ')} ";
        var seen = Side(text) ?? side;
        var name = words.Trim();
        if (family.Cavities.FirstOrDefault(c => string.Equals(c, name, StringComparison.OrdinalIgnoreCase)) is { } named)
        {
            return Found(family, seen, named);
        }

        text = SideWords().Replace(text, " ");
        var face = FaceLayout.Of(family, seen);
        if (Row(ref text, face.Rows) is not { } row)
        {
            return new(null, seen, face.Rows == 1 ? "Say the place: “fifth from the left”." : $"Say the row, 1 to {face.Rows} from the top, and the place in it: “second row, fifth from the left”.");
        }

        if (row < 1 || row > face.Rows)
        {
            return new(null, seen, $"This face has {Count(face.Rows, "row")}.");
        }

        var cells = face.Cells.Where(c => c.Row == row).ToList();
        var place = cells.Count == 1 && text.Trim().Length == 0 ? 1 : Place(text, cells.Count);
        return place is not { } at
            ? new(null, seen, $"Row {row} is clear; say the place in it, 1 to {cells.Count}: “fifth from the left”.")
            : cells.Find(c => c.Place == at) is { } cell
                ? Found(family, seen, cell.Cavity)
                : new(null, seen, $"Row {row} has {Count(cells.Count, "cavity", "cavities")}.");
    }

    private static FaceFinding Found(ConnectorFamily family, FaceSide side, string cavity) =>
        new(cavity, side, $"Cavity {cavity}: {FaceLayout.Of(family, side).Cells.First(c => c.Cavity == cavity).Spoken}, seen from the {(side == FaceSide.WireSide ? "wire side" : "mating face")}.");

    private static FaceSide? Side(string text) =>
        SideWords().Match(text) is not { Success: true } match ? null : match.Value.Contains("wire", StringComparison.Ordinal) || match.Value.Contains("back", StringComparison.Ordinal) ? FaceSide.WireSide : FaceSide.MatingFace;

    /// <summary>Takes the words about the row out of the text.</summary>
    private static int? Row(ref string text, int rows)
    {
        foreach (var (pattern, fromBottom) in new[] { (RowFromBottom(), true), (RowThenNumber(), false), (NumberThenRow(), false), (TopOrBottom(), false) })
        {
            if (pattern.Match(text) is not { Success: true } match)
            {
                continue;
            }

            var word = match.Groups["n"].Value;
            var number = word switch { "top" or "upper" => 1, "bottom" or "lower" or "last" => rows, "middle" when rows % 2 == 1 => (rows + 1) / 2, _ => Number(word) };
            text = text.Remove(match.Index, match.Length).Insert(match.Index, " ");
            return fromBottom && number is { } n ? rows + 1 - n : number;
        }

        return rows == 1 ? 1 : null;
    }

    private static int? Place(string text, int count)
    {
        var fromRight = text.Contains(" right ", StringComparison.Ordinal);
        foreach (var word in text.Split(' ', StringSplitOptions.RemoveEmptyEntries))
        {
            var number = word switch { "last" => count, "leftmost" => 1, "rightmost" => count, "middle" when count % 2 == 1 => (count + 1) / 2, _ => Number(word) };
            if (number is { } n)
            {
                return fromRight && word is not ("rightmost" or "leftmost") ? count + 1 - n : n;
            }
        }

        return null;
    }

    private static int? Number(string word)
    {
        var ordinal = Ordinals.IndexOf(word);
        var digits = word.TrimEnd('s', 't', 'n', 'd', 'r', 'h', '.');
        return ordinal >= 0 ? ordinal + 1 : int.TryParse(digits, NumberStyles.None, CultureInfo.InvariantCulture, out var n) ? n : null;
    }

    private static string Count(int n, string one, string? many = null) => n == 1 ? $"1 {one}" : $"{n} {many ?? one + "s"}";

    [GeneratedRegex(@"(seen |looking )?(from |at |on )?(the )?(wire side|wire face|back|mating face|mating side|front|pin side)")]
    private static partial Regex SideWords();

    [GeneratedRegex(@" (?<n>\w+) row (counted )?from (the )?bottom ")]
    private static partial Regex RowFromBottom();

    [GeneratedRegex(@" row (?<n>\d+) ")]
    private static partial Regex RowThenNumber();

    [GeneratedRegex(@" (the )?(?<n>\w+) row ")]
    private static partial Regex NumberThenRow();

    [GeneratedRegex(@" (the )?(?<n>top|bottom|upper|lower) ")]
    private static partial Regex TopOrBottom();
}
