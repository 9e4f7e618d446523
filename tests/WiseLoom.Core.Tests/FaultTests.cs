using System.Text.Json;
using CsCheck;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Tests;

/// <summary>Laws of the kinds of fault: each is written and read back, changes the loom it is put into (or says that it does not show), and points at places that are there.</summary>
public sealed class FaultTests
{
    private static readonly Loom Fan = Looms.FrostFan;

    private static readonly BenchRun OnFan = BenchRun.Begin(Fan, Bench.Plan(Looms.Of("A:1-B:1"), Planning.Isolation.Neighbours));

    private static readonly Loom Other = Renamed(Looms.Of("A:1-B:1", "A:2-B:2"));

    private static readonly Gen<Wire> Wires = Gen.OneOfConst([.. Fan.Wires]);

    private static readonly Gen<Connector> Large = Gen.OneOfConst([.. Fan.Connectors.Where(c => c.Family.Cavities.Length > 3)]);

    private static readonly Gen<string?> Ends = Gen.OneOfConst<string?>(null, "from", "to");

    private static readonly Gen<Fault> All = Gen.OneOf(
        Gen.Select(Wires, Ends, (w, e) => (Fault)new OpenFault(w.Id, e)),
        Gen.Select(Wires, Gen.Double[0.01, 50], Ends, (w, o, e) => (Fault)new ResistiveFault(w.Id, o, e)),
        Wires.Select(w => (Fault)new MissingFault(w.Id)),
        Gen.Select(Wires, Ends, (w, e) => (Fault)new IntermittentFault(w.Id, e)),
        Gen.Select(Large, Gen.Int[0, 2], Gen.Double[0, 5], (c, i, o) => (Fault)new ShortFault($"{c.Ref}:{c.Family.Cavities[i]}", $"{c.Ref}:{c.Family.Cavities[i + 1]}", o)),
        Gen.Select(Large, Gen.Int[0, 2], (c, i) => (Fault)SwapFault.Of(c.Ref, c.Family.Cavities[i], c.Family.Cavities[i + 1])),
        Gen.Select(Large, Gen.Int[0, 2], (c, i) => (Fault)new MisplacedFault(c.Ref, c.Family.Cavities[i], c.Family.Cavities[i + 1])),
        Gen.Select(Large, Gen.OneOfConst(1, -1), (c, by) => (Fault)new ShiftFault(c.Ref, [c.Family.Cavities[1], c.Family.Cavities[2]], by)),
        Large.Select(c => (Fault)new MirroredFault(c.Ref)),
        Gen.OneOfConst([.. Fan.Devices]).Select(d => (Fault)new DeviceFault(d.Ref, 3)));

    [Fact]
    public void A_fault_is_written_and_read_back_whatever_order_its_fields_come_in() => All.Sample(fault =>
    {
        var text = JsonSerializer.Serialize(fault, CoreJson.Options);
        var turned = JsonSerializer.Serialize(JsonSerializer.Deserialize<Dictionary<string, JsonElement>>(text)!.Reverse().ToDictionary(f => f.Key, f => f.Value));
        return JsonSerializer.Deserialize<Fault>(text, CoreJson.Options) == fault && JsonSerializer.Deserialize<Fault>(turned, CoreJson.Options) == fault;
    });

    [Fact]
    public void A_fault_points_at_places_that_the_loom_has_and_says_itself_in_words() => All.Sample(fault =>
        fault.Places(Fan).Any() && fault.Places(Fan).All(OnFan.IsPlace) && fault.Title(Fan).Length > 5 && fault.Why(Fan).EndsWith('.') && FixWork.All.Contains(fault.UsualFix()));

    [Fact]
    public void A_fault_that_names_nothing_of_the_loom_changes_nothing() => All.Sample(fault =>
    {
        var graph = new BuiltLoom(Other, [fault is ShortFault ? new ShortFault("Q:1", "Q:2", 0) : fault]).Graph(20, CopperTolerance.Usual);
        return new[] { "1", "2" }.All(c => graph.NetOf(new("A", c))!.Number == graph.NetOf(new("B", c))!.Number) && graph.NetOf(new("A", "1"))!.Number != graph.NetOf(new("A", "2"))!.Number;
    });

    [Theory]
    [InlineData("""{"kind":"melted","wire":"W1"}""")]
    [InlineData("""{"wire":"W1"}""")]
    [InlineData("""{"kind":"open","wire":"W1","wire":"W2"}""")]
    [InlineData("""{"kind":"resistive","wire":"W1","ohm":"much"}""")]
    [InlineData("5")]
    public void What_is_no_fault_is_not_read_as_one(string text) => Should.Throw<Exception>(() => JsonSerializer.Deserialize<Fault>(text, CoreJson.Options)).ShouldBeAssignableTo<Exception>();

    /// <summary>A run that was started with wide limits is ranked by wide limits: none of its passing readings speaks against the true cause.</summary>
    [Fact]
    public void A_cause_is_weighed_by_the_tolerances_of_its_run()
    {
        var wide = new CopperTolerance(0.4, 300, 20, 0.6);
        var plan = Planning.Planner.Plan(Fan, Planning.PlanTerms.Usual(Meter.BenchFourWire, Planning.Isolation.Neighbours, Fan.AmbientC, wide));
        var truth = new ResistiveFault(Fan.Wires[4].Id, 4);
        // Every wire is as far from its drawing as its limits let it be.
        var built = new BuiltLoom(Fan, [truth]).Graph(Fan.AmbientC, wide, (_, range) => range.Max);
        var bench = new Bench(Fan, plan);
        foreach (var step in plan.Steps)
        {
            double? shown = step.IsJoined ? built.NetOf(step.Black)!.Between(step.Black, step.Red!.Value, Corner.Nominal) : null;
            bench.Take(new(Guid.NewGuid(), step.Number, shown, true, "m", Bench.Start, bench.Run.LastEvent));
        }

        var only = Diagnosis.RunDiagnosis.Of(bench.Run, FaultTally.None, TestContext.Current.CancellationToken).Cases.ShouldHaveSingleItem();
        only.Causes[0].Faults.ShouldHaveSingleItem().ShouldBeOfType<ResistiveFault>().Wire.ShouldBe(truth.Wire);
        only.Causes[0].Sentence.ShouldNotContain("against");
    }

    /// <summary>A loom that has no wire of a name that another may have.</summary>
    private static Loom Renamed(Loom loom) => loom with { Wires = [.. loom.Wires.Select(w => w with { Id = $"other {w.Id}" })] };
}
