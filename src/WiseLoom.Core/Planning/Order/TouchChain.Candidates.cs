namespace WiseLoom.Core.Planning.Order;

/// <content>Which points are worth looking at when an obligation is put somewhere.</content>
internal sealed partial class TouchChain
{
    /// <summary>Points of a set that are worth looking at here: those that a probe stands on or goes to next, one in each connector that a
    /// probe is in, and the first; of a tree's points one of each part that is still apart. All of a small set, and one in each connector
    /// where it may be anywhere.</summary>
    private void Candidates(int[] set, bool isTree, bool isAnywhere, List<int> into)
    {
        const int Few = 3;
        into.Clear();
        listing++;
        if (set.Length <= Few)
        {
            into.AddRange(set);
            return;
        }

        var net = map.NetOf[set[0]];
        foreach (var other in near)
        {
            if (other < 0)
            {
                continue;
            }

            if (map.NetOf[other] == net)
            {
                List(other, into);
            }

            AddIn(set, map.In(net, map.ConnectorOf[other]), isTree, into);
        }

        if (isAnywhere)
        {
            for (var i = 0; i < set.Length; i += map.In(net, map.ConnectorOf[set[i]]).Count)
            {
                AddIn(set, map.In(net, map.ConnectorOf[set[i]]), isTree, into);
            }
        }

        foreach (var part in isTree ? parts.Span : set.AsSpan(0, 1))
        {
            List(part, into);
        }
    }

    /// <summary>The first of some points; of a tree's the first of each part.</summary>
    private void AddIn(int[] set, (int First, int Count) group, bool isTree, List<int> into)
    {
        for (var i = group.First; i < group.First + (isTree ? group.Count : Math.Min(1, group.Count)); i++)
        {
            if (i == group.First || component[set[i]] != component[set[i - 1]])
            {
                List(set[i], into);
            }
        }
    }

    /// <summary>Adds a point to the list that is being made, once.</summary>
    private void List(int point, List<int> into)
    {
        if (listed[point] != listing)
        {
            listed[point] = listing;
            into.Add(point);
        }
    }

    /// <summary>Which points of a net its tree joins already.</summary>
    private void Components(int net)
    {
        foreach (var point in map.Nets[net])
        {
            component[point] = point;
        }

        foreach (var (x, y) in map.Joined[net])
        {
            component[Root(x)] = Root(y);
        }

        foreach (var edge in edgesOf[net])
        {
            if (!obligations[edge].IsFreeEdge)
            {
                component[Root(obligations[edge].First[0])] = Root(obligations[edge].Second[0]);
            }
            else if (isIn[edge])
            {
                component[Root(a[edge])] = Root(b[edge]);
            }
        }

        var count = 0;
        foreach (var point in map.Nets[net])
        {
            component[point] = Root(point);
            if (component[point] == point && count < partsOf.Length)
            {
                partsOf[count++] = point;
            }
        }

        parts = partsOf.AsMemory(0, count);
    }

    private int Root(int point)
    {
        while (component[point] != point)
        {
            point = component[point] = component[component[point]];
        }

        return point;
    }
}
