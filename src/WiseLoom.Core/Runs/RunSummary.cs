namespace WiseLoom.Core.Runs;

/// <summary>A run in a few numbers: what lists and stages go by without looking at its events.</summary>
/// <param name="Steps">How many the plan has.</param>
/// <param name="Done">How many have been dealt with.</param>
/// <param name="NotTested">How many have no reading.</param>
/// <param name="Failing">How many fail.</param>
/// <param name="Retests">How many must be measured again after a fix, or because the meter was not right.</param>
/// <param name="Faults">How many logged faults are not proven; what was seen that is not as drawn and is not logged counts as one.</param>
/// <param name="Trouble">Number of the last event that made a step fail, logged a fault or mended one; 0 for none.</param>
/// <param name="Pack">Version of the pack that was signed last over this run; null for none.</param>
/// <param name="PackAt">Number of the event that was that signature; 0 for none.</param>
/// <param name="PowerUp">Stages of the power-up that are asked for and missing, and its checks that failed or must be done again.</param>
/// <param name="IsMeterInDoubt">Whether the run's meter failed a check, and has not been right since.</param>
public sealed record RunSummary(int Steps, int Done, int NotTested, int Failing, int Retests, int Faults, long Trouble, int? Pack, long PackAt, bool IsMeterInDoubt = false, int PowerUp = 0)
{
    /// <summary>What a lead has to decide: too many steps skipped, a plan of less than the shop asks for, failures of runs that were set aside.</summary>
    public int Undecided { get; init; }

    /// <summary>Whether nothing stands against release.</summary>
    public bool IsClear => NotTested == 0 && Failing == 0 && Retests == 0 && Faults == 0 && !IsMeterInDoubt && PowerUp == 0 && Undecided == 0;

    /// <summary>Whether a pack is out that what came after it contradicts: a step that fails or must be measured again, or a fault that is not proven.</summary>
    public bool IsOverturned => Pack is not null && !IsClear;

    /// <summary>Whether a pack is out and something was found and mended since: the pack does not tell of it.</summary>
    public bool IsOutdated => Pack is not null && IsClear && Trouble > PackAt;
}
