using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Runtime.InteropServices;
using WiseLoom.Core.Faults;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Places bridges where they lie in the loom as other faults leave it.</summary>
/// <param name="singles">Single faults that were weighed, by <see cref="FaultKeys"/>.</param>
internal sealed class Placing(WaysBeside ways, Suspects suspects, Priors priors, Weighing weighing, IReadOnlyDictionary<string, Weighed> singles)
{
    /// <summary>So many pairs of wires that a bridge lies between are weighed when it is placed beside another fault, and of the likeliest.</summary>
    private const int MoreAlong = 8, MostAlong = 48;

    /// <summary>Bridges that are placed anew at most, each time, those of the likeliest, those beside the likeliest, and of those beside each kind of fault the one that fewest readings deny; and how often: two bridges move each other.</summary>
    private const int MostPlaced = 6, MostBeside = 4, Placings = 2;

    /// <summary>So many of the likeliest are looked at, and so many of them beside the same fault in the same nets that as many readings deny: where that one spoils what a bridge reads, another place of it may be far better.</summary>
    private const int MostLooked = 60, MostAgain = 12, MostAlike = 3;

    /// <summary>So many more that fewest readings deny.</summary>
    private const int MostDenied = 12;

    /// <summary>Suppositions that are this far behind are not placed anew.</summary>
    private const double WorthPlacing = 400;

    /// <summary>Of a bridge that is further behind the likeliest it is not told where else it may lie.</summary>
    private const double WorthTelling = 12;

    /// <summary>Places of a bridge that fit worse than the best by so much are not weighed.</summary>
    private const double WorthWeighing = 40;

    /// <summary>So many of the best places of each bridge are weighed first, and the others where one of them is no further behind the likeliest.</summary>
    private const int FirstOfEach = 2;

    private const double WorthOthers = 60;

    /// <summary>Of so many suppositions of two bridges between different nets, so many cavities beside each other of either.</summary>
    private const int MostTwos = 2, MostNeighbours = 3;

    /// <summary>Less is not better.</summary>
    private const double Better = 0.5;

    private readonly ConcurrentDictionary<(Fault, Fault?, double), Weighed> weighed = new();

    /// <summary>What makes each the same as another: the same are merged several times.</summary>
    private readonly Dictionary<Weighed, string> keys = new(ReferenceEqualityComparer.Instance);
    private readonly Exchanging exchanging = new(priors, weighing, singles);

    /// <summary>A bridge beside another fault lies in the loom as that one leaves it: there it is placed once more. And of the likeliest bridge all wires that it may lie between are told.</summary>
    /// <returns>Falling by score.</returns>
    /// <param name="refined">Sorts them, and fits the sizes of the best once more.</param>
    internal List<Weighed> Of(List<Weighed> falling, Func<List<Weighed>, List<Weighed>> refined, CancellationToken cancel)
    {
        falling = refined(Merged(falling, Neighbouring(falling, cancel), cancel));
        for (var round = 0; round < Placings; round++)
        {
            var before = falling[0];
            falling = refined(Once(falling, MostLooked, MoreAlong, (one, bridge, there) => one.Faults.Length == 2 && !there.IsAsDrawn(bridge), cancel));
            if (FaultKeys.Of(before) == FaultKeys.Of(falling[0]) && falling[0].Score < before.Score + Better)
            {
                break;
            }
        }

        return Told(falling, refined, cancel);
    }

    /// <summary>With what else the likeliest two may be, each exchanged for others of its kind: before they are said to be certain.</summary>
    /// <returns>Null where none of these comes near.</returns>
    internal List<Weighed>? Doubted(List<Weighed> falling, Func<List<Weighed>, List<Weighed>> refined, CancellationToken cancel)
    {
        var near = falling[0].Score - WorthTelling;
        List<Weighed> others = [.. exchanging.Of(falling).Each(WeighedAt, cancel).Where(w => w.Score > near)];
        return others.Count == 0 ? null : Told(refined(Once(refined(Merged(falling, others, cancel)), MostAgain, MoreAlong, (one, _, _) => one.Score > near, cancel)), refined, cancel);
    }

    /// <summary>The same after one more reading: of what is near the likeliest.</summary>
    /// <inheritdoc cref="Of"/>
    internal List<Weighed> Again(List<Weighed> falling, Func<List<Weighed>, List<Weighed>> refined, CancellationToken cancel)
    {
        var near = falling[0].Score - WorthTelling;
        return Told(refined(Once(falling, MostAgain, MoreAlong, (one, _, _) => one.Score > near, cancel)), refined, cancel);
    }

