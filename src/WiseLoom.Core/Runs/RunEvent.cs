using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Serialization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Sightings;

namespace WiseLoom.Core.Runs;

/// <summary>Somebody of the shop.</summary>
/// <param name="Id">Of the account.</param>
/// <param name="Name">As people call them.</param>
public sealed record Hand(Guid Id, string Name);

/// <summary>Something that happened in a run, in the place it has for ever.</summary>
/// <param name="Number">1 for the first of the run; each next is one more. Given under the run's lock, so that a number says what was known.</param>
/// <param name="Key">Made by the client: the same key twice is the same event. Unique over all runs.</param>
/// <param name="At">When it was done, by the clock of whoever did it.</param>
public sealed record Happened(long Number, Guid Key, Hand By, DateTimeOffset At, RunEvent What);

/// <summary>What happened, as rows keep it. Rows are only added.</summary>
/// <remarks>Written as JSON with <c>kind</c> and the fields of the record.</remarks>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(ReadingTaken), "reading")]
[JsonDerivedType(typeof(StepSkipped), "skip")]
[JsonDerivedType(typeof(ProofCarried), "carried")]
[JsonDerivedType(typeof(FaultLogged), "fault")]
[JsonDerivedType(typeof(CauseNamed), "cause")]
[JsonDerivedType(typeof(FixMade), "fix")]
[JsonDerivedType(typeof(PackSigned), "signed")]
[JsonDerivedType(typeof(RunSetAside), "set-aside")]
[JsonDerivedType(typeof(MeterChecked), "check")]
[JsonDerivedType(typeof(GroupProven), "group")]
[JsonDerivedType(typeof(PhotoTaken), "photo")]
[JsonDerivedType(typeof(ProbeTaken), "probe")]
[JsonDerivedType(typeof(SightingTaken), "seen")]
[JsonDerivedType(typeof(PowerUpBegun), "power-up")]
[JsonDerivedType(typeof(CheckAnswered), "answer")]
[JsonDerivedType(typeof(StagePassed), "stage")]
[JsonDerivedType(typeof(CheckPhoto), "check-photo")]
[JsonDerivedType(typeof(HoldAccepted), "accept")]
public abstract record RunEvent
{
    /// <summary>What its client asked for, in a form that is the same when it is asked for again: one key stands for one such.</summary>
    public abstract string Fingerprint();
}

/// <summary>What a reading counts for.</summary>
public enum Bearing
{
    /// <summary>The step stands by it.</summary>
    Stands,

    /// <summary>It was taken before its person could know of a fix at this step: it is kept and shown, and proves nothing.</summary>
    BeforeFix,

    /// <summary>A reading that its person could not know of, or their own newer one, weighs more: it is kept and shown.</summary>
    Overtaken,

    /// <summary>The meter was not right when it was taken, or may not have been: it is kept and shown, and proves nothing.</summary>
    Doubtful,
}

/// <summary>A reading that was stored.</summary>
/// <param name="FromMeter">Taken by the instrument, not typed.</param>
/// <param name="Meter">Name of the meter, as it was then.</param>
/// <param name="Seen">Number of the last event that its person had seen when it was taken.</param>
public sealed record ReadingTaken(int Step, Reading Reading, Verdict Verdict, bool FromMeter, string Meter, long Seen, Bearing Bearing) : RunEvent
{
    /// <summary>Where it was taken, when not at this bench with the run's meter; null otherwise.</summary>
    public string? Elsewhere { get; init; }

    /// <summary>How the loom was moved meanwhile; null when it lay still.</summary>
    public Moved? Moved { get; init; }

    /// <summary>Whether it broke while it was moved: only a reading that is moved again, or a fix, is an answer to that.</summary>
    [JsonIgnore]
    public bool BrokeMoved => Moved is not null && Verdict == Verdict.Fail;

    /// <summary>Whether the run's own meter of resistance showed it.</summary>
    [JsonIgnore]
    public bool IsOfItsMeter => Elsewhere is null && Reading.Unit == ReadingUnit.Ohm;

    /// <inheritdoc/>
    public override string Fingerprint() => Of(Step, Reading.Value);

