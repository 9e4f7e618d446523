using System.Globalization;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>A data pair at the controller's plug: two terminations read as one parallel value; one missing, or a third, reads otherwise.</summary>
internal sealed class NetworkEnds : CheckMaker
{
    internal override int Stage => 1;

    internal override int Order => 5;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        foreach (var bus in DataPair.Of(bench))
        {
            var (off, on) = (SetUps.NoPower(bench), SetUps.NoPowerAllPlugged(bench));
            var loom = bench.Read(bus.High, bus.Low, off.Without).Ohm;
            var (high, low) = bus.Reachable(bench);
            yield return Check(bench, bus, (bus.High, bus.Low), off, loom, "with the controller’s plug off",
                loom is { } far ? $"{Say.Ohms(far.Nominal)}: what the loom and the devices on it put between the pair." : "Over range: no termination is in the loom or its devices; the controller’s own is not plugged in.");
            if (bus.OwnOhm is { } own && bus.Controller is { } controller)
            {
                var both = loom is { } other ? new OhmRange(Parallel(other.Min, own), Parallel(other.Nominal, own), Parallel(other.Max, own)) : OhmRange.Exactly(own);
                yield return Check(bench, bus, (high, low), on, both, $"with {controller.Title} plugged in",
                    string.Create(CultureInfo.InvariantCulture, $"{Say.Ohms(own)} in the controller{(loom is { } rest ? $" beside {Say.Ohms(rest.Nominal)} in the loom" : " alone")} read as {Say.Ohms(both.Nominal)}. {(loom is null ? $"That one end missing reads over range" : $"One end missing reads {Say.Ohms(own)}")}; a third end reads about {Say.Ohms(Parallel(both.Nominal, own))}."));
            }
        }
    }

    private static double Parallel(double a, double b) => a * b / (a + b);

    private PowerUpCheck Check(PowerUpBench bench, DataPair bus, (ProbePoint High, ProbePoint Low) at, SetUp setUp, OhmRange? ohm, string words, string why) => new(
        $"pair {bus.Name} {setUp.Id}", Stage, setUp, $"Measure across the data pair ‘{bus.Name}’ {words}: {at.High} against {at.Low}.", bench.Still(KeyPosition.Off, setUp.Without), "A meter of resistance.",
        [at.High, at.Low], SupplyToGround.Expected(ohm, ohm is null ? SupplyToGround.OpenOhms : 0), why, [Cautions.BatteryOff])
    {
        Plugged = SupplyToGround.Plugged(bench, setUp.Without),
        Touches = [bus.High.ToString(), bus.Low.ToString(), .. bus.Wires],
    };
}
