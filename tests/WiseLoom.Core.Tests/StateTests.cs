using CsCheck;
using WiseLoom.Bench;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Tests;

/// <summary>What points show in each key position, and what the program says to models that are odd.</summary>
public sealed class StateTests
{
    private const string Controller = """
        { "title": "Controller", "roles": {
            "s": { "role": "supply" }, "g": { "role": "ground" }, "w": { "role": "wake" },
            "inj": { "role": "lowSide", "output": "Injector 1", "pulsed": true, "onIn": ["start", "running"] },
            "five": { "role": "reference5" }, "sg": { "role": "sensorGround" } } }
        """;

    [Fact]
    public void Both_terminals_of_an_idle_injector_read_supply_and_that_is_right()
    {
        var states = Engine().States();
        var on = states.At(Situation.At(KeyPosition.On));
        on.Points[P("INJ2")].Volts!.Value.ShouldBe(12.6, 0.05);
        on.Points[P("INJ1")].Volts!.Value.ShouldBe(12.6, 0.05);
        var function = on.Functions.Single(f => f.Device == "injector-1");
        (function.Name, function.Works, function.Now, function.WhenDriven).ShouldBe(("Injector 1 fires", true, false, "Injector 1"));
        var explanation = states.Explain(Situation.At(KeyPosition.On), P("INJ2"));
        string.Join(" ", explanation.Sentences).ShouldContain("switches the ground side here (‘Injector 1’) and does not drive it now: to read supply is right");
        string.Join(" ", states.Explain(Situation.At(KeyPosition.On), P("INJ1")).Sentences).ShouldContain("both its terminals read the same. This is right.");
    }

    [Fact]
    public void Driving_an_output_pulls_its_terminal_down_and_the_current_is_ohms_law()
    {
        var driven = Engine().States().At(Situation.At(KeyPosition.On, "Injector 1"));
        driven.Points[P("INJ2")].Volts!.Value.ShouldBeLessThan(0.6);
        // 12.6 V over 12 Ω, 0.2 Ω of the output, some 0.02 Ω each of six wires, contacts and the battery.
        driven.Wires["W3"].Amps.ShouldBe(12.6 / 12.3, 0.02);
    }

    [Theory]
    [InlineData("off", false)]
    [InlineData("accessory", false)]
    [InlineData("on", true)]
    [InlineData("start", true)]
    [InlineData("running", true)]
    public void A_controller_is_awake_while_supply_ground_and_wake_are_there(string key, bool awake)
    {
        var states = Engine().States();
        states.At(Situation.At(KeyPositions.Find(key)!.Value)).Functions.Single(f => f.Name == "Controller awake").Works.ShouldBe(awake);
        states.At(Situation.At(KeyPositions.Find(key)!.Value)).Functions.Single(f => f.Name.StartsWith("Controller: 5 V", StringComparison.Ordinal)).Works.ShouldBe(awake);
    }

    [Fact]
    public void A_meter_shows_supply_behind_corrosion_and_a_lamp_stays_dark()
    {
        var state = new BenchLoom().Wire("BAT", "BAD").Wire("GOOD", "FAR").Wire("GND", "END").Battery()
            .Device("corrosion", "resistor", """{ "1": "BAD", "2": "GOOD" }""", """{ "ohm": 30, "use": "sensor" }""").States();
        var explanation = state.Explain(Situation.At(KeyPosition.On), P("FAR"));
        explanation.State!.Shows!.Meter.ShouldBe(12.6, 0.01);
        explanation.State.Shows.LampToGround.Glow.ShouldBe(Glow.Dark);
        string.Join(" ", explanation.Sentences).ShouldContain("A voltage without a load proves nothing");
    }

