using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.States;

/// <summary>What is really at a device's plug on one bench.</summary>
/// <remarks>Written as JSON with <c>kind</c> and the fields of the record.</remarks>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(RealDevice), "real")]
[JsonDerivedType(typeof(StandInResistor), "resistor")]
[JsonDerivedType(typeof(StandInLamp), "lamp")]
[JsonDerivedType(typeof(NothingFitted), "nothing")]
public abstract record Fitting
{
    /// <summary>The device as it is there; null when nothing is.</summary>
    /// <param name="supplyVolts">Of the loom.</param>
    internal abstract Device? On(Device drawn, double supplyVolts);

    /// <summary>What it is, in words: <c>a 21 W lamp</c>.</summary>
    public abstract string InWords();

    /// <summary>A load of its own at a device's two pins.</summary>
    private protected Device Load(Device drawn, OhmRange cold, OhmRange hot, string verb, string use)
    {
        var (first, second) = DeviceKinds.Find(drawn.Kind)?.Terminals ?? ("1", "2");
        return drawn with { Title = $"{drawn.Title} ({InWords()[(InWords().IndexOf(' ', StringComparison.Ordinal) + 1)..]})", Model = new LoadModel(cold, hot, verb, null) { Use = use, Terminals = (first, second) }, SeenAs = null, Needs = null };
    }
}

/// <summary>The device itself.</summary>
public sealed record RealDevice : Fitting
{
    internal override Device On(Device drawn, double supplyVolts) => drawn;

    /// <inheritdoc/>
    public override string InWords() => "the device itself";
}

/// <summary>A resistor in its place.</summary>
/// <param name="Ohm">Ohms, 0.05 to 1,000,000.</param>
public sealed record StandInResistor(double Ohm) : Fitting
{
    internal override Device On(Device drawn, double supplyVolts) => Load(drawn, OhmRange.Exactly(Ohm), OhmRange.Exactly(Ohm), "works", "");

    /// <inheritdoc/>
    public override string InWords() => $"a {Say.Ohms(Ohm)} resistor";
}

/// <summary>A lamp in its place.</summary>
/// <param name="Watts">At the loom's supply voltage, 0.5 to 200.</param>
public sealed record StandInLamp(double Watts) : Fitting
{
    /// <summary>A cold filament has this share of its hot resistance.</summary>
    private const double ColdShare = 0.1;

    internal override Device On(Device drawn, double supplyVolts)
    {
        var hot = OhmRange.Exactly(supplyVolts * supplyVolts / Watts);
        return Load(drawn, hot.Scaled(ColdShare), hot, "lights", "lamp");
    }

    /// <inheritdoc/>
    public override string InWords() => string.Create(CultureInfo.InvariantCulture, $"a {Watts:0.##} W lamp");
}

/// <summary>Nothing: its plug hangs free.</summary>
public sealed record NothingFitted : Fitting
{
    internal override Device? On(Device drawn, double supplyVolts) => null;

    /// <inheritdoc/>
    public override string InWords() => "nothing";
}

/// <summary>What is fitted on one bench.</summary>
/// <param name="Changed">By ref of the device; a device that is not named is there as the file says.</param>
public sealed record BenchFit(ImmutableSortedDictionary<string, Fitting> Changed)
{
    /// <summary>Limits of a stand-in.</summary>
    private const double LeastOhm = 0.05, MostOhm = 1e6, LeastWatts = 0.5, MostWatts = 200;

    /// <summary>Everything as the file says.</summary>
    public static BenchFit AsDrawn { get; } = new(ImmutableSortedDictionary<string, Fitting>.Empty);

    /// <summary>What is at a device's plug.</summary>
    public Fitting Of(Device device)
    {
        ArgumentNullException.ThrowIfNull(device);
        return Changed.GetValueOrDefault(device.Ref) ?? (device.IsFitted ? new RealDevice() : new NothingFitted());
    }

    /// <summary>The loom with its devices as they are on this bench.</summary>
    public Loom On(Loom loom)
    {
        ArgumentNullException.ThrowIfNull(loom);
        return loom.Devices.All(d => Of(d) is RealDevice) ? loom : loom with { Devices = [.. loom.Devices.Select(d => Of(d).On(d, loom.SupplyVolts)).OfType<Device>()] };
    }

    /// <summary>What of it cannot be for a loom.</summary>
    /// <returns>Places as JSON pointers; empty when all of it can.</returns>
    public ImmutableArray<Problem> Problems(Loom loom)
    {
        ArgumentNullException.ThrowIfNull(loom);
        var problems = ImmutableArray.CreateBuilder<Problem>();
        foreach (var (reference, fitting) in Changed)
        {
            var at = $"/fitted/{JsonPlace.Escape(reference)}";
            if (loom.Devices.FirstOrDefault(d => d.Ref == reference) is not { } device)
            {
                problems.Add(new(at, $"This loom has no device '{reference}'.{(EditDistance.Nearest(reference, loom.Devices.Select(d => d.Ref)) is { } near ? $" Is '{near}' meant?" : "")}"));
            }
            else if (fitting is StandInResistor or StandInLamp && DeviceKinds.Find(device.Kind) is not { TwoTerminals: true })
            {
                problems.Add(new(at, $"{device.Title} is a {device.Kind}: a lamp or a resistor can stand in only for something with two terminals. Write null for nothing."));
            }
            else if (fitting is StandInResistor { Ohm: not (>= LeastOhm and <= MostOhm) })
            {
                problems.Add(new(at, "A resistor lies between 0.05 Ω and 1 MΩ."));
            }
            else if (fitting is StandInLamp { Watts: not (>= LeastWatts and <= MostWatts) })
            {
                problems.Add(new(at, "A lamp lies between 0.5 and 200 W."));
            }
        }

        return problems.ToImmutable();
    }

    /// <summary>Reads <c>{"fitted":{"pump":{"resistorOhm":6},"horn":{"lampWatts":21},"injector-3":null,"injector-4":true}}</c>.</summary>
    internal static BenchFit Read(JsonPlace root)
    {
        var changed = ImmutableSortedDictionary.CreateBuilder<string, Fitting>(StringComparer.Ordinal);
        foreach (var (name, value, at) in root.Fields("fitted"))
        {
            if (Read(value) is { } fitting)
            {
                changed[name] = fitting;
            }
            else
            {
                root.WrongAt(at, "Write null for nothing, true for the device itself, {\"resistorOhm\": 6} or {\"lampWatts\": 21}.");
            }
        }

        return new(changed.ToImmutable());
    }

    private static Fitting? Read(JsonElement value) => value.ValueKind switch
    {
        JsonValueKind.Null or JsonValueKind.False => new NothingFitted(),
        JsonValueKind.True => new RealDevice(),
        JsonValueKind.Object when value.EnumerateObject().ToList() is [{ Value.ValueKind: JsonValueKind.Number } only] && only.Value.TryGetDouble(out var number) => only.Name switch
        {
            "resistorOhm" => new StandInResistor(number),
            "lampWatts" => new StandInLamp(number),
            _ => null,
        },
        _ => null,
    };

    /// <summary>Equal when the same is fitted.</summary>
    public bool Equals(BenchFit? other) => other is not null && Changed.SequenceEqual(other.Changed);

    /// <inheritdoc/>
    public override int GetHashCode() => Changed.Count;
}
