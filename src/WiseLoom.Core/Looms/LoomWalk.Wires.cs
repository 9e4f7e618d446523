using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using WiseLoom.Core.Devices;

namespace WiseLoom.Core.Looms;

/// <summary>The part of the pass that reads wires and what they meet.</summary>
internal sealed partial class LoomWalk
{
    /// <summary>A gauge and the metric section beside it differ by less than this factor.</summary>
    private const double MostApart = 1.35;

    private ImmutableArray<WireRow> ReadWireRows(JsonPlace root) => [.. root.Objects("wires").Select(ReadWireRow)];

    /// <summary>What one entry says by itself; what it says together with others comes later.</summary>
    private WireRow ReadWireRow(JsonPlace place)
    {
        var (problemsBefore, warningsBefore) = (problems.Count, warnings.Count);
        var id = place.Name("id");
        var from = ReadEnd(place, "from");
        var to = ReadEnd(place, "to");
        if (from is { } a && to is { } b && a.Text == b.Text)
        {
            place.Wrong("to", $"The wire starts and ends at {a.Text}; a wire joins two places.");
        }

        var section = ReadSection(place);
        var length = place.Figures("lengthMm", 0, LongestMm, required: true, unit: "mm");
        WarnOfLength(place, "lengthMm", length?.Max ?? 0);
        var circuit = place.Text("circuit", longest: 200);
        var group = place.Text("group", longest: 60);
        var role = place.Word("role", Roles);
        if (!WireColour.TryParse(place.Text("colour", longest: 20), out var colour, out var wrong))
        {
            place.Wrong("colour", $"'{wrong}' is no colour code; write base and tracers with {string.Join(", ", WireColour.AllCodes)}, such as BU/WH.");
        }

        var wire = id is null || from is null || to is null || section is null || length is null
            ? null
            : new Wire(id, from.Value, to.Value, colour, section.Value.Section, length.Value.Nominal, circuit, group, role)
            {
                LengthRange = length.Value.IsExact ? null : length,
                SectionRange = section.Value.Range,
            };
        return new(place.At, id, wire, TakeFrom(problems, problemsBefore), TakeFrom(warnings, warningsBefore));
    }

    private static ImmutableArray<Problem> TakeFrom(List<Problem> list, int start)
    {
        if (list.Count == start)
        {
            return [];
        }

        ImmutableArray<Problem> taken = [.. list.Skip(start)];
        list.RemoveRange(start, list.Count - start);
        return taken;
    }

    /// <summary>Lays the entries side by side: ids stand once, and no cavity holds more wires than it takes.</summary>
    private ImmutableArray<Wire> Together(ImmutableArray<WireRow> rows)
    {
        var ids = new HashSet<string>(rows.Length, StringComparer.Ordinal);
        var wires = ImmutableArray.CreateBuilder<Wire>(rows.Length);
        foreach (var row in rows)
        {
            if (row.Id is not null && !ids.Add(row.Id))
            {
                Wrong($"{row.At}/id", $"'{row.Id}' is the id of an earlier wire; each id stands once.");
            }

            problems.AddRange(row.Problems);
            warnings.AddRange(row.Warnings);
            if (row.Wire is { } wire)
            {
                Use($"{row.At}/from", wire.From, wire.Id);
                Use($"{row.At}/to", wire.To, wire.Id);
                wires.Add(wire);
            }
        }

        foreach (var (point, wiresThere) in used)
        {
            var family = connectors[point.Connector].Family;
            if (family.WiresPerCavity is { } most && wiresThere.Count > most)
            {
                Wrong(wiresThere[most].At, $"{point} already holds {Some(wiresThere.Take(most).Select(w => w.Wire))} and gets {Some(wiresThere.Skip(most).Select(w => w.Wire))} too; family '{family.Id}' takes {(most == 1 ? "one wire" : $"{most} wires")} in a cavity. Join the wires in a splice, or give the family wiresPerCavity.");
            }
        }

        return wires.ToImmutable();
    }

    /// <summary>Problems and warnings with one wire changed, everything else as it was found.</summary>
    internal LoomCheck Again(LoomCheck known, int index, JsonElement entry)
    {
        var (wrong, doubtful) = (known.BeforeWires.ToList(), known.WarningsBeforeWires.ToList());
        var walk = new LoomWalk(wrong, doubtful, this);
        var rows = known.Rows.SetItem(index, walk.ReadWireRow(new JsonPlace(entry, known.Rows[index].At, wrong)));
        var wires = walk.Together(rows);
        wrong.AddRange(known.AfterWires);
        walk.WarnOfEmptyCavities();
        return known.With(rows, wires, wrong, doubtful);
    }

