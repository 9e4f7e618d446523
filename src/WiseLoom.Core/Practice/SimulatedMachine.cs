using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Practice;

/// <summary>An engine, its loom with hidden faults and its controller with settings of its own: everything that a power-up looks at, from the state core.</summary>
/// <remarks>
/// The controller knows the conditions of the engine only by its pins: an output that a condition switches follows what the pin reads, so
/// that a broken lead misleads it as it would. Not to be asked by several threads at once.
/// </remarks>
public sealed class SimulatedMachine
{
    /// <summary>What a controller believes of a condition goes by this name in its outputs.</summary>
    private const string Believed = "believed: ";

    /// <summary>An output with less current finds no load, amperes.</summary>
    private const double LeastAmps = 1e-3;

    private readonly Loom drawn;
    private readonly HiddenMachine hidden;
    private readonly double ambientC;
    private readonly Loom fitted;
    private readonly AsBuilt built;
    private readonly Dictionary<Levers, LoomStates> states = [];
    private readonly LoomStates sound;
    private readonly Lazy<LoomStates> whole;
    private readonly Lazy<ImmutableArray<string>> starters;
    private readonly ImmutableArray<Channel> channels;
    private readonly SettingsSheet sheet;
    private readonly int seed;
    private readonly Dictionary<string, (BareState State, ImmutableHashSet<string> Believed)?> known = new(StringComparer.Ordinal);
    private readonly Dictionary<string, double> thresholds = new(StringComparer.Ordinal);

    /// <summary>Puts one together.</summary>
    /// <param name="fit">What is fitted on the bench.</param>
    /// <param name="seed">Fixes its noise.</param>
    public SimulatedMachine(Loom drawn, BenchFit fit, HiddenMachine hidden, double ambientC, int seed)
    {
        ArgumentNullException.ThrowIfNull(drawn);
        ArgumentNullException.ThrowIfNull(fit);
        ArgumentNullException.ThrowIfNull(hidden);
        (this.drawn, this.hidden, this.ambientC, this.seed) = (drawn, hidden, ambientC, seed);
        fitted = fit.On(drawn);
        ImmutableHashSet<string> standing = [.. fitted.Devices.Select(d => d.Model).OfType<SwitchModel>().Where(s => s.HoldsAtRest).Select(s => s.ClosedWhen)];
        Standing = standing;
        var faulty = new BuiltLoom(fitted, hidden.Faults).AsBuilt(ambientC);
        built = faulty with { Drawn = faulty.Drawn with { Devices = [.. faulty.Drawn.Devices.Select(Deceived)] } };
        sound = LoomStates.For(fitted with { Devices = [.. fitted.Devices.Select(Deceived)] }, ambientC);
        whole = new(() => LoomStates.For(drawn, ambientC));
        starters = new(() => [.. fitted.Devices.Where(d => d.Model is LoadModel { Use: "solenoid" }).Select(d => d.Ref)
            .Where(r => whole.Value.Bare(new(KeyPosition.Start, standing, []))?.Working.Contains(r) == true && whole.Value.Bare(new(KeyPosition.On, standing, []))?.Working.Contains(r) != true)]);
        channels = Channel.Of(drawn);
        sheet = SettingsSheet.Of(drawn);
        At = new(KeyPosition.Off, Standing, []);
    }

    /// <summary>The loom as it is drawn.</summary>
    public Loom Loom => drawn;

    /// <summary>Conditions that hold with the engine standing.</summary>
    public ImmutableHashSet<string> Standing { get; }

    /// <summary>Where levers and pedals are held.</summary>
    public Levers Levers { get; set; }

    /// <summary>Key, conditions of the engine and what is unplugged now; outputs that are driven stand among the conditions.</summary>
    public Situation At { get; set; }

    /// <summary>Whether the controller is awake and can be talked to.</summary>
    public bool Answers => Now is { } now && Controller is { } controller && !At.Without.Contains(controller.Ref) && now.State.Awake.Contains(controller.Ref);

    /// <summary>Volts at a place against the battery's negative pole; null when there is no state.</summary>
    public double? Volts(ProbePoint point) => Now?.State.Volts(point.ToString());

    /// <summary>The current at a place, amperes, without its sign; null when there is no state.</summary>
    public double? Amps(ProbePoint point) => Now is { } now ? Math.Abs(now.State.Amps(point)) : null;

    /// <summary>Whether a load works, a relay is pulled in, or a controller is awake.</summary>
    public bool IsAtWork(string device) => Now?.State.IsAtWork(device) == true;

