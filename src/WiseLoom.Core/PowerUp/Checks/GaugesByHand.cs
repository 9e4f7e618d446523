using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>A gauge whose sender is replaced by a resistor: what it shows at a third and at two thirds of its scale.</summary>
internal sealed class GaugesByHand : CheckMaker
{
    internal override int Stage => 4;

    internal override int Order => 2;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = SetUps.ControllerOff(bench);
        foreach (var gauge in bench.Loom.Devices.Where(d => d.Model is LoadModel { Gauge: not null }))
        {
            var scale = ((LoadModel)gauge.Model!).Gauge!;
            var nets = gauge.Pins.Values.Select(bench.Nets.NetOf).OfType<Electrical.Net>().ToHashSet();
            if (bench.Loom.Devices.FirstOrDefault(d => d.Ref != gauge.Ref && d.Model is NtcModel or LoadModel { Use: "sensor" } && d.Pins.Values.Any(p => bench.Nets.NetOf(p) is { } net && nets.Contains(net))) is not { } sender)
            {
                continue;
            }

            var off = bench.Still(KeyPosition.On, setUp.Without.Add(sender.Ref));
            var points = scale.Points.OrderBy(p => p.Units).ToList();
            foreach (var share in new[] { 1 / 3.0, 2 / 3.0 })
            {
                var units = points[0].Units + (share * (points[^1].Units - points[0].Units));
                var after = points.FindIndex(p => p.Units >= units);
                var (low, high) = (points[Math.Max(0, after - 1)], points[after]);
                var ohms = high.Units == low.Units ? low.Ohms : low.Ohms + ((units - low.Units) / (high.Units - low.Units) * (high.Ohms - low.Ohms));
                yield return new(
                    string.Create(CultureInfo.InvariantCulture, $"gauge {gauge.Ref} {share:0.0}"), Stage, setUp, $"Key on: unplug {sender.Title} and put {Say.Ohms(ohms)} between its two leads.", off,
                    string.Create(CultureInfo.InvariantCulture, $"Eye: {gauge.Title} shows {units:0.#} {scale.Unit}."), [.. sender.Pins.Values], new OutcomeExpected(Outcome.AsSaid),
                    string.Create(CultureInfo.InvariantCulture, $"Its scale has {units:0.#} {scale.Unit} at {Say.Ohms(ohms)} of its sender. If it shows the other way round, sender and gauge do not belong together."), [Cautions.Senders])
                { Touches = [gauge.Ref, sender.Ref, .. nets.SelectMany(n => n.Edges).Select(e => e.Label)] };
            }
        }
    }
}
