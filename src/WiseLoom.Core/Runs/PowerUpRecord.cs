using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Runs;

/// <summary>Where a check of a power-up stands.</summary>
public enum CheckState
{
    /// <summary>Not answered.</summary>
    Open,

    /// <summary>Seen as expected.</summary>
    Passed,

    /// <summary>Not as expected.</summary>
    Failed,

    /// <summary>To be done again, after a fix at something it depends on.</summary>
    Again,
}

/// <summary>A check of a power-up and what came of it.</summary>
/// <param name="Answer">The answer that it stands by; null before the first.</param>
/// <param name="AgainAt">Number of the event after which it had to be done again; 0 for never.</param>
/// <param name="Photos">Keys of its photos.</param>
public sealed record PowerUpStanding(CheckState State, Happened? Answer, long AgainAt, ImmutableArray<Guid> Photos)
{
    /// <summary>Before the first answer.</summary>
    public static PowerUpStanding Fresh { get; } = new(CheckState.Open, null, 0, []);

    /// <summary>The answer; null before the first.</summary>
    public CheckAnswered? Answered => Answer?.What as CheckAnswered;

    /// <summary>After one more answer: one from before a fix proves nothing, and one that did not know of a failure does not undo it.</summary>
    internal PowerUpStanding After(Happened happened, CheckAnswered answer) =>
        answer.Seen < AgainAt || (State == CheckState.Failed && answer.Passed && answer.Seen < Answer!.Number) ? this
            : this with { State = answer.Passed ? CheckState.Passed : CheckState.Failed, Answer = happened };
}

/// <summary>Where a stage of a power-up stands.</summary>
public enum StageState
{
    /// <summary>A stage before it is not passed yet.</summary>
    Locked,

    /// <summary>Its checks can be answered.</summary>
    Open,

    /// <summary>All its checks passed.</summary>
    Passed,

    /// <summary>Let pass by a lead, or not done, with a reason.</summary>
    Waived,
}

/// <summary>A check that failed and was not passed again before the bench was changed.</summary>
/// <param name="Check">As it was expected then.</param>
/// <param name="Answer">The failing answer.</param>
public sealed record DisplacedFailure(PlannedCheck Check, Happened Answer)
{
    /// <summary>The failing answer.</summary>
    public CheckAnswered Answered => (CheckAnswered)Answer.What;
}

/// <summary>A power-up as it stands after a run's events.</summary>
/// <param name="Standings">By id of the check; a check that is not in it is open.</param>
/// <param name="Passes">Stages that a lead let pass or said not to be done.</param>
/// <param name="BegunBy">The event that set its terms last.</param>
public sealed record PowerUpRecord(PowerUpTerms Terms, ImmutableDictionary<string, PowerUpStanding> Standings, ImmutableSortedDictionary<int, Happened> Passes, Happened BegunBy)
{
    /// <summary>Stages that somebody proposes as not done, and decisions from before the bench was changed: they unlock and release nothing.</summary>
    public ImmutableSortedDictionary<int, Happened> Proposals { get; init; } = ImmutableSortedDictionary<int, Happened>.Empty;

    /// <summary>Checks that failed before the bench was changed, each as it was expected then.</summary>
    public ImmutableArray<DisplacedFailure> Displaced { get; init; } = [];

    /// <summary>Those that the same check has not passed since.</summary>
    public IEnumerable<DisplacedFailure> DisplacedOpen =>
        Displaced.Where(d => !(Find(d.Check.Id)?.Fingerprint == d.Check.Fingerprint && this[d.Check.Id] is { State: CheckState.Passed, Answer: { } by } && by.Number > d.Answer.Number));

    /// <summary>Those of them that no lead let pass since.</summary>
    public ImmutableArray<DisplacedFailure> DisplacedLeft => [.. DisplacedOpen.Where(d => !IsPassedBy(d.Check.Stage, d.Answer.Number))];

    /// <summary>Every check that failed last and has not passed since, on this bench or as it was before.</summary>
    public IEnumerable<DisplacedFailure> Unresolved =>
        [.. Terms.Checks.Where(c => HasFailed(this[c.Id])).Select(c => new DisplacedFailure(c, this[c.Id].Answer!)), .. DisplacedOpen];

    /// <summary>Numbers of its stages, rising.</summary>
    public IEnumerable<int> Stages => Terms.Checks.Select(c => c.Stage).Concat(Terms.Required).Concat(Terms.Vacant).Distinct().Order();

    /// <summary>Where a check stands.</summary>
    public PowerUpStanding this[string check] => Standings.GetValueOrDefault(check, PowerUpStanding.Fresh);

    /// <summary>A check by its id; null when there is none.</summary>
    public PlannedCheck? Find(string id) => Terms.Checks.FirstOrDefault(c => c.Id == id);

    /// <summary>Checks of a stage.</summary>
    public IEnumerable<PlannedCheck> Of(int stage) => Terms.Checks.Where(c => c.Stage == stage);

    /// <summary>Checks that stand in a state.</summary>
    public IEnumerable<PlannedCheck> In(CheckState state) => Terms.Checks.Where(c => this[c.Id].State == state);

    /// <summary>Where a stage stands.</summary>
    public StageState StateOf(int stage)
    {
        foreach (var before in Stages.Where(s => s < stage))
        {
            if (!IsDone(before))
            {
                return StageState.Locked;
            }
        }

        return IsLetPass(stage) ? StageState.Waived : IsDone(stage) ? StageState.Passed : StageState.Open;
    }

    /// <summary>The first stage that can be worked at; null when all are done.</summary>
    public int? Current => Stages.Where(s => StateOf(s) == StageState.Open).Select(s => (int?)s).FirstOrDefault();

