using CsCheck;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Practice;

namespace WiseLoom.Core.Tests;

/// <summary>Logs of toothed wheels and what they say.</summary>
public sealed class TriggerTests
{
    private static readonly TriggerWheel Wheel36 = new(TriggerKind.Inductive, 36, 1, 1, TriggerEdge.Falling);

    private static readonly TriggerWheel Wheel60 = new(TriggerKind.Inductive, 60, 2, 1, TriggerEdge.Rising);

    private static readonly TriggerWheel CamWheel = new(TriggerKind.Hall, 1, 0, 0.5, TriggerEdge.Rising) { SyncTooth = 11.5 };

    public static TheoryData<int, int> Wheels => new() { { 36, 1 }, { 60, 2 }, { 24, 1 }, { 58, 2 } };

    [Theory]
    [MemberData(nameof(Wheels))]
    public void A_wheel_that_is_as_the_loom_says_is_right_at_any_number_of_cylinders(int teeth, int missing)
    {
        var wheel = Wheel36 with { Teeth = teeth, Missing = missing };
        foreach (var cylinders in new[] { 3, 4, 6, 8 })
        {
            var judged = TriggerJudge.Of(Sensor(wheel), Log(wheel, cylinders: cylinders), 3000);
            judged.Findings.ShouldBeEmpty($"{teeth}−{missing}, {cylinders} cylinders");
            judged.Reversed.ShouldBe(false);
            judged.Rpm.ShouldBe(220, 6);
        }
    }

    [Theory]
    [MemberData(nameof(Wheels))]
    public void Two_wires_that_are_exchanged_are_told_from_the_gap(int teeth, int missing)
    {
        var wheel = Wheel36 with { Teeth = teeth, Missing = missing };
        var judged = TriggerJudge.Of(Sensor(wheel), Log(wheel, reversed: true), 3000);
        judged.Reversed.ShouldBe(true);
        judged.Findings.ShouldContain(f => f.Contains("two wires are exchanged"));
    }

    [Fact]
    public void Another_wheel_is_named_by_its_teeth() =>
        TriggerJudge.Of(Sensor(Wheel36), Log(Wheel36 with { Teeth = 24 }), 3000).Findings.ShouldHaveSingleItem().ShouldContain("24−1");

    [Fact]
    public void No_edge_few_edges_and_noise_are_each_said()
    {
        TriggerJudge.Of(Sensor(Wheel36), [], 3000).Findings.ShouldHaveSingleItem().ShouldContain("No edge came");
        TriggerJudge.Of(Sensor(Wheel36), [1000, 2000, 3000], 3000).Findings.ShouldHaveSingleItem().ShouldContain("Only 3 edges");
        TriggerJudge.Of(Sensor(Wheel60), Log(Wheel60, noise: 0.03), 3000).Findings.ShouldContain(f => f.Contains("too many"));
        var lost = Log(Wheel36).Where((_, i) => i % 50 != 17).ToList();
        TriggerJudge.Of(Sensor(Wheel36), lost, 3000).IsRight.ShouldBeFalse();
    }

    [Theory]
    [InlineData(0, true)]
    [InlineData(1, false)]
    [InlineData(-1, false)]
    [InlineData(2, false)]
    public void A_cam_over_a_tooth_is_told_with_its_number(double teeth, bool right)
    {
        var judged = TriggerJudge.Sync(Sensor(Wheel36), Log(Wheel36), Sensor(CamWheel), Log(CamWheel, Wheel36, sync: 11.5, cam: teeth));
        judged.IsRight.ShouldBe(right, string.Join(' ', judged.Findings));
        if (!right)
        {
            judged.Findings.ShouldHaveSingleItem().ShouldContain($"{Math.Abs(teeth)} {(Math.Abs(teeth) == 1 ? "tooth" : "teeth")} {(teeth > 0 ? "late" : "early")}");
        }
    }

    [Fact]
    public void Sync_without_a_gap_or_without_a_cam_says_so()
    {
        TriggerJudge.Sync(Sensor(Wheel36), [], Sensor(CamWheel), [1000]).IsRight.ShouldBeFalse();
        TriggerJudge.Sync(Sensor(Wheel36), Log(Wheel36), Sensor(CamWheel), []).Findings.ShouldHaveSingleItem().ShouldContain("No edge came");
    }

    [Theory]
    [InlineData(4)]
    [InlineData(6)]
    [InlineData(8)]
    public void Slow_places_are_counted(int cylinders)
    {
        var edges = Log(Wheel60, cylinders: cylinders);
        var slow = Compressions.Of(Wheel60, edges, TriggerJudge.Of(Sensor(Wheel60), edges, 3000).Gaps);
        slow.Cylinders.ShouldBe(cylinders);
        slow.WeakOnes.ShouldBeEmpty();
    }

    [Fact]
    public void Any_edges_in_their_order_are_judged_without_breaking() => Gen.Double[0, 3e6].Array[0, 400].Sample(
        times =>
        {
            var edges = times.Order().ToArray();
            TriggerJudge.Of(Sensor(Wheel36), edges, 3000).IsRight.ShouldBe(TriggerJudge.Of(Sensor(Wheel36), edges, 3000).Findings.IsEmpty);
            _ = TriggerJudge.Sync(Sensor(Wheel36), edges, Sensor(CamWheel), edges);
            _ = Compressions.Of(Wheel36, edges, TriggerJudge.Of(Sensor(Wheel36), edges, 3000).Gaps);
        },
        iter: 300);

    [Theory]
    [InlineData(0.0)]
    [InlineData(90_000.0)]
    [InlineData(double.NaN)]
    public void A_log_that_cannot_be_is_refused(double ms) => new TriggerLog(System.Collections.Immutable.ImmutableSortedDictionary<string, System.Collections.Immutable.ImmutableArray<double>>.Empty, ms).Wrong().ShouldNotBeNull();

    private static Device Sensor(TriggerWheel wheel) => Looms.FrostFan.Devices.First(d => d.Ref == "crank-sensor") with { Trigger = wheel };

    private static System.Collections.Immutable.ImmutableArray<double> Log(TriggerWheel wheel, TriggerWheel? crank = null, bool reversed = false, double? sync = null, double cam = 0, double noise = 0, int cylinders = 8) =>
        SimulatedTriggers.Edges(wheel, crank, sync, reversed, 3000, cylinders, new(cam, noise), new Random(5));
}
