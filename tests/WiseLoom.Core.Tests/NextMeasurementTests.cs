using System.Collections.Immutable;
using CsCheck;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;

namespace WiseLoom.Core.Tests;

/// <summary>What is asked for next: something that was not taken, that hands can take, and that tells causes apart.</summary>
public sealed class NextMeasurementTests
{
    private static readonly Loom Launch = Looms.WorkLaunch;
    private static readonly TestPlan Plan = Bench.Plan(Launch, Isolation.Neighbours);
    private static readonly Diagnostician Diagnostician = new(Launch, Launch.AmbientC, CopperTolerance.Usual, FaultTally.None);

    private static List<Observation> Planned(SimulatedBench bench) =>
        [.. Plan.Steps.Where(s => s.Phase == StepPhase.Bare).Select(s => (Step: s, Probes: StepProbes.Of(Launch, Plan, s))).Select(x => Observation.Of(x.Step.Black, x.Step.Red, bench.Measure(x.Probes.Red, x.Probes.Black).Ohms))];

    private static (ProbePoint, string) Key(ProbePoint a, ImmutableArray<ProbePoint>? b) =>
        b is [var one] && one.CompareTo(a) < 0 ? (one, a.ToString()) : (a, b is { } far ? string.Join(' ', far.Order()) : "*");

    /// <summary>Played to the end with two hidden faults: no place twice, no cavity that is not there, and at most as many as a case may take.</summary>
    [Fact]
    public void No_measurement_is_asked_for_twice_and_each_is_of_cavities_that_there_are() => Gen.Int[1, 100_000].Sample(seed =>
    {
        var bench = new SimulatedBench(Launch, Plan.Meter, [.. new HiddenFaults(Launch, seed).Some(2)], seed);
        var readings = Planned(bench);
        var taken = readings.Select(o => Key(o.A[0], o.B)).ToHashSet();
        for (var extra = 0; extra < Trial.MostExtra && Diagnostician.Find(readings, Plan.Meter, TestContext.Current.CancellationToken).Next is { } next; extra++)
        {
            bench.Moved = next.Moved;
            ImmutableArray<ProbePoint> far = next.B ?? [.. Launch.ProbePoints().Where(p => p != next.A)];
            if ((!next.Moved && !taken.Add(Key(next.A, next.B))) || far.Append(next.A).Any(p => Launch.FindConnector(p.Connector)?.Family.Cavities.Contains(p.Cavity) != true) || next.B?.Contains(next.A) == true)
            {
                return false;
            }

            readings.Add(new([next.A], next.B, next.B is { } b ? bench.Measure(b, [next.A]).Ohms : null, next.Moved));
            bench.Moved = false;
        }

        return true;
    }, iter: 12);

    public static TheoryData<Measurement, string> Words => new()
    {
        { new(new("A", "1"), [new("B", "2")], false), "Measure A:1 to B:2." },
        { new(new("A", "1"), [new("B", "2")], true), "While the loom is moved, measure A:1 to B:2." },
        { new(new("A", "1"), null, false), "Measure A:1 to all other circuits, joined." },
        { new(new("A", "1"), [new("B", "2"), new("B", "3")], false), "Measure A:1 to B:2 and B:3, joined." },
        { new(new("A", "1"), [new("B", "2"), new("B", "3"), new("B", "4"), new("B", "5")], false), "Measure A:1 to B:2 and 3 more cavities, joined." },
    };

    [Theory]
    [MemberData(nameof(Words))]
    public void It_says_what_to_do(Measurement one, string words) => one.InWords().ShouldBe(words);

    [Fact]
    public void A_sound_loom_that_was_measured_whole_asks_for_nothing() =>
        Diagnostician.Find(Planned(new(Launch, Plan.Meter, [], 5)), Plan.Meter, TestContext.Current.CancellationToken).Next.ShouldBeNull();

    /// <summary>One of twenty legs of a splice may be touched: half of them joined come before each by itself.</summary>
    [Fact]
    public void A_leg_of_many_is_sought_by_halves()
    {
        var star = Looms.Of([.. Enumerable.Range(1, 16).Select(i => $"S1-C{(i + 1) / 2}:{2 - (i % 2)}@{600 + (97 * i)}"), "P:1-Q:1@1500"]);
        var plan = Bench.Plan(star, Isolation.Thorough);
        var bench = new SimulatedBench(star, plan.Meter, [new ShortFault("W9", "W17", 0.08) { AlongMm = [700, 800] }], 3);
        var readings = plan.Steps.Select(s => (Step: s, Probes: StepProbes.Of(star, plan, s))).Select(x => Observation.Of(x.Step.Black, x.Step.Red, bench.Measure(x.Probes.Red, x.Probes.Black).Ohms)).ToList();
        var next = new Diagnostician(star, 20, CopperTolerance.Usual, FaultTally.None).Find(readings, plan.Meter, TestContext.Current.CancellationToken).Next.ShouldNotBeNull();
        next.B!.Value.Length.ShouldBeGreaterThan(1);
        next.B!.Value.Select(p => p.Connector[0]).Distinct().ShouldBe(['C']);
    }
}
