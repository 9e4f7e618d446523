using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Tests;

/// <summary>Drops, warmth and fuses.</summary>
public sealed class CableTests
{
    [Theory]
    [InlineData(1, 1, 14)]
    [InlineData(1, 4, 11.2)]
    [InlineData(2.5, 1, 26)]
    [InlineData(2.5, 100, 11.7)]
    public void A_wire_carries_what_its_section_and_its_neighbours_allow(double mm2, int bundle, double amps) =>
        CableLimits.Usual.Amps(Section.FromMm2(mm2), bundle).ShouldBe(amps, 1e-9);

    [Fact]
    public void A_larger_section_never_carries_less_and_at_its_limit_a_wire_warms_by_the_whole_allowance()
    {
        var last = 0.0;
        for (var mm2 = 0.1; mm2 < 120; mm2 *= 1.1)
        {
            var amps = CableLimits.Usual.Amps(Section.FromMm2(mm2), 1);
            amps.ShouldBeGreaterThan(last);
            CableLimits.Usual.Rise(amps, Section.FromMm2(mm2), 1).ShouldBe(CableLimits.RiseK, 1e-9);
            last = amps;
        }
    }

    [Fact]
    public void A_fuse_larger_than_the_wire_behind_it_is_named() =>
        Report(fuseAmps: 30, loadOhms: 12).Flags.ShouldContain(f => f.About == "fuse" && f.Sentence.Contains("larger than W2 behind it can carry: 1 mm² carries 14.0 A"));

    [Theory]
    [InlineData(13.5, false)]
    [InlineData(14.5, true)]
    [InlineData(20, true)]
    public void A_fuse_may_be_as_large_as_the_wire_carries_and_no_larger(double amps, bool named) =>
        Report(amps, loadOhms: 12).Flags.Any(f => f.Sentence.Contains("can carry")).ShouldBe(named);

    /// <summary>The thinnest wire that the fuse's current can go through counts, also behind a closed contact.</summary>
    [Theory]
    [InlineData("switch", """{ "1": "C1", "2": "C2" }""", """{ "closedWhen": "pressed" }""")]
    [InlineData("relay", """{ "contact in": "C1", "contact out": "C2", "coil+": "F2", "coil-": "GND" }""", """{ "coilOhm": 90, "pullInVolts": 7, "dropOutVolts": 2 }""")]
    public void The_thinnest_wire_behind_a_fuse_is_what_it_must_protect(string kind, string pins, string fields)
    {
        var loom = new BenchLoom().Battery().Wire("BAT", "F1").Wire("F2", "C1").Wire("C2", "L1").Wire("L2", "GND")
            .Device("fuse", "fuse", """{ "1": "F1", "2": "F2" }""", """{ "amps": 20 }""").Device("contact", kind, pins, fields)
            .Device("load", "resistor", """{ "1": "L1", "2": "L2" }""", """{ "ohm": 12 }""").Loom();
        double[] mm2 = [6, 6, 0.35, 6];
        loom = loom with { Wires = [.. loom.Wires.Select((w, i) => w with { Section = Section.FromMm2(mm2[i]) })] };
        CableReport.Of(loom, LoomStates.For(loom, loom.AmbientC).InAllPositions(withProbes: false)).Flags.ShouldContain(f => f.About == "fuse" && f.Sentence.Contains("larger than W3 behind it"));
    }

    [Fact]
    public void A_load_near_its_fuses_rating_is_named() =>
        Report(fuseAmps: 5, loadOhms: 2.7).Flags.ShouldContain(f => f.About == "fuse" && f.Sentence.Contains("more than 80% of its rating"));

    [Fact]
    public void A_wire_that_loses_too_much_or_gets_too_hot_is_named()
    {
        var report = Report(fuseAmps: 10, loadOhms: 0.5, lengthMm: 3000);
        report.Wires.Single(w => w.Wire == "W2").Rise.ShouldBe(RiseClass.TooHot);
        report.Flags.ShouldContain(f => f.About == "W2" && f.Sentence.Contains("may carry"));
    }

    [Fact]
    public void A_sound_circuit_has_nothing_to_look_at() => Report(fuseAmps: 10, loadOhms: 12).Flags.ShouldBeEmpty();

    [Fact]
    public void Battery_power_that_leads_past_every_fuse_is_named()
    {
        var loom = Circuit(10, 12, 1000).Wire("BAT", "OPEN").Loom();
        CableReport.Of(loom, LoomStates.For(loom, loom.AmbientC).InAllPositions(withProbes: false)).Flags.ShouldContain(f => f.About == "W4" && f.Sentence.Contains("no fuse before it"));
    }

    [Fact]
    public void Sensor_grounds_are_held_to_one_percent()
    {
        var loom = new BenchLoom().Wire("BAT", "S").Wire("GND", "G").Wire("SG", "FAR", 60_000).Wire("BAT", "L").Battery()
            .Device("ecu", "controller", """{ "s": "S", "g": "G", "sg": "SG" }""", """{ "roles": { "s": { "role": "supply" }, "g": { "role": "ground" }, "sg": { "role": "sensorGround" } } }""")
            .Device("load", "resistor", """{ "1": "L", "2": "FAR" }""", """{ "ohm": 60 }""").Loom();
        CableReport.Of(loom, LoomStates.For(loom, loom.AmbientC).InAllPositions(withProbes: false)).Flags.ShouldContain(f => f.About == "W3" && f.Sentence.Contains("a sensor ground may lose 1%"));
    }

    private static CableReport Report(double fuseAmps, double loadOhms, double lengthMm = 1000)
    {
        var loom = Circuit(fuseAmps, loadOhms, lengthMm).Loom();
        return CableReport.Of(loom, LoomStates.For(loom, loom.AmbientC).InAllPositions(withProbes: false));
    }

    private static BenchLoom Circuit(double fuseAmps, double loadOhms, double lengthMm) => new BenchLoom()
        .Wire("BAT", "F1").Wire("F2", "L1", lengthMm).Wire("L2", "GND", lengthMm).Battery()
        .Device("fuse", "fuse", """{ "1": "F1", "2": "F2" }""", FormattableString.Invariant($$"""{ "amps": {{fuseAmps}} }"""))
        .Device("load", "resistor", """{ "1": "L1", "2": "L2" }""", FormattableString.Invariant($$"""{ "ohm": {{loadOhms}} }"""));
}
