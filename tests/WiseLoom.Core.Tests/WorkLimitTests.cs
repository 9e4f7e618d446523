using WiseLoom.Bench;
using WiseLoom.Core.Electrical;

namespace WiseLoom.Core.Tests;

public sealed class WorkLimitTests
{
    [Fact]
    public void A_loom_is_too_large_from_the_first_wire_over()
    {
        var loom = Looms.FrostFan;
        WorkLimit.TooManyWires(loom, loom.Wires.Length).ShouldBeNull();
        WorkLimit.TooManyWires(loom, loom.Wires.Length - 1)!.ShouldStartWith($"This loom has {loom.Wires.Length} wires; this is worked out for looms of up to {loom.Wires.Length - 1}.");
    }

    [Theory]
    [InlineData(4000, false)]
    [InlineData(4040, true)]
    public void A_net_is_too_large_from_the_first_place_over_and_is_named(int cavities, bool tooLarge)
    {
        var nets = WireGraph.Topology(GeneratedLoom.OneMesh(cavities, cavities + 20, 3)).Nets;
        var why = WorkLimit.TooLargeNet(nets, "Wires join");
        (why is not null).ShouldBe(tooLarge);
        if (tooLarge)
        {
            why!.ShouldStartWith($"Wires join 4,040 places of this loom into one net, {nets[0].Points[0]} among them");
        }
    }
}
