using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Pinouts;

/// <summary>Makes the new loom from two pinouts and what was decided about them.</summary>
/// <remarks>
/// With a loom on the left, its wires leave their old cavities for the partners on the right; without one, each pair becomes a new wire.
/// Lines that nobody has decided about are treated as left out, and named in the work list.
/// </remarks>
public sealed class MergeBuilder
{
    private const string TailFamily = "open-tail";
    private const string RelayFamily = "relay-base";

    private static readonly string[] Ends = ["from", "to"];

    private readonly JsonObject document;
    private readonly Pinout left;
    private readonly Pinout right;
    private readonly JsonArray rightFamilies;
    private readonly MergeDecisions decisions;
    private readonly bool onLoom;
    private readonly List<WorkItem> work = [];
    private readonly HashSet<string> names;
    private readonly Dictionary<string, string> renamed = new(StringComparer.Ordinal);

    private MergeBuilder(JsonObject? loom, Pinout left, JsonArray leftFamilies, Pinout right, JsonArray rightFamilies, MergeDecisions decisions)
    {
        onLoom = loom is not null;
        document = loom?.DeepClone().AsObject() ?? LoomDocument.Empty($"{left.Title} with {right.Title}");
        (this.left, this.right, this.rightFamilies, this.decisions) = (left, right, rightFamilies, decisions);
        names = [.. List("connectors").Concat(List("splices")).Select(c => Text(c, "ref")).OfType<string>(), .. List("wires").Select(w => Text(w, "id")).OfType<string>()];
        if (!onLoom)
        {
            Add("branches", new JsonObject { ["id"] = "trunk", ["parent"] = null, ["atMm"] = 0, ["lengthMm"] = decisions.UsualMm });
            AddConnectors(left, leftFamilies, 0);
        }

        AddConnectors(right, rightFamilies, onLoom ? null : decisions.UsualMm);
    }

    /// <summary>Builds the new loom's file and its work list.</summary>
    /// <param name="loom">The loom whose plugs the left pinout describes; null when the left is a sheet.</param>
    /// <param name="leftFamilies">Families, as a loom file writes them, of the left pinout's connectors; not needed with a loom.</param>
    /// <param name="rightFamilies">The same for the right.</param>
    public static MergeResult Build(JsonObject? loom, Pinout left, JsonArray leftFamilies, Pinout right, JsonArray rightFamilies, MergeDecisions decisions)
    {
        var builder = new MergeBuilder(loom, left, leftFamilies, right, rightFamilies, decisions);
        builder.JoinPairs();
        builder.SettleLeft();
        builder.SettleRight();
        builder.DropEmptied();
        return new(builder.document, [.. builder.work]);
    }

    private void JoinPairs()
    {
        foreach (var group in decisions.Pairs.GroupBy(p => p.Right))
        {
            var to = Renamed(group.Key);
            if (!onLoom)
            {
                foreach (var pair in group)
                {
                    AddWire(pair.Left.ToString(), to, left.At(pair.Left)!, MergeHalf.LikeToLike, "");
                }

                continue;
            }

            var wires = group.SelectMany(p => EndsAt(p.Left)).ToList();
            if (wires.Count > 1 && TakesOneWire(group.Key))
            {
                Splice(wires, to, right.At(group.Key)!);
                continue;
            }

            foreach (var (wire, end, from) in wires)
            {
                wire[end] = to;
                Work(MergeHalf.LikeToLike, "move-contact", $"{Text(wire, "id")}", $"Move {Describe(wire)} from {from} to {to}: {right.At(group.Key)!.Function}.");
            }
        }
    }

    private void Splice(List<(JsonObject Wire, string End, ProbePoint From)> wires, string to, PinoutLine line)
    {
        var reference = Fresh("SM");
        Add("splices", new JsonObject { ["ref"] = reference, ["kind"] = "crimp" });
        foreach (var (wire, end, _) in wires)
        {
            wire[end] = reference;
        }

        Work(MergeHalf.LikeToLike, "splice", reference, $"Crimp {string.Join(", ", wires.Select(w => Describe(w.Wire)))} together in splice {reference}: {to} takes one wire.");
        AddWire(reference, to, line, MergeHalf.LikeToLike, "");
    }

