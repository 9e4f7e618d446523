using System.Text.Json.Nodes;
using WiseLoom.Core.Circuits;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Tests;

/// <summary>Answers at the edges: misspelt files, chattering devices, transducers that lift themselves, shorts, ideal parts, and what floats.</summary>
public sealed class EdgeTests
{
    private static ProbePoint P(string plug) => new(plug, "1");

    private static OperatingState On(BenchLoom loom) => loom.States().At(Situation.At(KeyPosition.On));

    private static BenchLoom Powered() => new BenchLoom().Wire("BAT", "S").Wire("GND", "G").Wire("A", "A2").Wire("C", "C2").Battery();

    private static string[] Warnings(BenchLoom loom) => [.. loom.Read().Warnings.Select(w => $"{w.At} {w.Message}")];

    [Theory]
    [InlineData("key", """{ "B": "S", "Ign": "A" }""", """{ "joins": { "on": ["B", "IGN"] } }""", "/devices/1/joins/on", "Is 'Ign' meant?")]
    [InlineData("cable", """{ "1": "S", "2": "A" }""", """{ "joins": [["1", "3"]] }""", "/devices/1/joins", "'3' is no pin of this device; its pins are 1, 2.")]
    public void Joints_of_pins_that_are_not_there_are_problems(string kind, string pins, string fields, string at, string words) =>
        Powered().Device("d", kind, pins, fields).Read().Problems.ShouldContain(p => p.At == at && p.Message.Contains(words));

    [Theory]
    [InlineData("transducer", """{ "5 V": "S", "gnd": "G", "signal": "A" }""", "{}", "/devices/1/pins/5 V No pin '5 V' is known of a transducer: it carries nothing. The pins are 5V, ground, signal. Is '5V' meant?")]
    [InlineData("relay", """{ "86": "S", "85": "G", "88": "A" }""", "{}", "/devices/1/pins/88 No pin '88' is known of a relay")]
    [InlineData("battery", """{ "x": "S", "-": "G" }""", """{ "volts": 12 }""", "No pin 'x' is known of a battery: it carries nothing. The pins are +, -.")]
    [InlineData("diode", """{ "anod": "S", "cathode": "G" }""", "{}", "Is 'anode' meant?")]
    [InlineData("resistor", """{ "1": "S", "2": "G" }""", """{ "ohm": 5, "worksFromVolt": 3 }""", "/devices/1/worksFromVolt No field 'worksFromVolt' is known here: it is kept, and does nothing. Is 'worksFromVolts' meant?")]
    [InlineData("fuse", """{ "1": "S", "2": "G" }""", """{ "amps": 5, "milliohms": 3 }""", "Is 'milliohm' meant?")]
    [InlineData("controller", """{ "s": "S", "g": "G" }""", """{ "roles": { "s": { "role": "supply" }, "g": { "role": "ground", "onin": ["on"] } } }""", "/devices/1/roles/g/onin No field 'onin' is known here")]
    [InlineData("transducer", """{ "5V": "S", "ground": "G", "signal": "A" }""", """{ "scale": { "lowVolts": 0.5, "lowUnits": 0, "highVolts": 4.5, "highUnits": 10, "unit": "bar", "units": "bar" } }""", "/devices/1/scale/units")]
    public void Names_that_nothing_knows_are_told_with_what_may_be_meant(string kind, string pins, string fields, string warning) =>
        Warnings(Powered().Device("d", kind, pins, fields)).ShouldContain(w => w.Contains(warning, StringComparison.Ordinal));

    [Theory]
    [InlineData("relay", """{ "COIL+": "S", "85": "G", "87A": "A" }""", """{ "coilDiode": true, "coilResistorOhm": 500 }""")]
    [InlineData("relay", """{ "86": "S", "85": "G", "a": "A", "b": "C" }""", """{ "contacts": [{ "common": "a", "working": "b" }] }""")]
    [InlineData("resistor", """{ "1": "S", "2": "G" }""", """{ "ohmCold": 1, "ohm": 2, "ohmHot": 9, "use": "lamp", "title": "Lamp" }""")]
    [InlineData("controller", """{ "s": "S", "g": "G" }""", """{ "roles": { "s": { "role": "supply", "needed": true }, "g": { "role": "ground" } }, "leastVolts": 6 }""")]
    public void What_is_known_under_any_of_its_names_is_not_doubted(string kind, string pins, string fields) =>
        Warnings(Powered().Device("d", kind, pins, fields)).ShouldBeEmpty();

    [Fact]
    public void The_demo_looms_and_what_stands_in_them_are_not_doubted()
    {
        foreach (var file in new[] { "frost-fan.json", "work-launch.json" })
        {
            LoomReader.Read(Looms.DemoFile(file)).Warnings.ShouldNotContain(w => w.Message.Contains("is known", StringComparison.Ordinal));
        }
    }

