using System.Collections.Immutable;

namespace WiseLoom.Core.Runs;

/// <content>What may happen while a loom is powered up.</content>
public sealed partial class BenchRun
{
    private const int MostChecks = 20_000, LastStage = 9, MostCheckPhotos = 12, LongestWord = 120;

    /// <summary>The power-up; null before it is begun.</summary>
    public PowerUpRecord? PowerUp { get; }

    /// <summary>Whether a power-up can be begun, or its terms changed.</summary>
    public Decision BeginPowerUp(Guid key, PowerUpTerms terms)
    {
        ArgumentNullException.ThrowIfNull(terms);
        var begun = new PowerUpBegun(terms);
        return Before(key, begun.Fingerprint())
            ?? (terms.Checks.Length > MostChecks ? new Decision.Conflict($"More than {MostChecks:#,0} checks are not kept.")
                : terms.Fit.Problems(Loom).FirstOrDefault() is { } wrong ? new Decision.Wrong(wrong.At, wrong.Message)
                : terms.Required.Any(s => s is < 1 or > LastStage) ? new Decision.Wrong("/required", $"Stages are numbered 1 to {LastStage}.")
                : new Decision.Accepted(begun));
    }

    /// <summary>Whether a check can be answered: its stage is open, its cautions were seen.</summary>
    /// <param name="answer">As the core judged it.</param>
    public Decision Answer(Guid key, CheckAnswered answer)
    {
        ArgumentNullException.ThrowIfNull(answer);
        if (Before(key, answer.Fingerprint()) is { } before)
        {
            return before;
        }

        if (PowerUp is not { } record)
        {
            return new Decision.Conflict("This loom’s power-up is not begun: say first what is fitted on the bench.");
        }

        if (record.Find(answer.Check) is not { } check)
        {
            return new Decision.Wrong("/check", "This power-up has no such check; what is fitted may have changed meanwhile.");
        }

        return answer.Seen < 0 || answer.Seen > LastEvent ? new Decision.Wrong("/seen", $"This run has {LastEvent} events; say which of them had been seen, 0 for none.")
            : answer.Note?.Length > LongestWords ? new Decision.Wrong("/note", $"A note holds at most {LongestWords} characters.")
            : record.StateOf(check.Stage) is StageState.Locked ? new Decision.Conflict($"Stage {check.Stage} is locked: the stages before it are not passed yet.")
            : check.HasCautions && !answer.CautionsSeen ? new Decision.Conflict("The cautions of this check come first: read them, then answer.")
            : new Decision.Accepted(answer);
    }

    /// <summary>Whether a stage can be let pass or said not to be done.</summary>
    /// <param name="isLead">A lead alone lets a stage pass; that it cannot be done here anybody may propose.</param>
    public Decision PassStage(Guid key, StagePassed pass, bool isLead)
    {
        ArgumentNullException.ThrowIfNull(pass);
        var (reason, word) = (pass.Reason.Trim(), pass.Word.Trim());
        var said = pass with { Reason = reason, Word = word, ByLead = isLead };
        if (Before(key, said.Fingerprint()) is { } before)
        {
            return before;
        }

        return PowerUp is not { } record ? new Decision.Conflict("This loom’s power-up is not begun.")
            : !record.Stages.Contains(pass.Stage) && !record.DisplacedLeft.Any(d => d.Check.Stage == pass.Stage) ? new Decision.Wrong("/stage", "This power-up has no such stage.")
            : reason.Length is < ShortestReason or > LongestReason ? new Decision.Wrong("/reason", $"Say why, in {ShortestReason} to {LongestReason} characters: the pack prints it.")
            : pass.NotDone && word.Length is 0 or > LongestWord ? new Decision.Wrong("/word", $"Say by whose word, in 1 to {LongestWord} characters: the pack prints it.")
            : isLead && record.StateOf(pass.Stage) == StageState.Locked ? new Decision.Conflict($"Stage {pass.Stage} is locked: the stages before it are not passed yet.")
            : pass.NotDone && record.HasFailed(pass.Stage) ? new Decision.Conflict("A check of this stage failed: it was done. A lead may let it pass.")
            : !pass.NotDone && !isLead ? new Decision.Conflict("Only a lead lets a stage pass.")
            : new Decision.Accepted(said);
    }

    /// <summary>Whether a photo can be added to a check: 12 at each, and as many in all as a run keeps.</summary>
    public Decision PhotographCheck(Guid key, string check)
    {
        ArgumentNullException.ThrowIfNull(check);
        var photo = new CheckPhoto(check);
        return Before(key, photo.Fingerprint())
            ?? (PowerUp?.Find(check) is null ? new Decision.Wrong("/check", "This power-up has no such check.")
                : PowerUp[check].Photos.Length >= MostCheckPhotos ? new Decision.Conflict($"This check has {MostCheckPhotos} photos; more are not kept.")
                : steps.Sum(s => s.Photos.Length) + PowerUp.Standings.Values.Sum(s => s.Photos.Length) >= MostPhotosOfRun ? new Decision.Conflict($"This run has {MostPhotosOfRun} photos; more are not kept.")
                : new Decision.Accepted(photo));
    }

    /// <summary>Failed checks that belong to no fault that is still open.</summary>
    public ImmutableArray<string> FailedChecks => PowerUp is not { } record ? []
        : [.. record.In(CheckState.Failed).Select(c => c.Id).Where(id => !Faults.Exists(f => f.Checks.Contains(id) && StateOf(f) is FaultState.Open or FaultState.CauseKnown))];

    /// <summary>Whether a check passed after an event; one that this power-up does not have did not.</summary>
    private bool IsPassedSince(string check, long since) => PowerUp?.Find(check) is not null && PowerUp[check] is { State: CheckState.Passed, Answer: { } by } && by.Number > since;
}
