using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp;

/// <summary>A data pair of a controller, and where it leads.</summary>
/// <param name="Name">Of the bus.</param>
/// <param name="Controller">Whose pins they are.</param>
/// <param name="High">The first pin of the pair.</param>
/// <param name="Low">The second.</param>
/// <param name="OwnOhm">The controller's own termination, ohms; null for none.</param>
/// <param name="Wires">Wires of both lines.</param>
/// <param name="Places">Connectors at which both lines arrive, apart from the controller's, in the order of the loom.</param>
internal sealed record DataPair(string Name, Device Controller, ProbePoint High, ProbePoint Low, double? OwnOhm, ImmutableArray<string> Wires, ImmutableArray<string> Places)
{
    internal static IEnumerable<DataPair> Of(PowerUpBench bench)
    {
        foreach (var controller in bench.Controllers)
        {
            foreach (var bus in ((ControllerModel)controller.Model!).Pins.Where(p => p.Value.Role == ControllerRole.Network).GroupBy(p => p.Value.Bus, StringComparer.Ordinal))
            {
                if (bus.ToList() is [var a, var b, ..] && controller.Pins.TryGetValue(a.Key, out var high) && controller.Pins.TryGetValue(b.Key, out var low)
                    && bench.Nets.NetOf(high) is { } first && bench.Nets.NetOf(low) is { } second)
                {
                    var both = first.Points.Select(p => p.Connector).Intersect(second.Points.Select(p => p.Connector)).Where(c => c != high.Connector);
                    yield return new(
                        bus.Key, controller, high, low, a.Value.Ohms ?? b.Value.Ohms, [.. first.Edges.Concat(second.Edges).Select(e => e.Label)],
                        [.. bench.Loom.Connectors.Select(c => c.Ref).Where(both.Contains)]);
                }
            }
        }
    }

    /// <summary>Connectors that carry the pair on to further places: what is behind them is not reached while they are off.</summary>
    internal IEnumerable<string> CarryOn(PowerUpBench bench) => Places.Where(p => Loads(bench, p).Any(d => d.Model is CableModel) || bench.Loom.Connector(p).Family.Kind == HousingKind.Inline);

    /// <summary>Where both lines can be touched with the controller plugged in: a place that nothing is plugged into, or else the first.</summary>
    internal (ProbePoint High, ProbePoint Low) Reachable(PowerUpBench bench)
    {
        ProbePoint On(string place, ProbePoint line) => bench.Nets.NetOf(line)!.Points.First(p => p.Connector == place);
        var free = Places.FirstOrDefault(p => !bench.Loom.DevicesOn(p).Any()) ?? Places.FirstOrDefault();
        return free is null ? (High, Low) : (On(free, High), On(free, Low));
    }

    /// <summary>Devices of the pair at a place.</summary>
    internal IEnumerable<Device> Loads(PowerUpBench bench, string place) =>
        bench.Loom.DevicesOn(place).Where(d => d.Pins.Values.Any(p => p.Connector == place && (Reaches(bench.Nets, p, High) || Reaches(bench.Nets, p, Low))));

    private static bool Reaches(WireGraph nets, ProbePoint point, ProbePoint of) => nets.NetOf(point) is { } net && nets.NetOf(of)?.Number == net.Number;
}
