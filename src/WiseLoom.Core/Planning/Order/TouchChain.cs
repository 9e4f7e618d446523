namespace WiseLoom.Core.Planning.Order;

/// <summary>A place to put an obligation: after which step, and on which two points.</summary>
/// <param name="After">The step before it; −1 for the start.</param>
/// <param name="Added">What the chain then costs more, seconds.</param>
internal readonly record struct Slot(int After, int A, int B, double Added)
{
    internal static Slot None { get; } = new(-2, -1, -1, double.PositiveInfinity);
}

/// <summary>Obligations in an order, each on two points. Taking one out and putting one in costs what the steps near it cost to look at.</summary>
internal sealed partial class TouchChain
{
    /// <summary>How many pairs may be looked at that lie where no probe is, about a second's work: a net in hundreds of connectors has tens
    /// of thousands of them beside each step.</summary>
    private const long MostFarLooks = 200_000_000;

    private readonly TouchMap map;
    private readonly Obligation[] obligations;
    private readonly int startA, startB;
    private readonly int[] a, b, next, previous;
    private readonly bool[] isIn;
    private readonly List<int>[] ofNet, ofConnector;
    private readonly int[] placeInNetA, placeInNetB, placeInConnectorA, placeInConnectorB;
    private readonly List<int>[] edgesOf;
    private readonly int[] component, stamp, listed;
    private readonly int[] near = new int[4];
    private readonly List<int> firstOnes = [], secondOnes = [];
    private bool[]? ways;
    private readonly int[] partsOf = new int[4];
    private readonly double cheapest;
    private ReadOnlyMemory<int> parts;
    private int[] partOfOther = [];
    private int round, listing;
    private long farLooks;

    /// <param name="start">Where the probes stand before the first step; null when they are nowhere.</param>
    /// <param name="cheapest">What a step costs at least: one touch, seconds.</param>
    internal TouchChain(TouchMap map, Obligation[] obligations, (int A, int B)? start, double cheapest)
    {
        (this.map, this.obligations, this.cheapest) = (map, obligations, cheapest);
        (startA, startB) = start ?? (-1, -1);
        var n = obligations.Length;
        (a, b, next, previous) = (new int[n], new int[n], new int[n + 1], new int[n + 1]);
        (next[n], previous[n]) = (n, n);
        isIn = new bool[n];
        ofNet = [.. map.Nets.Select(_ => new List<int>())];
        ofConnector = [.. Enumerable.Range(0, map.Connectors).Select(_ => new List<int>())];
        (placeInNetA, placeInNetB, placeInConnectorA, placeInConnectorB) = (new int[n], new int[n], new int[n], new int[n]);
        edgesOf = [.. map.Nets.Select(_ => new List<int>())];
        for (var i = 0; i < n; i++)
        {
            if (obligations[i].Tree >= 0)
            {
                edgesOf[obligations[i].Tree].Add(i);
            }
        }

        component = new int[map.ConnectorOf.Length];
        stamp = new int[n + 1];
        listed = new int[map.ConnectorOf.Length];
    }

    /// <summary>Seconds for the whole chain; what the plug costs besides, and the first step when the probes are nowhere, are left out.</summary>
    internal double Cost { get; private set; }

    /// <summary>How many pairs have been looked at.</summary>
    internal long Work { get; private set; }

    /// <summary>How many obligations there are.</summary>
    internal int Count => obligations.Length;

    /// <summary>The end that stands before the first step and after the last.</summary>
    internal int End => obligations.Length;

    internal int Next(int step) => next[step];

    internal int Previous(int step) => previous[step];

    internal (int A, int B) At(int step) => (a[step], b[step]);

    /// <summary>The steps in their order.</summary>
    internal IEnumerable<int> Steps()
    {
        for (var step = next[End]; step != End; step = next[step])
        {
            yield return step;
        }
    }

    /// <summary>Steps that touch a net.</summary>
    internal List<int> Touching(int net) => ofNet[net];

    /// <summary>Seconds from the step before to this one.</summary>
    internal double Before(int step) => Link(previous[step], a[step], b[step]);

    /// <summary>Seconds from the start to a place in an order.</summary>
    internal double FromStart(int[] order, int place) => place < 0 || place >= order.Length ? 0 : Link(End, a[order[place]], b[order[place]]);

