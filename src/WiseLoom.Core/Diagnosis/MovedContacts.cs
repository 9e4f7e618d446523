using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Which net each cavity of a connector holds when contacts stand elsewhere: a contact takes its net along, and no net is cut.</summary>
internal sealed class MovedContacts
{
    /// <summary>Of each cavity whose contact goes, or where one comes to, the net that it holds then; negative for none.</summary>
    private readonly Dictionary<Spot, int> holds = [];

    /// <summary>Of a net that moves, the drawn nets whose places it is at then: its own, as long as one of its places stays, and those it moves into.</summary>
    private readonly Dictionary<int, HashSet<int>> drawnOn = [];

    internal MovedContacts(DrawnLoom drawn, CavityFault fault)
    {
        var goes = new Dictionary<int, int>();
        foreach (var (from, to) in fault.Moved(drawn.Loom))
        {
            if (from == to || drawn.SpotOf(new(fault.Connector, from)) is not { Net: >= 0 } here)
            {
                continue;
            }

            var point = new ProbePoint(fault.Connector, to);
            var there = drawn.SpotOf(point);
            holds.TryAdd(here, -1);
            holds[there] = here.Net;
            goes[here.Net] = goes.GetValueOrDefault(here.Net) + 1;
            Nets.Add(here.Net);
            if (!drawnOn.TryGetValue(here.Net, out var on))
            {
                drawnOn.Add(here.Net, on = []);
            }

            if (there.Net >= 0)
            {
                Nets.Add(there.Net);
                on.Add(there.Net);
            }
            else
            {
                Empty.Add(point);
            }
        }

        foreach (var (net, count) in goes)
        {
            if (drawn.Graph.Nets[net].Points.Length > count)
            {
                drawnOn[net].Add(net);
            }
        }
    }

    /// <summary>Drawn nets that it touches.</summary>
    internal HashSet<int> Nets { get; } = [];

    /// <summary>Cavities without a wire that it fills.</summary>
    internal List<ProbePoint> Empty { get; } = [];

    /// <summary>Whether metal would join the two sides of a reading.</summary>
    internal bool Joins(Located seen)
    {
        foreach (var near in seen.A)
        {
            if (NetAt(near) is var net and >= 0 && (seen.B is { } far ? IsAt(net, far) : IsAtStranger(net, seen.Own)))
            {
                return true;
            }
        }

        return false;
    }

    private bool IsAt(int net, Spot[] places)
    {
        foreach (var place in places)
        {
            if (NetAt(place) == net)
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>Whether a net is at a place that is drawn in none of some nets.</summary>
    private bool IsAtStranger(int net, HashSet<int> own) => drawnOn.TryGetValue(net, out var on) ? !on.IsSubsetOf(own) : !own.Contains(net);

    private int NetAt(Spot spot) => holds.TryGetValue(spot, out var net) ? net : spot.Net;
}
