using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using CsCheck;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Planning.Steps;
using WiseLoom.Core.Practice;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Tests;

/// <summary>What a plan asks for beside the bare loom: through devices, diodes both ways, terminated pairs, crimp samples, looks.</summary>
public sealed class BeyondTests
{
    /// <summary>A plan with all devices of a loom plugged in, samples and looks.</summary>
    internal static TestPlan Everything(Loom loom) => Plan(loom, new([.. loom.Devices.Select(d => d.Ref)], PullTable.Usual, true));

    /// <summary>Two plugs, a diode from one wire to the other in a third, and a resistor across a twisted pair in a fourth.</summary>
    internal static Loom WithDiode(string? with = null)
    {
        var json = Looms.Json("A:1-D:1", "A:2-D:2", "A:3-T:1", "A:4-T:2", "A:5-B:1");
        json["wires"]![2]!["group"] = "bus";
        json["wires"]![3]!["group"] = "bus";
        json["devices"] = new JsonArray(
            JsonNode.Parse("""{ "ref": "d1", "title": "Clamping diode", "kind": "diode", "pins": { "anode": "D:1", "cathode": "D:2" } }"""),
            JsonNode.Parse($$"""{ "ref": "r1", "title": "Bus end", "kind": "resistor", "ohm": { "min": 118, "nominal": 120, "max": 122 }, "pins": { "1": "T:1", "2": "T:2" } }"""));
        if (with is not null)
        {
            json["devices"]!.AsArray().Add(JsonNode.Parse(with));
        }

        return Looms.Read(json.ToJsonString()).Loom!;
    }

    private static TestPlan Plan(Loom loom, Beyond beyond) =>
        Planner.Plan(loom, PlanTerms.Usual(Meter.BenchFourWire, Isolation.Neighbours, loom.AmbientC, CopperTolerance.Usual) with { Beyond = beyond });

    [Fact]
    public void A_diode_is_read_in_both_directions_and_a_pair_through_what_ends_it()
    {
        var plan = Plan(WithDiode(), new(["d1", "r1"], null, false));
        var diode = plan.Steps.OfType<DiodeStep>().ToList();
        diode.Select(d => (d.Red!.Value.ToString(), d.Conducts)).ShouldBe([("A:1", true), ("A:2", false)], ignoreOrder: true);
        // By hand: 1.8 · 25.85 mV · ln(1 mA / 1 pA) = 0.964 V, and a junction may be 0.15 V off either way.
        var forward = diode.Single(d => d.Conducts);
        forward.Limits.Least.ShouldBe(0.814, 0.003);
        forward.Limits.Most.ShouldBe(1.114, 0.003);
        plan.Judge(forward, forward.ReadingOf(0.96)).ShouldBe(Verdict.Pass);
        plan.Judge(forward, forward.ReadingOf(0.2)).ShouldBe(Verdict.Fail);
        plan.Judge(forward, forward.ReadingOf(null)).ShouldBe(Verdict.Fail);
        plan.Judge(forward, forward.ReadingOf(1.114)).ShouldBe(Verdict.CantTell);
        var back = diode.Single(d => !d.Conducts);
        plan.Judge(back, back.ReadingOf(null)).ShouldBe(Verdict.Pass);
        plan.Judge(back, back.ReadingOf(0.96)).ShouldBe(Verdict.Fail);

        var pair = plan.Steps.OfType<PairStep>().ShouldHaveSingleItem();
        pair.Expected!.Value.Nominal.ShouldBe(120.07, 0.02);
        pair.Setup()!.ShouldContain("terminated by Bus end");
    }

    [Fact]
    public void Devices_that_stay_on_the_shelf_are_not_asked_for_and_a_pair_without_its_end_must_be_apart()
    {
        var plan = Plan(WithDiode(), new(["d1"], null, false));
        plan.Steps.OfType<PairStep>().ShouldHaveSingleItem().Expected.ShouldBeNull();
        plan.Steps.OfType<FittedStep>().ShouldBeEmpty();
        Plan(WithDiode(), Beyond.Nothing).Steps.ShouldAllBe(s => s.Phase == StepPhase.Bare);
    }

