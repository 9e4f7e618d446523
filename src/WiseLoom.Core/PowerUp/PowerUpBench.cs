using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.PowerUp;

/// <summary>One loom with what is really fitted, asked what it would show: nominal, and at the corners of what supply, copper and parts may be.</summary>
/// <remarks>The corners are: supply low or high, with all loads at their least or their largest resistance; copper goes with the supply,
/// since both lower or raise what is left of it. Not to be asked by several threads at once.</remarks>
internal sealed class PowerUpBench
{
    /// <summary>A battery that is in order may be off its nominal voltage by this share; while it cranks by more.</summary>
    private const double SupplyShare = 0.04, CrankingShare = 0.12;

    /// <summary>A voltage is lowest with a low supply and small resistances, and highest the other way; a current is least with a low supply and large ones.</summary>
    private static readonly int[] VoltCorners = [1, 4], AmpCorners = [2, 3];

    /// <summary>What the air at a sensor may be off by, kelvin.</summary>
    private const double AmbientK = 3;

    /// <summary>What a meter of volts and a clamp of amperes may be off by: share, and their steps.</summary>
    private const double VoltsShare = 0.01, VoltsSteps = 0.02, AmpsShare = 0.03, AmpsSteps = 0.002;

    private readonly LoomStates nominal;
    private readonly Dictionary<bool, ImmutableArray<LoomStates>> corners = [];
    private readonly Dictionary<string, BareState?[]> known = new(StringComparer.Ordinal);
    private readonly Dictionary<string, ImmutableSortedDictionary<ProbePoint, PointState>> probed = new(StringComparer.Ordinal);
    private readonly Dictionary<string, FittedTable> fitted = new(StringComparer.Ordinal);
    private readonly HashSet<string> whole = new(StringComparer.Ordinal);
    private readonly HashSet<ProbePoint> interesting;
    private Dictionary<string, string>? titles;
    private CurrentLimit? limit;
    private ImmutableArray<FeedDrop>? drops;

    internal PowerUpBench(Loom drawn, BenchFit fit, double ambientC, School school)
    {
        (Drawn, Fit, AmbientC, School) = (drawn, fit, ambientC, school);
        Loom = fit.On(drawn);
        nominal = LoomStates.For(Loom, ambientC);
        Standing = [.. Loom.Devices.Select(d => d.Model).OfType<SwitchModel>().Where(s => s.HoldsAtRest).Select(s => s.ClosedWhen)];
        WhileRunning = [.. Loom.Devices.Select(d => d.Model).OfType<SwitchModel>().Where(s => s.HoldsRunning).Select(s => s.ClosedWhen)];
        Controllers = [.. Loom.Devices.Where(d => d.Model is ControllerModel { Pins.IsEmpty: false })];
        Loads = [.. Loom.Devices.Where(d => d.Model is LoadModel { Verb.Length: > 0 })];
        Relays = [.. Loom.Devices.Where(d => d.Model is RelayModel)];
        Nets = WireGraph.Topology(Loom);
        interesting = [.. Loom.Devices.SelectMany(d => d.Pins.Values).Where(p => Loom.WiresAt(p).Any())];
        var battery = Loom.Devices.FirstOrDefault(d => d.Model is BatteryModel);
        Plus = battery?.Joint("+");
        Minus = battery?.Joint("-") ?? Bolted();
        ControllersOff = [.. Controllers.Select(c => c.Ref)];
        LoadsOff = [.. Loads.Select(l => l.Ref)];
    }

    /// <summary>The loom as its file says.</summary>
    internal Loom Drawn { get; }

    /// <summary>What is fitted.</summary>
    internal BenchFit Fit { get; }

    /// <summary>Degrees Celsius.</summary>
    internal double AmbientC { get; }

    /// <summary>Where the power-up is done.</summary>
    internal School School { get; }

    /// <summary>The loom with what is really fitted.</summary>
    internal Loom Loom { get; }

    /// <summary>Conditions that hold with the engine standing still.</summary>
    internal ImmutableHashSet<string> Standing { get; }

    /// <summary>Conditions that hold while it runs.</summary>
    internal ImmutableHashSet<string> WhileRunning { get; }

    internal ImmutableArray<Device> Controllers { get; }