    /// <summary>Takes a step out.</summary>
    internal void Remove(int step)
    {
        var (p, n) = (previous[step], next[step]);
        Cost -= Link(p, a[step], b[step]) + LinkOut(a[step], b[step], n);
        (next[p], previous[n]) = (n, p);
        Cost += n == End ? 0 : Link(p, a[n], b[n]);
        isIn[step] = false;
        Drop(ofNet[map.NetOf[a[step]]], placeInNetA, step, map.NetOf, 0);
        Drop(ofNet[map.NetOf[b[step]]], placeInNetB, step, map.NetOf, 1);
        Drop(ofConnector[map.ConnectorOf[a[step]]], placeInConnectorA, step, map.ConnectorOf, 0);
        Drop(ofConnector[map.ConnectorOf[b[step]]], placeInConnectorB, step, map.ConnectorOf, 1);
    }

    /// <summary>Puts a step in.</summary>
    internal void Put(int step, int after, int onA, int onB)
    {
        var p = after < 0 ? End : after;
        var n = next[p];
        (a[step], b[step]) = (onA, onB);
        Cost += Link(p, onA, onB) + LinkOut(onA, onB, n) - (n == End ? 0 : Link(p, a[n], b[n]));
        (next[p], previous[step], next[step], previous[n]) = (step, p, n, step);
        isIn[step] = true;
        Keep(ofNet[map.NetOf[onA]], placeInNetA, step, 0);
        Keep(ofNet[map.NetOf[onB]], placeInNetB, step, 1);
        Keep(ofConnector[map.ConnectorOf[onA]], placeInConnectorA, step, 0);
        Keep(ofConnector[map.ConnectorOf[onB]], placeInConnectorB, step, 1);
    }

    /// <summary>Lays the steps out anew in an order, each on the points it has.</summary>
    internal void Reorder(ReadOnlySpan<int> order)
    {
        Cost = 0;
        var p = End;
        foreach (var step in order)
        {
            Cost += Link(p, a[step], b[step]);
            (next[p], previous[step]) = (step, p);
            p = step;
        }

        (next[p], previous[End]) = (End, p);
    }

    /// <summary>Whether no step is in.</summary>
    internal bool IsEmpty => next[End] == End;

    /// <summary>Some points for an obligation, each as likely as the next: what comes first has nothing to be near to.</summary>
    internal Slot Anywhere(int step, Random random)
    {
        var what = obligations[step];
        if (what.IsFreeEdge)
        {
            Components(what.Tree);
        }

        while (true)
        {
            var (x, y) = (what.First[random.Next(what.First.Length)], what.Second[random.Next(what.Second.Length)]);
            if (!what.IsFreeEdge || component[x] != component[y])
            {
                return new(-1, x, y, 0);
            }
        }
    }

    /// <summary>Puts an obligation at the end, on the first points that meet it.</summary>
    internal void PutLast(int step)
    {
        var what = obligations[step];
        var (x, y) = (what.First[0], what.Second[0]);
        if (what.IsFreeEdge)
        {
            Components(what.Tree);
            y = what.First.First(p => component[p] != component[x]);
        }

        Put(step, previous[End], x, y);
    }

    /// <summary>The cheapest place for an obligation that is not in.</summary>
    /// <param name="only">Pairs of connectors that the probes may go between, where the obligation can be met so; null for any.</param>
    internal Slot Best(int step, bool[]? only = null)
    {
        ways = only;
        var best = Find(step);
        if (only is not null && best.A < 0)
        {
            ways = null;
            best = Find(step);
        }

        return best;
    }

    private Slot Find(int step)
    {
        var what = obligations[step];
        if (what.IsFreeEdge)
        {
            Components(what.Tree);
        }

        round++;
        var best = Slot.None;
        Around(what.First, what, ref best);
        if (!what.IsFreeEdge)
        {
            Around(what.Second, what, ref best);
        }

        if (best.A < 0)
        {
            Try(previous[End], what, ref best);
        }

        return best;
    }

    private void Around(int[] points, Obligation what, ref Slot best)
    {
        const int Many = 80;
        var isLarge = obligations.Length > OrderSearch.Many;
        var mostOfNet = isLarge ? 40 : 400;
        var own = ofNet[map.NetOf[points[0]]];
        for (var i = Math.Max(0, own.Count - mostOfNet); i < own.Count; i++)
        {
            Beside(own[i] >> 1, what, ref best);
        }

        if (what.Tree < 0 && best.A >= 0)
        {
            return;
        }

        // Points of a net come connector by connector: each is looked through once, however many of its points there are.
        var before = -1;
        foreach (var point in points)
        {
            if (map.ConnectorOf[point] == before)
            {
                continue;
            }

            before = map.ConnectorOf[point];
            var steps = ofConnector[before];
            if (steps.Count <= Many || best.A < 0)
            {
                for (var i = Math.Max(0, steps.Count - (isLarge ? Many : steps.Count)); i < steps.Count; i++)
                {
                    Beside(steps[i] >> 1, what, ref best);
                }
            }
        }
    }

