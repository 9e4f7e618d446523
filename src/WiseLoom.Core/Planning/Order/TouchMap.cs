using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning.Order;

/// <summary>The probe points of a plan as numbers, with what it costs to go from one to another. The shorting plug is a point, a net and a
/// connector of its own, numbered after all others.</summary>
internal sealed class TouchMap
{
    private readonly ProbePoint[] points;
    private readonly TouchCost cost;
    private readonly Dictionary<int, (int First, int Count)>[] groups;

    /// <param name="nets">Points of each net, those of one connector beside each other.</param>
    /// <param name="joined">Pairs of a net that count as joined.</param>
    internal TouchMap(IReadOnlyList<ImmutableArray<ProbePoint>> nets, IEnumerable<(int Net, ProbePoint A, ProbePoint B)> joined, TouchCost cost)
    {
        this.cost = cost;
        points = [.. nets.SelectMany(n => n)];
        Numbers = points.Select((p, i) => (p, i)).ToDictionary(x => x.p, x => x.i);
        Joined = joined.ToLookup(j => j.Net, j => (Numbers[j.A], Numbers[j.B]));
        var connectors = points.Select(p => p.Connector).Distinct().Select((c, i) => (c, i)).ToDictionary(x => x.c, x => x.i, StringComparer.Ordinal);
        ConnectorOf = [.. points.Select(p => connectors[p.Connector]), connectors.Count];
        NetOf = [.. nets.SelectMany((n, i) => Enumerable.Repeat(i, n.Length)), nets.Count];
        var at = 0;
        Nets = [.. nets.Select(n => Enumerable.Range((at += n.Length) - n.Length, n.Length).ToArray()), [points.Length]];
        Connectors = connectors.Count + 1;
        groups = [.. Nets.Select(n => n.Select((p, i) => (Connector: ConnectorOf[p], Place: i)).GroupBy(x => x.Connector).ToDictionary(g => g.Key, g => (g.First().Place, g.Count())))];
    }

    /// <summary>Pairs of each net that count as joined.</summary>
    internal ILookup<int, (int A, int B)> Joined { get; }

    /// <summary>Where in <see cref="Nets"/> the points of a net stand that are in a connector: the first and how many.</summary>
    internal (int First, int Count) In(int net, int connector) => groups[net].GetValueOrDefault(connector);

    /// <summary>Number of the shorting plug among the points.</summary>
    internal int Plug => points.Length;

    /// <summary>Number of the shorting plug among the nets.</summary>
    internal int PlugNet => Nets.Length - 1;

    /// <summary>How many connectors there are, the plug among them as the last.</summary>
    internal int Connectors { get; }

    /// <summary>The net of each point.</summary>
    internal int[] NetOf { get; }

    /// <summary>The connector of each point.</summary>
    internal int[] ConnectorOf { get; }

    /// <summary>The points of each net.</summary>
    internal int[][] Nets { get; }

    /// <summary>The number of each point.</summary>
    internal Dictionary<ProbePoint, int> Numbers { get; }

    /// <summary>A point by its number; null for the plug.</summary>
    internal ProbePoint? Point(int number) => number == Plug ? null : points[number];

    /// <summary>The number of a place; the plug's for null, −1 for one that is in no net.</summary>
    internal int Number(ProbePoint? place) => place is { } point ? Numbers.GetValueOrDefault(point, -1) : Plug;

    /// <summary>Seconds from probes on a and b to probes on c and d, either way round; what the plug costs besides is left out.</summary>
    internal double Between(int a, int b, int c, int d)
    {
        var straight = Go(a, c) + Go(b, d);
        var crossed = Go(a, d) + Go(b, c);
        return straight < crossed ? straight : crossed;
    }

    /// <summary>Seconds for a probe that goes into another connector.</summary>
    internal double Far => cost.Touch + cost.Move;

    /// <summary>Seconds for a probe from one point to another.</summary>
    internal double Go(int from, int to) => from == to ? 0 : ConnectorOf[from] == ConnectorOf[to] ? cost.Touch : Far;
}
