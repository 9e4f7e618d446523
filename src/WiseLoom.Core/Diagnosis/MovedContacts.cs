using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Which net each cavity of a connector holds when contacts stand elsewhere: a contact takes its net along, and no net is cut.</summary>
internal sealed class MovedContacts
{
    private readonly DrawnLoom drawn;
    private readonly Dictionary<ProbePoint, int> holds = [];
    private readonly Dictionary<int, HashSet<int>> drawnOn = [];

    internal MovedContacts(DrawnLoom drawn, CavityFault fault)
    {
        this.drawn = drawn;
        var moves = fault.Moved(drawn.Loom).Where(m => m.Key != m.Value).Select(m => (From: new ProbePoint(fault.Connector, m.Key), To: new ProbePoint(fault.Connector, m.Value)))
            .Select(m => (m.From, m.To, Net: drawn.NetOf(m.From))).Where(m => m.Net >= 0).ToList();
        foreach (var move in moves)
        {
            holds.TryAdd(move.From, -1);
            holds[move.To] = move.Net;
        }

        foreach (var net in moves.GroupBy(m => m.Net))
        {
            // Drawn nets whose places a net comes to: its own, as long as one of its places stays, and those it moves into.
            var on = net.Select(m => drawn.NetOf(m.To)).Where(n => n >= 0).ToHashSet();
            if (drawn.Graph.Nets[net.Key].Points.Length > net.Count())
            {
                on.Add(net.Key);
            }

            drawnOn.Add(net.Key, on);
        }

        Nets = [.. moves.Select(m => m.Net).Concat(moves.Select(m => drawn.NetOf(m.To)).Where(n => n >= 0))];
        Empty = [.. moves.Select(m => m.To).Where(p => drawn.NetOf(p) < 0)];
    }

    /// <summary>Drawn nets that it touches.</summary>
    internal HashSet<int> Nets { get; }

    /// <summary>Cavities without a wire that it fills.</summary>
    internal List<ProbePoint> Empty { get; }

    /// <summary>Whether metal would join the two sides of a reading.</summary>
    internal bool Joins(Observation seen)
    {
        if (seen.B is { } far)
        {
            var other = far.Select(NetAt).ToHashSet();
            return seen.A.Any(p => NetAt(p) is var net && net >= 0 && other.Contains(net));
        }

        var own = seen.A.Select(drawn.NetOf).ToHashSet();
        return seen.A.Any(p => NetAt(p) is var net && net >= 0 && (drawnOn.TryGetValue(net, out var on) ? on.Any(n => !own.Contains(n)) : !own.Contains(net)));
    }

    private int NetAt(ProbePoint point) => holds.TryGetValue(point, out var net) ? net : drawn.NetOf(point);
}
