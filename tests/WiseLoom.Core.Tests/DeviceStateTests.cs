using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Tests;

/// <summary>Every kind of device in a powered loom, held against a calculation by hand. Wires are 1 m of 1 mm² at 20 °C: 17.241 mΩ each.</summary>
public sealed class DeviceStateTests
{
    private const double Wire = 0.017241, Battery = 0.01;

    private static ProbePoint P(string plug) => new(plug, "1");

    private static double Volts(OperatingState state, string plug) => state.Points[P(plug)].Volts.ShouldNotBeNull();

    private static OperatingState On(BenchLoom loom, params string[] conditions) => loom.States().At(Situation.At(KeyPosition.On, conditions));

    private static BenchLoom Powered() => new BenchLoom().Wire("BAT", "S").Wire("GND", "G").Battery();

    [Theory]
    [InlineData("off", 12.6)]
    [InlineData("accessory", 12.6)]
    [InlineData("on", 12.6)]
    [InlineData("start", 9.5)]
    [InlineData("running", 14.1)]
    public void A_battery_has_its_voltage_of_the_key_position_behind_its_own_resistance(string key, double volts)
    {
        var state = new BenchLoom().Wire("BAT", "S").Wire("GND", "G").Battery("""{ "volts": 12.6, "startVolts": 9.5, "runningVolts": 14.1, "milliohm": 20 }""")
            .Device("heater", "resistor", """{ "1": "S", "2": "G" }""", """{ "ohm": 0.5, "use": "heater" }""").States().At(Situation.At(KeyPositions.Find(key)!.Value));
        var amps = volts / (0.5 + 0.02 + (2 * Wire));
        state.Wires["W1"].Amps.ShouldBe(amps, 1e-6 * amps);
        Volts(state, "BAT").ShouldBe(volts - (0.02 * amps), 1e-5);
        state.SupplyVolts.ShouldBe(volts - (0.02 * amps), 1e-5);
        state.Wires["W1"].DropVolts.ShouldBe(Wire * amps, 1e-5);
    }

    [Theory]
    [InlineData("""{ "ohm": 1000, "wiper": 0.25 }""", 0.75)]
    [InlineData("""{ "ohm": 1000, "wiper": { "min": 0.1, "nominal": 0.6, "max": 0.9 } }""", 0.4)]
    [InlineData("""{ "ohm": 1000 }""", 0.5)]
    [InlineData("""{ "ohm": 1000, "wiper": 0 }""", 1)]
    [InlineData("""{ "ohm": 1000, "wiper": 1 }""", 0)]
    public void A_wiper_stands_at_its_share_of_the_track(string fields, double share)
    {
        var state = On(Powered().Wire("W", "T").Device("pedal", "pot", """{ "1": "S", "2": "G", "wiper": "W" }""", fields));
        Volts(state, "W").ShouldBe(12.6 * share, 0.002);
        state.Points[P("W")].Shows!.SourceOhms.ShouldBe(1000 * share * (1 - share), 0.5);
    }

    [Theory]
    [InlineData(false, 12.6)]
    [InlineData(true, 0)]
    public void A_switch_is_closed_while_its_condition_holds(bool closed, double volts)
    {
        var loom = Powered().Wire("N", "M")
            .Device("pull-up", "resistor", """{ "1": "S", "2": "N" }""", """{ "ohm": 1000, "use": "resistor" }""")
            .Device("neutral", "switch", """{ "1": "M", "2": "G" }""", """{ "closedWhen": "in neutral", "closedMilliohm": 50 }""");
        var state = closed ? On(loom, "in neutral") : On(loom, "in gear");
        Volts(state, "N").ShouldBe(volts, 0.01);
    }

    [Fact]
    public void A_fuse_carries_with_its_own_ohms_and_nothing_when_it_is_out()
    {
        var loom = Powered().Wire("F", "L").Device("f1", "fuse", """{ "1": "S", "2": "F" }""", """{ "amps": 10, "milliohm": 8 }""")
            .Device("lamp", "resistor", """{ "1": "L", "2": "G" }""", """{ "ohm": 6, "use": "lamp" }""").States();
        var amps = 12.6 / (6 + Battery + (3 * Wire) + 0.008);
        loom.At(Situation.At(KeyPosition.On)).Wires["W3"].Amps.ShouldBe(amps, 1e-5);
        var without = loom.At(new(KeyPosition.On, [], ["f1"]));
        without.Wires["W3"].Amps.ShouldBe(0, 1e-9);
        without.Functions.Single().Sentence.ShouldContain("No supply reaches it");
    }

