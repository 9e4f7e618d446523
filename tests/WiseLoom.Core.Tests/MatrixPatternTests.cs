using System.Collections.Immutable;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Tests;

/// <summary>Figures in the matrix: found where contacts stand elsewhere, named, and never where something else is wrong.</summary>
public sealed class MatrixPatternTests
{
    private static readonly Loom Row = Looms.Of("A:1-B:1", "A:2-B:2", "A:3-B:3", "A:4-B:4", "C:6-D:6", "C:7-D:7", "C:8-D:8", "C:9-D:9", "C:10-D:10");

    public static TheoryData<string, CavityFault> Figures => new()
    {
        { "exchanged", SwapFault.Of("A", "1", "3") },
        { "one place along", new ShiftFault("A", ["2", "3", "4"], 1) },
        { "one place along", new ShiftFault("A", ["1", "2", "3", "4"], 1) },
        { "wrong face", new MirroredFault("C") },
    };

    [Theory]
    [MemberData(nameof(Figures))]
    public void Contacts_that_stand_elsewhere_draw_a_figure_with_their_name(string word, CavityFault hidden)
    {
        var found = Patterns(Bench.Measured(Row, Bench.Plan(Row, Isolation.Neighbours), hidden));
        found.ShouldHaveSingleItem();
        found[0].Fault.Connector.ShouldBe(hidden.Connector);
        found[0].Name.ShouldContain(word);
        found[0].Steps.Length.ShouldBeGreaterThanOrEqualTo(2);
        found[0].Cells.ShouldNotBeEmpty();
        found[0].Sentence.ShouldContain("reads");
    }

    [Fact]
    public void An_exchange_is_two_points_off_the_diagonal() =>
        Patterns(Bench.Measured(Row, Bench.Plan(Row, Isolation.Neighbours), SwapFault.Of("A", "1", "3")))[0].Cells.Select(c => $"{c.A} {c.B}").ShouldBe(["A:3 B:1", "A:1 B:3"], ignoreOrder: true);

    [Fact]
    public void A_run_one_place_along_is_a_second_diagonal() =>
        Patterns(Bench.Measured(Row, Bench.Plan(Row, Isolation.Neighbours), new ShiftFault("A", ["2", "3", "4"], 1)))[0].Cells.Select(c => $"{c.A} {c.B}").ShouldBe(["A:3 B:2", "A:4 B:3", "A:5 B:4"], ignoreOrder: true);

    public static TheoryData<ImmutableArray<Fault>> Others => new()
    {
        ImmutableArray<Fault>.Empty,
        ImmutableArray.Create<Fault>(new OpenFault("W1", null)),
        ImmutableArray.Create<Fault>(new OpenFault("W1", null), new OpenFault("W2", null)),
        ImmutableArray.Create<Fault>(new ShortFault("A:1", "A:2", 0.2)),
        ImmutableArray.Create<Fault>(new ResistiveFault("W3", 4)),
    };

    [Theory]
    [MemberData(nameof(Others))]
    public void What_is_wrong_otherwise_draws_none(ImmutableArray<Fault> hidden) => Patterns(Bench.Measured(Row, Bench.Plan(Row, Isolation.Neighbours), [.. hidden])).ShouldBeEmpty();

    [Fact]
    public void On_the_frost_fan_every_exchange_of_neighbours_in_a_controller_plug_is_named()
    {
        var loom = Looms.FrostFan;
        var plan = Bench.Plan(loom, Isolation.Neighbours);
        var nets = WireGraph.Topology(loom);
        var plug = loom.Connectors.First(c => c.Ref == "ECU-A");
        var row = plug.Family.Rows[0].OfType<string>().Where(c => nets.NetOf(new("ECU-A", c)) is not null).ToList();
        foreach (var (one, other) in row.Zip(row.Skip(1)).Where(p => nets.NetOf(new("ECU-A", p.First))!.Number != nets.NetOf(new("ECU-A", p.Second))!.Number))
        {
            var hidden = SwapFault.Of("ECU-A", one, other);
            Patterns(Bench.Measured(loom, plan, hidden)).ShouldContain(p => p.Fault.Equals(hidden), $"{one} and {other}");
        }
    }

    [Fact]
    public void Two_figures_at_two_plugs_are_both_named() =>
        Patterns(Bench.Measured(Row, Bench.Plan(Row, Isolation.Neighbours), SwapFault.Of("A", "1", "2"), SwapFault.Of("C", "6", "7"))).Select(p => p.Fault.Connector).Order().ShouldBe(["A", "C"]);

    private static ImmutableArray<MatrixPattern> Patterns(BenchRun run) => MatrixPattern.Of(run, RunDiagnosis.Of(run, FaultTally.None, TestContext.Current.CancellationToken));
}
