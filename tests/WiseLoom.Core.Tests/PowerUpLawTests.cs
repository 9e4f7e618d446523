using System.Collections.Immutable;
using CsCheck;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Tests;

/// <summary>What cards expect is what the state core says, for generated looms and whatever is fitted.</summary>
public sealed class PowerUpLawTests
{
    [Fact]
    public void Every_voltage_and_current_of_a_card_is_what_the_state_core_says_for_that_bench() => Generated.Sample(
        x =>
        {
            var (loom, fit) = x;
            var plan = PowerUpPlan.Of(loom, fit, loom.AmbientC, School.Vehicle);
            var fitted = fit.On(loom);
            foreach (var check in plan.Checks.Where(c => c.Levers == Levers.Rest))
            {
                var state = LoomStates.For(fitted, loom.AmbientC).At(check.Meanwhile);
                switch (check.Expect)
                {
                    case VoltsExpected { Volts: var volts }:
                        state.Points[check.At[0]].Shows!.Meter.ShouldBe(volts.Nominal, 1e-6, check.Id);
                        volts.Holds(volts.Nominal).ShouldBeTrue(check.Id);
                        break;
                    case AmpsExpected { Amps: var amps }:
                        var into = fitted.WiresAt(check.At[0]).Sum(w => w.From.Text == check.At[0].ToString() ? state.Wires[w.Id].Amps : -state.Wires[w.Id].Amps);
                        Math.Abs(into).ShouldBe(amps.Nominal, 1e-6 + (1e-6 * amps.Nominal), check.Id);
                        amps.Holds(amps.Nominal).ShouldBeTrue(check.Id);
                        break;
                    case OutcomeExpected { Outcome: Outcome.Lights or Outcome.Ticks or Outcome.Turns or Outcome.Works or Outcome.Moves } when check.Device is { } device:
                        state.Functions.Where(f => f.Device == device).ShouldAllBe(f => f.Now, check.Id);
                        break;
                    case OutcomeExpected { Outcome: Outcome.StaysDark or Outcome.GoesOut } when check.Device is { } dark && check.Stage < 8:
                        state.Functions.Where(f => f.Device == dark).ShouldAllBe(f => !f.Now, check.Id);
                        break;
                }
            }
        },
        iter: 40);

    [Fact]
    public void The_ranges_hold_what_looms_of_real_parts_show() => Gen.Select(Gen.Int[0, 10_000], Gen.Double[-0.035, 0.035]).Sample(
        x =>
        {
            var (seed, supply) = x;
            var random = new Random(seed);
            Device Real(Device d) => d with
            {
                Model = d.Model switch
                {
                    LoadModel load => load with { Cold = Within(load.Cold, random), AtWork = Within(load.AtWork, random) },
                    BatteryModel b => b with { Volts = b.Volts * (1 + supply), StartVolts = b.StartVolts * (1 + supply), RunningVolts = b.RunningVolts * (1 + supply) },
                    var other => other,
                },
            };
            var real = Looms.FrostFan with { Devices = [.. Looms.FrostFan.Devices.Select(Real)] };
            var states = LoomStates.For(real, real.AmbientC);
            foreach (var check in Fan.Value.Checks.Where(c => c is { Expect: VoltsExpected, Levers: Levers.Rest }).Where((_, i) => i % 7 == seed % 7))
            {
                var shown = states.At(check.Meanwhile).Points[check.At[0]].Shows!.Meter;
                ((VoltsExpected)check.Expect).Volts.Holds(shown).ShouldBeTrue($"{check.Id}: {shown} in {check.Expect.InWords()}");
            }
        },
        iter: 12);

