using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>Smaller parts of the pack: what is grouped, what is left over, what a part measures by itself, in which order all goes in.</summary>
public sealed class PackDetailTests
{
    public static TheoryData<string> Demos => new("frost-fan.json", "work-launch.json");

    [Theory]
    [MemberData(nameof(Demos))]
    public void Stops_that_are_alike_are_each_told_once_and_a_group_stands_where_its_first_does(string demo)
    {
        var walk = WalkStop.Of(Looms.Demo(demo), 20, CopperTolerance.Usual, withReadings: false);
        var groups = AlikeStops.Of(walk);
        groups.SelectMany(g => g.Stops).Select(s => s.Number).ShouldBe(walk.Select(s => s.Number), ignoreOrder: true);
        groups.Select(g => g.Stops[0].Number).ShouldBeInOrder();
        groups.ShouldAllBe(g => g.Stops.Length == 1 || g.Stops.Length >= 3);
        groups.ShouldAllBe(g => g.Stops.Select(s => s.Connector.Family.Id).Distinct().Count() == 1);
        groups.ShouldAllBe(g => g.Stops.Select(s => s.Number).Order().SequenceEqual(g.Stops.Select(s => s.Number)));
    }

    [Fact]
    public void The_eight_injectors_of_the_fan_share_one_drawing() =>
        AlikeStops.Of(WalkStop.Of(Looms.FrostFan, 20, CopperTolerance.Usual, withReadings: false)).ShouldContain(g => g.Stops.Length == 8 && g.Stops.All(s => s.Connector.Ref.StartsWith("INJ", StringComparison.Ordinal)));

    [Theory]
    [MemberData(nameof(Demos))]
    public void What_is_told_as_unused_has_nothing_plugged_in_or_no_wire(string demo)
    {
        var loom = Looms.Demo(demo);
        foreach (var option in OptionCircuits.Of(loom))
        {
            var connector = loom.Connectors.Single(c => option.Where.StartsWith($"{c.Ref}, ", StringComparison.Ordinal));
            (loom.DevicesOn(connector.Ref).Any() ? option.Words.StartsWith("Cavities without a wire: ", StringComparison.Ordinal) : option.Words.Contains("Nothing that the loom’s file names is plugged in here.", StringComparison.Ordinal)).ShouldBeTrue(option.Words);
        }

        // And every plug with wires that nothing meets is told.
        var bare = loom.Connectors.Where(c => !loom.DevicesOn(c.Ref).Any() && c.Family.Cavities.Any(x => loom.WiresAt(new(c.Ref, x)).Any())).ToList();
        OptionCircuits.Of(loom).Count(o => bare.Exists(c => o.Where.StartsWith($"{c.Ref}, ", StringComparison.Ordinal))).ShouldBe(bare.Count);
    }

    [Theory]
    [MemberData(nameof(Demos))]
    public void What_a_part_measures_by_itself_is_told_at_both_of_its_pins(string demo)
    {
        var loom = Looms.Demo(demo);
        var ohms = PartOhms.Of(loom, 20);
        ohms.ShouldNotBeEmpty();
        foreach (var (point, words) in ohms)
        {
            words.ShouldStartWith("the part itself, plug off: ");
            var far = words.Split(" – ")[1].Split(',')[0];
            ProbePoint.TryParse(far, out var other).ShouldBeTrue(words);
            other.Connector.ShouldBe(point.Connector);

            // Of a common pin three are told.
            (ohms[other].Contains($" – {point}", StringComparison.Ordinal) || ohms[other].Split(" – ").Length == 4).ShouldBeTrue(ohms[other]);
        }
    }

    [Fact]
    public void An_injector_measures_its_coil_and_a_switch_or_a_controller_nothing()
    {
        var loom = Looms.FrostFan;
        var ohms = PartOhms.Of(loom, 20);
        var injector = loom.Devices.First(d => d.Model is LoadModel { Use: "injector" });
        injector.Pins.Values.Count(ohms.ContainsKey).ShouldBe(2);
        var others = loom.Devices.Where(d => d.Model is not ControllerModel).SelectMany(d => d.Pins.Values).ToHashSet();
        loom.Devices.Where(d => d.Model is ControllerModel).SelectMany(d => d.Pins.Values).Where(p => !others.Contains(p)).ShouldAllBe(p => !ohms.ContainsKey(p));
    }

    [Theory]
    [MemberData(nameof(Demos))]
    public void A_loom_goes_in_through_holes_first_grounds_before_plugs_and_the_supply_last(string demo)
    {
        var loom = Looms.Demo(demo);
        var order = FittingOrder.Of(loom);
        int At(string begins) => Array.FindIndex([.. order], l => l.StartsWith(begins, StringComparison.Ordinal));
        At("Battery off.").ShouldBe(0);
        int[] places = [At("Lead through the hole"), At("Bolt the ground rings"), At("Push the plugs on"), At("Controller last of the plugs"), At("Supply last of all")];
        places.Where(p => p >= 0).ShouldBeInOrder();
        places.Count(p => p >= 0).ShouldBeGreaterThanOrEqualTo(4);
        order[^1].ShouldStartWith("Supply last of all");
        order.ShouldAllBe(l => l.Length > 0);
    }

    [Fact]
    public void Many_plugs_are_named_as_far_as_a_line_bears_it()
    {
        var loom = Looms.Of([.. Enumerable.Range(1, 40).Select(i => $"A{i}:1-B{i}:1")]);
        FittingOrder.Of(loom).ShouldContain(l => l.Contains(" and 66 more", StringComparison.Ordinal));
    }

    [Fact]
    public void A_loom_of_two_plugs_has_an_order_without_holes_rings_or_supply()
    {
        var order = FittingOrder.Of(Looms.Of("A:1-B:1"));
        order.Length.ShouldBe(2);
        order[1].ShouldContain("A, B");
    }
}
