namespace WiseLoom.Core.Planning.Order;

/// <summary>Between which two connectors the probes go at all: as few pairs of connectors as let every net be joined. Each pair that closes a
/// ring costs one more move than a loom needs.</summary>
internal sealed class ConnectorWays
{
    /// <summary>How many connectors may be looked at while pairs are exchanged.</summary>
    private const int MostWork = 3_000_000;

    /// <summary>How many may be looked at while pairs are left out, about a second's work; what is then still in stays in.</summary>
    private const int MostWorkOfThin = 600_000_000;

    private const int MostConnectors = 1000, MostPairs = 400_000;

    private readonly int connectors;
    private readonly int[][] nets;
    private readonly Dictionary<int, int[]> netsOver;
    private readonly bool[] kept;
    private readonly bool[] reached;
    private readonly int[] waiting;
    private readonly PlanPatience patience;
    private long work;

    private ConnectorWays(int[][] nets, int connectors, PlanPatience patience)
    {
        (this.nets, this.connectors, this.patience) = (nets, connectors, patience);
        (reached, waiting) = (new bool[connectors], new int[connectors]);
        kept = new bool[connectors * connectors];
        netsOver = nets.SelectMany((n, i) => Pairs(n).Select(p => (p, i))).GroupBy(x => x.p, x => x.i).ToDictionary(g => g.Key, g => g.ToArray());
        foreach (var pair in netsOver.Keys)
        {
            kept[pair] = true;
        }
    }

    /// <summary>Whether the probes go between two connectors, by their numbers: the smaller times the number of connectors, plus the greater.
    /// Also a connector with itself, where a net lies in that one alone.</summary>
    /// <returns>Null for a loom with so many pairs of connectors that looking for the best would take too long.</returns>
    internal static bool[]? Of(ProofNeeds needs, TouchMap map, PlanPatience patience = default)
    {
        var sets = map.Nets.SkipLast(1).Where(n => n.Length > 1).Select(n => n.Select(p => map.ConnectorOf[p]).Distinct().Order().ToArray()).ToList();
        if (map.Connectors > MostConnectors || sets.Sum(s => (long)s.Length * s.Length) > MostPairs)
        {
            return null;
        }

        var ways = new ConnectorWays([.. sets.Where(s => s.Length > 1).DistinctBy(s => string.Join(' ', s))], map.Connectors, patience);
        ways.Thin();
        ways.Exchange();
        foreach (var alone in sets.Where(s => s.Length == 1))
        {
            ways.kept[(alone[0] * map.Connectors) + alone[0]] = true;
        }

        foreach (var plugged in needs.IsThorough ? Plugged(map) : [])
        {
            ways.kept[(plugged * map.Connectors) + map.Connectors - 1] = true;
        }

        return ways.kept;
    }

    /// <summary>Connectors at which nearly every net can be met: the one with the most nets first.</summary>
    private static List<int> Plugged(TouchMap map)
    {
        var open = map.Nets.SkipLast(1).Select(n => n.Select(p => map.ConnectorOf[p]).ToHashSet()).ToList();
        var chosen = new List<int>();
        while (open.Count > 1 || (open.Count == 1 && chosen.Count == 0))
        {
            var best = open.SelectMany(s => s).CountBy(c => c).MaxBy(c => c.Value).Key;
            chosen.Add(best);
            open.RemoveAll(s => s.Contains(best));
        }

        return chosen;
    }

    /// <summary>Leaves out pairs that no net needs, those of the fewest nets first.</summary>
    private void Thin()
    {
        foreach (var pair in netsOver.Keys.OrderBy(p => netsOver[p].Length).ThenBy(p => p).TakeWhile(_ => work <= MostWorkOfThin && !patience.IsOver))
        {
            TryWithout(pair);
        }
    }

    /// <summary>Takes a pair in and looks whether two others can then go.</summary>
    private void Exchange()
    {
        for (var isBetter = true; isBetter;)
        {
            isBetter = false;
            foreach (var pair in netsOver.Keys.Where(p => !kept[p]).OrderByDescending(p => netsOver[p].Length).ThenBy(p => p).ToList())
            {
                if (work > MostWork || patience.IsOver)
                {
                    return;
                }

                kept[pair] = true;
                var beside = netsOver[pair].SelectMany(n => Pairs(nets[n])).Where(k => k != pair && kept[k]).Distinct().OrderBy(p => netsOver[p].Length).ThenBy(p => p).ToList();
                var gone = beside.Where(TryWithout).ToList();
                isBetter |= gone.Count > 1;
                if (gone.Count == 0 || (gone.Count == 1 && netsOver[gone[0]].Length >= netsOver[pair].Length))
                {
                    gone.ForEach(g => kept[g] = true);
                    kept[pair] = false;
                }
            }
        }
    }

    /// <summary>Leaves a pair out when every net stays joined without.</summary>
    private bool TryWithout(int pair)
    {
        kept[pair] = false;
        foreach (var net in netsOver[pair])
        {
            if (!IsJoined(nets[net], pair / connectors, pair % connectors))
            {
                kept[pair] = true;
                return false;
            }
        }

        return true;
    }

    /// <summary>Whether a net that was joined with a pair of connectors still is without it: whether the one is reached from the other.</summary>
    private bool IsJoined(int[] net, int from, int to)
    {
        foreach (var connector in net)
        {
            reached[connector] = false;
        }

        var (count, next) = (1, 0);
        waiting[0] = from;
        reached[from] = true;
        while (next < count && !reached[to])
        {
            var at = waiting[next++];
            work += net.Length;
            foreach (var other in net)
            {
                if (!reached[other] && kept[at < other ? (at * connectors) + other : (other * connectors) + at])
                {
                    reached[other] = true;
                    waiting[count++] = other;
                }
            }
        }

        return reached[to];
    }

    private IEnumerable<int> Pairs(int[] net) => net.SelectMany((x, i) => net.Skip(i + 1).Select(y => (x * connectors) + y));
}