    /// <summary>4 % of the supply, 12 % while it cranks, the meter's 1 % and 20 mV; for a current its load's own ohms and a clamp's 3 %
    /// and 2 mA too.</summary>
    [Fact]
    public void A_range_is_as_wide_as_supply_parts_and_meter_and_no_wider()
    {
        var loom = new BenchLoom().Battery("""{ "volts": 12.6, "startVolts": 10, "runningVolts": 14 }""").Wire("BAT", "P").Wire("GND", "Q")
            .Device("lamp", "resistor", """{ "1": "P", "2": "Q" }""", """{ "ohm": { "min": 9.5, "nominal": 10, "max": 10.5 }, "use": "lamp" }""").Loom();
        var bench = new PowerUpBench(loom, BenchFit.AsDrawn, 20, School.Vehicle);
        ExpectedRange Volts(KeyPosition key) => bench.Volts(bench.Still(key, []), new("P", "1"))!.Value;
        var (on, start) = (Volts(KeyPosition.On), Volts(KeyPosition.Start));
        (on.Max / on.Nominal).ShouldBeInRange(1.05, 1.055);
        (on.Min / on.Nominal).ShouldBeInRange(0.945, 0.95);
        (start.Max / start.Nominal).ShouldBeInRange(1.13, 1.135);
        (start.Min / start.Nominal).ShouldBeInRange(0.865, 0.875);
        var amps = bench.Amps(bench.Still(KeyPosition.On, []), new("P", "1"))!.Value;
        (amps.Max / amps.Nominal).ShouldBe(1.04 / 0.95 * 1.03, 0.01);
        (amps.Min / amps.Nominal).ShouldBe(0.96 / 1.05 * 0.97, 0.01);
    }

    [Fact]
    public void The_minimum_to_run_is_minimal_tried_against_all_smaller_sets() => Generated.Sample(
        x =>
        {
            var (loom, fit) = x;
            var minimum = MinimumToRun.ForEngine(loom, fit, loom.AmbientC);
            var outside = new OutsideFeeds(fit.On(loom), loom.AmbientC);
            var devices = outside.EngineRuns();
            if (devices.IsEmpty || outside.Candidates.Length > 10)
            {
                return;
            }

            minimum.Exact.ShouldBeTrue();
            var size = minimum.Feed.Length + minimum.Ground.Length;
            for (var set = 0; set < 1 << outside.Candidates.Length; set++)
            {
                if (System.Numerics.BitOperations.PopCount((uint)set) < size)
                {
                    outside.Works([.. outside.Candidates.Where((_, i) => (set >> i & 1) == 1)], devices).ShouldBeFalse(minimum.Sentence);
                }
            }

            if (minimum.Possible)
            {
                outside.Works([.. outside.Candidates.Where(c => c.IsFeed ? minimum.Feed.Any(f => f.At == c.At) : minimum.Ground.Contains(c.At))], devices).ShouldBeTrue();
                minimum.Feed.ShouldAllBe(f => f.PeakAmps <= 0.8 * f.FuseAmps && f.Amps <= f.PeakAmps + 1e-9);
            }
        },
        iter: 20);

    [Fact]
    public void The_fan_needs_two_feeds_and_one_ground()
    {
        var minimum = MinimumToRun.ForEngine(Looms.FrostFan, BenchFit.AsDrawn, 20);
        minimum.Feed.Select(f => f.At.ToString()).ShouldBe(["R-BAT:1", "CUST:2"], ignoreOrder: true);
        minimum.Ground.ShouldHaveSingleItem().Connector.ShouldBe("R-FRAME");
        minimum.LeftOut.ShouldContain("W134");
        minimum.LeftOut.ShouldNotContain("W17");
    }

    [Fact]
    public void A_lamp_between_the_posts_needs_both_and_nothing_more()
    {
        var minimum = MinimumToRun.For(Lamp().Loom(), BenchFit.AsDrawn, 20, ["lamp"]);
        (minimum.Exact, minimum.Feed.Single().At.Connector, minimum.Ground.Single().Connector).ShouldBe((true, "BAT", "GND"));
    }

    /// <summary>With more places than sets can be tried, one after the other is left out, and what cannot be missed stays.</summary>
    [Fact]
    public void Among_very_many_places_the_needed_ones_are_found_by_leaving_out()
    {
        var bench = Lamp();
        for (var i = 0; i < 360; i++)
        {
            bench.Wire($"T{i}", $"U{i}");
            bench.Device($"fuse{i}", "fuse", $$"""{ "1": "U{{i}}", "2": "{{(i % 2 == 0 ? "P" : "Q")}}" }""", """{ "amps": 10 }""");
        }

        var minimum = MinimumToRun.For(bench.Loom(), BenchFit.AsDrawn, 20, ["lamp"]);
        (minimum.Exact, minimum.Possible, minimum.Feed.Length, minimum.Ground.Length).ShouldBe((false, true, 1, 1));
    }

    private static BenchLoom Lamp() => new BenchLoom().Battery().Wire("BAT", "P").Wire("GND", "Q").Device("lamp", "resistor", """{ "1": "P", "2": "Q" }""", """{ "ohm": 10, "use": "lamp" }""");

