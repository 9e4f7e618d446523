using System.Collections.Immutable;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Revisions;

/// <summary>A field that two people gave different values.</summary>
/// <param name="Place">What it is: <c>wire W12, length (mm)</c>.</param>
public sealed record Clash(string Place, string Mine, string Theirs);

/// <summary>Two people's changes to one loom file, laid together.</summary>
/// <param name="Theirs">What the other one changed.</param>
/// <param name="Mine">What I changed.</param>
/// <param name="Clashes">Fields both changed, differently.</param>
/// <param name="Together">Both people's changes; mine where both changed the same field.</param>
public sealed record Reconciliation(ImmutableArray<LoomChange> Theirs, ImmutableArray<LoomChange> Mine, ImmutableArray<Clash> Clashes, JsonObject Together)
{
    /// <summary>Lays two changed files over the one that both started from, part by part and field by field.</summary>
    /// <remarks>A part that one removed and the other changed stays, with the change, and is named as a clash.</remarks>
    public static Reconciliation Of(JsonObject start, JsonObject mine, JsonObject theirs, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(start);
        ArgumentNullException.ThrowIfNull(mine);
        ArgumentNullException.ThrowIfNull(theirs);
        var clashes = new List<Clash>();
        var together = new JsonObject();
        foreach (var field in mine.Select(f => f.Key).Union(theirs.Select(f => f.Key)))
        {
            var list = LoomDocument.Lists.FirstOrDefault(l => l.Field == field);
            var value = list.Field is not null && mine[field] is JsonArray && theirs[field] is JsonArray
                ? Lists(list.Name, list.Word, start[field], mine[field], theirs[field], clashes)
                : field == "loom" && mine[field] is JsonObject a && theirs[field] is JsonObject b
                    ? Fields("loom", start[field] as JsonObject ?? [], a, b, clashes)
                    : Pick(field, start[field], mine[field], theirs[field], clashes);
            if (value is not null || mine.ContainsKey(field))
            {
                together[field] = value?.DeepClone();
            }
        }

        return new(LoomDifference.Between(start, theirs, cancel), LoomDifference.Between(start, mine, cancel), [.. clashes], together);
    }

    private static JsonArray Lists(string nameField, string word, JsonNode? start, JsonNode? mine, JsonNode? theirs, List<Clash> clashes)
    {
        var (was, my, their) = (LoomDifference.ByName(start, nameField), LoomDifference.ByName(mine, nameField), LoomDifference.ByName(theirs, nameField));
        var result = new JsonArray();

        // My order, then what they added.
        foreach (var name in my.Keys.Concat(their.Keys.Where(k => !my.ContainsKey(k))))
        {
            var (old, a, b) = (was.GetValueOrDefault(name), my.GetValueOrDefault(name), their.GetValueOrDefault(name));
            JsonNode? kept;
            if (a is JsonObject x && b is JsonObject y)
            {
                kept = Fields($"{word} {name}", old as JsonObject ?? [], x, y, clashes);
            }
            else if (my.ContainsKey(name) && their.ContainsKey(name))
            {
                kept = Pick($"{word} {name}", old, a, b, clashes);
            }
            else
            {
                var (left, whose) = my.ContainsKey(name) ? (a, "theirs") : (b, "mine");
                if (was.ContainsKey(name) && JsonNode.DeepEquals(old, left))
                {
                    continue;
                }

                if (was.ContainsKey(name))
                {
                    clashes.Add(whose == "theirs" ? new($"{word} {name}", "changed", "removed") : new($"{word} {name}", "removed", "changed"));
                }

                kept = left;
            }

            result.Add(kept?.DeepClone());
        }

        return result;
    }

    private static JsonObject Fields(string place, JsonObject start, JsonObject mine, JsonObject theirs, List<Clash> clashes)
    {
        var result = new JsonObject();
        foreach (var field in mine.Select(f => f.Key).Union(theirs.Select(f => f.Key)))
        {
            var value = Pick($"{place}, {field}", start[field], mine[field], theirs[field], clashes);
            if (value is not null || (mine.ContainsKey(field) && mine[field] is null))
            {
                result[field] = value?.DeepClone();
            }
        }

        return result;
    }

    private static JsonNode? Pick(string place, JsonNode? start, JsonNode? mine, JsonNode? theirs, List<Clash> clashes)
    {
        if (JsonNode.DeepEquals(mine, theirs) || JsonNode.DeepEquals(theirs, start))
        {
            return mine;
        }

        if (JsonNode.DeepEquals(mine, start))
        {
            return theirs;
        }

        clashes.Add(new(place, mine?.ToJsonString() ?? "none", theirs?.ToJsonString() ?? "none"));
        return mine;
    }
}
