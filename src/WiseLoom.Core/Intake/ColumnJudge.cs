using System.Collections.Immutable;
using WiseLoom.Core.Formats;

namespace WiseLoom.Core.Intake;

/// <summary>Tells what the columns of a table hold, from the words above them and from their cells.</summary>
internal static class ColumnJudge
{
    /// <summary>So many cells of a column are looked at.</summary>
    private const int Looked = 200;

    /// <summary>A column without known words is taken for what at least this share of its cells can be.</summary>
    private const double Telling = 0.8;

    /// <summary>Sections that wires are sold in, mm²: a number among them may well be one.</summary>
    private static readonly double[] Sold = [0.13, 0.22, 0.35, 0.5, 0.75, 0.85, 1, 1.25, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10, 12, 16, 20, 25, 35, 50];

    /// <summary>What a column is for one end of a wire, before the ends are told apart.</summary>
    private sealed record Guess(int Column, string Heading, Heading Said, Meaning Family, double Probability, ImmutableArray<string> Cells);

    /// <summary>Every column with its meaning.</summary>
    /// <param name="head">Headings; empty texts where there are none.</param>
    internal static ImmutableArray<ColumnReading> Judge(ImmutableArray<string> head, IReadOnlyList<TextRow> body)
    {
        var guesses = Enumerable.Range(0, head.Length).Select(c => First(c, head[c], [.. body.Select(r => r[c]).Where(t => t.Length > 0).Take(Looked)])).ToList();
        for (var i = 1; i < guesses.Count; i++)
        {
            // Small whole numbers right behind a name are pins rather than sections.
            if (guesses[i] is { Family: Meaning.Section, Said.Family: null } bare && guesses[i - 1].Family is Meaning.End or Meaning.Connector && bare.Cells.All(c => c.All(char.IsAsciiDigit)))
            {
                guesses[i] = bare with { Family = Meaning.Pin };
            }
        }

        var sided = new List<ColumnReading>();
        var (lastSide, taken) = (0, new HashSet<Meaning>());
        for (var i = 0; i < guesses.Count; i++)
        {
            var guess = AsEnd(guesses, i);
            var side = guess.Family is Meaning.Connector or Meaning.Pin or Meaning.End ? Side(guess, guesses, lastSide, taken) : 0;
            lastSide = side > 0 ? side : lastSide;
            var meaning = side switch { 2 => Other(guess.Family), _ => guess.Family };
            // Two columns cannot hold the same thing, but for remarks.
            if (side > 2 || (meaning is not (Meaning.Ignore or Meaning.Note) && !taken.Add(meaning)))
            {
                meaning = meaning == Meaning.Wire || guess.Cells.IsEmpty ? Meaning.Ignore : Meaning.Note;
            }

            sided.Add(new(guess.Column, guess.Heading, meaning, UnitOf(meaning, guess), Math.Round(guess.Probability, 2), [.. guess.Cells.Distinct().Take(3)], guess.Said.Of.Length > 0 && meaning is Meaning.Pin or Meaning.OtherPin ? guess.Said.Of : null));
        }

        return [.. sided];
    }

    /// <summary>The unit in which a column of numbers is read.</summary>
    internal static string? Unit(Meaning meaning, string heading, IReadOnlyCollection<string> cells)
    {
        var said = HeadingWords.Read(heading).Unit;
        if (meaning == Meaning.Section)
        {
            var numbers = cells.Select(Quantities.NumberOf).OfType<double>().ToList();
            return said is "mm2" or "awg" ? said : said == "mm" ? "mm2"
                : cells.Any(c => Quantities.Awg(c, withoutUnit: false) is not null) || Plain.Words(heading).Contains("gauge") || (numbers.Count > 0 && numbers.TrueForAll(n => n == Math.Floor(n) && n >= 7)) ? "awg" : "mm2";
        }

        if (meaning != Meaning.Length)
        {
            return null;
        }

        if (said is not (null or "mm2" or "awg" or "?"))
        {
            return said;
        }

        if (cells.Select(Quantities.OwnUnit).FirstOrDefault(u => u is not null) is { } own)
        {
            return own;
        }

        var lengths = cells.Select(Quantities.NumberOf).OfType<double>().Order().ToList();
        return lengths.Count > 0 && lengths[lengths.Count / 2] < 20 ? "m" : "mm";
    }

    private static string? UnitOf(Meaning meaning, Guess guess) => Unit(meaning, guess.Heading, guess.Cells);

