namespace WiseLoom.Core.Planning.Order;

/// <summary>Moves and turns whole stretches of a chain. A stretch lies between two dear steps: within it each step costs one touch, and
/// nothing can be gained there.</summary>
internal sealed class StretchSearch(TouchMap map, TouchChain chain, double cheapest)
{
    private int[] order = [];
    private readonly List<int> cuts = [];
    private long left;

    /// <summary>Improves the chain until nothing is left to gain or the work is done.</summary>
    internal void Improve(long work)
    {
        left = work;
        order = [.. chain.Steps()];
        var isBetter = false;
        while (left > 0 && (Turn() || Move()))
        {
            isBetter = true;
        }

        if (isBetter)
        {
            chain.Reorder(order);
        }
    }

    /// <summary>Places in the order before which a dear step begins: 0 and the length among them.</summary>
    private void FindCuts()
    {
        cuts.Clear();
        cuts.Add(0);
        for (var i = 1; i < order.Length; i++)
        {
            if (Link(i - 1, i) > cheapest + 1e-9)
            {
                cuts.Add(i);
            }
        }

        cuts.Add(order.Length);
    }

    /// <summary>Turns stretches i to j round (2-opt) as long as that gains.</summary>
    private bool Turn()
    {
        var gained = false;
        FindCuts();
        for (var i = 0; i + 1 < cuts.Count && left > 0; i++)
        {
            for (var j = i + 1; j < cuts.Count; j++)
            {
                left--;
                var (from, to) = (cuts[i], cuts[j] - 1);
                var now = Link(from - 1, from) + Link(to, to + 1);
                var then = Link(from - 1, to) + Link(from, to + 1);
                if (then < now - 1e-9)
                {
                    Array.Reverse(order, from, to - from + 1);
                    gained = true;
                    FindCuts();
                    if (i + 1 >= cuts.Count)
                    {
                        break;
                    }
                }
            }
        }

        return gained;
    }

    /// <summary>Moves stretches i to j to another cut, as they are or turned round (or-opt); takes the first gain of each i and j.</summary>
    private bool Move()
    {
        var gained = false;
        for (var i = 0; i + 1 < cuts.Count && left > 0; i++)
        {
            for (var j = i + 1; j < cuts.Count && j <= i + 40; j++)
            {
                if (MoveOne(cuts[i], cuts[j] - 1))
                {
                    gained = true;
                    FindCuts();
                    break;
                }
            }
        }

        return gained;
    }

    private bool MoveOne(int from, int to)
    {
        var gain = Link(from - 1, from) + Link(to, to + 1) - Link(from - 1, to + 1);
        if (gain <= cheapest + 1e-9 && gain <= 1e-9)
        {
            return false;
        }

        foreach (var cut in cuts)
        {
            left--;
            if (cut >= from && cut <= to + 1)
            {
                continue;
            }

            var between = Link(cut - 1, cut);
            var straight = Link(cut - 1, from) + Link(to, cut) - between;
            var turned = Link(cut - 1, to) + Link(from, cut) - between;
            if (Math.Min(straight, turned) < gain - 1e-9)
            {
                Shift(from, to, cut, turned < straight);
                return true;
            }
        }

        return false;
    }

    private void Shift(int from, int to, int cut, bool turned)
    {
        var piece = order[from..(to + 1)];
        if (turned)
        {
            Array.Reverse(piece);
        }

        order = cut < from
            ? [.. order[..cut], .. piece, .. order[cut..from], .. order[(to + 1)..]]
            : [.. order[..from], .. order[(to + 1)..cut], .. piece, .. order[cut..]];
    }

    /// <summary>Seconds from one place in the order to another; −1 is the start, the length is the end.</summary>
    private double Link(int from, int to)
    {
        if (from < 0 || to < 0)
        {
            return chain.FromStart(order, from < 0 ? to : from);
        }

        if (to >= order.Length || from >= order.Length)
        {
            return 0;
        }

        var (x, y) = (chain.At(order[from]), chain.At(order[to]));
        return map.Between(x.A, x.B, y.A, y.B);
    }
}
