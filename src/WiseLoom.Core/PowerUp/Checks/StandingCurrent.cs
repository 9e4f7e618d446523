using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>What the loads draw with the key off, before a battery takes the place of the limited supply.</summary>
internal sealed class StandingCurrent : CheckMaker
{
    internal override int Stage => 2;

    internal override int Order => 2;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = new SetUp("limited-loads", $"The same limited supply; loads plugged in, controller plugs still off, key off.", bench.ControllersOff);
        var still = bench.Still(KeyPosition.Off, setUp.Without);
        if (ProbePoint.TryParse(bench.Plus, out var plus) && bench.Amps(still, plus) is { } amps)
        {
            yield return new(
                "limited amps loads", Stage, setUp, "Plug the loads in, one after the other, and watch the ammeter.", still, "The supply’s own ammeter, or one in the feed.", [plus], new AmpsExpected(amps),
                $"With the key off {Say.Amps(amps.Nominal)} flow. The load after whose plug the current jumps is the one that has supply and ground at once.", [Cautions.Limited, Cautions.Fused])
            { Touches = [plus.ToString(), .. bench.Loom.WiresAt(plus).Select(w => w.Id)] };
        }
    }
}
