using System.Collections.Immutable;
using System.Text.Json;
using CsCheck;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Planning.Steps;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Practice;

namespace WiseLoom.Core.Tests;

/// <summary>Tests under load: what a drop says, when the plan asks for them, and what becomes of their readings.</summary>
public sealed class LoadTestTests
{
    private static readonly LoadInHand Lamp = LoadInHand.Lamp(21, 12.6);

    private static readonly Gen<LoadTest> Tests = Gen.Select(Gen.Double[0.005, 0.5], Gen.Double[0.6, 0.95], Gen.Double[1.05, 1.6], Gen.OneOfConst(Lamp, LoadInHand.Lamp(5, 12.6), LoadInHand.Resistor(6.8)))
        .Select((ohm, least, most, load) => LoadTest.Of(new(ohm * least, ohm, ohm * most), 12.6, load));

    [Fact]
    public void A_test_is_as_worked_out_by_hand()
    {
        // A lamp of 21 W at 12.6 V has 7.56 Ω; with 25 mΩ before it 12.6 / 7.585 = 1.6612 A flow, and 35 mΩ drop 12.6 · 0.035 / 7.595 = 58.06 mV.
        var test = LoadTest.Of(new(0.020, 0.025, 0.035), 12.6, Lamp);

        Lamp.Ohms.ShouldBe(7.56, 1e-12);
        test.Amps.ShouldBe(1.6612, 5e-5);
        test.MostDropVolts.ShouldBe(0.05806, 5e-6);
        Say.Drop(test.MostDropVolts).ShouldBe("58.1 mV");
        test.Worth().ShouldContain("proves nothing about a joint");
        test.Setup(P("A:1"), P("B:1")).ShouldContain("fused, to A:1; 21 W lamp from B:1 back: 1.66 A");
    }

    [Fact]
    public void A_drop_and_the_resistance_that_makes_it_belong_together() => Gen.Select(Tests, Gen.Double[0, 50]).Sample((test, ohms) =>
    {
        test.OhmsOf(test.DropAt(ohms))!.Value.ShouldBe(ohms, 1e-9 * (1 + ohms));
        test.OhmsOf(-test.DropAt(ohms)).ShouldBe(test.OhmsOf(test.DropAt(ohms)));
        test.DropAt(ohms + 0.01).ShouldBeGreaterThan(test.DropAt(ohms));
    });

    [Fact]
    public void What_is_surely_noticed_fails_with_the_load_and_the_meter_at_their_worst() =>
        Gen.Select(Tests, Gen.Double[1.001, 3], Gen.Double[-1, 1], Gen.Double[-1, 1]).Sample((test, more, current, meter) =>
        {
            var pair = Pair(test);
            var truth = pair.Nominal + (test.NoticedOhms!.Value * more);
            // The load draws more or less than its name says; the meter adds its share of the reading and three steps.
            var drop = test.DropAt(truth) * (1 + (current * test.Load.Share * 0.9));
            var shown = (drop * (1 + (0.005 * meter))) + (0.0003 * meter);
            Judgement.Of(new Reading(test.OhmsOf(shown)), new(pair.Min, pair.Max), test.AsMeter()).ShouldBe(Verdict.Fail);
        });

    [Fact]
    public void A_pair_as_drawn_is_never_failed() => Gen.Select(Tests, Gen.Double[0, 1], Gen.Double[-1, 1]).Sample((test, place, off) =>
    {
        var pair = Pair(test);
        var drop = test.DropAt(pair.Min + (place * (pair.Max - pair.Min))) * (1 + (off * test.Load.Share * 0.9));
        Judgement.Of(new Reading(test.OhmsOf(drop)), new(pair.Min, pair.Max), test.AsMeter()).ShouldNotBe(Verdict.Fail);
    });

