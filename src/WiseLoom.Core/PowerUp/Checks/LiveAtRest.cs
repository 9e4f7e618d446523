using System.Globalization;
using WiseLoom.Core.Devices;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>What the controller measures on each channel with the engine still, beside what its pin must see.</summary>
internal sealed class LiveAtRest : CheckMaker
{
    internal override int Stage => 5;

    internal override int Order => 6;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = SetUps.ControllerOn(bench);
        var on = bench.Still(KeyPosition.On, setUp.Without);
        foreach (var channel in Channel.Of(bench.Drawn))
        {
            if (!bench.Controllers.Any(c => c.Ref == channel.Controller) || bench.Volts(on, channel.Point) is not { } volts)
            {
                continue;
            }

            var net = bench.Nets.NetOf(channel.Point)!;
            yield return new(
                $"live {channel.Point}", Stage, setUp, $"Key on, engine still: read ‘{channel.Name}’.", on, $"Live value of the controller; raw volts at {channel.Point}.", [channel.Point], new VoltsExpected(volts), Why(bench, channel, volts), [])
            {
                Shows = new(channel.Name, Shown(channel, volts), channel.Unit),
                Asks = Asked.Live,
                Touches = [channel.Point.ToString(), .. net.Edges.Select(e => e.Label), .. channel.Sensor is { } sensor ? new[] { sensor.Ref } : []],
            };
        }
    }

    /// <summary>What the channel shows for volts; null where the loom does not say how they become units.</summary>
    internal static ExpectedRange? Shown(Channel channel, ExpectedRange volts) =>
        channel.Value(volts.Nominal) is { } nominal && channel.Value(volts.Min) is { } a && channel.Value(volts.Max) is { } b ? new(Math.Min(a, b), nominal, Math.Max(a, b)) : null;

    private static string Why(PowerUpBench bench, Channel channel, ExpectedRange volts)
    {
        var fitted = channel.Sensor is { } sensor && bench.Loom.Devices.Any(d => d.Ref == sensor.Ref);
        var value = Shown(channel, volts) is { } shown ? string.Create(CultureInfo.InvariantCulture, $": {shown.Nominal:0.#} {channel.Unit}") : "";
        return channel.Sensor is null ? $"Nothing that the loom knows hangs on it: it shows {Say.Volts(volts.Nominal)}."
            : !fitted ? $"{channel.Sensor.Title} is not fitted: the pin shows its own pull, {Say.Volts(volts.Nominal)}."
            : channel.Sensor.Model switch
            {
                NtcModel => string.Create(CultureInfo.InvariantCulture, $"{channel.Sensor.Title} at {bench.AmbientC:0.#} °C against the pin’s {Say.Ohms(channel.Pin.Ohms ?? 0)} to {Say.Volts(channel.Pin.Volts)}{value}. A broken wire shows {Say.Volts(channel.Pin.Volts)}."),
                TransducerModel => $"{channel.Sensor.Title} at rest gives {Say.Volts(volts.Nominal)}{value}. Without its 5 V or its ground it gives something else on all that share them.",
                PotModel => $"{channel.Sensor.Title} where it rests{value}.",
                SwitchModel contact => $"{channel.Sensor.Title} is {(bench.Standing.Contains(contact.ClosedWhen) ? "closed" : "open")} with the engine still.",
                _ => $"Through {channel.Sensor.Title}{value}.",
            };
    }
}
