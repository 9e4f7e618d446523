using System.Globalization;
using WiseLoom.Core.Devices;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>All temperatures of a cold engine against each other and against the air.</summary>
internal sealed class TemperaturesAgree : CheckMaker
{
    /// <summary>A cold engine's sensors differ by no more, kelvin.</summary>
    private const double FewK = 5;

    internal override int Stage => 5;

    internal override int Order => 7;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var channels = Channel.Of(bench.Drawn).Where(c => c.Sensor?.Model is NtcModel && bench.Loom.Devices.Any(d => d.Ref == c.Sensor.Ref) && bench.Controllers.Any(d => d.Ref == c.Controller)).ToList();
        if (channels.Count > 1)
        {
            var setUp = SetUps.ControllerOn(bench);
            yield return new(
                "temperatures", Stage, setUp, $"Engine cold: compare {string.Join(", ", channels.Select(c => c.Name))}.", bench.Still(KeyPosition.On, setUp.Without), "Live values of the controller, and a thermometer in the air.", [],
                new OutcomeExpected(Outcome.AsSaid), string.Create(CultureInfo.InvariantCulture, $"All sensors stand in the same air: within {FewK:0} K of each other and of {bench.AmbientC:0.#} °C. One that is off has a poor joint, another table in the controller, or the other’s wire."), [])
            { Asks = Asked.Temperatures, IfNot = ["A table in the controller that is not this sensor’s.", "A sensor that was warm from the hand."], Touches = [.. channels.SelectMany(c => bench.Nets.NetOf(c.Point)!.Edges).Select(e => e.Label)] };
        }
    }
}
