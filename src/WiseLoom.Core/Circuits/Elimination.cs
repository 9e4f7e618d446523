using System.Runtime.CompilerServices;

namespace WiseLoom.Core.Circuits;

/// <summary>The order in which the nodes of a network are removed, and where each step finds its numbers. Made once for a network; values may change.</summary>
/// <remarks>
/// The nodal equations of positive conductances are solved by the star–mesh transform (Rosen, 1924), the node with the fewest
/// neighbours first. The leak of each node to the reference is carried along as a number of its own and the diagonal is always
/// summed anew, so that nothing is subtracted and a microsiemens beside a kilosiemens keeps its digits (as in the elimination of
/// Grassmann, Taksar and Heyman). When a value changes, only the nodes after it in the order, along their neighbours, are formed anew.
/// </remarks>
internal sealed class Elimination
{
    private readonly int[] order;
    private readonly int[] position;
    private readonly int[] start;
    private readonly int[] other;
    private readonly int[] pairStart;
    private readonly int[] pairSlot;
    private readonly int[] earlierStart;
    private readonly (int Position, int Slot, int Pair)[] earlier;

    private Elimination(int[] order, int[] position, int[] start, int[] other, int[] pairStart, int[] pairSlot)
    {
        (this.order, this.position, this.start, this.other, this.pairStart, this.pairSlot) = (order, position, start, other, pairStart, pairSlot);
        (earlierStart, earlier) = Earlier();
        All = [.. Enumerable.Range(0, order.Length)];
    }

    /// <summary>Number of nodes, the reference not among them.</summary>
    internal int Count => order.Length;

    /// <summary>All places in the order.</summary>
    internal int[] All { get; }

    /// <summary>Number of places for conductances between nodes.</summary>
    internal int Slots => other.Length;

    /// <summary>Plans the removal of all nodes.</summary>
    /// <param name="count">Number of nodes, numbered from 0.</param>
    /// <param name="edges">Pairs of nodes that a conductance may join; twice the same pair is allowed.</param>
    internal static Elimination Of(int count, IEnumerable<(int A, int B)> edges)
    {
        var near = new HashSet<int>[count];
        for (var i = 0; i < count; i++)
        {
            near[i] = [];
        }

        foreach (var (a, b) in edges)
        {
            near[a].Add(b);
            near[b].Add(a);
        }

        var (order, stars) = EliminationOrder.Of(near);
        var position = new int[count];
        for (var p = 0; p < count; p++)
        {
            position[order[p]] = p;
        }

        var start = new int[count + 1];
        var slotOf = new Dictionary<long, int>();
        var other = new List<int>();
        for (var p = 0; p < count; p++)
        {
            start[p] = other.Count;
            foreach (var q in stars[p].Select(n => position[n]).Order())
            {
                slotOf.Add(Key(p, q), other.Count);
                other.Add(q);
            }
        }

        start[count] = other.Count;
        var pairStart = new int[count];
        var pairs = new List<int>();
        for (var p = 0; p < count; p++)
        {
            pairStart[p] = pairs.Count;
            for (var k = start[p]; k < start[p + 1]; k++)
            {
                for (var l = k + 1; l < start[p + 1]; l++)
                {
                    pairs.Add(slotOf[Key(other[k], other[l])]);
                }
            }
        }

        return new(order, position, start, [.. other], pairStart, [.. pairs]);
    }

    /// <summary>Where the conductance between two nodes is kept.</summary>
    /// <exception cref="ArgumentException">No edge joins them.</exception>
    internal int SlotOf(int a, int b)
    {
        var (p, q) = (Math.Min(position[a], position[b]), Math.Max(position[a], position[b]));
        var found = Array.BinarySearch(other, start[p], start[p + 1] - start[p], q);
        return found >= 0 ? found : throw new ArgumentException($"Nodes {a} and {b} have no edge between them.");
    }

    /// <summary>The place of a node in the order.</summary>
    internal int PositionOf(int node) => position[node];

    /// <summary>The place in the order of the node that keeps a slot.</summary>
    internal int PositionOfSlot(int a, int b) => Math.Min(position[a], position[b]);

    /// <summary>All places that values at some nodes reach: those nodes, their later neighbours, and so on; in order.</summary>
    internal int[] Reach(IEnumerable<int> nodes)
    {
        var reached = new bool[Count];
        var list = new List<int>();
        var open = new Stack<int>(nodes.Select(n => position[n]));
        while (open.TryPop(out var p))
        {
            if (!reached[p])
            {
                reached[p] = true;
                list.Add(p);
                for (var k = start[p]; k < start[p + 1]; k++)
                {
                    open.Push(other[k]);
                }
            }
        }

        list.Sort();
        return [.. list];
    }