    [Fact]
    public void A_relay_that_drops_its_own_supply_chatters()
    {
        // The coil is fed through its own resting contact: as soon as it pulls it lets go.
        var state = new BenchLoom().Wire("BAT", "IN").Wire("REST", "COIL").Wire("GND", "END").Battery()
            .Device("buzzer", "relay", """{ "coil+": "COIL", "coil-": "END", "contact in": "IN", "contact rest": "REST" }""", """{ "title": "Buzzer" }""")
            .States().At(Situation.At(KeyPosition.On));
        state.Chatters.ShouldBe(["Buzzer"]);
        state.Devices.Single(d => d.Device == "buzzer").Word.ShouldBe("chatters");
        (state.Points[P("COIL")].Most - state.Points[P("COIL")].Least).ShouldBeGreaterThan(12);
    }

    [Fact]
    public void A_relay_that_feeds_its_own_coil_holds_after_the_start_and_says_so()
    {
        var loom = new BenchLoom().Wire("BAT", "KB").Wire("ST", "COIL").Wire("OUT", "COIL").Wire("BAT", "IN").Wire("GND", "END").Battery()
            .Device("key", "key", """{ "B": "KB", "ST": "ST" }""", """{ "joins": { "start": ["B", "ST"] } }""")
            .Device("latch", "relay", """{ "86": "COIL", "85": "END", "30": "IN", "87": "OUT" }""", """{ "title": "Latch", "coilOhm": 80 }""").States();
        loom.At(Situation.At(KeyPosition.On)).Devices.Single(d => d.Device == "latch").Word.ShouldBe("at rest");
        var running = loom.At(Situation.At(KeyPosition.Running));
        running.Devices.Single(d => d.Device == "latch").Word.ShouldBe("pulled in");
        running.Notes.ShouldContain(n => n.Contains("holds itself"));
    }

    [Fact]
    public void Between_its_two_voltages_a_relay_stays_as_it_was()
    {
        var loom = new BenchLoom().Wire("BAT", "KB").Wire("ST", "COIL").Wire("IGN", "DROP").Wire("DROP2", "COIL").Wire("GND", "END").Battery()
            .Device("key", "key", """{ "B": "KB", "IGN": "IGN", "ST": "ST" }""", """{ "joins": { "on": ["B", "IGN"], "start": ["B", "IGN", "ST"] } }""")
            .Device("dropper", "resistor", """{ "1": "DROP", "2": "DROP2" }""", """{ "ohm": 100, "use": "resistor" }""")
            .Device("relay", "relay", """{ "coil+": "COIL", "coil-": "END" }""", """{ "coilOhm": 100, "pullInVolts": 8, "dropOutVolts": 3 }""").States();
        // Half the supply, 6.3 V, is too little to pull it and enough to hold it.
        loom.At(Situation.At(KeyPosition.On)).Devices.Single(d => d.Device == "relay").Word.ShouldBe("at rest");
        loom.At(Situation.At(KeyPosition.Running)).Devices.Single(d => d.Device == "relay").Word.ShouldBe("pulled in");
    }

    [Fact]
    public void A_floating_island_is_told_as_such_and_has_no_voltage()
    {
        var state = new BenchLoom().Wire("BAT", "A").Wire("GND", "B").Wire("X", "Y").Battery().States().At(Situation.At(KeyPosition.On));
        state.Points[P("X")].Volts.ShouldBeNull();
        state.Points[P("X")].Shows!.Meter.ShouldBe(0, 1e-6);
        state.Notes.ShouldContain(n => n.StartsWith("2 points float", StringComparison.Ordinal));
    }

    [Fact]
    public void Two_ideal_batteries_in_conflict_have_no_state_and_two_real_ones_a_current()
    {
        BenchLoom Two(string ohms) => new BenchLoom().Wire("BAT", "FAR", 0).Wire("GND", "END", 0).Battery($$"""{ "volts": 12.6, "milliohm": {{ohms}} }""")
            .Device("second", "battery", """{ "+": "FAR", "-": "END" }""", $$"""{ "volts": 24, "milliohm": {{ohms}}, "title": "Second battery" }""");
        var none = LoomStates.For(ZeroLength(Two("0")), 20).At(Situation.At(KeyPosition.On));
        none.NoState!.ShouldContain("Ideal sources contradict each other");
        none.Points.ShouldBeEmpty();
        var real = Two("10").States().At(Situation.At(KeyPosition.On));
        real.NoState.ShouldBeNull();
        real.Notes.ShouldContain(n => n.Contains("another source of a higher voltage is joined to it"));
    }

