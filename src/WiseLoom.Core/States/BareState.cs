using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.States;

/// <summary>Voltages, currents and what the devices do in one situation, without any probe and without sentences: far cheaper than the whole state.</summary>
internal sealed class BareState
{
    /// <summary>What conducts less is no way of metal: a load, a sensor, siemens.</summary>
    private const double LeastMetal = 1;

    private readonly LoomCircuit circuit;
    private readonly AgreedState agreed;

    internal BareState(LoomCircuit circuit, AgreedState agreed)
    {
        (this.circuit, this.agreed) = (circuit, agreed);
        Working = [.. circuit.Loads.Where(l => Across(l.Plus, l.Minus) >= l.WorksFrom).Select(l => l.Device.Ref)];
        Pulled = [.. circuit.Relays.Where((_, i) => agreed.States.Pulled[i]).Select(r => r.Device.Ref)];
        Awake = [.. circuit.Controllers.Where((_, i) => agreed.States.Awake[i]).Select(c => c.Device.Ref)];
    }

    /// <summary>Refs of loads that have the voltage they work from.</summary>
    internal ImmutableHashSet<string> Working { get; }

    /// <summary>Refs of relays that are pulled in.</summary>
    internal ImmutableHashSet<string> Pulled { get; }

    /// <summary>Refs of controllers that are awake.</summary>
    internal ImmutableHashSet<string> Awake { get; }

    /// <summary>Whether a load works, a relay is pulled in, or a controller is awake.</summary>
    internal bool IsAtWork(string device) => Working.Contains(device) || Pulled.Contains(device) || Awake.Contains(device);

    /// <summary>Whether the devices come to rest.</summary>
    internal bool Stays => agreed.Stays;

    /// <summary>Volts of a place against the battery's negative pole.</summary>
    /// <param name="place">A cavity as written, or an inner joint.</param>
    internal double Volts(string place) => agreed.Solution.Volts[circuit.Node(place)];

    /// <summary>The current out of what is plugged in at a cavity into the wires there, amperes; below 0 the other way.</summary>
    internal double Amps(ProbePoint point)
    {
        var node = circuit.Node(point.ToString());
        return circuit.Beside(node).Where(x => circuit.IsMetal(x.Branch)).Sum(x => circuit.Circuit.Branches[x.Branch].From == node ? agreed.Solution.Amps[x.Branch] : -agreed.Solution.Amps[x.Branch]);
    }

    /// <summary>The current through a part of a device, from its first pin to its second, amperes; 0 when the device has none.</summary>
    /// <param name="label">Ref of the device, or ref and part.</param>
    internal double AmpsThrough(string label)
    {
        var branches = circuit.Circuit.Branches;
        for (var i = 0; i < branches.Length; i++)
        {
            if (branches[i].Label == label)
            {
                return agreed.Solution.Amps[i];
            }
        }

        return 0;
    }

    /// <summary>By id of a wire or ref of a device: the largest current through any part of it, amperes.</summary>
    internal Dictionary<string, double> AmpsByLabel()
    {
        var amps = new Dictionary<string, double>(StringComparer.Ordinal);
        foreach (var (branch, i) in circuit.Circuit.Branches.Select((b, i) => (b, i)))
        {
            var label = branch.Label.Split('/')[0];
            amps[label] = Math.Max(amps.GetValueOrDefault(label), Math.Abs(agreed.Solution.Amps[i]));
        }

        return amps;
    }

    /// <summary>The shortest way of metal between two places through what is closed now.</summary>
    /// <param name="from">A cavity as written, or an inner joint.</param>
    /// <returns>Ids of wires, and refs of devices with or without their part, in order; empty when nothing leads there.</returns>
    internal ImmutableArray<string> Way(string from, string to)
    {
        var (start, end) = (circuit.Node(from), circuit.Node(to));
        var came = new Dictionary<int, (int Node, int Branch)> { [start] = (-1, -1) };
        var open = new Queue<int>([start]);
        while (!came.ContainsKey(end) && open.TryDequeue(out var at))
        {
            foreach (var (next, branch) in circuit.Beside(at))
            {
                if (IsMetal(branch) && came.TryAdd(next, (at, branch)))
                {
                    open.Enqueue(next);
                }
            }
        }

        if (!came.ContainsKey(end))
        {
            return [];
        }

        var way = new List<string>();
        for (var at = end; came[at].Branch >= 0; at = came[at].Node)
        {
            way.Add(circuit.Circuit.Branches[came[at].Branch].Label);
        }

        way.Reverse();
        return [.. way];
    }

    /// <summary>A battery joins its poles by no metal.</summary>
    private bool IsMetal(int branch) => !circuit.Batteries.Contains(branch) && IsClosed(branch);

    private bool IsClosed(int branch) => circuit.Circuit.Branches[branch].Fixed || agreed.Session.Siemens[branch] > LeastMetal;

    private double Across(int plus, int minus) => Math.Abs(agreed.Solution.Volts[plus] - agreed.Solution.Volts[minus]);
}