    [Fact]
    public void A_filament_that_burns_has_its_hot_resistance_and_one_that_does_not_its_cold()
    {
        var loom = Powered().Wire("X", "L").Device("dimmer", "resistor", """{ "1": "S", "2": "X" }""", """{ "ohm": 12, "use": "resistor" }""")
            .Device("full", "resistor", """{ "1": "S", "2": "G" }""", """{ "ohmCold": 0.6, "ohmHot": 6 }""")
            .Device("dim", "resistor", """{ "1": "L", "2": "G" }""", """{ "ohmCold": 0.6, "ohmHot": 6 }""");
        var state = On(loom);
        state.Parts.Single(p => p.Label == "full").Amps.ShouldBe(12.6 / 6.05, 0.02);
        state.Parts.Single(p => p.Label == "dim").Amps.ShouldBe(12.6 / 12.6, 0.02, "with 0.6 V across it, it stays cold");
        state.Functions.Single(f => f.Device == "full").Now.ShouldBeTrue();
        state.Functions.Single(f => f.Device == "dim").Works.ShouldBeFalse();
    }

    [Theory]
    [InlineData(8.0, true)]
    [InlineData(11.5, true)]
    [InlineData(11.7, false)] // Standing it draws so much that 11.6 V are left.
    public void A_motor_runs_from_its_least_voltage(double from, bool runs)
    {
        var state = On(Powered().Device("pump", "motor", """{ "+": "S", "-": "G" }""", FormattableString.Invariant($$"""{ "title": "Pump", "ohm": 0.5, "ohmRunning": 3, "worksFromVolts": {{from}} }""")));
        state.Functions.Single().Name.ShouldBe("Pump runs");
        state.Functions.Single().Works.ShouldBe(runs);
        state.Wires["W1"].Amps.ShouldBe(12.6 / ((runs ? 3 : 0.5) + Battery + (2 * Wire)), 0.001);
    }

    [Fact]
    public void An_ntc_in_a_divider_gives_the_voltage_of_its_temperature()
    {
        // B = 3435 K, 10 kΩ at 25 °C: R = 10,000·exp(3435·(1/T − 1/298.15)); at 20 °C 12.17 kΩ.
        static double Beta(double celsius) => 10_000 * Math.Exp(3435 * ((1 / (celsius + 273.15)) - (1 / 298.15)));
        var state = On(Powered().Wire("N", "T").Device("pull-up", "resistor", """{ "1": "S", "2": "N" }""", """{ "ohm": 2200, "use": "resistor" }""")
            .Device("coolant", "ntc", """{ "1": "T", "2": "G" }""", FormattableString.Invariant($$"""{ "points": [[0, {{Beta(0)}}], [40, {{Beta(40)}}], [100, {{Beta(100)}}]] }""")));
        Volts(state, "N").ShouldBe(12.6 * Beta(20) / (Beta(20) + 2200), 0.005);
    }

    [Theory]
    [InlineData("S", "D", true)]
    [InlineData("D", "S", false)]
    public void A_diode_conducts_one_way_only(string anode, string cathode, bool conducts)
    {
        var state = On(Powered().Wire("D", "E").Device("load", "resistor", """{ "1": "E", "2": "G" }""", """{ "ohm": 1000, "use": "resistor" }""")
            .Device("d1", "diode", $$"""{ "anode": "{{anode}}", "cathode": "{{cathode}}" }"""));
        var amps = Volts(state, "E") / 1000;
        // Shockley the other way round: V = n·25.85 mV·ln(1 + I/Is) + I·Rs.
        var drop = conducts ? (1.8 * 0.02585 * Math.Log(1 + (amps / 1e-12))) + (0.05 * amps) : 12.6;
        (Volts(state, "S") - Volts(state, "E")).ShouldBe(drop, 0.001);
    }

    [Fact]
    public void A_bridge_of_four_diodes_feeds_its_load_whichever_way_round_the_battery_lies()
    {
        BenchLoom Bridge(string plus, string minus) => new BenchLoom().Wire("BAT", plus).Wire("GND", minus).Wire("P", "LP").Wire("N", "LN").Wire("A", "A2").Wire("B", "B2").Battery()
            .Device("d1", "diode", """{ "anode": "A", "cathode": "P" }""").Device("d2", "diode", """{ "anode": "B", "cathode": "P" }""")
            .Device("d3", "diode", """{ "anode": "N", "cathode": "A2" }""").Device("d4", "diode", """{ "anode": "N", "cathode": "B2" }""")
            .Device("load", "resistor", """{ "1": "LP", "2": "LN" }""", """{ "ohm": 100, "use": "resistor" }""");
        foreach (var state in new[] { On(Bridge("A", "B")), On(Bridge("B", "A")) })
        {
            (Volts(state, "LP") - Volts(state, "LN")).ShouldBe(12.6 - (2 * 1.8 * 0.02585 * Math.Log(0.102 / 1e-12)), 0.05, "two diodes are in the way");
        }
    }