    [Fact]
    public void Wires_of_no_ohms_in_a_ring_are_answered_and_said()
    {
        var loom = ZeroLength(new BenchLoom().Wire("BAT", "FAR", 0).Wire("BAT", "FAR", 0).Wire("GND", "END", 0).Battery()
            .Device("load", "resistor", """{ "1": "FAR", "2": "END" }""", """{ "ohm": 12.59 }"""));
        var state = LoomStates.For(loom, loom.AmbientC).At(Situation.At(KeyPosition.On));
        state.Wires["W1"].Amps.ShouldBe(0.5, 1e-6);
        state.Wires["W2"].Amps.ShouldBe(0.5, 1e-6);
        state.Notes.ShouldContain(n => n.Contains("close a ring"));
    }

    [Fact]
    public void A_missing_ground_leaves_the_controller_asleep_and_names_the_reason()
    {
        var loom = Engine(groundOhm: "1e6").States();
        var awake = loom.At(Situation.At(KeyPosition.On)).Functions.Single(f => f.Name == "Controller awake");
        awake.Works.ShouldBeFalse();
        awake.Sentence.ShouldContain("no good ground reaches it");
    }

    [Fact]
    public void A_controller_without_wake_is_awake_whenever_it_is_supplied_and_that_is_said()
    {
        var state = new BenchLoom().Wire("BAT", "S").Wire("GND", "G").Battery()
            .Device("ecu", "controller", """{ "s": "S", "g": "G" }""", """{ "title": "Controller", "roles": { "s": { "role": "supply" }, "g": { "role": "ground" } } }""")
            .States().At(Situation.At(KeyPosition.Off));
        state.Functions.Single().Works.ShouldBeTrue();
        state.Notes.ShouldContain("Controller: no pin wakes it; it is taken as awake whenever it is supplied.");
    }

