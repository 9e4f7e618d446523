using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>A controller's supply pins against each other at its plug: joined where the loom joins them, apart where it does not.</summary>
internal sealed class SuppliesApart : CheckMaker
{
    internal override int Stage => 1;

    internal override int Order => 4;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = SetUps.NoPowerLoadsOff(bench);
        foreach (var controller in bench.Controllers)
        {
            var supplies = ((ControllerModel)controller.Model!).Pins.Where(p => p.Value.Role is ControllerRole.Supply && controller.Pins.ContainsKey(p.Key)).Select(p => controller.Pins[p.Key])
                .Where(p => bench.Loom.WiresAt(p).Any()).ToList();
            foreach (var (a, b) in supplies.Zip(supplies.Skip(1)))
            {
                var ohm = bench.Read(a, b, setUp.Without).Ohm;
                yield return new(
                    $"supplies {a} {b}", Stage, setUp, $"Measure between two supplies of {controller.Title} at its plug: {a} against {b}.", bench.Still(KeyPosition.Off, setUp.Without), "A meter of resistance.",
                    [a, b], SupplyToGround.Expected(ohm, ohm is null ? SupplyToGround.OpenOhms : 0),
                    ohm is { } read ? $"They are joined through {bench.InWords(bench.WayWithoutPower(a.ToString(), b.ToString()))}: {Say.Ohms(read.Nominal)}." : "Nothing joins them while relays and key are at rest: one of them stands, the other is switched.",
                    [Cautions.BatteryOff])
                { Plugged = SupplyToGround.Plugged(bench, setUp.Without), Touches = [a.ToString(), b.ToString(), .. bench.WayWithoutPower(a.ToString(), b.ToString())] };
            }
        }
    }
}
