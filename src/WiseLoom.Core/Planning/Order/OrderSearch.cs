namespace WiseLoom.Core.Planning.Order;

/// <summary>Looks for a cheap chain: each obligation put where it costs least, then parts taken out and put back, and stretches moved and turned.</summary>
/// <remarks>Ruin and recreate (Schrimpf and others, 2000) with a threshold that falls, and 2-opt and or-opt (Croes 1958, Or 1976) over the
/// stretches between dear steps. The work is counted, not timed: the same seed gives the same plan on any machine.</remarks>
internal sealed class OrderSearch
{
    /// <summary>Of so few obligations all may be taken out at once.</summary>
    private const int Few = 14;

    /// <summary>Of more obligations each is only put where it costs least.</summary>
    internal const int Many = 4000;

    private readonly TouchChain chain;
    private readonly TouchMap map;
    private readonly double cheapest;
    private readonly PlanPatience patience;
    private readonly Random random;
    private readonly List<int> taken = [];
    private readonly List<(int Step, int After, int A, int B)> undo = [];

    private OrderSearch(TouchMap map, TouchChain chain, double cheapest, int seed, PlanPatience patience)
    {
        (this.map, this.chain, this.cheapest, this.patience) = (map, chain, cheapest, patience);
        random = new Random(seed);
    }

    /// <summary>Finds a chain.</summary>
    /// <param name="start">Where the probes stand; null for nowhere.</param>
    /// <param name="cheapest">What a step costs at least: one touch, seconds.</param>
    /// <param name="ways">Pairs of connectors to begin with; null for any.</param>
    /// <param name="work">How many pairs may be looked at.</param>
    /// <param name="patience">When the time is up, the best so far is taken.</param>
    /// <returns>Obligations in their order, each with its two points.</returns>
    internal static List<(int Obligation, int A, int B)> Run(TouchMap map, Obligation[] obligations, (int A, int B)? start, double cheapest, bool[]? ways, long work, int seed, PlanPatience patience)
    {
        var chain = new TouchChain(map, obligations, start, cheapest);
        new OrderSearch(map, chain, cheapest, seed, patience).Go(ways, work);
        return [.. chain.Steps().Select(s => (s, chain.At(s).A, chain.At(s).B))];
    }

    /// <summary>The same from the order in which settled pairs come; never a dearer one.</summary>
    internal static List<(int Obligation, int A, int B)> Improve(TouchMap map, Obligation[] obligations, (int A, int B)? start, double cheapest, long work, int seed, PlanPatience patience = default)
    {
        var chain = new TouchChain(map, obligations, start, cheapest);
        for (var step = 0; step < obligations.Length; step++)
        {
            chain.Put(step, step - 1, obligations[step].First[0], obligations[step].Second[0]);
        }

        new OrderSearch(map, chain, cheapest, seed, patience).Search(work);
        return [.. chain.Steps().Select(s => (s, chain.At(s).A, chain.At(s).B))];
    }

    private void Go(bool[]? ways, long work)
    {
        for (var step = 0; step < chain.Count; step++)
        {
            if (patience.IsOver && !chain.IsEmpty)
            {
                chain.PutLast(step);
            }
            else
            {
                Insert(step, ways);
            }
        }

        Search(work);
    }

    private void Search(long work)
    {
        if (chain.Count > Many || patience.IsOver)
        {
            return;
        }

        // What putting the steps in has cost does not count.
        var begun = chain.Work;
        var stretches = new StretchSearch(map, chain, cheapest);
        var (best, bestCost) = (Snapshot(), chain.Cost);
        stretches.Improve(work / 6);
        Keep();
        var rounds = 6;
        for (var r = 0; r < rounds; r++)
        {
            var until = work / 6 + ((r + 1) * (work * 5 / 6) / rounds);
            var heat = 6.0 * (rounds - 1 - r) / rounds;
            while (chain.Work - begun < until && chain.Count > 1 && !patience.IsOver)
            {
                RuinAndRecreate(heat * random.NextDouble());
                Keep();
            }

            stretches.Improve(work / 20);
            Keep();
        }

        Restore(best);

        void Keep()
        {
            if (chain.Cost < bestCost - 1e-9)
            {
                (best, bestCost) = (Snapshot(), chain.Cost);
            }
        }
    }

    private void Insert(int step, bool[]? ways = null)
    {
        var slot = ways is null && chain.IsEmpty ? chain.Anywhere(step, random) : chain.Best(step, ways);
        chain.Put(step, slot.After, slot.A, slot.B);
    }

    private void RuinAndRecreate(double allowed)
    {
        var before = chain.Cost;
        Choose();
        undo.Clear();
        foreach (var step in taken)
        {
            undo.Add((step, chain.Previous(step) == chain.End ? -1 : chain.Previous(step), chain.At(step).A, chain.At(step).B));
            chain.Remove(step);
        }

        for (var i = taken.Count - 1; i > 0; i--)
        {
            var j = random.Next(i + 1);
            (taken[i], taken[j]) = (taken[j], taken[i]);
        }

        foreach (var step in taken)
        {
            Insert(step);
        }

        if (chain.Cost <= before + allowed)
        {
            return;
        }

        foreach (var step in taken)
        {
            chain.Remove(step);
        }

        for (var i = undo.Count - 1; i >= 0; i--)
        {
            chain.Put(undo[i].Step, undo[i].After, undo[i].A, undo[i].B);
        }
    }

    /// <summary>A few steps that follow one another, from a dear one if there is one near, and some that touch the same nets elsewhere.</summary>
    private void Choose()
    {
        taken.Clear();
        var seed = random.Next(chain.Count);
        for (var i = 0; i < 12 && chain.Before(seed) <= cheapest; i++)
        {
            seed = random.Next(chain.Count);
        }

        var length = 1 + random.Next(chain.Count <= Few ? chain.Count : 5);
        if (random.Next(2) == 0 && chain.Previous(seed) != chain.End)
        {
            seed = chain.Previous(seed);
        }

        for (var step = seed; step != chain.End && taken.Count < length; step = chain.Next(step))
        {
            taken.Add(step);
        }

        var relatives = random.Next(4);
        for (var i = 0; i < relatives; i++)
        {
            var of = taken[random.Next(taken.Count)];
            var list = chain.Touching(map.NetOf[random.Next(2) == 0 ? chain.At(of).A : chain.At(of).B]);
            var other = list[random.Next(list.Count)] >> 1;
            if (!taken.Contains(other))
            {
                taken.Add(other);
            }
        }
    }

    private (int Step, int A, int B)[] Snapshot() => [.. chain.Steps().Select(s => (s, chain.At(s).A, chain.At(s).B))];

    private void Restore((int Step, int A, int B)[] steps)
    {
        foreach (var step in chain.Steps().ToList())
        {
            chain.Remove(step);
        }

        var after = -1;
        foreach (var (step, a, b) in steps)
        {
            chain.Put(step, after, a, b);
            after = step;
        }
    }
}
