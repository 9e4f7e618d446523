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
    private readonly Lazy<ImmutableHashSet<int>> feedsAndGrounds;

    private BenchRun(Loom loom, TestPlan plan, Inheritance inherited, bool meterWasOut)
    {
        Loom = loom;
        Plan = plan;
        steps = [.. plan.Steps.Select(_ => StepStanding.Fresh)];
        retests = [];
        counts = [.. Enum.GetValues<StepState>().Select(s => s == StepState.NotTested ? plan.Steps.Length : 0)];
        keys = ImmutableDictionary<Guid, KeyUse>.Empty;
        Inherited = inherited;
        Faults = [.. inherited.Faults.Select((f, i) => Inheritance.Carried(f, i + 1, loom, plan))];
        EarlierFailures = [.. inherited.Failures.Select(f => new EarlierStanding(f, f.Step is { } step ? Inheritance.Same(loom, plan, step) : []))];
        Probes = [];
        Sightings = [];
        Proposed = [];
        SkipsUndecided = [];
        Accepted = ImmutableDictionary<string, Happened>.Empty;
        AcceptedSteps = ImmutableDictionary<int, Happened>.Empty;
        Care = MeterCare.Fresh with { WasOut = meterWasOut };
        SecondsLeft = plan.Seconds;
        feedsAndGrounds = new(() => StepsOfFeedsAndGrounds(loom, plan));
    }

    private BenchRun(BenchRun before, Happened happened, Change change)
    {
        (Loom, Plan, Inherited, EarlierFailures, feedsAndGrounds) = (before.Loom, before.Plan, before.Inherited, before.EarlierFailures, before.feedsAndGrounds);
        (steps, retests, counts, SecondsLeft) = (change.Steps, change.Retests, [.. change.Counts], change.SecondsLeft);
        Faults = change.Faults ?? before.Faults;
        Probes = change.Probes ?? before.Probes;
        Sightings = change.Sightings ?? before.Sightings;
        PowerUp = change.PowerUp ?? before.PowerUp;
        Proposed = change.Proposed ?? before.Proposed;
        SkipsUndecided = change.SkipsUndecided;
        Accepted = change.Accepted ?? before.Accepted;
        AcceptedSteps = change.AcceptedSteps ?? before.AcceptedSteps;
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

    /// <summary>What the runs that were set aside before left to this one.</summary>
    public Inheritance Inherited { get; }

    /// <summary>What failed in those runs, each with the steps that make it good here.</summary>
    public ImmutableArray<EarlierStanding> EarlierFailures { get; }

    /// <summary>The lead's last decision on each hold that is not about steps, by <see cref="Hold.On"/>.</summary>
    public ImmutableDictionary<string, Happened> Accepted { get; }

    /// <summary>The lead's last decision to let a step pass that fails or was not measured again, by its number.</summary>
    public ImmutableDictionary<int, Happened> AcceptedSteps { get; }

    /// <summary>What technicians propose to let pass and no lead has decided since.</summary>
    public ImmutableList<Happened> Proposed { get; }

    /// <summary>Steps that somebody skipped who is no lead, and that no lead has decided on.</summary>
    public ImmutableSortedSet<int> SkipsUndecided { get; }

    /// <summary>Numbers of the steps that measure at a feed or a ground.</summary>
    public ImmutableHashSet<int> FeedsAndGrounds => feedsAndGrounds.Value;

    /// <summary>Faults in the order in which they were logged; those of earlier runs first.</summary>
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
    /// <param name="inherited">What the runs that were set aside before leave to it; null for a loom's first run.</param>
    /// <param name="meter">Number of its shop meter; 0 when it is none of the shop's.</param>
    public static BenchRun Begin(Loom loom, TestPlan plan, Inheritance? inherited = null, long meter = 0)
    {
        ArgumentNullException.ThrowIfNull(loom);
        ArgumentNullException.ThrowIfNull(plan);
        return new(loom, plan, inherited ?? Inheritance.None, inherited?.MetersOut.Contains(meter) == true);
    }

    /// <summary>How many steps stand in a state.</summary>
    public int Count(StepState state) => counts[(int)state];

    /// <summary>The run in a few numbers.</summary>
    public RunSummary Summary() => new(
        Plan.Steps.Length,
        Done,
        Count(StepState.NotTested),
        Count(StepState.Fail) - LetPass(StepState.Fail),
        Count(StepState.Retest) - LetPass(StepState.Retest),
        Faults.Count(f => f.Accepted is null && StateOf(f) != FaultState.Proven) + (SeenAndNotLogged.IsEmpty ? 0 : 1),
        Trouble,
        (Signed?.What as PackSigned)?.Version,
        Signed?.Number ?? 0,
        Care.IsOut || Care.IsSuspect,
        (PowerUp?.Against ?? 0) + (ReleaseGate.School(this) is { Decision: null } ? 1 : 0))
    {
        Undecided = ReleaseGate.ForTheLead(this).Count(h => h.Decision is null),
    };

    /// <summary>What was seen that is not as drawn and belongs to no fault in the log.</summary>
    public ImmutableArray<Sighting> SeenAndNotLogged =>
        [.. Sightings.Select(s => (SightingTaken)s.What).Where(s => !s.AsDrawn && !Faults.Exists(f => f.Sighted.Contains(s.What.Subject()))).Select(s => s.What)];

    private bool IsRightSince(string subject, long since) => Sightings.Exists(s => s.Number > since && s.What is SightingTaken { AsDrawn: true } seen && seen.What.Subject() == subject);

    /// <summary>Where a fault stands. It is proven when each retest of its last fix has passed since, what was seen with power on was seen again and was right, and the checks it was logged from have passed.</summary>
    public FaultState StateOf(LoggedFault fault)
    {
        ArgumentNullException.ThrowIfNull(fault);
        return fault.Fix is { } fix ? IsProven(fault, fix) ? FaultState.Proven : FaultState.Fixed
            : fault.Cause is null ? FaultState.Open : FaultState.CauseKnown;
    }

    /// <summary>Whether a lead let a failing step, or one that must be measured again, pass as it stands.</summary>
    public bool IsLetPass(int step) =>
        AcceptedSteps.TryGetValue(step, out var accepted) && accepted.Number > (this[step].By?.Number ?? 0) && accepted.Number > this[step].AgainAt;

    /// <summary>Whether an earlier failure has passed in this run: every step, or the same check, measured here.</summary>
    public bool IsMadeGood(EarlierStanding earlier)
    {
        ArgumentNullException.ThrowIfNull(earlier);
        return earlier.Failure.Check is { } check
            ? PowerUp is { } record && record.Find(check.Id)?.Fingerprint == check.Fingerprint && record[check.Id].State == CheckState.Passed
            : !earlier.Steps.IsEmpty && earlier.Steps.All(s => IsPassedHere(s, 0));
    }

    /// <summary>The failing step of the run in which an earlier run's fault was logged; null when no step showed it.</summary>
    internal PlanStep? StepOfEarlier(LoggedFault fault) => Inherited.Faults.FirstOrDefault(f => f.Fault.From == fault.From && fault.From is not null)?.Step;

    private int LetPass(StepState state) => AcceptedSteps.Keys.Count(s => this[s].State == state && IsLetPass(s));

    /// <summary>Whether a fix is proven. What nothing measures again is never proven, and a corrected drawing is proven by the run on the new revision.</summary>
    private bool IsProven(LoggedFault fault, FixDone fix) =>
        !(fix.Did == FixWork.DrawingCorrected && fault.FixedAt > 0)
        && !(fix.Retests.IsEmpty && fault.Sighted.IsEmpty && fault.Checks.IsEmpty)
        && !(fault.IsOutOfPlan && fix.Did != FixWork.DrawingCorrected)
        && fix.Retests.All(s => IsPassedHere(s, fault.FixedAt))
        && fault.Sighted.All(s => IsRightSince(s, fault.FixedAt))
        && fault.Checks.All(c => IsPassedSince(c, fault.FixedAt));

    /// <summary>Whether a step passes by something measured in this run after an event.</summary>
    private bool IsPassedHere(int step, long since) =>
        Plan.Step(step) is not null && this[step] is { State: StepState.Pass, By: { What: not ProofCarried } by } && by.Number > since;

    private static ImmutableHashSet<int> StepsOfFeedsAndGrounds(Loom loom, TestPlan plan)
    {
        var graph = WireGraph.Topology(loom);
        var nets = loom.Wires.Where(w => w.Role is WireRole.Feed or WireRole.Ground).Select(w => graph.NumberOf(w.From.Text)).OfType<int>().ToHashSet();
        bool IsIn(ProbePoint point) => graph.NetOf(point) is { } net && nets.Contains(net.Number);
        return [.. plan.Steps.Where(s => s.IsProbed && (IsIn(s.Black) || (s.Red is { } red && IsIn(red)))).Select(s => s.Number)];
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
