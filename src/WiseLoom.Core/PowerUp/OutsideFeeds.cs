using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.PowerUp;

/// <summary>A place that leads out of a loom, fed or grounded.</summary>
/// <param name="At">A cavity, ring or tail.</param>
/// <param name="IsFeed">Fed from the supply; else joined to its negative pole.</param>
internal sealed record OutsidePlace(ProbePoint At, bool IsFeed)
{
    /// <summary>Ref of the lead that is clipped on.</summary>
    internal string Label => $"{(IsFeed ? "feed" : "ground")} {At}";
}

/// <summary>A loom off its battery, key and customer's plugs, with a lead at each outside place that may be fed or grounded.</summary>
/// <remarks>
/// Outside places are rings, tails, plugs that carry the battery or the key, and plugs that nothing is plugged into. What hangs on such a
/// plug is off with it; rings stay bolted to the engine. A place may be fed when it has supply in some key position as drawn, and grounded
/// when it lies on metal that leads to the battery's negative pole: nothing else is ever powered. Of places on one piece of metal one
/// stands for all: a ring first, then the heaviest wire.
/// </remarks>
internal sealed class OutsideFeeds
{
    /// <summary>A place has supply from this share of the loom's supply voltage.</summary>
    private const double FedShare = 0.7;

    /// <summary>A lead with its clips, ohms.</summary>
    private const double LeadOhms = 0.01;

    private const string Plus = "@supply +", Minus = "@supply -";

    private readonly LoomStates states;
    private readonly Lazy<ImmutableDictionary<string, ImmutableArray<string>>> outputsOf;
    private readonly ImmutableHashSet<string> running;

    internal OutsideFeeds(Loom loom, double ambientC)
    {
        var source = loom.Devices.Where(d => d.Model is BatteryModel or KeyModel).Select(d => d.Ref).ToHashSet(StringComparer.Ordinal);
        var outside = loom.Connectors.Where(c => IsOutside(loom, c)).ToDictionary(c => c.Ref, StringComparer.Ordinal);
        bool HangsOutside(Device d) => d.Model is not ControllerModel && d.Pins.Values.Any(p => outside.TryGetValue(p.Connector, out var c) && c.Family.Kind is HousingKind.Housing or HousingKind.Inline);
        running = [.. loom.Devices.Select(d => d.Model).OfType<SwitchModel>().Where(s => s.HoldsRunning).Select(s => s.ClosedWhen)];
        Candidates = Places(loom, ambientC, outside.Values);
        var supply = new Device(
            "supply", "Supply", "battery", ImmutableSortedDictionary<string, ProbePoint>.Empty, ImmutableSortedDictionary<string, string>.Empty.Add("+", Plus).Add("-", Minus),
            new BatteryModel(loom.SupplyVolts, loom.SupplyVolts, loom.SupplyVolts, OhmRange.Exactly(0)));
        Inside = loom with
        {
            Devices =
            [
                supply, .. Candidates.Select(Lead), .. loom.Devices.Where(d => !source.Contains(d.Ref) && !HangsOutside(d)),
            ],
        };
        states = LoomStates.For(Inside, ambientC);
        outputsOf = new(() => Output.Of(Inside).Where(o => o.Pin.Pulsed || !o.Pin.OnIn.Contains(KeyPosition.Running)).SelectMany(o => Reached(o).Select(device => (device, o.Name)))
            .GroupBy(x => x.device, StringComparer.Ordinal).ToImmutableDictionary(g => g.Key, g => g.Select(x => x.Name).Distinct().ToImmutableArray()));
    }

    /// <summary>The loom with a lead at each place; a lead is closed when its label holds as a condition.</summary>
    internal Loom Inside { get; }

    /// <summary>Places that may be fed or grounded, those that are best to reach first.</summary>
    internal ImmutableArray<OutsidePlace> Candidates { get; }

    /// <summary>What an engine needs: controllers awake, and injectors, coils and motors that can be had with everything fed.</summary>
    internal ImmutableHashSet<string> EngineRuns()
    {
        var all = States(Candidates, [.. Inside.Devices.Select(d => d.Ref)]);
        var working = all.Driven.Prepend(all.Idle).SelectMany(s => s.Working).ToHashSet(StringComparer.Ordinal);
        return [.. Inside.Devices.Where(d => d.Model is ControllerModel { Pins.IsEmpty: false } ? all.Idle.Awake.Contains(d.Ref) : d.Model is LoadModel { Use: "injector" or "coil" or "motor" } && working.Contains(d.Ref)).Select(d => d.Ref)];
    }