    /// <summary>Devices that do something.</summary>
    internal ImmutableArray<Device> Loads { get; }

    internal ImmutableArray<Device> Relays { get; }

    internal WireGraph Nets { get; }

    /// <summary>The battery's positive pole; null without a battery.</summary>
    internal string? Plus { get; }

    /// <summary>The battery's negative pole, or the ring that the engine's metal is bolted to; null when neither is there.</summary>
    internal string? Minus { get; }

    internal ImmutableHashSet<string> ControllersOff { get; }

    internal ImmutableHashSet<string> LoadsOff { get; }

    /// <summary>The limit of the supply for the first power.</summary>
    internal CurrentLimit Limit => limit ??= CurrentLimit.For(
        ProbePoint.TryParse(Plus, out var plus) ? State(Still(KeyPosition.Off, ControllersOff.Union(LoadsOff))) is { } state ? Math.Abs(state.Amps(plus)) : 0 : 0,
        Loom.Devices.Select(d => d.Model).OfType<FuseModel>().Select(f => (double?)f.Amps).Min());

    /// <summary>Feeds that drop while cranking although they must not.</summary>
    internal ImmutableArray<FeedDrop> Drops => drops ??= [.. FeedDrops.Of(this).Distinct()];

    /// <summary>What two cavities read without power, battery disconnected and key off; null when nothing joins them.</summary>
    /// <param name="without">Refs of devices that are unplugged.</param>
    internal FittedPair Read(ProbePoint a, ProbePoint b, ImmutableHashSet<string> without)
    {
        var key = string.Join('\u001f', without.Order(StringComparer.Ordinal));
        if (!fitted.TryGetValue(key, out var table))
        {
            fitted.Add(key, table = FittedTable.For(Loom, AmbientC, CopperTolerance.Usual, Standing, without));
        }

        return table.Between(a, b);
    }

    /// <summary>The metal from one cavity to another without power: wires and devices.</summary>
    internal ImmutableArray<string> WayWithoutPower(string from, string to) =>
        State(Still(KeyPosition.Off, ControllersOff)) is { } state ? [.. state.Way(from, to).Select(l => l.Split('/')[0]).Distinct()] : [];

    /// <summary>A situation with the engine standing still.</summary>
    internal Situation Still(KeyPosition key, ImmutableHashSet<string> without, params IEnumerable<string> also) => new(key, Standing.Union(also), without);

    /// <summary>The engine running.</summary>
    internal Situation Running(ImmutableHashSet<string> without) => new(KeyPosition.Running, WhileRunning, without);

    /// <summary>What it is at nominal values; null when there is no state.</summary>
    internal BareState? State(Situation situation) => At(situation, []) is [var first] ? first : null;

    /// <summary>What a meter shows at a place; null when there is no state, or nothing holds the place.</summary>
    internal ExpectedRange? Volts(Situation situation, ProbePoint point)
    {
        if (At(situation, VoltCorners) is not { Count: > 0 } all || Shown(situation, point) is not { Floats: false, Shows: { } shows })
        {
            return null;
        }

        // What a meter of 10 MΩ takes from the place is the same in every corner.
        var pulled = shows.Meter - all[0].Volts(point.ToString());
        return ExpectedRange.Of([.. all.Select(s => s.Volts(point.ToString()) + pulled)]).Widened(VoltsShare, VoltsSteps);
    }

    /// <summary>The current at a place, as <see cref="BareState.Amps"/>, without its sign; null when there is no state.</summary>
    internal ExpectedRange? Amps(Situation situation, ProbePoint point) =>
        At(situation, AmpCorners) is { Count: > 0 } all ? ExpectedRange.Of([.. all.Select(s => Math.Abs(s.Amps(point)))]).Widened(AmpsShare, AmpsSteps) : null;

    /// <summary>Titles of devices by ref, and wires by id.</summary>
    internal string Titled(string label) => (titles ??= Loom.Devices.ToDictionary(d => d.Ref, d => d.Title, StringComparer.Ordinal)).GetValueOrDefault(label.Split('/')[0], label);

    /// <summary>A way in words: <c>W96, Main relay, Injectors left fuse, W17</c>.</summary>
    internal string InWords(IEnumerable<string> way) => string.Join(", ", way.Select(Titled).Distinct());