    private static Guess First(int column, string heading, ImmutableArray<string> cells)
    {
        var said = HeadingWords.Read(heading);
        var fits = Fits(cells);
        // Under a heading of lengths a bare number is one.
        fits[Meaning.Length] = said.Family == Meaning.Length && cells.Length > 0 ? (double)cells.Count(c => Quantities.Millimetres(c, "mm") is not null) / cells.Length : fits[Meaning.Length];
        if (said.Family is { } family)
        {
            // A list of plugs whose cells are plug and pin is a list of ends.
            var isEnd = family == Meaning.Connector && fits[Meaning.End] >= Telling;
            return new(column, heading, said, isEnd ? Meaning.End : family, 0.6 + (0.4 * fits.GetValueOrDefault(isEnd ? Meaning.End : family, 1)), cells);
        }

        if (said.Side > 0)
        {
            return new(column, heading, said, fits[Meaning.End] >= 0.5 ? Meaning.End : Meaning.Connector, 0.55 + (0.4 * Math.Max(fits[Meaning.End], fits[Meaning.Connector])), cells);
        }

        var best = fits.Where(f => f.Value >= Telling).OrderByDescending(f => f.Value).ThenBy(f => f.Key).Select(f => ((Meaning Family, double Fit)?)(f.Key, f.Value)).FirstOrDefault();
        return best is { } told ? new(column, heading, said, told.Family, (heading.Length == 0 ? 0.7 : 0.5) * told.Fit, cells) : new(column, heading, said, heading.Length == 0 ? Meaning.Ignore : Meaning.Note, 0.3, cells);
    }

    /// <summary>What share of the cells can be what; ends before colours, colours before sections and so on where shares are alike.</summary>
    private static SortedDictionary<Meaning, double> Fits(ImmutableArray<string> cells)
    {
        double Share(Func<string, bool> can) => cells.IsEmpty ? 0 : (double)cells.Count(can) / cells.Length;
        var distinct = cells.Distinct().Count();
        var colours = ColourWords.Best(cells).Share;
        var repeated = cells.Length > 2 && distinct <= cells.Length * 0.7;
        var sections = Share(c => Quantities.Awg(c, withoutUnit: false) is not null || (Quantities.Mm2(c) is { } mm2 && (Sold.Contains(mm2) || c.Contains("mm", StringComparison.Ordinal))));
        var byWords = Share(c => c.Any(char.IsLetter));
        return new()
        {
            [Meaning.End] = Share(c => EndForms.Read(c) is { Pin.Length: > 0 } end && end.Connector.Any(char.IsLetter) && !ColourWords.IsAny(c) || EndForms.IsSplice(c)) * (Quantities.OwnUnit(cells.FirstOrDefault() ?? "") is null ? 1 : 0),
            [Meaning.Colour] = colours * (byWords > 0.9 ? 1 : 0),
            [Meaning.Section] = sections * (distinct <= 12 && (distinct < cells.Length || cells.Length < 4) ? 1 : 0),
            [Meaning.Length] = Share(c => Quantities.OwnUnit(c) is not null),
            [Meaning.Connector] = repeated ? Share(c => c.Any(char.IsLetter) && c.Length <= 40) * 0.9 : 0,
            [Meaning.Pin] = Share(EndForms.IsPin) * 0.85,
        };
    }

    /// <summary>A connector's name that looks like an end (<c>ECU A</c>) is none where its pin stands in the next column: by that column's heading, or since each such column has one beside it.</summary>
    private static Guess AsEnd(List<Guess> guesses, int i)
    {
        bool HasPin(Guess g) => g.Column + 1 < guesses.Count && guesses[g.Column + 1] is { Family: Meaning.Pin } next && (next.Said.Side == 0 || next.Said.Side == g.Said.Side);
        var guess = guesses[i];
        return guess.Family == Meaning.End && guess.Said.Family is null or Meaning.Connector && HasPin(guess)
            && (guesses[i + 1].Said.Family == Meaning.Pin || guesses.TrueForAll(g => g.Family != Meaning.End || HasPin(g)))
            ? guess with { Family = Meaning.Connector }
            : guess;
    }

    private static int Side(Guess guess, List<Guess> all, int last, HashSet<Meaning> taken)
    {
        if (guess.Said.Side > 0)
        {
            return guess.Said.Side;
        }

        if (guess.Said.Of.Length > 0)
        {
            // The cavity of a connector that the heading names is the other end where the table has an end of its own.
            return all.Exists(g => g != guess && g.Family is Meaning.Pin or Meaning.End && g.Said.Of.Length == 0) || taken.Contains(Meaning.Pin) ? 2 : 1;
        }

        if (guess.Family == Meaning.Pin && last > 0 && all[guess.Column - 1].Family is Meaning.Connector or Meaning.End && !taken.Contains(last == 1 ? Meaning.Pin : Meaning.OtherPin))
        {
            return last;
        }

        var hasFirst = taken.Contains(guess.Family) || all.Exists(g => g.Family == guess.Family && g.Said.Side == 1);
        return !hasFirst ? 1 : !taken.Contains(Other(guess.Family)) ? 2 : 3;
    }

    private static Meaning Other(Meaning family) => family switch { Meaning.Connector => Meaning.OtherConnector, Meaning.Pin => Meaning.OtherPin, Meaning.End => Meaning.OtherEnd, _ => family };
}
