using System.Collections.Immutable;
using WiseLoom.Core.Electrical;

namespace WiseLoom.Core.Planning;

/// <summary>Where a step stands.</summary>
public enum StepState
{
    /// <summary>No reading yet.</summary>
    NotTested,

    Pass,

    Fail,

    CantTell,

    /// <summary>Left out, with a reason.</summary>
    Skipped,

    /// <summary>A fix touched it after its last reading.</summary>
    Retest,
}

/// <summary>Something that happened in a run, numbered in the order in which it was stored.</summary>
/// <param name="Order">Rises with each event of the run.</param>
public abstract record RunEvent(long Order);

/// <summary>A reading that was stored.</summary>
public sealed record ReadingTaken(long Order, int Step, Reading Reading, Verdict Verdict) : RunEvent(Order);

/// <summary>A step that was left out.</summary>
public sealed record StepSkipped(long Order, int Step, string Reason) : RunEvent(Order);

/// <summary>A fix, and the steps it could have changed.</summary>
public sealed record FixMade(long Order, int Fault, ImmutableArray<int> Retests) : RunEvent(Order);

/// <summary>A step that an earlier revision's run has proven, and that the rework did not touch.</summary>
/// <param name="Words">Where and how it was proven, in words.</param>
public sealed record ProofCarried(long Order, int Step, string Words) : RunEvent(Order);

/// <summary>The state of every step of a run, worked out from its events.</summary>
public sealed class RunState
{
    private readonly Dictionary<int, StepState> states;
    private readonly Dictionary<int, RunEvent> latest = [];

    private RunState(TestPlan plan, IEnumerable<RunEvent> events)
    {
        Plan = plan;
        states = plan.Steps.ToDictionary(s => s.Number, _ => StepState.NotTested);
        foreach (var happened in events.OrderBy(e => e.Order))
        {
            Apply(happened);
        }
    }

    public TestPlan Plan { get; }

    /// <summary>Works out the state.</summary>
    /// <param name="events">In any order; those that name a step the plan does not have are passed over.</param>
    public static RunState Of(TestPlan plan, IEnumerable<RunEvent> events) => new(plan, events);

    public StepState this[int step] => states[step];

    /// <summary>The last reading or skip of a step; null when there is none.</summary>
    public RunEvent? Latest(int step) => latest.GetValueOrDefault(step);

    /// <summary>How many steps stand in a state.</summary>
    public int Count(StepState state) => states.Values.Count(s => s == state);

    /// <summary>Steps that need a reading: not tested, or to be tested again after a fix.</summary>
    public IEnumerable<PlanStep> Due => Plan.Steps.Where(s => states[s.Number] is StepState.NotTested or StepState.Retest);

    /// <summary>How many steps have been dealt with.</summary>
    public int Done => Plan.Steps.Length - Due.Count();

    /// <summary>How far a connector's own steps have come: the state that most needs a hand.</summary>
    /// <param name="connector">Its ref.</param>
    /// <returns>Not tested when no step of the plan touches it.</returns>
    public StepState StateOf(string connector)
    {
        var own = Plan.Steps.Where(s => s.Black.Connector == connector || s.Red?.Connector == connector).Select(s => states[s.Number]).ToHashSet();
        StepState[] order = [StepState.Fail, StepState.Retest, StepState.NotTested, StepState.CantTell, StepState.Pass, StepState.Skipped];
        return order.FirstOrDefault(own.Contains, StepState.NotTested);
    }

    /// <summary>Planned seconds for all that is still to do.</summary>
    public double SecondsLeft => Due.Sum(s => s.Seconds);

    /// <summary>The step to go to from one: the next retest, else the next step without a reading after it, else the first such.</summary>
    /// <returns>Null when every step has been dealt with.</returns>
    public PlanStep? After(int step) =>
        Due.OrderBy(s => states[s.Number] == StepState.Retest ? 0 : 1).ThenBy(s => s.Number > step ? 0 : 1).ThenBy(s => s.Number).FirstOrDefault();

    /// <summary>Whether a fault's last fix has been proven: each of its retests has passed since.</summary>
    public bool Proves(FixMade fix) => fix.Retests.All(s =>
        states.TryGetValue(s, out var state) && state == StepState.Pass && latest[s].Order > fix.Order);

    private void Apply(RunEvent happened)
    {
        switch (happened)
        {
            case ReadingTaken taken when states.ContainsKey(taken.Step):
                states[taken.Step] = taken.Verdict switch
                {
                    Verdict.Pass => StepState.Pass,
                    Verdict.Fail => StepState.Fail,
                    _ => StepState.CantTell,
                };
                latest[taken.Step] = taken;
                break;
            case StepSkipped skipped when states.ContainsKey(skipped.Step):
                states[skipped.Step] = StepState.Skipped;
                latest[skipped.Step] = skipped;
                break;
            case ProofCarried carried when states.ContainsKey(carried.Step):
                states[carried.Step] = StepState.Pass;
                latest[carried.Step] = carried;
                break;
            case FixMade fix:
                foreach (var step in fix.Retests.Where(states.ContainsKey))
                {
                    states[step] = StepState.Retest;
                }

                break;
        }
    }
}
