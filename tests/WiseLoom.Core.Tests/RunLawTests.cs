using System.Text.Json;
using CsCheck;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Tests;

/// <summary>Laws of a run under two people and a network that repeats, delays and re-orders what they send.</summary>
public sealed class RunLawTests
{
    private static readonly Loom Loom = Looms.Of("A:1-B:1", "A:2-B:2", "A:3-B:3");

    private static readonly TestPlan Plan = Bench.Plan(Loom, Isolation.Neighbours);

    private static readonly Gen<Act> Acts = Gen.Select(Gen.Int[0, 14], Gen.Bool, Gen.Int[1, 5], Gen.Int[0, 2], (what, other, step, verdict) => new Act(what, other, step, (Verdict)verdict));

    /// <summary>What somebody does next: look at the page, take a reading that waits in the browser, send one of those that wait (and keep it), send all and let go, or work on faults.</summary>
    private sealed record Act(int What, bool Other, int Step, Verdict Verdict);

    private sealed class Person(Hand hand)
    {
        internal Hand Hand { get; } = hand;

        internal long Seen { get; set; }

        internal List<NewReading> Waiting { get; } = [];
    }

    private sealed record Played(Bench Bench, List<(NewReading Reading, Hand By)> Taken);

    [Fact]
    public void Every_reading_that_was_sent_is_there_once_under_its_own_name() => Acts.List[0, 60].Sample(acts =>
    {
        var played = Play(acts);
        var stored = played.Bench.Events.Where(e => e.What is ReadingTaken).ToDictionary(e => e.Key);
        return played.Taken.TrueForAll(t => stored.TryGetValue(t.Reading.Key, out var e) && e.By == t.By && ((ReadingTaken)e.What).Step == t.Reading.Step) && stored.Count == played.Taken.Count;
    });

    [Fact]
    public void Numbers_have_no_gaps_and_replaying_the_events_gives_the_same_run() => Acts.List[0, 60].Sample(acts =>
    {
        var bench = Play(acts).Bench;
        var again = BenchRun.Begin(Loom, Plan).After(bench.Events);
        return bench.Events.Select(e => e.Number).SequenceEqual(Enumerable.Range(1, bench.Events.Count).Select(n => (long)n)) && Same(again, bench.Run);
    });

    [Fact]
    public void Events_survive_being_written_and_read() => Acts.List[0, 40].Sample(acts =>
    {
        var bench = Play(acts).Bench;
        var read = bench.Events.Select(e => e with { What = JsonSerializer.Deserialize<RunEvent>(JsonSerializer.Serialize(e.What, CoreJson.Options), CoreJson.Options)! });
        return Same(BenchRun.Begin(Loom, Plan).After(read), bench.Run);
    });

    [Fact]
    public void The_counts_are_those_of_the_steps() => Acts.List[0, 60].Sample(acts =>
    {
        var run = Play(acts).Bench.Run;
        var due = Plan.Steps.Where(s => run[s.Number].IsDue).ToList();
        return Enum.GetValues<StepState>().All(state => run.Count(state) == Plan.Steps.Count(s => run[s.Number].State == state))
            && Math.Abs(run.SecondsLeft - due.Sum(s => s.Seconds)) < 1e-9 && run.Summary().IsClear == run.Holds.IsEmpty
            && (run.Next(2) is { } next ? run[next.Number].IsDue : due.Count == 0);
    });

    /// <summary>The gate's law: a step that passes passes by a reading after every fix of it, and no failing reading is hidden by somebody who could not know of it.</summary>
    [Fact]
    public void A_passing_step_was_passed_by_somebody_who_knew_of_each_fix_and_each_failure() => Acts.List[0, 80].Sample(acts =>
    {
        var bench = Play(acts).Bench;
        return Plan.Steps.Where(s => bench.Run[s.Number] is { State: StepState.Pass }).All(s =>
        {
            var by = bench.Run[s.Number].By!;
            var pass = (ReadingTaken)by.What;
            var fixes = bench.Events.Where(e => e.What is FixMade made && made.Fix.Retests.Contains(s.Number)).Select(e => e.Number);
            var after = bench.Run[s.Number].AgainAt;
            return fixes.All(n => pass.Seen >= n) && bench.Events.Where(e => e.Number > after && e.What is ReadingTaken { Verdict: Verdict.Fail, Bearing: not Bearing.Doubtful } failed && failed.Step == s.Number && failed.Seen >= after).All(failed =>
                bench.Events.Any(e => e.What is ReadingTaken { Verdict: not Verdict.Fail } later && later.Step == s.Number
                    && (later.Seen >= failed.Number || (e.By.Id == failed.By.Id && e.At >= failed.At))));
        });
    });

