using System.Collections.Immutable;
using System.Text;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Intake;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Tests;

/// <summary>Wires whose length or section nobody measured: what works with the range, and what says that it does not know.</summary>
public sealed class EstimatedCopperTests
{
    private static readonly Loom Cart = LoomIntake.Read(Encoding.UTF8.GetBytes("From,To\nECU:1,INJ1:1\nECU:2,INJ2:1\nECU:3,TEMP:1\n"), "cart.csv").Loom!;

    private static Diagnosed Find(params double?[] ohms) => new Diagnostician(Cart, Cart.AmbientC, CopperTolerance.Usual, FaultTally.None).Find(
        [.. Cart.Wires.Zip(ohms, (w, o) => Observation.Of(w.From.Point, w.To.Point, o))], Meter.BenchFourWire, TestContext.Current.CancellationToken);

    [Fact]
    public void What_the_range_of_a_length_explains_is_no_fault_and_a_break_is_found_all_the_same()
    {
        Find(0.02, 0.15, 0.09).Ranking[0].Faults.ShouldBeEmpty();
        Find(0.02, null, 0.09).Ranking[0].Faults.ShouldContain(new OpenFault(Cart.Wires[1].Id));
    }

    [Fact]
    public void Drops_states_and_the_power_up_say_which_figures_they_do_not_have()
    {
        var words = EstimatedCopper.InWords(Cart).ShouldNotBeNull();
        words.ShouldContain("3 of 3 (");
        var states = LoomStates.For(Cart, Cart.AmbientC).InAllPositions(withProbes: false).ToList();
        CableReport.Of(Cart, states).Flags.ShouldContain(f => f.Sentence == words);
        states.ShouldAllBe(s => s.Notes.Contains(words));
        PowerUpPlan.Of(Cart, BenchFit.AsDrawn, 20, School.Vehicle).Findings.ShouldContain(words);
        EstimatedCopper.InWords(Looms.FrostFan).ShouldBeNull();
    }
}