    [Fact]
    public void A_diode_that_lies_across_a_coil_is_said_not_to_be_tested()
    {
        var loom = WithDiode("""{ "ref": "coil", "title": "Coil", "kind": "resistor", "ohm": { "min": 80, "nominal": 85, "max": 90 }, "pins": { "1": "D:1", "2": "D:2" } }""");
        var plan = Plan(loom, new(["d1", "coil"], null, false));
        plan.Steps.OfType<DiodeStep>().ShouldBeEmpty();
        plan.CouldNotBe().ShouldBe(["Clamping diode: no open plug lets a meter see this diode by itself, so it was not tested."]);
        plan.LeftOpen.ShouldContain(plan.CouldNotBe().Single());
        plan.Steps.OfType<FittedStep>().ShouldHaveSingleItem().Expected.Nominal.ShouldBe(85.07, 0.02);
    }

    [Fact]
    public void Every_step_of_a_plan_has_its_number_its_time_and_its_phase_in_order()
    {
        foreach (var loom in new[] { Looms.FrostFan, Looms.WorkLaunch, WithDiode() })
        {
            var plan = Everything(loom);
            plan.Steps.Select(s => s.Number).ShouldBe(Enumerable.Range(1, plan.Steps.Length));
            plan.Steps.Zip(plan.Steps.Skip(1)).ShouldAllBe(p => p.First.Phase <= p.Second.Phase);
            plan.Steps.ShouldAllBe(s => s.Seconds >= 0);
            plan.LowerBoundSeconds.ShouldBeLessThanOrEqualTo(plan.Seconds);
            plan.Seconds.ShouldBeLessThanOrEqualTo(plan.PinOrderSeconds);
            plan.Fitted.Length.ShouldBe(loom.Devices.Length);
        }
    }

    [Fact]
    public void What_is_read_through_devices_passes_on_a_sound_loom_and_a_device_that_is_not_as_drawn_is_found()
    {
        foreach (var loom in new[] { Looms.FrostFan, Looms.WorkLaunch })
        {
            var plan = Everything(loom);
            var fitted = plan.Steps.Where(s => s is FittedStep or PairStep).ToList();
            fitted.Count.ShouldBeGreaterThan(20);
            Failing([]).ShouldBeEmpty();
            var device = loom.Devices.First(d => d.Kind == "resistor" && d.Model is not null);
            Failing([new DeviceFault(device.Ref)]).ShouldNotBeEmpty(device.Ref);

            List<PlanStep> Failing(Fault[] hidden)
            {
                var bench = new SimulatedBench(loom, plan.Meter, hidden, 5);
                return fitted.FindAll(s =>
                {
                    var probes = StepProbes.Of(loom, plan, s);
                    return plan.Judge(s, bench.Measure(probes.Red, probes.Black, probes.Fitted.ToHashSet())) == Verdict.Fail;
                });
            }
        }
    }

    [Fact]
    public void A_lot_is_every_crimp_of_a_section_in_a_kind_of_housing_and_has_its_samples()
    {
        var plan = Plan(Looms.FrostFan, new([], PullTable.Usual, false));
        var pulls = plan.Steps.OfType<PullStep>().ToList();
        var ends = Looms.FrostFan.Wires.SelectMany(w => new[] { w.From, w.To }).Where(e => !e.IsSplice).Count(e => Looms.FrostFan.Connector(e.Point.Connector).Family.Kind != HousingKind.Tail);
        pulls.Where(p => p.Sample == 1).Sum(p => p.LotSize).ShouldBe(ends);
        pulls.GroupBy(p => p.Lot).ShouldAllBe(g => g.Select(p => p.Sample).SequenceEqual(Enumerable.Range(1, g.First().Samples)) && g.First().Samples <= g.First().LotSize);
        var weakest = pulls[0];
        plan.Judge(weakest, weakest.ReadingOf(weakest.Limits.Least)).ShouldBe(Verdict.Pass);
        plan.Judge(weakest, weakest.ReadingOf(weakest.Limits.Least - 0.1)).ShouldBe(Verdict.Fail);
        weakest.ReadingOf(84.6).InWords().ShouldBe("85 N");
    }

    [Theory]
    [InlineData(0.14, 18)]
    [InlineData(0.22, 28)]
    [InlineData(0.35, 40)]
    [InlineData(0.75, 85)]
    [InlineData(1, 108)]
    [InlineData(1.5, 150)]
    [InlineData(2.5, 230)]
    [InlineData(4, 310)]
    [InlineData(6, 360)]
    [InlineData(10, 380)]
    [InlineData(0.5, 60)]
    [InlineData(0.6, 60)] // Between two rows: what the smaller one must hold.
    [InlineData(16, 380)]
    [InlineData(0.07, 9)] // Below the first row: in proportion.
    [InlineData(0.5176, 60)] // Gauge 20.
    public void The_usual_table_says_what_a_section_must_hold(double mm2, double newtons) => PullTable.Usual.Least(mm2).ShouldBe(newtons, 1e-9);

