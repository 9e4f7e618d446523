using System.Collections.Immutable;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning.Order;

namespace WiseLoom.Core.Planning;

/// <summary>An order for pairs that are settled.</summary>
public static class FixedOrder
{
    /// <summary>How many pairs may be looked at, a tenth of a second, and how many for each pair.</summary>
    private const long Work = 500_000, WorkForEach = 4000;

    /// <summary>Puts pairs in an order that takes little time, and no more than the one they come in.</summary>
    /// <param name="pairs">A null place is the shorting plug. A pair that stands there twice comes twice.</param>
    /// <param name="stand">Where the probes are; null for nowhere.</param>
    public static ImmutableArray<ProbePair> Of(IReadOnlyList<ProbePair> pairs, ProbePair? stand, TouchCost cost)
    {
        ArgumentNullException.ThrowIfNull(pairs);
        ArgumentNullException.ThrowIfNull(cost);
        return [.. Places(pairs, stand, cost).Select(i => pairs[i])];
    }

    /// <summary>The same as places in the list.</summary>
    internal static IReadOnlyList<int> Places(IReadOnlyList<ProbePair> pairs, ProbePair? stand, TouchCost cost)
    {
        var points = pairs.Concat(stand is { } at ? [at] : []).SelectMany(p => new[] { p.Black, p.Red }).OfType<ProbePoint>().Distinct();
        var map = new TouchMap([.. points.Select(p => ImmutableArray.Create(p))], [], cost);
        var obligations = pairs.Select(p => Obligation.Exactly(map.Number(p.Black), map.Number(p.Red), -1)).ToArray();
        (int, int)? from = stand is { } s ? (map.Number(s.Black), map.Number(s.Red)) : null;
        int[] better = [.. OrderSearch.Improve(map, obligations, from, cost.Touch, Math.Min(Work, WorkForEach * pairs.Count), 1)
            .Select(f => f.Obligation)];

        // An order that people have before them is only turned over for more than one move.
        return BareOrder.Sum(better.Select(i => pairs[i]), cost, stand) < BareOrder.Sum(pairs, cost, stand) - cost.Move ? better : [.. Enumerable.Range(0, pairs.Count)];
    }
}
