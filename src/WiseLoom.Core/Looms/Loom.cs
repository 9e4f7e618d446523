using System.Collections.Immutable;
using WiseLoom.Core.Devices;

namespace WiseLoom.Core.Looms;

/// <summary>One revision of one loom, read without problems: every reference leads somewhere.</summary>
/// <param name="Name">What the shop calls the loom.</param>
/// <param name="Revision">Revision letter or number.</param>
/// <param name="SupplyVolts">Voltage of the system, volts.</param>
/// <param name="AmbientC">Temperature the limits are computed for, degrees Celsius.</param>
public sealed record Loom(
    string Name,
    string Revision,
    double SupplyVolts,
    double AmbientC,
    ImmutableArray<ConnectorFamily> Families,
    ImmutableArray<Branch> Branches,
    ImmutableArray<Landmark> Landmarks,
    ImmutableArray<Connector> Connectors,
    ImmutableArray<Splice> Splices,
    ImmutableArray<Wire> Wires,
    ImmutableArray<Device> Devices)
{
    private Dictionary<string, Connector>? connectors;
    private Dictionary<string, Splice>? splices;
    private ILookup<ProbePoint, Wire>? wiresAt;
    private Dictionary<string, Wire>? wires;
    private ILookup<string, Device>? devicesOn;

    /// <summary>A copy, which finds its own way about: what the original has looked up holds for the original's lists.</summary>
    private Loom(Loom of)
    {
        (Name, Revision, SupplyVolts, AmbientC) = (of.Name, of.Revision, of.SupplyVolts, of.AmbientC);
        (Families, Branches, Landmarks, Connectors) = (of.Families, of.Branches, of.Landmarks, of.Connectors);
        (Splices, Wires, Devices) = (of.Splices, of.Wires, of.Devices);
        (WeightKg, Box, Fitting, CodeReadings) = (of.WeightKg, of.Box, of.Fitting, of.CodeReadings);
    }

    /// <summary>What it weighs with its box, kilograms; null where nobody says.</summary>
    public double? WeightKg { get; init; }

    /// <summary>The packing list, and what the customer has to have besides.</summary>
    public ImmutableArray<BoxItem> Box { get; init; } = [];

    /// <summary>Steps of fitting that the shop adds to those that follow from the loom itself, in order.</summary>
    public ImmutableArray<FittingStep> Fitting { get; init; } = [];

    /// <summary>Ways of reading the controller's codes.</summary>
    public ImmutableArray<CodeReading> CodeReadings { get; init; } = [];

    private Dictionary<string, Connector> ConnectorsByRef => connectors ??= Connectors.ToDictionary(c => c.Ref, StringComparer.Ordinal);

    private ILookup<ProbePoint, Wire> WiresByPoint => wiresAt ??= Wires
        .SelectMany(w => new[] { w.From, w.To }.Where(e => !e.IsSplice).Select(e => (e.Point, Wire: w)))
        .ToLookup(x => x.Point, x => x.Wire);

    /// <summary>Whether this loom calls something by that name: a cavity such as <c>ECU:17</c>, a wire's id, a splice's ref.</summary>
    public bool HasPlace(string place) => ProbePoint.TryParse(place, out var point)
        ? FindConnector(point.Connector)?.Family.HasCavity(point.Cavity) == true
        : Wires.Any(w => w.Id == place) || Splices.Any(s => s.Ref == place);

    /// <summary>The wire with this id, or null.</summary>
    public Wire? FindWire(string id) => (wires ??= Wires.ToDictionary(w => w.Id, StringComparer.Ordinal)).GetValueOrDefault(id);

    /// <summary>The splice with this <c>ref</c>.</summary>
    /// <exception cref="KeyNotFoundException">No splice has it.</exception>
    public Splice Splice(string reference) => (splices ??= Splices.ToDictionary(x => x.Ref, StringComparer.Ordinal))[reference];

    /// <summary>The connector with this <c>ref</c>.</summary>
    /// <exception cref="KeyNotFoundException">No connector has it.</exception>
    public Connector Connector(string reference) => ConnectorsByRef[reference];

    /// <summary>The connector with this <c>ref</c>, or null.</summary>
    public Connector? FindConnector(string reference) => ConnectorsByRef.GetValueOrDefault(reference);

    /// <summary>Wires that end in this cavity, in file order; empty for a spare, blanked or empty cavity.</summary>
    public IEnumerable<Wire> WiresAt(ProbePoint point) => WiresByPoint[point];

    /// <summary>Every wired cavity, in connector order and then face order: the order of a fixture's channels.</summary>
    public IEnumerable<ProbePoint> ProbePoints() =>
        from connector in Connectors
        from cavity in connector.Family.Cavities
        let point = new ProbePoint(connector.Ref, cavity)
        where WiresByPoint.Contains(point)
        select point;

    /// <summary>Devices with a pin on this connector, in file order.</summary>
    public IEnumerable<Device> DevicesOn(string connector) =>
        (devicesOn ??= Devices.SelectMany(d => d.Pins.Values.Select(p => p.Connector).Distinct(StringComparer.Ordinal).Select(c => (c, d))).ToLookup(x => x.c, x => x.d, StringComparer.Ordinal))[connector];
}