    private void Beside(int step, Obligation what, ref Slot best)
    {
        Try(step, what, ref best);
        Try(previous[step], what, ref best);
    }

    /// <summary>Looks at putting an obligation after a step.</summary>
    private void Try(int after, Obligation what, ref Slot best)
    {
        if (stamp[after] == round)
        {
            return;
        }

        stamp[after] = round;
        var n = next[after];
        var without = n == End ? 0 : Link(after, a[n], b[n]);
        if ((after == End && startA < 0 ? 0 : cheapest) + (n == End ? 0 : cheapest) - without >= best.Added - 1e-9)
        {
            return;
        }

        near[0] = after == End ? startA : a[after];
        near[1] = after == End ? startB : b[after];
        near[2] = n == End ? -1 : a[n];
        near[3] = n == End ? -1 : b[n];
        var isAnywhere = ways is not null && MayBeAnywhere(without, best.Added);
        Candidates(what.First, what.IsFreeEdge, isAnywhere, firstOnes);
        var others = firstOnes;
        if (!what.IsFreeEdge)
        {
            Candidates(what.Second, false, isAnywhere, secondOnes);
            others = secondOnes;
        }

        farLooks += isAnywhere ? ((long)firstOnes.Count * firstOnes.Count) + ((long)firstOnes.Count * others.Count) : 0;

        // A large tree has tens of thousands of pairs here, nearly all of one part: those are passed over without being looked at one by one.
        var (isTree, count) = (what.IsFreeEdge, others.Count);
        if (partOfOther.Length < count)
        {
            partOfOther = new int[2 * count];
        }

        for (var i = 0; i < count; i++)
        {
            partOfOther[i] = isTree ? component[others[i]] : -1;
        }

        foreach (var x in firstOnes)
        {
            var part = isTree ? component[x] : -2;
            for (var i = 0; i < count; i++)
            {
                if (partOfOther[i] == part)
                {
                    continue;
                }

                var y = others[i];
                if (!IsWay(map.ConnectorOf[x], map.ConnectorOf[y]))
                {
                    continue;
                }

                Work++;
                var added = Link(after, x, y) + LinkOut(x, y, n) - without;
                if (added < best.Added - 1e-9)
                {
                    best = new(after == End ? -1 : after, x, y, added);
                }
            }
        }
    }

    /// <summary>Whether a point in a connector that no probe is in, before or after, can be part of something cheaper than what was found: one
    /// probe moves there and away, the other goes from where one stands to where one is next, by whatever way.</summary>
    private bool MayBeAnywhere(double without, double best)
    {
        if (best >= double.MaxValue || farLooks >= MostFarLooks)
        {
            return best >= double.MaxValue;
        }

        if (near[0] < 0 || near[2] < 0)
        {
            return true;
        }

        var other = Math.Min(Math.Min(map.Go(near[0], near[2]), map.Go(near[0], near[3])), Math.Min(map.Go(near[1], near[2]), map.Go(near[1], near[3])));
        return (2 * map.Far) + other - without < best - 1e-9;
    }

    private bool IsWay(int x, int y) => ways is null || ways[x < y ? (x * map.Connectors) + y : (y * map.Connectors) + x];

    private double Link(int from, int x, int y) =>
        from == End ? (startA < 0 ? 0 : map.Between(startA, startB, x, y)) : map.Between(a[from], b[from], x, y);

    private double LinkOut(int x, int y, int to) => to == End ? 0 : map.Between(x, y, a[to], b[to]);

    private static void Keep(List<int> list, int[] place, int step, int side)
    {
        place[step] = list.Count;
        list.Add((step << 1) | side);
    }

    private void Drop(List<int> list, int[] place, int step, int[] of, int side)
    {
        var (at, last) = (place[step], list[^1]);
        list[at] = last;
        list.RemoveAt(list.Count - 1);
        if (last != ((step << 1) | side))
        {
            var isNet = ReferenceEquals(of, map.NetOf);
            var places = (last & 1) == 0 ? (isNet ? placeInNetA : placeInConnectorA) : (isNet ? placeInNetB : placeInConnectorB);
            places[last >> 1] = at;
        }
    }
}