    [Theory]
    [InlineData(1, 1)]
    [InlineData(4, 1)]
    [InlineData(5, 2)]
    [InlineData(20, 2)]
    [InlineData(21, 3)]
    [InlineData(100, 3)]
    [InlineData(101, 5)]
    [InlineData(2000, 5)]
    public void A_lot_needs_as_many_samples_as_its_size_asks_for(int lot, int samples) => PullTable.Usual.Samples(lot).ShouldBe(samples);

    [Fact]
    public void No_more_samples_are_pulled_than_there_are_crimps() => (PullTable.Usual with { Sizes = [new(20, 5)] }).Samples(2).ShouldBe(2);

    [Fact]
    public void Larger_lots_never_need_fewer_samples() => Gen.Int[1, 3000].Sample(lot =>
    {
        var samples = PullTable.Usual.Samples(lot);
        samples.ShouldBeInRange(1, Math.Min(5, lot));
        PullTable.Usual.Samples(lot + 1).ShouldBeGreaterThanOrEqualTo(samples);
    });

    [Theory]
    [InlineData("""{ "forces": [], "sizes": [{ "lotUpTo": 4, "samples": 1 }] }""", "/forces")]
    [InlineData("""{ "forces": [{ "mm2": 0, "newtons": 60 }], "sizes": [{ "lotUpTo": 4, "samples": 1 }] }""", "/forces/0")]
    [InlineData("""{ "forces": [{ "mm2": 1, "newtons": 60 }, { "mm2": 0.5, "newtons": 80 }], "sizes": [{ "lotUpTo": 4, "samples": 1 }] }""", "/forces/1")]
    [InlineData("""{ "forces": [{ "mm2": 1, "newtons": 60 }, { "mm2": 2, "newtons": 50 }], "sizes": [{ "lotUpTo": 4, "samples": 1 }] }""", "/forces/1")]
    [InlineData("""{ "forces": [{ "mm2": 1, "newtons": 1e9 }], "sizes": [{ "lotUpTo": 4, "samples": 1 }] }""", "/forces/0")]
    [InlineData("""{ "forces": [{ "mm2": 1, "newtons": 60 }], "sizes": [] }""", "/sizes")]
    [InlineData("""{ "forces": [{ "mm2": 1, "newtons": 60 }], "sizes": [{ "lotUpTo": 0, "samples": 1 }] }""", "/sizes/0")]
    [InlineData("""{ "forces": [{ "mm2": 1, "newtons": 60 }], "sizes": [{ "lotUpTo": 4, "samples": 0 }] }""", "/sizes/0")]
    [InlineData("""{ "forces": [{ "mm2": 1, "newtons": 60 }], "sizes": [{ "lotUpTo": 4, "samples": 3 }, { "lotUpTo": 9, "samples": 2 }] }""", "/sizes/1")]
    public void A_table_that_cannot_be_is_named_at_its_place(string json, string at) =>
        JsonSerializer.Deserialize<PullTable>(json, CoreJson.Options)!.Problems().ShouldHaveSingleItem().At.ShouldBe(at);

    [Fact]
    public void Every_plug_ring_and_pair_is_looked_at_once_for_what_it_has()
    {
        var looks = Plan(Looms.FrostFan, new([], null, true)).Steps.OfType<LookStep>().ToList();
        var wired = Looms.FrostFan.ProbePoints().Select(p => p.Connector).Distinct().Count();
        looks.Count.ShouldBe(wired + Looms.FrostFan.Wires.Select(w => w.Group).OfType<string>().Distinct().Count());
        looks.Select(l => l.Place).Distinct().Count().ShouldBe(looks.Count);
        looks.Single(l => l.Black.Connector == "R-BAT").Things[0].ShouldContain("bare and bright");
        looks.Single(l => l.Place == "Pair crank pair").Things.ShouldContain(t => t.Contains("one end only", StringComparison.Ordinal));
        looks.Single(l => l.Place.StartsWith("ECU-A ", StringComparison.Ordinal)).Things.ShouldContain(t => t.StartsWith("blanking plugs", StringComparison.Ordinal));
    }

