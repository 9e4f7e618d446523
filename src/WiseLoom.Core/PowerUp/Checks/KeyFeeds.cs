using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>Feeds that must stand in each key position: at the consumer, so that the whole feed is told.</summary>
internal abstract class KeyFeeds(KeyTurns turns) : CheckMaker
{
    /// <summary>Less than this between two positions is no change worth a card, share of the supply.</summary>
    private const double ChangeShare = 0.1;

    internal override int Stage => turns.Stage;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = turns.On(bench);
        foreach (var key in turns.IsFor(bench) ? turns.Positions : [])
        {
            var (here, before) = (bench.Still(key, setUp.Without), bench.Still(key - 1, setUp.Without));
            foreach (var (point, needed) in Places(bench))
            {
                if (bench.Volts(here, point) is not { } volts)
                {
                    continue;
                }

                var was = bench.Volts(before, point)?.Nominal ?? 0;
                if (Math.Abs(volts.Nominal - was) > ChangeShare * bench.Loom.SupplyVolts || (needed && key == KeyPosition.Start))
                {
                    var way = bench.WayFrom(volts.Nominal > 0.3 * bench.Loom.SupplyVolts, here, point.ToString());
                    yield return new(
                        $"feed {point} {KeyPositions.Word(key)} {setUp.Id}", Stage, setUp, $"Key at {KeyPositions.Word(key)}: measure {point} against the battery’s post{(needed && !setUp.Without.IsEmpty ? ", in the controller’s plug" : "")}.", here,
                        "A meter of volts; then a test lamp, which a poor joint leaves dark.", [point], new VoltsExpected(volts),
                        volts.Nominal > 0.3 * bench.Loom.SupplyVolts
                            ? $"Supply comes by {bench.InWords(way)}.{(key == KeyPosition.Start ? " It must stand while the engine cranks, lower as the battery is." : "")}"
                            : $"Nothing feeds it in this position{(bench.Drops.Any(d => d.Points.Contains(point)) ? ", although it must stand: see what the plan found" : "")}.",
                        key == KeyPosition.Start ? [Cautions.Starts, Cautions.Fused] : [Cautions.Fused])
                    { Touches = [point.ToString(), .. way] };
                }
            }
        }
    }

    /// <summary>A place of each feed: every supply and wake of a controller, and of other nets one consumer.</summary>
    private static List<(ProbePoint Point, bool IsOfController)> Places(PowerUpBench bench)
    {
        var places = new List<(ProbePoint, bool)>();
        var told = new HashSet<int>();
        foreach (var controller in bench.Controllers)
        {
            foreach (var (name, pin) in ((ControllerModel)controller.Model!).Pins.Where(p => p.Value.Role is ControllerRole.Supply or ControllerRole.Wake))
            {
                if (controller.Pins.TryGetValue(name, out var point) && bench.Nets.NetOf(point) is { } net)
                {
                    places.Add((point, true));
                    told.Add(net.Number);
                }
            }
        }

        foreach (var net in bench.Nets.Nets.Where(n => n.Edges.Any(e => bench.Loom.FindWire(e.Label)?.Role == WireRole.Feed) && told.Add(n.Number)))
        {
            // At a consumer; a tail or an end without one last.
            var point = net.Points.OrderByDescending(p => bench.Loom.DevicesOn(p.Connector).Any(d => d.Model is LoadModel or TransducerModel && d.Pins.ContainsValue(p))).FirstOrDefault();
            if (point != default)
            {
                places.Add((point, false));
            }
        }

        return places;
    }
}

/// <summary>With the controller off.</summary>
internal sealed class KeyFeedsControllerOff() : KeyFeeds(KeyTurns.ControllerOff)
{
    internal override int Order => 2;
}

/// <summary>With the controller plugged in: what it switches on.</summary>
internal sealed class KeyFeedsControllerOn() : KeyFeeds(KeyTurns.ControllerOn)
{
    internal override int Order => 1;
}
