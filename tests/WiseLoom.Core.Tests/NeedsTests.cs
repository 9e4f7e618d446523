using WiseLoom.Core.Devices;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Tests;

/// <summary>What each function of a loom cannot do without.</summary>
public sealed class NeedsTests
{
    private static FunctionNeeds Of(BenchLoom loom, string name) => FunctionNeeds.Of(loom.States()).Single(n => n.Name == name);

    /// <summary>A pump behind a fuse and a relay; the relay's coil hangs on the ignition.</summary>
    private static BenchLoom Pump() => new BenchLoom()
        .Wire("BAT", "F1").Wire("F2", "IN").Wire("OUT", "P1").Wire("GND", "P2").Wire("BAT", "KB").Wire("IGN", "C1").Wire("GND", "C2").Battery()
        .Device("key", "key", """{ "B": "KB", "IGN": "IGN" }""", """{ "title": "Key", "joins": { "on": ["B", "IGN"], "start": ["B", "IGN"] } }""")
        .Device("f1", "fuse", """{ "1": "F1", "2": "F2" }""", """{ "title": "Pump fuse", "amps": 15 }""")
        .Device("k1", "relay", """{ "coil+": "C1", "coil-": "C2", "contact in": "IN", "contact out": "OUT" }""", """{ "title": "Pump relay" }""")
        .Device("spare", "resistor", """{ "1": "IGN", "2": "C2" }""", """{ "title": "Spare lamp", "ohm": 100, "use": "lamp" }""")
        .Device("pump", "motor", """{ "+": "P1", "-": "P2" }""", """{ "title": "Pump", "ohm": 3 }""");

    [Fact]
    public void A_pump_needs_its_battery_key_fuse_and_relay_and_nothing_else()
    {
        var needs = Of(Pump(), "Pump runs");
        needs.Positions.ShouldBe([KeyPosition.On, KeyPosition.Start, KeyPosition.Running]);
        needs.Devices.Order().ShouldBe(["Key", "Pump fuse", "Pump relay", "battery"], ignoreOrder: true);
        (needs.Condition, needs.Output).ShouldBe((null, null));
    }

    [Fact]
    public void A_second_way_makes_neither_of_the_two_needed()
    {
        var needs = Of(Pump().Device("bypass", "fuse", """{ "1": "F1", "2": "F2" }""", """{ "title": "Second fuse", "amps": 15 }"""), "Pump runs");
        needs.Devices.ShouldNotContain("Pump fuse");
        needs.Devices.ShouldNotContain("Second fuse");
        needs.Devices.ShouldContain("Pump relay");
    }

    [Fact]
    public void What_needs_a_switch_names_its_condition()
    {
        var loom = new BenchLoom().Wire("BAT", "S1").Wire("S2", "L1").Wire("GND", "L2").Battery()
            .Device("lights", "switch", """{ "1": "S1", "2": "S2" }""", """{ "title": "Light switch", "closedWhen": "light wanted" }""")
            .Device("lamp", "resistor", """{ "1": "L1", "2": "L2" }""", """{ "title": "Work lamp", "ohm": 6, "use": "lamp" }""");
        var needs = Of(loom, "Work lamp lights");
        needs.Condition.ShouldBe("light wanted");
        needs.Positions.ShouldBe(KeyPositions.All);
        needs.Devices.ShouldBe(["battery", "Light switch"], ignoreOrder: true);
    }

    [Fact]
    public void What_a_controller_brings_about_at_its_moment_names_the_output()
    {
        var loom = new BenchLoom().Wire("BAT", "S").Wire("GND", "G").Wire("BAT", "I1").Wire("I2", "O").Battery()
            .Device("ecu", "controller", """{ "s": "S", "g": "G", "o": "O" }""", """
                { "title": "Controller", "roles": { "s": { "role": "supply" }, "g": { "role": "ground" }, "o": { "role": "lowSide", "output": "Injector 1", "pulsed": true } } }
                """)
            .Device("inj", "resistor", """{ "1": "I1", "2": "I2" }""", """{ "title": "Injector 1", "ohm": 12, "use": "injector" }""");
        var needs = Of(loom, "Injector 1 fires");
        needs.Output.ShouldBe("Injector 1");
        needs.Devices.ShouldBe(["battery", "Controller"], ignoreOrder: true);
    }

    [Fact]
    public void What_can_never_be_had_needs_nothing_that_could_be_named()
    {
        var needs = Of(new BenchLoom().Wire("BAT", "L1").Wire("X", "L2").Wire("GND", "Y").Battery()
            .Device("lamp", "resistor", """{ "1": "L1", "2": "L2" }""", """{ "title": "Lamp", "ohm": 6, "use": "lamp" }"""), "Lamp lights");
        needs.Positions.ShouldBeEmpty();
        needs.Devices.ShouldBeEmpty();
    }

    [Fact]
    public void Each_function_of_the_demo_looms_can_be_had_and_without_its_battery_none_can()
    {
        foreach (var loom in new[] { Looms.FrostFan, Looms.WorkLaunch })
        {
            var battery = loom.Devices.First(d => d.Model is BatteryModel).Title;
            foreach (var needs in FunctionNeeds.Of(LoomStates.For(loom, loom.AmbientC)))
            {
                needs.Positions.ShouldNotBeEmpty(needs.Name);
                needs.Devices.ShouldContain(battery, needs.Name);
            }
        }
    }
}
