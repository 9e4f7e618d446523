using System.Globalization;
using System.Text.Json;

namespace WiseLoom.Core.Json;

/// <summary>Whether JSON holds more than anybody works with, told before a tree is made of it: of a few megabytes of empty entries that tree would take a gigabyte.</summary>
public static class JsonSize
{
    /// <summary>Values of all kinds in one file; a loom of 24,000 wires has some 300,000.</summary>
    public const int MostValues = 1_500_000;

    private const int Deepest = 256;

    /// <summary>What is too much; null when nothing is, or when it is no JSON, which its reader tells.</summary>
    public static Problem? TooMuch(ReadOnlySpan<byte> json)
    {
        var reader = new Utf8JsonReader(json, new JsonReaderOptions { MaxDepth = Deepest });
        var (counts, values) = (new int[Deepest + 2], 0);
        try
        {
            while (reader.Read())
            {
                if (reader.TokenType is JsonTokenType.EndArray or JsonTokenType.EndObject or JsonTokenType.PropertyName or JsonTokenType.Comment)
                {
                    continue;
                }

                var depth = reader.CurrentDepth;
                if (++values > MostValues)
                {
                    return new("", string.Create(CultureInfo.InvariantCulture, $"Holds more than {MostValues:#,0} values: this is no loom."));
                }

                if (++counts[depth] > JsonPlace.MostEntries)
                {
                    return new("", string.Create(CultureInfo.InvariantCulture, $"A list has more than {JsonPlace.MostEntries:#,0} entries: this is no loom."));
                }

                counts[depth + 1] = 0;
            }
        }
        catch (JsonException)
        {
            return null;
        }

        return null;
    }
}
