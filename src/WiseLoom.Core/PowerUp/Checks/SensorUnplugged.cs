using WiseLoom.Core.Devices;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>Each sensor pulled off by hand: its own channel must move, and no other. Two that are exchanged read alike at rest and show here.</summary>
internal sealed class SensorUnplugged : CheckMaker
{
    /// <summary>Less than this is no move, volts.</summary>
    private const double LeastMove = 0.15;

    internal override int Stage => 5;

    internal override int Order => 8;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = SetUps.ControllerOn(bench);
        foreach (var channel in Channel.Of(bench.Drawn).Where(c => c.Sensor is { } s && bench.Loom.Devices.Any(d => d.Ref == s.Ref) && bench.Controllers.Any(d => d.Ref == c.Controller)))
        {
            var (on, off) = (bench.Still(KeyPosition.On, setUp.Without), bench.Still(KeyPosition.On, setUp.Without.Add(channel.Sensor!.Ref)));
            if (bench.Volts(on, channel.Point) is not { } plugged || bench.Volts(off, channel.Point) is not { } pulled || Math.Abs(plugged.Nominal - pulled.Nominal) < LeastMove)
            {
                continue;
            }

            yield return new(
                $"unplug {channel.Sensor.Ref} {channel.Point}", Stage, setUp, $"Pull the plug off {channel.Sensor.Title} and watch ‘{channel.Name}’; then push it back.", off, $"Live value of the controller; raw volts at {channel.Point}.", [channel.Point],
                new VoltsExpected(pulled), $"It goes from {Say.Volts(plugged.Nominal)} to {Say.Volts(pulled.Nominal)}: with the plug off only the controller’s own pull is left. If another channel moves instead, their wires are exchanged.", [])
            {
                Shows = new(channel.Name, LiveAtRest.Shown(channel, pulled), channel.Unit),
                Device = channel.Sensor.Ref,
                Asks = Asked.Live,
                Touches = [channel.Point.ToString(), channel.Sensor.Ref, .. bench.Nets.NetOf(channel.Point)!.Edges.Select(e => e.Label)],
            };
        }
    }
}
