using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.States;
using WiseLoom.Core.Symptoms;

namespace WiseLoom.Core.Handover;

/// <summary>Pins that the customer joins to something of their own: tails, and plugs that meet the key, the panel and the battery.</summary>
internal static class CustomerConnections
{
    private static readonly ImmutableArray<double> Fuses = [1, 2, 3, 5, 7.5, 10, 15, 20, 25, 30, 40, 50, 60, 80, 100, 150, 200];

    /// <summary>A fuse stands this far above what flows for long.</summary>
    private const double Headroom = 1.35;

    /// <summary>In walking order of their names.</summary>
    /// <param name="minimum">Fuses of the feeds that the engine runs by are those of the test with the fewest leads.</param>
    internal static ImmutableArray<ConnectRow> Of(BreakEffects effects, MinimumToRun minimum)
    {
        var loom = effects.Loom;
        var states = LoomStates.For(loom, effects.AmbientC);
        ImmutableArray<BareState?> plain = [.. effects.Moments.All.Take(Moments.Plain).Select(states.Bare)];
        var net = WireGraph.Topology(loom);
        FedPlace? Fed(ProbePoint point) => minimum.Feed.FirstOrDefault(f => f.At == point);
        return
        [
            .. from connector in loom.Connectors
               where connector.Family.Kind == HousingKind.Tail || loom.DevicesOn(connector.Ref).Any(d => d.Model is KeyModel or BatteryModel)
               from cavity in connector.Family.Cavities.Order(NaturalOrder.Comparer)
               let point = new ProbePoint(connector.Ref, cavity)
               let wires = loom.WiresAt(point).ToList()
               where wires.Count > 0
               let most = plain.Max(s => s is null ? 0 : Math.Abs(s.Amps(point)))
               select new ConnectRow(
                   point.ToString(), string.Join(", ", wires.Select(w => $"{w.Colour.Text} {w.SectionInWords()}")), string.Join("; ", wires.Select(w => w.Circuit).OfType<string>().Distinct()),
                   Is(loom, net, plain, point, wires[0]), Math.Max(most, Fed(point)?.PeakAmps ?? 0),
                   Fed(point)?.FuseAmps ?? (most > 0.05 && !IsGround(plain, point) ? Fuses.FirstOrDefault(f => f >= most * Headroom, Fuses[^1]) : null)),
        ];
    }

    private static bool IsGround(ImmutableArray<BareState?> plain, ProbePoint point) => plain.All(s => s is null || Math.Abs(s.Volts(point.ToString())) < 0.5);

    private static string Is(Loom loom, WireGraph graph, ImmutableArray<BareState?> plain, ProbePoint point, Wire wire)
    {
        bool High(KeyPosition key) => plain[(int)key] is { } state && state.Volts(point.ToString()) > 0.6 * loom.SupplyVolts;
        var beyond = graph.NetOf(point)?.Points ?? [];
        var lamp = loom.Devices.FirstOrDefault(d => d.Model is LoadModel { Use: "lamp" } && d.Pins.ContainsValue(point));
        var feeds = wire.Role is null or WireRole.Feed;
        return feeds && High(KeyPosition.Off) ? Words.Text("constant feed, through a fuse at the battery")
            : feeds && High(KeyPosition.On) && High(KeyPosition.Start) ? Words.Text("ignition feed: must stay up while cranking")
            : lamp is not null ? Words.Of($"lead of {lamp.Title}")
            : feeds && High(KeyPosition.On) ? Words.Text("feed with the key on; drops while cranking")
            : High(KeyPosition.Start) && !High(KeyPosition.On) ? Words.Text("start: has supply only while cranking")
            : wire.Role == WireRole.Ground ? Words.Text("ground: bolt it to bare metal, or to the battery’s negative post")
            : wire.Role == WireRole.Feed ? Words.Text("feed that something else switches")
            : loom.Devices.Any(d => d.Model is RelayModel && new[] { d.Joint("coil+"), d.Joint("coil-") }.Any(j => ProbePoint.TryParse(j, out var p) && beyond.Contains(p))) ? Words.Text("relay trigger: no motor and no lamp on it")
            : wire.Role is { } role ? Words.Text(role.ToString().ToLowerInvariant()) : Words.Text("signal");
    }
}
