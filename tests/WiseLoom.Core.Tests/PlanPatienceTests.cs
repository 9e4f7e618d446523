using System.Text;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Tests;

/// <summary>A plan ends when its time is up, with a whole proof, and stops when nobody waits for it.</summary>
public sealed class PlanPatienceTests
{
    /// <summary>One ground circuit with many legs, each of one or two wires.</summary>
    private static Loom Star(int legs, int wires) => LoomReader.Read(Encoding.UTF8.GetBytes($$"""
        { "format": "wise-loom/loom", "version": 1, "loom": { "name": "Star", "revision": "A" },
          "families": [ { "id": "many", "rows": [[{{string.Join(',', Enumerable.Range(1, legs).Select(n => $"\"{n}\""))}}]], "wiresPerCavity": 4 }, { "id": "eye", "kind": "ring", "rows": [["1"]] } ],
          "connectors": [ { "ref": "P", "family": "many" }, { "ref": "G", "family": "eye" } ], "splices": [ { "ref": "S", "kind": "crimp" } ],
          "wires": [ { "id": "WG", "from": "G:1", "to": "S", "mm2": 2.5, "lengthMm": 300 },
                     {{string.Join(',', from leg in Enumerable.Range(1, legs) from wire in Enumerable.Range(0, wires) select $$"""{ "id": "W{{leg}}-{{wire}}", "from": "S", "to": "P:{{leg}}", "mm2": 0.5, "lengthMm": {{400 + leg}} }""")}} ] }
        """)).Loom!;

    private static PlanTerms Terms(Isolation isolation = Isolation.Neighbours) => PlanTerms.Usual(Meter.BenchFourWire, isolation, 20, CopperTolerance.Usual);

    [Fact]
    public void Nobody_waits_and_nothing_is_planned()
    {
        using var gone = new CancellationTokenSource();
        gone.Cancel();
        Should.Throw<OperationCanceledException>(() => Planner.Plan(Star(200, 1), Terms(), new(gone.Token, CancellationToken.None)));
    }

    [Theory]
    [InlineData(Isolation.Neighbours)]
    [InlineData(Isolation.Thorough)]
    public void When_the_time_is_up_at_once_the_plan_is_a_whole_proof_with_its_gap(Isolation isolation)
    {
        using var over = new CancellationTokenSource();
        over.Cancel();
        foreach (var loom in new[] { Star(150, 1), Looms.FrostFan })
        {
            var (hasty, calm) = (Planner.Plan(loom, Terms(isolation), new(CancellationToken.None, over.Token)), Planner.Plan(loom, Terms(isolation)));
            hasty.Steps.Count(s => s.IsJoined).ShouldBe(calm.Steps.Count(s => s.IsJoined));
            hasty.Steps.Length.ShouldBe(calm.Steps.Length);
            var parts = WireGraph.Topology(loom);
            foreach (var net in parts.Nets.Where(n => n.Points.Length > 1))
            {
                var reached = new HashSet<ProbePoint> { net.Points[0] };
                for (var before = 0; before < reached.Count;)
                {
                    before = reached.Count;
                    foreach (var step in hasty.Steps.Where(s => s.IsJoined && s.Red is { } red && (reached.Contains(s.Black) || reached.Contains(red))))
                    {
                        reached.Add(step.Black);
                        reached.Add(step.Red!.Value);
                    }
                }

                net.Points.ShouldAllBe(p => reached.Contains(p));
            }

            hasty.LowerBoundSeconds.ShouldBeGreaterThan(0);
            hasty.Seconds.ShouldBeGreaterThanOrEqualTo(hasty.LowerBoundSeconds);
        }
    }

    [Fact]
    public void Of_too_many_wires_beside_which_another_way_lies_those_that_were_not_looked_at_are_told()
    {
        using var over = new CancellationTokenSource();
        over.Cancel();
        var hasty = Planner.Plan(Star(20, 2), Terms(), new(CancellationToken.None, over.Token));
        hasty.WiresNotLookedAt.ShouldBe(40);
        hasty.LeftOpen.ShouldContain("40 wires beside which another way lies were not looked at one by one: a break of one of them might not be noticed.");
        Planner.Plan(Star(20, 2), Terms()).WiresNotLookedAt.ShouldBe(0);
    }
}
