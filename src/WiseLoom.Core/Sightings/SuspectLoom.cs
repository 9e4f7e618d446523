using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Sightings;

/// <summary>A loom with some faults in it and its devices plugged in, asked what it would show.</summary>
/// <remarks>Not to be asked by several threads at once.</remarks>
public sealed class SuspectLoom
{
    /// <summary>Logarithm of how likely anything is where no state can be computed.</summary>
    internal const double LogNoState = -4;

    /// <summary>What a meter of resistance is off by, at one standard deviation, as a share of its worst case; and what limits spread to.</summary>
    private const double NoiseShare = 0.45, SpreadShare = 0.25;

    /// <summary>A value that nothing explains, and one that says joined where nothing joins.</summary>
    private const double Unlikely = 1e-9, Impossible = 1e-11;

    /// <summary>So many standard deviations are still as predicted.</summary>
    private const double Near = 3.5;

    /// <summary>Up to here no diode has a say: 0.3 V at the meter's test current of 1 mA, ohms.</summary>
    private const double BlocksUpToOhms = 300;

    /// <summary>No device that a loom has: nothing is plugged in.</summary>
    private static readonly ImmutableArray<string> Nothing = [""];

    private readonly Loom loom;
    private readonly double ambientC;
    private readonly Meter meter;
    private readonly ProbedPlaces probed;
    private readonly BuiltLoom built;
    private readonly Dictionary<string, Glimpse> known = new(StringComparer.Ordinal);
    private readonly Dictionary<string, BareState?> live = new(StringComparer.Ordinal);
    private readonly Lazy<LoomStates> states;
    private readonly Lazy<HashSet<string>> places;
    private readonly Dictionary<string, (WireGraph Least, WireGraph Middle, WireGraph Most)> fitted = new(StringComparer.Ordinal);

    /// <summary>Puts faults into a loom.</summary>
    /// <param name="ambientC">Temperature of the copper and the devices, degrees Celsius.</param>
    /// <param name="meter">What resistances were read with.</param>
    /// <param name="probed">Where meters and lamps are held, by situation.</param>
    internal SuspectLoom(Loom loom, double ambientC, Meter meter, ImmutableArray<Fault> faults, ProbedPlaces probed)
    {
        (this.loom, this.ambientC, this.meter, this.probed, Faults) = (loom, ambientC, meter, probed, faults);
        built = new(loom, faults);
        states = new(() => LoomStates.For(built.AsBuilt(ambientC), ambientC));
        places = new(() => [.. faults.SelectMany(f => f.Places(loom).Concat(Ends(f)))]);
    }

    /// <summary>What is wrong with it.</summary>
    internal ImmutableArray<Fault> Faults { get; }

    /// <summary>What a place shows with power.</summary>
    /// <returns>Null when there is no state, or no metal there.</returns>
    internal PointState? At(Situation situation, ProbePoint point) => State(situation).Points.GetValueOrDefault(point);

    /// <summary>A function by its name; null when nothing of it is there.</summary>
    internal FunctionState? Function(Situation situation, string name) => State(situation).Functions.FirstOrDefault(f => f.Name == name);

    /// <summary>What is asked of it in a situation.</summary>
    internal Glimpse State(Situation situation)
    {
        var key = ProbedPlaces.Key(situation);
        if (!known.TryGetValue(key, out var state))
        {
            known.Add(key, state = states.Value.Glimpse(situation, probed.Of(key), probed.AsksFunctions(key)));
        }

        return state;
    }

    /// <summary>Voltages, currents and what the devices do; null when there is no state.</summary>
    internal BareState? Live(Situation situation)
    {
        var key = ProbedPlaces.Key(situation);
        if (!live.TryGetValue(key, out var state))
        {
            live.Add(key, state = states.Value.Bare(situation));
        }

        return state;
    }