    [Fact]
    public void Hands_in_a_plug_ask_for_another_look_at_it_and_for_no_other_sample()
    {
        var bench = new Bench(Looms.FrostFan, Everything(Looms.FrostFan));
        bench.ReadAll(_ => true);

        var first = bench.Run.Plan.Steps[0].Number;
        bench.Read(first, Verdict.Fail);
        bench.Log(first);
        bench.Fix(1, "INJ3:1");
        var again = bench.Run.Plan.Steps.Where(s => bench.Run[s.Number].State == StepState.Retest).ToList();
        again.OfType<LookStep>().Select(l => l.Black.Connector).ShouldBe(["INJ3"]);
        again.OfType<PullStep>().ShouldBeEmpty();
        again.ShouldContain(s => s is FittedStep);
    }

    [Fact]
    public void The_way_on_takes_them_last_and_whatever_is_left_of_them()
    {
        var bench = new Bench(Looms.FrostFan, Everything(Looms.FrostFan));
        var all = WayOn.From(bench.Run, null, ImmutableHashSet<string>.Empty);
        all.Steps.Select(s => s.Step).ShouldBe(bench.Run.Plan.Steps.Select(s => s.Number));
        all.Seconds.ShouldBe(bench.Run.Plan.Seconds, bench.Run.Plan.Seconds * 0.01);
        bench.ReadAll(s => s.Phase != StepPhase.Looks);

        var left = WayOn.From(bench.Run, bench.Run.Plan.Steps[3].Probes, ImmutableHashSet<string>.Empty);
        left.Steps.Select(s => bench.Run.Plan.Step(s.Step)).ShouldAllBe(s => s is LookStep);
        left.Seconds.ShouldBe(bench.Run.SecondsLeft, 1e-6);
    }

    [Fact]
    public void They_tell_nothing_about_the_metal_to_whoever_ranks_causes()
    {
        var bench = new Bench(Looms.FrostFan, Everything(Looms.FrostFan));
        bench.ReadAll(_ => true);

        Diagnosis.RunObservations.Of(bench.Run).Select(o => bench.Run.Plan.Step(o.Step)!.Phase).ShouldAllBe(p => p == StepPhase.Bare);
        bench.Run.Holds.ShouldBeEmpty();
    }

    [Fact]
    public void Photos_stand_at_their_step_and_are_bounded()
    {
        var bench = new Bench(Looms.FrostFan, Everything(Looms.FrostFan));
        var look = bench.Run.Plan.Steps.First(s => s is LookStep).Number;
        Decision Add(Guid key, int step) => bench.Ask(key, Bench.Mira, Bench.Start, run => run.Photograph(key, step));
        var first = Guid.NewGuid();
        Add(first, look).ShouldBeOfType<Decision.Accepted>();
        Add(first, look).ShouldBeOfType<Decision.Already>();
        Add(first, look + 1).ShouldBeOfType<Decision.Conflict>();
        Add(Guid.NewGuid(), 100_000).ShouldBeOfType<Decision.Wrong>();
        for (var i = 1; i < 12; i++)
        {
            Add(Guid.NewGuid(), look).ShouldBeOfType<Decision.Accepted>();
        }

        Add(Guid.NewGuid(), look).ShouldBeOfType<Decision.Conflict>();
        bench.Read(look, Verdict.Pass);
        bench.Run[look].Photos.Length.ShouldBe(12);
        bench.Run[look].Photos[0].ShouldBe(first);
        bench.Run[look].State.ShouldBe(StepState.Pass);
    }

    [Theory]
    [InlineData("""{ "ohms": 0.07 }""", 0.07, ReadingUnit.Ohm)]
    [InlineData("""{ "ohms": 0.03, "volts": 0.05 }""", 0.05, ReadingUnit.Volt)]
    [InlineData("""{ }""", null, ReadingUnit.Ohm)]
    [InlineData("""{ "value": 85, "unit": "newton" }""", 85.0, ReadingUnit.Newton)]
    [InlineData("""{ "unit": "volt" }""", null, ReadingUnit.Volt)]
    public void Readings_are_read_as_they_were_kept_before_they_had_a_unit_and_since(string kept, double? value, ReadingUnit unit)
    {
        var reading = JsonSerializer.Deserialize<Reading>(kept, CoreJson.Options);
        reading.ShouldBe(new Reading(value, unit));
        JsonSerializer.Deserialize<Reading>(JsonSerializer.Serialize(reading, CoreJson.Options), CoreJson.Options).ShouldBe(reading);
    }
}
