using System.Collections.Immutable;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Intake;

/// <summary>What can be added to a draft so that ends of its wires are there.</summary>
/// <param name="Words">What would be added: <c>Make ECU with pins 17 and 18</c>.</param>
/// <param name="Connector">The connector that is new, as a loom file writes it; null where it is there and only lacks a pin.</param>
/// <param name="Family">Its family as a loom file writes it, in place of the draft's of that id.</param>
public sealed record EndOffer(string Words, JsonObject? Connector, JsonObject Family);

/// <summary>Offers to make connectors that wires of a draft name and that are not there yet, and pins that a face nobody has confirmed lacks.</summary>
public static class EndOffers
{
    /// <summary>So many offers are made at once.</summary>
    public const int Most = 50;

    /// <summary>Whether problems of a draft are such that an offer may help.</summary>
    public static bool MayHelp(ImmutableArray<Problem> problems) => problems.Any(p => IsEnd(p.At.Split('/')));

    /// <summary>The offers for a draft, in the order of its wires.</summary>
    public static ImmutableArray<EndOffer> Of(JsonObject draft, ImmutableArray<Problem> problems)
    {
        ArgumentNullException.ThrowIfNull(draft);
        var wanted = new Dictionary<string, SortedSet<string>>(StringComparer.Ordinal);
        foreach (var at in problems.Select(p => p.At.Split('/')).Where(IsEnd))
        {
            if (draft["wires"] is JsonArray wires && int.TryParse(at[2], out var row) && row < wires.Count && Text(wires[row], at[3]) is { } end && ProbePoint.TryParse(end, out var point)
                && EndForms.IsPin(point.Cavity))
            {
                (wanted.TryGetValue(point.Connector, out var pins) ? pins : wanted[point.Connector] = new(NaturalOrder.Comparer)).Add(point.Cavity);
            }
        }

        return [.. wanted.Select(w => Offer(draft, w.Key, w.Value)).OfType<EndOffer>().Take(Most)];
    }

    private static bool IsEnd(string[] at) => at is [_, "wires", _, "from" or "to", ..];

    private static EndOffer? Offer(JsonObject draft, string connector, SortedSet<string> pins)
    {
        var said = $"{(pins.Count == 1 ? "pin" : "pins")} {Assembler.Some(pins)}";
        var known = Entries(draft, "connectors").FirstOrDefault(c => Text(c, "ref") == connector);
        if (known is null)
        {
            var cavities = MadeFamily.Cavities([.. pins]);
            var id = Free(draft, MadeFamily.Id(cavities), cavities);
            var row = new JsonObject { ["ref"] = connector, ["title"] = connector, ["family"] = id };
            return new($"Make {connector} with {said}", row, MadeFamily.Write(id, cavities, cavities.Length == 1));
        }

        if (Text(known, "family") is not { } family || Entries(draft, "families").FirstOrDefault(f => Text(f, "id") == family) is not { } body || !IsMade(body))
        {
            return null;
        }

        var others = Entries(draft, "connectors").Count(c => Text(c, "family") == family);
        var all = MadeFamily.Cavities([.. Cavities(body).Union(pins).Order(NaturalOrder.Comparer)]);
        var free = others > 1 ? Free(draft, MadeFamily.Id(all), all) : family;
        return new(
            $"Add {said} to {connector}",
            free == family ? null : Copied(known, free),
            MadeFamily.Write(free, all, false));
    }

    private static JsonObject Copied(JsonObject connector, string family)
    {
        var copy = connector.DeepClone().AsObject();
        copy["family"] = family;
        return copy;
    }

    /// <summary>Whether a face was made from pins and nobody has said yet that it is so.</summary>
    private static bool IsMade(JsonObject family) =>
        family["confirmed"] is JsonValue value && value.TryGetValue<bool>(out var confirmed) && (!confirmed || Cavities(family).Count() == 1) && Text(family, "id")?.StartsWith("pins-", StringComparison.Ordinal) == true;

    private static IEnumerable<string> Cavities(JsonObject family) =>
        family["rows"] is JsonArray rows ? rows.OfType<JsonArray>().SelectMany(r => r).OfType<JsonValue>().Select(v => v.TryGetValue<string>(out var text) ? text : "").Where(t => t.Length > 0) : [];

    /// <summary>An id that no family of the draft has, unless it has the same cavities.</summary>
    private static string Free(JsonObject draft, string id, ImmutableArray<string> cavities)
    {
        var free = id;
        for (var n = 2; Entries(draft, "families").FirstOrDefault(f => Text(f, "id") == free) is { } there && !Cavities(there).SequenceEqual(cavities); n++)
        {
            free = $"{id}-{n}";
        }

        return free;
    }

    private static IEnumerable<JsonObject> Entries(JsonObject draft, string list) => draft[list] is JsonArray entries ? entries.OfType<JsonObject>() : [];

    private static string? Text(JsonNode? of, string field) => of is JsonObject entry && entry[field] is JsonValue value && value.TryGetValue<string>(out var text) ? text : null;
}