    /// <summary>Refs of loads that work and relays that are pulled in.</summary>
    public ImmutableHashSet<string> AtWork => Now is { } now ? now.State.Working.Union(now.State.Pulled) : [];

    /// <summary>What is printed on a fuse.</summary>
    public string Printed(Device fuse)
    {
        ArgumentNullException.ThrowIfNull(fuse);
        return HiddenMachine.Printed(hidden.Fuses.GetValueOrDefault(fuse.Ref, ((FuseModel)fuse.Model!).Amps));
    }

    /// <summary>What two cavities read without power, battery disconnected and key off, ohms; null for over range.</summary>
    /// <param name="plugged">Refs of devices that are plugged in.</param>
    public double? Ohms(ProbePoint a, ProbePoint b, IReadOnlySet<string> plugged)
    {
        ArgumentNullException.ThrowIfNull(plugged);
        var build = new WireGraph.Builder();
        foreach (var metal in built.Conductors)
        {
            build.Edge(metal.From, metal.To, OhmRange.Exactly(metal.Ohm), metal.Label);
        }

        var without = built.Drawn.Devices.Select(d => d.Ref).Where(r => !plugged.Contains(r)).ToHashSet(StringComparer.Ordinal);
        foreach (var part in FittedParts.Of(built.Drawn, new(ambientC, 0, At.Conditions, WiperSetting.Rest), without).Where(p => p.Diode is null))
        {
            build.Edge(part.From, part.To, OhmRange.Exactly(part.Ohm.Nominal), part.Label);
        }

        foreach (var (from, to, ohms) in Terminations(plugged))
        {
            build.Edge(from, to, OhmRange.Exactly(ohms), "termination");
        }

        build.Node(a);
        build.Node(b);
        var graph = build.Done();
        return graph.NetOf(a) is { } net && graph.NetOf(b)?.Number == net.Number ? net.Between(a, b, Corner.Nominal) : null;
    }

    /// <summary>What the controller says that it is.</summary>
    public string Identity => $"stand-in controller of {drawn.Name.ReplaceLineEndings(" ")}";

    /// <summary>The settings that it has.</summary>
    public ImmutableArray<ControllerSetting> Settings => [.. sheet.Rows.Where(r => r.Controller == Controller?.Ref).Select(r => hidden.Settings.GetValueOrDefault(r.Setting.Name, r.Setting))];

    /// <summary>What it measures; empty while it does not answer.</summary>
    public ImmutableArray<LiveValue> Live => !Answers ? [] :
    [
        .. channels.Where(c => c.Controller == Controller!.Ref).Select(c =>
        {
            var volts = Now!.Value.State.Volts(c.Point.ToString());
            return new LiveValue(c.Name, c.Point.ToString(), volts, AsSet(c).Value(volts), c.Unit);
        }),
    ];

    /// <summary>Codes that it stores now: channels at an end of their range, outputs without a load.</summary>
    public ImmutableArray<ControllerCode> Codes
    {
        get
        {
            if (!Answers)
            {
                return [];
            }

            var found = channels.Where(c => c.Controller == Controller!.Ref).Select(c => ExpectedCodes.Of(c, Now!.Value.State.Volts(c.Point.ToString()))).OfType<ControllerCode>();
            var open = Output.Of(drawn).Where(o => o.Controller == Controller!.Ref && !o.Loads.IsEmpty && Solve(At with { Conditions = At.Conditions.Add(o.Name) }) is { } driven && Math.Abs(driven.State.Amps(o.Point)) < LeastAmps && HasLoad(o))
                .Select(o => ExpectedCodes.Open(o.Point, o.Name));
            return [.. found, .. open];
        }
    }

    /// <summary>Whether an output has a load to find in this key position, as everything is drawn.</summary>
    private bool HasLoad(Output output) => whole.Value.Bare(At with { Conditions = At.Conditions.Add(output.Name) }) is { } drawnState && Math.Abs(drawnState.Amps(output.Point)) >= LeastAmps;

    /// <summary>Names of outputs that it can drive.</summary>
    public ImmutableArray<string> Outputs => [.. Output.Of(drawn).Where(o => o.Controller == Controller?.Ref).Select(o => o.Name)];

    /// <summary>What an output draws that is driven now, amperes; null for an unknown one.</summary>
    public double? DrawnBy(string output) => Output.Of(drawn).FirstOrDefault(o => o.Name == output) is { } known ? Amps(known.Point) : null;

    /// <summary>Whether the starter turns the engine.</summary>
    public bool Cranks => At.Key == KeyPosition.Start && starters.Value.All(IsAtWork);