    [Fact]
    public void A_lamp_a_wire_and_a_load_that_chatter_flicker_between_two_values()
    {
        // The relay's coil hangs on its own resting contact, and a lamp beside it.
        var state = On(Powered().Wire("L", "L2")
            .Device("buzzer", "relay", """{ "coil+": "A", "coil-": "G", "contact in": "S", "contact rest": "A2" }""", """{ "title": "Buzzer", "coilOhm": 90 }""")
            .Device("lamp", "resistor", """{ "1": "A2", "2": "G" }""", """{ "title": "Lamp", "ohm": 50, "use": "lamp" }"""));
        state.Chatters.ShouldBe(["Buzzer"]);
        var shows = state.Points[P("A2")].Shows!;
        (shows.LampToGround.Flickers, shows.LampToGround.LeastVolts < 0.1, shows.LampToGround.Volts > 12).ShouldBe((true, true, true));
        (shows.MeterLeast < 0.1, shows.MeterMost > 12, shows.Meter > 4 && shows.Meter < 9).ShouldBe((true, true, true));
        var wire = state.Wires["W1"];
        (wire.MostAmps - wire.LeastAmps).ShouldBeGreaterThan(0.2);
        var function = state.Functions.Single(f => f.Device == "lamp");
        (function.Flickers, function.Works, function.Now).ShouldBe((true, false, false));
        function.Sentence.ShouldStartWith("Flickers. It has between 0 V and 12.");
        state.Points[P("BAT")].Shows!.LampToGround.Flickers.ShouldBeFalse("the battery stands");
    }

    [Fact]
    public void A_lamp_beside_a_transducer_with_a_poor_ground_shows_what_it_shows_as_a_device()
    {
        BenchLoom Sensor() => Powered().Wire("T", "T2").Wire("R", "R2")
            .Device("tr", "transducer", """{ "5V": "S", "ground": "R", "signal": "T" }""", """{ "referenceVolts": 12, "restVolts": 11, "outputOhm": 1, "supplyOhm": 200 }""")
            .Device("bad", "resistor", """{ "1": "R2", "2": "G" }""", """{ "ohm": 50, "use": "resistor" }""");
        var shows = On(Sensor()).Points[P("T2")].Shows!;
        var as_device = On(Sensor().Device("probe", "resistor", """{ "1": "T2", "2": "GND" }""", """{ "ohm": 7.56, "use": "resistor" }"""));
        shows.LampToGround.Volts.ShouldBe(as_device.Points[P("T2")].Volts!.Value, 0.001);
        shows.LampToGround.Glow.ShouldBe(Glow.Dim);
        // What stands behind the point, from the two states: the drop that the lamp's own current makes.
        var open = On(Sensor()).Points[P("T2")].Volts!.Value;
        shows.SourceOhms.ShouldBe((open - shows.LampToGround.Volts) / (shows.LampToGround.Volts / 7.56), 0.01);
    }

    [Theory]
    [InlineData(2.0)]
    [InlineData(40.0)]
    public void A_transducer_that_feeds_itself_is_solved_or_has_no_state_and_never_takes_off(double restVolts)
    {
        var state = On(Powered().Device("q", "transducer", """{ "5V": "A", "ground": "G", "signal": "A" }""", FormattableString.Invariant($$"""{ "referenceVolts": 1, "restVolts": {{restVolts}}, "outputOhm": 1 }""")));
        state.Points.Values.ShouldAllBe(p => p.Volts == null || Math.Abs(p.Volts.Value) < 13);
        state.Wires.Values.ShouldAllBe(w => Math.Abs(w.Amps) < 1);
    }

    [Theory]
    [InlineData(KeyPosition.On, 25, true)]
    [InlineData(KeyPosition.On, 0.3, false)]
    [InlineData(KeyPosition.Start, 25, true)]
    public void A_battery_that_is_as_good_as_shorted_says_so(KeyPosition key, double siemens, bool told)
    {
        var state = Powered().Device("load", "resistor", """{ "1": "BAT", "2": "GND" }""", FormattableString.Invariant($$"""{ "ohm": {{1 / siemens}}, "use": "resistor" }"""))
            .States().At(Situation.At(key));
        state.Notes.Any(n => n.Contains("a short circuit, or as good as one", StringComparison.Ordinal)).ShouldBe(told && 12.6 / ((1 / siemens) + 0.01) > (key == KeyPosition.Start ? 500 : 200));
    }

    [Fact]
    public void A_ring_of_ideal_parts_with_a_source_in_it_has_no_state() =>
        On(new BenchLoom().Wire("BAT", "S").Wire("GND", "G").Battery("""{ "volts": 12.6, "milliohm": 0 }""")
            .Device("f", "fuse", """{ "1": "BAT", "2": "GND" }""", """{ "amps": 10, "milliohm": 0 }""")).NoState!.ShouldContain("would carry 12.6 MA");

