using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning.Order;

/// <summary>Seconds below which no order and no choice of trees can prove a loom.</summary>
/// <remarks>The argument stands in docs/formulas.md, "What no plan can beat": touches and moves are counted apart, each from below.</remarks>
internal sealed class LowerBound
{
    /// <summary>Of how many wide nets the demands are added up; leaving some out only lowers the bound.</summary>
    private const int MostDemands = 300, MostPairs = 1_000_000;

    private readonly ProofNeeds needs;
    private readonly TouchCost cost;
    private readonly List<int[]> connectorsOf;
    private readonly HashSet<(int, int)> forced = [];
    private readonly int connectors;

    private LowerBound(ProofNeeds needs, TouchCost cost)
    {
        (this.needs, this.cost) = (needs, cost);
        var number = needs.Nets.SelectMany(n => n).Select(p => p.Connector).Distinct().Select((c, i) => (c, i)).ToDictionary(x => x.c, x => x.i, StringComparer.Ordinal);
        connectors = number.Count;
        connectorsOf = [.. needs.Nets.Select(n => n.Select(p => number[p.Connector]).Distinct().ToArray())];
        for (var net = 0; net < needs.Nets.Length; net++)
        {
            if (needs.Nets[net].Length > 1 && connectorsOf[net].Length <= 2)
            {
                forced.Add(Sorted(connectorsOf[net][0], connectorsOf[net][^1]));
            }
        }

        forced.UnionWith(needs.Apart.Where(p => connectorsOf[p.One].Length == 1 && connectorsOf[p.Other].Length == 1)
            .Select(p => Sorted(connectorsOf[p.One][0], connectorsOf[p.Other][0])));
    }

    /// <summary>The bound for what must be proven, seconds; 0 when that is nothing.</summary>
    internal static double Seconds(ProofNeeds needs, TouchCost cost)
    {
        var joined = needs.JoinedSteps;
        var apart = needs.IsThorough ? Math.Max(0, needs.Nets.Length - 1) : needs.Apart.Length;
        if (needs.IsBegun)
        {
            // What is left of a proof is bounded by its touches alone.
            var left = joined + (needs.IsThorough ? Math.Max(0, apart - needs.Plugged.Count) : apart);
            return left == 0 ? 0 : (2 * cost.Move) + ((left + 1) * cost.Touch);
        }

        return joined + apart == 0 ? 0 : new LowerBound(needs, cost).Seconds(joined, apart);
    }

    private double Seconds(int joined, int apart)
    {
        var steps = joined + apart;
        var parts = new Parts(connectors);
        foreach (var (x, y) in forced)
        {
            parts.Join(x, y);
        }

        var used = Enumerable.Range(0, needs.Nets.Length).Where(IsJoined).SelectMany(n => connectorsOf[n])
            .Concat(needs.Apart.SelectMany(p => new[] { p.One, p.Other }).Where(n => connectorsOf[n].Length == 1).Select(n => connectorsOf[n][0]))
            .ToHashSet();

        var islands = used.Select(parts.Of).Distinct().Count();
        var closed = Math.Max(0, forced.Count - used.Count + islands);
        var touches = steps + 1;
        var pairs = 0L;
        var sets = connectorsOf.Where(c => c.Length > 2).DistinctBy(c => string.Join(' ', c.Order())).OrderBy(c => c.Length).Take(MostDemands).TakeWhile(c => (pairs += (long)c.Length * c.Length) < MostPairs).Select(c => new WideNet(c, forced, parts)).ToList();
        var plugs = needs.IsThorough && apart > 0 ? Hitting() : 0;
        var best = 0.0;
        foreach (var (order, all) in Orders(sets))
        {
            var (needed, merged) = Demands(order, islands, all);
            if (plugs == 0)
            {
                var moves = used.Count + closed + Math.Max(0, needed - merged);
                var parted = needs.IsThorough ? JoinedNets() : NetParts();
                best = Math.Max(best, (cost.Touch * (touches + parted - 1)) + (cost.Move * moves));
            }
            else
            {
                // The plug closes no ring as long as it meets parts that nothing else joins.
                var free = Math.Max(plugs, islands - merged);
                var moves = used.Count + closed + 1 + Math.Max(needed - merged, needed + plugs - islands);
                best = Math.Max(best, (cost.Touch * (touches + Doubles(moves, free))) + (cost.Move * moves) + (cost.Clear * apart));
            }
        }

        return best;
    }

