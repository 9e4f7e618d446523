using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.States;

/// <summary>Whether each fuse protects the wires behind it and carries its load, and what has power without a fuse.</summary>
internal sealed class FuseCheck
{
    private readonly Loom loom;
    private readonly IReadOnlyCollection<OperatingState> states;
    private readonly CableLimits limits;
    private readonly Bundles bundles;
    private readonly ImmutableArray<string> batteries;
    private readonly Dictionary<string, List<(string Other, string Label)>> near = new(StringComparer.Ordinal);

    internal FuseCheck(Loom loom, IReadOnlyCollection<OperatingState> states, CableLimits limits, Bundles bundles)
    {
        (this.loom, this.states, this.limits, this.bundles) = (loom, states, limits, bundles);
        batteries = [.. loom.Devices.Where(d => d.Model is BatteryModel).Select(d => d.Joint("+")).OfType<string>()];
        foreach (var wire in loom.Wires)
        {
            Join(wire.From.Text, wire.To.Text, wire.Id);
        }

        // A current that would blow a fuse goes through wires and closed contacts; loads and controllers end its way.
        foreach (var device in loom.Devices)
        {
            foreach (var (a, b) in Contacts(device))
            {
                Join(a, b, device.Ref);
            }
        }
    }

    internal void Add(ImmutableArray<CableFlag>.Builder flags)
    {
        var fuses = loom.Devices.Where(d => d.Model is FuseModel && d.Joint("1") is not null && d.Joint("2") is not null).ToList();
        var blocked = fuses.Select(f => f.Ref).ToHashSet(StringComparer.Ordinal);
        var before = Reach(batteries, blocked);
        foreach (var fuse in fuses)
        {
            var (first, second) = (fuse.Joint("1")!, fuse.Joint("2")!);
            var behind = before.Nodes.Contains(first) ? second : first;
            var wires = before.Nodes.Contains(behind) ? [] : Reach([behind], blocked).Wires;
            FlagSize(fuse, wires, flags);
            FlagLoad(fuse, flags);
        }

        if (fuses.Count > 0)
        {
            foreach (var wire in loom.Wires.Where(w => before.Wires.Contains(w.Id) && !LeadsToFuse(w, before.Nodes, fuses)))
            {
                flags.Add(new(wire.Id, $"{wire.Id} ({wire.Circuit ?? wire.From.Text}) has battery power with no fuse before it and leads to none: a short on it is a fire."));
            }
        }
    }

    private void FlagSize(Device fuse, HashSet<string> behind, ImmutableArray<CableFlag>.Builder flags)
    {
        var rated = ((FuseModel)fuse.Model!).Amps;
        var weakest = loom.Wires.Where(w => behind.Contains(w.Id)).Select(w => (Wire: w, Amps: limits.Amps(w.Section, 1))).OrderBy(x => x.Amps).FirstOrDefault();
        if (weakest.Wire is { } wire && rated > weakest.Amps)
        {
            flags.Add(new(fuse.Ref, string.Create(CultureInfo.InvariantCulture, $"{fuse.Title} ({rated:0.##} A) is larger than {wire.Id} behind it can carry: {wire.Section} carries {Say.Amps(weakest.Amps)} by itself{(bundles.Around(wire) > 3 ? $", {Say.Amps(limits.Amps(wire.Section, bundles.Around(wire)))} among {bundles.Around(wire)} wires" : "")}.")));
        }
    }

    private void FlagLoad(Device fuse, ImmutableArray<CableFlag>.Builder flags)
    {
        var rated = ((FuseModel)fuse.Model!).Amps;
        var worst = states.Where(s => s.NoState is null)
            .Select(s => (s.Situation.Key, Amps: s.Parts.Where(p => p.Label == fuse.Ref).Select(p => Math.Abs(p.Amps)).DefaultIfEmpty(0).Max()))
            .DefaultIfEmpty().MaxBy(x => x.Amps);
        if (worst.Amps > limits.FuseLoad * rated)
        {
            flags.Add(new(fuse.Ref, string.Create(CultureInfo.InvariantCulture, $"{fuse.Title} ({rated:0.##} A) carries {Say.Amps(worst.Amps)} with the key at {KeyPositions.Word(worst.Key)}: more than {limits.FuseLoad:0%} of its rating.")));
        }
    }

    /// <summary>Whether a wire is part of the way from the battery to a fuse: what lies behind it has one; then that fuse is as near as it can be.</summary>
    private bool LeadsToFuse(Wire wire, HashSet<string> live, List<Device> fuses)
    {
        var ends = fuses.SelectMany(f => new[] { f.Joint("1")!, f.Joint("2")! }).Where(live.Contains).ToHashSet(StringComparer.Ordinal);
        var cut = fuses.Select(f => f.Ref).Append(wire.Id).ToHashSet(StringComparer.Ordinal);
        var sides = new[] { wire.From.Text, wire.To.Text }.Select(end => Reach([end], cut).Nodes).ToList();
        // The side behind it is the one that the battery no longer reaches; with a second way around, either will do.
        var behind = sides.Where(s => !s.Overlaps(batteries)).ToList();
        return (behind.Count > 0 ? behind : sides).Exists(s => s.Overlaps(ends));
    }

    private (HashSet<string> Nodes, HashSet<string> Wires) Reach(IEnumerable<string> from, HashSet<string> blocked)
    {
        var nodes = from.ToHashSet(StringComparer.Ordinal);
        var wires = new HashSet<string>(StringComparer.Ordinal);
        var open = new Stack<string>(nodes);
        while (open.TryPop(out var at))
        {
            foreach (var (next, label) in near.GetValueOrDefault(at) ?? [])
            {
                if (!blocked.Contains(label))
                {
                    wires.Add(label);
                    if (nodes.Add(next))
                    {
                        open.Push(next);
                    }
                }
            }
        }

        return (nodes, wires);
    }

    private void Join(string a, string b, string label)
    {
        void One(string from, string to)
        {
            if (!near.TryGetValue(from, out var list))
            {
                near.Add(from, list = []);
            }

            list.Add((to, label));
        }

        One(a, b);
        One(b, a);
    }

    private static IEnumerable<(string A, string B)> Contacts(Device device)
    {
        (string, string)? Pair(string a, string? b) => b is not null && device.Joint(a) is { } from && device.Joint(b) is { } to ? (from, to) : null;
        IEnumerable<(string, string)?> all = device.Model switch
        {
            FuseModel or SwitchModel => [Pair("1", "2")],
            RelayModel relay => relay.Contacts.SelectMany(c => new[] { Pair(c.Common, c.Working), Pair(c.Common, c.Resting) }),
            KeyModel key => key.Joins.Values.SelectMany(g => g).SelectMany(g => g.Skip(1).Select(t => Pair(g[0], t))),
            CableModel { ToCase: false } cable => cable.Joins.SelectMany(g => g.Skip(1).Select(t => Pair(g[0], t))),
            _ => [],
        };
        return all.OfType<(string, string)>().Distinct();
    }
}
