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

    private static List<Observation> Planned(SimulatedBench bench) => Planned(Launch, Plan, bench);

    private static List<Observation> Planned(Loom loom, TestPlan plan, SimulatedBench bench) =>
        [.. plan.Steps.Where(s => s.Phase == StepPhase.Bare).Select(s => (Step: s, Probes: StepProbes.Of(loom, plan, s))).Select(x => Observation.Of(x.Step.Black, x.Step.Red, bench.Measure(x.Probes.Red, x.Probes.Black).Ohms))];

    private static (ProbePoint, string) Key(ProbePoint a, ImmutableArray<ProbePoint>? b) =>
        b is [var one] && one.CompareTo(a) < 0 ? (one, a.ToString()) : (a, b is { } far ? string.Join(' ', far.Order()) : "*");

    /// <summary>Played to the end with two hidden faults: nothing once it is sure; no place twice, unless it says so, and none three times; no cavity that is not there, and at most as many as a case may take.</summary>
    [Fact]
    public void No_measurement_is_asked_for_twice_without_saying_so_and_each_is_of_cavities_that_there_are() => Gen.Int[1, 100_000].Sample(seed =>
    {
        var bench = new SimulatedBench(Launch, Plan.Meter, [.. new HiddenFaults(Launch, seed).Some(2)], seed);
        var readings = Planned(bench);
        var (taken, again) = (readings.Select(o => Key(o.A[0], o.B)).ToHashSet(), new HashSet<(ProbePoint, string)>());
        for (var extra = 0; extra < Trial.MostExtra && Diagnostician.Find(readings, Plan.Meter, TestContext.Current.CancellationToken) is { Next: { } next } found; extra++)
        {
            if (found.IsSure || found.Ranking[0].Probability >= 0.95)
            {
                return false;
            }

            bench.Moved = next.Moved;
            ImmutableArray<ProbePoint> far = next.B ?? [.. Launch.ProbePoints().Where(p => p != next.A)];
            if ((!next.Moved && next.IsAgain == taken.Add(Key(next.A, next.B))) || (next.IsAgain && !again.Add(Key(next.A, next.B))) || far.Append(next.A).Any(p => Launch.FindConnector(p.Connector)?.Family.Cavities.Contains(p.Cavity) != true) || next.B?.Contains(next.A) == true)
            {
                return false;
            }

            readings.Add(new([next.A], next.B, next.B is { } b ? bench.Measure(b, [next.A]).Ohms : null, next.Moved));
            bench.Moved = false;
        }

        return true;
    }, iter: 12);

    /// <summary>Each contact that has an empty cavity to go to is as likely astray, however large its plug; beside its own sooner than elsewhere.</summary>
    [Fact]
    public void Every_contact_is_as_likely_astray()
    {
        var drawn = new DrawnLoom(Launch, Launch.AmbientC, CopperTolerance.Usual);
        var astray = new Suspects(drawn, Priors.Usual).Of([.. drawn.Graph.Nets.Select(n => n.Number)], [], [])
            .Select(s => (Fault: s.Faults[0] as MisplacedFault, Prior: Math.Exp(s.LogPrior))).Where(x => x.Fault is not null).ToLookup(x => (x.Fault!.Connector, x.Fault.From), x => x.Prior);
        astray.Count.ShouldBeGreaterThan(50);

        // Filled from the wrong face is what it is called too in a plug of two.
        foreach (var contact in astray.Where(c => Launch.FindConnector(c.Key.Connector)!.Family.Cavities.Length > 2))
        {
            contact.Sum().ShouldBe((1 - Priors.Usual.Nothing) * Priors.Usual.Misplaced / astray.Count, 1e-12);
        }
    }

    /// <summary>A circuit that ends nowhere is not called broken before the plug's empty cavities were asked for.</summary>
    [Fact]
    public void Only_an_empty_cavity_proves_a_contact_astray()
    {
        var (fan, plan, truth) = (Looms.FrostFan, Bench.Plan(Looms.FrostFan, Isolation.Neighbours), new MisplacedFault("DIAG", "B", "F"));
        var (bench, finds) = (new SimulatedBench(fan, plan.Meter, [truth], 1), new Diagnostician(fan, fan.AmbientC, CopperTolerance.Usual, FaultTally.None));
        var readings = Planned(fan, plan, bench);
        var before = finds.Find(readings, plan.Meter, TestContext.Current.CancellationToken);
        before.Ranking[0].Faults.ShouldBe([new OpenFault("W123")]);
        before.IsSure.ShouldBeFalse();
        var next = before.Next.ShouldNotBeNull();
        next.B!.Value.Append(next.A).ShouldContain(new ProbePoint("DIAG", "F"));
        readings.Add(new([next.A], next.B, bench.Measure(next.B.Value, [next.A]).Ohms, false));
        var after = finds.Find(readings, plan.Meter, TestContext.Current.CancellationToken);
        after.Ranking[0].Faults.ShouldBe([truth]);
        (after.IsSure, after.Next).ShouldBe((true, null));
    }

    public static TheoryData<Measurement, string> Words => new()
    {
        { new(new("A", "1"), [new("B", "2")], false), "Measure A:1 to B:2." },
        { new(new("A", "1"), [new("B", "2")], true), "While the loom is moved, measure A:1 to B:2." },
        { new(new("A", "1"), [new("B", "2")], false) { IsAgain = true }, "Measure A:1 to B:2 once more: what it read may have been the touch." },
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

    /// <summary>One reading by hand that is too high may be the touch, and nothing else can be measured on a wire by itself: the same once more. Then the second decides.</summary>
    [Theory]
    [InlineData(0.95, 1)]
    [InlineData(0.1, 0)]
    public void What_is_odd_alone_is_read_once_more(double secondOhm, int faults)
    {
        var wires = Looms.Of([.. Enumerable.Range(1, 20).Select(i => $"P{i}:1-Q{i}:1@{1000 + (31 * i)}")]);
        var hand = new Diagnostician(wires, 20, CopperTolerance.Usual, FaultTally.None);
        var readings = Enumerable.Range(1, 20).Select(i => Observation.Of(new($"P{i}", "1"), new($"Q{i}", "1"), i == 7 ? 0.95 : 0.1)).ToList();
        var first = hand.Find(readings, Meter.HandTwoWire, TestContext.Current.CancellationToken);
        first.Ranking[0].Probability.ShouldBeLessThan(Diagnostician.SureEnough);
        var next = first.Next.ShouldNotBeNull();
        (next.A, next.B!.Value.Single(), next.IsAgain).ShouldBe((new("P7", "1"), new("Q7", "1"), true));

        readings.Add(Observation.Of(next.A, next.B!.Value[0], secondOhm));
        var second = hand.Find(readings, Meter.HandTwoWire, TestContext.Current.CancellationToken);
        second.Ranking[0].Faults.Length.ShouldBe(faults);
        second.Next.ShouldBeNull();
    }

    /// <summary>Sixteen wires that meet in a splice, and one that passes them.</summary>
    private static Loom Star { get; } = Looms.Of([.. Enumerable.Range(1, 16).Select(i => $"S1-C{(i + 1) / 2}:{2 - (i % 2)}@{600 + (97 * i)}"), "P:1-Q:1@1500"]);

    /// <summary>One of sixteen legs of a splice may be touched: half of them joined come before each by itself, from that end of the other wire where a probe stands.</summary>
    [Theory]
    [InlineData("P")]
    [InlineData("Q")]
    public void A_leg_of_many_is_sought_by_halves(string end)
    {
        var plan = Bench.Plan(Star, Isolation.Thorough);
        var bench = new SimulatedBench(Star, plan.Meter, [new ShortFault("W9", "W17", 0.08) { AlongMm = [700, 800] }], 3);
        var hands = Hands.Usual with { Stand = new(new(end, "1"), null) };
        var next = new Diagnostician(Star, 20, CopperTolerance.Usual, FaultTally.None).Find(Planned(Star, plan, bench), [], plan.Meter, hands, TestContext.Current.CancellationToken).Next.ShouldNotBeNull();
        next.A.ShouldBe(new(end, "1"));
        next.B!.Value.Length.ShouldBeGreaterThan(1);
        next.B!.Value.Select(p => p.Connector[0]).Distinct().ShouldBe(['C']);
    }

    /// <summary>A poor joint adds to what is read through it, and makes no copper known elsewhere: the same measurement tells four bridges apart with it and without.</summary>
    [Fact]
    public void A_poor_joint_that_is_not_on_the_way_changes_nothing()
    {
        var drawn = new DrawnLoom(Star, 20, CopperTolerance.Usual);
        var next = new NextMeasurement(drawn, new Evidence(drawn, Meter.BenchFourWire, []), Hands.Usual, TestContext.Current.CancellationToken);
        Weighed Of(params ImmutableArray<Fault> faults) => new(faults, 0, 0, new Altered(drawn, faults, drawn.NetsOf(faults)));
        var bridges = Enumerable.Range(9, 4).Select(i => new ShortFault($"W{i}", "W17", 0.05 + (0.002 * i)) { AlongMm = [700 - (10 * i), 800] }).ToList();
        var (alone, beside) = (next.Of(bridges.ConvertAll(b => (Of(b), 0.25)), 0), next.Of(bridges.ConvertAll(b => (Of(b, new ResistiveFault("W1", 6, "to")), 0.25)), 0));
        beside.Measurement.ShouldNotBeNull().InWords().ShouldBe(alone.Measurement.ShouldNotBeNull().InWords());
        beside.Rate.ShouldBe(alone.Rate, 1e-9);
    }
}
