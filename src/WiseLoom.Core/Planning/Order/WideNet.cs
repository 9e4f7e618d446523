namespace WiseLoom.Core.Planning.Order;

/// <summary>A net over three connectors and more, as <see cref="LowerBound"/> counts it.</summary>
internal sealed class WideNet
{
    private readonly int[] parent;

    /// <param name="connectors">Of the net.</param>
    /// <param name="forced">Pairs of connectors that every proof goes between, the smaller number first.</param>
    /// <param name="islands">Connectors that those pairs join.</param>
    internal WideNet(int[] connectors, HashSet<(int, int)> forced, Parts islands)
    {
        Connectors = connectors;
        Islands = connectors.Select(islands.Of).Distinct().Count();
        Has = new ulong[(connectors.Max() / 64) + 1];
        parent = [.. Enumerable.Range(0, connectors.Length)];
        for (var i = 0; i < connectors.Length; i++)
        {
            Has[connectors[i] / 64] |= 1UL << (connectors[i] % 64);
            for (var j = 0; j < i; j++)
            {
                if (forced.Contains(connectors[i] < connectors[j] ? (connectors[i], connectors[j]) : (connectors[j], connectors[i])))
                {
                    parent.AsSpan().Replace(parent[i], parent[j]);
                }
            }
        }
    }

    internal int[] Connectors { get; }

    /// <summary>Parts of the loom, joined by forced pairs, that it reaches.</summary>
    internal int Islands { get; }

    /// <summary>A bit for each connector.</summary>
    internal ulong[] Has { get; }

    /// <summary>Its connectors as the forced pairs within it join them.</summary>
    internal Joined Own() => new(parent);

    /// <summary>Its connectors while more of them are taken as joined.</summary>
    internal sealed class Joined(int[] of)
    {
        private readonly int[] label = [.. of];

        /// <summary>How many parts are left.</summary>
        internal int Count { get; private set; } = of.Distinct().Count();

        /// <summary>Takes all connectors as joined that another net reaches too.</summary>
        internal void JoinShared(WideNet net, ulong[] other)
        {
            var first = -1;
            for (var i = 0; i < net.Connectors.Length; i++)
            {
                var word = net.Connectors[i] / 64;
                if (word >= other.Length || (other[word] >> (net.Connectors[i] % 64) & 1) == 0)
                {
                    continue;
                }

                if (first < 0)
                {
                    first = i;
                }
                else if (label[i] != label[first])
                {
                    label.AsSpan().Replace(label[i], label[first]);
                    Count--;
                }
            }
        }
    }
}
