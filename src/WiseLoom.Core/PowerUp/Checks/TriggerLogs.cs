using System.Globalization;
using WiseLoom.Core.Devices;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>Each toothed wheel while the engine is cranked without fuel or spark: teeth, gap, polarity; cam against crank.</summary>
internal sealed class TriggerLogs : CheckMaker
{
    internal override int Stage => PowerUpStages.FirstOnEngine;

    internal override int Order => 2;

    private static string Edges(TriggerWheel wheel) => wheel.EdgesPerCrankTurn < 1
        ? string.Create(CultureInfo.InvariantCulture, $"1 edge in {1 / wheel.EdgesPerCrankTurn:0.##} turns of the crank")
        : string.Create(CultureInfo.InvariantCulture, $"{wheel.EdgesPerCrankTurn:0.##} edges in one turn of the crank");

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = SetUps.Cranking(bench);
        var start = bench.Still(KeyPosition.Start, setUp.Without);
        var wheels = bench.Loom.Devices.Where(d => d.Trigger is not null).ToList();
        foreach (var device in wheels)
        {
            var wheel = device.Trigger!;
            yield return new(
                $"trigger {device.Ref}", Stage, setUp, $"Crank for three seconds and take a log of {device.Title}.", start, "A log of the controller: the time between edges.", [], new OutcomeExpected(Outcome.AsSaid),
                string.Create(CultureInfo.InvariantCulture, $"{Edges(wheel)} ({wheel.InWords()}){(wheel.Missing > 0 ? $", a gap {wheel.Missing + 1} times as long as a tooth once in a turn of the wheel" : "")}, marked by the {(wheel.Edge == TriggerEdge.Falling ? "falling" : "rising")} edge.")
                + (wheel.Kind == TriggerKind.Inductive ? " With the two wires exchanged the gap comes as two shorter ones. No more edges than teeth: more come from noise, a shield that is open or touches." : " Edges missing or doubled: the gap between sensor and wheel, or noise."), Cautions.Turning(bench))
            { Asks = Asked.Log, IfNot = ["The gap between sensor and wheel, or another wheel.", "The controller’s setting of teeth or polarity."], Trigger = device.Ref, Device = device.Ref, Touches = [device.Ref, .. device.Pins.Values.Select(bench.Nets.NetOf).OfType<Electrical.Net>().SelectMany(n => n.Edges).Select(e => e.Label).Distinct()] };
        }

        if (wheels.Find(d => d.Trigger!.PerTurn == 1) is { } crank && wheels.Find(d => d.Trigger!.PerTurn == 0.5) is { } cam)
        {
            yield return new(
                "sync", Stage, setUp, $"In the same log: where the edge of {cam.Title} lies between the teeth of {crank.Title}.", start, "The log of both.", [], new OutcomeExpected(Outcome.AsSaid),
                "Cam and crank stand in the same place every two turns. One tooth off is a belt or chain one tooth over, or the offset in the controller; a place that wanders is noise.", Cautions.Turning(bench))
            { Asks = Asked.Sync, IfNot = ["The belt or chain one tooth over.", "The offset of the cam in the controller."], Trigger = cam.Ref, Device = cam.Ref, Touches = [crank.Ref, cam.Ref] };
        }
    }
}
