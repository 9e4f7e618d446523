using System.Collections.Immutable;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Sightings;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Tests;

/// <summary>Somebody at a loom with hidden faults who does what the diagnosis asks for and says what was seen.</summary>
internal sealed class Onlooker(Loom loom, params Fault[] hidden)
{
    internal List<Sighting> Seen { get; } = [];

    internal List<Observation> Read { get; } = [];

    /// <summary>Notes of every function in a key position whether it works; false when nothing of it is missed.</summary>
    internal bool Turns(Devices.KeyPosition key)
    {
        var at = Situation.At(key);
        var (sound, ill) = (StateOf(at), StateOf(at, hidden));
        var some = sound.Where(f => f.Works).Select(f => new FunctionSeen(key, [], [], f.Name, ill.Any(g => g.Name == f.Name && g.Works))).ToList();
        Seen.AddRange(some.TrueForAll(s => s.Works) ? [] : some);
        return some.Exists(s => !s.Works);
    }

    /// <summary>Follows the diagnosis until it is sure, or asks for nothing more.</summary>
    internal Diagnosed Follow(Diagnostician diagnostician, int most, CancellationToken cancel)
    {
        for (var i = 0; ; i++)
        {
            var found = diagnostician.Find(Read, Seen, Meter.BenchFourWire, Hands.After(Read), cancel);
            if (i == most || found.Ranking[0].Probability > 0.9 || (found.Look is null && found.Next is null))
            {
                return found;
            }

            if (found.Look is { } look)
            {
                Seen.Add(Answer(look));
            }
            else
            {
                Read.Add(Measure(found.Next!));
            }
        }
    }

    /// <summary>What a look shows.</summary>
    internal Sighting Answer(Look look)
    {
        ProbeShows? Shows() => Loom([(look.Meanwhile!, ProbePoint.Parse(look.At))], hidden).At(look.Meanwhile!, ProbePoint.Parse(look.At))?.Shows;
        var (key, set, without) = (look.Meanwhile?.Key ?? default, look.Meanwhile?.Conditions ?? [], look.Meanwhile?.Without ?? []);
        return look.Kind switch
        {
            LookKind.Volts => new VoltsSeen(key, [.. set], [.. without], ProbePoint.Parse(look.At), Shows()?.Meter ?? 0),
            LookKind.LampToGround => new LampSeen(key, [.. set], [.. without], ProbePoint.Parse(look.At), false, Shows()?.LampToGround.Glow ?? Glow.Dark),
            LookKind.LampToSupply => new LampSeen(key, [.. set], [.. without], ProbePoint.Parse(look.At), true, Shows()?.LampToSupply.Glow ?? Glow.Dark),
            LookKind.Wire => new WireAlone(look.At, Loom([], hidden).WireAlone(look.At)?.Nominal),
            LookKind.Device => new DeviceAlone(look.At, Loom([], hidden).DeviceAlone(look.At)?.Nominal),
            _ => new DropSeen(ProbePoint.Parse(look.At), ProbePoint.Parse(look.To!), 2, 2000 * (Ohms(ProbePoint.Parse(look.At), ProbePoint.Parse(look.To!)) ?? 6)),
        };
    }

    private Observation Measure(Measurement next)
    {
        var far = next.B ?? [.. loom.ProbePoints().Where(p => WireGraph.Topology(loom).NetOf(p) != WireGraph.Topology(loom).NetOf(next.A))];
        return new([next.A], next.B, far.Select(p => Ohms(next.A, p)).Where(o => o is not null).DefaultIfEmpty(null).Min(), next.Moved);
    }

    private double? Ohms(ProbePoint a, ProbePoint b)
    {
        var graph = new BuiltLoom(loom, hidden).Graph(loom.AmbientC, CopperTolerance.Usual);
        return graph.NetOf(a) is { } net && graph.NetOf(b)?.Number == net.Number ? net.Between(a, b, Corner.Nominal) : null;
    }

    private ImmutableArray<FunctionState> StateOf(Situation at, params Fault[] faults) => LoomStates.For(new BuiltLoom(loom, faults).AsBuilt(loom.AmbientC), loom.AmbientC).At(at, withProbes: false).Functions;

    private SuspectLoom Loom(IEnumerable<(Situation At, ProbePoint Point)>? held = null, params Fault[] faults)
    {
        var probed = new ProbedPlaces();
        foreach (var (at, point) in held ?? [])
        {
            probed.Add(at, point);
        }

        return new(loom, loom.AmbientC, Meter.BenchFourWire, [.. faults], probed);
    }
}