/// <summary>What a connector housing is, apart from its place on a loom.</summary>
/// <param name="Rows">The face, top row first, left to right, as seen from <paramref name="NumberedFrom"/>; null is a gap.</param>
/// <param name="Contact">Resistance that one end of a wire in a cavity adds, ohms.</param>
/// <param name="WiresPerCavity">How many wires one cavity takes; null for no bound (rings, open screw terminals).</param>
/// <param name="Large">Cavities for large contacts; they are drawn larger.</param>
public sealed record ConnectorFamily(
    string Id,
    string Title,
    ImmutableArray<ImmutableArray<string?>> Rows,
    FaceSide NumberedFrom,
    string? Keying,
    bool Sealed,
    HousingKind Kind,
    int? WiresPerCavity,
    OhmRange Contact,
    ImmutableArray<string> Large)
{
    /// <summary>Whether somebody has looked at the housing; not of a face that was made from the pins that occur.</summary>
    public bool IsConfirmed { get; init; } = true;

    private readonly Lazy<ImmutableArray<string>> cavities =
        new(() => [.. Rows.SelectMany(r => r).OfType<string>()]);

    private readonly Lazy<HashSet<string>> names =
        new(() => [.. Rows.SelectMany(r => r).OfType<string>()]);

    /// <summary>Names of all cavities in face order (top row first, left to right).</summary>
    public ImmutableArray<string> Cavities => cavities.Value;

    /// <summary>Whether the face has a cavity of this name.</summary>
    public bool HasCavity(string cavity) => names.Value.Contains(cavity);
}

/// <summary>Which face of a housing one looks at.</summary>
public enum FaceSide
{
    /// <summary>The face that meets the other half.</summary>
    MatingFace,

    /// <summary>The back, where the wires go in.</summary>
    WireSide,
}

/// <summary>What kind of end a family is.</summary>
public enum HousingKind
{
    /// <summary>An ordinary plug or socket.</summary>
    Housing,

    /// <summary>A pair of halves that join two sub-looms; a cavity takes a wire from each side.</summary>
    Inline,

    /// <summary>A ring terminal.</summary>
    Ring,

    /// <summary>An open wire end that the customer connects.</summary>
    Tail,
}

/// <summary>A stretch of the trunk tree.</summary>
/// <param name="Parent">The branch it leaves; null for the trunk itself.</param>
/// <param name="AtMm">Where on the parent it leaves, millimetres from the parent's start.</param>
/// <param name="LengthMm">Its own length, millimetres.</param>
public sealed record Branch(string Id, string? Parent, double AtMm, double LengthMm);