    /// <summary>All wires that the likeliest bridge may lie between, where it is likely: as long as few stand for all, they have the shares of the others too.</summary>
    internal List<Weighed> Told(List<Weighed> falling, Func<List<Weighed>, List<Weighed>> refined, CancellationToken cancel) =>
        refined(Once(falling, 1, MostAlong, (one, _, _) => one.Score > falling[0].Score - WorthTelling, cancel));

    /// <summary>Two bridges that are both where they come oftenest, between cavities beside each other: as long as neither is placed, each hides where the other lies.</summary>
    private List<Weighed> Neighbouring(List<Weighed> falling, CancellationToken cancel)
    {
        var twos = falling.Take(MostLooked).Where(w => w.Faults is [ShortFault, ShortFault]).Select(w => (One: Of(w.Faults[0]), Other: Of(w.Faults[1]))).Where(t => t.One.Count > 0 && t.Other.Count > 0);
        return [.. twos.DistinctBy(t => $"{t.One[0].Key} {t.Other[0].Key}").Take(MostTwos).SelectMany(t => t.One.SelectMany(a => t.Other.Where(b => b.Key != a.Key).Select(b => (a, b)))).ToList()
            .Each(p => weighing.Weigh(new([p.a.Faults[0], p.b.Faults[0]], p.a.LogPrior + p.b.LogPrior + priors.LogSecond)), cancel)];

        List<Supposition> Of(Fault bridge) => [.. suspects.Neighbouring((ShortFault)bridge).Take(MostNeighbours)];
    }

    /// <summary>Places the bridges of the likeliest once.</summary>
    /// <param name="looked">How many of the likeliest.</param>
    /// <param name="most">How many pairs of wires of each.</param>
    /// <param name="isWorth">Whether a bridge of one of them is placed anew.</param>
    private List<Weighed> Once(List<Weighed> falling, int looked, int most, Func<Weighed, ShortFault, AlongTheWay, bool> isWorth, CancellationToken cancel)
    {
        var bridges = falling.FindAll(w => w.Score > falling[0].Score - WorthPlacing && HasBridge(w)).Each(w => (w, Denials: weighing.DenialsOf(w)), cancel).SelectMany(x => x.w.Faults.OfType<ShortFault>().Select(b => (x.w, b, x.Denials)));
        var worth = bridges.GroupBy(x => $"{string.Join(' ', x.w.Faults.Remove(x.b).Select(FaultKeys.Of))} {string.Join(' ', x.w.Nets.Order())} {x.Denials}").SelectMany(g => g.Take(MostAlike)).OrderByDescending(x => x.w.Score).ToList();

        // Where a bridge is not placed yet, its ohms say little: whether it joins what is joined says more.
        var some = worth.Take(looked).Union(looked > 1 ? worth.OrderBy(x => x.Denials).ThenByDescending(x => x.w.Score).Take(MostDenied) : []).ToList();
        var places = some.Each(x =>
        {
            var besides = x.w.Faults.Remove(x.b);
            var there = ways.Of(besides);
            return (Besides: besides, Bridge: x.b, Pieces: isWorth(x.w, x.b, there) ? there.Pieces(x.b) : null, x.w.Score, x.Denials, Before: Before(besides, x.b, x.w));
        }, cancel).Where(x => x.Pieces is not null).ToList();
        var distinct = places.DistinctBy(x => $"{string.Join(' ', x.Besides.Select(FaultKeys.Of))} {x.Pieces}").ToList();

        // Beside the likeliest as these are by themselves: as long as a bridge is not placed, it spoils the size of the other too.
        var beside = distinct.Select(x => (x.Bridge, x.Denials, Alone: x.Besides.Length == 1 ? singles.GetValueOrDefault(FaultKeys.Of(x.Besides[0])) : null)).Where(x => x.Alone is not null)
            .OrderByDescending(x => x.Alone!.Score).ThenBy(x => x.Denials).Take(MostBeside).Select(x => (Besides: x.Alone!.Faults, x.Bridge, Before: priors.LogSecond + x.Alone.LogPrior));
        var undenied = distinct.OrderBy(x => x.Denials).ThenByDescending(x => x.Score).DistinctBy(x => x.Besides.FirstOrDefault()?.GetType());
        var anew = distinct.Take(MostPlaced).Union(undenied).Select(x => (x.Besides, x.Bridge, x.Before)).Concat(beside).ToList();
        return Merged(falling, Anew(falling[0].Score, anew.Each(x => Places(x.Besides, x.Bridge, x.Before, ways.Of(x.Besides), most), cancel), cancel), cancel);
    }