    [Fact]
    public void The_fuse_of_an_outside_lead_bears_the_outputs_that_are_driven_and_is_the_next_larger_one()
    {
        double[] usual = [0, 1, 2, 3, 5, 7.5, 10, 15, 20, 25, 30, 40, 50, 60, 80, 100];
        var feed = MinimumToRun.ForEngine(Looms.FrostFan, BenchFit.AsDrawn, 20).Feed;
        feed.ShouldContain(f => f.PeakAmps > 1.05 * f.Amps);
        feed.ShouldAllBe(f => f.PeakAmps > 0.8 * usual.Last(u => u < f.FuseAmps));
    }

    /// <summary>Three kelvin at the copper are a hundredth of its ohms.</summary>
    [Fact]
    public void The_air_is_known_within_a_few_kelvin()
    {
        var loom = new BenchLoom().Battery().Wire("BAT", "P", 60_000).Wire("GND", "Q").Device("lamp", "resistor", """{ "1": "P", "2": "Q" }""", """{ "ohm": 0.1, "use": "lamp" }""").Loom();
        var bench = new PowerUpBench(loom, BenchFit.AsDrawn, 20, School.Vehicle);
        var amps = bench.Amps(bench.Still(KeyPosition.On, []), new("P", "1"))!.Value;
        (amps.Max / amps.Nominal).ShouldBeInRange(1.04 * 1.03, 1.04 * 1.03 * 1.08);
    }

    [Fact]
    public void What_hangs_on_an_outside_plug_cannot_be_had_while_it_is_off() =>
        MinimumToRun.For(Looms.FrostFan, BenchFit.AsDrawn, 20, ["oil-lamp"]).ShouldSatisfyAllConditions(m => m.Possible.ShouldBeFalse(), m => m.Sentence.ShouldContain("outside plug"));

    [Fact]
    public void A_feed_that_drops_while_cranking_is_named_with_what_it_stops()
    {
        var fan = Looms.FrostFan;
        var moved = new Faults.BuiltLoom(fan, [new Faults.KeyTerminalFault("key", "IGN")]).Fitted;
        var findings = PowerUpPlan.Of(moved, BenchFit.AsDrawn, 20, School.Bench).Findings;
        findings.ShouldHaveSingleItem().ShouldSatisfyAllConditions(f => f.ShouldContain("Controller wake"), f => f.ShouldContain("falls asleep"));
        PowerUpPlan.Of(fan, BenchFit.AsDrawn, 20, School.Bench).Findings.ShouldBeEmpty();
    }

    [Fact]
    public void What_is_not_fitted_is_not_asked_for_and_its_code_is_expected()
    {
        var fan = Looms.FrostFan;
        var fit = new BenchFit(ImmutableSortedDictionary<string, Fitting>.Empty.Add("injector-3", new NothingFitted()).Add("fuel-pump", new StandInLamp(21)).Add("coolant-sensor", new NothingFitted()));
        var plan = PowerUpPlan.Of(fan, fit, 20, School.Bench);
        plan.Checks.ShouldNotContain(c => c.Id == "drive Injector 3");
        plan.Checks.First(c => c.Id == "drive Fuel pump relay").ShouldSatisfyAllConditions(c => c.Expect.ShouldBe(new OutcomeExpected(Outcome.Lights)), c => c.Do.ShouldContain("Fuel pump relay"), c => c.Why.ShouldContain("21 W lamp"));
        ExpectedCodes.Of(fan, fit, 20).Select(c => c.Code.Code).ShouldBe(["ECU-B:10 high", "ECU-A:23 open"], ignoreOrder: true);
        ((VoltsExpected)plan.Checks.First(c => c.Id == "live ECU-B:10").Expect).Volts.Nominal.ShouldBe(5, 0.02);
    }

    [Fact]
    public void A_bench_without_an_engine_has_six_stages_and_one_without_a_controller_says_so()
    {
        PowerUpPlan.Of(Looms.FrostFan, BenchFit.AsDrawn, 20, School.Bench).Stages.Select(s => s.Number).ShouldBe([1, 2, 3, 4, 5, 6]);
        var without = new BenchFit(ImmutableSortedDictionary<string, Fitting>.Empty.Add("controller", new NothingFitted()));
        PowerUpPlan.Of(Looms.FrostFan, without, 20, School.Bench).Stages.Where(s => s.Number >= 5).ShouldAllBe(s => s.CannotDo != null && !s.IsVacant && s.Checks.IsEmpty);
        PowerUpPlan.Of(Looms.WorkLaunch, BenchFit.AsDrawn, 20, School.Bench).Stages.Single(s => s.Number == 4).IsVacant.ShouldBeTrue();
    }