    private void SettleLeft()
    {
        var paired = decisions.Pairs.Select(p => p.Left).ToHashSet();
        var decided = decisions.Left.ToDictionary(l => l.Place, l => l.Decision);
        foreach (var line in left.Lines.Where(l => !paired.Contains(l.Place)))
        {
            var decision = decided.TryGetValue(line.Place, out var d) ? d : (LonelyDecision?)null;
            var name = line.Function.Length > 0 ? line.Function : "no function named";
            foreach (var (wire, end, from) in EndsAt(line.Place))
            {
                if (decision == LonelyDecision.LeaveOut)
                {
                    document["wires"]!.AsArray().Remove(wire);
                    Work(MergeHalf.Added, "remove-wire", from.ToString(), $"Take {Describe(wire)} out of {from}, back to where it begins: {name}.");
                }
                else
                {
                    var tail = Tail("KEPT", name);
                    wire[end] = $"{tail}:1";
                    Work(MergeHalf.Added, "insulate", from.ToString(), $"{(decision is null ? "Undecided: " : "")}take {Describe(wire)} out of {from}, insulate its end and label it {tail}: {name}.");
                }
            }

            if (!onLoom && decision == LonelyDecision.Insulate)
            {
                var tail = Tail("KEPT", name);
                AddWire(line.Place.ToString(), $"{tail}:1", line, MergeHalf.Added, $" Insulate its end and label it {tail}.");
            }
            else if (!onLoom)
            {
                Plug(line.Place.ToString(), name, decision is null);
            }
        }
    }

    private void SettleRight()
    {
        var paired = decisions.Pairs.Select(p => p.Right).ToHashSet();
        var decided = decisions.Right.ToDictionary(l => l.Place, l => l.Decision);
        foreach (var line in right.Lines.Where(l => !paired.Contains(l.Place)))
        {
            var (to, name) = (Renamed(line.Place), line.Function.Length > 0 ? line.Function : "no function named");
            if (!decided.TryGetValue(line.Place, out var decision) || decision == LonelyDecision.LeaveOut)
            {
                Plug(to, name, !decided.ContainsKey(line.Place));
            }
            else if (decision == LonelyDecision.OptionTail)
            {
                var tail = Tail("OPT", name);
                AddWire(to, $"{tail}:1", line, MergeHalf.Added, $" Leave the end as an open tail, insulated and labelled {tail}.");
            }
            else
            {
                AddRelay(to, line, name);
            }
        }
    }

    private void AddRelay(string to, PinoutLine line, string name)
    {
        Family(new JsonObject
        {
            ["id"] = RelayFamily, ["title"] = "Relay base, 5-way", ["rows"] = new JsonArray(new JsonArray(null, "87", null), new JsonArray("86", "87a", "85"), new JsonArray(null, "30", null)),
            ["numberedFrom"] = "mating-face", ["sealed"] = false,
        });
        var relay = Fresh("RL");
        Add("connectors", new JsonObject { ["ref"] = relay, ["title"] = $"Relay: {name}", ["family"] = RelayFamily });
        var (feed, load, splice) = (Tail("FEED", name), Tail("OPT", name), Fresh("SM"));
        Add("splices", new JsonObject { ["ref"] = splice, ["kind"] = "crimp" });
        Work(MergeHalf.Added, "add-relay", relay, $"Fit relay {relay} for {name}: coil between its fused feed and {to}, contact from the feed to the tail {load}.");
        AddWire(to, $"{relay}:85", line, MergeHalf.Added, " It switches the coil.");
        AddWire($"{feed}:1", splice, line with { Role = PinRole.Feed, Colour = "" }, MergeHalf.Added, " Fuse it at the source for the relay’s load.");
        AddWire(splice, $"{relay}:86", line with { Role = PinRole.Feed, Colour = "" }, MergeHalf.Added, "");
        AddWire(splice, $"{relay}:30", line with { Role = PinRole.Feed, Colour = "" }, MergeHalf.Added, "");
        AddWire($"{relay}:87", $"{load}:1", line with { Role = PinRole.Feed, Colour = "" }, MergeHalf.Added, " The load is connected here.");
    }

