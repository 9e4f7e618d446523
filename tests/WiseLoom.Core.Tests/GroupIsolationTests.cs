using CsCheck;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Tests;

/// <summary>Isolation by groups: as few measurements as can be when all is well, and exactly the nets that are not apart when it is not.</summary>
public sealed class GroupIsolationTests
{
    private static readonly Gen<(int Nets, List<(int A, int B)> Shorts)> Cases =
        Gen.Int[2, 70].SelectMany(nets => Gen.Select(Gen.Int[0, nets - 1], Gen.Int[0, nets - 1]).List[0, 5].Select(shorts => (nets, shorts.Where(s => s.Item1 != s.Item2).ToList())));

    private static GroupFinding Find(int nets, List<(int A, int B)> shorts, int most = 100_000) => GroupIsolation.FindAsync(
        nets, most, (one, other) => Task.FromResult(!shorts.Exists(s => (one.Contains(s.A) && other.Contains(s.B)) || (one.Contains(s.B) && other.Contains(s.A))))).GetAwaiter().GetResult();

    [Theory]
    [InlineData(0, 0)]
    [InlineData(1, 0)]
    [InlineData(2, 1)]
    [InlineData(3, 2)]
    [InlineData(4, 2)]
    [InlineData(5, 3)]
    [InlineData(64, 6)]
    [InlineData(65, 7)]
    [InlineData(300, 9)]
    public void Nets_that_are_all_apart_take_as_many_measurements_as_their_numbers_have_bits(int nets, int measurements)
    {
        GroupIsolation.Least(nets).ShouldBe(measurements);
        Find(nets, []).ShouldSatisfyAllConditions(f => f.Measurements.ShouldBe(measurements), f => f.Suspects.ShouldBeEmpty());
    }

    [Fact]
    public void Exactly_the_nets_of_each_short_are_named() => Cases.Sample(c =>
        Find(c.Nets, c.Shorts).Suspects.SetEquals(c.Shorts.SelectMany(s => new[] { s.A, s.B })));

    [Fact]
    public void When_it_takes_too_many_no_net_of_a_short_is_called_apart() => Gen.Select(Cases, Gen.Int[0, 40]).Sample((c, most) =>
    {
        var found = Find(c.Nets, c.Shorts, most);
        return found.Measurements <= most && found.Suspects.IsSupersetOf(c.Shorts.SelectMany(s => new[] { s.A, s.B }));
    });

    [Fact]
    public void What_a_group_proved_passes_and_is_asked_for_again_when_the_meter_was_not_right()
    {
        var plan = Bench.Plan(Looms.Of("A:1-B:1", "A:2-B:2", "A:3-B:3", "A:4-B:4"), Isolation.Thorough);
        var bench = new Bench(Looms.Of("A:1-B:1", "A:2-B:2", "A:3-B:3", "A:4-B:4"), plan).CheckAll();
        int[] against = [.. plan.Steps.Where(s => !s.IsJoined).Select(s => s.Number)];
        Prove(bench, against).ShouldBeOfType<Decision.Accepted>();
        against.ShouldAllBe(s => bench.Run[s].State == StepState.Pass);
        bench.Record().Where(s => !s.Step.IsJoined).ShouldAllBe(s => s.Group!.Contains("2 readings of groups"));
        Prove(bench, against).ShouldBeOfType<Decision.Conflict>();
        Prove(bench, plan.Steps.First(s => s.IsJoined).Number).ShouldBeOfType<Decision.Wrong>();
        Prove(bench).ShouldBeOfType<Decision.Wrong>();

        bench.Check(CheckKind.Range, passes: false);
        Prove(bench, against).ShouldBeOfType<Decision.Conflict>();
        bench.Check(CheckKind.Range, passes: false);
        against.ShouldAllBe(s => bench.Run[s].State == StepState.Retest);
    }

    [Fact]
    public void What_was_mended_or_found_out_since_the_groups_were_read_is_not_proven_by_them()
    {
        var loom = Looms.Of("A:1-B:1", "A:2-B:2", "A:3-B:3", "A:4-B:4");
        var bench = new Bench(loom, Bench.Plan(loom, Isolation.Thorough)).CheckAll();
        var step = bench.Run.Plan.Steps.First(s => !s.IsJoined).Number;
        var before = bench.Run.LastEvent;
        bench.Read(step, Verdict.Fail);
        bench.Log(step);
        bench.Fix(1, bench.Run.Plan.Step(step)!.Black.ToString());
        ProveSeen(bench, before, step).ShouldBeOfType<Decision.Conflict>();
        Prove(bench, step).ShouldBeOfType<Decision.Accepted>();
    }

    private static Decision Prove(Bench bench, params int[] steps) => ProveSeen(bench, null, steps);

    private static Decision ProveSeen(Bench bench, long? seen, params int[] steps)
    {
        var key = Guid.NewGuid();
        return bench.Ask(key, Bench.Mira, Bench.Start, run => run.Prove(key, [.. steps], 2, "m", seen ?? run.LastEvent));
    }
}
