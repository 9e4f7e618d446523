using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Sightings;

namespace WiseLoom.Core.Runs;

/// <summary>A run at the bench as it stands after its events: what is proven, what fails, what may be released. It is a value: each event
/// gives the next one and costs the same in a run of ten thousand as in a run of ten.</summary>
/// <remarks>Everybody who changes a run (HTTP, the demo, a program) asks one of these for a <see cref="Decision"/>, stores the event under the
/// number after <see cref="LastEvent"/>, and goes on with <see cref="After(Happened)"/>. Nobody else decides.</remarks>
public sealed partial class BenchRun
{
    private readonly ImmutableList<StepStanding> steps;
    private readonly ImmutableSortedSet<int> retests;
    private readonly ImmutableArray<int> counts;
    private readonly ImmutableDictionary<Guid, KeyUse> keys;

    private BenchRun(Loom loom, TestPlan plan)
    {
        Loom = loom;
        Plan = plan;
        steps = [.. plan.Steps.Select(_ => StepStanding.Fresh)];
        retests = [];
        counts = [.. Enum.GetValues<StepState>().Select(s => s == StepState.NotTested ? plan.Steps.Length : 0)];
        keys = ImmutableDictionary<Guid, KeyUse>.Empty;
        Faults = [];
        Probes = [];
        Sightings = [];
        Care = MeterCare.Fresh;
        SecondsLeft = plan.Seconds;
    }

    private BenchRun(BenchRun before, Happened happened, Change change)
    {
        (Loom, Plan) = (before.Loom, before.Plan);
        (steps, retests, counts, SecondsLeft) = (change.Steps, change.Retests, [.. change.Counts], change.SecondsLeft);
        Faults = change.Faults ?? before.Faults;
        Probes = change.Probes ?? before.Probes;
        Sightings = change.Sightings ?? before.Sightings;
        PowerUp = change.PowerUp ?? before.PowerUp;
        Mended = happened.What is FixMade ? happened.Number : before.Mended;
        Care = change.Care;
        keys = before.keys.SetItem(happened.Key, new(happened.Number, happened.What.Fingerprint()));
        LastEvent = happened.Number;
        Trouble = change.IsTrouble ? happened.Number : before.Trouble;
        Signed = happened.What is PackSigned ? happened : before.Signed;
        SetAside = happened.What is RunSetAside ? happened : before.SetAside;
    }

    /// <summary>The loom on the bench.</summary>
    public Loom Loom { get; }

    /// <summary>The plan it was started with.</summary>
    public TestPlan Plan { get; }

    /// <summary>Number of the last event; 0 before the first.</summary>
    public long LastEvent { get; }

    /// <summary>Faults in the order in which they were logged.</summary>
    public ImmutableList<LoggedFault> Faults { get; }

    /// <summary>Readings beside the plan that still count, the oldest first: a fix, or a meter that was found out, sets them aside.</summary>
    public ImmutableList<Happened> Probes { get; }

    /// <summary>What was seen besides and still counts, the oldest first; of two of the same the later one. A fix sets all aside.</summary>
    public ImmutableList<Happened> Sightings { get; }

    /// <summary>Number of the last fix; 0 for none.</summary>
    public long Mended { get; }

    /// <summary>Whether its meter can be believed.</summary>
    public MeterCare Care { get; }

    /// <summary>Number of the last event that made a step fail, logged a fault or mended one; 0 for none.</summary>
    public long Trouble { get; }

    /// <summary>The last signature; null before the first.</summary>
    public Happened? Signed { get; }

    /// <summary>Who put another run in its place; null while it is the current one.</summary>
    public Happened? SetAside { get; }

    /// <summary>Planned seconds for all that is still to do.</summary>
    public double SecondsLeft { get; }

    /// <summary>How many steps have been dealt with.</summary>
    public int Done => Plan.Steps.Length - Count(StepState.NotTested) - Count(StepState.Retest);

    /// <summary>What stands against release; empty when nothing does.</summary>
    public ImmutableArray<Hold> Holds => ReleaseGate.Holds(this);

    /// <summary>Where a step stands.</summary>
    /// <param name="step">Its number, 1 to the number of steps.</param>
    public StepStanding this[int step] => steps[step - 1];