    [Theory]
    [InlineData("""{"fitted":{"pump":{"resistorOhm":6}}}""", "/fitted/pump")]
    [InlineData("""{"fitted":{"fuel-pump":{"resistorOhm":0}}}""", "/fitted/fuel-pump")]
    [InlineData("""{"fitted":{"fuel-pump":{"watts":21}}}""", "/fitted/fuel-pump")]
    [InlineData("""{"fitted":{"fuel-pump":"lamp"}}""", "/fitted/fuel-pump")]
    [InlineData("""{"fitted":{"main-relay":{"lampWatts":21}}}""", "/fitted/main-relay")]
    [InlineData("""{"fitted":{"fuel-pump":{"lampWatts":900}}}""", "/fitted/fuel-pump")]
    [InlineData("""{"school":"garage"}""", "/school")]
    [InlineData("""[]""", "")]
    [InlineData("7", "")]
    [InlineData("""{"fitted":""", "")]
    public void A_bench_that_cannot_be_is_refused_with_its_place(string json, string at) =>
        BenchFile.Read(System.Text.Encoding.UTF8.GetBytes(json), Looms.FrostFan).ShouldSatisfyAllConditions(r => r.Bench.ShouldBeNull(), r => r.Problems.ShouldContain(p => p.At.StartsWith(at)));

    [Fact]
    public void Every_check_has_an_id_of_its_own_words_and_cautions_where_something_can_hurt()
    {
        foreach (var loom in new[] { Looms.FrostFan, Looms.WorkLaunch })
        {
            var plan = PowerUpPlan.Of(loom, BenchFit.AsDrawn, 20, School.Vehicle);
            plan.Checks.Select(c => c.Id).ShouldBeUnique();
            plan.Checks.ShouldAllBe(c => c.Do.EndsWith('.') && c.Why.EndsWith('.') && c.With.Length > 3);
            plan.Checks.Where(c => c.Stage is 1 or 2 or 3 or >= 7).Where(c => c.Asks != Asked.Codes).ShouldAllBe(c => !c.Cautions.IsEmpty);
            plan.Checks.Where(c => c.Device is { } d && loom.Devices.Any(x => x.Ref == d && x.Model is LoadModel { Use: "coil" or "motor" or "injector" }) && c.Stage == 6).ShouldAllBe(c => !c.Cautions.IsEmpty);
            foreach (var stage in plan.Stages)
            {
                // Checks of one set-up stand together.
                stage.Checks.Select(c => c.SetUp.Id).Aggregate(new List<string>(), (all, id) => all.LastOrDefault() == id ? all : [.. all, id]).ShouldBeUnique();
            }
        }
    }

    [Fact]
    public void A_gauge_is_asked_for_what_its_scale_says()
    {
        var loom = new BenchLoom().Battery().Wire("BAT", "G1").Wire("S1", "G2").Wire("S2", "GND")
            .Device("gauge", "resistor", """{ "1": "G1", "2": "G2" }""", """{ "ohm": 100, "use": "gauge", "gauge": { "unit": "%", "points": [[0, 10], [90, 190]] } }""")
            .Device("sender", "resistor", """{ "1": "S1", "2": "S2" }""", """{ "ohm": 90, "use": "sensor" }""").Read().Loom!;
        PowerUpPlan.Of(loom, BenchFit.AsDrawn, 20, School.Bench).Checks.Where(c => c.Id.StartsWith("gauge ")).Select(c => (c.Do, c.With))
            .ShouldBe([("Key on: unplug sender and put 70.0 Ω between its two leads.", "Eye: gauge shows 30 %."), ("Key on: unplug sender and put 130 Ω between its two leads.", "Eye: gauge shows 60 %.")]);
    }

    private static readonly Lazy<PowerUpPlan> Fan = new(() => PowerUpPlan.Of(Looms.FrostFan, BenchFit.AsDrawn, 20, School.Vehicle));

    private static OhmRange Within(OhmRange of, Random random) => OhmRange.Exactly(of.Min + ((of.Max - of.Min) * random.NextDouble()));