    /// <summary>Stages that the shop asks for and that are neither done nor let pass.</summary>
    public ImmutableArray<int> Missing => [.. Terms.Required.Where(s => !IsDone(s))];

    /// <summary>What keeps the loom from release: stages that are missing, and failed checks or ones to be done again anywhere that nobody let pass since.</summary>
    public int Against => Missing.Length + DisplacedLeft.Count(d => !Missing.Contains(d.Check.Stage))
        + In(CheckState.Failed).Concat(In(CheckState.Again)).Count(c => !IsCovered(c) && !Missing.Contains(c.Stage));

    /// <summary>Whether a lead let a check's stage pass after its last answer, and after the last fix at what it depends on.</summary>
    public bool IsCovered(PlannedCheck check)
    {
        ArgumentNullException.ThrowIfNull(check);
        return IsPassedBy(check.Stage, Math.Max(this[check.Id].Answer?.Number ?? 0, this[check.Id].AgainAt));
    }

    /// <summary>Whether a check of a stage failed last, on this bench or before it was changed.</summary>
    public bool HasFailed(int stage) => Of(stage).Any(c => HasFailed(this[c.Id])) || DisplacedOpen.Any(d => d.Check.Stage == stage);

    private static bool HasFailed(PowerUpStanding standing) => standing is { State: CheckState.Failed } or { State: CheckState.Again, Answered.Passed: false };

    private bool IsDone(int stage) => IsLetPass(stage)
        || (!DisplacedOpen.Any(d => d.Check.Stage == stage) && (Of(stage).Any() ? Of(stage).All(c => this[c.Id].State == CheckState.Passed) : Terms.Vacant.Contains(stage)));

    private bool IsPassedBy(int stage, long since) => Passes.TryGetValue(stage, out var pass) && pass.Number > since;

    /// <summary>Whether a lead let a stage pass and nothing in it failed, or had to be done again, since.</summary>
    private bool IsLetPass(int stage) => Passes.ContainsKey(stage) && Of(stage).All(c => this[c.Id].State is CheckState.Open or CheckState.Passed || IsCovered(c))
        && !DisplacedLeft.Any(d => d.Check.Stage == stage);

    /// <summary>On another bench: what was answered stands where nothing else is expected now, what failed stays failed, and a lead's decision holds for stages whose checks are the same.</summary>
    internal PowerUpRecord With(PowerUpTerms terms, Happened by)
    {
        var before = Terms.Checks.ToDictionary(c => c.Id, c => c.Fingerprint, StringComparer.Ordinal);
        var kept = terms.Checks.Where(c => before.GetValueOrDefault(c.Id) == c.Fingerprint).Select(c => c.Id).ToHashSet(StringComparer.Ordinal);
        var failed = Terms.Checks.Where(c => !kept.Contains(c.Id) && HasFailed(this[c.Id])).Select(c => new DisplacedFailure(c, this[c.Id].Answer!)).ToList();
        bool IsSame(int stage) => Of(stage).Select(c => (c.Id, c.Fingerprint)).ToHashSet().SetEquals(terms.Checks.Where(c => c.Stage == stage).Select(c => (c.Id, c.Fingerprint)));
        var (same, other) = (Passes.Where(p => IsSame(p.Key)), Passes.Where(p => !IsSame(p.Key)));
        return new(terms, Standings.RemoveRange(Standings.Keys.Where(k => !kept.Contains(k))), same.ToImmutableSortedDictionary(), by)
        {
            Proposals = Proposals.SetItems(other),
            Displaced = [.. Displaced.Where(d => !failed.Exists(f => f.Check.Id == d.Check.Id && f.Check.Fingerprint == d.Check.Fingerprint)), .. failed],
        };
    }

    internal PowerUpRecord After(Happened happened, CheckAnswered answer) =>
        Find(answer.Check) is null ? this : this with { Standings = Standings.SetItem(answer.Check, this[answer.Check].After(happened, answer)) };

    /// <summary>After a word on a stage: a lead decides, anybody else proposes.</summary>
    internal PowerUpRecord After(Happened happened, StagePassed pass) => pass.ByLead || !pass.NotDone
        ? this with { Passes = Passes.SetItem(pass.Stage, happened), Proposals = Proposals.Remove(pass.Stage) }
        : this with { Proposals = Proposals.SetItem(pass.Stage, happened) };

    internal PowerUpRecord Kept(string check, Guid photo) =>
        Find(check) is null ? this : this with { Standings = Standings.SetItem(check, this[check] with { Photos = this[check].Photos.Add(photo) }) };

    /// <summary>After a fix: what depends on the places that hands were on has to be done again, and what the fault was logged from.</summary>
    internal PowerUpRecord Again(Loom loom, FixDone fix, ImmutableArray<string> from, long number)
    {
        var places = fix.Places.Concat(fix.Places.SelectMany(p => loom.Wires.Where(w => w.From.Text == p || w.To.Text == p).Select(w => w.Id)))
            .Concat(loom.Devices.Where(d => d.Pins.Values.Any(p => fix.Places.Contains(p.ToString()))).Select(d => d.Ref)).ToHashSet(StringComparer.Ordinal);
        var standings = Standings;
        foreach (var check in Terms.Checks.Where(c => this[c.Id].Answer is not null && (from.Contains(c.Id) || c.Touches.Any(places.Contains))))
        {
            standings = standings.SetItem(check.Id, this[check.Id] with { State = CheckState.Again, AgainAt = number });
        }

        return this with { Standings = standings };
    }
}