    /// <summary>A run before its first event.</summary>
    public static BenchRun Begin(Loom loom, TestPlan plan)
    {
        ArgumentNullException.ThrowIfNull(loom);
        ArgumentNullException.ThrowIfNull(plan);
        return new(loom, plan);
    }

    /// <summary>How many steps stand in a state.</summary>
    public int Count(StepState state) => counts[(int)state];

    /// <summary>The run in a few numbers.</summary>
    public RunSummary Summary() => new(
        Plan.Steps.Length,
        Done,
        Count(StepState.NotTested),
        Count(StepState.Fail),
        Count(StepState.Retest),
        Faults.Count(f => StateOf(f) != FaultState.Proven) + (SeenAndNotLogged.IsEmpty ? 0 : 1),
        Trouble,
        (Signed?.What as PackSigned)?.Version,
        Signed?.Number ?? 0,
        Care.IsOut || Care.IsSuspect,
        PowerUp?.Against ?? 0);

    /// <summary>What was seen that is not as drawn and belongs to no fault in the log.</summary>
    public ImmutableArray<Sighting> SeenAndNotLogged =>
        [.. Sightings.Select(s => (SightingTaken)s.What).Where(s => !s.AsDrawn && !Faults.Exists(f => f.Sighted.Contains(s.What.Subject()))).Select(s => s.What)];

    private bool IsRightSince(string subject, long since) => Sightings.Exists(s => s.Number > since && s.What is SightingTaken { AsDrawn: true } seen && seen.What.Subject() == subject);

    /// <summary>Where a fault stands. It is proven when each retest of its last fix has passed since, what was seen with power on was seen again and was right, and the checks it was logged from have passed.</summary>
    public FaultState StateOf(LoggedFault fault)
    {
        ArgumentNullException.ThrowIfNull(fault);
        return fault.Fix is { } fix
            ? fix.Retests.All(s => Plan.Step(s) is not null && this[s] is { State: StepState.Pass, By: { } by } && by.Number > fault.FixedAt) && fault.Sighted.All(s => IsRightSince(s, fault.FixedAt)) && fault.Checks.All(c => IsPassedSince(c, fault.FixedAt)) ? FaultState.Proven : FaultState.Fixed
            : fault.Cause is null ? FaultState.Open : FaultState.CauseKnown;
    }

    /// <summary>The step to go to from one: the next retest, else the next step without a reading after it, else the first such.</summary>
    /// <returns>Null when every step has been dealt with.</returns>
    public PlanStep? Next(int step)
    {
        if (!retests.IsEmpty)
        {
            var after = retests.IndexOf(step + 1) is var place and >= 0 ? place : ~retests.IndexOf(step + 1);
            return Plan.Steps[retests[after < retests.Count ? after : 0] - 1];
        }

        if (Count(StepState.NotTested) == 0)
        {
            return null;
        }

        var all = Plan.Steps.Length;
        return Enumerable.Range(0, all).Select(i => Plan.Steps[(step + i) % all]).FirstOrDefault(s => this[s.Number].IsDue);
    }

    /// <summary>How far each connector's own steps have come: the state that most needs a hand.</summary>
    /// <returns>By ref; not tested where no step of the plan touches it.</returns>
    public IReadOnlyDictionary<string, StepState> Connectors()
    {
        var marks = Loom.Connectors.ToDictionary(c => c.Ref, _ => StepState.NotTested, StringComparer.Ordinal);
        var touched = new HashSet<string>(StringComparer.Ordinal);
        void Mark(string connector, StepState state)
        {
            if (touched.Add(connector) || Urgency(state) < Urgency(marks[connector]))
            {
                marks[connector] = state;
            }
        }

        foreach (var step in Plan.Steps)
        {
            var state = this[step.Number].State;
            Mark(step.Black.Connector, state);
            if (step.Red is { } red)
            {
                Mark(red.Connector, state);
            }
        }

        return marks;
    }

    private static int Urgency(StepState state) => state switch
    {
        StepState.Fail => 0,
        StepState.Retest => 1,
        StepState.NotTested => 2,
        StepState.CantTell => 3,
        StepState.Pass => 4,
        _ => 5,
    };

    /// <summary>What a key was used for.</summary>
    private readonly record struct KeyUse(long Number, string Fingerprint);
}
