namespace WiseLoom.Core.Circuits;

/// <summary>Which node of a network is removed next: always the one with the fewest neighbours left, so that few new conductances arise.</summary>
internal static class EliminationOrder
{
    /// <summary>The order, and the neighbours that each node has when its turn comes.</summary>
    /// <param name="near">By node, its neighbours; used up on the way.</param>
    internal static (int[] Order, int[][] Stars) Of(HashSet<int>[] near)
    {
        var queue = new PriorityQueue<int, (int Degree, int Node)>();
        for (var i = 0; i < near.Length; i++)
        {
            queue.Enqueue(i, (near[i].Count, i));
        }

        var gone = new bool[near.Length];
        var order = new List<int>(near.Length);
        var stars = new List<int[]>(near.Length);
        while (queue.TryDequeue(out var node, out var rank))
        {
            if (gone[node] || rank.Degree != near[node].Count)
            {
                continue;
            }

            gone[node] = true;
            int[] star = [.. near[node]];
            order.Add(node);
            stars.Add(star);
            foreach (var a in star)
            {
                near[a].Remove(node);
                foreach (var b in star)
                {
                    if (a != b)
                    {
                        near[a].Add(b);
                    }
                }
            }

            foreach (var a in star)
            {
                queue.Enqueue(a, (near[a].Count, a));
            }
        }

        return ([.. order], [.. stars]);
    }
}
