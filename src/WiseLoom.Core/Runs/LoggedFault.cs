using System.Collections.Immutable;
using System.Text.Json.Serialization;
using WiseLoom.Core.Faults;

namespace WiseLoom.Core.Runs;

/// <summary>What it turned out to be.</summary>
/// <param name="Faults">In the common vocabulary; empty when only words were given.</param>
/// <param name="Words">As the technician put it.</param>
public sealed record CauseFound(ImmutableArray<Fault> Faults, string Words)
{
    /// <inheritdoc cref="CauseFound(ImmutableArray{Faults.Fault}, string)" path="/param[@name='Faults']"/>
    public ImmutableArray<Fault> Faults { get; init; } = Faults.IsDefault ? [] : Faults;

    /// <summary>Only in rows from before a cause could be two faults.</summary>
    [JsonInclude]
    private Fault? Fault
    {
        init => Faults = value is null ? Faults : [value];
    }
}

/// <summary>What was done about it.</summary>
/// <param name="Did">One of <see cref="FixWork.All"/>.</param>
/// <param name="Places">Cavities, wires and splices that hands were on.</param>
/// <param name="Minutes">Time used; null when not noted.</param>
/// <param name="Retests">Steps to be measured again.</param>
public sealed record FixDone(string Did, ImmutableArray<string> Places, double? Minutes, string? Parts, string? Note, ImmutableArray<int> Retests);

/// <summary>Kinds of repair work.</summary>
public static class FixWork
{
    /// <summary>The metal was right and the paper wrong: a new revision of the loom says so, and the run on that revision proves it.</summary>
    public const string DrawingCorrected = "drawing corrected";

    /// <summary>Work on the loom itself.</summary>
    public static ImmutableArray<string> ByHand { get; } =
        ["re-crimp", "re-pin", "new contact or housing", "splice remade", "wire replaced", "cleaned", "insulation made good", "other"];

    /// <summary>Every kind, as written in the log.</summary>
    public static ImmutableArray<string> All { get; } =
        [.. ByHand, DrawingCorrected];
}

/// <summary>Where a logged fault stands.</summary>
public enum FaultState
{
    /// <summary>Nobody knows yet what it is.</summary>
    Open,

    /// <summary>It is known, and not mended.</summary>
    CauseKnown,

    /// <summary>Mended, and not all of its retests have passed since.</summary>
    Fixed,

    /// <summary>Each retest of its last fix has passed since. A corrected drawing is proven by the run on the new revision.</summary>
    Proven,
}

/// <summary>A logged fault: what was seen, ranked causes at that moment, and what came after.</summary>
/// <param name="Number">Within its run, from 1.</param>
/// <param name="Step">The failing step it was logged from.</param>
/// <param name="Cause">The last cause found; null while unknown.</param>
/// <param name="Fix">The last fix; null before.</param>
/// <param name="FixedAt">Number of the event that was the last fix; 0 before.</param>
public sealed record LoggedFault(
    int Number,
    int Step,
    string Seen,
    ImmutableArray<Cause> Ranked,
    string LoggedBy,
    DateTimeOffset LoggedAt,
    CauseFound? Cause = null,
    FixDone? Fix = null,
    long FixedAt = 0,
    string? FixedBy = null)
{
    /// <inheritdoc cref="FaultLogged.Sighted"/>
    public ImmutableArray<string> Sighted { get; init; } = [];

    /// <inheritdoc cref="FaultLogged.Checks"/>
    public ImmutableArray<string> Checks { get; init; } = [];

    /// <inheritdoc cref="FaultLogged.Places"/>
    public ImmutableArray<string> Places { get; init; } = [];

    /// <summary>Steps that showed it and must pass after every fix; for a fault of an earlier run those of this plan that measure the same.</summary>
    public ImmutableArray<int> ShownBy { get; init; } = [];

    /// <summary>Whether a step of an earlier run showed it that this plan has no equal of: no fix by hand proves it then.</summary>
    public bool IsOutOfPlan { get; init; }

    /// <summary>The run that it was logged in and its number there; null when that is this run.</summary>
    public FaultOrigin? From { get; init; }

    /// <summary>Number of the event by which it was logged; 0 when an earlier run has it.</summary>
    public long LoggedNumber { get; init; }

    /// <summary>The lead's decision to let it pass as it stands; null for none, and after a later fix.</summary>
    [JsonIgnore]
    public Happened? Accepted { get; init; }

    /// <summary>Which lead let it pass as it stands, and why; null for none.</summary>
    public string? LetPass => Accepted is { What: HoldAccepted accepted } by ? $"{by.By.Name}: {accepted.Reason}" : null;

    /// <summary>What it is called in lists: the cause when it is known, else what was seen.</summary>
    public string Title => Cause?.Words ?? Seen;
}

/// <summary>Where a fault of an earlier run was logged.</summary>
/// <param name="Run">Number of the run.</param>
/// <param name="Number">Number of the fault in that run.</param>
public sealed record FaultOrigin(long Run, int Number);
