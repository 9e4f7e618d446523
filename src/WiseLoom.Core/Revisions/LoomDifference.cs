using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Revisions;

/// <summary>What happened to a part of a loom from one file to another.</summary>
public enum ChangeKind
{
    /// <summary>Stands only in the later file.</summary>
    Added,
    /// <summary>Stands only in the earlier file.</summary>
    Removed,

    /// <summary>An end of a wire sits elsewhere.</summary>
    Moved,

    /// <summary>Another colour or section.</summary>
    Recoloured,

    /// <summary>Anything else.</summary>
    Changed,
}

/// <summary>One change, readable by a person.</summary>
/// <param name="List">The list of the loom file it is in: <c>wires</c>; <c>loom</c> for the loom's own facts; <c>file</c> for unknown fields beside the lists.</param>
/// <param name="Name">The part's id or ref; empty for the loom itself.</param>
/// <param name="Sentence">What changed, from what to what.</param>
public sealed record LoomChange(ChangeKind Kind, string List, string Name, string Sentence);

/// <summary>Compares two loom files part by part. Either may have problems: what is compared is what stands in them.</summary>
public static class LoomDifference
{
    private static readonly Dictionary<string, string> FieldWords = new(StringComparer.Ordinal)
    {
        ["mm2"] = "section (mm²)", ["awg"] = "gauge (AWG)", ["lengthMm"] = "length (mm)", ["atMm"] = "place (mm)", ["ifLeftOff"] = "if left off", ["supplyVolts"] = "supply (V)",
        ["ambientC"] = "ambient temperature (°C)", ["weightKg"] = "weight (kg)", ["numberedFrom"] = "numbered from", ["contactMilliohm"] = "contact (mΩ)", ["legMilliohm"] = "leg (mΩ)", ["wiresPerCavity"] = "wires in a cavity",
    };

    /// <summary>All changes, wires first, each list in natural order of its names; empty when the two say the same.</summary>
    public static ImmutableArray<LoomChange> Between(JsonObject before, JsonObject after, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(after);
        var changes = new List<LoomChange>();
        foreach (var (field, name, word) in LoomDocument.Lists.OrderBy(l => l.Field == "wires" ? 0 : l.Field == "connectors" ? 1 : 2))
        {
            changes.AddRange(InList(field, name, word, before[field], after[field], cancel));
        }

        if (before["loom"] is JsonObject head && after["loom"] is JsonObject newHead)
        {
            changes.AddRange(Fields(head, newHead).Select(f => new LoomChange(ChangeKind.Changed, "loom", "", $"Loom: {f}.")));
        }

        var others = before.Select(f => f.Key).Union(after.Select(f => f.Key)).Where(k => k != "loom" && LoomDocument.Lists.All(l => l.Field != k));
        changes.AddRange(others.Where(k => !JsonNode.DeepEquals(before[k], after[k])).Select(k => new LoomChange(ChangeKind.Changed, "file", k, $"Field {k} of the file differs.")));
        return [.. changes];
    }

    /// <summary>The parts of a list by name. Parts without one, and second ones of a name, are told apart by their place.</summary>
    internal static Dictionary<string, JsonNode?> ByName(JsonNode? list, string nameField)
    {
        var parts = new Dictionary<string, JsonNode?>(StringComparer.Ordinal);
        var index = 0;
        foreach (var item in list as JsonArray ?? [])
        {
            index++;
            var name = item is JsonObject o && o[nameField] is JsonValue v && v.GetValueKind() == JsonValueKind.String ? v.GetValue<string>() : "";
            if (name.Length == 0 || !parts.TryAdd(name, item))
            {
                parts[string.Create(CultureInfo.InvariantCulture, $"{name}#{index}")] = item;
            }
        }

        return parts;
    }

    private static IEnumerable<LoomChange> InList(string field, string nameField, string word, JsonNode? before, JsonNode? after, CancellationToken cancel)
    {
        var (old, now) = (ByName(before, nameField), ByName(after, nameField));
        foreach (var name in old.Keys.Union(now.Keys).Order(NaturalOrder.Comparer))
        {
            cancel.ThrowIfCancellationRequested();
            var (was, isNow) = (old.GetValueOrDefault(name), now.GetValueOrDefault(name));
            if (JsonNode.DeepEquals(was, isNow))
            {
                continue;
            }

            var title = $"{char.ToUpperInvariant(word[0])}{word[1..]} {name}";
            if (!old.ContainsKey(name))
            {
                yield return new(ChangeKind.Added, field, name, $"{title} is new{Describe(isNow)}.");
            }
            else if (!now.ContainsKey(name))
            {
                yield return new(ChangeKind.Removed, field, name, $"{title} is gone{Describe(was)}.");
            }
            else if (was is JsonObject a && isNow is JsonObject b)
            {
                yield return new(Kind(field, a, b), field, name, $"{title}: {string.Join("; ", Fields(a, b))}.");
            }
            else
            {
                yield return new(ChangeKind.Changed, field, name, $"{title} differs.");
            }
        }
    }

    private static ChangeKind Kind(string list, JsonObject was, JsonObject isNow)
    {
        bool Differs(params string[] fields) => fields.Any(f => !JsonNode.DeepEquals(was[f], isNow[f]));
        return list == "wires" && Differs("from", "to") ? ChangeKind.Moved
            : list is "connectors" or "splices" && Differs("branch", "atMm") ? ChangeKind.Moved
            : list == "wires" && Differs("colour", "mm2", "awg") ? ChangeKind.Recoloured
            : ChangeKind.Changed;
    }

    private static IEnumerable<string> Fields(JsonObject was, JsonObject isNow) => was.Select(f => f.Key).Union(isNow.Select(f => f.Key))
        .Where(k => !JsonNode.DeepEquals(was[k], isNow[k]))
        .Select(k => $"{FieldWords.GetValueOrDefault(k, k)} {Value(was[k])} → {Value(isNow[k])}");

    private static string Describe(JsonNode? part) => part is JsonObject o && o["from"] is { } from && o["to"] is { } to
        ? $": {Value(from)} to {Value(to)}{(o["circuit"] is { } circuit ? $", {Value(circuit)}" : "")}"
        : part is JsonObject p && p["title"] is { } title ? $": {Value(title)}" : "";

    private static string Value(JsonNode? value)
    {
        var text = value is null ? "none" : value.GetValueKind() == JsonValueKind.String ? value.GetValue<string>() : value.ToJsonString();
        return text.Length switch { 0 => "empty", > 80 => text[..78] + " …", _ => text };
    }
}