    /// <summary>Small looms with a battery, a key, a fuse, a relay, lamps, injectors and a controller, and some of it not fitted.</summary>
    internal static Gen<(Loom Loom, BenchFit Fit)> Generated => Gen.Select(Gen.Int[1, 3], Gen.Int[0, 2], Gen.Bool, Gen.Int[0, 40], Gen.Int[0, 4], (injectors, lamps, relay, ohm, bench) =>
    {
        var loom = new BenchLoom().Battery("""{ "volts": 12.6, "startVolts": 10.1, "runningVolts": 14.1 }""")
            .Wire("BAT", "KB").Wire("BAT", "FI").Wire("KI", "EW").Wire("FO", "ES").Wire("EG", "GND")
            .Device("key", "key", """{ "B": "KB", "I": "KI" }""", """{ "joins": { "on": ["B", "I"], "start": ["B", "I"] } }""")
            .Device("fuse", "fuse", """{ "1": "FI", "2": "FO" }""", """{ "amps": 10 }""");
        var roles = new List<string> { "\"w\": { \"role\": \"wake\" }", "\"s\": { \"role\": \"supply\", \"ohm\": 80 }", "\"g\": { \"role\": \"ground\" }" };
        var pins = new List<string> { "\"w\": \"EW\"", "\"s\": \"ES\"", "\"g\": \"EG\"" };
        for (var i = 1; i <= injectors; i++)
        {
            loom.Wire("FO", $"P{i}").Wire($"M{i}", $"E{i}").Device($"injector-{i}", "resistor", $$"""{ "1": "P{{i}}", "2": "M{{i}}" }""", """{ "ohm": { "min": 11, "nominal": 12, "max": 13 }, "use": "injector" }""");
            roles.Add($$"""  "o{{i}}": { "role": "lowSide", "output": "Injector {{i}}", "pulsed": true, "onIn": ["start", "running"] }""");
            pins.Add($"\"o{i}\": \"E{i}\"");
        }

        for (var i = 1; i <= lamps; i++)
        {
            loom.Wire("KI", $"LP{i}").Wire($"LM{i}", $"SW{i}").Device($"lamp-{i}", "resistor", $$"""{ "1": "LP{{i}}", "2": "LM{{i}}" }""", """{ "ohmCold": 6, "ohmHot": 60 }""")
                .Device($"switch-{i}", "switch", $$"""{ "1": "SW{{i}}" }""", $$"""{ "closedWhen": "warning {{i}}", "atRest": true, "running": false }""");
        }

        if (relay)
        {
            loom.Wire("KI", "R1").Wire("FO", "R3").Wire("R4", "PP").Wire("PM", "GND").Wire("R2", "ER")
                .Device("relay", "relay", """{ "coil+": "R1", "coil-": "R2", "contact in": "R3", "contact out": "R4" }""").Device("pump", "motor", """{ "+": "PP", "-": "PM" }""", """{ "ohm": 1.2, "ohmRunning": 3, "worksFromVolts": 8 }""");
            roles.Add("\"r\": { \"role\": \"lowSide\", \"output\": \"Pump relay\", \"onIn\": [\"start\", \"running\"] }");
            pins.Add("\"r\": \"ER\"");
        }

        if (ohm > 0)
        {
            loom.Wire("N1", "EA").Wire("N2", "EG").Device("sensor", "ntc", """{ "1": "N1", "2": "N2" }""", """{ "points": [[-10, 9400], [20, 2500], [80, 320], [110, 140]] }""");
            roles.Add($$""" "a": { "role": "analogIn", "ohm": {{1000 + (100 * ohm)}}, "channel": "Coolant temperature", "unit": "°C" }""");
            pins.Add("\"a\": \"EA\"");
        }

        loom.Device("controller", "controller", $"{{ {string.Join(", ", pins)} }}", $"{{ \"roles\": {{ {string.Join(", ", roles)} }} }}");
        var fit = ImmutableSortedDictionary<string, Fitting>.Empty;
        fit = bench switch
        {
            1 => fit.Add("injector-1", new NothingFitted()),
            2 => fit.Add("injector-1", new StandInResistor(6)),
            3 when relay => fit.Add("pump", new StandInLamp(21)),
            4 when ohm > 0 => fit.Add("sensor", new NothingFitted()),
            _ => fit,
        };
        return (loom.Read().Loom!, new BenchFit(fit));
    });
}
