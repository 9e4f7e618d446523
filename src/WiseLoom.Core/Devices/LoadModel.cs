namespace WiseLoom.Core.Devices;

/// <summary>A coil, heater, lamp, solenoid, injector or motor: two terminals and a resistance.</summary>
/// <param name="Cold">What it measures cold and idle.</param>
/// <param name="AtWork">What it is while it works (a hot filament, a turning motor).</param>
/// <param name="Verb">What it does when it works: <c>fires</c>, <c>lights</c>, <c>runs</c>.</param>
/// <param name="WorksFromVolts">Least voltage across it at which it works; null for <see cref="WorksFromShare"/> of the loom's supply.</param>
public sealed record LoadModel(OhmRange Cold, OhmRange AtWork, string Verb, double? WorksFromVolts) : DeviceModel
{
    /// <summary>A load without a figure of its own works from this share of the loom's supply voltage.</summary>
    public const double WorksFromShare = 0.6;

    /// <summary>Least voltage across it at which it works, volts.</summary>
    public double WorksFrom(double supplyVolts) => WorksFromVolts ?? WorksFromShare * supplyVolts;

    /// <summary>What it is for, as the file says: <c>injector</c>, <c>lamp</c>; empty when the file does not say.</summary>
    public string Use { get; init; } = "";

    /// <summary>What it shows for its sender, of a gauge; null for all else.</summary>
    public GaugeScale? Gauge { get; init; }

    /// <summary>Roles of its two terminals.</summary>
    public (string First, string Second) Terminals { get; init; } = ("1", "2");

    /// <summary>A resistance that does nothing.</summary>
    internal static LoadModel Plain(double ohm, string first = "1", string second = "2") => new(OhmRange.Exactly(ohm), OhmRange.Exactly(ohm), "", null) { Terminals = (first, second) };

    /// <inheritdoc/>
    internal override IEnumerable<RestingPart> AtRest(RestingState at) => [new(Terminals.First, Terminals.Second, Cold)];

    /// <inheritdoc/>
    internal override DeviceModel Measuring(double ohm) => this with { Cold = OhmRange.Exactly(ohm), AtWork = OhmRange.Exactly(ohm) };

    /// <inheritdoc/>
    internal override DeviceModel AtCorner(Corner corner) => this with { Cold = OhmRange.Exactly(Cold.At(corner)), AtWork = OhmRange.Exactly(AtWork.At(corner)) };
}

/// <summary>Plain resistances that do something, and motors.</summary>
internal static class LoadKinds
{
    /// <summary>What each use of a plain resistance does when it works.</summary>
    private static readonly Dictionary<string, string> Verbs = new(StringComparer.Ordinal)
    {
        ["injector"] = "fires", ["coil"] = "fires", ["lamp"] = "lights", ["heater"] = "heats", ["solenoid"] = "pulls", ["valve"] = "moves", ["siren"] = "sounds",
        ["sensor"] = "", ["resistor"] = "", ["gauge"] = "",
    };

    /// <summary>An injector, coil, heater, lamp, solenoid or plain resistor.</summary>
    internal static DeviceKind Resistor { get; } = new("resistor", true, e => ReadResistor(e.Place));

    /// <summary>A motor.</summary>
    internal static DeviceKind Motor { get; } = new("motor", true, e => ReadMotor(e.Place), ["+", "plus", "1", "a"], ["-", "−", "minus", "2", "b"]);

    private static LoadModel? ReadResistor(JsonPlace place)
    {
        var ohm = place.Range("ohm", 1, "ohms", required: !place.Has("ohmCold"));
        var cold = place.Range("ohmCold", 1, "ohms") ?? ohm;
        var hot = place.Range("ohmHot", 1, "ohms");
        var use = place.Text("use", longest: 40) ?? (place.Has("ohmCold") ? "lamp" : "");
        var from = place.Number("worksFromVolts", 0, 1000, unit: "volts");
        if (use.Length > 0 && !Verbs.ContainsKey(use))
        {
            place.Wrong("use", $"'{use}' is not known here; write one of {string.Join(", ", Verbs.Keys)}.");
        }

        return cold is { } rest ? new LoadModel(rest, hot ?? rest, Verbs.GetValueOrDefault(use, "works"), from) { Use = use, Gauge = GaugeScale.Read(place) } : null;
    }

    private static LoadModel ReadMotor(JsonPlace place)
    {
        var standing = place.Range("ohm", 1, "ohms") ?? OhmRange.Exactly(1);
        return new(standing, place.Range("ohmRunning", 1, "ohms") ?? standing, "runs", place.Number("worksFromVolts", 0, 1000, unit: "volts")) { Terminals = ("+", "-"), Use = "motor" };
    }
}