    /// <summary>Whether some devices do their work with these places fed and grounded.</summary>
    internal bool Works(ImmutableArray<OutsidePlace> places, ImmutableHashSet<string> devices)
    {
        if (states.Bare(At(places, [])) is not { Stays: true } rest || Inside.Devices.Any(d => d.Model is ControllerModel && devices.Contains(d.Ref) && !rest.Awake.Contains(d.Ref)))
        {
            return false;
        }

        return devices.All(d => rest.Awake.Contains(d) || rest.Working.Contains(d) || DrivenFor(d).Any(o => states.Bare(At(places, [o])) is { Stays: true } driven && driven.Working.Contains(d)));
    }

    /// <summary>The state with nothing pulsed, and those with each output driven that some devices need.</summary>
    internal (BareState Idle, ImmutableArray<BareState> Driven) States(ImmutableArray<OutsidePlace> places, ImmutableHashSet<string> devices)
    {
        var rest = states.Bare(At(places, [])) ?? throw new InvalidOperationException("A set of leads has no state.");
        var outputs = devices.Where(d => !rest.Working.Contains(d)).SelectMany(DrivenFor).Distinct(StringComparer.Ordinal).Order(StringComparer.Ordinal);
        return (rest, [.. outputs.Select(o => states.Bare(At(places, [o]))).OfType<BareState>()]);
    }

    private IEnumerable<string> DrivenFor(string device) => outputsOf.Value.GetValueOrDefault(device, []);

    private Situation At(ImmutableArray<OutsidePlace> places, IEnumerable<string> also) => new(KeyPosition.Running, [.. running, .. places.Select(p => p.Label), .. also], []);

    /// <summary>Devices that an output brings to work with everything fed.</summary>
    private ImmutableHashSet<string> Reached(Output output)
    {
        var (rest, driven) = (states.Bare(At(Candidates, [])), states.Bare(At(Candidates, [output.Name])));
        return rest is null || driven is null ? [] : driven.Working.Except(rest.Working);
    }

    private static Device Lead(OutsidePlace place) => new(
        place.Label, place.Label, "switch", ImmutableSortedDictionary<string, ProbePoint>.Empty.Add("2", place.At), ImmutableSortedDictionary<string, string>.Empty.Add("1", place.IsFeed ? Plus : Minus),
        new SwitchModel(place.Label, OhmRange.Exactly(LeadOhms)));

    private static bool IsOutside(Loom loom, Connector connector) => connector.Family.Kind is HousingKind.Ring or HousingKind.Tail
        || loom.DevicesOn(connector.Ref).Any(d => d.Model is BatteryModel or KeyModel)
        || !loom.DevicesOn(connector.Ref).Any();

    private static ImmutableArray<OutsidePlace> Places(Loom loom, double ambientC, IEnumerable<Connector> outside)
    {
        var graph = WireGraph.Topology(loom);
        var drawn = LoomStates.For(loom, ambientC);
        ImmutableHashSet<string> resting = [.. loom.Devices.Select(d => d.Model).OfType<SwitchModel>().Where(s => s.HoldsAtRest).Select(s => s.ClosedWhen)];
        var all = KeyPositions.All.Select(k => drawn.Bare(new(k, resting, []))).OfType<BareState>().ToList();
        if (all.Count == 0 || loom.Devices.FirstOrDefault(d => d.Model is BatteryModel) is not { } battery)
        {
            return [];
        }

        var zero = battery.Joint("-") ?? loom.Devices.Where(d => d.Model is CableModel { ToCase: true }).SelectMany(d => d.Pins.Values).Select(p => p.ToString()).FirstOrDefault();
        var found = new List<(OutsidePlace Place, int Net, bool IsRing, double Mm2)>();
        foreach (var point in outside.SelectMany(c => c.Family.Cavities.Select(x => new ProbePoint(c.Ref, x))).Where(p => loom.WiresAt(p).Any()))
        {
            var isRing = loom.Connector(point.Connector).Family.Kind == HousingKind.Ring;
            var heaviest = loom.WiresAt(point).Max(w => w.Section.Mm2);
            if (all.Any(s => s.Volts(point.ToString()) >= FedShare * loom.SupplyVolts))
            {
                found.Add((new(point, true), graph.NetOf(point)!.Number, isRing, heaviest));
            }
            else if (zero is not null && !all[0].Way(zero, point.ToString()).IsEmpty)
            {
                found.Add((new(point, false), graph.NetOf(point)!.Number, isRing, heaviest));
            }
            else if (point.ToString() == zero)
            {
                found.Add((new(point, false), graph.NetOf(point)!.Number, isRing, heaviest));
            }
        }

        return [.. found.OrderByDescending(f => f.IsRing).ThenByDescending(f => f.Mm2).GroupBy(f => (f.Net, f.Place.IsFeed)).Select(g => g.First().Place)];
    }
}
