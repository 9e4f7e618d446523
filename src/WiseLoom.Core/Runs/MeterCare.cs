using System.Collections.Immutable;
using WiseLoom.Core.Electrical;

namespace WiseLoom.Core.Runs;

/// <summary>Where one kind of check stands.</summary>
/// <param name="GoodAt">Number of the event by which it was last right; 0 for never in this run.</param>
/// <param name="Since">Readings with the run's meter after that.</param>
/// <param name="Suspect">Whether the last try failed, and only that one.</param>
/// <param name="Last">The last try; null before the first.</param>
public sealed record CheckStanding(long GoodAt, int Since, bool Suspect, Happened? Last)
{
    /// <summary>Not done in this run.</summary>
    public static CheckStanding Fresh { get; } = new(0, 0, false, null);
}

/// <summary>Whether the run's meter can be believed: a value that follows the run's events.</summary>
/// <remarks>
/// Each kind of check is asked for before the first reading, after every <see cref="Every"/> readings, and after the last. One that fails may be a bad touch: it is
/// asked for again, and one that fails twice running is a meter that has drifted. All readings with it since that kind of check was last right are then doubtful, as is
/// whatever is read with it before all three kinds have been right again, or without knowing of the drift.
/// </remarks>
/// <param name="DriftedAt">Number of the event by which the meter was last found out; 0 for never.</param>
public sealed record MeterCare(ImmutableArray<CheckStanding> Checks, long DriftedAt)
{
    /// <summary>Readings after which the meter is checked again.</summary>
    public const int Every = 50;

    /// <summary>Nothing checked, nothing read.</summary>
    public static MeterCare Fresh { get; } = new([.. MeterCheck.All.Select(_ => CheckStanding.Fresh)], 0);

    /// <summary>Where a kind of check stands.</summary>
    public CheckStanding this[CheckKind kind] => Checks[(int)kind];

    /// <summary>Whether the meter was found out in an earlier run of this loom, and was not right again there.</summary>
    public bool WasOut { get; init; }

    /// <summary>Whether the meter was found out and has not been right in all kinds since.</summary>
    public bool IsOut => (DriftedAt > 0 && Checks.Any(c => c.GoodAt < DriftedAt)) || (WasOut && Checks.Any(c => c.GoodAt == 0));

    /// <summary>Whether a check has failed once, and has to be repeated before anything can be said.</summary>
    public bool IsSuspect => Checks.Any(c => c.Suspect);

    /// <summary>Readings since the meter was last right in all kinds.</summary>
    public int Since => Checks.Max(c => c.Since);

    /// <summary>Which checks are asked for now.</summary>
    /// <param name="isOver">Whether nothing is left to measure: then the closing checks are.</param>
    public ImmutableArray<CheckKind> Due(bool isOver) =>
        [.. MeterCheck.All.Where(k => this[k] is var c && (c.GoodAt == 0 || c.GoodAt < DriftedAt || c.Suspect || c.Since >= Every || (isOver && c.Since > 0)))];

    /// <summary>Whether a reading with the meter proves nothing.</summary>
    /// <param name="seen">Number of the last event that its person had seen.</param>
    public bool Doubts(long seen) => IsOut || seen < DriftedAt;

    /// <summary>After a reading with the run's meter.</summary>
    public MeterCare AfterReading() => this with { Checks = [.. Checks.Select(c => c with { Since = c.Since + 1 })] };

    /// <summary>After a check.</summary>
    /// <param name="happened">A <see cref="MeterChecked"/>.</param>
    /// <param name="doubtFrom">Number of the event since which readings with the meter are doubtful because of it; null when none are.</param>
    public MeterCare After(Happened happened, out long? doubtFrom)
    {
        ArgumentNullException.ThrowIfNull(happened);
        var check = (MeterChecked)happened.What;
        var before = this[check.Check];
        var drifts = !check.Passed && before.Suspect;
        doubtFrom = drifts ? before.GoodAt : null;
        return this with
        {
            DriftedAt = drifts ? happened.Number : DriftedAt,
            Checks = Checks.SetItem((int)check.Check, check.Passed ? new(happened.Number, 0, false, happened) : before with { Suspect = !drifts, Last = happened }),
        };
    }
}
