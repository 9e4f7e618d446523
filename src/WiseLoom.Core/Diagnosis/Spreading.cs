using System.Buffers;

namespace WiseLoom.Core.Diagnosis;

/// <summary>An ampere from a node of a tree to others that are joined: at each fork it parts by what the branches conduct.</summary>
internal sealed class Spreading
{
    private readonly Metal metal;

    /// <summary>Nodes, each after the one that it hangs on; nothing goes on behind a joined one.</summary>
    private readonly Step[] order;

    /// <summary>What each of them conducts to the joined ones.</summary>
    private readonly double[] siemens;

    private Spreading(Metal metal, int from, int[] there)
    {
        this.metal = metal;
        var (room, isThere) = (ArrayPool<Step>.Shared.Rent(metal.Nodes), ArrayPool<bool>.Shared.Rent(metal.Nodes));
        Array.Clear(isThere, 0, metal.Nodes);
        foreach (var node in there)
        {
            isThere[node] = true;
        }

        room[0] = new(from, -1, -1, isThere[from]);
        var count = 1;
        for (var i = 0; i < count; i++)
        {
            var (node, _, came, ends) = room[i];
            foreach (var e in ends ? [] : metal.At(node))
            {
                if (e != came)
                {
                    var next = metal.Parts[e].From == node ? metal.Parts[e].To : metal.Parts[e].From;
                    room[count++] = new(next, i, e, isThere[next]);
                }
            }
        }

        (order, siemens) = (room[..count], new double[count]);
        ArrayPool<Step>.Shared.Return(room);
        ArrayPool<bool>.Shared.Return(isThere);
    }

    /// <summary>From one node to others of its piece, which has no loops.</summary>
    internal static Flow From(Metal metal, int from, int[] there)
    {
        if (there.Contains(from))
        {
            return Flow.Nowhere;
        }

        var spread = new Spreading(metal, from, there);
        var ohms = spread.Ohms(-1, 0);
        return new(ohms, spread.Shares(), spread.Ohms);
    }

    /// <summary>Ohms if one part had more; what each node conducts to the joined ones is kept.</summary>
    private double Ohms(int part, double added)
    {
        for (var i = 0; i < order.Length; i++)
        {
            siemens[i] = order[i].IsThere ? double.PositiveInfinity : 0;
        }

        for (var i = order.Length - 1; i > 0; i--)
        {
            siemens[order[i].Before] += Through(i, order[i].Part == part ? added : 0);
        }

        return 1 / siemens[0];
    }

    /// <summary>What the branch to a node conducts.</summary>
    private double Through(int at, double added) => 1 / (Math.Max(0, metal.Parts[order[at].Part].Part.Mean + added) + (1 / siemens[at]));

    private (int Part, double Share)[] Shares()
    {
        var (amperes, shares) = (ArrayPool<double>.Shared.Rent(order.Length), ArrayPool<(int, double)>.Shared.Rent(order.Length));
        var count = 0;
        amperes[0] = 1;
        for (var i = 1; i < order.Length; i++)
        {
            var (node, before, part, _) = order[i];
            var (own, all) = (Through(i, 0), siemens[before]);

            // A joint takes all of it, the first of several.
            amperes[i] = double.IsPositiveInfinity(all) ? double.IsPositiveInfinity(own) ? amperes[before] : 0 : amperes[before] * own / all;
            if (double.IsPositiveInfinity(all) && double.IsPositiveInfinity(own))
            {
                amperes[before] = 0;
            }

            if (amperes[i] > 0)
            {
                shares[count++] = (part, metal.Parts[part].To == node ? amperes[i] : -amperes[i]);
            }
        }

        var told = shares[..count];
        ArrayPool<double>.Shared.Return(amperes);
        ArrayPool<(int, double)>.Shared.Return(shares);
        return told;
    }

    /// <summary>A node on the way.</summary>
    /// <param name="Before">Which step it hangs on; negative for the first.</param>
    /// <param name="Part">The part to it, by its place in the metal.</param>
    /// <param name="IsThere">Whether it is one of the joined ones.</param>
    private readonly record struct Step(int Node, int Before, int Part, bool IsThere);
}