    /// <summary>Steps at least in which both probes go on, of a proof against all others joined.</summary>
    /// <param name="moves">Moves at least.</param>
    /// <param name="visits">How often the plug is gone to without a move more.</param>
    private double Doubles(int moves, int visits)
    {
        if (cost.Touch > cost.Move)
        {
            return 0;
        }

        var narrow = connectorsOf.Index().Count(c => IsJoined(c.Index) && c.Item.Length <= 2);
        var wide = connectorsOf.Where(c => c.Length > 2).Sum(c => c.Length - 1);
        var (runs, own) = (moves - 1 - visits, forced.Count);
        var spare = Math.Max(0, runs - own);
        var saved = spare + Math.Min(own, Math.Max(0, wide - spare) / 2.0);
        return Math.Max(0, Math.Max(JoinedNets() - 1 - visits, Math.Ceiling(narrow + wide - saved) - 1 - visits));
    }

    /// <summary>The wide nets in several orders, counted in two ways: each gives a bound, the greatest holds.</summary>
    private static IEnumerable<(IReadOnlyList<WideNet> Order, bool All)> Orders(List<WideNet> sets)
    {
        const int Shuffles = 20;
        var random = new Random(1);
        for (var i = 0; i < (sets.Count < 2 ? 1 : Shuffles); i++)
        {
            IReadOnlyList<WideNet> order = i == 0 ? [.. sets.OrderByDescending(s => s.Connectors.Length)] : [.. sets.OrderBy(s => s.Connectors.Length + (random.NextDouble() * ((i + 2) / 3)))];
            yield return (order, true);
            yield return (order, false);
        }
    }

    private bool IsJoined(int net) => needs.Nets[net].Length > 1;

    private int JoinedNets() => Enumerable.Range(0, needs.Nets.Length).Count(IsJoined);

    /// <summary>Groups of nets that no pair to be measured apart leads between.</summary>
    private int NetParts()
    {
        var parts = new Parts(needs.Nets.Length);
        foreach (var (one, other) in needs.Apart)
        {
            parts.Join(one, other);
        }

        var has = needs.Apart.SelectMany(p => new[] { p.One, p.Other }).Concat(Enumerable.Range(0, needs.Nets.Length).Where(IsJoined));
        return has.Select(parts.Of).Distinct().Count();
    }

    /// <summary>Pairs of connectors that nets over three and more need besides the forced ones, no pair counted twice, and how many parts those
    /// may join at most.</summary>
    /// <param name="all">Whether a net is counted even when it may join more parts than it adds pairs.</param>
    private static (int Pairs, int Merged) Demands(IReadOnlyList<WideNet> nets, int islands, bool all)
    {
        var (pairs, merged) = (0, 0);
        var before = new List<ulong[]>();
        foreach (var net in nets)
        {
            var own = net.Own();
            foreach (var other in before)
            {
                own.JoinShared(net, other);
            }

            if (own.Count > 1 && (all || own.Count - 1 >= net.Islands - 1))
            {
                pairs += own.Count - 1;
                merged += net.Islands - 1;
                before.Add(net.Has);
            }
        }

        return (pairs, Math.Min(merged, Math.Max(0, islands - 1)));
    }

    /// <summary>How many connectors at least must meet the plug: nets no two of which share a connector need one each, and one net is let off.</summary>
    private int Hitting()
    {
        var taken = new HashSet<int>();
        var count = 0;
        foreach (var net in connectorsOf.OrderBy(c => c.Length))
        {
            if (!net.Any(taken.Contains))
            {
                taken.UnionWith(net);
                count++;
            }
        }

        return Math.Max(1, count - 1);
    }

    private static (int, int) Sorted(int x, int y) => x < y ? (x, y) : (y, x);
}
