using System.Collections.Immutable;
using CsCheck;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;

namespace WiseLoom.Core.Tests;

/// <summary>A ranking that goes on from the one before it, against the one that weighs all anew.</summary>
public sealed class GoingOnTests
{
    private static readonly Loom Launch = Looms.WorkLaunch;
    private static readonly TestPlan Plan = Bench.Plan(Launch, Isolation.Thorough, Meter.BenchFourWire);
    private static readonly Diagnostician Engine = new(Launch, Launch.AmbientC, CopperTolerance.Usual, FaultTally.None);

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static Diagnosed Anew(IReadOnlyList<Observation> readings) => Engine.Find(readings, Plan.Meter, Cancel);

    private static Diagnosed On(Diagnosed? before, IReadOnlyList<Observation> readings) => Engine.FindOn(before, readings, Plan.Meter, Hands.After(readings), Cancel);

    /// <summary>All that is said.</summary>
    private static string Said(Diagnosed found) =>
        string.Join('\n', found.Ranking.Select(r => $"{r.Probability:R} {string.Join(" and ", r.Faults)} {r.Alike.Length} {r.Sentence}").Append($"{found.Next}").Concat(found.Doubts).Concat(found.Unseeable));

    private static Observation Read(SimulatedBench bench, Measurement next)
    {
        bench.Moved = next.Moved;
        var seen = new Observation([next.A], next.B, bench.Measure(next.B ?? StepProbes.Against(Launch, next.A), [next.A]).Ohms, next.Moved);
        bench.Moved = false;
        return seen;
    }

    private static (SimulatedBench Bench, List<Observation> Readings) Planned(int seed, int faults)
    {
        var bench = new SimulatedBench(Launch, Plan.Meter, [.. new HiddenFaults(Launch, seed).Some(faults)], seed);
        return (bench, [.. Plan.Steps.Select(s => (Step: s, Probes: StepProbes.Of(Launch, Plan, s))).Select(x => Observation.Of(x.Step.Black, x.Step.Red, bench.Measure(x.Probes.Red, x.Probes.Black).Ohms))]);
    }

    /// <summary>Each step of cases played to the end, with what was found before it.</summary>
    private static IEnumerable<(Diagnosed Before, List<Observation> Readings, Diagnosed Now)> Played(int seed)
    {
        var (bench, readings) = Planned(seed, 2);
        var found = On(null, readings);
        for (var extra = 0; extra < Trial.MostExtra && found.Next is { } next; extra++)
        {
            readings = [.. readings, Read(bench, next)];
            var now = On(found, readings);
            yield return (found, readings, now);
            found = now;
        }
    }

    /// <summary>A case that asks for more than one further reading, and goes on at the first.</summary>
    private static (Diagnosed Before, List<Observation> Readings, Diagnosed Now) WentOn => Enumerable.Range(1, 200).SelectMany(Played).First(s => s.Now.SoFar!.Times > 0);

    /// <summary>Whoever mends something does so by a ranking that left nothing out.</summary>
    [Fact]
    public void What_is_told_at_the_end_is_what_all_weighed_anew_says() => Gen.Int[1, 100_000].Sample(
        seed => Played(seed).All(s => s.Now.Next is not null || Said(s.Now) == Said(Anew(s.Readings))), iter: 15);

    /// <summary>On the way too, what it is sure of hardly differs: the likeliest of the one is among the likely of the other.</summary>
    [Fact]
    public void On_the_way_the_same_causes_lead() => Gen.Int[1, 100_000].Sample(
        seed =>
        {
            foreach (var (_, readings, now) in Played(seed).Where(s => s.Now.SoFar!.Times > 0))
            {
                var (anew, first) = (Anew(readings), string.Join('|', now.Ranking[0].Faults.Select(FaultKeys.Of).Order()));
                if (!anew.Ranking.Any(r => r.Alike.Prepend(r.Faults).Any(f => string.Join('|', f.Select(FaultKeys.Of).Order()) == first)))
                {
                    return false;
                }
            }

            return true;
        },
        iter: 15);

    [Fact]
    public void It_goes_on_at_most_three_times_and_then_weighs_all_anew()
    {
        var steps = Enumerable.Range(1, 400).Select(s => Played(s).ToList()).First(s => s.Count > 4 && s.Take(3).All(x => x.Now.SoFar!.Times > 0));
        steps.Take(3).Select(s => s.Now.SoFar!.Times).ShouldBe([1, 2, 3]);
        steps[3].Now.SoFar!.Times.ShouldBe(0);
        Said(steps[3].Now).ShouldBe(Said(Anew(steps[3].Readings)));
    }

