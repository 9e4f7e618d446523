using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;

namespace WiseLoom.Core.Looms;

/// <summary>One pass through one file.</summary>
internal sealed partial class LoomWalk(List<Problem> problems, List<Problem> warnings)
{
    /// <summary>Longest length that is taken at all, millimetres; anything over <see cref="DoubtfulLengthMm"/> is doubted.</summary>
    private const double LongestMm = 1e9;

    private const double DoubtfulLengthMm = 50_000;

    private static readonly OhmRange UsualContact = new(0.001, 0.004, 0.010);

    private static readonly OhmRange UsualLeg = new(0.0001, 0.0005, 0.002);

    private static readonly Dictionary<string, FaceSide> Sides = new(StringComparer.Ordinal)
    {
        ["mating-face"] = FaceSide.MatingFace,
        ["wire-side"] = FaceSide.WireSide,
    };

    private static readonly Dictionary<string, HousingKind> Kinds = new(StringComparer.Ordinal)
    {
        ["housing"] = HousingKind.Housing,
        ["inline"] = HousingKind.Inline,
        ["ring"] = HousingKind.Ring,
        ["tail"] = HousingKind.Tail,
    };

    private static readonly Dictionary<string, WireRole> Roles = new(StringComparer.Ordinal)
    {
        ["feed"] = WireRole.Feed,
        ["ground"] = WireRole.Ground,
        ["signal"] = WireRole.Signal,
        ["shield"] = WireRole.Shield,
        ["network"] = WireRole.Network,
        ["drive"] = WireRole.Drive,
    };

    private readonly Dictionary<string, ConnectorFamily> families = new(StringComparer.Ordinal);
    private readonly Dictionary<string, Branch> branches = new(StringComparer.Ordinal);
    private readonly Dictionary<string, Connector> connectors = new(StringComparer.Ordinal);
    private readonly HashSet<string> brokenConnectors = new(StringComparer.Ordinal);
    private readonly Dictionary<string, Splice> splices = new(StringComparer.Ordinal);
    private readonly Dictionary<string, string> connectorPlaces = new(StringComparer.Ordinal);
    private readonly Dictionary<ProbePoint, List<(string Wire, string At)>> used = [];

    /// <summary>A pass that goes over wires again, among the connectors and splices of an earlier one.</summary>
    private LoomWalk(List<Problem> problems, List<Problem> warnings, LoomWalk known)
        : this(problems, warnings) =>
        (families, branches, connectors, brokenConnectors, splices, connectorPlaces) =
            (known.families, known.branches, known.connectors, known.brokenConnectors, known.splices, known.connectorPlaces);

    /// <summary>What was found, in a form that follows when a single wire changes; set by <see cref="Read"/>.</summary>
    internal LoomCheck? Check { get; private set; }

    public Loom Read(JsonPlace root)
    {
        if (root.Text("format", required: true) is { } format && format != "wise-loom/loom")
        {
            root.Wrong("format", $"'{format}' is not a loom file; \"wise-loom/loom\" is needed.");
        }

        if (root.Number("version", 0, 1e6, required: true) is { } version && version != 1)
        {
            root.Wrong("version", string.Create(CultureInfo.InvariantCulture, $"Version {version} is not known here; this program reads version 1."));
        }

        var (name, revision, volts, ambient) = ReadHead(root);
        var familyList = ReadAll(root, "families", ReadFamily);
        var branchList = ReadAll(root, "branches", ReadBranch);
        CheckTree(root);
        var landmarks = ReadAll(root, "landmarks", ReadLandmark);
        var connectorList = ReadAll(root, "connectors", ReadConnector);
        var spliceList = ReadAll(root, "splices", ReadSplice);
        var before = (Problems: problems.ToImmutableArray(), Warnings: warnings.ToImmutableArray());
        var rows = ReadWireRows(root);
        var wires = Together(rows);
        var after = problems.Count;
        var devices = ReadDevices(root, volts);
        WarnOfEmptyCavities();
        var loom = WithPapers(root, new(name, revision, volts, ambient, familyList, branchList, landmarks, connectorList, spliceList, wires, devices));
        Check = new(this, loom, before.Problems, [.. problems.Skip(after)], before.Warnings, rows, [.. problems], [.. warnings]);
        return loom;
    }

