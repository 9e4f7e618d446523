using CsCheck;
using WiseLoom.Bench;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Tests;

/// <summary>Why a point shows what it shows: the way of its current hangs together and its words agree with the figures.</summary>
public sealed class ExplanationTests
{
    private static PointExplanation Of(BenchLoom loom, string plug, KeyPosition key = KeyPosition.On) => loom.States().Explain(Situation.At(key), new(plug, "1"));

    private static string Words(PointExplanation explanation) => string.Join(" ", explanation.Sentences);

    [Fact]
    public void The_way_to_a_point_and_on_from_it_hangs_together_in_any_loom() => Gen.Select(Gen.Int[1, 500], Gen.Int[0, 10_000], Gen.Enum<KeyPosition>()).Sample(
        (seed, which, key) =>
        {
            var loom = PoweredLoom.Loom(40, 12, seed);
            var states = LoomStates.For(loom, 20);
            var state = states.At(Situation.At(key), withProbes: false);
            var point = state.Points.Keys.ElementAt(which % state.Points.Count);
            var told = states.Explain(Situation.At(key), point);
            told.Sentences.ShouldNotBeEmpty();
            told.Sentences.ShouldAllBe(s => s.EndsWith('.') && !s.Contains("NaN", StringComparison.Ordinal) && !s.Contains("  ", StringComparison.Ordinal));
            foreach (var way in new[] { told.FromSource, told.ToGround })
            {
                way.ShouldAllBe(p => p.Amps >= 0 && p.From != p.To);
                way.ShouldAllBe(p => (p.Wire == null) != (p.Device == null));
                way.Select(p => (p.From, p.To)).ShouldBeUnique();
                // Neighbours on a way share a node.
                way.Zip(way.Skip(1)).ShouldAllBe(x => new[] { x.First.From, x.First.To }.Intersect(new[] { x.Second.From, x.Second.To }).Any());
            }

            foreach (var wire in told.FromSource.Concat(told.ToGround).Where(p => p.Wire is not null && p.Amps > 0))
            {
                wire.Amps.ShouldBe(Math.Abs(state.Wires[wire.Wire!].Amps), 1e-6);
            }

            (told.State!.Volts is null).ShouldBe(told.FromSource.IsEmpty && told.ToGround.IsEmpty && Words(told).StartsWith("Floats", StringComparison.Ordinal));
        },
        iter: 300);

    [Fact]
    public void A_current_is_followed_from_the_battery_through_every_part_to_ground()
    {
        var loom = new BenchLoom().Wire("BAT", "F1").Wire("F2", "L1").Wire("L2", "GND").Battery()
            .Device("f1", "fuse", """{ "1": "F1", "2": "F2" }""", """{ "title": "Lamp fuse", "amps": 10 }""")
            .Device("lamp", "resistor", """{ "1": "L1", "2": "L2" }""", """{ "title": "Work lamp", "ohm": 6, "use": "lamp" }""");
        var told = Of(loom, "L1");
        told.FromSource.Select(p => p.Wire ?? p.Device).ShouldBe(["W1", "f1", "W2"]);
        told.ToGround.Select(p => p.Wire ?? p.Device).ShouldBe(["lamp", "W3"]);
        told.FromSource.Concat(told.ToGround).ShouldAllBe(p => Math.Abs(p.Amps - 2.08) < 0.02);
        Words(told).ShouldContain("comes from Lamp fuse and goes on through Work lamp");
        Words(Of(loom, "L2")).ShouldContain("comes from Lamp fuse, Work lamp and goes to ground");
    }

    [Theory]
    [InlineData("A", "Reads supply; nothing takes current from it.")]
    [InlineData("G", "Reads ground; no current flows.")]
    [InlineData("M", "it lies between 1.02 kΩ to its source and 3.02 kΩ to ground", false)]
    [InlineData("X", "Floats: nothing leads from here to the battery.")]
    [InlineData("Y", "Floats: Door is open, and nothing else leads from here to the battery.")]
    public void A_point_without_current_says_what_holds_it(string plug, string words, bool whole = true)
    {
        var loom = new BenchLoom().Wire("BAT", "A").Wire("GND", "G").Wire("M", "M2").Wire("X", "X2").Wire("Y", "Y2").Battery()
            .Device("up", "resistor", """{ "1": "A", "2": "M" }""", """{ "ohm": 1e6, "use": "resistor" }""")
            .Device("down", "resistor", """{ "1": "M2", "2": "G" }""", """{ "ohm": 3e6, "use": "resistor" }""")
            .Device("door", "switch", """{ "1": "Y", "2": "A" }""", """{ "title": "Door", "closedWhen": "open" }""");
        var told = Words(Of(loom, plug));
        if (whole)
        {
            told.ShouldContain(words);
        }
        else
        {
            told.ShouldContain("1.00 MΩ to its source and 3.00 MΩ to ground");
        }
    }

    [Fact]
    public void A_state_that_cannot_be_has_no_explanation_but_says_so()
    {
        var loom = new BenchLoom().Wire("BAT", "FAR", 0).Wire("GND", "END", 0).Battery("""{ "volts": 12.6, "milliohm": 0 }""")
            .Device("second", "battery", """{ "+": "FAR", "-": "END" }""", """{ "volts": 24, "milliohm": 0 }""");
        var told = Of(loom, "FAR");
        told.State.ShouldBeNull();
        told.Sentences.ShouldBe(["There is no state in this key position."]);
    }
}