    /// <summary>Of a reading of a step.</summary>
    /// <param name="shown">In the step's unit; null for over range.</param>
    internal static string Of(int step, double? shown) => string.Create(CultureInfo.InvariantCulture, $"reading {step} {shown:R}");
}

/// <summary>A reading between any places, beside the plan: it tells causes apart, and proves no step.</summary>
/// <param name="A">Cavities that one probe touches, joined.</param>
/// <param name="B">Cavities that the other touches, joined; null for all other circuits, joined by the shorting plug.</param>
/// <param name="Ohm">What the meter showed, ohms; null for over range, or for a break while the loom was moved.</param>
/// <param name="Moved">Whether the loom was moved meanwhile.</param>
/// <param name="Seen">Number of the last event that its person had seen when it was taken.</param>
public sealed record ProbeTaken(ImmutableArray<ProbePoint> A, ImmutableArray<ProbePoint>? B, double? Ohm, bool Moved, bool FromMeter, string Meter, long Seen) : RunEvent
{
    /// <summary>What was measured and what it showed, in words.</summary>
    public string InWords() => $"{Side(A)} to {(B is { } b ? Side(b) : "all other circuits")}: {(Moved && Ohm is null ? "broke while moved" : new Reading(Ohm).InWords())}{(Moved && Ohm is not null ? " while moved" : "")}";

    private static string Side(ImmutableArray<ProbePoint> points) => points.Length <= 3 ? string.Join(" and ", points) : $"{points[0]} and {points.Length - 1} more";

    /// <inheritdoc/>
    public override string Fingerprint() => string.Create(CultureInfo.InvariantCulture, $"probe {string.Join(' ', A)} {(B is { } b ? string.Join(' ', b) : "*")} {Ohm:R} {Moved}");
}

/// <summary>Something that was seen beside resistances of the bare loom: it tells causes apart, and proves no step.</summary>
/// <param name="What">What was seen.</param>
/// <param name="AsDrawn">Whether the loom as drawn would show it.</param>
/// <param name="Seen">Number of the last event that its person had seen then.</param>
public sealed record SightingTaken(Sighting What, bool AsDrawn, long Seen) : RunEvent
{
    /// <inheritdoc/>
    public override string Fingerprint() => $"seen {What.Subject()} {What.InWords()}";
}

/// <summary>A photo of what a step looks at; its picture is kept under the event's key.</summary>
public sealed record PhotoTaken(int Step) : RunEvent
{
    /// <inheritdoc/>
    public override string Fingerprint() => string.Create(CultureInfo.InvariantCulture, $"photo {Step}");
}

/// <summary>A step that was left out.</summary>
/// <param name="Reason">The pack prints it.</param>
public sealed record StepSkipped(int Step, string Reason) : RunEvent
{
    /// <summary>Whether a lead decided it. What anybody else skips is a proposal where it is more than the shop lets pass.</summary>
    public bool ByLead { get; init; }

    /// <inheritdoc/>
    public override string Fingerprint() => $"skip {Step} {Reason}";
}

/// <summary>A step that an earlier revision's run has proven, and that the rework did not touch.</summary>
/// <param name="Words">Where and how it was proven, in words.</param>
public sealed record ProofCarried(int Step, long FromRun, int FromStep, string Words) : RunEvent
{
    /// <inheritdoc/>
    public override string Fingerprint() => $"carried {Step} {FromRun} {FromStep}";
}

/// <summary>A fault that was logged from a failing step.</summary>
/// <param name="Fault">Its number within the run, from 1.</param>
/// <param name="Words">What was seen.</param>
/// <param name="Step">The failing step; 0 for what no step of the plan shows.</param>
/// <param name="Reading">Key of the failing reading; null for what no step shows.</param>
/// <param name="Ranked">Causes as they were ranked at that moment.</param>
public sealed record FaultLogged(int Fault, int Step, string Words, Guid? Reading, ImmutableArray<Cause> Ranked) : RunEvent
{
    /// <summary>What was seen with power on, or of a part by itself, that is not as drawn: each is seen again, and right, before the fault is proven mended.</summary>
    public ImmutableArray<string> Sighted { get; init; } = [];

    /// <summary>Failed checks of the power-up that it was logged from: each is done again, and passes, before the fault is proven mended.</summary>
    public ImmutableArray<string> Checks { get; init; } = [];

