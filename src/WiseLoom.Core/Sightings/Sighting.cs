using System.Collections.Immutable;
using System.Globalization;
using System.Reflection;
using System.Text.Json.Serialization;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Sightings;

/// <summary>What somebody saw of a loom that is no resistance between bare cavities: a voltage, a lamp, a function, a part by itself, or with the eye.</summary>
/// <remarks>Written as JSON with <c>kind</c> and the fields of the record. A new kind is a record like these, and a line here. Each says
/// how likely it is on a loom with given faults; only the differences between looms count.</remarks>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(VoltsSeen), "volts")]
[JsonDerivedType(typeof(LampSeen), "lamp")]
[JsonDerivedType(typeof(FunctionSeen), "function")]
[JsonDerivedType(typeof(FittedSeen), "fitted")]
[JsonDerivedType(typeof(DropSeen), "drop")]
[JsonDerivedType(typeof(WireAlone), "wire")]
[JsonDerivedType(typeof(DeviceAlone), "device")]
[JsonDerivedType(typeof(LookSeen), "look")]
[JsonDerivedType(typeof(CapacitanceSeen), "capacitance")]
[JsonDerivedType(typeof(WorksSeen), "works")]
[JsonDerivedType(typeof(CurrentSeen), "current")]
[JsonDerivedType(typeof(PolaritySeen), "polarity")]
public abstract record Sighting
{
    /// <summary>Every kind, as files write it.</summary>
    public static IReadOnlyCollection<string> Kinds { get; } = [.. typeof(Sighting).GetCustomAttributes<JsonDerivedTypeAttribute>().Select(a => (string)a.TypeDiscriminator!)];

    /// <summary>What was seen, in a sentence without its full stop.</summary>
    public abstract string InWords();

    /// <summary>What was looked at: of two of the same the later one stands.</summary>
    public abstract string Subject();

    /// <summary>What is wrong with it for a loom, each with its field; none when it can be held against it.</summary>
    public abstract IEnumerable<Problem> Problems(Loom loom);

    /// <summary>Whether a loom as drawn, with these devices, would show it.</summary>
    /// <param name="ambientC">Degrees Celsius.</param>
    /// <param name="meter">What resistances are read with.</param>
    public bool IsAsDrawn(Loom loom, double ambientC, Meter meter) => Fits(new SuspectLoom(loom, ambientC, meter, [], ProbedPlaces.By([this])));

    /// <summary>What is so meanwhile; null for what is seen without power.</summary>
    internal virtual Situation? Meanwhile => null;

    /// <summary>Where a meter or a lamp is held with power on; null when none is.</summary>
    internal virtual ProbePoint? Probed => null;

    /// <summary>Places from which what is behind it is looked for.</summary>
    internal abstract IEnumerable<ProbePoint> Begins(Loom loom);

    /// <summary>Logarithm of how likely it is on a loom.</summary>
    internal abstract double LogLikelihood(SuspectLoom of);

    /// <summary>Whether a loom would show it.</summary>
    internal abstract bool Fits(SuspectLoom of);

    /// <summary>What a loom would show instead, in words.</summary>
    internal abstract string Expected(SuspectLoom of);

    private protected static string Said(OhmRange? ohm) => ohm is { } joined ? Say.Ohms(joined.Nominal) : "nothing";

    private protected static IEnumerable<Problem> NoPoint(Loom loom, ProbePoint point, string field) =>
        loom.FindConnector(point.Connector)?.Family.HasCavity(point.Cavity) == true ? [] : [new(field, $"This loom has no cavity {point}.")];

    private protected static IEnumerable<Problem> Outside(double value, double least, double most, string field, string unit) =>
        value >= least && value <= most ? [] : [new(field, string.Create(CultureInfo.InvariantCulture, $"{field[1..]} lies between {least:G6} and {most:G6} {unit}."))];
}

/// <summary>What somebody saw with the key in a position.</summary>
/// <param name="Key">Where the key stood.</param>
/// <param name="Set">Conditions that held and outputs that were driven, as the loom names them.</param>
/// <param name="Without">Refs of devices that were unplugged.</param>
public abstract record PoweredSighting(KeyPosition Key, ImmutableArray<string> Set, ImmutableArray<string> Without) : Sighting
{
    /// <summary>No more conditions, and no more unplugged devices, are taken.</summary>
    private const int MostNames = 200;

    /// <summary>So many names are told one by one.</summary>
    private const int MostTold = 3;

    /// <inheritdoc cref="PoweredSighting" path="/param[@name='Set']"/>
    public ImmutableArray<string> Set { get; init; } = Set.IsDefault ? [] : Set;

    /// <inheritdoc cref="PoweredSighting" path="/param[@name='Without']"/>
    public ImmutableArray<string> Without { get; init; } = Without.IsDefault ? [] : Without;

    /// <inheritdoc/>
    internal override Situation Meanwhile => new(Key, [.. Set], [.. Without]);

    /// <summary>The key position and what was so besides, in words; of many names their number.</summary>
    private protected string When() => $"key {KeyPositions.Word(Key)}{Some(Set, "", "conditions set")}{Some(Without, "without ", "devices unplugged")}";

    /// <summary>The same with every name.</summary>
    private protected string Fully() => $"key {KeyPositions.Word(Key)}{(Set.IsEmpty ? "" : $", {string.Join(", ", Set)}")}{(Without.IsEmpty ? "" : $", without {string.Join(", ", Without)}")}";

    private static string Some(ImmutableArray<string> names, string before, string many) =>
        names.IsEmpty ? "" : names.Length <= MostTold ? $", {before}{string.Join(", ", names)}" : string.Create(CultureInfo.InvariantCulture, $", {names.Length} {many}");

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Loom loom)
    {
        if (WorkLimit.TooManyWires(loom, WorkLimit.MostPowered) is { } tooLarge)
        {
            return [new("", tooLarge)];
        }

        if (Set.Length > MostNames || Without.Length > MostNames)
        {
            return [new("/set", $"At most {MostNames} conditions and unplugged devices are taken.")];
        }

        var known = loom.Devices.SelectMany(d => d.Model switch
        {
            SwitchModel contact => [contact.ClosedWhen],
            ControllerModel controller => controller.Pins.Values.SelectMany(p => p.OnWhen.Append(p.Output)),
            _ => Enumerable.Empty<string>(),
        }).Where(n => n.Length > 0).ToHashSet(StringComparer.Ordinal);
        return Set.Where(s => !known.Contains(s)).Select(s => new Problem("/set", $"Nothing of this loom is changed by '{s}'; it knows {(known.Count == 0 ? "no conditions" : string.Join(", ", known.Order(NaturalOrder.Comparer)))}."))
            .Concat(Without.Where(w => loom.Devices.All(d => d.Ref != w)).Select(w => new Problem("/without", $"This loom has no device '{w}'.")));
    }
}
