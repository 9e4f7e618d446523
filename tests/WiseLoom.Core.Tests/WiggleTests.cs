using CsCheck;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Tests;

/// <summary>A step that is read while the loom is moved.</summary>
public sealed class WiggleTests
{
    private static readonly Loom Loom = Looms.Of("A:1-B:1", "A:2-B:2", "A:3-B:3");

    private readonly Bench bench = new(Loom, Bench.Sorted(Bench.Plan(Loom, Isolation.Neighbours)));

    private BenchRun Run => bench.Run;

    private static TimeSpan Ms(double ms) => TimeSpan.FromMilliseconds(ms);

    private static Verdict JoinedBelowOne(Reading r) => r.Ohms < 1 ? Verdict.Pass : Verdict.Fail;

    [Fact]
    public void A_trace_tells_least_greatest_breaks_and_the_shortest_break_it_could_not_have_missed()
    {
        var trace = new WiggleTrace(JoinedBelowOne);
        foreach (var (at, ohms) in new (double, double?)[] { (0, 0.1), (4, 0.2), (9, null), (12, null), (14, 0.1), (20, 30), (22, 0.05) })
        {
            trace.Take(Ms(at), new(ohms));
        }

        (trace.MinOhms, trace.Max!.Value.IsOverRange, trace.Breaks, trace.Samples, trace.IsBroken).ShouldBe((0.05, true, 2, 7, false));
        (trace.ShortestBreak, trace.Sees).ShouldBe((Ms(2), Ms(6)));
    }

    [Fact]
    public void Breaks_are_the_stretches_that_fail_however_long_each_is() => Gen.Bool.List[0, 60].Sample(fails =>
    {
        var trace = new WiggleTrace(JoinedBelowOne);
        foreach (var (bad, i) in fails.Select((f, i) => (f, i)))
        {
            trace.Take(Ms(i), new(bad ? 5 : 0.1));
        }

        return trace.Breaks == fails.Where((f, i) => f && (i == 0 || !fails[i - 1])).Count() && trace.IsBroken == (fails.Count > 0 && fails[^1])
            && trace.Max?.Ohms == (fails.Count == 0 ? null : fails.Contains(true) ? 5 : 0.1);
    });

    [Fact]
    public void What_broke_while_it_was_moved_is_not_answered_by_a_reading_at_rest()
    {
        Move(1, null, breaks: 2);
        Run[1].State.ShouldBe(StepState.Fail);
        bench.Read(1, Verdict.Pass);
        Run[1].State.ShouldBe(StepState.Fail);
        ((ReadingTaken)Run[1].Late!.What).Bearing.ShouldBe(Bearing.Overtaken);
        Diagnosis.RunObservations.Of(Run).ShouldHaveSingleItem().Seen.ShouldSatisfyAllConditions(o => o.Moved.ShouldBeTrue(), o => o.Ohm.ShouldBeNull());

        Move(1, Bench.Showing(Run.Plan, 1, Verdict.Pass), breaks: 0);
        Run[1].State.ShouldBe(StepState.Pass);
    }

    [Fact]
    public void A_fix_is_an_answer_and_then_a_reading_at_rest_counts()
    {
        Move(1, null, breaks: 1);
        bench.Log(1);
        bench.Fix(1, "A:1");
        bench.Read(1, Verdict.Pass);
        Run[1].State.ShouldBe(StepState.Pass);
    }

    [Theory]
    [InlineData(-1, 0, 0)]
    [InlineData(601, 0, 0)]
    [InlineData(1, -1, 0)]
    [InlineData(1, 0, double.NaN)]
    public void A_movement_that_cannot_be_is_refused(double seconds, int breaks, double sees) =>
        bench.Take(new(Guid.NewGuid(), 1, 0.07, true, "m", Bench.Start, 0) { Moved = new(seconds, breaks, sees, "A:1") }).ShouldBeOfType<Decision.Wrong>().At.ShouldBe("/moved");

    [Fact]
    public void The_record_says_how_it_was_moved()
    {
        Move(1, null, breaks: 2);
        bench.Record()[0].Readings[0].Moved!.InWords().ShouldBe("moved for 8.5 s: 2 breaks, hand at A:1; breaks longer than 4 ms would have shown");
    }

    [Fact]
    public void The_practice_loom_opens_where_it_is_loose_only_while_it_is_flexed()
    {
        var practice = new SimulatedBench(Loom, Meter.BenchFourWire, [new IntermittentFault("W2", "to")], 4);
        int Open(int wire) => Enumerable.Range(0, 200).Count(_ => practice.Measure([new("A", $"{wire}")], [new("B", $"{wire}")]).IsOverRange);
        Open(2).ShouldBe(0);
        practice.Moved = true;
        Open(2).ShouldBeInRange(5, 80);
        Open(1).ShouldBe(0);
        practice.Repair("B:2").ShouldBe(1);
        Open(2).ShouldBe(0);
    }

    private void Move(int step, double? ohms, int breaks) =>
        bench.Take(new(Guid.NewGuid(), step, ohms, true, "m", Bench.Start.AddSeconds(bench.Events.Count), Run.LastEvent) { Moved = new(8.5, breaks, 0.004, "A:1") }).ShouldBeOfType<Decision.Accepted>();
}