    [Theory]
    [InlineData(new[] { 60e6, 60e6 }, false, true)]
    [InlineData(new[] { 150e6, 150e6 }, true, false)]
    [InlineData(new[] { 90e6 }, true, false)]
    [InlineData(new[] { 130e6 }, true, true)]
    public void A_point_floats_by_all_its_paths_together(double[] ohms, bool sideBySide, bool floats)
    {
        var loom = new BenchLoom().Wire("BAT", "S").Wire("GND", "G").Wire("X", "X2").Wire("M", "M2").Battery();
        for (var i = 0; i < ohms.Length; i++)
        {
            var (from, to) = sideBySide ? ("X", "G") : i == 0 ? ("X", "M") : ("M", "G");
            loom.Device($"r{i}", "resistor", $$"""{ "1": "{{from}}", "2": "{{to}}" }""", FormattableString.Invariant($$"""{ "ohm": {{ohms[i]}}, "use": "resistor" }"""));
        }

        On(loom).Points[P("X2")].Floats.ShouldBe(floats);
    }

    [Fact]
    public void An_island_of_many_points_floats_however_many_they_are()
    {
        var loom = new BenchLoom().Wire("BAT", "S").Wire("GND", "G").Battery();
        for (var i = 0; i < 40; i++)
        {
            loom.Wire("HUB", $"X{i}");
        }

        On(loom).Points.Where(p => p.Key.Connector.StartsWith('X')).ShouldAllBe(p => p.Value.Floats);
    }

    [Theory]
    [InlineData("ohm", "5e-324")]
    [InlineData("ohm", "1e-10")]
    [InlineData("ohm", """{ "min": 1e-30, "nominal": 1, "max": 2 }""")]
    public void Less_resistance_than_any_metal_has_is_refused(string field, string value) =>
        Powered().Device("d", "resistor", """{ "1": "S", "2": "G" }""", $$"""{ "{{field}}": {{value}} }""").Read()
            .Problems.ShouldContain(p => p.At == $"/devices/1/{field}" && p.Message.EndsWith("write 0, or at least 1 nΩ.", StringComparison.Ordinal));

    [Fact]
    public void A_plain_wire_with_a_diode_hanging_on_it_reads_as_a_plain_wire()
    {
        var loom = Powered().Device("d", "diode", """{ "anode": "A", "cathode": "C" }""").Loom();
        var table = FittedTable.For(loom, 20, CopperTolerance.Usual, new HashSet<string>(), new HashSet<string>());
        table.Between(P("A"), P("A2")).ThroughDiode.ShouldBeFalse();
        table.Between(P("A2"), P("C2")).ThroughDiode.ShouldBeTrue();
        var ring = Powered().Device("d", "diode", """{ "anode": "A", "cathode": "C" }""").Device("e", "diode", """{ "anode": "C2", "cathode": "A2" }""")
            .Device("r", "resistor", """{ "1": "A", "2": "S" }""", """{ "ohm": 2000, "use": "resistor" }""").Device("f", "diode", """{ "anode": "S", "cathode": "C" }""").Loom();
        FittedTable.For(ring, 20, CopperTolerance.Usual, new HashSet<string>(), new HashSet<string>()).Between(P("S"), P("A")).ThroughDiode.ShouldBeTrue("a way around leads through two diodes");
    }

    [Fact]
    public void Seven_hundred_wires_in_one_cavity_are_one_problem()
    {
        var file = Looms.Json([.. Enumerable.Range(0, 700).Select(i => "A:1-B:1")]);
        file["families"]![0]!["sealed"] = true;
        var reading = Looms.Read(file.ToJsonString());
        reading.Problems.Select(p => p.Message).ShouldAllBe(m => m.Length < 400);
        reading.Problems.Length.ShouldBe(2, "one for each of the two cavities");
    }

    [Fact]
    public void More_problems_than_anybody_reads_are_counted_by_kind()
    {
        var file = Looms.Json("A:1-B:1");
        file["wires"] = new JsonArray([.. Enumerable.Range(0, 5000).Select(_ => (JsonNode)new JsonObject())]);
        var problems = Looms.Read(file.ToJsonString()).Problems;
        problems.Length.ShouldBeLessThan(Json.ProblemList.MostShown + 21);
        problems.Take(Json.ProblemList.MostShown).ShouldAllBe(p => p.At.StartsWith("/wires/", StringComparison.Ordinal));
        problems.Skip(Json.ProblemList.MostShown).Sum(p => int.Parse(p.Message.Split(' ')[0], System.Globalization.NumberStyles.AllowThousands, System.Globalization.CultureInfo.InvariantCulture))
            .ShouldBe((5000 * 5) - Json.ProblemList.MostShown);
    }

    [Fact]
    public void A_list_that_is_longer_than_any_loom_is_refused_at_once()
    {
        var file = Looms.Json("A:1-B:1");
        file["wires"] = new JsonArray([.. Enumerable.Range(0, 50_001).Select(_ => (JsonNode?)null)]);
        Looms.Read(file.ToJsonString()).Problems.ShouldContain(p => p.At == "/wires" && p.Message.StartsWith("50,001 entries; at most 50,000", StringComparison.Ordinal));
    }
}