    /// <summary>Cavities of the readings beside the plan that it was logged from: what a fix could have changed there is measured again.</summary>
    public ImmutableArray<string> Places { get; init; } = [];

    /// <inheritdoc/>
    public override string Fingerprint() => $"fault {Step} {Words}";
}

/// <summary>What a fault turned out to be; the last one said holds.</summary>
public sealed record CauseNamed(int Fault, CauseFound Cause) : RunEvent
{
    /// <inheritdoc/>
    public override string Fingerprint() => $"cause {Fault} {Cause.Words}";
}

/// <summary>A fix of a fault, and the steps it could have changed.</summary>
public sealed record FixMade(int Fault, FixDone Fix) : RunEvent
{
    /// <inheritdoc/>
    public override string Fingerprint() => $"fix {Fault} {Fix.Did} {string.Join(' ', Fix.Places)}";
}

/// <summary>A pack was signed over everything that came before.</summary>
/// <param name="Version">Of the job's packs.</param>
public sealed record PackSigned(int Version) : RunEvent
{
    /// <inheritdoc/>
    public override string Fingerprint() => $"signed {Version}";
}

/// <summary>The run's meter was held against something that is known.</summary>
/// <param name="Check">Which of the three.</param>
/// <param name="Reading">What it showed.</param>
/// <param name="LinkOhms">Value of the shop's known link at that time, ohms.</param>
/// <param name="Passed">Whether it was right.</param>
/// <param name="FromMeter">Taken by the instrument, not typed.</param>
/// <param name="Meter">Name of the meter, as it was then.</param>
public sealed record MeterChecked(CheckKind Check, Reading Reading, double LinkOhms, bool Passed, bool FromMeter, string Meter) : RunEvent
{
    /// <inheritdoc/>
    public override string Fingerprint() => string.Create(CultureInfo.InvariantCulture, $"check {Check} {Reading.Ohms:R}");
}

/// <summary>Steps against all other circuits that a fixture has proven together, by joining many circuits on either side.</summary>
/// <param name="Measurements">How many it took.</param>
/// <param name="Meter">Name of the meter, as it was then.</param>
public sealed record GroupProven(ImmutableArray<int> Steps, int Measurements, string Meter) : RunEvent
{
    /// <inheritdoc/>
    public override string Fingerprint() => $"group {string.Join(' ', Steps)}";

    /// <summary>How the steps were proven, in words.</summary>
    public string InWords() => string.Create(CultureInfo.InvariantCulture, $"apart from all other circuits, by {Measurements} readings of groups with {Meter}");

    /// <summary>Equal when every field is.</summary>
    public bool Equals(GroupProven? other) => other is not null && Measurements == other.Measurements && Meter == other.Meter && Steps.SequenceEqual(other.Steps);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Measurements, Meter, Steps.Length);
}

/// <summary>Another run took this one's place; nothing comes after it.</summary>
public sealed record RunSetAside : RunEvent
{
    /// <inheritdoc/>
    public override string Fingerprint() => "set aside";
}

/// <summary>A lead lets something pass that stands against release, or somebody proposes it.</summary>
/// <param name="On">Which hold, as <see cref="Hold.On"/> names it.</param>
/// <param name="Steps">Which of its steps; empty for a hold that is not about steps.</param>
/// <param name="Reason">The pack prints it.</param>
/// <param name="What">What was let pass, in words, as it stood then.</param>
/// <param name="ByLead">Whether a lead decided; else it is a proposal and changes nothing.</param>
/// <param name="Seen">Number of the last event that its person had seen: what came later is not let pass.</param>
public sealed record HoldAccepted(string On, ImmutableArray<int> Steps, string Reason, string What, bool ByLead, long Seen) : RunEvent
{
    /// <inheritdoc/>
    public override string Fingerprint() => $"accept {On} {string.Join(' ', Steps)} {Reason}";

    /// <summary>Equal when every field is.</summary>
    public bool Equals(HoldAccepted? other) =>
        other is not null && (On, Reason, What, ByLead, Seen) == (other.On, other.Reason, other.What, other.ByLead, other.Seen) && Steps.SequenceEqual(other.Steps);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(On, Reason, What, ByLead, Seen, Steps.Length);
}
