using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>First power from a limited supply: what it shows, and what stands without the key.</summary>
internal sealed class LimitedSupply : CheckMaker
{
    internal override int Stage => 2;

    internal override int Order => 1;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        if (!ProbePoint.TryParse(bench.Plus, out var plus))
        {
            yield break;
        }

        var setUp = SetUps.Limited(bench);
        var still = bench.Still(KeyPosition.Off, setUp.Without);
        if (bench.Amps(still, plus) is { } amps)
        {
            yield return new(
                "limited amps", Stage, setUp, $"Switch the limited supply on at {plus} and read what it gives.", still, "The supply’s own ammeter, or one in the feed.", [plus], new AmpsExpected(amps),
                bench.Limit.Why, [Cautions.Limited, Cautions.Fused])
            { Touches = [plus.ToString(), .. bench.Loom.WiresAt(plus).Select(w => w.Id)] };
        }

        foreach (var (point, volts) in Standing(bench, still))
        {
            var way = bench.WayFrom(true, still, point.ToString());
            yield return new(
                $"limited volts {point}", Stage, setUp, $"Measure {point} against the battery’s post.", still, "A meter of volts, black on the battery’s negative post.", [point], new VoltsExpected(volts),
                $"It stands without the key: {(way.IsEmpty ? "it is the feed itself" : bench.InWords(way))}. A meter shows this through a joint that carries nothing, too: a lamp would tell.", [Cautions.Limited, Cautions.Fused])
            { Touches = [point.ToString(), .. way] };
        }
    }

    /// <summary>A place of each net that has supply with the key off: where a fuse or a relay sits, if there is one.</summary>
    private static IEnumerable<(ProbePoint Point, ExpectedRange Volts)> Standing(PowerUpBench bench, States.Situation still)
    {
        foreach (var net in bench.Nets.Nets)
        {
            foreach (var point in net.Points.OrderByDescending(p => bench.Loom.DevicesOn(p.Connector).Any(d => d.Model is ControllerModel && d.Pins.ContainsValue(p))))
            {
                if (bench.Volts(still, point) is { } volts && volts.Nominal > 0.5 * bench.Loom.SupplyVolts)
                {
                    yield return (point, volts);
                    break;
                }
            }
        }
    }
}