    /// <summary>Whether the two wires of a coil arrive the other way round at the pins that they are drawn to; null when one of them does not arrive at all.</summary>
    internal bool? IsReversed(string device)
    {
        if (loom.Devices.FirstOrDefault(d => d.Ref == device) is not { } coil || coil.Pins.Values.Take(2).ToList() is not [var first, var second])
        {
            return null;
        }

        var graph = WireGraph.Topology(loom);
        ProbePoint? Far(ProbePoint near) => graph.NetOf(near)?.Points.FirstOrDefault(p => loom.DevicesOn(p.Connector).Any(d => d.Model is ControllerModel && d.Pins.ContainsValue(p)));
        if (Far(first) is not { Connector: not null } a || Far(second) is not { Connector: not null } b)
        {
            return null;
        }

        return Bare(a, first) is not null && Bare(b, second) is not null ? false : Bare(a, second) is not null && Bare(b, first) is not null ? true : null;
    }

    /// <summary>What one of its wires measures by itself; null when it is open.</summary>
    internal OhmRange? WireAlone(string wire)
    {
        if (built.Wire(wire) is not { Open: false } own)
        {
            return null;
        }

        return WireGraph.EndToEnd(loom, own.Drawn, ambientC, CopperTolerance.Usual) + OhmRange.Exactly(own.AddedOhm);
    }

    /// <summary>What one of its devices measures by itself; null when nothing joins its pins.</summary>
    internal OhmRange? DeviceAlone(string device) => built.Fitted.Devices.FirstOrDefault(d => d.Ref == device)?.Model?.AtRest(Resting).FirstOrDefault(p => p.Diode is null)?.Ohm;

    /// <summary>What two cavities read with devices plugged in and no power; null where a diode has a say in it.</summary>
    /// <param name="plugged">Refs of the devices; empty for all.</param>
    internal (OhmRange? Ohm, bool IsJoined)? Fitted(ProbePoint a, ProbePoint b, ImmutableArray<string> plugged, ImmutableArray<string> conditions)
    {
        var without = plugged.IsEmpty ? [] : loom.Devices.Select(d => d.Ref).Except(plugged, StringComparer.Ordinal).ToHashSet(StringComparer.Ordinal);
        var resting = RestingAt(ambientC, conditions.IsDefault ? [] : conditions);
        var key = $"{string.Join('\u001f', plugged)}|{string.Join('\u001f', resting.Conditions)}";
        if (!fitted.TryGetValue(key, out var known))
        {
            fitted.Add(key, known = (WithDevices(r => r.Min, without, resting), WithDevices(r => r.Nominal, without, resting), WithDevices(r => r.Max, without, resting)));
        }

        bool HasDiodeAt(ProbePoint point)
        {
            var net = known.Middle.NetOf(point)?.Points.ToHashSet() ?? [];
            return FittedParts.Of(built.Fitted, resting, without).Any(p => p.Diode is not null && new[] { p.From, p.To }.Any(n => ProbePoint.TryParse(n, out var at) && net.Contains(at)));
        }

        double Of(WireGraph graph) => graph.NetOf(a)!.Between(a, b, Corner.Nominal);
        OhmRange? straight = known.Middle.NetOf(a) is { } joined && known.Middle.NetOf(b)?.Number == joined.Number ? new OhmRange(Of(known.Least), Of(known.Middle), Of(known.Most)) : null;
        // A meter's test current makes too little across a small resistance for a diode beside it to conduct.
        return straight is { Nominal: < BlocksUpToOhms } || (!HasDiodeAt(a) && !HasDiodeAt(b)) ? (straight, straight is not null) : null;
    }

    /// <summary>What two cavities read bare; null when no metal joins them.</summary>
    internal OhmRange? Bare(ProbePoint a, ProbePoint b) => Fitted(a, b, Nothing, [])?.Ohm;

    /// <summary>Whether one of its faults is at a place: the place itself, a wire that ends there, a device there.</summary>
    internal bool Touches(string place) => places.Value.Contains(place);

    /// <summary>Logarithm of how likely a reading of resistance is.</summary>
    /// <param name="ohm">What was read; null for over range.</param>
    /// <param name="predicted">What it would be; null when nothing joins.</param>
    internal double LogOf(double? ohm, OhmRange? predicted) => (ohm, predicted) switch
    {
        (null, null) => 0,
        (null, { } joined) => joined.Nominal > meter.UpToOhms ? 0 : Math.Log(Impossible),
        ({ }, null) => Math.Log(Impossible),
        ({ } read, { } joined) => Math.Log((0.98 * Math.Exp(-0.5 * Math.Pow(Off(read, joined), 2))) + Unlikely),
    };

