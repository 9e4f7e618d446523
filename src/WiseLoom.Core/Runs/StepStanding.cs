using System.Collections.Immutable;
using WiseLoom.Core.Electrical;

namespace WiseLoom.Core.Runs;

/// <summary>Where a step stands.</summary>
public enum StepState
{
    /// <summary>No reading yet.</summary>
    NotTested,

    /// <summary>Within limits, or proven by an earlier revision's run.</summary>
    Pass,

    /// <summary>Outside its limits.</summary>
    Fail,

    /// <summary>The meter's error reaches over a limit.</summary>
    CantTell,

    /// <summary>Left out, with a reason.</summary>
    Skipped,

    /// <summary>It must be measured again: a fix touched it after its last reading, or the meter was not right when that was taken.</summary>
    Retest,
}

/// <summary>A step and why it stands there.</summary>
/// <param name="By">The event that it stands by: a reading, a skip or carried proof; null before the first. A retest keeps the one from before the fix.</param>
/// <param name="Open">Readings since the last fix or skip that nobody who knew of them has replaced: at most one of each person. The worst of them is <paramref name="By"/>.</param>
/// <param name="Late">The newest reading that was kept and does not count; null when the newest counts.</param>
/// <param name="AgainAt">Number of the last event that asked for it again, a fix or a meter found out; 0 for none.</param>
/// <param name="ChangedAt">Number of the last event that concerned it; 0 for none.</param>
public sealed record StepStanding(StepState State, Happened? By, ImmutableArray<Happened> Open, Happened? Late, long AgainAt, long ChangedAt)
{
    /// <summary>Nothing has happened to it.</summary>
    public static StepStanding Fresh { get; } = new(StepState.NotTested, null, [], null, 0, 0);

    /// <summary>Keys of the photos taken at it, the oldest first.</summary>
    public ImmutableArray<Guid> Photos { get; init; } = [];

    /// <summary>Whether it needs a reading: not tested, or to be tested again after a fix.</summary>
    public bool IsDue => State is StepState.NotTested or StepState.Retest;

    /// <summary>The reading it stands by; null when it stands by something else.</summary>
    public ReadingTaken? Reading => By?.What as ReadingTaken;

    /// <summary>What a reading would count for here.</summary>
    /// <param name="reading">As it would be stored; of its own bearing only a doubt about the meter is looked at.</param>
    public Bearing BearingOf(Happened reading)
    {
        ArgumentNullException.ThrowIfNull(reading);
        var taken = Taken(reading);
        return taken.Bearing == Bearing.Doubtful ? Bearing.Doubtful
            : taken.Seen < AgainAt ? Bearing.BeforeFix
            : ReferenceEquals(After(reading).By, reading) ? Bearing.Stands
            : Bearing.Overtaken;
    }

    /// <summary>The step after a reading.</summary>
    /// <remarks>
    /// A person knows of what they had seen, and of what they did themselves before. A reading replaces what its person knew of; of readings
    /// whose people did not know of each other's the worst stands. So a failing reading is only replaced by somebody who knew that it fails; and one that
    /// failed while the loom was moved only by one that is moved again.
    /// </remarks>
    public StepStanding After(Happened reading)
    {
        ArgumentNullException.ThrowIfNull(reading);
        var taken = Taken(reading);
        var newerOfTheirs = Open.Any(o => o.By.Id == reading.By.Id && o.At > reading.At && o.Number > taken.Seen);
        if (taken.Bearing == Bearing.Doubtful || taken.Seen < AgainAt || newerOfTheirs)
        {
            return this with { Late = reading, ChangedAt = reading.Number };
        }

        ImmutableArray<Happened> open = [.. Open.Where(o => (o.By.Id != reading.By.Id && o.Number > taken.Seen) || (Taken(o).BrokeMoved && taken.Moved is null)), reading];
        var worst = open.OrderByDescending(o => Badness(Taken(o).Verdict)).ThenByDescending(o => o.Number).First();
        var state = Taken(worst).Verdict switch { Verdict.Pass => StepState.Pass, Verdict.Fail => StepState.Fail, _ => StepState.CantTell };
        return this with { State = state, By = worst, Open = open, Late = ReferenceEquals(worst, reading) ? null : reading, ChangedAt = reading.Number };
    }

    private static ReadingTaken Taken(Happened reading) => (ReadingTaken)reading.What;

    private static int Badness(Verdict verdict) => verdict switch { Verdict.Pass => 0, Verdict.CantTell => 1, _ => 2 };
}