    [Fact]
    public void A_sensor_on_three_wires_puts_out_a_share_of_the_supply_that_it_has()
    {
        BenchLoom Sensor(string ohmOfReference) => Powered().Wire("EV", "T5").Wire("ESG", "TG").Wire("ESIG", "TS")
            .Device("ecu", "controller", """{ "s": "S", "g": "G", "v": "EV", "sg": "ESG", "sig": "ESIG" }""", $$"""
                { "title": "Controller", "roles": { "s": { "role": "supply" }, "g": { "role": "ground" }, "v": { "role": "reference5", "ohm": {{ohmOfReference}} },
                  "sg": { "role": "sensorGround" }, "sig": { "role": "analogIn", "pull": "none" } } }
                """)
            .Device("pressure", "transducer", """{ "5V": "T5", "ground": "TG", "signal": "TS" }""", """{ "title": "Rail pressure", "supplyOhm": 1000, "restVolts": 0.5 }""");
        var good = On(Sensor("0.5"));
        (Volts(good, "TS") - Volts(good, "TG")).ShouldBe(0.5, 0.002);
        good.Functions.ShouldContain(f => f.Name == "Rail pressure has its supply" && f.Works);
        var weak = On(Sensor("250"));
        Volts(weak, "T5").ShouldBe(5 * 1000 / 1250.0, 0.01);
        (Volts(weak, "TS") - Volts(weak, "TG")).ShouldBe(0.5 * 0.8, 0.005, "a share of what it has");
        weak.Functions.Single(f => f.Name == "Rail pressure has its supply").Sentence.ShouldStartWith("Only 4.0");
    }

    [Fact]
    public void Inputs_stand_where_they_are_pulled_and_what_hangs_on_them_divides()
    {
        var state = On(Powered().Wire("U", "U2").Wire("D", "D2").Wire("N", "N2").Wire("A", "A2")
            .Device("ecu", "controller", """{ "s": "S", "g": "G", "u": "U", "d": "D", "n": "N", "a": "A" }""", """
                { "roles": { "s": { "role": "supply" }, "g": { "role": "ground" }, "u": { "role": "digitalIn" }, "d": { "role": "digitalIn", "pull": "down" },
                  "n": { "role": "digitalIn", "pull": "none" }, "a": { "role": "analogIn" } } }
                """)
            .Device("to-ground", "resistor", """{ "1": "A2", "2": "G" }""", """{ "ohm": 2200, "use": "resistor" }"""));
        Volts(state, "U").ShouldBe(12.6, 0.05);
        Volts(state, "D").ShouldBe(0, 0.05);
        Volts(state, "N").ShouldBe(0, 0.05);
        Volts(state, "A").ShouldBe(2.5, 0.02, "2.2 kΩ to 5 V and 2.2 kΩ to ground");
    }

    [Fact]
    public void A_high_side_output_feeds_from_the_supply_pin_it_names()
    {
        var loom = new BenchLoom().Wire("BAT", "S1").Wire("ALT", "S2").Wire("GND", "G").Wire("O", "L").Battery()
            .Device("ecu", "controller", """{ "a": "S1", "b": "S2", "g": "G", "out": "O" }""", """
                { "title": "Controller", "roles": { "a": { "role": "supply" }, "b": { "role": "supply" }, "g": { "role": "ground" },
                  "out": { "role": "highSide", "output": "Fan", "from": "b" } } }
                """)
            .Device("fan", "motor", """{ "+": "L", "-": "G" }""", """{ "title": "Fan", "ohm": 12 }""");
        loom.States().At(Situation.At(KeyPosition.On, "Fan")).Functions.Single(f => f.Device == "fan").Works.ShouldBeFalse("nothing feeds pin b");
        var fed = loom.Wire("BAT", "ALT").States().At(Situation.At(KeyPosition.On, "Fan"));
        fed.Functions.Single(f => f.Device == "fan").Now.ShouldBeTrue();
        fed.Wires["W2"].Amps.ShouldBe(12.6 / 12.3, 0.25);
    }

    [Fact]
    public void Two_pins_of_a_data_bus_rest_at_the_middle_and_are_closed_by_their_termination()
    {
        var state = On(Powered().Wire("H", "H2").Wire("L", "L2")
            .Device("ecu", "controller", """{ "s": "S", "g": "G", "h": "H", "l": "L" }""", """
                { "roles": { "s": { "role": "supply" }, "g": { "role": "ground" }, "h": { "role": "network", "bus": "main", "ohm": 120 }, "l": { "role": "network", "bus": "main" } } }
                """));
        Volts(state, "H").ShouldBe(2.5, 0.01);
        Volts(state, "L").ShouldBe(2.5, 0.01);
        state.Points[P("H")].Shows!.SourceOhms.ShouldBeInRange(14_000, 16_000, "30 kΩ of each line, joined by the termination");
    }