    [Fact]
    public void An_unplugged_device_carries_nothing()
    {
        var loom = Engine().Loom();
        var without = LoomStates.For(loom, loom.AmbientC).At(new(KeyPosition.On, ["Injector 1"], ["injector-1"]));
        without.Wires["W3"].Amps.ShouldBe(0, 1e-6);
        without.Functions.Single(f => f.Device == "injector-1").Sentence.ShouldBe("It is unplugged.");
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1e9)]
    public void Lengths_without_sense_still_have_an_answer(double lengthMm)
    {
        var state = new BenchLoom().Wire("BAT", "FAR", lengthMm).Wire("GND", "END").Battery()
            .Device("load", "resistor", """{ "1": "FAR", "2": "END" }""", """{ "ohm": 12 }""").States().At(Situation.At(KeyPosition.On));
        // 17.241 mΩ/m for 1 mm², and a million metres.
        state.Wires["W1"].Amps.ShouldBe(12.6 / (12 + 0.01 + 0.0172 + (17.241e-6 * lengthMm)), 1e-3);
    }

    [Fact]
    public void No_battery_and_no_device_at_all_are_answered_in_words()
    {
        var state = new BenchLoom().Wire("A", "B").States().At(Situation.At(KeyPosition.On));
        state.Notes.ShouldContain("No battery is in this loom: nothing in it has a voltage of its own.");
        state.Points.Values.ShouldAllBe(p => p.Floats);
    }

    [Fact]
    public void Currents_of_generated_looms_add_up_in_every_key_position() => Gen.Int[1, 10_000].Sample(
        seed =>
        {
            foreach (var state in LoomStates.For(PoweredLoom.Loom(60, 14, seed), 20).InAllPositions(withProbes: false))
            {
                state.NoState.ShouldBeNull();
                var sums = new Dictionary<string, double>(StringComparer.Ordinal);
                foreach (var part in state.Parts)
                {
                    sums[part.From] = sums.GetValueOrDefault(part.From) + part.Amps;
                    sums[part.To] = sums.GetValueOrDefault(part.To) - part.Amps;
                }

                // What is left over at a node is its own leak of 1 GΩ; at 0 V all leaks come together.
                foreach (var point in state.Points.Where(p => p.Value.Volts is not null))
                {
                    Math.Abs(sums.GetValueOrDefault(point.Key.ToString())).ShouldBeLessThan(1e-9 + (1.001e-9 * sums.Count * 15));
                    Math.Abs(sums.GetValueOrDefault(point.Key.ToString()) + (1e-9 * point.Value.Volts!.Value)).ShouldBeLessThan(point.Value.Volts == 0 ? 1e-5 : 1e-9);
                }
            }
        },
        iter: 60);

    [Fact]
    public void What_probes_show_is_what_the_whole_circuit_shows_with_the_probe_as_a_device() => Gen.Select(Gen.Int[1, 1000], Gen.Int[0, 10_000], Gen.Bool, Gen.OneOfConst(12.6 * 12.6 / 21, 10e6), Gen.Enum<KeyPosition>()).Sample(
        (seed, which, toSupply, ohms, key) =>
        {
            // A lamp hangs on the supply or on ground, a meter on ground only.
            toSupply &= ohms < 1e6;
            var loom = PoweredLoom.Loom(40, 10, seed);
            var bare = LoomStates.For(loom, loom.AmbientC).At(Situation.At(key));
            var (point, shows) = bare.Points.Skip(which % bare.Points.Count).First();
            var other = loom.Devices.First(d => d.Ref == "d0").Pins[toSupply ? "+" : "-"];
            if (point == other)
            {
                return;
            }

            var file = PoweredLoom.File(40, 10, seed);
            file["devices"]!.AsArray().Add(new System.Text.Json.Nodes.JsonObject
            {
                ["ref"] = "probe", ["kind"] = "resistor", ["ohm"] = ohms, ["use"] = "sensor",
                ["pins"] = new System.Text.Json.Nodes.JsonObject { ["1"] = point.ToString(), ["2"] = other.ToString() },
            });
            var with = LoomStates.For(LoomReader.Read(System.Text.Encoding.UTF8.GetBytes(file.ToJsonString())).Loom!, 20).At(Situation.At(key), withProbes: false);
            var lamp = toSupply ? shows.Shows!.LampToSupply : shows.Shows!.LampToGround;
            var told = ohms > 1e6 ? shows.Shows!.Meter : lamp.Volts;
            if (with.Chatters.IsEmpty && bare.Chatters.IsEmpty && (ohms > 1e6 || !lamp.Flickers) && with.Points[point].Volts is { } volts)
            {
                Math.Abs(told).ShouldBe(Math.Abs(volts - (with.Points[other].Volts ?? 0)), 0.02);
            }
        },
        iter: 400);

    private static ProbePoint P(string plug) => new(plug, "1");

    /// <summary>A battery, a key, an injector and a controller with one output.</summary>
    private static BenchLoom Engine(string groundOhm = "0.005") => new BenchLoom()
        .Wire("BAT", "KB").Wire("IGN", "INJ1").Wire("INJ2", "EI").Wire("BAT", "ES").Wire("GND", "EG").Wire("IGN", "EW").Wire("E5", "T5").Wire("ESG", "TG")
        .Battery()
        .Device("key", "key", """{ "B": "KB", "IGN": "IGN" }""", """{ "joins": { "on": ["B", "IGN"], "start": ["B", "IGN"] } }""")
        .Device("injector-1", "resistor", """{ "1": "INJ1", "2": "INJ2" }""", """{ "title": "Injector 1", "ohm": 12, "use": "injector" }""")
        .Device("ecu", "controller", """{ "s": "ES", "g": "EG", "w": "EW", "inj": "EI", "five": "E5", "sg": "ESG" }""", Controller.Replace("\"role\": \"ground\"", $"\"role\": \"ground\", \"ohm\": {groundOhm}", StringComparison.Ordinal));

    /// <summary>The same with wires of no resistance at all: no tolerance of length, no contacts.</summary>
    private static Loom ZeroLength(BenchLoom loom) => loom.Loom();
}