    /// <summary>Whether a reading of resistance is as predicted.</summary>
    internal bool IsNear(double? ohm, OhmRange? predicted) => ohm is { } read && predicted is { } joined ? Math.Abs(Off(read, joined)) <= Near : ohm is null == predicted is null;

    private static RestingState RestingAt(double ambientC, ImmutableArray<string> conditions) => new(ambientC, 3, conditions.ToHashSet(StringComparer.Ordinal), WiperSetting.Rest);

    private RestingState Resting => RestingAt(ambientC, []);

    private double Off(double read, OhmRange joined)
    {
        var (spread, noise) = (SpreadShare * (joined.Max - joined.Min), NoiseShare * meter.Uncertainty(Math.Abs(read)));
        var over = read - joined.Nominal;
        return (over - (meter.FourWire ? 0 : Math.Clamp(over, 0, meter.LeadOhms))) / Math.Sqrt((spread * spread) + (noise * noise) + 1e-12);
    }

    private WireGraph WithDevices(Func<OhmRange, double> of, IReadOnlySet<string> without, RestingState resting)
    {
        var build = new WireGraph.Builder();
        foreach (var metal in built.AsBuilt(ambientC).Conductors)
        {
            build.Edge(metal.From, metal.To, OhmRange.Exactly(metal.Ohm), metal.Label);
        }

        foreach (var part in FittedParts.Of(built.Fitted, resting, without).Where(p => p.Diode is null))
        {
            build.Edge(part.From, part.To, OhmRange.Exactly(of(part.Ohm)), part.Label);
        }

        return build.Done();
    }

    /// <summary>Where the wires of a fault end, and what a device is called.</summary>
    private IEnumerable<string> Ends(Fault fault) => fault is DeviceFault device ? [device.Device]
        : fault.Places(loom).Select(loom.FindWire).OfType<Wire>().SelectMany(w => new[] { w.From.Text, w.To.Text });
}

/// <summary>Where meters and lamps are held, by situation.</summary>
internal sealed class ProbedPlaces
{
    private static readonly HashSet<ProbePoint> Nowhere = [];
    private readonly Dictionary<string, HashSet<ProbePoint>> points = new(StringComparer.Ordinal);
    private readonly HashSet<string> functions = new(StringComparer.Ordinal);

    /// <summary>Where some sightings were made.</summary>
    internal static ProbedPlaces By(IEnumerable<Sighting> sightings)
    {
        var all = new ProbedPlaces();
        foreach (var seen in sightings)
        {
            if (seen is { Meanwhile: { } situation, Probed: { } at })
            {
                all.Add(situation, at);
            }
            else if (seen is FunctionSeen { Meanwhile: var when })
            {
                all.AddFunctions(when);
            }
        }

        return all;
    }

    /// <summary>A situation as a key: the same for the same.</summary>
    internal static string Key(Situation situation) =>
        $"{situation.Key}|{string.Join('\u001f', situation.Conditions.Order(StringComparer.Ordinal))}|{string.Join('\u001f', situation.Without.Order(StringComparer.Ordinal))}";

    /// <summary>Adds a place.</summary>
    internal void Add(Situation situation, ProbePoint at)
    {
        var key = Key(situation);
        if (!points.TryGetValue(key, out var here))
        {
            points.Add(key, here = []);
        }

        here.Add(at);
    }

    /// <summary>Asks for the functions of a situation.</summary>
    internal void AddFunctions(Situation situation) => functions.Add(Key(situation));

    /// <summary>Whether the functions of a situation are asked for.</summary>
    internal bool AsksFunctions(string key) => functions.Contains(key);

    /// <summary>The places of a situation.</summary>
    internal HashSet<ProbePoint> Of(string key) => points.GetValueOrDefault(key, Nowhere);
}