/// <summary>A thing on the trunk that helps to find one's way, such as a grommet.</summary>
public sealed record Landmark(string Id, string Kind, string Branch, double AtMm);

/// <summary>A housing on the loom.</summary>
/// <param name="Branch">The branch it hangs on; null when the file gives no place.</param>
/// <param name="AtMm">Where along that branch, millimetres from the branch's start.</param>
/// <param name="Blanked">Cavities closed with a blanking plug.</param>
public sealed record Connector(
    string Ref,
    string Title,
    ConnectorFamily Family,
    string? Branch,
    double AtMm,
    ImmutableArray<string> Blanked,
    string? Place,
    string? Unlock,
    string? IfLeftOff,
    string? Note);

/// <summary>A joint of several wires inside the covering.</summary>
/// <param name="Leg">Resistance that one end of a wire in the splice adds, ohms.</param>
public sealed record Splice(string Ref, string Kind, string? Branch, double AtMm, OhmRange Leg)
{
    /// <summary>Splices nearer to each other on one branch may touch, millimetres.</summary>
    public const double NearMm = 50;

    /// <summary>Whether another splice lies within <see cref="NearMm"/> on the same branch.</summary>
    public bool IsNear(Splice other) => other is not null && Ref != other.Ref && Branch is not null && Branch == other.Branch && Math.Abs(AtMm - other.AtMm) <= NearMm;
}

/// <summary>Where a wire ends: in a cavity or in a splice.</summary>
public readonly record struct WireEnd
{
    private readonly ProbePoint point;

    private WireEnd(string text, bool isSplice, ProbePoint point)
    {
        Text = text;
        IsSplice = isSplice;
        this.point = point;
    }

    /// <summary>As written in the file: <c>ECU:17</c> or <c>S1</c>.</summary>
    public string Text { get; }

    /// <summary>Whether the end is in a splice, which no probe can touch.</summary>
    public bool IsSplice { get; }

    /// <summary>The cavity.</summary>
    /// <exception cref="InvalidOperationException">The end is in a splice.</exception>
    public ProbePoint Point => IsSplice ? throw new InvalidOperationException($"{Text} is a splice, not a cavity.") : point;

    /// <summary>An end in a cavity.</summary>
    public static WireEnd At(ProbePoint point) => new(point.ToString(), false, point);

    /// <summary>An end in a splice, named by its reference.</summary>
    public static WireEnd AtSplice(string reference) => new(reference, true, default);

    /// <inheritdoc/>
    public override string ToString() => Text;
}

/// <summary>A wire from one end to the other.</summary>
/// <param name="Section">Copper cross-section.</param>
/// <param name="LengthMm">Length end to end, millimetres.</param>
/// <param name="Group">Wires with one group name are twisted together; null for a single wire.</param>
public sealed record Wire(
    string Id,
    WireEnd From,
    WireEnd To,
    WireColour Colour,
    Section Section,
    double LengthMm,
    string? Circuit,
    string? Group,
    WireRole? Role)
{
    /// <summary>What the length can be, millimetres, where nobody measured it; null where it is known.</summary>
    public FigureRange? LengthRange { get; init; }

    /// <summary>What the section can be, mm², where nobody knows it; null where it is known.</summary>
    public FigureRange? SectionRange { get; init; }

    /// <summary>Whether a figure of it is estimated.</summary>
    public bool IsEstimated => LengthRange is not null || SectionRange is not null;

    /// <summary>The length in words: <c>1450 mm</c>, or <c>100–6000 mm</c>.</summary>
    public string LengthInWords() => $"{(LengthRange is { } range ? $"{Words.Figure(range.Min, "0.#")}–{Words.Figure(range.Max, "0.#")}" : Words.Figure(LengthMm, "0.#"))} mm";

    /// <summary>The section in words: <c>0.5 mm²</c>, or <c>0.35–1 mm²</c>.</summary>
    public string SectionInWords() => SectionRange is { } range ? $"{Words.Figure(range.Min, "0.###")}–{Words.Figure(range.Max, "0.###")} mm²" : Section.InWords();
}

