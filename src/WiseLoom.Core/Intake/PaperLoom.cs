using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Intake;

/// <summary>Writes a loom file of the wires that papers have; what they do not say stands in it as a range, or as not confirmed.</summary>
internal static class PaperLoom
{
    /// <param name="said">Which families a person chose.</param>
    /// <param name="memory">Families of the shop.</param>
    internal static (JsonObject Document, ImmutableArray<FoundConnector> Connectors) Write(
        string name, ImmutableArray<PaperWire> wires, IReadOnlySet<string> splices, IEnumerable<PaperEnd> alone, IntakeSaid said, IntakeMemory memory, List<string> guessed)
    {
        var ends = wires.SelectMany(w => new[] { w.One, w.Other }).Concat(alone).Where(e => e.Pin.Length > 0).GroupBy(e => e.Connector, StringComparer.Ordinal)
            .Select(g => (Name: g.Key, Pins: g.Select(e => e.Pin).Distinct(StringComparer.Ordinal).Order(NaturalOrder.Comparer).ToImmutableArray())).ToList();
        var refs = Refs(ends.Select(e => e.Name).Concat(splices));
        var faces = new PaperFaces(said, memory);
        ImmutableArray<FoundConnector> found = [.. ends.Select(e => faces.For(refs[e.Name], e.Name, e.Pins))];
        var connectors = new JsonArray([.. found.Select(c => (JsonNode)new JsonObject { ["ref"] = c.Ref, ["title"] = c.Title, ["family"] = c.Family })]);
        Guesses(wires, faces.Unconfirmed, memory.Unknown, guessed);
        return (new JsonObject
        {
            ["format"] = "wise-loom/loom",
            ["version"] = 1,
            ["loom"] = new JsonObject { ["name"] = name, ["revision"] = "A" },
            ["families"] = new JsonArray([.. faces.Families]),
            ["connectors"] = connectors,
            ["splices"] = new JsonArray([.. splices.Select(s => (JsonNode)new JsonObject { ["ref"] = refs[s], ["kind"] = "crimp" })]),
            ["wires"] = new JsonArray([.. wires.Select(w => (JsonNode)Wire(w, refs, memory.Unknown))]),
        }, found);
    }

    private static JsonObject Wire(PaperWire wire, Dictionary<string, string> refs, UnknownFigures unknown)
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
            json["mm2"] = row.Mm2 is { } mm2 ? mm2 : unknown.Section();
        }

        json["lengthMm"] = row.LengthMm is { } length ? length : unknown.Length();
        foreach (var (field, text) in (ReadOnlySpan<(string, string)>)[("circuit", row.Signal), ("group", row.Twisted), ("role", row.Role), ("note", row.Note)])
        {
            if (text.Length > 0)
            {
                json[field] = text.Length <= 200 ? text : text[..200];
            }
        }

        return json;
    }

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

    private static void Guesses(ImmutableArray<PaperWire> wires, int unconfirmed, UnknownFigures unknown, List<string> guessed)
    {
        var (lengths, sections) = (wires.Count(w => w.Row.LengthMm is null), wires.Count(w => w.Row.Mm2 is null && w.Row.Awg is null));
        if (lengths > 0)
        {
            guessed.Add(string.Create(CultureInfo.InvariantCulture, $"No length at {lengths} of {wires.Length} wires: {unknown.LeastMm / 1000:0.0##} to {unknown.MostMm / 1000:0.###} m is taken. What a limit cannot see because of that is told before the first touch."));
        }

        if (sections > 0)
        {
            guessed.Add(string.Create(CultureInfo.InvariantCulture, $"No section at {sections} of {wires.Length} wires: {unknown.LeastMm2} to {unknown.MostMm2} mm² is taken."));
        }

        if (unconfirmed > 0)
        {
            guessed.Add($"{unconfirmed} {(unconfirmed == 1 ? "face is" : "faces are")} made from the pins that occur, and not confirmed.");
        }
    }
}
