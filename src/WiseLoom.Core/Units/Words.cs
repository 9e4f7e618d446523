namespace WiseLoom.Core.Units;

/// <summary>Says a text in the language that papers are being made in. Outside of <see cref="In"/> that is English: the shop's own pages speak nothing else.</summary>
public static class Words
{
    private static readonly AsyncLocal<Language?> Current = new();

    /// <summary>The language that is spoken now.</summary>
    public static Language Language => Current.Value ?? Language.English;

    /// <summary>Speaks a language until the result is disposed; what is begun meanwhile, on whatever thread, speaks it too.</summary>
    public static IDisposable In(Language language)
    {
        var before = Current.Value;
        Current.Value = language;
        return new Back(before);
    }

    /// <summary>A text without anything put in.</summary>
    internal static string Text(string english) => Language.Text(english);

    /// <summary>A sentence with figures and names put in; figures as the language writes them.</summary>
    internal static string Of(FormattableString sentence)
    {
        var language = Language;
        return string.Format(language.Numbers, language.Text(sentence.Format), sentence.GetArguments());
    }

    /// <summary>A figure as the language writes it.</summary>
    internal static string Figure(double value, string form) => value.ToString(form, Language.Numbers);

    /// <summary>Things one after the other, with "and" before the last.</summary>
    internal static string And(IEnumerable<string> things)
    {
        var all = things.ToList();
        return all.Count < 2 ? string.Concat(all) : Of($"{string.Join(", ", all[..^1])} and {all[^1]}");
    }

    private sealed class Back(Language? before) : IDisposable
    {
        public void Dispose() => Current.Value = before;
    }
}