/// <summary>What a loom's file leaves open about its copper.</summary>
public static class EstimatedCopper
{
    /// <summary>So many wires are named.</summary>
    private const int Named = 6;

    /// <summary>Which wires have a figure that nobody measured, and what that means for what they carry and lose; null when all are known.</summary>
    public static string? InWords(Loom loom)
    {
        ArgumentNullException.ThrowIfNull(loom);
        var wires = loom.Wires.Where(w => w.IsEstimated).Select(w => w.Id).ToList();
        return wires.Count == 0 ? null
            : Words.Of($"Wires with a length or a section that nobody measured: {wires.Count} of {loom.Wires.Length} ({string.Join(", ", wires.Take(Named)) + (wires.Count > Named ? " …" : "")}). What they lose and carry is worked out with the shop’s usual figure; measure them to know it.");
    }
}

/// <summary>What a wire is for.</summary>
public enum WireRole
{
    /// <summary>Brings supply.</summary>
    Feed,
    /// <summary>Leads to ground.</summary>
    Ground,
    /// <summary>Carries a reading.</summary>
    Signal,
    /// <summary>Screens others; grounded at one end.</summary>
    Shield,
    /// <summary>A line of a data bus.</summary>
    Network,
    /// <summary>A controller’s output to a load.</summary>
    Drive,
}

/// <summary>What a connector plugs into.</summary>
/// <param name="Kind">The kind as the file names it.</param>
/// <param name="Pins">Name of the device's pin to the cavity it meets.</param>
/// <param name="Inner">Name of the device's pin to an inner joint, which no probe reaches: the bus bar of a fuse box.</param>
/// <param name="Model">What it is electrically; null when the file does not say enough.</param>
public sealed record Device(
    string Ref,
    string Title,
    string Kind,
    ImmutableSortedDictionary<string, ProbePoint> Pins,
    ImmutableSortedDictionary<string, string> Inner,
    DeviceModel? Model)
{
    /// <summary>Whether it is there, as far as the file knows; a bench may say otherwise.</summary>
    public bool IsFitted { get; init; } = true;

    /// <summary>What must be mounted or filled before it can do its work, in words; null for nothing.</summary>
    public string? Needs { get; init; }

    /// <summary>How one sees, hears or feels that it works; null when the file does not say.</summary>
    public string? SeenAs { get; init; }

    /// <summary>The toothed wheel that it reads; null for none.</summary>
    public TriggerWheel? Trigger { get; init; }

    /// <summary>What an inner joint's name begins with in a file.</summary>
    public const char InnerSign = '@';

    /// <summary>Names of all its pins.</summary>
    public IEnumerable<string> PinNames => Pins.Keys.Concat(Inner.Keys);

    private ImmutableSortedDictionary<string, string>? roles;

    /// <summary>A copy, which works out the roles of its own pins.</summary>
    private Device(Device of)
    {
        (Ref, Title, Kind, Pins, Inner, Model) = (of.Ref, of.Title, of.Kind, of.Pins, of.Inner, of.Model);
        (IsFitted, Needs, SeenAs, Trigger) = (of.IsFitted, of.Needs, of.SeenAs, of.Trigger);
    }

    /// <summary>Where a pin leads, by the role that the rules know (<c>coil+</c>) or by the file's own name: a cavity as written, or an inner joint; null when the file does not connect it.</summary>
    public string? Joint(string role)
    {
        roles ??= DeviceKinds.Find(Kind)?.Roles(PinNames) ?? PinNames.ToImmutableSortedDictionary(n => n, n => n, StringComparer.Ordinal);
        var name = roles.GetValueOrDefault(role, role);
        return Pins.TryGetValue(name, out var point) ? point.ToString() : Inner.GetValueOrDefault(name);
    }
}
