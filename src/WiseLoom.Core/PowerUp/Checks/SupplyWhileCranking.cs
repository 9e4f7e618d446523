using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>A controller's supplies while the engine cranks, against the least it needs.</summary>
internal sealed class SupplyWhileCranking : CheckMaker
{
    internal override int Stage => PowerUpStages.FirstOnEngine;

    internal override int Order => 1;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = SetUps.Cranking(bench);
        var start = bench.Still(KeyPosition.Start, setUp.Without);
        foreach (var controller in bench.Controllers)
        {
            var model = (ControllerModel)controller.Model!;
            foreach (var (name, _) in model.Pins.Where(p => p.Value.Role == ControllerRole.Supply))
            {
                if (controller.Pins.TryGetValue(name, out var point) && bench.Loom.WiresAt(point).Any() && bench.Volts(start, point) is { } volts)
                {
                    var way = bench.WayFrom(true, start, point.ToString());
                    yield return new(
                        $"cranking {point}", Stage, setUp, $"Crank for three seconds and read the lowest voltage at {point}.", start, "A meter that keeps the lowest value; or the controller’s own supply channel.", [point], new VoltsExpected(volts),
                        $"The battery stands at about {Say.Volts(bench.State(start)!.Volts(bench.Plus!))} while it cranks; {controller.Title} needs {Say.Volts(model.LeastVolts)}. Supply comes by {bench.InWords(way)}.", Cautions.Turning(bench))
                    { Touches = [point.ToString(), .. way] };
                }
            }
        }
    }
}