    private static (string Name, string Revision, double Volts, double Ambient) ReadHead(JsonPlace root)
    {
        if (root.Object("loom") is not { } head)
        {
            root.Wrong("loom", "An object with name and revision is needed here.");
            return ("", "", 12.6, 20);
        }

        return (
            head.Text("name", required: true, longest: 120) ?? "",
            head.Text("revision", longest: 20) ?? "A",
            head.Number("supplyVolts", 1, 1000, unit: "volts") ?? 12.6,
            head.Number("ambientC", -60, 200, unit: "degrees Celsius") ?? 20);
    }

    private static ImmutableArray<T> ReadAll<T>(JsonPlace root, string field, Func<JsonPlace, T?> read)
        where T : class => [.. root.Objects(field).Select(read).OfType<T>()];

    private ConnectorFamily? ReadFamily(JsonPlace place)
    {
        var id = place.Name("id");
        var kind = place.Word("kind", Kinds) ?? HousingKind.Housing;
        var isSealed = place.Flag("sealed") ?? false;
        var contact = place.Range("contactMilliohm", 0.001, "milliohms") ?? UsualContact;
        var wiresPerCavity = place.Number("wiresPerCavity", 1, 100) is { } n ? (int)n : DefaultWiresPerCavity(kind, isSealed);
        var rows = ReadRows(place);
        var side = place.Word("numberedFrom", Sides) ?? FaceSide.MatingFace;
        var keying = place.Text("keying", longest: 60);
        var title = place.Text("title", longest: 120) ?? id ?? "";
        var large = ReadLarge(place, rows);
        if (id is null || rows is not { } face)
        {
            return null;
        }

        var family = new ConnectorFamily(id, title, face, side, keying, isSealed, kind, wiresPerCavity, contact, large) { IsConfirmed = place.Flag("confirmed") ?? true };
        if (kind is HousingKind.Ring or HousingKind.Tail && family.Cavities.Length != 1)
        {
            place.Wrong("rows", $"A {(kind == HousingKind.Ring ? "ring" : "tail")} has exactly one cavity: [[\"1\"]].");
        }

        if (!families.TryAdd(id, family))
        {
            place.Wrong("id", $"'{id}' is the id of an earlier family; each id stands once.");
        }

        return family;
    }

    /// <summary>A seal closes on one wire; a pair of inline halves takes one from each side; metal without a seal takes what fits.</summary>
    private static int? DefaultWiresPerCavity(HousingKind kind, bool isSealed) => kind switch
    {
        HousingKind.Inline => 2,
        HousingKind.Housing when isSealed => 1,
        _ => null,
    };

    private ImmutableArray<ImmutableArray<string?>>? ReadRows(JsonPlace place)
    {
        if (!place.Has("rows"))
        {
            place.Wrong("rows", "Missing. The face is needed as a list of rows, each a list of cavity names.");
            return null;
        }

        var seen = new HashSet<string>(StringComparer.Ordinal);
        var rows = ImmutableArray.CreateBuilder<ImmutableArray<string?>>();
        var before = problems.Count;
        foreach (var (row, rowAt) in place.Items("rows"))
        {
            if (row.ValueKind != JsonValueKind.Array)
            {
                problems.Add(new(rowAt, $"This is {JsonPlace.Describe(row)}; a row is a list of cavity names."));
                continue;
            }

            var index = 0;
            var cells = ImmutableArray.CreateBuilder<string?>();
            foreach (var cell in row.EnumerateArray())
            {
                var at = string.Create(CultureInfo.InvariantCulture, $"{rowAt}/{index++}");
                cells.Add(ReadCavityName(cell, at, seen));
            }

            rows.Add(cells.ToImmutable());
        }

        if (seen.Count == 0 && problems.Count == before)
        {
            place.Wrong("rows", "No cavity stands here; a face has at least one.");
        }

        return problems.Count == before ? rows.ToImmutable() : null;
    }

