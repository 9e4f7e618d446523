using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning;

/// <summary>A loom as the planner looks at it: its nets in the order of the pinout, what is risky, and what is near to what.</summary>
internal sealed class Survey
{
    private readonly Loom loom;
    private readonly ExpectationTable table;
    private readonly Dictionary<string, Wire> wires;
    private readonly Dictionary<ProbePoint, int> rank;
    private readonly Dictionary<int, int> placeOfNet;
    private readonly HashSet<string> controller;

    internal Survey(Loom loom, ExpectationTable table)
    {
        this.loom = loom;
        this.table = table;
        wires = loom.Wires.ToDictionary(w => w.Id, StringComparer.Ordinal);
        controller = new TrunkTree(loom).ControllerConnectors();
        rank = loom.Connectors.SelectMany(c => c.Family.Rows.SelectMany(r => r).OfType<string>().Select(x => new ProbePoint(c.Ref, x))).Select((p, i) => (p, i)).ToDictionary(x => x.p, x => x.i);
        Nets = [.. table.Nets.OrderBy(n => n.Points.Min(Rank))];
        placeOfNet = Nets.Select((n, i) => (n.Number, i)).ToDictionary(x => x.Number, x => x.i);
    }

    /// <summary>Nets with points, by their first place in the pinout.</summary>
    internal ImmutableArray<Net> Nets { get; }

    /// <summary>What feeds the loom, volts.</summary>
    internal double SupplyVolts => loom.SupplyVolts;

    /// <summary>Place in the pinout: connectors as the file lists them, cavities row by row.</summary>
    internal int Rank(ProbePoint point) => rank[point];

    /// <summary>The points of a net in the order of the pinout.</summary>
    internal ImmutableArray<ProbePoint> InPinOrder(Net net) => [.. net.Points.OrderBy(Rank)];

    /// <summary>Whether a point is in a net.</summary>
    internal bool Has(ProbePoint point) => table.Graph.NodeOf(point) >= 0;

    /// <summary>The net of a point that has one.</summary>
    internal Net NetOf(ProbePoint point) => table.Graph.NetOf(point) ?? throw new InvalidOperationException($"{point} is in no net.");

    /// <summary>The place of a point's net in <see cref="Nets"/>.</summary>
    internal int PlaceOf(ProbePoint point) => placeOfNet[NetOf(point).Number];

    /// <summary>Places in <see cref="Nets"/> of those that hands were on.</summary>
    internal HashSet<int> Touched(IEnumerable<string> places) =>
        [.. places.SelectMany(p => FixReach.PointsOf(loom, p)).Where(p => table.Graph.NodeOf(p) >= 0).Select(PlaceOf)];

    /// <summary>0 for feeds, 1 for grounds, 2 for drives, 3 for the rest.</summary>
    internal int Risk(Net net) => net.Edges
        .Select(e => wires[e.Label].Role switch { WireRole.Feed => 0, WireRole.Ground => 1, WireRole.Drive => 2, _ => 3 })
        .DefaultIfEmpty(3)
        .Min();

    /// <summary>The point of a net that readings of its others are told from: at the controller, else on its largest connector.</summary>
    internal ProbePoint Hub(Net net) => net.Points
        .OrderBy(p => controller.Contains(p.Connector) ? 0 : 1)
        .ThenByDescending(p => loom.Connector(p.Connector).Family.Cavities.Length)
        .ThenBy(Rank)
        .First();

    /// <summary>Whether a net carries a supply or a ground; null when neither.</summary>
    internal WireRole? Role(Net net) => net.Edges.Select(e => wires[e.Label].Role).FirstOrDefault(r => r is WireRole.Feed or WireRole.Ground);

    internal string? Circuit(Net net) => net.Edges.Select(e => wires[e.Label].Circuit).FirstOrDefault(c => c is not null);

    /// <summary>Two places for each two nets that could touch: cavities beside each other in a face, wires twisted together, splices within
    /// 50 mm of each other on one branch.</summary>
    internal ImmutableArray<(ProbePoint A, ProbePoint B)> CloseTogether()
    {
        var seen = new HashSet<(int, int)>();
        bool IsNew((ProbePoint A, ProbePoint B) pair) => (PlaceOf(pair.A), PlaceOf(pair.B)) is var (x, y) && x != y && seen.Add((Math.Min(x, y), Math.Max(x, y)));
        return [.. InFaces().Concat(Twisted()).Concat(AtSplices()).Where(IsNew)];
    }

    private IEnumerable<(ProbePoint A, ProbePoint B)> InFaces()
    {
        foreach (var connector in loom.Connectors)
        {
            foreach (var (a, b) in FaceLayout.Neighbours(connector.Family))
            {
                var (one, other) = (new ProbePoint(connector.Ref, a), new ProbePoint(connector.Ref, b));
                if (table.Graph.NodeOf(one) >= 0 && table.Graph.NodeOf(other) >= 0)
                {
                    yield return (one, other);
                }
            }
        }
    }

    private IEnumerable<(ProbePoint A, ProbePoint B)> Twisted() =>
        loom.Wires.Where(w => w.Group is not null).GroupBy(w => w.Group).SelectMany(g => Each(g.Select(w => FirstOf(w.From.Text))));

    private IEnumerable<(ProbePoint A, ProbePoint B)> AtSplices() => loom.Splices
        .SelectMany((one, i) => loom.Splices.Skip(i + 1).Where(one.IsNear).SelectMany(other => Each([FirstOf(one.Ref), FirstOf(other.Ref)])));

    private static IEnumerable<(ProbePoint A, ProbePoint B)> Each(IEnumerable<ProbePoint?> places)
    {
        var all = places.OfType<ProbePoint>().Distinct().ToList();
        return all.SelectMany((a, i) => all.Skip(i + 1).Select(b => (a, b)));
    }

    /// <summary>The first place in the pinout of the net that an end or a splice is in; null when no probe can reach it.</summary>
    private ProbePoint? FirstOf(string node) => table.Graph.NumberOf(node) is { } number && placeOfNet.TryGetValue(number, out var place) ? Nets[place].Points.MinBy(Rank) : null;
}
