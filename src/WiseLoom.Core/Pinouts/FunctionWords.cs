using System.Collections.Immutable;
using System.Globalization;
using System.Text;

namespace WiseLoom.Core.Pinouts;

/// <summary>A function taken apart into what is compared: what it is about, its numbers, and which of two it is.</summary>
/// <param name="Subjects">Words and synonym groups (<c>=3</c> is group 3), without fillers.</param>
/// <param name="Numbers">Numbers in the order in which they stand.</param>
/// <param name="Sides">Words that tell one of a pair from the other: left, high, bank b …</param>
public sealed record FunctionSense(ImmutableSortedSet<string> Subjects, ImmutableArray<int> Numbers, ImmutableSortedSet<string> Sides)
{
    /// <summary>Two functions with one key mean the same.</summary>
    public string Key => $"{string.Join(' ', Subjects)}|{string.Join(' ', Numbers)}|{string.Join(' ', Sides)}";
}

/// <summary>Groups of phrases that mean the same in this shop: <c>coolant temperature, ect, clt, water temperature</c>.</summary>
public sealed class Synonyms
{
    private readonly ImmutableArray<(ImmutableArray<string> Phrase, string Token)> phrases;

    /// <summary>Builds the list; a phrase that stands in two groups belongs to the first.</summary>
    public Synonyms(IEnumerable<IEnumerable<string>> groups)
    {
        // Longest first, so that “coolant temperature lamp” is not read as “coolant temperature” and a lamp.
        phrases = [.. groups.SelectMany((g, i) => g.Select(p => (Phrase: FunctionWords.Split(p), Token: string.Create(CultureInfo.InvariantCulture, $"={i}"))))
            .Where(p => !p.Phrase.IsEmpty).OrderByDescending(p => p.Phrase.Length)];
    }

    /// <summary>No synonyms at all.</summary>
    public static Synonyms None { get; } = new([]);

    /// <summary>Puts a group's token in place of each of its phrases.</summary>
    internal List<string> Apply(ImmutableArray<string> words)
    {
        var result = new List<string>();
        for (var at = 0; at < words.Length;)
        {
            var found = phrases.FirstOrDefault(p => at + p.Phrase.Length <= words.Length && words.AsSpan(at, p.Phrase.Length).SequenceEqual(p.Phrase.AsSpan()));
            result.Add(found.Token ?? words[at]);
            at += found.Token is null ? 1 : found.Phrase.Length;
        }

        return result;
    }
}

/// <summary>Takes the words of a function apart.</summary>
public static class FunctionWords
{
    private static readonly ImmutableHashSet<string> Fillers = ["the", "of", "to", "for", "and", "no", "nr", "number", "wire", "pin", "circuit", "engine", "signal", "sensor", "drive", "driver", "trigger", "output", "input"];

    private static readonly ImmutableHashSet<string> DataLines = ["can", "bus", "network", "lin"];

    private static readonly Dictionary<string, string> SideWords = new(StringComparer.Ordinal)
    {
        ["left"] = "left", ["lh"] = "left", ["port"] = "left", ["right"] = "right", ["rh"] = "right", ["starboard"] = "right",
        ["high"] = "high", ["hi"] = "high", ["low"] = "low", ["lo"] = "low",
        ["plus"] = "plus", ["positive"] = "plus", ["minus"] = "minus", ["negative"] = "minus",
        ["front"] = "front", ["rear"] = "rear", ["upper"] = "upper", ["lower"] = "lower", ["inlet"] = "inlet", ["outlet"] = "outlet",
        ["upstream"] = "upstream", ["downstream"] = "downstream", ["open"] = "open", ["closed"] = "closed", ["main"] = "main",
    };

    /// <summary>Small words and numbers of a text, split where letters meet digits: <c>INJ1+</c> → inj 1 plus.</summary>
    public static ImmutableArray<string> Split(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var words = new List<string>();
        var word = new StringBuilder();
        void End()
        {
            if (word.Length > 0)
            {
                words.Add(word.ToString());
                word.Clear();
            }
        }

        foreach (var c in text.ToLowerInvariant())
        {
            if (c is '+' or '−' || (c == '-' && word.Length == 0 && words.Count > 0 && !text.Contains(" - ", StringComparison.Ordinal)) || !char.IsLetterOrDigit(c))
            {
                End();
                if (c == '+')
                {
                    words.Add("plus");
                }
                else if (c == '−')
                {
                    words.Add("minus");
                }

                continue;
            }

            if (word.Length > 0 && char.IsDigit(c) != char.IsDigit(word[^1]))
            {
                End();
            }

            word.Append(c);
        }

        End();
        return [.. words];
    }

    /// <summary>What a function is about.</summary>
    public static FunctionSense Sense(string function, Synonyms synonyms)
    {
        ArgumentNullException.ThrowIfNull(synonyms);
        var subjects = ImmutableSortedSet.CreateBuilder<string>(StringComparer.Ordinal);
        var numbers = ImmutableArray.CreateBuilder<int>();
        var sides = ImmutableSortedSet.CreateBuilder<string>(StringComparer.Ordinal);
        var words = Split(function);
        var dataLine = words.Any(DataLines.Contains);
        foreach (var word in synonyms.Apply(words))
        {
            if (int.TryParse(word, NumberStyles.None, CultureInfo.InvariantCulture, out var number))
            {
                numbers.Add(number);
            }
            else if ((SideWords.GetValueOrDefault(word) ?? ShortSide(word, dataLine)) is { } side)
            {
                sides.Add(side);
            }
            else if (!Fillers.Contains(word))
            {
                // A single letter behind a subject is one of a row: bank A, pedal B.
                (word.Length == 1 ? sides : subjects).Add(word.EndsWith('s') && word.Length > 4 ? word[..^1] : word);
            }
        }

        return new(subjects.ToImmutable(), numbers.ToImmutable(), sides.ToImmutable());
    }

    /// <summary>L and H are low and high of a data line; elsewhere L and R are left and right.</summary>
    private static string? ShortSide(string word, bool dataLine) => (word, dataLine) switch
    {
        ("l", true) => "low",
        ("h", true) => "high",
        ("l", false) => "left",
        ("r", false) => "right",
        _ => null,
    };
}
