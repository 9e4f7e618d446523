using CsCheck;
using WiseLoom.Bench;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Tests;

/// <summary>Planning again in the middle of a run: nothing is lost, nothing asked twice, and less time taken.</summary>
public sealed class WayOnTests
{
    private static readonly HashSet<string> Nothing = [];

    private static readonly Gen<(Loom Loom, int Seed)> Any = Gen.Select(Gen.Int[1, 2], Gen.Int[1, 60], Gen.Int[1, 1000]).Select((plugs, wires, seed) => (GeneratedLoom.Loom(40 * plugs, wires, seed), seed));

    [Fact]
    public void From_nowhere_the_plan_goes_in_its_own_order()
    {
        var bench = new Bench(Looms.FrostFan, Bench.Plan(Looms.FrostFan, Isolation.Neighbours));
        var way = WayOn.From(bench.Run, null, Nothing);

        way.Steps.Select(s => s.Step).ShouldBe(bench.Run.Plan.Steps.Select(s => s.Number));
        way.Seconds.ShouldBe(bench.Run.Plan.Seconds, 1e-6);
        way.Steps.ShouldAllBe(s => !s.Turned);
    }

    [Fact]
    public void Whatever_was_done_and_whatever_is_away_each_step_left_is_on_the_way_once_or_waits() => Any.Sample(
        x =>
        {
            var bench = new Bench(x.Loom, Bench.Plan(x.Loom, Isolation.Neighbours));
            var random = new Random(x.Seed);
            foreach (var step in bench.Run.Plan.Steps.Where(_ => random.Next(3) == 0))
            {
                bench.Read(step.Number, random.Next(4) == 0 ? Verdict.Fail : Verdict.Pass);
            }

            HashSet<string> away = random.Next(2) == 0 ? [] : [x.Loom.Connectors[0].Ref];
            var stand = bench.Run.Plan.Steps[random.Next(bench.Run.Plan.Steps.Length)].Probes;
            var way = WayOn.From(bench.Run, stand, away);
            var due = bench.Run.Plan.Steps.Where(s => bench.Run[s.Number].IsDue).ToList();

            way.Steps.Select(s => s.Step).Concat(way.Waiting).ShouldBe(due.Select(s => s.Number), ignoreOrder: true);
            way.Waiting.Select(n => bench.Run.Plan.Step(n)!).ShouldAllBe(s => away.Contains(s.Black.Connector) || away.Contains(s.Red!.Value.Connector));
            way.Seconds.ShouldBeLessThanOrEqualTo(Seconds(due.Where(s => !way.Waiting.Contains(s.Number)).Select(s => s.Probes), stand) + 1e-6, "the plan's own order from here");
        },
        iter: 25);

    [Fact]
    public void What_a_fix_asks_for_again_comes_before_the_rest_and_a_probe_that_stays_keeps_its_colour()
    {
        var bench = new Bench(Looms.FrostFan, Bench.Plan(Looms.FrostFan, Isolation.Neighbours));
        var at = bench.Run.Plan.Steps.Last(s => s.IsJoined).Number;
        bench.Read(at, Verdict.Fail);
        bench.Log(at);
        bench.Fix(1, bench.Run.Plan.Step(at)!.Black.ToString());
        var retests = bench.Run.Faults[0].Fix!.Retests;
        var stand = bench.Run.Plan.Step(at)!.Probes;
        var way = WayOn.From(bench.Run, stand, Nothing);

        way.Steps.Take(retests.Length).Select(s => s.Step).ShouldBe(retests, ignoreOrder: true);
        foreach (var next in way.Steps)
        {
            var probes = bench.Run.Plan.Step(next.Step)!.Probes;
            probes = next.Turned ? new(probes.Red, probes.Black) : probes;
            (probes.Black == stand.Red && probes.Red != stand.Black && probes.Red is not null && stand.Black is not null).ShouldBeFalse($"step {next.Step}");
            stand = probes;
        }
    }

    [Fact]
    public void A_connector_that_is_away_costs_no_proof_and_a_shorter_way()
    {
        var bench = new Bench(Looms.FrostFan, Bench.Plan(Looms.FrostFan, Isolation.Neighbours));
        bench.Read(1, Verdict.Pass);
        var without = WayOn.From(bench.Run, bench.Run.Plan.Steps[0].Probes, new HashSet<string> { "INJ3" });
        var with = WayOn.From(bench.Run, bench.Run.Plan.Steps[0].Probes, Nothing);

        without.Waiting.ShouldNotBeEmpty();
        with.Waiting.ShouldBeEmpty();
        without.Seconds.ShouldBeLessThan(with.Seconds);
        bench.Run.Done.ShouldBe(1);
    }

    private static double Seconds(IEnumerable<ProbePair> pairs, ProbePair stand)
    {
        var sum = 0.0;
        foreach (var pair in pairs)
        {
            sum += TouchCost.Usual.Between(stand, pair);
            stand = pair;
        }

        return sum;
    }

    [Fact]
    public void A_plan_that_is_shared_out_is_done_by_both_once()
    {
        var plan = Bench.Plan(Looms.WorkLaunch, Isolation.Neighbours);
        var run = BenchRun.Begin(Looms.WorkLaunch, plan);
        var refs = Looms.WorkLaunch.Connectors.Select(c => c.Ref).ToList();
        Gen.Int[0, 2].Array[refs.Count].Sample(who =>
        {
            var share = new PlanShare(refs.Zip(who).Where(x => x.Second > 0).ToDictionary(x => x.First, x => x.Second == 1 ? Bench.Mira.Id : Bench.Tomas.Id));
            WayOn Of(Hand hand) => WayOn.From(run, null, new HashSet<string>(), share, hand.Id);
            var (mira, tomas) = (Of(Bench.Mira), Of(Bench.Tomas));
            var (hers, his) = (mira.Steps.Select(s => s.Step).ToHashSet(), tomas.Steps.Select(s => s.Step).ToHashSet());
            foreach (var step in plan.Steps)
            {
                var taken = new[] { step.Black.Connector, step.Red?.Connector }.Any(c => c is not null && who[refs.IndexOf(c)] > 0);
                (hers.Contains(step.Number), his.Contains(step.Number)).ShouldBe(taken ? (!his.Contains(step.Number), !hers.Contains(step.Number)) : (true, true));
            }

            mira.Theirs.Length.ShouldBe(plan.Steps.Length - hers.Count);
        }, iter: 40);
    }
}
