using System.Collections.Immutable;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Handover;

/// <summary>A check of the power-up as a pack prints it.</summary>
/// <param name="Said">What was seen; empty when it was not answered.</param>
public sealed record PackCheck(string Do, string Expected, string Said, string Note, string By, CheckState State);

/// <summary>A stage of the power-up as a pack prints it.</summary>
/// <param name="Words">How it was passed, or by whose word it was not done.</param>
public sealed record PackStage(int Number, string Name, string Words, ImmutableArray<PackCheck> Checks);

/// <summary>The power-up of a loom as a pack prints it.</summary>
/// <param name="Where">The school, in words.</param>
/// <param name="Fitted">Devices that were not themselves on the bench.</param>
public sealed record PackPowerUp(string Where, ImmutableArray<string> Fitted, ImmutableArray<PackStage> Stages)
{
    /// <summary>Of a run; null when its loom was not powered up.</summary>
    public static PackPowerUp? Of(BenchRun run)
    {
        ArgumentNullException.ThrowIfNull(run);
        if (run.PowerUp is not { } record)
        {
            return null;
        }

        var where = BenchFile.FindSchool(record.Terms.School) switch { School.Bench => Words.Text("on the bench, without an engine"), School.TestEngine => Words.Text("on a test engine"), _ => Words.Text("in the vehicle") };
        return new(
            where,
            [.. run.Loom.Devices.Where(d => record.Terms.Fit.Of(d) is not States.RealDevice).Select(d => $"{d.Title}: {record.Terms.Fit.Of(d).InWords()}")],
            [.. record.Stages.Select(s => Stage(record, s))]);
    }

    /// <summary>What of it was not done or let pass, in words, for the list of what is not tested.</summary>
    public static IEnumerable<string> NotDone(BenchRun run)
    {
        ArgumentNullException.ThrowIfNull(run);
        if (run.PowerUp is not { } record)
        {
            yield break;
        }

        foreach (var failure in record.DisplacedOpen)
        {
            yield return Words.Of($"Power-up, stage {failure.Check.Stage}: a check failed before the bench was changed. {failure.Check.Title} Seen: {failure.Answered.Said}, should have been {failure.Answered.Expected}.");
        }

        foreach (var stage in record.Stages.Where(s => record.StateOf(s) is not StageState.Passed))
        {
            yield return Words.Of($"Power-up, stage {stage} ({Words.Text(PowerUpStages.Names[stage - 1])}): {HowPassed(record, stage)}.");
        }
    }

    private static PackStage Stage(PowerUpRecord record, int number) => new(
        number, Words.Text(PowerUpStages.Names[number - 1]), HowPassed(record, number),
        [.. record.Of(number).Where(c => record[c.Id].Answered is not null).Select(c => (c.Title, Stands: record[c.Id])).Select(c => new PackCheck(
            c.Title, c.Stands.Answered!.Expected, c.Stands.Answered.Said, c.Stands.Answered.Note ?? "", c.Stands.Answer!.By.Name, c.Stands.State))]);

    private static string HowPassed(PowerUpRecord record, int stage)
    {
        var (all, passed) = (record.Of(stage).Count(), record.Of(stage).Count(c => record[c.Id].State == CheckState.Passed));
        return record.Passes.GetValueOrDefault(stage) is { What: StagePassed pass } by
            ? pass.NotDone ? Words.Of($"not done, by the word of {pass.Word}: {pass.Reason}") : Words.Of($"let pass by {by.By.Name}: {pass.Reason}")
            : all == 0 ? Words.Text("this loom has nothing that it looks at")
            : passed == all ? Words.Of($"all {all} checks as expected") : Words.Of($"{passed} of {all} checks as expected; not finished");
    }
}