    private ImmutableArray<string> ReadLarge(JsonPlace place, ImmutableArray<ImmutableArray<string?>>? rows)
    {
        var known = rows?.SelectMany(r => r).OfType<string>().ToHashSet(StringComparer.Ordinal);
        var large = ImmutableArray.CreateBuilder<string>();
        foreach (var (value, at) in place.Items("large"))
        {
            if (value.ValueKind == JsonValueKind.String && known?.Contains(value.GetString()!) != false)
            {
                large.Add(value.GetString()!);
            }
            else
            {
                problems.Add(new(at, $"{value.GetRawText()} is no cavity of this face."));
            }
        }

        return large.ToImmutable();
    }

    private string? ReadCavityName(JsonElement cell, string at, HashSet<string> seen)
    {
        if (cell.ValueKind == JsonValueKind.Null)
        {
            return null;
        }

        if (cell.ValueKind != JsonValueKind.String || cell.GetString() is not { Length: > 0 and <= 12 } name)
        {
            problems.Add(new(at, "A cavity's name is a text of 1 to 12 characters; null is a gap."));
            return null;
        }

        if (name != name.Trim() || name.Any(char.IsControl))
        {
            problems.Add(new(at, $"'{name}' cannot be a cavity's name: no blank at its start or end, no control character."));
        }

        if (!seen.Add(name))
        {
            problems.Add(new(at, $"Cavity '{name}' stands twice in this face; each name stands once."));
        }

        return name;
    }

    private Branch? ReadBranch(JsonPlace place)
    {
        var id = place.Name("id");
        var parent = place.Text("parent", longest: 60);
        var at = place.Number("atMm", 0, LongestMm, unit: "mm") ?? 0;
        var length = place.Number("lengthMm", 0, LongestMm, required: true, unit: "mm") ?? 0;
        WarnOfLength(place, "lengthMm", length);
        if (id is null)
        {
            return null;
        }

        var branch = new Branch(id, parent, at, length);
        if (!branches.TryAdd(id, branch))
        {
            place.Wrong("id", $"'{id}' is the id of an earlier branch; each id stands once.");
        }

        return branch;
    }

    private void CheckTree(JsonPlace root)
    {
        var roots = new List<string>();
        foreach (var (place, id) in root.Objects("branches").Select(p => (p, p.TextOrNull("id"))))
        {
            if (id is null || !branches.TryGetValue(id, out var branch))
            {
                continue;
            }

            if (branch.Parent is null)
            {
                roots.Add(id);
                if (roots.Count > 1)
                {
                    place.Wrong("parent", $"'{id}' has no parent, and neither has '{roots[0]}'; one branch only is the trunk.");
                }
            }
            else if (!branches.TryGetValue(branch.Parent, out var parent))
            {
                place.Wrong("parent", $"No branch has the id '{branch.Parent}'.{Nearest(branch.Parent, branches.Keys)}");
            }
            else if (InCycle(branch))
            {
                place.Wrong("parent", $"'{id}' leads back to itself through '{branch.Parent}'; a branch tree has no loop.");
            }
            else if (branch.AtMm > parent.LengthMm)
            {
                place.Wrong("atMm", string.Create(CultureInfo.InvariantCulture, $"Leaves at {branch.AtMm} mm, but '{parent.Id}' is only {parent.LengthMm} mm long."));
            }
        }
    }

    private bool InCycle(Branch branch)
    {
        var seen = new HashSet<string>(StringComparer.Ordinal);
        var at = branch;
        while (at.Parent is { } parent && branches.TryGetValue(parent, out var next))
        {
            if (parent == branch.Id)
            {
                return true;
            }

            if (!seen.Add(parent))
            {
                return false;
            }

            at = next;
        }

        return false;
    }

