using System.Collections.Immutable;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Handover;

/// <summary>Who and what a pack is about.</summary>
public sealed record PackHead(
    long Job,
    string Customer,
    string Machine,
    string Loom,
    string Revision,
    int Version,
    string Changes,
    string SignedBy,
    DateTimeOffset SignedAt,
    string Meter)
{
    /// <summary>Code of the language that it is written in; see <see cref="Language.All"/>.</summary>
    public string Language { get; init; } = Units.Language.English.Code;
}

/// <summary>Everything a pack says, before it is laid out.</summary>
/// <param name="NotTested">What was not tested or not proven, in words; empty when all was.</param>
/// <param name="Walk">Connectors in walking order.</param>
public sealed record PackModel(
    PackHead Head,
    string Result,
    ImmutableArray<string> TestedBy,
    ImmutableArray<string> NotTested,
    ImmutableArray<string> Cautions,
    ImmutableArray<WalkStop> Walk,
    ImmutableArray<RecordedStep> Record,
    ImmutableArray<LoggedFault> Faults)
{
    /// <summary>The power-up; null when the loom was not powered up, and in packs from before there was one.</summary>
    public PackPowerUp? PowerUp { get; init; }

    /// <summary>What an installer needs besides; null in packs from before there was any, and for looms without devices.</summary>
    public PackPapers? Papers { get; init; }

    /// <summary>What is there and not used.</summary>
    public ImmutableArray<Option> Options { get; init; } = [];

    /// <summary>What it weighs with its box, kilograms; null where nobody says.</summary>
    public double? WeightKg { get; init; }

    /// <summary>The packing list.</summary>
    public ImmutableArray<BoxItem> Box { get; init; } = [];

    /// <summary>What the box looks like as it was packed, small JPEGs as base64.</summary>
    public ImmutableArray<string> BoxPhotos { get; init; } = [];

    /// <summary>What the controllers must be set to.</summary>
    public ImmutableArray<SettingsRow> Settings { get; init; } = [];

    /// <summary>In which order the loom goes in.</summary>
    public ImmutableArray<string> Fitting { get; init; } = [];

    /// <summary>Ways of reading codes.</summary>
    public ImmutableArray<CodeReading> CodeReadings { get; init; } = [];

    /// <summary>What is otherwise than in the pack before, worked out from the two looms; empty in a first pack.</summary>
    public ImmutableArray<string> Changes { get; init; } = [];

    /// <summary>By connector: what it looks like on the loom, a small JPEG as base64.</summary>
    public ImmutableSortedDictionary<string, string> Photos { get; init; } = ImmutableSortedDictionary<string, string>.Empty;

    /// <summary>What the customer is asked.</summary>
    public ImmutableArray<PackQuestion> Questions { get; init; } = [];

    /// <summary>What a lead let pass that stood against release, each with the reason.</summary>
    public ImmutableArray<PackDecision> Decisions { get; init; } = [];

    /// <summary>Runs of this loom that were set aside before the one that the pack is made from, with what they found.</summary>
    public ImmutableArray<EarlierRun> Earlier { get; init; } = [];

    /// <summary>Ids of sections that the shop leaves out of its packs.</summary>
    public ImmutableArray<string> LeftOut { get; init; } = [];

    /// <summary>Brings a run and its record together.</summary>
    /// <param name="papers">What is computed for the customer, in the head's language; null for none.</param>
    public static PackModel Of(PackHead head, BenchRun run, ImmutableArray<RecordedStep> record, PackPapers? papers = null)
    {
        ArgumentNullException.ThrowIfNull(head);
        ArgumentNullException.ThrowIfNull(run);
        using var spoken = Words.In(Language.Of(head.Language));
        var (passed, all) = (run.Count(StepState.Pass), run.Plan.Steps.Length);
        var notTested = NotProven(run, record);
        var result = passed == all
            ? Words.Of($"All {all} measurements lie within their limits.")
            : all - passed == 1 ? Words.Of($"{passed} of {all} measurements lie within their limits; the rest is named below.") : Words.Of($"{passed} of {all} measurements lie within their limits; the rest are named below.");
        return new(
            head,
            result,
            [.. record.SelectMany(r => r.Readings).Select(r => r.By).Distinct().Order(StringComparer.Ordinal)],
            notTested,
            Care.BeforeInstalling,
            WalkStop.Of(run.Loom, run.Plan.AmbientC, run.Plan.Copper),
            record,
            [.. run.Faults])
        {
            PowerUp = PackPowerUp.Of(run),
            Decisions = PackDecision.Of(run),
            Earlier = run.Inherited.Runs,
            Options = OptionCircuits.Of(run.Loom),
            Papers = papers,
            WeightKg = run.Loom.WeightKg,
            Box = run.Loom.Box,
            Settings = SettingsSheet.Of(run.Loom).Rows,
            Fitting = FittingOrder.Of(run.Loom),
            CodeReadings = run.Loom.CodeReadings,
        };
    }

    /// <summary>What a pack made now would name as not tested or not proven.</summary>
    public static ImmutableArray<string> NotProven(BenchRun run, ImmutableArray<RecordedStep> record)
    {
        ArgumentNullException.ThrowIfNull(run);
        var lines = ImmutableArray.CreateBuilder<string>();
        lines.AddRange(PackDecision.Of(run).Select(d => Words.Of($"Let pass by {d.By}, {d.What} Reason: {d.Reason}")));
        lines.AddRange(run.Plan.LeftOpen.Select(Words.Text));
        foreach (var step in record)
        {
            var what = Words.Of($"Step {step.Step.Number}, {step.Step.Black} to {step.Step.RedInWords}");
            if (step.State == StepState.Skipped)
            {
                lines.Add(Words.Of($"{what}: not measured. {step.Skipped}"));
            }
            else if (step.State == StepState.CantTell)
            {
                lines.Add(Words.Of($"{what}: measured, but this meter cannot decide it."));
            }
            else if (step.State is StepState.NotTested or StepState.Retest)
            {
                lines.Add(Words.Of($"{what}: no reading."));
            }
        }

        if (record.Count(r => r.Carried is not null) is var carried and > 0)
        {
            lines.Add(Words.Of($"{carried} of the {record.Length} steps were not measured anew: an earlier revision proved them and the rework did not touch them. The test record names each."));
        }

        if (run.Care.Checks.Any(c => c.GoodAt == 0))
        {
            lines.Add(Words.Text("The meter was not held against everything known that it could have been, during this run."));
        }
        else if (run.Care.Since > 0)
        {
            lines.Add(run.Care.Since == 1 ? Words.Text("1 reading was taken after the meter was last checked.") : Words.Of($"{run.Care.Since} readings were taken after the meter was last checked."));
        }

        if (record.Any(s => s.Step.Phase == StepPhase.Fitted && !s.Readings.IsEmpty))
        {
            lines.Add(Words.Text("Devices were plugged in for the readings through them, without power; all other readings were taken with nothing plugged in."));
        }

        if (run.PowerUp is { } power && power.Standings.Values.Any(s => s.Answer is not null))
        {
            lines.AddRange(PackPowerUp.NotDone(run));
            return lines.ToImmutable();
        }

        lines.Add(record.Any(s => s.Step.Phase == StepPhase.UnderLoad && !s.Readings.IsEmpty)
            ? Words.Text("No power was applied to this loom but for the tests under load, through one pair at a time with nothing plugged in.")
            : record.Any(s => s.Step.Phase == StepPhase.Fitted && !s.Readings.IsEmpty) ? Words.Text("No power was applied to this loom.")
            : Words.Text("No power was applied to this loom: only resistance was measured, with nothing plugged in."));
        return lines.ToImmutable();
    }
}