    /// <summary>Weighs places of some bridges, the best of each first: where those are far behind, so are its others.</summary>
    /// <param name="score">Of the likeliest so far.</param>
    /// <param name="places">Of each bridge, the best first.</param>
    private List<Weighed> Anew(double score, List<Supposition>[] places, CancellationToken cancel)
    {
        var firsts = places.SelectMany((p, of) => p.Take(FirstOfEach).Select(one => (Of: of, One: one))).ToList();
        var first = firsts.Each(x => WeighedAt(x.One), cancel);
        var best = first.Select(w => w.Score).Append(score).Max();
        var near = firsts.Where((_, i) => first[i].Score > best - WorthOthers).Select(x => x.Of).Distinct();
        return [.. first, .. near.SelectMany(of => places[of].Skip(FirstOfEach)).ToList().Each(WeighedAt, cancel)];
    }

    /// <summary>How likely a fault beside a bridge is before anything is read, with there being two; a logarithm.</summary>
    private double Before(ImmutableArray<Fault> besides, ShortFault bridge, Weighed both) => besides is [var other] ? priors.LogSecond + exchanging.PriorOf(other, bridge, both) : 0;

    /// <summary>Bridges between the same two pieces of metal in the loom as other faults leave it.</summary>
    /// <param name="before">How likely the others are, see <see cref="Before"/>.</param>
    /// <returns>The best first, by how ill they fit and how likely they are before; without those that are far behind.</returns>
    private List<Supposition> Places(ImmutableArray<Fault> besides, ShortFault bridge, double before, AlongTheWay there, int most)
    {
        var cavities = there.Cavities(bridge, MoreAlong, suspects.LogBridge, suspects.LogLikeliest).Select(c => (Fault: new ShortFault(c.A.ToString(), c.B.ToString(), double.NaN), c.Prior, c.Misfit));
        var along = there.Between(bridge, most).Select(x => (Fault: x.Fault with { Ohm = double.NaN }, Prior: suspects.LogAlong + x.LogWidth, x.PoorEnd, x.Misfit));
        var places = cavities.Select(c => (c.Fault, c.Prior, PoorEnd: (string?)null, c.Misfit)).Concat(along).ToList();
        var falling = places.OrderByDescending(Worth).ToList();
        return [.. falling.TakeWhile(p => Worth(p) > Worth(falling[0]) - WorthWeighing).Select(x => new Supposition([.. besides.Select(f => Besides(f, x.PoorEnd)), x.Fault], before + x.Prior))];

        static double Worth((ShortFault, double Prior, string?, double Misfit) of) => of.Prior - (0.5 * of.Misfit);

        static Fault Besides(Fault fault, string? end) => FaultKeys.Unsized(fault) is var open && open is ResistiveFault poor && end is not null ? poor with { End = end } : open;
    }

    /// <summary>Weighs one; the same place often comes again when a bridge is placed once more.</summary>
    private Weighed WeighedAt(Supposition one) =>
        weighed.GetOrAdd((one.Faults[0], one.Faults.Length > 1 ? one.Faults[1] : null, one.LogPrior), _ => weighing.Weigh(one));

    private string KeyOf(Weighed one)
    {
        ref var key = ref CollectionsMarshal.GetValueRefOrAddDefault(keys, one, out _);
        return key ??= FaultKeys.Of(one);
    }

    private static bool HasBridge(Weighed one)
    {
        foreach (var fault in one.Faults)
        {
            if (fault is ShortFault)
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>What was weighed anew takes the place of what it was before, where it explains as much; with its sizes as well found as those of what it was.</summary>
    private List<Weighed> Merged(List<Weighed> all, List<Weighed> anew, CancellationToken cancel)
    {
        var best = anew.GroupBy(FaultKeys.Of).ToDictionary(g => g.Key, g => g.MaxBy(w => w.Gain)!, StringComparer.Ordinal);
        var before = all.Where(HasBridge).Select(w => (Key: KeyOf(w), w.Gain)).Where(x => best.ContainsKey(x.Key)).ToLookup(x => x.Key, x => x.Gain, StringComparer.Ordinal);
        var behind = best.Where(x => before[x.Key].Any(gain => gain > x.Value.Gain) && x.Value.Score > all[0].Score - WorthOthers).ToList();
        foreach (var (key, one) in behind.Zip(behind.Each(x => weighing.Refine(x.Value), cancel), (x, one) => (x.Key, one)))
        {
            best[key] = one;
        }

        var kept = new List<Weighed>(all.Count + best.Count);
        foreach (var one in all)
        {
            if (HasBridge(one) && KeyOf(one) is var key && best.TryGetValue(key, out var other))
            {
                if (one.Gain <= other.Gain + Better)
                {
                    continue;
                }

                best.Remove(key);
            }

            kept.Add(one);
        }

        return [.. kept, .. best.Values];
    }
}
