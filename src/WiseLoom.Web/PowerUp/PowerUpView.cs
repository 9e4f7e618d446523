using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Runs;
using WiseLoom.Core.States;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.PowerUp;

/// <summary>A device and what is at its plug on this bench.</summary>
/// <param name="TakesStandIn">Whether a lamp or a resistor can stand in for it.</param>
/// <param name="Fitted">What is there, in words.</param>
internal sealed record FittedDeviceView(string Ref, string Title, bool TakesStandIn, Fitting Fitting, string Fitted);

/// <summary>A range with its words.</summary>
internal sealed record ExpectView(string Words, string Unit, double? Min, double? Nominal, double? Max, string? Outcome, string? Otherwise);

/// <summary>A check with where it stands.</summary>
/// <param name="Key">Position of the key, in words.</param>
/// <param name="Asks">Whether the controller's line can answer it.</param>
/// <param name="Answer">What was said last; null before the first answer.</param>
internal sealed record PowerUpCheckView(
    string Id, int Stage, string SetUp, string SetUpTitle, string Do, string Key, ImmutableArray<string> Without, string With, ImmutableArray<string> At, ExpectView Expect, string Why,
    ImmutableArray<string> IfNot, ImmutableArray<string> Cautions, string? Output, string? Device, string? Channel, string? ShownWords, bool Asks, bool IsLog, CheckState State, CheckAnswerView? Answer, ImmutableArray<Guid> Photos)
{
    internal static PowerUpCheckView Of(PowerUpCheck c, PowerUpStanding stands) => new(
        c.Id, c.Stage, c.SetUp.Id, c.SetUp.Title, c.Do, KeyPositions.Word(c.Meanwhile.Key), [.. c.Meanwhile.Without.Order(StringComparer.Ordinal)], c.With, [.. c.At.Select(p => p.ToString())], Expected(c.Expect), c.Why,
        c.IfNot, c.Cautions, c.Output, c.Device, c.Shows?.Channel,
        c.Shows is { Value: { } v, Unit: var unit } ? FormattableString.Invariant($"{v.Min:0.#} to {v.Max:0.#} {unit}") : null,
        c.Asks != Asked.Nothing, c.Asks is Asked.Log or Asked.Sync or Asked.Compressions, stands.State, CheckAnswerView.Of(stands), stands.Photos);

    private static ExpectView Expected(Expectation expect) => expect switch
    {
        VoltsExpected v => new(v.InWords(), "V", v.Volts.Min, v.Volts.Nominal, v.Volts.Max, null, null),
        AmpsExpected a => new(a.InWords(), "A", a.Amps.Min, a.Amps.Nominal, a.Amps.Max, null, null),
        OhmExpected o => new(o.InWords(), "Ω", o.Ohm?.Min ?? o.LeastOhm, o.Ohm?.Nominal, o.Ohm?.Max, null, null),
        OutcomeExpected u => new(u.InWords(), "", null, null, null, u.Outcome.InWords(), u.Outcome.Otherwise().InWords()),
        _ => new(expect.InWords(), "", null, null, null, null, null),
    };
}

/// <summary>What was said at a check.</summary>
internal sealed record CheckAnswerView(string Said, string Expected, bool Passed, string? Note, string By, DateTimeOffset At)
{
    internal static CheckAnswerView? Of(PowerUpStanding stands) =>
        stands.Answered is { } answered ? new(answered.Said, answered.Expected, answered.Passed, answered.Note, stands.Answer!.By.Name, stands.Answer.At) : null;
}

/// <summary>A stage with where it stands.</summary>
/// <param name="Pass">Which lead let it pass or said that it was not done, and why; null when nobody did.</param>
/// <param name="Proposal">Who proposes that it is not done, and why; null when nobody does.</param>
/// <param name="FailedBefore">Checks that failed before the bench was changed, and that the same check has not passed since.</param>
internal sealed record PowerUpStageView(int Number, string Name, bool Required, StageState State, string? CannotDo, string? Pass, string? Proposal, ImmutableArray<string> FailedBefore, int Passed, int Failed, int Again, ImmutableArray<PowerUpCheckView> Checks);

