using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Intake;

/// <summary>Writes a loom file of the wires that papers have; what they do not say stands in it as a range, or as not confirmed.</summary>
internal static class PaperLoom
{
    /// <summary>A length that nobody gave, millimetres: the shortest, the usual and the longest wire of a shop.</summary>
    internal static (double Min, double Nominal, double Max) AnyLength { get; } = (100, 1500, 6000);

    /// <summary>A section that nobody gave, mm².</summary>
    internal static (double Min, double Nominal, double Max) AnySection { get; } = (0.35, 0.5, 1);

    /// <summary>The most pins of a housing that is made from the pins that occur.</summary>
    private const int MostPins = 400;

    internal static JsonObject Write(string name, ImmutableArray<PaperWire> wires, IReadOnlySet<string> splices, IEnumerable<PaperEnd> alone, List<string> guessed)
    {
        var ends = wires.SelectMany(w => new[] { w.One, w.Other }).Concat(alone).Where(e => e.Pin.Length > 0).GroupBy(e => e.Connector, StringComparer.Ordinal)
            .Select(g => (Name: g.Key, Pins: g.Select(e => e.Pin).Distinct(StringComparer.Ordinal).Order(NaturalOrder.Comparer).ToImmutableArray())).ToList();
        var refs = Refs(ends.Select(e => e.Name).Concat(splices));
        var families = new Dictionary<string, JsonObject>(StringComparer.Ordinal);
        var connectors = new JsonArray([.. ends.Select(e => (JsonNode)new JsonObject { ["ref"] = refs[e.Name], ["title"] = e.Name, ["family"] = Family(e.Pins, families) })]);
        Guesses(wires, families, guessed);
        return new JsonObject
        {
            ["format"] = "wise-loom/loom",
            ["version"] = 1,
            ["loom"] = new JsonObject { ["name"] = name, ["revision"] = "A" },
            ["families"] = new JsonArray([.. families.Values]),
            ["connectors"] = connectors,
            ["splices"] = new JsonArray([.. splices.Select(s => (JsonNode)new JsonObject { ["ref"] = refs[s], ["kind"] = "crimp" })]),
            ["wires"] = new JsonArray([.. wires.Select(w => (JsonNode)Wire(w, refs))]),
        };
    }

    private static JsonObject Wire(PaperWire wire, Dictionary<string, string> refs)
    {
        string End(PaperEnd end) => end.Pin.Length == 0 ? refs[end.Connector] : $"{refs[end.Connector]}:{end.Pin}";
        var row = wire.Row;
        var json = new JsonObject { ["id"] = wire.Id, ["from"] = End(wire.One), ["to"] = End(wire.Other) };
        if (!row.Colour.Codes.IsDefaultOrEmpty)
        {
            json["colour"] = row.Colour.Text;
        }

        if (row.Awg is { } awg)
        {
            json["awg"] = awg;
            if (Quantities.Neighbour(awg) is { } neighbour)
            {
                json["mm2"] = neighbour;
            }
        }
        else
        {
            json["mm2"] = row.Mm2 is { } mm2 ? mm2 : Range(AnySection);
        }

        json["lengthMm"] = row.LengthMm is { } length ? length : Range(AnyLength);
        foreach (var (field, text) in (ReadOnlySpan<(string, string)>)[("circuit", row.Signal), ("group", row.Twisted), ("role", row.Role), ("note", row.Note)])
        {
            if (text.Length > 0)
            {
                json[field] = text.Length <= 200 ? text : text[..200];
            }
        }

        return json;
    }

    private static JsonObject Range((double Min, double Nominal, double Max) of) => new() { ["min"] = of.Min, ["nominal"] = of.Nominal, ["max"] = of.Max };

    /// <summary>A family of the pins that occur: numbers as a grid, names in one row.</summary>
    private static string Family(ImmutableArray<string> pins, Dictionary<string, JsonObject> families)
    {
        var numbers = pins.Select(p => int.TryParse(p, NumberStyles.None, CultureInfo.InvariantCulture, out var n) && $"{n}" == p ? n : 0).ToList();
        var isGrid = numbers.TrueForAll(n => n is > 0 and <= MostPins);
        var all = isGrid ? [.. Enumerable.Range(1, numbers.Max()).Select(n => n.ToString(CultureInfo.InvariantCulture))] : pins;
        var id = isGrid ? $"pins-{all.Length}" : $"pins-{string.Join('-', pins.Take(6)).ToLowerInvariant()}{(pins.Length > 6 ? $"-{pins.Length}" : "")}";
        var free = id;
        for (var n = 2; families.TryGetValue(free, out var there) && !Cavities(there).SetEquals(all); n++)
        {
            free = $"{id}-{n}";
        }

        if (!families.ContainsKey(free))
        {
            var rows = all.Length <= 6 ? 1 : all.Length <= 24 ? 2 : all.Length <= 60 ? 3 : 4;
            var wide = (all.Length + rows - 1) / rows;
            families[free] = new()
            {
                ["id"] = free,
                ["title"] = isGrid ? $"{all.Length}-way, face not confirmed" : "Face not confirmed",
                ["rows"] = new JsonArray([.. all.Chunk(wide).Select(r => (JsonNode)new JsonArray([.. r.Select(p => (JsonNode)p)]))]),
                ["confirmed"] = all.Length == 1,
            };
        }

        return free;
    }

    private static HashSet<string> Cavities(JsonObject family) => [.. family["rows"]!.AsArray().SelectMany(r => r!.AsArray()).Select(p => p!.GetValue<string>())];

    /// <summary>A short name without blanks for each, as the loom file wants it.</summary>
    private static Dictionary<string, string> Refs(IEnumerable<string> names)
    {
        var (refs, taken) = (new Dictionary<string, string>(StringComparer.Ordinal), new HashSet<string>(StringComparer.Ordinal));
        foreach (var name in names.Distinct(StringComparer.Ordinal))
        {
            var plain = string.Concat(name.Trim().Select(c => char.IsWhiteSpace(c) || c is ':' or '/' or '@' ? '-' : c));
            plain = plain.Length <= 40 ? plain : plain[..40];
            var free = plain;
            for (var n = 2; !taken.Add(free); n++)
            {
                free = $"{plain}-{n}";
            }

            refs[name] = free;
        }

        return refs;
    }

    private static void Guesses(ImmutableArray<PaperWire> wires, Dictionary<string, JsonObject> families, List<string> guessed)
    {
        var (lengths, sections) = (wires.Count(w => w.Row.LengthMm is null), wires.Count(w => w.Row.Mm2 is null && w.Row.Awg is null));
        if (lengths > 0)
        {
            guessed.Add(string.Create(CultureInfo.InvariantCulture, $"No length at {lengths} of {wires.Length} wires: {AnyLength.Min / 1000:0.0} to {AnyLength.Max / 1000:0} m is taken. What a limit cannot see because of that is told before the first touch."));
        }

        if (sections > 0)
        {
            guessed.Add(string.Create(CultureInfo.InvariantCulture, $"No section at {sections} of {wires.Length} wires: {AnySection.Min} to {AnySection.Max} mm² is taken."));
        }

        guessed.Add($"{families.Count} {(families.Count == 1 ? "face is" : "faces are")} made from the pins that occur, and not confirmed.");
    }
}
