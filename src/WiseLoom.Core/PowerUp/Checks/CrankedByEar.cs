using WiseLoom.Core.Devices;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>What cranking tells besides: the starter turns, compressions are even, oil pressure builds before anything burns.</summary>
internal sealed class CrankedByEar : CheckMaker
{
    internal override int Stage => PowerUpStages.FirstOnEngine;

    internal override int Order => 3;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = SetUps.Cranking(bench);
        var start = bench.Still(KeyPosition.Start, setUp.Without);
        yield return Made(bench, "compressions", "Crank for five seconds and listen; in the log the crank slows down once for each cylinder.", "Ear, and the log of the crank: as many slow places in two turns as cylinders.",
            "Even slowing says that valves and timing are about right. One that is missing has no compression; none of this comes from the loom.") with { Asks = bench.Loom.Devices.Any(d => d.Trigger is { PerTurn: 1, Missing: > 0 }) ? Asked.Compressions : Asked.Nothing };
        if (Channel.Of(bench.Drawn).FirstOrDefault(c => c.Name.Contains("oil", StringComparison.OrdinalIgnoreCase) && c.Sensor?.Model is TransducerModel) is { } oil)
        {
            yield return Made(bench, "oil builds", $"Crank until ‘{oil.Name}’ rises and the oil lamp goes out.", "Live value of the controller, and the lamp.", "Oil pressure builds before anything burns: no engine is started without it.");
        }
        else if (bench.Loom.Devices.Any(d => d.Model is SwitchModel { ClosedWhen: var when } && when.Contains("oil", StringComparison.OrdinalIgnoreCase)))
        {
            yield return Made(bench, "oil builds", "Crank until the oil lamp goes out.", "Eye on the lamp.", "Oil pressure builds before anything burns: no engine is started without it.");
        }

        PowerUpCheck Made(PowerUpBench on, string id, string words, string look, string why) =>
            new(id, Stage, setUp, words, start, look, [], new OutcomeExpected(Outcome.AsSaid), why, Cautions.Turning(on)) { Touches = [] };
    }
}