    [Theory]
    [InlineData(0.0, Verdict.Fail, "0 mV")] // Nothing flows: the lamp is not lit.
    [InlineData(0.045, Verdict.Pass, "45.0 mV")]
    [InlineData(0.4, Verdict.Fail, "400 mV")]
    [InlineData(12.6, Verdict.Fail, "12.6 V")] // Nothing joins the pair.
    [InlineData(-12.55, Verdict.Fail, "-12.6 V")]
    public void Drops_are_judged_and_said_in_the_unit_that_the_meter_shows(double volts, Verdict verdict, string said)
    {
        var test = LoadTest.Of(new(0.020, 0.027, 0.035), 12.6, Lamp);
        Judgement.Of(new Reading(test.OhmsOf(volts)), new(0.020, 0.035), test.AsMeter()).ShouldBe(verdict);
        new Reading(volts, ReadingUnit.Volt).InWords().ShouldBe(said);
    }

    [Theory]
    [InlineData(0, 12.6)]
    [InlineData(1.9, 12.6)]
    [InlineData(101, 12.6)]
    [InlineData(double.NaN, 12.6)]
    [InlineData(21, 0)]
    [InlineData(21, -12.6)]
    public void A_lamp_that_no_bench_has_is_refused(double watts, double volts) => Should.Throw<ArgumentOutOfRangeException>(() => LoadInHand.Lamp(watts, volts));

    [Theory]
    [InlineData(0)]
    [InlineData(0.99)]
    [InlineData(1001)]
    [InlineData(double.NaN)]
    public void A_resistor_that_no_bench_has_is_refused(double ohms) => Should.Throw<ArgumentOutOfRangeException>(() => LoadInHand.Resistor(ohms));

    [Fact]
    public void The_plan_tests_feeds_and_grounds_under_load_where_the_meter_would_miss_a_poor_joint()
    {
        var plan = Plan(Meter.HandTwoWire, Lamp);
        var under = plan.Steps.Where(s => s is LoadStep).ToList();

        under.Select(s => $"{s.Black} {s.Red}").ShouldBe(["A:1 B:1", "A:2 B:2"], ignoreOrder: true);
        under.ShouldAllBe(s => (s.Phase == StepPhase.UnderLoad) && s.IsJoined && s.Noticed < 0.1);
        plan.Steps.TakeLast(2).ShouldBe(under);
        plan.LeftOpen.ShouldNotContain(u => u.Contains("under load", StringComparison.Ordinal));
        Plan(Meter.BenchFourWire, Lamp).Steps.ShouldAllBe(s => s.Phase == StepPhase.Bare);
    }

    [Fact]
    public void Without_anything_that_draws_current_the_plan_says_what_it_leaves()
    {
        var plan = Plan(Meter.HandTwoWire, null);
        plan.Steps.ShouldAllBe(s => s.Phase == StepPhase.Bare);
        plan.LeftOpen.ShouldContain("2 pairs of feeds and grounds were measured with a meter that would miss a poor joint there, and not under load.");
        Plan(Meter.BenchFourWire, null).Unproven.ShouldNotContain(u => u.Contains("under load", StringComparison.Ordinal));
    }

    [Fact]
    public void What_the_meter_would_miss_is_told_before_the_first_touch()
    {
        var sight = MeterSight.Of(Plan(Meter.HandTwoWire, Lamp));
        sight.Pairs.ShouldBe(3);
        sight.UnderLoad.ShouldBe(2);
        sight.Weakest.Length.ShouldBe(3);
        sight.Weakest.Select(s => s.NoticedOhms!.Value).ShouldBeInOrder(SortDirection.Descending);
        sight.Sentence().ShouldStartWith("This meter cannot tell a good joint from a poor one in 3 of 3 pairs: it may miss as much as ");
        sight.Sentence().ShouldEndWith("2 of them, feeds and grounds, are tested under load as well.");
        MeterSight.Of(Plan(Meter.BenchFourWire, Lamp)).Sentence().ShouldBe("This meter surely notices 50.0 mΩ too much in every pair that must be joined.");
    }