    /// <summary>A reach with what two more places reach.</summary>
    /// <param name="reach">In order.</param>
    /// <param name="inside">By place: whether it is in the reach; kept up.</param>
    /// <param name="a">A place; −1 for none.</param>
    /// <param name="b">Another; −1 for none.</param>
    internal int[] Widen(int[] reach, bool[] inside, int a, int b)
    {
        var more = new List<int>();
        for (var (p, q) = (a, b); p >= 0 || q >= 0;)
        {
            var next = p < 0 || (q >= 0 && q < p) ? q : p;
            if (!inside[next])
            {
                inside[next] = true;
                more.Add(next);
            }

            (p, q) = (p == next ? Above(p) : p, q == next ? Above(q) : q);
        }

        if (more.Count == 0)
        {
            return reach;
        }

        var both = new int[reach.Length + more.Count];
        for (var (i, j, k) = (0, 0, 0); k < both.Length; k++)
        {
            both[k] = j >= more.Count || (i < reach.Length && reach[i] < more[j]) ? reach[i++] : more[j++];
        }

        return both;
    }

    /// <summary>The first later neighbour of a place; −1 for none. The later neighbours of a node are neighbours of each other once it
    /// is gone, so all that a node reaches lies on one way: to its first later neighbour, on to that one's first, and so on.</summary>
    private int Above(int place) => start[place] < start[place + 1] ? other[start[place]] : -1;

    /// <summary>Forms the factor anew where something changed.</summary>
    /// <param name="factor">Its base values may have changed since the last time.</param>
    /// <param name="dirty">By place in the order: whether a base value of that node changed; cleared on the way.</param>
    /// <param name="reach">The places that can have changed, in order; null for all.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    internal void Refresh(Factor factor, bool[] dirty, int[]? reach = null)
    {
        for (var i = 0; i < (reach?.Length ?? Count); i++)
        {
            var q = reach is null ? i : reach[i];
            if (!dirty[q])
            {
                continue;
            }

            dirty[q] = false;
            if (Form(factor, q))
            {
                for (var k = start[q]; k < start[q + 1]; k++)
                {
                    dirty[other[k]] = true;
                }
            }
        }
    }

    /// <summary>What a node sees when all before it are gone.</summary>
    /// <returns>False when that is what it was.</returns>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private bool Form(Factor factor, int q)
    {
        var (from, to) = (start[q], start[q + 1]);
        var leak = factor.BaseLeak[q] + (q == factor.HeldAt ? factor.HeldSiemens : 0);
        Array.Copy(factor.BaseBetween, from, factor.Between, from, to - from);
        for (var e = earlierStart[q]; e < earlierStart[q + 1]; e++)
        {
            var (p, slot, pair) = earlier[e];
            var weight = factor.Weight[slot];
            leak += weight * factor.Leak[p];
            for (var l = slot + 1; l < start[p + 1]; l++)
            {
                factor.Between[pairSlot[pair++]] += weight * factor.Between[l];
            }
        }

        var sum = leak;
        for (var k = from; k < to; k++)
        {
            sum += factor.Between[k];
        }

        var changed = sum != factor.Sum[q] || leak != factor.Leak[q];
        (factor.Sum[q], factor.Leak[q]) = (sum, leak);
        for (var k = from; k < to; k++)
        {
            var weight = factor.Between[k] / sum;
            changed |= weight != factor.Weight[k];
            factor.Weight[k] = weight;
        }

        return changed;
    }

    /// <summary>For each place in the order, the earlier nodes that have it as a neighbour.</summary>
    private (int[] Start, (int, int, int)[] Earlier) Earlier()
    {
        var count = new int[Count + 1];
        foreach (var q in other)
        {
            count[q + 1]++;
        }

        for (var q = 0; q < Count; q++)
        {
            count[q + 1] += count[q];
        }

        var next = (int[])count.Clone();
        var list = new (int, int, int)[other.Length];
        for (var p = 0; p < Count; p++)
        {
            var pair = pairStart[p];
            for (var k = start[p]; k < start[p + 1]; k++)
            {
                list[next[other[k]]++] = (p, k, pair);
                pair += start[p + 1] - k - 1;
            }
        }

        return (count, list);
    }

