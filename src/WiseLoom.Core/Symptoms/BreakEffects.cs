using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Symptoms;

/// <summary>One function that is otherwise with a break than without it.</summary>
/// <param name="Situation">When.</param>
/// <param name="When">The same in words.</param>
/// <param name="Function">Its name: <c>Fuel pump runs</c>.</param>
/// <param name="Device">Ref of the device that does it.</param>
/// <param name="Was">Whether it can be had in the sound loom, at once or when its output is driven.</param>
/// <param name="Now">Whether it can be had with the break.</param>
/// <param name="Shows">Whether a person sees, hears or feels it without any tool, there and then.</param>
public sealed record Difference(Situation Situation, string When, string Function, string Device, bool Was, bool Now, bool Shows);

/// <summary>A code that a controller stores with a break and not without it.</summary>
/// <param name="Channel">What the controller calls it.</param>
public sealed record CodeSeen(string Channel, ControllerCode Code);

/// <summary>What a break does.</summary>
/// <param name="Sees">All functions that are otherwise, in the order of the situations.</param>
/// <param name="Codes">Codes that the controller stores with the key on.</param>
/// <param name="Silent">Refs of sensors whose wires no longer all reach a controller.</param>
/// <param name="NoState">Whether there are situations without any state, in which nothing can be said.</param>
public sealed record BreakEffect(Break Break, ImmutableArray<Difference> Sees, ImmutableArray<CodeSeen> Codes, ImmutableArray<string> Silent, bool NoState)
{
    /// <summary>By plain key position: volts by place. Positions in which nothing moves are those of the sound loom.</summary>
    internal ImmutableArray<ImmutableDictionary<ProbePoint, double>> Volts { get; init; } = [];
}

/// <summary>All single breaks of a loom with what each does, from the states of the loom with and without it.</summary>
/// <remarks>A part that carries nothing at a moment changes nothing when it is gone, and is not solved for; a condition by which neither what it
/// carries nor any relay or controller changes, changes nothing more. Made once for a revision and kept.</remarks>
public sealed class BreakEffects
{
    /// <summary>Larger looms are not broken piece by piece.</summary>
    public const int MostWires = 1200;

    private readonly AsBuilt drawn;
    private readonly SoundLoom sound;
    private readonly ImmutableArray<Channel> channels;
    private readonly ImmutableArray<ProbePoint> places;
    private readonly HashSet<string> shows;
    private readonly SensorLines sensors;
    private readonly Dictionary<string, ImmutableArray<KeyPosition>> pulses;

    private BreakEffects(Loom loom, double ambientC)
    {
        (Loom, AmbientC, drawn) = (loom, ambientC, AsBuilt.AsDrawn(loom, ambientC));
        sound = new(drawn, ambientC);
        channels = Channel.Of(loom);
        sensors = new(drawn);
        places = [.. loom.ProbePoints()];
        shows = [.. loom.Devices.Where(d => d.Model is LoadModel { Verb.Length: > 0 }).Select(d => d.Ref)];
        pulses = loom.Devices.Select(d => d.Model).OfType<ControllerModel>().SelectMany(c => c.Pins.Values).Where(p => p is { IsOutput: true, Pulsed: true })
            .GroupBy(p => p.Output, StringComparer.Ordinal).ToDictionary(g => g.Key, g => g.SelectMany(p => p.OnIn).Distinct().ToImmutableArray(), StringComparer.Ordinal);
        Sound = new(new OpenWire(""), [], [], [], false) { Volts = [.. sound.At.Take(Moments.Plain).Select(m => m is null ? [] : VoltsOf(m.Bare))] };
    }

    /// <summary>The loom asked about.</summary>
    public Loom Loom { get; }

    /// <summary>Degrees Celsius.</summary>
    public double AmbientC { get; }

    /// <summary>Every break: plugs first, then fuses, then wires, then what was asked for besides.</summary>
    public ImmutableArray<BreakEffect> All { get; private set; } = [];

    internal Moments Moments => sound.Moments;

    /// <summary>The loom without a break.</summary>
    internal BreakEffect Sound { get; }

    /// <summary>Breaks a loom piece by piece.</summary>
    /// <param name="ambientC">Degrees Celsius.</param>
    /// <param name="besides">Further breaks that are asked about, such as two plugs exchanged.</param>
    /// <exception cref="ArgumentException">The loom has more than <see cref="MostWires"/> wires.</exception>
    public static BreakEffects Of(Loom loom, double ambientC, IEnumerable<Break>? besides = null, CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(loom);
        if (loom.Wires.Length > MostWires)
        {
            throw new ArgumentException($"A loom of {loom.Wires.Length} wires is not broken piece by piece: {MostWires} at most.", nameof(loom));
        }

        var made = new BreakEffects(loom, ambientC);
        ImmutableArray<Break> breaks = [.. Break.All(loom), .. besides ?? []];
        var found = new BreakEffect[breaks.Length];
        Parallel.For(0, breaks.Length, new ParallelOptions { CancellationToken = cancel }, i => found[i] = made.Effect(breaks[i]));
        made.All = [.. found];
        return made;
    }

    /// <summary>Whether a function is there for a person at a moment of the sound loom: at once, or by an output that pulses in that position.</summary>
    internal bool IsThere(Situation at, FunctionState f) => shows.Contains(f.Device) && (f.Now || (f.Works && f.WhenDriven is { } output && pulses.GetValueOrDefault(output, []).Contains(at.Key)));

    /// <summary>Functions that a person notices at a moment of the sound loom.</summary>
    internal IEnumerable<FunctionState> There(int moment) => sound.At[moment]?.Functions.Values.Where(f => IsThere(Moments.All[moment], f)) ?? [];

