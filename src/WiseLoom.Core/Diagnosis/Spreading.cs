namespace WiseLoom.Core.Diagnosis;

/// <summary>An ampere from a node of a tree to others that are joined: at each fork it parts by what the branches conduct.</summary>
internal sealed class Spreading
{
    private readonly Metal metal;
    private readonly bool[] isThere;
    private readonly List<(int Node, int Before, int Part)> order;
    private readonly double[] siemens;

    private Spreading(Metal metal, int from, int[] there)
    {
        this.metal = metal;
        (isThere, siemens, order) = (new bool[metal.Nodes], new double[metal.Nodes], new(4 * (there.Length + 1)));
        foreach (var node in there)
        {
            isThere[node] = true;
        }

        // Nodes, each after the one that it hangs on; nothing goes on behind a joined one.
        order.Add((from, -1, -1));
        for (var i = 0; i < order.Count; i++)
        {
            var (node, _, came) = order[i];
            foreach (var e in isThere[node] ? [] : metal.At(node))
            {
                if (e != came)
                {
                    order.Add((metal.Parts[e].From == node ? metal.Parts[e].To : metal.Parts[e].From, i, e));
                }
            }
        }
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
        foreach (var (node, _, _) in order)
        {
            siemens[node] = isThere[node] ? double.PositiveInfinity : 0;
        }

        for (var i = order.Count - 1; i > 0; i--)
        {
            siemens[order[order[i].Before].Node] += Through(i, order[i].Part == part ? added : 0);
        }

        return 1 / siemens[order[0].Node];
    }

    /// <summary>What the branch to a node conducts.</summary>
    private double Through(int at, double added) => 1 / (Math.Max(0, metal.Parts[order[at].Part].Part.Mean + added) + (1 / siemens[order[at].Node]));

    private (int Part, double Share)[] Shares()
    {
        var amperes = new double[order.Count];
        var shares = new List<(int, double)>(order.Count);
        amperes[0] = 1;
        for (var i = 1; i < order.Count; i++)
        {
            var (_, before, part) = order[i];
            var (own, all) = (Through(i, 0), siemens[order[before].Node]);

            // A joint takes all of it, the first of several.
            amperes[i] = double.IsPositiveInfinity(all) ? double.IsPositiveInfinity(own) ? amperes[before] : 0 : amperes[before] * own / all;
            if (double.IsPositiveInfinity(all) && double.IsPositiveInfinity(own))
            {
                amperes[before] = 0;
            }

            if (amperes[i] > 0)
            {
                shares.Add((part, metal.Parts[part].To == order[i].Node ? amperes[i] : -amperes[i]));
            }
        }

        return [.. shares];
    }
}
