using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;

namespace WiseLoom.Core.Tests;

/// <summary>One engine serves a whole shop: what it says of a case does not hang on what else it is asked meanwhile, or on who hung up.</summary>
public sealed class AskedAtOnceTests
{
    private static readonly Loom Launch = Looms.WorkLaunch;
    private static readonly TestPlan Plan = Bench.Plan(Launch, Isolation.Thorough, Meter.BenchFourWire);
    private static readonly Diagnostician Engine = new(Launch, Launch.AmbientC, CopperTolerance.Usual, FaultTally.None);

    private static readonly List<List<Observation>> Cases = [.. Enumerable.Range(1, 6).Select(Case)];

    private static List<Observation> Case(int seed)
    {
        var bench = new SimulatedBench(Launch, Meter.BenchFourWire, [.. new HiddenFaults(Launch, seed).Some(2)], seed);
        return [.. Plan.Steps.Select(s => (Step: s, Probes: StepProbes.Of(Launch, Plan, s))).Select(x => Observation.Of(x.Step.Black, x.Step.Red, bench.Measure(x.Probes.Red, x.Probes.Black).Ohms))];
    }

    /// <summary>All that is said of a case.</summary>
    private static string Said(List<Observation> of, CancellationToken cancel)
    {
        var found = Engine.Find(of, Meter.BenchFourWire, cancel);
        return string.Join('\n', found.Ranking.Select(r => $"{r.Probability:R} {string.Join(" and ", r.Faults)} {r.Alike.Length} {r.Sentence}").Append($"{found.Next}"));
    }

    [Fact]
    public void Several_at_once_are_answered_as_each_alone()
    {
        var cancel = TestContext.Current.CancellationToken;
        var alone = Cases.ConvertAll(c => Said(c, cancel));
        var together = new string[Cases.Count * 3];
        Parallel.For(0, together.Length, new ParallelOptions { CancellationToken = cancel, MaxDegreeOfParallelism = 6 }, i => together[i] = Said(Cases[i % Cases.Count], cancel));
        for (var i = 0; i < together.Length; i++)
        {
            together[i].ShouldBe(alone[i % alone.Count]);
        }
    }

    [Fact]
    public void Who_hangs_up_spoils_no_other_answer()
    {
        var cancel = TestContext.Current.CancellationToken;
        var alone = Said(Cases[0], cancel);
        using var hung = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        hung.Cancel();
        Should.Throw<OperationCanceledException>(() => Said(Cases[0], hung.Token));
        Said(Cases[0], cancel).ShouldBe(alone);
    }

    /// <summary>The order of readings is no evidence: only where the probes stand, and so what is measured next, hangs on it.</summary>
    [Fact]
    public void The_same_readings_in_another_order_lead_to_the_same_causes()
    {
        var cancel = TestContext.Current.CancellationToken;
        foreach (var one in Cases)
        {
            var other = one.OrderBy(o => o.Places(), StringComparer.Ordinal).ToList();
            var (found, again) = (Engine.Find(one, Meter.BenchFourWire, cancel), Engine.Find(other, Meter.BenchFourWire, cancel));
            again.Ranking[0].Faults.Select(FaultKeys.Of).Order().ShouldBe(found.Ranking[0].Faults.Select(FaultKeys.Of).Order());
            again.Ranking[0].Probability.ShouldBe(found.Ranking[0].Probability, 0.1);
        }
    }
}
