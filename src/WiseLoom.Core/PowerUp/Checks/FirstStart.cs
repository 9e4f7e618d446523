using WiseLoom.Core.Devices;
using WiseLoom.Core.States;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>Spark, then fuel, then a short first run.</summary>
internal sealed class FirstStart : CheckMaker
{
    internal override int Stage => PowerUpStages.FirstOnEngine + 1;

    internal override int Order => 1;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = SetUps.FirstStart(bench);
        var cautions = Cautions.Running(bench);
        var (start, running) = (bench.Still(KeyPosition.Start, setUp.Without), bench.Running(setUp.Without));
        PowerUpCheck Made(string id, Situation when, string words, string look, string why) => new(id, Stage, setUp, words, when, look, [], new OutcomeExpected(Outcome.AsSaid), why, cautions) { Touches = [] };
        foreach (var coil in bench.Loads.Where(d => d.Model is LoadModel { Use: "coil" }))
        {
            yield return Made($"spark {coil.Ref}", start, $"Fuel still off: crank and look at a spark gap on {coil.Title}.", "Eye on the gap.", $"{coil.Title} has its supply and is driven in its turn.") with { Device = coil.Ref, Touches = [coil.Ref] };
        }

        if (bench.Loads.Any(d => d.Model is LoadModel { Use: "coil" }))
        {
            yield return Made("timing", start, "Set the timing against a lamp where the controller must be told its offset: the mark stands where the controller says.", "A timing lamp on the first cylinder.", "The offset is a setting, not a wire: it must be right before fuel comes.");
        }

        foreach (var pump in bench.Loads.Where(d => d.Model is LoadModel { Use: "motor" }))
        {
            yield return Made($"fuel {pump.Ref}", start, $"Plug {pump.Title} in: pressure builds and stays, and nothing leaks.", "A gauge at the fuel line; eye and nose along every joint.", $"{pump.Title} runs from the loom; a leak is found before there is a spark beside it.") with { Device = pump.Ref, Touches = [pump.Ref] };
        }

        yield return Made("first run", running, "Start the engine and let it idle; stop at the limit without coolant, or at once when oil pressure does not stand.", "Ear, eye, and the clock on this card.", "A short run shows that everything works together. Without coolant an engine lives for so long as the shop’s limit says.");
        if (bench.State(running) is { } state)
        {
            var idle = bench.State(bench.Still(KeyPosition.On, []));
            foreach (var lamp in bench.Loads.Where(d => d.Model is LoadModel { Use: "lamp" } && idle?.Working.Contains(d.Ref) == true && !state.Working.Contains(d.Ref)))
            {
                yield return new PowerUpCheck($"out {lamp.Ref}", Stage, setUp, $"Engine running: look at {lamp.Title}.", running, "Eye.", [], new OutcomeExpected(Outcome.GoesOut), "What it warns of is no longer so while the engine runs.", cautions) { Device = lamp.Ref, Touches = [lamp.Ref] };
            }
        }

        yield return Made("idle", running, "Idle steady; then raise the speed a little and let it fall: it follows and comes back.", "Ear, and speed in the live values.", "Idle valve or throttle, sensors and triggers work together.");
        if (Channel.Of(bench.Drawn).Any(c => c.Sensor?.Model is NtcModel))
        {
            yield return Made("cooled", running, "Watch the temperatures rise together, and where the engine is cooled the fan come on.", "Live values.", "A sensor that stays where it was has the wrong wire.");
        }
    }
}
