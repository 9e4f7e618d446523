using CsCheck;
using WiseLoom.Bench;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>What pairs read through the devices, the one-end test, and tests under load.</summary>
public sealed class FittedTests
{
    private const double Copper = 17.241e-3;

    [Fact]
    public void A_coil_reads_its_ohms_and_its_wires()
    {
        var table = Table(Coil().Loom());
        var ohm = table.Between(P("E1"), P("E2")).Ohm!.Value;
        ohm.Nominal.ShouldBe(12 + (2 * Copper), 1e-9);
        ohm.Min.ShouldBe(11.4 + (2 * 0.96 * Copper * 0.98 * (1 - (3 * 0.00393))), 1e-9);
        ohm.Max.ShouldBe(12.6 + (2 * 18.5e-3 * 1.02 * (1 + (3 * 0.00393))), 1e-9);
    }

    [Fact]
    public void A_sensor_reads_what_its_curve_has_at_the_ambient_temperature()
    {
        var loom = new BenchLoom().Wire("E1", "T1").Wire("E2", "T2")
            .Device("t", "ntc", """{ "1": "T1", "2": "T2" }""", """{ "points": [[0, 6000], [20, 2500], [80, 320]] }""").Loom();
        Table(loom, 20).Between(P("E1"), P("E2")).Ohm!.Value.Nominal.ShouldBe(2500 + (2 * Copper), 1e-3);
        Table(loom, 0).Between(P("E1"), P("E2")).Ohm!.Value.Nominal.ShouldBe(6000, 1);
        var twenty = Table(loom, 20).Between(P("E1"), P("E2")).Ohm!.Value;
        (twenty.Min < twenty.Nominal && twenty.Nominal < twenty.Max).ShouldBeTrue();
    }

    [Fact]
    public void A_potentiometer_is_its_track_from_end_to_end_and_anything_up_to_it_at_its_wiper()
    {
        var table = Table(new BenchLoom().Wire("E1", "A").Wire("E2", "B").Wire("E3", "C")
            .Device("p", "pot", """{ "1": "A", "2": "B", "wiper": "C" }""", """{ "ohm": 5000, "wiper": { "min": 0.1, "nominal": 0.3, "max": 0.9 } }""").Loom());
        table.Between(P("E1"), P("E2")).Ohm!.Value.Nominal.ShouldBe(5000, 0.1);
        (table.Between(P("E1"), P("E2")).Ohm!.Value.Max - table.Between(P("E1"), P("E2")).Ohm!.Value.Min).ShouldBeLessThan(0.1);
        var wiper = table.Between(P("E1"), P("E3")).Ohm!.Value;
        (wiper.Min, wiper.Nominal, wiper.Max).ShouldSatisfyAllConditions(x => x.Item1.ShouldBe(500, 0.1), x => x.Item2.ShouldBe(1500, 0.1), x => x.Item3.ShouldBe(4500, 0.1));
    }

    [Fact]
    public void A_diode_reads_one_way_and_not_the_other()
    {
        var pair = Table(new BenchLoom().Wire("E1", "A").Wire("E2", "K").Device("d", "diode", """{ "anode": "A", "cathode": "K" }""").Loom()).Between(P("E1"), P("E2"));
        // At 1 mA: 1.8 · 25.85 mV · ln(1e9 + 1) = 0.964 V.
        pair.Ohm!.Value.Nominal.ShouldBe(964, 1);
        pair.Reversed.ShouldBeNull();
        pair.ThroughDiode.ShouldBeTrue();
    }

    [Fact]
    public void A_relay_reads_its_coil_both_ways_and_its_resting_contact()
    {
        var table = Table(new BenchLoom().Wire("E1", "CP").Wire("E2", "CM").Wire("E3", "IN").Wire("E4", "REST").Wire("E5", "OUT")
            .Device("r", "relay", """{ "coil+": "CP", "coil-": "CM", "contact in": "IN", "contact rest": "REST", "contact out": "OUT" }""", """{ "coilOhm": 90, "coilDiode": true }""").Loom());
        // A test current of 1 mA puts 90 mV on the coil: the diode across it stays out of it.
        table.Between(P("E1"), P("E2")).ShouldSatisfyAllConditions(p => p.Ohm!.Value.Nominal.ShouldBe(90.03, 0.01), p => p.Reversed!.Value.Nominal.ShouldBe(90.03, 0.01));
        table.Between(P("E3"), P("E4")).Ohm!.Value.Nominal.ShouldBe(0.02 + (2 * Copper), 1e-9);
        table.Between(P("E3"), P("E5")).Ohm.ShouldBeNull();
    }

    [Fact]
    public void Batteries_controllers_and_keys_take_no_part_and_a_condition_closes_its_switch()
    {
        var loom = new BenchLoom().Wire("E1", "A").Wire("E2", "B").Wire("BAT", "A").Wire("GND", "B").Battery()
            .Device("s", "switch", """{ "1": "A", "2": "B" }""", """{ "closedWhen": "door open" }""").Loom();
        Table(loom).Between(P("E1"), P("E2")).Ohm.ShouldBeNull();
        Table(loom).LeftOut.ShouldBe(["battery", "s"]);
        Table(loom, 20, "door open").Between(P("E1"), P("E2")).Ohm!.Value.Nominal.ShouldBe(0.01 + (2 * Copper), 1e-9);
    }