    private void Plug(string place, string name, bool undecided)
    {
        _ = ProbePoint.TryParse(place, out var point);
        if (List("connectors").FirstOrDefault(c => Text(c, "ref") == point.Connector) is { } connector)
        {
            var blanked = connector["blanked"] as JsonArray ?? [];
            connector["blanked"] = blanked.DeepClone();
            connector["blanked"]!.AsArray().Add(point.Cavity);
        }

        Work(MergeHalf.Added, "plug-cavity", place, $"{(undecided ? "Undecided: p" : "P")}lug cavity {place}: {name} is left out.");
    }

    /// <summary>Old plugs of the left whose every wire has moved away are gone, and devices no longer meet them.</summary>
    private void DropEmptied()
    {
        if (!onLoom)
        {
            return;
        }

        var ends = List("wires").SelectMany(w => new[] { Text(w, "from"), Text(w, "to") }).OfType<string>().Select(e => e.Split(':')[0]).ToHashSet(StringComparer.Ordinal);
        foreach (var gone in left.Connectors.Select(c => c.Ref).Where(r => !ends.Contains(r)))
        {
            foreach (var connector in List("connectors").Where(c => Text(c, "ref") == gone).ToList())
            {
                document["connectors"]!.AsArray().Remove(connector);
            }

            foreach (var device in List("devices").Where(d => d["pins"] is JsonObject).ToList())
            {
                var pins = device["pins"]!.AsObject();
                foreach (var pin in pins.Where(p => p.Value is JsonValue v && v.TryGetValue<string>(out var place) && place.StartsWith($"{gone}:", StringComparison.Ordinal)).Select(p => p.Key).ToList())
                {
                    pins.Remove(pin);
                }

                if (pins.Count == 0)
                {
                    document["devices"]!.AsArray().Remove(device);
                }
            }
        }
    }

    private void AddConnectors(Pinout pinout, JsonArray families, double? atMm)
    {
        foreach (var connector in pinout.Connectors)
        {
            var reference = names.Contains(connector.Ref) ? Fresh($"{connector.Ref}-new") : connector.Ref;
            names.Add(reference);
            renamed[$"{(pinout == left ? "L" : "R")}{connector.Ref}"] = reference;
            var entry = new JsonObject { ["ref"] = reference, ["title"] = connector.Title };
            if (families.OfType<JsonObject>().FirstOrDefault(f => Text(f, "id") == connector.Family?.Id) is { } family)
            {
                entry["family"] = Family(family.DeepClone().AsObject());
            }

            if (atMm is { } at)
            {
                entry["branch"] = "trunk";
                entry["atMm"] = at;
            }
            else if (List("connectors").FirstOrDefault(c => left.Connectors.Any(l => l.Ref == Text(c, "ref"))) is { } old)
            {
                // A new controller stands where the old one stood until somebody says otherwise.
                entry["branch"] = old["branch"]?.DeepClone();
                entry["atMm"] = old["atMm"]?.DeepClone();
            }

            Add("connectors", entry);
        }
    }

    /// <summary>Adds a family, under another id when a different one has its id; gives the id.</summary>
    private string Family(JsonObject family)
    {
        var id = Text(family, "id") ?? "family";
        for (var n = 2; List("families").FirstOrDefault(f => Text(f, "id") == Text(family, "id")) is { } known; n++)
        {
            if (JsonNode.DeepEquals(known, family))
            {
                return Text(family, "id")!;
            }

            family["id"] = string.Create(CultureInfo.InvariantCulture, $"{id}-{n}");
        }

        Add("families", family);
        return Text(family, "id")!;
    }