    /// <summary>Edges of all triggers while it is cranked; of wheels whose signal does not arrive none.</summary>
    public TriggerLog Log(double ms)
    {
        var random = new Random(seed);
        var cylinders = Settings.FirstOrDefault(s => s.Name == "cylinders") is null ? 4 : (int)(sheet.Rows.FirstOrDefault(r => r.Setting.Name == "cylinders")?.Setting.Number ?? 4);
        var crank = fitted.Devices.FirstOrDefault(d => d.Trigger is { PerTurn: 1 })?.Trigger;
        var edges = ImmutableSortedDictionary.CreateBuilder<string, ImmutableArray<double>>(StringComparer.Ordinal);
        foreach (var device in fitted.Devices.Where(d => d.Trigger is not null))
        {
            var arrives = Cranks && Arrives(device, out var reversed) ? reversed : (bool?)null;
            edges[device.Ref] = arrives is { } way
                ? SimulatedTriggers.Edges(device.Trigger!, crank, device.Trigger!.SyncTooth, way, ms, cylinders, device.Trigger!.PerTurn == 1 ? hidden.Triggers with { CamTeeth = 0 } : hidden.Triggers with { Noise = 0 }, random)
                : [];
        }

        return new(edges.ToImmutable(), ms);
    }

    /// <summary>What keeps it from running with the key turned to start and everything plugged in; null when it runs.</summary>
    public string? WillNotRun
    {
        get
        {
            var before = At;
            try
            {
                At = new(KeyPosition.Start, Standing, []);
                if (!Cranks)
                {
                    return "the starter does not turn";
                }

                if (!Answers)
                {
                    return "the controller is asleep while it cranks";
                }

                var log = Log(3000);
                if (fitted.Devices.FirstOrDefault(d => d.Trigger is { PerTurn: 1 }) is { } crank && !TriggerJudge.Of(crank, log.Edges[crank.Ref], 3000).IsRight)
                {
                    return "the controller does not know where the crank is";
                }

                return Dead("injector") ?? Dead("coil") ?? (sheet.Against(Controller!.Ref, Settings.ToDictionary(s => s.Name, StringComparer.Ordinal)) is [var wrong, ..] ? $"a setting is wrong: {wrong.Row.Setting.Name}" : null);
            }
            finally
            {
                At = before;
            }
        }
    }

    private Device? Controller => fitted.Devices.FirstOrDefault(d => d.Model is ControllerModel { Pins.IsEmpty: false });

    private (BareState State, ImmutableHashSet<string> Believed)? Now => Solve(At);

    /// <summary>Nobody of a kind works when its output is driven, or more than half do not.</summary>
    private string? Dead(string use)
    {
        var all = fitted.Devices.Where(d => d.Model is LoadModel load && load.Use == use).ToList();
        var outputs = Outputs;
        var works = all.Where(d => outputs.Any(o => Solve(At with { Conditions = At.Conditions.Add(o) })?.State.Working.Contains(d.Ref) == true)).Select(d => d.Ref).ToHashSet(StringComparer.Ordinal);
        return all.Count > 0 && 2 * works.Count <= all.Count ? $"{all.First(d => !works.Contains(d.Ref)).Title} and others do nothing" : null;
    }

    /// <summary>A controller whose outputs go by what it believes of the engine.</summary>
    private static Device Deceived(Device device) => device.Model is not ControllerModel model ? device
        : device with { Model = model with { Pins = model.Pins.ToImmutableSortedDictionary(p => p.Key, p => p.Value.OnWhen.IsEmpty ? p.Value : p.Value with { OnWhen = [.. p.Value.OnWhen.Select(c => Believed + c)] }, model.Pins.KeyComparer) } };

    private (BareState State, ImmutableHashSet<string> Believed)? Solve(Situation situation)
    {
        var key = $"{Levers}|{situation.Key}|{string.Join('\u001f', situation.Conditions.Order(StringComparer.Ordinal))}|{string.Join('\u001f', situation.Without.Order(StringComparer.Ordinal))}";
        if (!known.TryGetValue(key, out var solved))
        {
            // First with nothing believed; then with what its pins say. What they say does not hang on the lamps that it switches.
            var held = Held();
            solved = held.Bare(situation) is { } first && Beliefs(first, situation) is var believed && held.Bare(situation with { Conditions = situation.Conditions.Union(believed.Select(b => Believed + b)) }) is { } second
                ? (second, believed) : null;
            known.Add(key, solved);
        }

        return solved;
    }

