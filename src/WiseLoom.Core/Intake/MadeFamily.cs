using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Nodes;

namespace WiseLoom.Core.Intake;

/// <summary>A family made from the pins that occur: numbers as a grid with the most usual numbering, names in one row. Nobody has looked at its face.</summary>
internal static class MadeFamily
{
    /// <summary>The highest number of a pin that makes a grid of all numbers below it.</summary>
    private const int MostPins = 400;

    private const string Unseen = "face not confirmed";

    /// <summary>All cavities that a housing with these pins has at least.</summary>
    internal static ImmutableArray<string> Cavities(ImmutableArray<string> pins)
    {
        var numbers = pins.Select(p => int.TryParse(p, NumberStyles.None, CultureInfo.InvariantCulture, out var n) && $"{n}" == p ? n : 0).ToList();
        return IsGrid(numbers) ? [.. Enumerable.Range(1, numbers.Max()).Select(n => n.ToString(CultureInfo.InvariantCulture))] : pins;
    }

    /// <summary>How a family of these cavities is called: <c>pins-12</c>, <c>pins-a-b-c</c>.</summary>
    internal static string Id(ImmutableArray<string> cavities) =>
        cavities.All(c => c.All(char.IsAsciiDigit)) ? $"pins-{cavities.Length}"
            : $"pins-{string.Join('-', cavities.Take(6)).ToLowerInvariant()}{(cavities.Length > 6 ? $"-{cavities.Length}" : "")}";

    /// <summary>The family as a loom file writes it.</summary>
    /// <param name="confirmed">Whether somebody has said that its face is so.</param>
    internal static JsonObject Write(string id, ImmutableArray<string> cavities, bool confirmed)
    {
        var rows = cavities.Length <= 6 ? 1 : cavities.Length <= 24 ? 2 : cavities.Length <= 60 ? 3 : 4;
        var wide = (cavities.Length + rows - 1) / rows;
        var ways = cavities.All(c => c.All(char.IsAsciiDigit)) ? $"{cavities.Length}-way" : "Named pins";
        return new()
        {
            ["id"] = id,
            ["title"] = confirmed ? ways : $"{ways}, {Unseen}",
            ["rows"] = new JsonArray([.. cavities.Chunk(wide).Select(r => (JsonNode)new JsonArray([.. r.Select(p => (JsonNode)p)]))]),
            ["confirmed"] = confirmed,
        };
    }

    private static bool IsGrid(List<int> numbers) => numbers.Count > 0 && numbers.TrueForAll(n => n is > 0 and <= MostPins);
}
