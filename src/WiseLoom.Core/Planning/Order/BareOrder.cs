using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning.Order;

/// <summary>Pairs in an order that takes little time, what no order can beat, and what the order of the pinout would take.</summary>
/// <param name="Pairs">A probe that stays keeps its colour; the plug is always on the red one.</param>
/// <param name="Seconds">For the whole order.</param>
/// <param name="LowerBoundSeconds">Proven: nothing takes less.</param>
/// <param name="PinOrderSeconds">For the same proof in the order of the pinout.</param>
/// <param name="LastInPinOrder">Where the probes then stand; null when there is nothing to measure.</param>
internal sealed record BareOrder(ImmutableArray<ProbePair> Pairs, double Seconds, double LowerBoundSeconds, double PinOrderSeconds, ProbePair? LastInPinOrder)
{
    /// <summary>How many pairs may be looked at, about half a second, and how many for each obligation.</summary>
    private const long Work = 2_200_000, WorkForEach = 20_000;

    /// <summary>With so few nets the order is looked for again when one of them is let off.</summary>
    private const int Few = 40;

    /// <summary>Chooses trees and order together.</summary>
    /// <param name="first">Nets that come before all others, by their places in the list.</param>
    /// <param name="risk">How early a net should come where it costs nothing: 0 first.</param>
    /// <param name="meet">See <see cref="PinOrder"/>.</param>
    /// <param name="patience">When the time is up, what is not put in yet goes to the end.</param>
    internal static BareOrder Of(ProofNeeds needs, ImmutableArray<(ProbePoint A, ProbePoint B)> meet, IReadOnlySet<int> first, Func<int, int> risk, TouchCost cost, PlanPatience patience)
    {
        var map = new TouchMap(needs.Nets, needs.Joined, cost);
        var pins = PinOrder.Of(needs, meet);
        var ways = ConnectorWays.Of(needs, map, patience);
        var all = needs.Obligations(map, -1);
        var work = Math.Min(Work, WorkForEach * all.Length);
        var pairs = Chain(map, all, first, ways, cost, work, patience);
        if (needs.IsThorough && needs.MayLetOff)
        {
            var dearest = DearestPlugged(pairs, map, first);
            var without = pairs.Where((_, i) => i != dearest.At).ToList();
            pairs = needs.Nets.Length > Few ? without : Chain(map, needs.Obligations(map, dearest.Net), first, ways, cost, work, patience);
        }

        if (first.Count == 0 && MeanPlace(pairs, map, risk) > MeanPlace(Enumerable.Reverse(pairs), map, risk))
        {
            pairs.Reverse();
        }

        var mine = Colour(pairs.ConvertAll(p => new ProbePair(map.Point(p.A), map.Point(p.B))));
        var (seconds, inPinOrder) = (Sum(mine, cost), Sum(pins, cost));
        var (pairsTaken, taken) = seconds <= inPinOrder || first.Count > 0 ? (mine, seconds) : (Colour(pins), inPinOrder);
        return new(pairsTaken, taken, LowerBound.Seconds(needs, cost), inPinOrder, pins.IsEmpty ? null : pins[^1]);
    }

    /// <summary>Seconds for pairs one after another.</summary>
    /// <param name="stand">Where the probes are; null for nowhere.</param>
    internal static double Sum(IEnumerable<ProbePair> pairs, TouchCost cost, ProbePair? stand = null)
    {
        var (sum, before) = (0.0, stand);
        foreach (var pair in pairs)
        {
            sum += cost.Between(before, pair);
            before = pair;
        }

        return sum;
    }

    /// <summary>Gives each probe its colour: one that stays keeps it, the plug is red.</summary>
    internal static ImmutableArray<ProbePair> Colour(IReadOnlyList<ProbePair> pairs)
    {
        var list = ImmutableArray.CreateBuilder<ProbePair>(pairs.Count);
        foreach (var pair in pairs)
        {
            var turned = pair.Black is null || (pair.Red is not null && list.Count > 0 && pair.Turned.Keeps(list[^1]) > pair.Keeps(list[^1]));
            list.Add(turned ? pair.Turned : pair);
        }

        return list.MoveToImmutable();
    }

    /// <summary>The pairs of all obligations in their order, those of the first nets before the others.</summary>
    private static List<(int A, int B)> Chain(TouchMap map, Obligation[] all, IReadOnlySet<int> first, bool[]? ways, TouchCost cost, long work, PlanPatience patience)
    {
        bool IsFirst(Obligation o) => first.Contains(map.NetOf[o.First[0]]) || first.Contains(map.NetOf[o.Second[0]]);
        var pairs = new List<(int A, int B)>();
        foreach (var part in new[] { all.Where(IsFirst).ToArray(), all.Where(o => !IsFirst(o)).ToArray() }.Where(p => p.Length > 0))
        {
            (int, int)? stand = pairs.Count > 0 ? pairs[^1] : null;
            pairs.AddRange(OrderSearch.Run(map, part, stand, cost.Touch, ways, work * part.Length / all.Length, 1, patience).Select(f => (f.A, f.B)));
        }

        return pairs;
    }

    /// <summary>One net need not be measured against all others: each of the others was. This is the one whose step costs most, of those that
    /// nothing was repaired in if there is one.</summary>
    private static (int At, int Net) DearestPlugged(List<(int A, int B)> pairs, TouchMap map, IReadOnlySet<int> first)
    {
        double Link(int from, int to) => from < 0 || to >= pairs.Count ? 0 : map.Between(pairs[from].A, pairs[from].B, pairs[to].A, pairs[to].B);
        double Gain(int i) => Link(i - 1, i) + Link(i, i + 1) - (i == 0 || i + 1 == pairs.Count ? 0 : Link(i - 1, i + 1));
        return Enumerable.Range(0, pairs.Count).Where(i => pairs[i].A == map.Plug || pairs[i].B == map.Plug)
            .Select(i => (At: i, Net: map.NetOf[pairs[i].A == map.Plug ? pairs[i].B : pairs[i].A], Gain: Gain(i)))
            .OrderBy(x => first.Contains(x.Net)).ThenByDescending(x => x.Gain).Select(x => (x.At, x.Net)).First();
    }

    /// <summary>How late risky pairs come on the whole.</summary>
    private static double MeanPlace(IEnumerable<(int A, int B)> pairs, TouchMap map, Func<int, int> risk) => pairs
        .Select((p, i) => (Weight: 3.0 - Math.Min(p.A == map.Plug ? 3 : risk(map.NetOf[p.A]), p.B == map.Plug ? 3 : risk(map.NetOf[p.B])), Place: i))
        .Sum(x => x.Weight * x.Place);
}