    /// <summary>The states with the levers where they are held.</summary>
    private LoomStates Held()
    {
        if (!states.TryGetValue(Levers, out var held))
        {
            Device At(Device d) => d.Model is not PotModel pot || Levers == Levers.Rest ? d : d with { Model = pot with { Rest = Levers == Levers.Least ? pot.Least : pot.Most } };
            states.Add(Levers, held = LoomStates.For(built with { Drawn = built.Drawn with { Devices = [.. built.Drawn.Devices.Select(At)] } }, ambientC));
        }

        return held;
    }

    /// <summary>Conditions that the controller takes for true: those that a pin of its own tells, by that pin; all others as they are.</summary>
    private ImmutableHashSet<string> Beliefs(BareState state, Situation situation)
    {
        var told = channels.Where(c => c.Sensor?.Model is SwitchModel).GroupBy(c => ((SwitchModel)c.Sensor!.Model!).ClosedWhen, StringComparer.Ordinal).ToDictionary(g => g.Key, g => g.First(), StringComparer.Ordinal);
        var all = situation.Conditions.Concat(told.Keys).Distinct(StringComparer.Ordinal);
        return [.. all.Where(c => told.TryGetValue(c, out var channel) && IsClosed(state, channel, c) is { } closed ? closed : situation.Conditions.Contains(c))];
    }

    /// <summary>Whether a pin says that its switch is closed; null where the drawing gives it no two voltages to tell by.</summary>
    private bool? IsClosed(BareState state, Channel channel, string condition)
    {
        var volts = state.Volts(channel.Point.ToString());
        if (!thresholds.TryGetValue(condition, out var middle))
        {
            double? At(params string[] conditions) => sound.Bare(new(KeyPosition.On, [.. conditions], []))?.Volts(channel.Point.ToString());
            var (closed, open) = (At(condition), At());
            thresholds.Add(condition, middle = closed is { } c && open is { } o && Math.Abs(c - o) > 0.2 ? (c < o ? 1 : -1) * (c + o) / 2 : double.NaN);
        }

        return double.IsNaN(middle) ? null : middle > 0 ? volts < middle : volts > -middle;
    }

    /// <summary>The channel with the table that the controller is set to.</summary>
    private Channel AsSet(Channel channel) => channel.Sensor is { } sensor
        && hidden.Settings.GetValueOrDefault($"{channel.Name}: table") is { } table && SettingText.Points(table.Text) is { } points
        ? channel with { Sensor = sensor with { Model = new NtcModel(points) } } : channel;

    private IEnumerable<(string From, string To, double Ohms)> Terminations(IReadOnlySet<string> plugged) =>
        from controller in fitted.Devices
        where controller.Model is ControllerModel && plugged.Contains(controller.Ref)
        from bus in ((ControllerModel)controller.Model!).Pins.Where(p => p.Value.Role == ControllerRole.Network && controller.Pins.ContainsKey(p.Key)).GroupBy(p => p.Value.Bus)
        let pins = bus.ToList()
        where pins.Count > 1 && (pins[0].Value.Ohms ?? pins[1].Value.Ohms) is not null
        select (controller.Pins[pins[0].Key].ToString(), controller.Pins[pins[1].Key].ToString(), pins[0].Value.Ohms ?? pins[1].Value.Ohms!.Value);

    /// <summary>Whether a trigger's signal comes to the pins that it is drawn to, and whether the other way round.</summary>
    private bool Arrives(Device device, out bool reversed)
    {
        reversed = false;
        var graph = WireGraph.Topology(drawn);
        ProbePoint? Far(ProbePoint near) => graph.NetOf(near)?.Points.Where(p => drawn.DevicesOn(p.Connector).Any(d => d.Model is ControllerModel && d.Pins.ContainsValue(p))).Select(p => (ProbePoint?)p).FirstOrDefault();
        bool Joined(ProbePoint? a, ProbePoint b) => a is { } from && Ohms(from, b, new HashSet<string>()) is < 1000;
        if (At.Without.Contains(device.Ref) || built.Drawn.Devices.All(d => d.Ref != device.Ref))
        {
            return false;
        }

        if (device.Model is TransducerModel)
        {
            return ProbePoint.TryParse(device.Joint("signal"), out var signal) && Joined(Far(signal), signal)
                && ProbePoint.TryParse(device.Joint("5V"), out var supply) && ProbePoint.TryParse(device.Joint("ground"), out var ground) && (Volts(supply) ?? 0) - (Volts(ground) ?? 0) > 3;
        }

        if (device.Pins.Values.Take(2).ToList() is not [var first, var second])
        {
            return false;
        }

        reversed = Joined(Far(first), second) && Joined(Far(second), first);
        return reversed || (Joined(Far(first), first) && Joined(Far(second), second));
    }
}
