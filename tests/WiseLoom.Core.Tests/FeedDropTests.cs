using WiseLoom.Core.States;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;

namespace WiseLoom.Core.Tests;

/// <summary>A feed from a key terminal that is off while the engine cranks, with what hangs on it.</summary>
public sealed class FeedDropTests
{
    [Theory]
    [InlineData("coil", true, 1000, 12, "is dead")] // It must work while the engine cranks.
    [InlineData("injector", true, 1000, 12, "is dead")]
    [InlineData("lamp", true, 1000, 12, null)] // Nobody needs it then.
    [InlineData("coil", false, 1000, 12, null)] // The terminal stays on.
    [InlineData("coil", false, 60_000, 6, null)] // A seventh less, but there.
    [InlineData("coil", true, 60_000, 0.4, null)] // It never had enough to work: that is no drop.
    public void What_must_work_while_cranking_and_loses_its_feed_is_named(string use, bool drops, double lengthMm, double ohms, string? said)
    {
        var start = drops ? """["B", "ST"]""" : """["B", "IGN", "ST"]""";
        var loom = new BenchLoom().Battery("""{ "volts": 12.6, "startVolts": 10, "runningVolts": 14 }""").Wire("BAT", "K1").Wire("K2", "P", lengthMm).Wire("Q", "GND").Wire("K3", "S")
            .Device("key", "key", """{ "B": "K1", "IGN": "K2", "ST": "K3" }""", $$"""{ "joins": { "on": ["B", "IGN"], "start": {{start}}, "running": ["B", "IGN"] } }""")
            .Device("part", "resistor", """{ "1": "P", "2": "Q" }""", FormattableString.Invariant($$"""{ "ohm": {{ohms}}, "use": "{{use}}" }""")).Loom();
        var fed = loom with { Wires = [.. loom.Wires.Select(w => w with { Role = WireRole.Feed })] };
        var findings = PowerUpPlan.Of(fed, BenchFit.AsDrawn, 20, School.Vehicle).Findings.Where(f => f.Contains("drops while", StringComparison.Ordinal)).ToList();
        if (said is null)
        {
            findings.ShouldBeEmpty();
        }
        else
        {
            findings.ShouldHaveSingleItem().ShouldContain(said);
        }
    }

    [Theory]
    [InlineData("K2", "loses one of its supplies")] // Its other one is the battery: it stays awake.
    [InlineData("K1", null)]
    public void A_controller_that_stays_awake_on_its_other_supply_is_named(string second, string? said)
    {
        var loom = new BenchLoom().Battery("""{ "volts": 12.6, "startVolts": 10, "runningVolts": 14 }""").Wire("BAT", "K1").Wire("BAT", "P").Wire("K2", "X").Wire(second, "Q").Wire("G", "GND").Wire("K3", "S")
            .Device("key", "key", """{ "B": "K1", "IGN": "K2", "ST": "K3" }""", """{ "joins": { "on": ["B", "IGN"], "start": ["B", "ST"], "running": ["B", "IGN"] } }""")
            .Device("ecu", "controller", """{ "s": "P", "t": "Q", "g": "G" }""", """{ "roles": { "s": { "role": "supply" }, "t": { "role": "supply" }, "g": { "role": "ground" } } }""").Loom();
        var fed = loom with { Wires = [.. loom.Wires.Select(w => w with { Role = WireRole.Feed })] };
        var findings = PowerUpPlan.Of(fed, BenchFit.AsDrawn, 20, School.Vehicle).Findings.Where(f => f.Contains("drops while", StringComparison.Ordinal));
        findings.Any(f => f.Contains(said ?? "", StringComparison.Ordinal)).ShouldBe(said is not null);
    }
}
