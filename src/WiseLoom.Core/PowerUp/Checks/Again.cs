namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>Second and third start warm, and the loom wiggled at idle.</summary>
internal sealed class Again : CheckMaker
{
    internal override int Stage => PowerUpStages.FirstOnEngine + 2;

    internal override int Order => 1;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = SetUps.Warm(bench);
        var cautions = Cautions.Running(bench);
        PowerUpCheck Made(string id, string words, string look, string why) =>
            new(id, Stage, setUp, words, bench.Running(setUp.Without), look, [], new OutcomeExpected(Outcome.AsSaid), why, cautions);
        yield return Made("second start", "Stop, wait a minute, start again.", "Ear.", "A start that went once may have gone by luck.");
        yield return Made("third start", "Stop and start a third time, warm.", "Ear.", "Heat opens joints that were good cold.");
        foreach (var branch in bench.Loom.Branches.Where(b => bench.Loom.Connectors.Any(c => c.Branch == b.Id)))
        {
            yield return Made($"wiggle {branch.Id}", $"At idle: move the loom by hand along ‘{branch.Id}’, clear of everything that turns or is hot.", "Ear, and live values that drop out.", "A stumble says that a joint under the hand is poor; its place is the place of the hand.");
        }
    }
}
