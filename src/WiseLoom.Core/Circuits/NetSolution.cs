using System.Numerics.Tensors;

namespace WiseLoom.Core.Circuits;

/// <summary>All effective resistances of one connected net of resistors.</summary>
/// <remarks>
/// Nodes are removed one by one by the star–mesh transform (Rosen, 1924), the one with the fewest neighbours first, towards one
/// node that is held at 0 V. Running the removals backwards gives the transfer resistances Z (volts at i per ampere fed in at j)
/// row by row: with w the removed node's conductances over their sum s, Z(i,j) = Σ w(k)·Z(k,j) and Z(i,i) = 1/s + Σ w(k)·Z(k,i).
/// Only positive numbers are added and divided, so no digit is lost to cancellation on the way (as in the elimination of Grassmann,
/// Taksar and Heyman). A tree of n nodes costs n², which is the size of the answer. Where a net is so meshed that every node left
/// neighbours most others, the rest is removed in a plain table. Joints of 0 Ω are merged before.
/// </remarks>
internal sealed class NetSolution
{
    /// <summary>A node with more than this share of the nodes left as neighbours is one of a mesh.</summary>
    private const double Meshed = 0.25;

    /// <summary>Row of each node in <see cref="transfer"/>, which holds each row up to its own place.</summary>
    private readonly int[] rowOf;
    private readonly double[][] transfer;

    private NetSolution(int[] rowOf, double[][] transfer)
    {
        this.rowOf = rowOf;
        this.transfer = transfer;
    }

    /// <summary>Solves a net.</summary>
    /// <param name="count">Number of nodes; all are joined by <paramref name="edges"/>.</param>
    internal static NetSolution Of(int count, (int From, int To, double Ohms)[] edges)
    {
        var (merged, size) = MergeZeroOhms(count, edges);
        var conductance = new Dictionary<int, double>[size];
        for (var i = 0; i < size; i++)
        {
            conductance[i] = [];
        }

        foreach (var (from, to, ohms) in edges)
        {
            var (a, b) = (merged[from], merged[to]);
            if (a != b)
            {
                Join(conductance, a, b, 1 / ohms);
            }
        }

        var (place, rows) = Transfer(Eliminate(conductance), size);
        return new([.. merged.Select(m => place[m])], rows);
    }

    /// <summary>Effective resistance between two nodes, ohms.</summary>
    internal double Ohms(int a, int b)
    {
        var (i, j) = (rowOf[a], rowOf[b]);
        return i == j ? 0 : Math.Max(0, transfer[i][i] + transfer[j][j] - (2 * Between(i, j)));
    }

    /// <summary>Volts at <paramref name="node"/> when 1 A flows in at <paramref name="fed"/> and out at the held node.</summary>
    internal double Transfer(int node, int fed) => Between(rowOf[node], rowOf[fed]);

    /// <summary>Reciprocity: each number is kept once.</summary>
    private double Between(int i, int j) => i >= j ? transfer[i][j] : transfer[j][i];

    private static (int[] Merged, int Count) MergeZeroOhms(int count, (int From, int To, double Ohms)[] edges)
    {
        var group = Enumerable.Range(0, count).ToArray();
        int Root(int node)
        {
            while (group[node] != node)
            {
                node = group[node] = group[group[node]];
            }

            return node;
        }

        foreach (var (from, to, ohms) in edges)
        {
            if (ohms <= 0)
            {
                group[Root(from)] = Root(to);
            }
        }

        var number = new Dictionary<int, int>();
        var merged = new int[count];
        for (var i = 0; i < count; i++)
        {
            var root = Root(i);
            if (!number.TryGetValue(root, out merged[i]))
            {
                number.Add(root, merged[i] = number.Count);
            }
        }

        return (merged, number.Count);
    }

    private static void Join(Dictionary<int, double>[] conductance, int a, int b, double siemens)
    {
        conductance[a][b] = conductance[a].GetValueOrDefault(b) + siemens;
        conductance[b][a] = conductance[b].GetValueOrDefault(a) + siemens;
    }

    private static List<(int Node, double Sum, (int Other, double Siemens)[] Star)> Eliminate(Dictionary<int, double>[] conductance)
    {
        var queue = new PriorityQueue<int, int>();
        for (var i = 0; i < conductance.Length; i++)
        {
            queue.Enqueue(i, conductance[i].Count);
        }

        var gone = new bool[conductance.Length];
        var removed = new List<(int, double, (int, double)[])>(conductance.Length);
        while (queue.TryDequeue(out var node, out var degree))
        {
            if (gone[node] || degree != conductance[node].Count)
            {
                continue;
            }

            var left = conductance.Length - removed.Count;
            if (left > 8 && degree > Meshed * left)
            {
                EliminateMesh(conductance, gone, removed);
                return removed;
            }

            gone[node] = true;
            (int Other, double Siemens)[] star = [.. conductance[node].Select(x => (x.Key, x.Value))];
            var sum = star.Sum(x => x.Siemens);
            removed.Add((node, sum, star));
            for (var i = 0; i < star.Length; i++)
            {
                conductance[star[i].Other].Remove(node);
                for (var j = 0; j < i; j++)
                {
                    Join(conductance, star[i].Other, star[j].Other, star[i].Siemens * star[j].Siemens / sum);
                }
            }

            foreach (var (other, _) in star)
            {
                queue.Enqueue(other, conductance[other].Count);
            }
        }

        return removed;
    }

    /// <summary>Removes all that is left, in a plain table of conductances.</summary>
    private static void EliminateMesh(Dictionary<int, double>[] conductance, bool[] gone, List<(int Node, double Sum, (int Other, double Siemens)[] Star)> removed)
    {
        int[] left = [.. Enumerable.Range(0, gone.Length).Where(i => !gone[i])];
        var table = left.Select(i => left.Select(j => conductance[i].GetValueOrDefault(j)).ToArray()).ToArray();
        for (var k = left.Length - 1; k >= 0; k--)
        {
            var row = table[k];
            var sum = row.AsSpan(0, k).ToArray().Sum();
            removed.Add((left[k], sum, [.. Enumerable.Range(0, k).Where(j => row[j] > 0).Select(j => (left[j], row[j]))]));
            for (var i = 0; i < k; i++)
            {
                var weight = row[i] / sum;
                if (weight > 0)
                {
                    TensorPrimitives.MultiplyAdd(row.AsSpan(0, k), weight, table[i].AsSpan(0, k), table[i].AsSpan(0, k));
                }
            }
        }
    }

    private static (int[] Place, double[][] Rows) Transfer(List<(int Node, double Sum, (int Other, double Siemens)[] Star)> removed, int size)
    {
        // In order of return: row r holds Z of the r-th returned node with all returned before it, then grows to full rows.
        var place = new int[size];
        var rows = new double[size][];
        for (var back = removed.Count - 1; back >= 0; back--)
        {
            var (node, sum, star) = removed[back];
            var r = removed.Count - 1 - back;
            place[node] = r;
            var row = rows[r] = new double[size];
            foreach (var (other, siemens) in star)
            {
                TensorPrimitives.MultiplyAdd(rows[place[other]].AsSpan(0, r), siemens / sum, row.AsSpan(0, r), row.AsSpan(0, r));
            }

            row[r] = star.Length == 0 ? 0 : (1 / sum) + star.Sum(x => x.Siemens / sum * row[place[x.Other]]);
            for (var j = 0; j < r; j++)
            {
                rows[j][r] = row[j];
            }
        }

        for (var r = 0; r < rows.Length; r++)
        {
            rows[r] = rows[r][..(r + 1)];
        }

        return (place, rows);
    }
}
