using System.Collections.Immutable;
using System.Text.Json;

namespace WiseLoom.Core.Devices;

/// <summary>Reads groups of pins that a device joins.</summary>
internal static class NamesOfPins
{
    /// <summary>A hint at the pin whose name differs least, when it is close enough to be meant.</summary>
    internal static string Meant(string wrong, IEnumerable<string> pins) => EditDistance.Nearest(wrong, pins) is { } near ? $" Is '{near}' meant?" : "";

    /// <summary>Groups of names: a list of lists, or one list for a single group.</summary>
    internal static ImmutableArray<ImmutableArray<string>> Groups(JsonPlace place, JsonElement value, string at)
    {
        if (value.ValueKind == JsonValueKind.Array && value.EnumerateArray().All(e => e.ValueKind == JsonValueKind.Array))
        {
            return [.. value.EnumerateArray().Select((group, i) => Names(place, group, $"{at}/{i}"))];
        }

        return [Names(place, value, at)];
    }

    /// <summary>A list of names, each once.</summary>
    internal static ImmutableArray<string> Names(JsonPlace place, JsonElement value, string at)
    {
        if (value.ValueKind == JsonValueKind.Array && value.EnumerateArray().All(e => e.ValueKind == JsonValueKind.String))
        {
            return [.. value.EnumerateArray().Select(e => e.GetString()!).Distinct(StringComparer.Ordinal)];
        }

        place.WrongAt(at, "A list of names of pins is needed, such as [\"B\", \"IGN\"].");
        return [];
    }
}
