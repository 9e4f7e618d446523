using System.Collections.Immutable;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;

namespace WiseLoom.Core.Tests;

/// <summary>Two faults in one circuit, where the first spoils what the second alone would explain.</summary>
public sealed class SpoiledBridgeTests
{
    /// <summary>Two splices on one ring, a feed that goes everywhere, and plugs that hold both.</summary>
    private static readonly Loom Shop = Looms.Of(
    [
        "S0-R:1@1700", "S1-R:1@1900", "S0-X0:1@730", "P:10-X0:2@370", "S5-F:1@1300",
        .. Enumerable.Range(1, 9).SelectMany(i => new[] { $"S1-X{i}:1@{500 + (131 * i)}", $"S5-X{i}:2@{600 + (173 * i)}", $"P:{i}-X{i}:3@{900 + (97 * i)}" }),
    ]);

    public static TheoryData<int, double> Bridges => new() { { 3, 0.88 }, { 7, 0.88 }, { 9, 0.2 } };

    /// <summary>The exchanged contact gives the ground's reading against all others a shorter way than the bridge: alone, no bridge explains it.</summary>
    [Theory]
    [MemberData(nameof(Bridges))]
    public void A_bridge_is_found_whose_reading_an_exchanged_contact_takes_over(int plug, double ohm)
    {
        ImmutableArray<Fault> hidden = [SwapFault.Of("X0", "1", "2"), new ShortFault($"X{plug}:1", $"X{plug}:2", ohm)];
        var played = new Trial(Shop, Bench.Plan(Shop, Isolation.Thorough, Meter.BenchFourWire)).Play(hidden, plug, TestContext.Current.CancellationToken);
        played.Found.ShouldBeTrue($"{played.FirstProbability}: {played.Sentence}");
    }

    [Fact]
    public void Places_beside_the_same_fault_are_worked_out_once_and_beside_another_anew()
    {
        var drawn = new DrawnLoom(Shop, Shop.AmbientC, CopperTolerance.Usual);
        var ways = new WaysBeside(drawn, new Evidence(drawn, Meter.BenchFourWire, []));
        var poor = new ResistiveFault("W1", 0.5);
        ways.Of([poor]).ShouldBeSameAs(ways.Of([poor with { Ohm = 0.5002 }]));
        ways.Of([poor]).ShouldNotBeSameAs(ways.Of([poor with { Ohm = 0.6 }]));
        ways.Of([poor]).ShouldNotBeSameAs(ways.Of([poor with { End = "to" }]));
        ways.Of([new ShortFault("P:1", "P:2", 0.1)]).ShouldBeSameAs(ways.Of([new ShortFault("P:2", "P:1", 0.1)]));
        ways.Of([new ShortFault("W1", "W6", 0.1) { AlongMm = [10, 20] }]).ShouldNotBeSameAs(ways.Of([new ShortFault("W1", "W6", 0.1) { AlongMm = [10, 30] }]));
        ways.Of([]).ShouldBeSameAs(ways.Of([]));
    }

    public static TheoryData<Fault, Fault, bool> Keys => new()
    {
        { new ResistiveFault("W1", 0.3) { End = "from" }, new ResistiveFault("W1", 40) { End = "to" }, true },
        { new ResistiveFault("W1", 0.3), new ResistiveFault("W2", 0.3), false },
        { new ShortFault("A:1", "A:2", 0), new ShortFault("A:2", "A:1", 3), true },
        { new ShortFault("W1", "W2", 0) { AlongMm = [1, 2] }, new ShortFault("W1", "W2", 0) { AlongMm = [3, 4] }, true },
        { new ShiftFault("A", ["1", "2"], 1), new ShiftFault("A", ["1", "2"], 1), true },
        { new ShiftFault("A", ["1", "2"], 1), new ShiftFault("A", ["1", "2"], -1), false },
        { new ShiftFault("A", ["1", "2"], 1), new ShiftFault("A", ["1", "3"], 1), false },
        { SwapFault.Of("A", "1", "2"), SwapFault.Of("A", "1", "2"), true },
        { SwapFault.Of("A", "1", "2"), SwapFault.Of("A", "1", "3"), false },
        { new OpenFault("W1"), new MissingFault("W1"), false },
        { new MisplacedFault("A", "1", "2"), new MisplacedFault("A", "1", "3"), false },
        { new MirroredFault("A"), new MirroredFault("B"), false },
    };

    [Theory]
    [MemberData(nameof(Keys))]
    public void A_fault_is_the_same_by_what_is_wrong_and_where_whatever_its_size(Fault one, Fault other, bool same) => (FaultKeys.Of(one) == FaultKeys.Of(other)).ShouldBe(same);

    [Fact]
    public void A_reading_has_its_places_as_they_are_drawn()
    {
        var drawn = new DrawnLoom(Shop, Shop.AmbientC, CopperTolerance.Usual);
        var between = Located.Of(drawn, Observation.Of(new("R", "1"), new ProbePoint("X3", "1"), 0.1));
        between.A[0].Net.ShouldBe(between.B![0].Net);
        between.AsDrawn!.Ohms.ShouldBe(drawn.AsDrawn(between.A[0].Net).Ohms(new ProbePoint("R", "1"), new ProbePoint("X3", "1"))!.Value);
        between.Touches(drawn.AsDrawn(between.A[0].Net)).ShouldBeTrue();
        between.Touches(drawn.AsDrawn(drawn.NetOf(new("P", "4")))).ShouldBeFalse();

        var others = Located.Of(drawn, Observation.Of(new("P", "4"), null, null));
        (others.B, others.AsDrawn).ShouldBe((null, null));
        others.Own.ShouldBe([drawn.NetOf(new("P", "4"))]);

        Located.Of(drawn, Observation.Of(new("P", "4"), new ProbePoint("P", "5"), null)).AsDrawn.ShouldBeNull();
        var joined = Located.Of(drawn, new([new("P", "4"), new("R", "1")], [new("X9", "1"), new("P", "5")], 0.1, false));
        joined.AsDrawn!.Ohms.ShouldBe(drawn.AsDrawn(joined.A[1].Net).Ohms(new ProbePoint("R", "1"), new ProbePoint("X9", "1"))!.Value);
    }
}
