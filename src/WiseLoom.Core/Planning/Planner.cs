using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning.Steps;

namespace WiseLoom.Core.Planning;

/// <summary>Makes the plan that proves a loom.</summary>
public static class Planner
{
    /// <summary>Continuity first (a spanning star in each net), then isolation, then feeds and grounds under load where the meter would
    /// miss a poor joint in them.</summary>
    /// <param name="ambientC">Degrees Celsius.</param>
    /// <param name="copper">How far the copper may be from its drawing.</param>
    /// <param name="load">What load tests are made with; null when there is nothing at hand, which the plan then says.</param>
    /// <returns>For nets of n points, n − 1 continuity steps each. Drives, feeds and grounds come before the rest; the black
    /// probe stays on the net's point at the controller, else on its largest connector, while the red one walks outwards.</returns>
    public static TestPlan Plan(Loom loom, Meter meter, Isolation isolation, double ambientC, CopperTolerance copper, LoadInHand? load)
    {
        var table = ExpectationTable.For(loom, ambientC, copper);
        var survey = new Survey(loom, table);
        var touches = new List<Touch>();
        var nets = table.Nets.OrderBy(survey.Risk).ThenBy(n => survey.Rank(survey.Hub(n))).ToList();
        foreach (var net in nets)
        {
            var hub = survey.Hub(net);
            touches.AddRange(net.Points.Where(p => p != hub).OrderBy(survey.Rank)
                .Select(p => new Touch(hub, p, net.Between(hub, p), survey.Circuit(net), survey.Role(net))));
        }

        var missed = touches.Where(t => LoadTest.IsNeeded(t.Role, Noticed(t, meter))).ToList();
        touches.AddRange(isolation == Isolation.Thorough ? AgainstOthers(nets, survey) : AgainstNeighbours(survey, table));
        if (load is not null)
        {
            touches.AddRange(missed.Select(t => t with { Load = LoadTest.Of(t.Expected!.Value, loom.SupplyVolts, load) }));
        }

        return new(isolation, table.AmbientC, meter, Number(touches, meter, new()), [.. Unproven(isolation, nets), .. Untested(missed, load)], copper);
    }

    /// <summary>What the meter surely notices in a pair; null for nothing, and for pairs that must be apart.</summary>
    private static double? Noticed(Touch touch, Meter meter) => touch switch
    {
        { Load: { } load } => load.NoticedOhms,
        { Expected: { } expected } => Judgement.SurelyNoticedOhms(expected.Nominal, new(expected.Min, expected.Max), meter),
        _ => null,
    };

    private static ImmutableArray<string> Untested(List<Touch> missed, LoadInHand? load) => missed.Count == 0 || load is not null
        ? []
        : [$"{missed.Count} {(missed.Count == 1 ? "pair" : "pairs")} of feeds and grounds {(missed.Count == 1 ? "was" : "were")} measured with a meter that would miss a poor joint there, and not under load."];

    private static IEnumerable<Touch> AgainstOthers(List<Net> nets, Survey survey) => nets
        .OrderBy(n => survey.Rank(survey.Hub(n)))
        .Skip(1)
        .Select(n => new Touch(survey.Hub(n), null, null, survey.Circuit(n)));

    /// <summary>One step for each pair of nets that could touch, at the first place in walking order where they do.</summary>
    private static IEnumerable<Touch> AgainstNeighbours(Survey survey, ExpectationTable table)
    {
        var seen = new HashSet<(int, int)>();
        foreach (var (a, b) in survey.CloseTogether())
        {
            if (table.Graph.NetOf(a) is { } one && table.Graph.NetOf(b) is { } other && one.Number != other.Number
                && seen.Add((Math.Min(one.Number, other.Number), Math.Max(one.Number, other.Number))))
            {
                yield return new(a, b, null, survey.Circuit(one));
            }
        }
    }

    private static ImmutableArray<PlanStep> Number(List<Touch> touches, Meter meter, TouchCost cost)
    {
        var steps = ImmutableArray.CreateBuilder<PlanStep>(touches.Count);
        (ProbePoint, ProbePoint?)? before = null;
        foreach (var touch in touches)
        {
            var limits = touch.Expected is { } ohm ? new Limits(ohm.Min, ohm.Max) : Limits.Apart;
            var seconds = cost.Between(before, (touch.Black, touch.Red)) + (touch.Load is null ? 0 : cost.Clips);
            steps.Add(Step(steps.Count + 1, touch, limits, seconds, meter));
            before = (touch.Black, touch.Red);
        }

        return steps.MoveToImmutable();
    }

    private static PlanStep Step(int number, Touch touch, Limits limits, double seconds, Meter meter) => touch switch
    {
        { Load: { } load, Expected: { } expected } => new LoadStep(number, touch.Black, touch.Red, expected, limits, seconds, touch.Circuit, load),
        { Expected: { } expected } => new ContinuityStep(number, touch.Black, touch.Red, expected, limits, seconds, Noticed(touch, meter), touch.Circuit),
        _ => new IsolationStep(number, touch.Black, touch.Red, limits, seconds, touch.Circuit),
    };

    private static ImmutableArray<string> Unproven(Isolation isolation, List<Net> nets) => isolation == Isolation.Thorough || nets.Count < 2
        ? []
        : ["Isolation was measured only between circuits that stand next to each other in a plug or run twisted together; circuits that never come near each other were not measured against one another."];

    private sealed record Touch(ProbePoint Black, ProbePoint? Red, OhmRange? Expected, string? Circuit, WireRole? Role = null, LoadTest? Load = null);
}
