using System.Collections.Immutable;
using WiseLoom.Core.Electrical;

namespace WiseLoom.Core.Runs;

/// <content>What each event does to a run.</content>
public sealed partial class BenchRun
{
    /// <summary>The run after one more event.</summary>
    /// <exception cref="InvalidOperationException">The event does not follow the last one: something is missing between them.</exception>
    public BenchRun After(Happened happened)
    {
        ArgumentNullException.ThrowIfNull(happened);
        if (happened.Number != LastEvent + 1)
        {
            throw new InvalidOperationException($"Event {happened.Number} does not follow event {LastEvent}.");
        }

        var change = new Change(this, happened);
        switch (happened.What)
        {
            case ReadingTaken taken when Plan.Step(taken.Step) is not null:
                change.Read(taken);
                break;
            case StepSkipped skipped when Plan.Step(skipped.Step) is not null && this[skipped.Step].State != StepState.Fail:
                change.Stand(skipped.Step, StepState.Skipped);
                change.SkipsUndecided = skipped.ByLead ? SkipsUndecided.Remove(skipped.Step) : SkipsUndecided.Add(skipped.Step);
                break;
            case ProofCarried carried when Plan.Step(carried.Step) is not null:
                change.Stand(carried.Step, StepState.Pass);
                break;
            case PhotoTaken photo when Plan.Step(photo.Step) is not null:
                change.Keep(photo.Step);
                break;
            case GroupProven proven:
                change.Prove(proven);
                break;
            case FaultLogged logged:
                change.Faults = Renumbered(logged.Fault).Add(new(logged.Fault, logged.Step, logged.Words, logged.Ranked, happened.By.Name, happened.At)
                {
                    Sighted = logged.Sighted,
                    Checks = logged.Checks,
                    Places = logged.Places,
                    ShownBy = logged.Step == 0 ? [] : [logged.Step],
                    LoggedNumber = happened.Number,
                });
                change.IsTrouble = true;
                break;
            case CauseNamed named:
                change.Faults = With(named.Fault, f => f with { Cause = named.Cause });
                break;
            case FixMade made:
                change.Faults = With(made.Fault, f => f with { Fix = made.Fix, FixedAt = happened.Number, FixedBy = happened.By.Name, Accepted = null });
                change.Again(made.Fix.Retests);
                change.PowerUp = PowerUp?.Again(Loom, made.Fix, Fault(made.Fault)?.Checks ?? [], happened.Number);
                change.Probes = [];
                change.Sightings = [];
                change.IsTrouble = true;
                break;
            case ProbeTaken probe:
                change.Probe(probe);
                break;
            case SightingTaken seen when seen.Seen >= Mended:
                change.Sightings = Sightings.RemoveAll(s => ((SightingTaken)s.What).What.Subject() == seen.What.Subject()).Add(happened);
                break;
            case MeterChecked:
                change.Check();
                break;
            case PowerUpBegun begun:
                change.PowerUp = PowerUp?.With(begun.Terms, happened) ?? new(begun.Terms, ImmutableDictionary<string, PowerUpStanding>.Empty, ImmutableSortedDictionary<int, Happened>.Empty, happened);
                break;
            case CheckAnswered answer:
                change.PowerUp = PowerUp?.After(happened, answer);
                change.IsTrouble = !answer.Passed;
                break;
            case StagePassed pass:
                change.PowerUp = PowerUp?.After(happened, pass);
                break;
            case CheckPhoto photo:
                change.PowerUp = PowerUp?.Kept(photo.Check, happened.Key);
                break;
            case HoldAccepted { ByLead: false }:
                change.Proposed = Proposed.Add(happened);
                break;
            case HoldAccepted accepted:
                change.Accept(accepted);
                break;
        }

        return new(this, happened, change);
    }

    /// <summary>The run after several events, in their order.</summary>
    public BenchRun After(IEnumerable<Happened> happened)
    {
        ArgumentNullException.ThrowIfNull(happened);
        return happened.Aggregate(this, (run, next) => run.After(next));
    }

    private ImmutableList<LoggedFault> With(int fault, Func<LoggedFault, LoggedFault> change)
    {
        var at = Faults.FindIndex(f => f.Number == fault);
        return at < 0 ? Faults : Faults.SetItem(at, change(Faults[at]));
    }

    /// <summary>The faults with a number free: an earlier run's fault that has it gets the next one.</summary>
    private ImmutableList<LoggedFault> Renumbered(int number) => With(number, f => f with { Number = Faults.Count + 1 });

    /// <summary>The moving parts of a run while one event is laid over it.</summary>
    private sealed class Change(BenchRun run, Happened happened)
    {
        internal ImmutableList<StepStanding> Steps { get; private set; } = run.steps;