    private string Tail(string prefix, string title)
    {
        Family(new JsonObject { ["id"] = TailFamily, ["title"] = "Open tail", ["kind"] = "tail", ["rows"] = new JsonArray(new JsonArray("1")), ["numberedFrom"] = "mating-face", ["sealed"] = false, ["contactMilliohm"] = 0 });
        var reference = Fresh(prefix);
        Add("connectors", new JsonObject { ["ref"] = reference, ["title"] = title, ["family"] = TailFamily });
        return reference;
    }

    private void AddWire(string from, string to, PinoutLine line, MergeHalf half, string then)
    {
        var id = Fresh("WM");
        var heavy = line.Role is PinRole.Feed or PinRole.Ground;
        var wire = new JsonObject { ["id"] = id, ["from"] = from, ["to"] = to, ["mm2"] = heavy ? 1.5 : 0.5, ["lengthMm"] = decisions.UsualMm, ["note"] = "length to be measured" };
        if (WireColour.TryParse(line.Colour, out var colour, out _) && colour.Text.Length > 0)
        {
            wire["colour"] = colour.Text;
        }

        if (line.Function.Length > 0)
        {
            wire["circuit"] = line.Function;
        }

        if (Role(line.Role) is { } role)
        {
            wire["role"] = role;
        }

        Add("wires", wire);
        Work(half, "add-wire", id, $"Add wire {id} from {from} to {to}: {(line.Function.Length > 0 ? line.Function : "no function named")}.{then}");
    }

    private static string? Role(PinRole role) => role switch
    {
        PinRole.Feed or PinRole.Reference => "feed",
        PinRole.Ground or PinRole.SensorGround => "ground",
        PinRole.Input => "signal",
        PinRole.Output => "drive",
        PinRole.Network => "network",
        PinRole.Shield => "shield",
        _ => null,
    };

    private IEnumerable<(JsonObject Wire, string End, ProbePoint From)> EndsAt(ProbePoint place)
    {
        if (!onLoom)
        {
            yield break;
        }

        var text = place.ToString();
        foreach (var wire in List("wires").ToList())
        {
            foreach (var end in Ends.Where(e => Text(wire, e) == text))
            {
                yield return (wire, end, place);
            }
        }
    }

    private bool TakesOneWire(ProbePoint place) =>
        right.Connectors.FirstOrDefault(c => c.Ref == place.Connector)?.Family?.WiresPerCavity == 1;

    private string Renamed(ProbePoint place) => $"{renamed[$"R{place.Connector}"]}:{place.Cavity}";

    private static string Describe(JsonObject wire)
    {
        string?[] dress = [Text(wire, "colour"), Text(wire, "circuit")];
        var text = string.Join(", ", dress.Where(d => d is { Length: > 0 }));
        return text.Length > 0 ? $"{Text(wire, "id")} ({text})" : $"{Text(wire, "id")}";
    }

    private string Fresh(string prefix)
    {
        var number = 1;
        while (!names.Add(string.Create(CultureInfo.InvariantCulture, $"{prefix}{number}")))
        {
            number++;
        }

        return string.Create(CultureInfo.InvariantCulture, $"{prefix}{number}");
    }

    private void Work(MergeHalf half, string kind, string what, string text) => work.Add(new($"{kind} {what}", half, kind, char.ToUpperInvariant(text[0]) + text[1..]));

    private void Add(string list, JsonObject item)
    {
        if (document[list] is not JsonArray)
        {
            document[list] = new JsonArray();
        }

        document[list]!.AsArray().Add(item);
    }

    private IEnumerable<JsonObject> List(string field) => (document[field] as JsonArray)?.OfType<JsonObject>() ?? [];

    private static string? Text(JsonObject item, string field) => item[field] is JsonValue value && value.TryGetValue<string>(out var text) ? text : null;
}
