using System.Globalization;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>A lever or pedal from end to end: volts at each end of its travel, and how two tracks go together.</summary>
internal sealed class LeverSweep : CheckMaker
{
    internal override int Stage => 5;

    internal override int Order => 9;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = SetUps.ControllerOn(bench);
        var on = bench.Still(KeyPosition.On, setUp.Without);
        var tracks = Channel.Of(bench.Drawn).Where(c => c.Sensor?.Model is PotModel && bench.Loom.Devices.Any(d => d.Ref == c.Sensor.Ref) && bench.Controllers.Any(d => d.Ref == c.Controller)).ToList();
        if (tracks.Count == 0)
        {
            yield break;
        }

        // All levers at their ends at once: tracks do not change each other, and two states are enough.
        var (least, most) = (Moved(bench, p => p.Least), Moved(bench, p => p.Most));
        foreach (var track in tracks)
        {
            foreach (var (moved, words, id, levers) in new[] { (least, "one end", "least", Levers.Least), (most, "the other end", "most", Levers.Most) })
            {
                if (moved.Volts(on, track.Point) is { } volts)
                {
                    yield return new(
                        $"sweep {track.Point} {id}", Stage, setUp, $"Move {track.Sensor!.Title} to {words} of its travel and hold it: read ‘{track.Name}’.", on, $"Live value of the controller; raw volts at {track.Point}.", [track.Point],
                        new VoltsExpected(volts), $"Its wiper then stands at {Share(track, id)} of the track. A jump on the way is a worn track, a standstill a wire of another circuit.", [])
                    {
                        Asks = Asked.Live,
                        Levers = levers,
                        Shows = new(track.Name, LiveAtRest.Shown(track, volts), track.Unit),
                        Touches = [track.Point.ToString(), track.Sensor.Ref, .. bench.Nets.NetOf(track.Point)!.Edges.Select(e => e.Label)],
                    };
                }
            }
        }

        foreach (var pair in tracks.GroupBy(t => t.Sensor!.Pins.Values.First().Connector).Where(g => g.Count() > 1).Select(g => g.ToList()))
        {
            string Way(Channel t) => least.Volts(on, t.Point) is { } a && most.Volts(on, t.Point) is { } b ? $"‘{t.Name}’ from {Say.Volts(a.Nominal)} to {Say.Volts(b.Nominal)}" : $"‘{t.Name}’";
            yield return new(
                $"tracks {pair[0].Point}", Stage, setUp, $"Move it slowly from end to end and watch both tracks: {string.Join(", ", pair.Select(Way))}, together and without a jump.", on, "Live values of the controller.", [],
                new OutcomeExpected(Outcome.AsSaid), "The controller compares the tracks: where they do not go together it takes none of them, and the engine stays at idle.", [])
            { Touches = [.. pair.SelectMany(t => bench.Nets.NetOf(t.Point)!.Edges).Select(e => e.Label)] };
        }
    }

    private static string Share(Channel track, string end)
    {
        var pot = (PotModel)track.Sensor!.Model!;
        return string.Create(CultureInfo.InvariantCulture, $"{100 * (end == "least" ? pot.Least : pot.Most):0} %");
    }

    private static PowerUpBench Moved(PowerUpBench bench, Func<PotModel, double> to) => bench.With(d => d.Model is PotModel pot ? d with { Model = pot with { Rest = to(pot) } } : d);
}
