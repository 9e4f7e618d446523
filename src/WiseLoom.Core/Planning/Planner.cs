using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning.Order;
using WiseLoom.Core.Planning.Steps;

namespace WiseLoom.Core.Planning;

/// <summary>Makes the plan that proves a loom.</summary>
public static class Planner
{
    /// <summary>Joined and apart on one way through the loom, trees and order chosen together; then feeds and grounds under load where the meter
    /// would miss a poor joint in them, then what is asked for beside the bare loom.</summary>
    /// <param name="patience">How long somebody waits; for ever when left out.</param>
    /// <returns>For nets of n points, n − 1 continuity steps each. Repaired places come first.</returns>
    /// <exception cref="OperationCanceledException">Nobody waits any more.</exception>
    public static TestPlan Plan(Loom loom, PlanTerms terms, PlanPatience patience = default)
    {
        ArgumentNullException.ThrowIfNull(terms);
        var table = ExpectationTable.For(loom, terms.AmbientC, terms.Copper);
        var survey = new Survey(loom, table);
        var meet = terms.Isolation == Isolation.Thorough ? [] : survey.CloseTogether();
        var earlier = EarlierProof.Of(survey, terms.Proven);
        meet = [.. meet.Where(m => !earlier.IsApart(survey.PlaceOf(m.A), survey.PlaceOf(m.B)))];
        var hidden = new HiddenBreaks(terms.Meter, patience);
        var needs = new ProofNeeds(
            [.. survey.Nets.Select(n => survey.InPinOrder(n))],
            [.. survey.Nets.SelectMany((n, i) => hidden.Needed(n, earlier.JoinedIn(i)).Select(p => (i, p.A, p.B)))],
            earlier.Joined,
            earlier.Plugged,
            [.. meet.Select(m => (survey.PlaceOf(m.A), survey.PlaceOf(m.B)))],
            terms.Isolation == Isolation.Thorough);
        var bare = BareOrder.Of(needs, meet, survey.Touched(terms.First), n => survey.Risk(survey.Nets[n]), terms.Cost, patience);
        var build = new StepBuilder(table, survey, terms);
        foreach (var pair in bare.Pairs)
        {
            build.Bare(pair);
        }

        var missed = build.Missed();
        if (terms.Load is { } load && missed.Count > 0)
        {
            build.UnderLoad(FixedOrder.Of(missed, build.Stand, terms.Cost), load);
        }

        var pinOrder = bare.PinOrderSeconds + build.LoadInPinOrder(bare);
        foreach (var pair in BareOrder.Colour(FixedOrder.Of([.. earlier.Pairs], build.Stand, terms.Cost)))
        {
            build.Bare(pair);
        }

        var before = build.Seconds;
        var (atLeast, diodes) = build.Beyond(loom);
        var measured = bare.Pairs.Concat(earlier.Pairs).Where(p => p.Red is not null && survey.PlaceOf(p.Black!.Value) == survey.PlaceOf(p.Red.Value)).ToLookup(p => survey.PlaceOf(p.Black!.Value), p => (p.Black!.Value, p.Red!.Value));
        return new(terms.Isolation, table.AmbientC, terms.Meter, build.Steps(), [.. Unproven(terms.Isolation, survey.Nets.Length)], terms.Copper)
        {
            Cost = terms.Cost,
            Fitted = terms.Beyond.Fitted,
            LowerBoundSeconds = bare.LowerBoundSeconds + build.LoadAtLeast + atLeast,
            PinOrderSeconds = pinOrder + build.Seconds - before,
            PairsMissed = terms.Load is null ? missed.Count : 0,
            UnseenDiodes = diodes,
            Unseen = [.. survey.Nets.SelectMany((n, i) => hidden.Of(n, [.. measured[i]], table.Graph))],
            WiresNotLookedAt = hidden.NotLookedAt,
            FacesNotConfirmed = terms.Isolation == Isolation.Thorough ? 0 : loom.Connectors.Count(c => !c.Family.IsConfirmed),
            WiresEstimated = loom.Wires.Count(w => w.IsEstimated),
        };
    }

    private static ImmutableArray<string> Unproven(Isolation isolation, int nets) => isolation == Isolation.Thorough || nets < 2
        ? []
        : ["Isolation was measured only between circuits that stand next to each other in a plug, run twisted together or are spliced within 50 mm of each other; circuits that never come near each other were not measured against one another."];
}
