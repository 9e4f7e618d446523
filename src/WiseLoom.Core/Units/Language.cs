using System.Collections.Immutable;
using System.Globalization;
using System.Reflection;
using System.Text.Json;

namespace WiseLoom.Core.Units;

/// <summary>A language that papers for customers are written in. Its texts stand in <c>Units/words/CODE.json</c>: the English text, with places for what is put in, and beside it the text of the language.</summary>
public sealed class Language
{
    private readonly Dictionary<string, string> texts;

    private Language(string code, string title, string decimalSign, Dictionary<string, string> texts)
    {
        (Code, Title, this.texts) = (code, title, texts);
        var numbers = (NumberFormatInfo)CultureInfo.InvariantCulture.NumberFormat.Clone();
        numbers.NumberDecimalSeparator = decimalSign;
        numbers.NumberGroupSeparator = decimalSign == "," ? "." : ",";
        Numbers = numbers;
    }

    /// <summary>English, in which every text is written first.</summary>
    public static Language English { get; } = new("en", "English", ".", []);

    /// <summary>German.</summary>
    public static Language German { get; } = new("de", "Deutsch", ",", Texts("de"));

    /// <summary>All that papers can be made in.</summary>
    public static ImmutableArray<Language> All { get; } = [English, German];

    /// <summary>ISO 639-1.</summary>
    public string Code { get; }

    /// <summary>What its speakers call it.</summary>
    public string Title { get; }

    /// <summary>How it writes numbers.</summary>
    public IFormatProvider Numbers { get; }

    /// <summary>The language of a code; English for one that is not known.</summary>
    public static Language Of(string? code) => All.FirstOrDefault(l => l.Code == code) ?? English;

    /// <summary>English texts that it has its own for.</summary>
    internal IReadOnlyDictionary<string, string> Known => texts;

    /// <summary>Its text for an English one; the English one where it has none.</summary>
    internal string Text(string english) => texts.GetValueOrDefault(english, english);

    private static Dictionary<string, string> Texts(string code)
    {
        using var stream = Assembly.GetExecutingAssembly().GetManifestResourceStream($"WiseLoom.Core.Units.words.{code}.json") ?? throw new InvalidOperationException($"The build left out the words of '{code}'.");
        return new(JsonSerializer.Deserialize<Dictionary<string, string>>(stream)!, StringComparer.Ordinal);
    }
}