    /// <summary>The way of metal from the battery's positive pole, or from the negative one.</summary>
    internal ImmutableArray<string> WayFrom(bool plus, Situation situation, string place) =>
        State(situation) is { } state && (plus ? Plus : Minus) is { } pole ? [.. state.Way(pole, place).Select(l => l.Split('/')[0]).Distinct()] : [];

    /// <summary>Another loom on the same bench, with some devices changed.</summary>
    internal PowerUpBench With(Func<Device, Device> change) => new(Drawn with { Devices = [.. Drawn.Devices.Select(change)] }, Fit, AmbientC, School);

    /// <summary>What probes show at a place: of a situation that is asked once only there, of one that is asked again everywhere.</summary>
    private PointState? Shown(Situation situation, ProbePoint point)
    {
        var key = Key(situation);
        if (!probed.TryGetValue(key, out var shown))
        {
            probed.Add(key, shown = nominal.Glimpse(situation, new HashSet<ProbePoint> { point }, functions: false).Points);
        }
        else if (!shown.ContainsKey(point) && whole.Add(key))
        {
            probed[key] = shown = nominal.Glimpse(situation, interesting, functions: false).Points;
        }

        return shown.GetValueOrDefault(point);
    }

    /// <summary>The nominal state and those at some corners; empty when there is no nominal one.</summary>
    private List<BareState> At(Situation situation, int[] wanted)
    {
        var key = Key(situation);
        if (!known.TryGetValue(key, out var all))
        {
            known.Add(key, all = new BareState?[5]);
            all[0] = nominal.Bare(situation);
        }

        if (all[0] is not { } first)
        {
            return [];
        }

        var missing = wanted.Where(i => all[i] is null).ToArray();
        if (missing.Length > 0)
        {
            var sets = Corners(situation.Key == KeyPosition.Start);
            Parallel.ForEach(missing, i => all[i] = sets[i - 1].Bare(situation));
        }

        return [first, .. wanted.Select(i => all[i]).OfType<BareState>()];
    }

    private static string Key(Situation s) =>
        $"{s.Key}|{string.Join('\u001f', s.Conditions.Order(StringComparer.Ordinal))}|{string.Join('\u001f', s.Without.Order(StringComparer.Ordinal))}";

    private ImmutableArray<LoomStates> Corners(bool cranking)
    {
        if (!corners.TryGetValue(cranking, out var all))
        {
            var share = cranking ? CrankingShare : SupplyShare;
            var wanted = new[] { (-share, Corner.Min), (-share, Corner.Max), (share, Corner.Min), (share, Corner.Max) };
            var made = new LoomStates[wanted.Length];
            Parallel.For(0, made.Length, i => made[i] = AtCorner(wanted[i].Item1, wanted[i].Item2));
            corners.Add(cranking, all = [.. made]);
        }

        return all;
    }

    private LoomStates AtCorner(double supply, Corner parts)
    {
        var copper = supply < 0 ? Corner.Max : Corner.Min;
        Device At(Device device) => device with
        {
            Model = device.Model is BatteryModel battery
                ? battery with { Volts = battery.Volts * (1 + supply), StartVolts = battery.StartVolts * (1 + supply), RunningVolts = battery.RunningVolts * (1 + supply) }
                : device.Model?.AtCorner(parts),
        };
        var loom = Loom with { Devices = [.. Loom.Devices.Select(At)] };
        var metal = loom.Wires.Select(w => new Conductor(w.From.Text, w.To.Text, WireGraph.EndToEnd(loom, w, AmbientC, CopperTolerance.Usual).At(copper), w.Id));
        return LoomStates.For(new AsBuilt(loom, [.. metal]), AmbientC + (parts == Corner.Min ? AmbientK : -AmbientK));
    }

    /// <summary>A ring that the engine's metal is bolted to, that of the heaviest wire.</summary>
    private string? Bolted() => Loom.Devices.Where(d => d.Model is CableModel { ToCase: true }).SelectMany(d => d.Pins.Values)
        .OrderByDescending(p => Loom.WiresAt(p).Select(w => w.Section.Mm2).DefaultIfEmpty(0).Max()).Select(p => p.ToString()).FirstOrDefault();
}