    private BreakEffect Effect(Break broken)
    {
        var parts = broken.Parts(Loom);
        var states = new Lazy<LoomStates>(() => LoomStates.For(broken.In(drawn), AmbientC));
        var now = new TurnedState?[Moments.All.Length];
        var moved = new bool[now.Length];
        var standing = Enumerable.Range(0, (int)KeyPosition.Running).Any(i => Touched(parts, i)) ? Moments.Standing(states.Value, k => Driven(parts, (int)k)) : [];
        for (var i = 0; i < Moments.Plain; i++)
        {
            var reaches = i == (int)KeyPosition.Running ? Enumerable.Range(0, Moments.Plain).Any(k => Touched(parts, k)) : !standing.IsEmpty;
            moved[i] = reaches;
            now[i] = !reaches ? null : i < standing.Length ? standing[i] : states.Value.Turned(Moments.All[i], k => k == KeyPosition.Running ? Driven(parts, (int)k) : ImmutableHashSet<string>.Empty)[^1];
        }

        var sees = ImmutableArray.CreateBuilder<Difference>();
        var plain = new ImmutableArray<Difference>[Moments.Plain];
        for (var i = 0; i < now.Length; i++)
        {
            var at = Moments.All[i];
            if (i < Moments.Plain)
            {
                sees.AddRange(plain[i] = moved[i] ? [.. Differences(parts, i, now[i])] : []);
            }
            else if (Same(parts, i, (int)at.Key, now[(int)at.Key]))
            {
                sees.AddRange(plain[(int)at.Key].Where(d => sound.At[i]!.Functions.GetValueOrDefault(d.Function)?.Works == d.Was).Select(d => d with { Situation = at, When = Moments.InWords(at), Shows = d.Was ? IsThere(at, sound.At[i]!.Functions[d.Function]) : d.Shows }));
            }
            else
            {
                sees.AddRange(Differences(parts, i, states.Value.Turned(at, k => k == at.Key ? Driven(parts, i) : ImmutableHashSet<string>.Empty)[^1]));
            }
        }

        return new(broken, sees.ToImmutable(), moved[(int)KeyPosition.On] ? Codes(now[(int)KeyPosition.On]) : [], [.. sensors.CutOffBy(broken.In(drawn)).Union(Unfed(sees, now[(int)KeyPosition.On]))], now.Where((n, i) => i < Moments.Plain && moved[i]).Any(n => n is null))
        {
            Volts = [.. now.Take(Moments.Plain).Select((n, i) => n is null ? Sound.Volts[i] : VoltsOf(n.Bare))],
        };
    }

    /// <summary>Sensors that have no supply any more with the key on, by a feed that is not the controller's, while the controller is still awake and would listen.</summary>
    private IEnumerable<string> Unfed(IEnumerable<Difference> sees, TurnedState? on) => on is null || sound.At[(int)KeyPosition.On] is not { } before || !on.Bare.Awake.SetEquals(before.Bare.Awake) ? []
        : sees.Where(d => d is { Was: true, Now: false } && d.Situation == Moments.All[(int)KeyPosition.On] && sensors.Has(d.Device)).Select(d => d.Device);

    private bool Touched(IReadOnlyCollection<string> parts, int moment) => sound.At[moment] is not { } at || at.Flows(parts) || at.DrivenThrough(parts).Count > 0;

    /// <summary>Outputs that have to be driven anew: all where the parts carry something by then, else those whose own current goes through them.</summary>
    private IReadOnlySet<string> Driven(IReadOnlyCollection<string> parts, int moment)
    {
        var before = Enumerable.Range(0, (int)Moments.All[moment].Key).Append(moment);
        return before.Any(i => sound.At[i] is not { } at || at.Flows(parts)) ? sound.Outputs : sound.At[moment]!.DrivenThrough(parts);
    }

    /// <summary>Whether a further condition makes no difference to what a break does.</summary>
    private bool Same(IReadOnlyCollection<string> parts, int moment, int plain, TurnedState? broken) =>
        sound.At[moment] is { } here && sound.At[plain] is { } there && here.CarriesAs(there, parts)
        && (broken is null || (broken.Bare.Stays && broken.Bare.Pulled.SetEquals(there.Bare.Pulled) && broken.Bare.Awake.SetEquals(there.Bare.Awake)));

    private IEnumerable<Difference> Differences(IReadOnlyCollection<string> parts, int moment, TurnedState? after)
    {
        if (after is null || sound.At[moment] is not { } before)
        {
            yield break;
        }

        var (at, driven) = (Moments.All[moment], Driven(parts, moment));
        foreach (var has in after.Functions.DistinctBy(f => f.Name))
        {
            // An output that was not driven anew brings about what it does in the sound loom.
            if (before.Functions.TryGetValue(has.Name, out var was) && has.Works != was.Works && (was.WhenDriven is not { } output || driven.Contains(output)))
            {
                yield return new(at, Moments.InWords(at), was.Name, was.Device, was.Works, has.Works, was.Works ? IsThere(at, was) : IsThere(at, has));
            }
        }
    }

    private ImmutableArray<CodeSeen> Codes(TurnedState? after) => after is null || sound.At[(int)KeyPosition.On] is not { } before ? [] :
    [
        .. from channel in channels
           where after.Bare.Awake.Contains(channel.Controller)
           let code = ExpectedCodes.Of(channel, after.Bare.Volts(channel.Point.ToString()))
           where code is not null && ExpectedCodes.Of(channel, before.Bare.Volts(channel.Point.ToString())) is null
           select new CodeSeen(channel.Name, code),
    ];

    private ImmutableDictionary<ProbePoint, double> VoltsOf(BareState state) => places.ToImmutableDictionary(p => p, p => state.Volts(p.ToString()));
}
