namespace WiseLoom.Core.Planning.Order;

/// <summary>Between which two connectors the probes go at all: as few pairs of connectors as let every net be joined. Each pair that closes a
/// ring costs one more move than a loom needs.</summary>
internal sealed class ConnectorWays
{
    /// <summary>How many pairs may be tried in place of others.</summary>
    private const int MostTrials = 4000;

    private readonly List<int[]> nets = [];
    private readonly ILookup<(int, int), int> netsOver;
    private readonly HashSet<(int, int)> kept;
    private readonly int[] mark;

    private ConnectorWays(IEnumerable<int[]> sets, int connectors)
    {
        nets.AddRange(sets);
        mark = new int[connectors];
        netsOver = nets.SelectMany((n, i) => Pairs(n).Select(p => (p, i))).ToLookup(x => x.p, x => x.i);
        kept = [.. netsOver.Select(g => g.Key)];
    }

    /// <summary>The pairs of connectors, the smaller number first; a pair of a connector with itself where a net lies in that one alone.</summary>
    internal static HashSet<(int, int)> Of(ProofNeeds needs, TouchMap map)
    {
        var sets = map.Nets.SkipLast(1).Where(n => n.Length > 1).Select(n => n.Select(p => map.ConnectorOf[p]).Distinct().Order().ToArray()).ToList();
        var ways = new ConnectorWays(sets.Where(s => s.Length > 1).DistinctBy(s => string.Join(' ', s)), map.Connectors);
        ways.Thin();
        ways.Exchange();
        ways.kept.UnionWith(sets.Where(s => s.Length == 1).Select(s => (s[0], s[0])));
        if (needs.IsThorough)
        {
            ways.kept.UnionWith(Plugged(map).Select(c => (c, map.Connectors - 1)));
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
        foreach (var pair in kept.OrderBy(p => netsOver[p].Count()).ThenBy(p => p).ToList())
        {
            TryWithout(pair);
        }
    }

    /// <summary>Takes a pair in and looks whether two others can then go.</summary>
    private void Exchange()
    {
        var trials = 0;
        for (var isBetter = true; isBetter;)
        {
            isBetter = false;
            foreach (var pair in netsOver.Select(g => g.Key).Where(p => !kept.Contains(p)).OrderByDescending(p => netsOver[p].Count()).ThenBy(p => p).ToList())
            {
                if (trials++ > MostTrials)
                {
                    return;
                }

                kept.Add(pair);
                var beside = kept.Where(k => k != pair && netsOver[k].Intersect(netsOver[pair]).Any()).OrderBy(p => netsOver[p].Count()).ThenBy(p => p).ToList();
                var gone = beside.Where(TryWithout).ToList();
                if (gone.Count == 0 || (gone.Count == 1 && netsOver[gone[0]].Count() >= netsOver[pair].Count()))
                {
                    kept.UnionWith(gone);
                    kept.Remove(pair);
                }

                isBetter |= gone.Count > 1;
            }
        }
    }

    /// <summary>Leaves a pair out when every net stays joined without.</summary>
    private bool TryWithout((int, int) pair)
    {
        kept.Remove(pair);
        if (netsOver[pair].All(n => IsJoined(nets[n])))
        {
            return true;
        }

        kept.Add(pair);
        return false;
    }

    private bool IsJoined(int[] net)
    {
        foreach (var connector in net)
        {
            mark[connector] = 0;
        }

        var waiting = new Stack<int>([net[0]]);
        var reached = 1;
        mark[net[0]] = 1;
        while (waiting.TryPop(out var at))
        {
            foreach (var other in net)
            {
                if (mark[other] == 0 && kept.Contains(at < other ? (at, other) : (other, at)))
                {
                    mark[other] = 1;
                    reached++;
                    waiting.Push(other);
                }
            }
        }

        return reached == net.Length;
    }

    private static IEnumerable<(int, int)> Pairs(int[] net) => net.SelectMany((x, i) => net.Skip(i + 1).Select(y => (x, y)));
}