    private void Use(string at, WireEnd end, string wire)
    {
        if (end.IsSplice)
        {
            return;
        }

        var point = end.Point;
        if (!used.TryGetValue(point, out var wires))
        {
            used.Add(point, wires = []);
        }

        wires.Add((wire, at));
        var connector = connectors[point.Connector];
        if (connector.Blanked.Contains(point.Cavity))
        {
            Wrong(at, $"{point} is listed as blanked; a cavity is either wired or blanked.");
        }
    }

    private WireEnd? ReadEnd(JsonPlace place, string field)
    {
        if (place.Text(field, required: true, longest: 80) is not { } text)
        {
            return null;
        }

        if (splices.ContainsKey(text))
        {
            return WireEnd.AtSplice(text);
        }

        return ReadPoint($"{place.At}/{field}", text) is { } point ? WireEnd.At(point) : null;
    }

    private ProbePoint? ReadPoint(string at, string text)
    {
        if (!ProbePoint.TryParse(text, out var point))
        {
            Wrong(at, connectors.TryGetValue(text, out var whole)
                ? $"'{text}' is a connector; write its cavity too, such as {text}:{whole.Family.Cavities[0]}."
                : $"No splice has the ref '{text}', and it is not CONNECTOR:CAVITY.{Nearest(text, splices.Keys)}");
            return null;
        }

        if (brokenConnectors.Contains(point.Connector))
        {
            return null;
        }

        if (!connectors.TryGetValue(point.Connector, out var connector))
        {
            Wrong(at, $"No connector has the ref '{point.Connector}'.{Nearest(point.Connector, connectors.Keys)}");
            return null;
        }

        if (!connector.Family.HasCavity(point.Cavity))
        {
            Wrong(at, $"{point.Connector} has no cavity '{point.Cavity}'; family '{connector.Family.Id}' has {Some(connector.Family.Cavities)}.");
            return null;
        }

        return point;
    }

    /// <summary>Of a gauge with the metric section that is bought in its place, the gauge counts.</summary>
    private static (Section Section, FigureRange? Range)? ReadSection(JsonPlace place)
    {
        var mm2 = place.Figures("mm2", 0.001, 1000, unit: "mm²");
        var awg = place.Number("awg", -3, 40);
        if (!place.Has("mm2") && !place.Has("awg"))
        {
            place.Wrong("mm2", "Missing. Write mm2 or awg.");
            return null;
        }

        if (awg is { } gauge && gauge != Math.Floor(gauge))
        {
            place.Wrong("awg", "A gauge is a whole number.");
            return null;
        }

        if (awg is { } number)
        {
            var section = Section.FromAwg((int)number);
            if (mm2 is { } beside && !(beside.Nominal / section.Mm2 is > 1 / MostApart and < MostApart))
            {
                place.Wrong("mm2", string.Create(CultureInfo.InvariantCulture, $"mm2 and awg contradict each other: {section} has {section.Mm2:0.##} mm². Write one of them."));
                return null;
            }

            return (section, null);
        }

        return mm2 is { } area ? (Section.FromMm2(area.Nominal), area.IsExact ? null : area) : null;
    }