    [Fact]
    public void The_metal_of_an_engine_joins_what_is_bolted_to_it_and_a_device_with_one_pin_returns_through_it()
    {
        var state = On(new BenchLoom().Wire("BAT", "H").Wire("GND", "STRAP").Battery()
            .Device("block", "cable", """{ "1": "STRAP" }""", """{ "toCase": true }""")
            .Device("glow-plug", "resistor", """{ "1": "H" }""", """{ "ohm": 0.8, "use": "heater" }"""));
        state.Wires["W1"].Amps.ShouldBe(12.6 / (0.8 + Battery + 0.001 + (2 * Wire)), 0.01);
        state.Wires["W2"].Amps.ShouldBe(-state.Wires["W1"].Amps, 1e-4, "what goes out comes back");
    }

    [Fact]
    public void A_key_joins_the_groups_of_its_position_and_no_others()
    {
        var loom = new BenchLoom().Wire("BAT", "B").Wire("GND", "G").Wire("ACC", "A").Wire("IGN", "I").Wire("ST", "T").Battery()
            .Device("key", "key", """{ "B": "B", "ACC": "ACC", "IGN": "IGN", "ST": "ST" }""", """
                { "joins": { "accessory": ["B", "ACC"], "on": [["B", "ACC", "IGN"]], "start": [["B", "IGN"], ["B", "ST"]] } }
                """)
            .Device("a", "resistor", """{ "1": "A", "2": "G" }""", """{ "ohm": 1000, "use": "resistor" }""")
            .Device("i", "resistor", """{ "1": "I", "2": "G" }""", """{ "ohm": 1000, "use": "resistor" }""")
            .Device("s", "resistor", """{ "1": "T", "2": "G" }""", """{ "ohm": 1000, "use": "resistor" }""").States();
        string Fed(KeyPosition key) => string.Join(' ', new[] { "ACC", "IGN", "ST" }.Where(p => Volts(loom.At(Situation.At(key)), p) > 12));
        KeyPositions.All.Select(Fed).ShouldBe(["", "ACC", "ACC IGN", "IGN ST", "ACC IGN"]);
    }

    [Fact]
    public void A_relay_with_two_contacts_and_a_change_over_moves_them_together()
    {
        var loom = Powered().Wire("BAT", "C1").Wire("BAT", "C2").Wire("NO1", "X1").Wire("NC2", "X2").Wire("NO2", "X3").Wire("COIL", "K")
            .Device("main", "relay", """{ "coil+": "K", "coil-": "G", "a": "C1", "b": "NO1", "c": "C2", "d": "NO2", "e": "NC2" }""", """
                { "title": "Main relay", "coilOhm": 90, "contacts": [ { "common": "a", "working": "b" }, { "common": "c", "working": "d", "resting": "e" } ] }
                """)
            .Device("drive", "switch", """{ "1": "S", "2": "COIL" }""", """{ "closedWhen": "driven" }""");
        foreach (var plug in new[] { "X1", "X2", "X3" })
        {
            loom.Device($"r{plug}", "resistor", $$"""{ "1": "{{plug}}", "2": "G" }""", """{ "ohm": 1000, "use": "resistor" }""");
        }

        string Fed(OperatingState state) => string.Join(' ', new[] { "X1", "X2", "X3" }.Where(p => Volts(state, p) > 12));
        Fed(On(loom)).ShouldBe("X2");
        Fed(On(loom, "driven")).ShouldBe("X1 X3");
    }

    [Theory]
    [InlineData(0.0, 12.6, ShownAs.Ground)]
    [InlineData(-0.2, 12.6, ShownAs.Ground)]
    [InlineData(0.5, 12.6, ShownAs.Between)]
    [InlineData(4.9, 12.6, ShownAs.FiveVolts)]
    [InlineData(5.4, 12.6, ShownAs.Between)]
    [InlineData(11.4, 12.6, ShownAs.Supply)]
    [InlineData(4.9, 5.0, ShownAs.Supply)]
    [InlineData(4.9, 0, ShownAs.FiveVolts)]
    [InlineData(null, 12.6, ShownAs.Floats)]
    public void A_voltage_has_one_class_at_a_glance(double? volts, double supply, ShownAs shown) =>
        Glance.Of(new(volts, volts ?? 0, volts ?? 0, null), supply).ShouldBe(shown);
}