    [Fact]
    public void A_plan_with_load_tests_is_kept_and_read_back_in_whatever_order_its_fields_come()
    {
        var plan = Plan(Meter.HandTwoWire, Lamp);
        var file = System.Text.Json.Nodes.JsonNode.Parse(JsonSerializer.Serialize(plan, CoreJson.Options))!;
        foreach (var step in file["steps"]!.AsArray().Select(s => s!.AsObject()))
        {
            var kind = step["kind"]!.DeepClone();
            step.Remove("kind");
            step["kind"] = kind;
        }

        file.Deserialize<TestPlan>(CoreJson.Options)!.Steps.ShouldBe(plan.Steps);
    }

    [Fact]
    public void A_poor_joint_that_only_the_load_shows_is_the_first_cause()
    {
        var plan = Plan(Meter.HandTwoWire, Lamp);
        var under = plan.Steps.First(s => s is LoadStep);
        var bench = new Bench(Fed(), plan);
        foreach (var step in plan.Steps)
        {
            double? shown = step is LoadStep { Load: var load } ? load.DropAt(step.Explained!.Value.Nominal + (step == under ? 0.3 : 0))
                : step is IsolationStep ? null : step.Explained!.Value.Nominal + (step.Black == under.Black ? 0.3 : 0);
            bench.Take(new(Guid.NewGuid(), step.Number, shown, true, "m", Bench.Start, bench.Run.LastEvent));
        }

        bench.Run[plan.Steps.First(s => s.Black == under.Black).Number].State.ShouldBe(StepState.CantTell);
        var first = RunDiagnosis.Of(bench.Run, FaultTally.None, TestContext.Current.CancellationToken).CaseOf(under.Number)!.Causes[0];
        var joint = first.Faults.ShouldHaveSingleItem().ShouldBeOfType<ResistiveFault>();
        joint.Wire.ShouldBe("W1");
        joint.Ohm.ShouldBe(0.3, 0.02);
    }

    [Fact]
    public void A_fix_tests_the_pair_again_both_ways()
    {
        var plan = Plan(Meter.HandTwoWire, Lamp);
        var again = Retest.Of(Fed(), plan, ["W1"], []).Select(n => plan.Steps[n - 1]).ToList();
        again.Count(s => s is ContinuityStep).ShouldBe(1);
        again.Count(s => s is LoadStep).ShouldBe(1);
    }

    [Fact]
    public void Readings_go_out_with_the_drop_and_with_what_it_means()
    {
        var plan = Plan(Meter.HandTwoWire, Lamp);
        var step = plan.Steps.OfType<LoadStep>().First();
        var reading = new RecordedReading(new Reading(0.05, ReadingUnit.Volt), Verdict.Pass, "Mira", DateTimeOffset.UnixEpoch, false, Bearing.Stands);
        var table = BenchTables.Readings([new(step, StepState.Pass, [reading], null, null)]);
        string Cell(string head) => table.Rows[0].Cells[table.Head.IndexOf(head)];

        Cell("kind").ShouldBe("load");
        Cell("volt").ShouldBe("0.05");
        double.Parse(Cell("ohm"), System.Globalization.CultureInfo.InvariantCulture).ShouldBe(0.030119, 1e-5);
    }

    private static OhmRange Pair(LoadTest test) => new(
        test.OhmsOf(test.LeastDropVolts)!.Value, (test.SupplyVolts / test.Amps) - test.Load.Ohms, test.OhmsOf(test.MostDropVolts)!.Value);

    private static ProbePoint P(string point) => ProbePoint.Parse(point);

    private static TestPlan Plan(Meter meter, LoadInHand? load) => Bench.Plan(Fed(), Isolation.Neighbours, meter, load);

    /// <summary>A feed, a ground and a signal side by side.</summary>
    private static Loom Fed()
    {
        var file = Looms.Json("A:1-B:1", "A:2-B:2", "A:3-B:3");
        foreach (var (wire, role) in new[] { (0, "feed"), (1, "ground"), (2, "signal") })
        {
            file["wires"]![wire]!["role"] = role;
        }

        return Looms.Read(file.ToJsonString()).Loom!;
    }
}
