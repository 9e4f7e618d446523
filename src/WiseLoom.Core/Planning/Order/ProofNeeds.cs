using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning.Order;

/// <summary>What the steps of bare metal must prove, apart from any order.</summary>
/// <param name="Nets">Points of each net, in the order of the pinout.</param>
/// <param name="Pairs">Pairs that must be among those of their net's tree, since a break is seen there that other trees would miss; by the net's
/// place in the list. They close no ring.</param>
/// <param name="Joined">Pairs that were measured before and count for their net's tree; they close no ring.</param>
/// <param name="Plugged">Nets, by their places, that were measured against all others before.</param>
/// <param name="Apart">Nets that must be measured against each other, by their places in the list; empty when <paramref name="IsThorough"/>.</param>
/// <param name="IsThorough">Whether each net but one is measured against all others, joined.</param>
internal sealed record ProofNeeds(
    ImmutableArray<ImmutableArray<ProbePoint>> Nets,
    ImmutableArray<(int Net, ProbePoint A, ProbePoint B)> Pairs,
    ImmutableArray<(int Net, ProbePoint A, ProbePoint B)> Joined,
    IReadOnlySet<int> Plugged,
    ImmutableArray<(int One, int Other)> Apart,
    bool IsThorough)
{
    /// <summary>Whether a net of a thorough proof can be let off: not when all the others were measured before.</summary>
    internal bool MayLetOff => Plugged.Count < Nets.Length - 1;

    /// <summary>How many steps join all nets: a spanning tree in each.</summary>
    internal int JoinedSteps => Nets.Sum(n => n.Length - 1) - Joined.Length;

    /// <summary>Whether something was measured before.</summary>
    internal bool IsBegun => Joined.Length + Plugged.Count > 0;

    /// <summary>As obligations over a map.</summary>
    /// <param name="letOff">The net of a thorough proof that is not measured against all others, since each of them is; −1 for none.</param>
    internal Obligation[] Obligations(TouchMap map, int letOff)
    {
        var list = new List<Obligation>();
        var pairs = Pairs.ToLookup(p => p.Net);
        var joined = Joined.CountBy(p => p.Net).ToDictionary();
        foreach (var net in Enumerable.Range(0, Nets.Length).OrderBy(n => Nets[n].Select(p => p.Connector).Distinct().Count()))
        {
            var exact = pairs[net].Select(p => Obligation.Exactly(map.Numbers[p.A], map.Numbers[p.B], net)).ToList();
            list.AddRange(exact);
            for (var i = exact.Count + joined.GetValueOrDefault(net); i < Nets[net].Length - 1; i++)
            {
                list.Add(Obligation.Edge(map, net));
            }
        }

        list.AddRange(IsThorough
            ? Enumerable.Range(0, MayLetOff ? Nets.Length : 0).Where(n => n != letOff && !Plugged.Contains(n)).Select(n => Obligation.Apart(map, n, map.PlugNet))
            : Apart.Select(p => Obligation.Apart(map, p.One, p.Other)));
        return [.. list];
    }
}

/// <summary>Things that are joined bit by bit (union–find).</summary>
internal sealed class Parts
{
    private readonly int[] parent;

    internal Parts(int count)
    {
        parent = [.. Enumerable.Range(0, count)];
        Count = count;
    }

    /// <summary>How many are apart from one another.</summary>
    internal int Count { get; private set; }

    internal int Of(int thing)
    {
        while (parent[thing] != thing)
        {
            thing = parent[thing] = parent[parent[thing]];
        }

        return thing;
    }

    /// <returns>False when the two were joined already.</returns>
    internal bool Join(int one, int other)
    {
        var (a, b) = (Of(one), Of(other));
        if (a == b)
        {
            return false;
        }

        parent[a] = b;
        Count--;
        return true;
    }
}
