using System.Globalization;
using System.Text.Json;

namespace WiseLoom.Core.Json;

/// <summary>A JSON object and where it stands. Reads its fields and reports what is wrong at the field's own place.</summary>
/// <param name="asked">Notes which fields were looked for, here and below; null when nobody wants to know.</param>
internal readonly struct JsonPlace(JsonElement element, string at, List<Problem> problems, FieldsAsked? asked = null)
{
    public string At { get; } = at;

    /// <summary>The same place, noting from now on which fields are looked for.</summary>
    public JsonPlace NotingIn(FieldsAsked notes)
    {
        notes.Visit(At, element);
        return new(element, At, problems, notes);
    }

    public void Wrong(string field, string message) =>
        problems.Add(new(field.Length == 0 ? At : $"{At}/{Escape(field)}", message));

    /// <summary>Reports something at a place further down, as <see cref="Items"/> and <see cref="Fields"/> name it.</summary>
    public void WrongAt(string place, string message) => problems.Add(new(place, message));

    public bool Has(string field) => Find(field, out _);

    private bool Find(string field, out JsonElement value)
    {
        asked?.Note(At, field);
        return element.TryGetProperty(field, out value) && value.ValueKind != JsonValueKind.Null;
    }

    /// <summary>An object further down.</summary>
    private JsonPlace Inner(JsonElement value, string place)
    {
        asked?.Visit(place, value);
        return new(value, place, problems, asked);
    }

    /// <summary>A text without control characters; null when absent, or wrong (then reported).</summary>
    public string? Text(string field, bool required = false, int longest = 400)
    {
        if (!Find(field, out var value))
        {
            if (required)
            {
                Wrong(field, "Missing. A text is needed here.");
            }

            return null;
        }

        if (value.ValueKind != JsonValueKind.String)
        {
            Wrong(field, $"This is {Describe(value)}; a text in quotation marks is needed.");
            return null;
        }

        var text = value.GetString()!;
        if (text.Length == 0 && required)
        {
            Wrong(field, "Empty. A text is needed here.");
            return null;
        }

        if (text.Length > longest)
        {
            Wrong(field, $"{text.Length} characters; at most {longest} fit here.");
            return null;
        }

        if (text.Any(char.IsControl) && text.Any(c => char.IsControl(c) && c != '\n'))
        {
            Wrong(field, "Holds a control character; write plain text.");
            return null;
        }

        return text;
    }

    /// <summary>A reference-like name: as <see cref="Text"/>, without colon or surrounding blanks.</summary>
    public string? Name(string field)
    {
        var text = Text(field, required: true, longest: 60);
        if (text is null)
        {
            return null;
        }

        if (text.Contains(':', StringComparison.Ordinal) || text != text.Trim() || text.Contains('\n', StringComparison.Ordinal))
        {
            Wrong(field, $"'{text}' cannot be a name: a name has no colon and no blank at its start or end.");
            return null;
        }

        return text;
    }

    /// <summary>A finite number between two bounds; null when absent or wrong (then reported).</summary>
    public double? Number(string field, double least, double most, bool required = false, string unit = "")
    {
        if (!Find(field, out var value))
        {
            if (required)
            {
                Wrong(field, $"Missing. A number{In(unit)} is needed here.");
            }

            return null;
        }

        return NumberOf(value, $"{At}/{Escape(field)}", least, most, unit);
    }

    /// <summary>A resistance range given as one number or as <c>{min, nominal, max}</c>, multiplied by <paramref name="scale"/>.</summary>
    public OhmRange? Range(string field, double scale, string unit, bool required = false)
    {
        if (!Find(field, out var value))
        {
            if (required)
            {
                Wrong(field, $"Missing. A number{In(unit)}, or min, nominal and max, is needed here.");
            }

            return null;
        }

        var place = $"{At}/{Escape(field)}";
        if (value.ValueKind == JsonValueKind.Number)
        {
            return NumberOf(value, place, 0, 1e12, unit) is { } only && IsThere(only * scale, value, place, unit) ? OhmRange.Exactly(only * scale) : null;
        }

        if (value.ValueKind != JsonValueKind.Object)
        {
            problems.Add(new(place, $"This is {Describe(value)}; a number{In(unit)}, or an object with min, nominal and max, is needed."));
            return null;
        }

        var inner = Inner(value, place);
        var min = inner.Number("min", 0, 1e12, required: true, unit);
        var nominal = inner.Number("nominal", 0, 1e12, required: true, unit);
        var max = inner.Number("max", 0, 1e12, required: true, unit);
        if (min is null || nominal is null || max is null)
        {
            return null;
        }

        if (min > nominal || nominal > max)
        {
            problems.Add(new(place, "min, nominal and max must rise in this order."));
            return null;
        }

        return IsThere(min.Value * scale, value, place, unit) && IsThere(nominal.Value * scale, value, place, unit) && IsThere(max.Value * scale, value, place, unit)
            ? new OhmRange(min.Value, nominal.Value, max.Value).Scaled(scale)
            : null;
    }

    /// <summary>A figure that is one number, or <c>{min, nominal, max}</c> where nobody measured it.</summary>
    /// <param name="least">Least of all three.</param>
    /// <param name="most">Greatest of all three.</param>
    public FigureRange? Figures(string field, double least, double most, bool required = false, string unit = "")
    {
        if (!Find(field, out var value) || value.ValueKind != JsonValueKind.Object)
        {
            return Number(field, least, most, required, unit) is { } only ? FigureRange.Exactly(only) : null;
        }

        var inner = Inner(value, $"{At}/{Escape(field)}");
        if (inner.Number("min", least, most, required: true, unit) is not { } min || inner.Number("nominal", least, most, required: true, unit) is not { } nominal || inner.Number("max", least, most, required: true, unit) is not { } max)
        {
            return null;
        }

        if (min > nominal || nominal > max)
        {
            Wrong(field, "min, nominal and max must rise in this order.");
            return null;
        }

        return new(min, nominal, max);
    }

    /// <summary>Whether a resistance is 0 or one that metal can have; reported otherwise.</summary>
    private bool IsThere(double ohms, JsonElement value, string place, string unit)
    {
        if (ohms is 0 or >= LeastOhms)
        {
            return true;
        }

        problems.Add(new(place, $"{(value.ValueKind == JsonValueKind.Number ? value.GetRawText() + In(unit) : "A value in it")} is less than any metal has; write 0, or at least 1 nΩ."));
        return false;
    }

    public bool? Flag(string field)
    {
        if (!Find(field, out var value))
        {
            return null;
        }

        if (value.ValueKind is JsonValueKind.True or JsonValueKind.False)
        {
            return value.GetBoolean();
        }

        Wrong(field, $"This is {Describe(value)}; true or false is needed.");
        return null;
    }

    /// <summary>The text of a field without any check; null when it is absent or no text.</summary>
    public string? TextOrNull(string field) =>
        Find(field, out var value) && value.ValueKind == JsonValueKind.String ? value.GetString() : null;

    /// <summary>An object one level down; null when absent or no object.</summary>
    public JsonPlace? Object(string field) =>
        Find(field, out var value) && value.ValueKind == JsonValueKind.Object
            ? Inner(value, $"{At}/{Escape(field)}")
            : null;

    /// <summary>One of a fixed set of words; null when absent or wrong (then reported).</summary>
    public T? Word<T>(string field, IReadOnlyDictionary<string, T> words)
        where T : struct
    {
        if (Text(field) is not { } text)
        {
            return null;
        }

        if (words.TryGetValue(text, out var value))
        {
            return value;
        }

        Wrong(field, $"'{text}' is not known here; write one of {string.Join(", ", words.Keys)}.");
        return null;
    }

    /// <summary>The entries of a list of objects; entries of another type are reported and left out.</summary>
    public IEnumerable<JsonPlace> Objects(string field)
    {
        var result = new List<JsonPlace>();
        foreach (var (value, place) in Items(field))
        {
            if (value.ValueKind == JsonValueKind.Object)
            {
                result.Add(Inner(value, place));
            }
            else
            {
                problems.Add(new(place, $"This is {Describe(value)}; an object in braces is needed."));
            }
        }

        return result;
    }

    /// <summary>The raw entries of a list with their places; empty when absent or no list (then reported).</summary>
    public IEnumerable<(JsonElement Value, string At)> Items(string field)
    {
        if (!Find(field, out var value))
        {
            return [];
        }

        if (value.ValueKind != JsonValueKind.Array)
        {
            Wrong(field, $"This is {Describe(value)}; a list in square brackets is needed.");
            return [];
        }

        if (value.GetArrayLength() > MostEntries)
        {
            Wrong(field, string.Create(CultureInfo.InvariantCulture, $"{value.GetArrayLength():#,0} entries; at most {MostEntries:#,0} are read. The largest loom that anybody builds has some thousands."));
            return [];
        }

        var place = $"{At}/{Escape(field)}";
        return value.EnumerateArray().Select((item, index) => (item, string.Create(CultureInfo.InvariantCulture, $"{place}/{index}"))).ToList();
    }

    /// <summary>The fields of an object with their places; empty when absent or no object (then reported).</summary>
    public IEnumerable<(string Name, JsonElement Value, string At)> Fields(string field)
    {
        if (!Find(field, out var value))
        {
            return [];
        }

        if (value.ValueKind != JsonValueKind.Object)
        {
            Wrong(field, $"This is {Describe(value)}; an object in braces is needed.");
            return [];
        }

        var place = $"{At}/{Escape(field)}";
        return value.EnumerateObject().Select(p => (p.Name, p.Value, $"{place}/{Escape(p.Name)}")).ToList();
    }

    public double? NumberOf(JsonElement value, string place, double least, double most, string unit)
    {
        if (value.ValueKind != JsonValueKind.Number)
        {
            problems.Add(new(place, $"This is {Describe(value)}; a number{In(unit)} is needed."));
            return null;
        }

        var number = value.GetDouble();
        if (double.IsFinite(number) && number >= least && number <= most)
        {
            return number;
        }

        problems.Add(new(place, string.Create(CultureInfo.InvariantCulture, $"{value.GetRawText()}{In(unit)} cannot be; it lies between {least} and {most}.")));
        return null;
    }

    internal static string Describe(JsonElement value) => value.ValueKind switch
    {
        JsonValueKind.String => "a text",
        JsonValueKind.Number => "a number",
        JsonValueKind.Object => "an object",
        JsonValueKind.Array => "a list",
        JsonValueKind.Null => "null",
        _ => "true or false",
    };

    /// <summary>No list of a file is longer.</summary>
    internal const int MostEntries = 50_000;

    /// <summary>Less is no resistance of anything, ohms.</summary>
    private const double LeastOhms = 1e-9;

    private static string In(string unit) => unit.Length == 0 ? "" : " " + unit;

    /// <summary>A field's name as a part of a JSON pointer (RFC 6901).</summary>
    internal static string Escape(string field) =>
        field.Replace("~", "~0", StringComparison.Ordinal).Replace("/", "~1", StringComparison.Ordinal);
}
