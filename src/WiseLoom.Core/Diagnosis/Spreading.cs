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

    private readonly double ohms;

    /// <summary>Of the part that was asked for last.</summary>
    private Loop? known;

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
        ohms = Ohms(siemens, -1, 0);
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
        return new(spread.ohms, spread.Shares(), spread.With);
    }

    /// <summary>Ohms if one part had more.</summary>
    /// <remarks>R + s²·x/(1 + x/L) for x more ohms in a part with the share s of the current, L being all that it stands in a loop with, itself too (Thévenin): nothing is solved anew.</remarks>
    private double With(int part, double added)
    {
        var loop = known is { } last && last.Part == part ? last : known = LoopOf(part);
        return loop is null ? ohms : loop.IsJoint || 1 + (added / loop.Ohms) <= 0 ? Ohms(new double[order.Length], part, added) : ohms + (loop.Power * added / (1 + (added / loop.Ohms)));
    }

    /// <summary>What a part stands in a loop with; null for one that no current passes.</summary>
    private Loop? LoopOf(int part)
    {
        var at = Array.FindIndex(order, s => s.Part == part);
        if (at <= 0)
        {
            return null;
        }

        // What the other branches of each node on the way to it conduct.
        var (branches, on) = (new double[order.Length], new int[order.Length]);
        for (var i = at; i > 0; i = order[i].Before)
        {
            on[order[i].Before] = i;
        }

        for (var i = 1; i < order.Length; i++)
        {
            if (on[order[i].Before] is var way and > 0 && way != i)
            {
                branches[order[i].Before] += Through(i);
            }
        }

        // From where the current comes in; it is let in by a source, which no other current passes.
        var (share, siemensBack) = (1.0, 0.0);
        for (var i = 0; i != at; i = on[i])
        {
            if (double.IsPositiveInfinity(siemens[i]))
            {
                return new(part, 0, 0, true);
            }

            if (siemens[i] == 0)
            {
                return null;
            }

            share *= Through(on[i]) / siemens[i];
            siemensBack += branches[i];
            siemensBack = on[i] == at ? siemensBack : 1 / ((1 / siemensBack) + metal.Parts[order[on[i]].Part].Part.Mean);
        }

        return new(part, share * share, (1 / siemensBack) + metal.Parts[part].Part.Mean + (1 / siemens[at]), false);
    }

    /// <summary>Ohms if one part had more.</summary>
    /// <param name="conducts">What each node conducts to the joined ones then; it is filled.</param>
    private double Ohms(double[] conducts, int part, double added)
    {
        for (var i = 0; i < order.Length; i++)
        {
            conducts[i] = order[i].IsThere ? double.PositiveInfinity : 0;
        }

        for (var i = order.Length - 1; i > 0; i--)
        {
            conducts[order[i].Before] += Through(conducts, i, order[i].Part == part ? added : 0);
        }

        return 1 / conducts[0];
    }

    /// <summary>What the branch to a node conducts.</summary>
    private double Through(double[] conducts, int at, double added) => 1 / (Math.Max(0, metal.Parts[order[at].Part].Part.Mean + added) + (1 / conducts[at]));

    private double Through(int at) => Through(siemens, at, 0);

    private (int Part, double Share)[] Shares()
    {
        var (amperes, shares) = (ArrayPool<double>.Shared.Rent(order.Length), ArrayPool<(int, double)>.Shared.Rent(order.Length));
        var count = 0;
        amperes[0] = 1;
        for (var i = 1; i < order.Length; i++)
        {
            var (node, before, part, _) = order[i];
            var (own, all) = (Through(i), siemens[before]);

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

    /// <summary>A part, and what it stands in a loop with.</summary>
    /// <param name="Power">Its share of the current, squared.</param>
    /// <param name="Ohms">Of the loop, without the source; infinite where it is the only way.</param>
    /// <param name="IsJoint">Whether a joint of no ohms is on the way to it.</param>
    private sealed record Loop(int Part, double Power, double Ohms, bool IsJoint);
}