        internal ImmutableSortedSet<int> Retests { get; private set; } = run.retests;

        internal int[] Counts { get; } = [.. run.counts];

        internal double SecondsLeft { get; private set; } = run.SecondsLeft;

        internal ImmutableList<LoggedFault>? Faults { get; set; }

        internal ImmutableList<Happened>? Probes { get; set; }

        internal ImmutableList<Happened>? Sightings { get; set; }

        internal PowerUpRecord? PowerUp { get; set; }

        internal ImmutableList<Happened>? Proposed { get; set; }

        internal ImmutableSortedSet<int> SkipsUndecided { get; set; } = run.SkipsUndecided;

        internal ImmutableDictionary<string, Happened>? Accepted { get; private set; }

        internal ImmutableDictionary<int, Happened>? AcceptedSteps { get; private set; }

        internal MeterCare Care { get; private set; } = run.Care;

        internal bool IsTrouble { get; set; }

        internal void Read(ReadingTaken taken)
        {
            var after = run[taken.Step].After(happened);
            Put(taken.Step, after);
            IsTrouble = after.State == StepState.Fail;
            if (taken.IsOfItsMeter)
            {
                Care = Care.AfterReading();
            }
        }

        /// <summary>A meter that was found out makes all doubtful that stands by it since it was last right.</summary>
        internal void Check()
        {
            Care = Care.After(happened, out var doubtFrom);
            if (doubtFrom is { } from)
            {
                Probes = run.Probes.RemoveAll(p => p.Number > from);
                Again(run.Plan.Steps.Select(s => s.Number).Where(s => run[s].By is { What: GroupProven } group && group.Number > from ? run[s].State == StepState.Pass : run[s].Open.Any(o => o.Number > from && ((ReadingTaken)o.What).IsOfItsMeter)));
            }
        }

        /// <summary>A lead's decision: on steps, on a fault, or on a hold as a whole. It answers what was proposed.</summary>
        internal void Accept(HoldAccepted accepted)
        {
            var steps = accepted.Steps.IsEmpty ? ReleaseGate.StepsOf(run, accepted.On) : accepted.Steps;
            AcceptedSteps = run.AcceptedSteps.SetItems(steps.Where(s => run.Plan.Step(s) is not null).Select(s => KeyValuePair.Create(s, happened)));
            Accepted = run.Accepted.SetItem(accepted.On, happened);
            Proposed = run.Proposed.RemoveAll(p => ((HoldAccepted)p.What).On == accepted.On);
            Faults = run.Faults.Find(f => ReleaseGate.OnFault(f.Number) == accepted.On) is { } fault ? run.Faults.Replace(fault, fault with { Accepted = happened }) : null;
            SkipsUndecided = accepted.On == ReleaseGate.OnSkips ? [] : SkipsUndecided;
        }

        internal void Probe(ProbeTaken probe)
        {
            if (probe.Seen >= run.Mended && !Care.Doubts(probe.Seen))
            {
                Probes = run.Probes.Add(happened);
            }

            Care = Care.AfterReading();
        }

        internal void Keep(int step) => Put(step, run[step] with { Photos = run[step].Photos.Add(happened.Key), ChangedAt = happened.Number });

        internal void Prove(GroupProven proven)
        {
            foreach (var step in proven.Steps.Where(s => run.Plan.Step(s) is not null && run[s].IsDue).Distinct())
            {
                Stand(step, StepState.Pass);
            }

            Care = Care.AfterReading();
        }

        internal void Stand(int step, StepState state) => Put(step, run[step] with { State = state, By = happened, Open = [], Late = null, ChangedAt = happened.Number });

        internal void Again(IEnumerable<int> steps)
        {
            foreach (var step in steps.Where(s => run.Plan.Step(s) is not null).Distinct())
            {
                Put(step, run[step] with { State = StepState.Retest, Open = [], Late = null, AgainAt = happened.Number, ChangedAt = happened.Number });
            }
        }

        private void Put(int step, StepStanding now)
        {
            var before = run[step];
            Counts[(int)before.State]--;
            Counts[(int)now.State]++;
            if (before.IsDue != now.IsDue)
            {
                SecondsLeft += (now.IsDue ? 1 : -1) * run.Plan.Steps[step - 1].Seconds;
            }

            Retests = now.State == StepState.Retest ? Retests.Add(step) : Retests.Remove(step);
            SkipsUndecided = now.State == StepState.Skipped ? SkipsUndecided : SkipsUndecided.Remove(step);
            Steps = Steps.SetItem(step - 1, now);
        }
    }
}