    /// <summary>Volts at every node for amperes fed into the nodes.</summary>
    internal void Solve(Factor factor, double[] amperes, double[] volts)
    {
        var work = new double[Count];
        for (var node = 0; node < Count; node++)
        {
            work[position[node]] = amperes[node];
        }

        Inner(factor, All, work);
        for (var node = 0; node < Count; node++)
        {
            volts[node] = work[position[node]];
        }
    }

    /// <summary>Volts at some places for amperes at two of them.</summary>
    /// <param name="a">A place that is fed; −1 for none.</param>
    /// <param name="b">Another; −1 for none.</param>
    /// <param name="wanted">Places in order, closed under later neighbours.</param>
    /// <param name="work">By place; amperes before, volts at the wanted places afterwards.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    internal void Inner(Factor factor, int a, int b, int[] wanted, double[] work)
    {
        while (a >= 0 || b >= 0)
        {
            var p = a < 0 || (b >= 0 && b < a) ? b : a;
            var (from, to) = (start[p], start[p + 1]);
            for (var k = from; k < to; k++)
            {
                work[other[k]] += factor.Weight[k] * work[p];
            }

            (a, b) = (a == p ? Above(p) : a, b == p ? Above(p) : b);
        }

        for (var i = wanted.Length - 1; i >= 0; i--)
        {
            Back(factor, wanted[i], work);
        }
    }

    /// <summary>First part of a solution in which only some places will change: carries the currents of all others towards them.</summary>
    /// <param name="inside">By place: whether it will change; closed under later neighbours, as <see cref="Reach"/> gives it.</param>
    /// <param name="work">By place; amperes afterwards.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    internal void Outer(Factor factor, double[] amperes, bool[] inside, double[] work)
    {
        for (var node = 0; node < amperes.Length; node++)
        {
            work[position[node]] = amperes[node];
        }

        for (var p = 0; p < inside.Length; p++)
        {
            var fed = work[p];
            if (fed != 0 && !inside[p])
            {
                for (var k = start[p]; k < start[p + 1]; k++)
                {
                    work[other[k]] += factor.Weight[k] * fed;
                }
            }
        }
    }

    /// <summary>Middle part: amperes to volts at the places that change.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    internal void Inner(Factor factor, int[] reach, double[] work)
    {
        foreach (var p in reach)
        {
            var fed = work[p];
            for (var k = start[p]; k < start[p + 1]; k++)
            {
                work[other[k]] += factor.Weight[k] * fed;
            }
        }

        for (var i = reach.Length - 1; i >= 0; i--)
        {
            Back(factor, reach[i], work);
        }
    }

    /// <summary>Last part: volts at all other places.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    internal void Rest(Factor factor, bool[] inside, double[] work)
    {
        for (var p = inside.Length - 1; p >= 0; p--)
        {
            if (!inside[p])
            {
                Back(factor, p, work);
            }
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Back(Factor factor, int p, double[] work)
    {
        var v = work[p] / factor.Sum[p];
        for (var k = start[p]; k < start[p + 1]; k++)
        {
            v += factor.Weight[k] * work[other[k]];
        }

        work[p] = v;
    }

    /// <summary>What one ampere into each node lifts that node itself by, by place: its resistance to the reference, ohms.</summary>
    /// <remarks>Only entries of the inverse inside the pattern are formed (Takahashi, 1973): Z(k,i) = Σ w(l)·Z(k,l), Z(i,i) = 1/s + Σ w(k)·Z(k,i).</remarks>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    internal double[] OwnResistances(Factor factor)
    {
        var own = new double[Count];
        var mutual = new double[Slots];
        for (var p = Count - 1; p >= 0; p--)
        {
            var (from, to) = (start[p], start[p + 1]);
            for (var k = from; k < to; k++)
            {
                mutual[k] = factor.Weight[k] * own[other[k]];
            }

            var pair = pairStart[p];
            for (var k = from; k < to; k++)
            {
                for (var l = k + 1; l < to; l++)
                {
                    var z = mutual[pairSlot[pair++]];
                    mutual[k] += factor.Weight[l] * z;
                    mutual[l] += factor.Weight[k] * z;
                }
            }

            var sum = 1 / factor.Sum[p];
            for (var k = from; k < to; k++)
            {
                sum += factor.Weight[k] * mutual[k];
            }

            own[p] = sum;
        }

        return own;
    }

    private static long Key(int a, int b) => ((long)Math.Min(a, b) << 32) | (uint)Math.Max(a, b);
}
