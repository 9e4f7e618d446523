using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning;

/// <summary>A loom as the planner looks at it: what is risky, what is near to what, where a probe is parked best.</summary>
internal sealed class Survey
{
    private readonly Loom loom;
    private readonly ExpectationTable table;
    private readonly Dictionary<string, Wire> wires;
    private readonly Dictionary<ProbePoint, int> rank;
    private readonly HashSet<string> controller;

    internal Survey(Loom loom, ExpectationTable table)
    {
        this.loom = loom;
        this.table = table;
        var tree = new TrunkTree(loom);
        wires = loom.Wires.ToDictionary(w => w.Id, StringComparer.Ordinal);
        controller = tree.ControllerConnectors();
        Walk = [.. tree.WalkingOrder()];
        rank = Walk.SelectMany(c => c.Family.Cavities.Select(x => new ProbePoint(c.Ref, x))).Select((p, i) => (p, i)).ToDictionary(x => x.p, x => x.i);
    }

    internal List<Connector> Walk { get; }

    /// <summary>Place in walking order, cavity by cavity.</summary>
    internal int Rank(ProbePoint point) => rank[point];

    /// <summary>0 for drives, 1 for feeds, 2 for grounds, 3 for the rest.</summary>
    internal int Risk(Net net) => net.Edges
        .Select(e => wires[e.Label].Role switch { WireRole.Drive => 0, WireRole.Feed => 1, WireRole.Ground => 2, _ => 3 })
        .DefaultIfEmpty(3)
        .Min();

    /// <summary>Where the black probe stays: at the controller, else on the largest connector of the net.</summary>
    internal ProbePoint Hub(Net net) => net.Points
        .OrderBy(p => controller.Contains(p.Connector) ? 0 : 1)
        .ThenByDescending(p => loom.Connector(p.Connector).Family.Cavities.Length)
        .ThenBy(Rank)
        .First();

    /// <summary>Whether a net carries a supply or a ground; null when neither.</summary>
    internal WireRole? Role(Net net) => net.Edges.Select(e => wires[e.Label].Role).FirstOrDefault(r => r is WireRole.Feed or WireRole.Ground);

    internal string? Circuit(Net net) => net.Edges.Select(e => wires[e.Label].Circuit).FirstOrDefault(c => c is not null);

    /// <summary>Pairs of wired cavities beside each other in a face, in walking order, then pairs that run twisted together.</summary>
    internal IEnumerable<(ProbePoint A, ProbePoint B)> CloseTogether()
    {
        foreach (var connector in Walk)
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

        foreach (var group in loom.Wires.Where(w => w.Group is not null).GroupBy(w => w.Group))
        {
            var ends = group.Select(w => table.Graph.NetOf(FirstPoint(w))).OfType<Net>().Distinct().Select(Hub).ToList();
            for (var i = 0; i < ends.Count; i++)
            {
                for (var j = i + 1; j < ends.Count; j++)
                {
                    yield return (ends[i], ends[j]);
                }
            }
        }
    }

    private static ProbePoint FirstPoint(Wire wire) => !wire.From.IsSplice ? wire.From.Point : !wire.To.IsSplice ? wire.To.Point : default;
}