    [Fact]
    public void No_step_stands_by_a_reading_between_a_meters_last_good_check_and_the_one_that_found_it_out() => Acts.List[0, 80].Sample(acts =>
    {
        var bench = Play(acts).Bench;
        var suspect = new HashSet<CheckKind>();
        var good = MeterCheck.All.ToDictionary(k => k, _ => 0L);
        var doubtful = new List<(long From, long To)>();
        foreach (var e in bench.Events.Where(e => e.What is MeterChecked))
        {
            var check = (MeterChecked)e.What;
            if (check.Passed)
            {
                good[check.Check] = e.Number;
                suspect.Remove(check.Check);
            }
            else if (!suspect.Add(check.Check))
            {
                doubtful.Add((good[check.Check], e.Number));
                suspect.Remove(check.Check);
            }
        }

        return Plan.Steps.All(s => bench.Run[s.Number] is not { State: StepState.Pass or StepState.Fail or StepState.CantTell, Reading: not null, By.Number: var by } || doubtful.TrueForAll(d => by <= d.From || by > d.To))
            && bench.Run.Care.DriftedAt == doubtful.Select(d => d.To).DefaultIfEmpty(0).Max();
    });

    [Fact]
    public void A_fault_is_proven_only_by_readings_that_knew_of_its_fix() => Acts.List[0, 80].Sample(acts =>
    {
        var run = Play(acts).Bench.Run;
        return run.Faults.Where(f => run.StateOf(f) == FaultState.Proven).All(f =>
            f.Fix!.Retests.All(step => run[step].By is { What: ReadingTaken taken } by && taken.Verdict == Verdict.Pass && taken.Seen >= f.FixedAt && by.Number > f.FixedAt));
    });

    [Fact]
    public void Sending_everything_once_more_changes_nothing() => Acts.List[0, 60].Sample(acts =>
    {
        var (bench, taken) = Play(acts);
        var before = bench.Run;
        taken.ForEach(t => bench.Take(t.Reading, t.By));
        return ReferenceEquals(before, bench.Run);
    });

    private static Played Play(List<Act> acts)
    {
        var bench = new Bench(Loom, Plan);
        Person[] people = [new(Bench.Mira), new(Bench.Tomas)];
        var (taken, clock) = (new List<(NewReading, Hand)>(), Bench.Start);
        foreach (var act in acts)
        {
            var person = people[act.Other ? 1 : 0];
            clock = clock.AddSeconds(1);
            switch (act.What)
            {
                case <= 1:
                    person.Seen = bench.Run.LastEvent;
                    break;
                case <= 5:
                    person.Waiting.Add(new(Guid.NewGuid(), act.Step, Bench.Showing(Plan, act.Step, act.Verdict), true, "m", clock, person.Seen));
                    break;
                case 6 when person.Waiting.Count > 0:
                    // The answer is lost, so it stays and is sent again later; the oldest is not always first.
                    Send(person.Waiting[act.Step % person.Waiting.Count], person);
                    break;
                case <= 8:
                    person.Waiting.ForEach(r => Send(r, person));
                    person.Waiting.Clear();
                    break;
                case >= 12:
                    bench.Check((CheckKind)(act.Step % 3), act.Verdict == Verdict.Pass);
                    break;
                case 9:
                    bench.Log(act.Step);
                    break;
                default:
                    bench.Fix(act.Step, $"A:{(act.Step % 3) + 1}");
                    break;
            }
        }

        return new(bench, taken);

        void Send(NewReading reading, Person by)
        {
            if (bench.Take(reading, by.Hand) is Decision.Accepted)
            {
                taken.Add((reading, by.Hand));
            }
        }
    }

    private static bool Same(BenchRun a, BenchRun b) =>
        a.LastEvent == b.LastEvent && a.Summary() == b.Summary() && Plan.Steps.All(s => a[s.Number].State == b[s.Number].State && a[s.Number].By?.Key == b[s.Number].By?.Key);
}