    private ImmutableArray<Device> ReadDevices(JsonPlace root, double supplyVolts)
    {
        var refs = new HashSet<string>(StringComparer.Ordinal);
        var devices = ImmutableArray.CreateBuilder<Device>();
        foreach (var entry in root.Objects("devices"))
        {
            var (asked, wrong) = (new FieldsAsked(), problems.Count);
            var place = entry.NotingIn(asked);
            var reference = place.Name("ref");
            if (reference is not null && !refs.Add(reference))
            {
                place.Wrong("ref", $"'{reference}' is the ref of an earlier device; each ref stands once.");
            }

            var kind = place.Text("kind", required: true, longest: 60);
            if (kind is not null && DeviceKinds.Find(kind) is null)
            {
                place.Wrong("kind", $"'{kind}' is not known here; write one of {string.Join(", ", DeviceKinds.Names)}.");
            }

            var pins = ImmutableSortedDictionary.CreateBuilder<string, ProbePoint>(NaturalOrder.Comparer);
            var inner = ImmutableSortedDictionary.CreateBuilder<string, string>(NaturalOrder.Comparer);
            foreach (var (name, value, at) in place.Fields("pins"))
            {
                if (value.ValueKind != JsonValueKind.String)
                {
                    problems.Add(new(at, $"This is {JsonPlace.Describe(value)}; a cavity such as \"INJ1:1\" is needed."));
                }
                else if (value.GetString()!.StartsWith(Device.InnerSign))
                {
                    ReadInner(at, name, value.GetString()!, inner);
                }
                else if (ReadPoint(at, value.GetString()!) is { } point)
                {
                    pins[name] = point;
                }
            }

            string[] names = [.. place.Fields("pins").Select(p => p.Name)];
            var model = DeviceKinds.Find(kind)?.Read(new(place, names, supplyVolts));
            if (reference is not null && kind is not null)
            {
                devices.Add(new Device(reference, place.Text("title", longest: 120) ?? reference, kind, pins.ToImmutable(), inner.ToImmutable(), model)
                {
                    IsFitted = place.Flag("fitted") ?? true,
                    Needs = place.Text("needs", longest: 200),
                    SeenAs = place.Text("seenAs", longest: 200),
                    Trigger = TriggerWheel.Read(place),
                });
                Doubt(place, kind, names, model);
                if (problems.Count == wrong)
                {
                    warnings.AddRange(asked.Unheard().Select(u => new Problem(
                        $"{u.At}/{JsonPlace.Escape(u.Field)}", $"No field '{u.Field}' is known here: it is kept, and does nothing.{Nearest(u.Field, u.Known)}")));
                }
            }
        }

        return devices.ToImmutable();
    }

    private void ReadInner(string at, string name, string joint, ImmutableSortedDictionary<string, string>.Builder inner)
    {
        if (joint.Length is < 2 or > 60 || joint.Contains(':', StringComparison.Ordinal) || joint.Any(char.IsControl))
        {
            Wrong(at, $"'{joint}' cannot be an inner joint; write {Device.InnerSign} and a name without colon, such as \"{Device.InnerSign}bus bar\".");
        }
        else
        {
            inner[name] = joint;
        }
    }

    /// <summary>What an electrical answer will stumble over; a drawing does not mind.</summary>
    private void Doubt(JsonPlace place, string kind, string[] pins, DeviceModel? model)
    {
        if (model is NtcModel { Fit.Wrong: { } wrong })
        {
            warnings.Add(new($"{place.At}/points", wrong));
        }

        if (DeviceKinds.Find(kind) is { TwoTerminals: true } && pins.Length > 2)
        {
            warnings.Add(new($"{place.At}/pins", $"A device of kind {kind} has two terminals; of these {pins.Length} pins the rules use two."));
        }
        else if (DeviceKinds.Find(kind) is { } known && model is not null)
        {
            warnings.AddRange(known.Strangers(pins, model).Select(name => new Problem(
                $"{place.At}/pins/{JsonPlace.Escape(name)}",
                $"No pin '{name}' is known of a {kind}: it carries nothing. The pins are {string.Join(", ", known.Pins.Select(p => p[0]))}.{Nearest(name, known.Pins.SelectMany(p => p))}")));
        }
    }

    private void Wrong(string at, string message) => problems.Add(new(at, message));

    private void WarnOfEmptyCavities()
    {
        foreach (var connector in connectors.Values.Where(c => c.Family.Sealed))
        {
            var empty = connector.Family.Cavities
                .Where(c => !connector.Blanked.Contains(c) && !used.ContainsKey(new ProbePoint(connector.Ref, c)))
                .ToImmutableArray();
            if (empty.Length > 0)
            {
                warnings.Add(new(connectorPlaces[connector.Ref], $"{connector.Ref} is sealed and {(empty.Length == 1 ? "cavity" : "cavities")} {Some(empty)} {(empty.Length == 1 ? "is" : "are")} open: wire, blank or list {(empty.Length == 1 ? "it" : "them")}."));
            }
        }
    }

    private void WarnOfLength(JsonPlace place, string field, double length)
    {
        if (length > DoubtfulLengthMm)
        {
            warnings.Add(new($"{place.At}/{field}", string.Create(CultureInfo.InvariantCulture, $"{length} mm is longer than any engine loom; is it in millimetres?")));
        }
    }

    private static string Some(IEnumerable<string> names)
    {
        var list = names.ToList();
        return list.Count <= 12 ? string.Join(", ", list) : $"{string.Join(", ", list.Take(10))} … {list[^1]} ({list.Count} in all)";
    }

    /// <summary>A hint with the known name that differs least, when one is close enough to be meant.</summary>
    private string Nearest(string wrong, IEnumerable<string> known) => problems.Count > ProblemList.MostShown ? "" : EditDistance.Nearest(wrong, known) is { } near ? $" Is '{near}' meant?" : "";
}