    /// <summary>What was found before belongs to its own readings, meter and loom.</summary>
    [Fact]
    public void Other_readings_are_not_gone_on_from()
    {
        var (before, readings, now) = WentOn;
        now.SoFar!.Times.ShouldBePositive();
        List<Observation>[] others =
        [
            [.. readings.SkipLast(1)],
            [.. readings, readings[^1] with { A = [new("INJ1", "1")], B = [new("INJ2", "1")], Ohm = null }],
            [readings[0] with { Ohm = (readings[0].Ohm ?? 1) + 0.0001 }, .. readings.Skip(1)],
            [readings[1], readings[0], .. readings.Skip(2)],
            [readings[0] with { Moved = true, Ohm = 0.01 }, .. readings.Skip(1)],
        ];
        foreach (var other in others)
        {
            Said(On(before, other)).ShouldBe(Said(Anew(other)));
        }

        var hands = Hands.After(readings);
        Said(Engine.FindOn(before, readings, Meter.HandTwoWire, hands, Cancel)).ShouldBe(Said(Engine.Find(readings, Meter.HandTwoWire, Cancel)));
        var warm = new Diagnostician(Launch, Launch.AmbientC + 20, CopperTolerance.Usual, FaultTally.None);
        Said(warm.FindOn(before, readings, Plan.Meter, hands, Cancel)).ShouldBe(Said(warm.Find(readings, Plan.Meter, Cancel)));
    }

    /// <summary>The same readings in objects of their own are the same readings: a line of a stream, a run that was read back.</summary>
    [Fact]
    public void Readings_that_came_another_way_are_gone_on_from()
    {
        var (before, readings, now) = WentOn;
        Said(On(before, [.. readings.Select(r => r with { A = [.. r.A], B = r.B is { } b ? [.. b] : null })])).ShouldBe(Said(now));
    }

    [Fact]
    public void A_reading_that_contradicts_another_is_said_so_as_ever()
    {
        var (before, readings, _) = WentOn;
        var one = readings.First(r => r is { B: not null, Ohm: < 1 });
        List<Observation> more = [.. readings.SkipLast(1), one with { Ohm = null }];
        On(before, more).Doubts.ShouldHaveSingleItem().ShouldContain("measure it once more");
    }

    [Fact]
    public void A_reading_of_no_cavity_is_an_error_as_ever()
    {
        var (before, readings, _) = WentOn;
        Should.Throw<ArgumentException>(() => On(before, [.. readings.SkipLast(1), Observation.Of(new("NOWHERE", "1"), null, null)])).Message.ShouldContain("NOWHERE:1");
        Should.Throw<ArgumentException>(() => On(before, [.. readings.SkipLast(1), new([], null, null, false)]));
    }

    /// <summary>What the likeliest does not explain is looked into anew.</summary>
    [Fact]
    public void A_reading_that_nothing_left_explains_is_weighed_anew()
    {
        var (before, readings, _) = WentOn;
        var sound = readings.First(r => r is { A: [var a], B: [_], Ohm: < 1 } && !before.Ranking.Any(f => f.Faults.SelectMany(x => x.Places(Launch)).Any(p => p == a.ToString())));
        List<Observation> more = [.. readings.SkipLast(1), Observation.Of(sound.B!.Value[0], new("INJ1", "1"), 0.2)];
        Said(On(before, more)).ShouldBe(Said(Anew(more)));
    }

    [Fact]
    public void Several_may_go_on_from_one_at_once()
    {
        var (before, readings, now) = WentOn;
        var said = new string[8];
        Parallel.For(0, said.Length, new ParallelOptions { CancellationToken = Cancel }, i => said[i] = Said(On(before, readings)));
        said.ShouldAllBe(s => s == Said(now));
    }

    [Fact]
    public void Who_hangs_up_is_not_answered()
    {
        var (before, readings, now) = WentOn;
        using var hung = CancellationTokenSource.CreateLinkedTokenSource(Cancel);
        hung.Cancel();
        Should.Throw<OperationCanceledException>(() => Engine.FindOn(before, readings, Plan.Meter, Hands.After(readings), hung.Token));
        Said(On(before, readings)).ShouldBe(Said(now));
    }

    /// <summary>Evidence with one more reading says of any supposition what evidence of all of them says.</summary>
    [Fact]
    public void One_more_reading_is_as_good_as_all_at_once() => Gen.Int[1, 100_000].Sample(
        seed =>
        {
            var drawn = new DrawnLoom(Launch, Launch.AmbientC, CopperTolerance.Usual).Leaning(null);
            var readings = Planned(seed, 1).Readings;
            var random = new Random(seed);
            var more = Observation.Of(readings[random.Next(readings.Count)].A[0], readings[random.Next(readings.Count)].A[0], random.Next(2) == 0 ? null : 0.1);
            var (on, whole) = (new Evidence(new Evidence(drawn, Plan.Meter, readings), more), new Evidence(drawn, Plan.Meter, [.. readings, more]));
            ImmutableArray<Fault> supposed = [.. new HiddenFaults(Launch, seed + 1).Some(2)];
            var metal = new Altered(drawn, supposed, drawn.NetsOf(supposed));
            return on.Gain(metal, []).Equals(whole.Gain(metal, [])) && on.Unexplained(null).SequenceEqual(whole.Unexplained(null)) && on.Denied(metal) == whole.Denied(metal)
                && more.A.All(p => on.At(p) == whole.At(p)) && new Evidence(drawn, Plan.Meter, readings).At(more.A[0]) == on.At(more.A[0]) - 1;
        },
        iter: 40);
}