/// <summary>The power-up of a job's loom.</summary>
/// <param name="RunId">The job's run; null before the loom was on the bench.</param>
/// <param name="Begun">Whether what is fitted has been said.</param>
/// <param name="Schools">Words for where it is done.</param>
/// <param name="Refused">Why there can be none; null when there can.</param>
internal sealed record PowerUpView(
    long? RunId, long LastEvent, bool Begun, string School, ImmutableArray<string> Schools, ImmutableArray<FittedDeviceView> Devices, ImmutableArray<PowerUpStageView> Stages, int? Current,
    double StandingAmps, double LimitAmps, string LimitWhy, ImmutableArray<string> Findings, double SecondsDry, ImmutableArray<ControllerAddress> Controllers, string? Refused)
{
    internal static PowerUpView None(string refused, PowerUpTemplate template) => new(null, 0, false, template.School, BenchFile.Schools, [], [], null, 0, 0, "", [], template.SecondsDry, template.Controllers, refused);

    internal static PowerUpView Of(OpenRun open, PowerUpPlan plan, PowerUpTemplate template)
    {
        var (run, record) = (open.Run, open.Run.PowerUp);
        return new(
            open.Head.Id, run.LastEvent, record is not null, BenchFile.WordOf(plan.School), BenchFile.Schools, [.. run.Loom.Devices.Where(d => d.Model is not (BatteryModel or KeyModel)).Select(d => Fitted(d, plan.Fit))],
            [.. Shown(plan, record).Select(s => Stage(s, record))], record?.Current, plan.StandingAmps, plan.Limit.Amps, plan.Limit.Why, plan.Findings, record?.Terms.SecondsDry ?? template.SecondsDry, template.Controllers, null);
    }

    private static FittedDeviceView Fitted(Device device, BenchFit fit) =>
        new(device.Ref, device.Title, device.Model is LoadModel or NtcModel or SwitchModel, fit.Of(device), fit.Of(device).InWords());

    /// <summary>Stages of the plan, and those that the shop asks for, or that failed before the bench was changed, where this school has none.</summary>
    private static IEnumerable<PowerUpStage> Shown(PowerUpPlan plan, PowerUpRecord? record)
    {
        var planned = plan.Stages.Select(s => s.Number).ToHashSet();
        var besides = record is null ? [] : record.Stages.Concat(record.DisplacedOpen.Select(d => d.Check.Stage)).Distinct().Where(n => !planned.Contains(n));
        return plan.Stages.Concat(besides.Select(n => new PowerUpStage(n, PowerUpStages.Names[n - 1], [], "The shop asks for this stage; it is not done where this power-up is done.", false))).OrderBy(s => s.Number);
    }

    private static PowerUpStageView Stage(PowerUpStage stage, PowerUpRecord? record)
    {
        var checks = stage.Checks.Select(c => PowerUpCheckView.Of(c, record?[c.Id] ?? PowerUpStanding.Fresh)).ToImmutableArray();
        int Count(CheckState state) => checks.Count(c => c.State == state);
        var pass = record?.Passes.GetValueOrDefault(stage.Number);
        var proposal = record?.Proposals.GetValueOrDefault(stage.Number);
        return new(
            stage.Number, stage.Name, record?.Terms.Required.Contains(stage.Number) == true, record?.StateOf(stage.Number) ?? StageState.Locked, stage.CannotDo,
            pass?.What is StagePassed said ? $"{(said.NotDone ? $"Not done, by the word of {said.Word}" : "Let pass")}: {said.Reason} ({pass.By.Name})" : null,
            proposal?.What is StagePassed proposed ? proposed.ByLead ? $"Before the bench was changed, {proposal.By.Name} let it pass: {proposed.Reason}"
                : $"{proposal.By.Name} proposes as not done, by the word of {proposed.Word}: {proposed.Reason}. A lead decides." : null,
            [.. (record?.DisplacedOpen ?? []).Where(d => d.Check.Stage == stage.Number).Select(d => $"{d.Check.Title} Seen: {d.Answered.Said}, should have been {d.Answered.Expected} ({d.Answer.By.Name})")],
            Count(CheckState.Passed), Count(CheckState.Failed), Count(CheckState.Again), checks);
    }
}

/// <summary>The minimum to run as it is told.</summary>
internal sealed record MinimumView(bool Possible, bool Exact, string Sentence, ImmutableArray<string> Functions, ImmutableArray<FedPlaceView> Feed, ImmutableArray<string> Ground, ImmutableArray<string> LeftOut)
{
    internal static MinimumView Of(MinimumToRun m) => new(m.Possible, m.Exact, m.Sentence, m.Functions, [.. m.Feed.Select(f => new FedPlaceView(f.At.ToString(), f.Volts, f.Amps, f.PeakAmps, f.FuseAmps))], [.. m.Ground.Select(g => g.ToString())], m.LeftOut);
}

/// <inheritdoc cref="FedPlace"/>
internal sealed record FedPlaceView(string At, double Volts, double Amps, double PeakAmps, double FuseAmps);

/// <summary>A row of the settings sheet.</summary>
/// <param name="Reported">What the controller has; null when it was not asked or does not tell.</param>
/// <param name="Differs">Whether that is another.</param>
internal sealed record SettingRowView(string Name, string Needed, string Why, string? Reported, bool Differs);