    private Landmark? ReadLandmark(JsonPlace place)
    {
        var id = place.Name("id");
        var kind = place.Text("kind", longest: 60) ?? "mark";
        var (branch, at) = ReadPlace(place, required: true);
        return id is null || branch is null ? null : new Landmark(id, kind, branch, at);
    }

    private (string? Branch, double AtMm) ReadPlace(JsonPlace place, bool required)
    {
        var branch = place.Text("branch", required, longest: 60);
        var at = place.Number("atMm", 0, LongestMm, unit: "mm") ?? 0;
        if (branch is null)
        {
            return (null, 0);
        }

        if (!branches.TryGetValue(branch, out var found))
        {
            place.Wrong("branch", $"No branch has the id '{branch}'.{Nearest(branch, branches.Keys)}");
            return (null, 0);
        }

        if (at > found.LengthMm)
        {
            place.Wrong("atMm", string.Create(CultureInfo.InvariantCulture, $"At {at} mm, but '{branch}' is only {found.LengthMm} mm long."));
        }

        return (branch, at);
    }

    private Connector? ReadConnector(JsonPlace place)
    {
        var reference = place.Name("ref");
        var title = place.Text("title", longest: 120) ?? reference ?? "";
        var familyId = place.Text("family", required: true, longest: 60);
        var (branch, at) = ReadPlace(place, required: false);
        var blanked = place.Items("blanked").ToList();
        var where = place.Text("place", longest: 2000);
        var unlock = place.Text("unlock", longest: 2000);
        var ifLeftOff = place.Text("ifLeftOff", longest: 2000);
        var note = place.Text("note", longest: 2000);
        if (reference is not null && (connectors.ContainsKey(reference) || brokenConnectors.Contains(reference)))
        {
            place.Wrong("ref", $"'{reference}' is the ref of an earlier connector; each ref stands once.");
            return null;
        }

        if (familyId is null || !families.TryGetValue(familyId, out var family))
        {
            if (familyId is not null)
            {
                place.Wrong("family", $"No family has the id '{familyId}'.{Nearest(familyId, families.Keys)}");
            }

            brokenConnectors.Add(reference ?? "");
            return null;
        }

        foreach (var (value, blankedAt) in blanked)
        {
            if (value.ValueKind != JsonValueKind.String || !family.HasCavity(value.GetString()!))
            {
                problems.Add(new(blankedAt, $"{value.GetRawText()} is no cavity of family '{familyId}'."));
            }
        }

        if (reference is null)
        {
            return null;
        }

        var names = blanked.Where(b => b.Value.ValueKind == JsonValueKind.String).Select(b => b.Value.GetString()!);
        var connector = new Connector(reference, title, family, branch, at, [.. names], where, unlock, ifLeftOff, note);
        connectors.Add(reference, connector);
        connectorPlaces.Add(reference, place.At);
        return connector;
    }

    private Splice? ReadSplice(JsonPlace place)
    {
        var reference = place.Name("ref");
        var kind = place.Text("kind", longest: 30) ?? "crimp";
        if (kind is not ("crimp" or "solder"))
        {
            place.Wrong("kind", $"'{kind}' is not known here; write crimp or solder.");
        }

        var (branch, at) = ReadPlace(place, required: false);
        var leg = place.Range("legMilliohm", 0.001, "milliohms") ?? UsualLeg;
        if (reference is null)
        {
            return null;
        }

        var splice = new Splice(reference, kind, branch, at, leg);
        if (connectors.ContainsKey(reference) || brokenConnectors.Contains(reference))
        {
            place.Wrong("ref", $"'{reference}' is the ref of a connector; a splice needs another.");
        }
        else if (!splices.TryAdd(reference, splice))
        {
            place.Wrong("ref", $"'{reference}' is the ref of an earlier splice; each ref stands once.");
        }

        return splice;
    }
}
