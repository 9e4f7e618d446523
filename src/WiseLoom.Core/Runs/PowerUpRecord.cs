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

/// <summary>A power-up as it stands after a run's events.</summary>
/// <param name="Standings">By id of the check; a check that is not in it is open.</param>
/// <param name="Passes">Stages that were let pass or not done.</param>
/// <param name="BegunBy">The event that set its terms last.</param>
public sealed record PowerUpRecord(PowerUpTerms Terms, ImmutableDictionary<string, PowerUpStanding> Standings, ImmutableSortedDictionary<int, Happened> Passes, Happened BegunBy)
{
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

        return Passes.ContainsKey(stage) ? StageState.Waived : IsDone(stage) ? StageState.Passed : StageState.Open;
    }

    /// <summary>The first stage that can be worked at; null when all are done.</summary>
    public int? Current => Stages.Where(s => StateOf(s) == StageState.Open).Select(s => (int?)s).FirstOrDefault();

    /// <summary>Stages that the shop asks for and that are neither done nor let pass.</summary>
    public ImmutableArray<int> Missing => [.. Terms.Required.Where(s => !IsDone(s))];

    /// <summary>What keeps the loom from release: stages that are missing, and failed checks or ones to be done again anywhere that nobody let pass.</summary>
    public int Against => Missing.Length + In(CheckState.Failed).Concat(In(CheckState.Again)).Count(c => !Passes.ContainsKey(c.Stage) && !Missing.Contains(c.Stage));

    private bool IsDone(int stage) => Passes.ContainsKey(stage) || (Of(stage).Any() ? Of(stage).All(c => this[c.Id].State == CheckState.Passed) : Terms.Vacant.Contains(stage));

    internal PowerUpRecord With(PowerUpTerms terms, Happened by)
    {
        var before = Terms.Checks.ToDictionary(c => c.Id, c => c.Fingerprint, StringComparer.Ordinal);
        var kept = terms.Checks.Where(c => before.GetValueOrDefault(c.Id) == c.Fingerprint).Select(c => c.Id).ToHashSet(StringComparer.Ordinal);
        return new(terms, Standings.RemoveRange(Standings.Keys.Where(k => !kept.Contains(k))), Passes, by);
    }

    internal PowerUpRecord After(Happened happened, CheckAnswered answer) =>
        Find(answer.Check) is null ? this : this with { Standings = Standings.SetItem(answer.Check, this[answer.Check].After(happened, answer)) };

    internal PowerUpRecord After(Happened happened, StagePassed pass) => this with { Passes = Passes.SetItem(pass.Stage, happened) };

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