    [Fact]
    public void It_is_the_same_from_either_side_never_longer_by_a_detour_and_within_its_limits() => Gen.Int[1, 5000].Sample(
        seed =>
        {
            var table = Table(PoweredLoom.Loom(30, 9, seed));
            var pairs = table.Pairs().Where(p => !p.ThroughDiode).ToList();
            foreach (var pair in pairs.Take(60))
            {
                var back = table.Between(pair.B, pair.A).Ohm!.Value;
                back.Nominal.ShouldBe(pair.Ohm!.Value.Nominal, 1e-9 * back.Nominal);
                (pair.Ohm.Value.Min <= pair.Ohm.Value.Nominal * (1 + 1e-9) && pair.Ohm.Value.Nominal <= pair.Ohm.Value.Max * (1 + 1e-9)).ShouldBeTrue();
                foreach (var detour in pairs.Where(d => d.A == pair.B).Take(5))
                {
                    if (table.Between(pair.A, detour.B) is { ThroughDiode: false, Ohm: { } whole })
                    {
                        whole.Nominal.ShouldBeLessThanOrEqualTo((pair.Ohm.Value.Nominal + detour.Ohm!.Value.Nominal) * (1 + 1e-9));
                    }
                }
            }
        },
        iter: 40);

    [Fact]
    public void Where_no_diode_is_said_to_decide_the_same_net_with_its_diodes_reads_the_same()
    {
        var (plain, decided) = (0, 0);
        Gen.Int[1, 100_000].Sample(
            seed =>
            {
                var random = new Random(seed);
                var (count, build) = (random.Next(4, 8), new BenchLoom());
                for (var i = 0; i < count; i++)
                {
                    build.Wire($"E{i}", $"A{i}");
                }

                void Device(string kind, int a, int b, string fields) => build.Device($"{kind}{a}{b}{random.Next()}", kind, kind == "diode" ? $$"""{ "anode": "A{{a}}", "cathode": "A{{b}}" }""" : $$"""{ "1": "A{{a}}", "2": "A{{b}}" }""", fields);

                // Mostly one net of metal; where a joint is left out, two that only diodes join.
                for (var i = 1; i < count; i++)
                {
                    if (random.Next(6) != 0)
                    {
                        Device("resistor", random.Next(i), i, $$"""{ "ohm": {{random.Next(5, 900)}} }""");
                    }
                }

                for (var i = random.Next(5); i > 0; i--)
                {
                    var a = random.Next(count);
                    Device("diode", a, (a + random.Next(1, count)) % count, "{}");
                }

                var loom = build.Loom();
                var table = Table(loom);
                var parts = FittedParts.Of(loom, new(20, CopperTolerance.Usual.AmbientK, new HashSet<string>(), WiperSetting.Rest), new HashSet<string>()).ToList();
                var with = new FittedCircuit(
                    parts.Where(x => x.Diode is null).Select(x => (x.From, x.To, x.Ohm.Nominal, x.Label)).Concat(Enumerable.Range(0, count).Select(i => ($"E{i}:1", $"A{i}:1", Copper, "W"))),
                    parts.Where(x => x.Diode is not null));
                foreach (var pair in table.Pairs())
                {
                    (plain, decided) = pair.ThroughDiode ? (plain, decided + 1) : (plain + 1, decided);
                    if (!pair.ThroughDiode)
                    {
                        (with.VoltsBetween(pair.A, pair.B, FittedTable.TestAmps) / FittedTable.TestAmps).ShouldBe(pair.Ohm!.Value.Nominal, 0.002 * pair.Ohm.Value.Nominal);
                        (with.VoltsBetween(pair.B, pair.A, FittedTable.TestAmps) / FittedTable.TestAmps).ShouldBe(pair.Ohm.Value.Nominal, 0.002 * pair.Ohm.Value.Nominal);
                    }
                }
            },
            iter: 300,
            threads: 1);
        (plain, decided).ShouldSatisfyAllConditions(x => x.plain.ShouldBeGreaterThan(1000), x => x.decided.ShouldBeGreaterThan(1000));
    }

    [Fact]
    public void The_one_end_test_touches_every_cavity_that_reads_and_names_those_that_do_not()
    {
        var loom = Coil().Wire("E3", "X").Loom();
        var test = OneEndTest.From(Table(loom), ["E1", "E2", "E3"], Meter.HandTwoWire, TestContext.Current.CancellationToken);
        test.Readings.Single().ShouldSatisfyAllConditions(
            r => r.Devices.ShouldBe(["Coil"]),
            r => r.Wires.Order().ShouldBe(["W1", "W2"]),
            r => r.NoticedOhms!.Value.ShouldBeGreaterThan(0.6));
        test.Alone.ShouldBe([P("E3")]);
    }

    private static ProbePoint P(string plug) => new(plug, "1");

    private static BenchLoom Coil() => new BenchLoom().Wire("E1", "A").Wire("E2", "B")
        .Device("coil", "resistor", """{ "1": "A", "2": "B" }""", """{ "title": "Coil", "ohm": { "min": 11.4, "nominal": 12, "max": 12.6 } }""");

    private static FittedTable Table(Loom loom, double ambientC = 20, params string[] conditions) =>
        FittedTable.For(loom, ambientC, CopperTolerance.Usual, conditions.ToHashSet(), new HashSet<string>());
}
