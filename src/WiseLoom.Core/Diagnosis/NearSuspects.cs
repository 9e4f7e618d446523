using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Sightings;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Single faults that could be behind what was seen with power on: of wires, contacts and devices, those near the places first.</summary>
/// <remarks>From a place the search goes by metal to all of its net, through each device there to the nets of its other pins, and so on; small nets before
/// large ones, since nearly everything meets at the battery.</remarks>
internal sealed class NearSuspects(DrawnLoom drawn, Priors priors)
{
    /// <summary>Wires, devices, exchanges, contacts astray and bridges that are tried at most.</summary>
    private const int MostWires = 120, MostDevices = 40, MostSwaps = 40, MostAstray = 20, MostBridges = 24;

    /// <summary>In a loom of more wires fewer are tried, in proportion, since each costs more; at least this share.</summary>
    private const double Wires = 400, LeastShare = 0.1;

    /// <summary>How much rarer a contact that does not meet its pin is than a wire that is open; a logarithm.</summary>
    private const double NotMeeting = -0.7;

    /// <summary>What a shorted device measures, ohms.</summary>
    private const double Shorted = 0.05;

    /// <summary>How likely a poor joint has just the size that was measured; a logarithm.</summary>
    private const double LogMeasured = -3;

    /// <summary>Of faults of devices so many are shorts.</summary>
    private const double ShortedShare = 0.1;

    private int Some(int most) => (int)Math.Ceiling(most * Math.Clamp(Wires / Math.Max(1, drawn.Loom.Wires.Length), LeastShare, 1));

    private double All => Math.Log(1 - priors.Nothing);

    /// <summary>Wires in the order of nearness, and what else may be wrong near the places.</summary>
    internal (ImmutableArray<Wire> Wires, ImmutableArray<Supposition> Others) From(ImmutableArray<Sighting> odd, SuspectLoom sound)
    {
        var (nets, devices) = Near(odd.SelectMany(s => s.Begins(drawn.Loom)));
        ImmutableArray<Wire> wires = [.. nets.SelectMany(n => drawn.WiresOf(n)).Take(Some(MostWires))];
        var near = wires.SelectMany(w => new[] { w.From, w.To }).Where(e => !e.IsSplice).Select(e => e.Point).Distinct().ToList();
        return (wires, [.. OfDevices(devices, odd), .. Through(devices, odd, sound), .. OfLifted(odd), .. OfOthers(odd), .. OfContacts(near)]);
    }

    /// <summary>How likely a wire is open before anything is seen; a logarithm.</summary>
    internal double LogOpen => All + Math.Log(priors.Open / Math.Max(1, drawn.Loom.Wires.Length));

    /// <summary>How likely it has a poor joint.</summary>
    internal double LogPoor => All + Math.Log(priors.Resistive / Math.Max(1, drawn.Loom.Wires.Length));

    private IEnumerable<Supposition> OfDevices(List<Device> devices, ImmutableArray<Sighting> odd)
    {
        var log = All + Math.Log(priors.Device / Math.Max(1, drawn.Loom.Devices.Length));
        foreach (var device in devices.Where(d => d.Model is not (null or BatteryModel or CableModel)).Take(Some(MostDevices)))
        {
            yield return new([new DeviceFault(device.Ref)], log);
            // Only a look with the engine cranking can show it.
            if (device.Model is KeyModel key && odd.Any(s => s.Meanwhile?.Key == KeyPosition.Start))
            {
                foreach (var terminal in key.Joins.GetValueOrDefault(KeyPosition.Start, []).SelectMany(g => g).Where(device.Pins.ContainsKey).Distinct())
                {
                    yield return new([new KeyTerminalFault(device.Ref, terminal)], log);
                }
            }

            if (device.Model is LoadModel or SwitchModel or DiodeModel)
            {
                yield return new([new DeviceFault(device.Ref, Shorted)], log + Math.Log(ShortedShare));
            }
        }

        foreach (var (device, ohm) in odd.OfType<DeviceAlone>().Where(s => s.Ohm is not null).Select(s => (s.Device, s.Ohm!.Value)))
        {
            yield return new([new DeviceFault(device, Math.Max(0, ohm))], log);
        }
    }

    /// <summary>Devices that a reading leads through: in series with the copper they measure as much more, or less, as the reading is off.</summary>
    private IEnumerable<Supposition> Through(List<Device> devices, ImmutableArray<Sighting> odd, SuspectLoom sound) =>
        from seen in odd.OfType<FittedSeen>().Take(Some(MostDevices))
        from device in devices.Take(Some(MostDevices))
        where device.Pins.ContainsValue(seen.A) || device.Pins.ContainsValue(seen.B) || device.Pins.Values.Any(p => drawn.NetOf(p) is var net && net >= 0 && (net == drawn.NetOf(seen.A) || net == drawn.NetOf(seen.B)))
        let ohm = sound.DeviceAlone(device.Ref)?.Nominal + seen.Ohm - sound.Fitted(seen.A, seen.B, seen.Plugged, seen.Set)?.Ohm?.Nominal
        where ohm > 0
        select new Supposition([new DeviceFault(device.Ref, Math.Round(ohm.Value, 3))], All + Math.Log(priors.Device / Math.Max(1, drawn.Loom.Devices.Length)) + LogMeasured);

    /// <summary>Wires that were measured by themselves: what they measured too much.</summary>
    private IEnumerable<Supposition> OfLifted(ImmutableArray<Sighting> odd) =>
        from seen in odd.OfType<WireAlone>()
        where seen.Ohm is not null && seen.Ohm > drawn.PartOf(drawn.PlaceOf(seen.Wire)).Mean
        select new Supposition([new ResistiveFault(seen.Wire, seen.Ohm!.Value - drawn.PartOf(drawn.PlaceOf(seen.Wire)).Mean)], LogPoor + LogMeasured);

    /// <summary>Another device moved than the one that was driven: their circuits may be exchanged where they lie in one connector, wherever in it.</summary>
    private IEnumerable<Supposition> OfOthers(ImmutableArray<Sighting> odd)
    {
        var works = odd.OfType<WorksSeen>().ToList();
        var taken = new HashSet<SwapFault>();
        foreach (var (still, moved) in works.Where(w => !w.Works).SelectMany(a => works.Where(b => b.Works && b.Key == a.Key && b.Set.SequenceEqual(a.Set)).Select(b => (a.Device, b.Device))).Take(Some(MostSwaps)))
        {
            foreach (var (a, b) in Circuits(still).SelectMany(a => Circuits(moved).Where(b => a.Connector == b.Connector && a != b && drawn.NetOf(a) != drawn.NetOf(b)).Select(b => (a, b))))
            {
                if (taken.Add(SwapFault.Of(a.Connector, a.Cavity, b.Cavity)))
                {
                    yield return new([SwapFault.Of(a.Connector, a.Cavity, b.Cavity)], All + Math.Log(priors.Swap) - Math.Log(Math.Max(1, drawn.Loom.Wires.Length)));
                }
            }
        }
    }

    /// <summary>Places of the smaller of a device's circuits: what it alone hangs on.</summary>
    private IEnumerable<ProbePoint> Circuits(string device) => drawn.Loom.Devices.Where(d => d.Ref == device).SelectMany(d => d.Pins.Values).Select(drawn.NetOf).Where(n => n >= 0)
        .OrderBy(n => drawn.WiresOf(n).Length).Take(1).SelectMany(n => drawn.SkeletonOf(n).Points).Select(p => p.Point);

    private IEnumerable<Supposition> OfContacts(List<ProbePoint> near)
    {
        var beside = near.Select(p => p.Connector).Distinct().SelectMany(c => FaceLayout.Neighbours(drawn.Loom.Connector(c).Family).Select(n => (A: new ProbePoint(c, n.A), B: new ProbePoint(c, n.B)))).ToList();
        var order = near.Select((p, i) => (p, i)).ToDictionary(x => x.p, x => x.i);
        int Place((ProbePoint A, ProbePoint B) pair) => Math.Min(order.GetValueOrDefault(pair.A, int.MaxValue), order.GetValueOrDefault(pair.B, int.MaxValue));
        foreach (var point in near.Where(p => drawn.Loom.DevicesOn(p.Connector).Any(d => d.Pins.ContainsValue(p))).Take(Some(MostWires)))
        {
            yield return new([new BackedOutFault(point.Connector, point.Cavity)], LogOpen + NotMeeting);
        }

        var swaps = beside.Where(n => Filled(n.A) && Filled(n.B) && drawn.NetOf(n.A) != drawn.NetOf(n.B) && Place(n) < int.MaxValue).OrderBy(Place).ToList();
        var among = Math.Log(Math.Max(1, drawn.Loom.Wires.Length));
        foreach (var (a, b) in swaps.Take(Some(MostSwaps)))
        {
            yield return new([SwapFault.Of(a.Connector, a.Cavity, b.Cavity)], All + Math.Log(priors.Swap) - among);
        }

        foreach (var (from, to) in beside.SelectMany(n => new[] { n, (A: n.B, B: n.A) }).Where(n => Filled(n.A) && !Filled(n.B) && order.ContainsKey(n.A)).OrderBy(Place).Take(Some(MostAstray)))
        {
            yield return new([new MisplacedFault(from.Connector, from.Cavity, to.Cavity)], All + Math.Log(priors.Misplaced) - among);
        }

        foreach (var (a, b) in swaps.Take(Some(MostBridges)))
        {
            yield return new([new ShortFault(a.ToString(), b.ToString(), 0)], All + Math.Log(priors.Short) - among);
        }
    }

    private bool Filled(ProbePoint point) => drawn.NetOf(point) >= 0;

    private (List<int> Nets, List<Device> Devices) Near(IEnumerable<ProbePoint> from)
    {
        var (nets, devices) = (new List<int>(), new List<Device>());
        var (seenNets, seenDevices) = (new HashSet<int>(), new HashSet<string>(StringComparer.Ordinal));
        var next = new PriorityQueue<int, (int Steps, int Size)>();
        void Enqueue(IEnumerable<ProbePoint> points, int steps)
        {
            foreach (var net in points.Select(drawn.NetOf).Where(n => n >= 0 && seenNets.Add(n)))
            {
                next.Enqueue(net, (steps, drawn.WiresOf(net).Length));
            }
        }

        Enqueue(from, 0);
        while (next.TryDequeue(out var net, out var at) && nets.Sum(n => drawn.WiresOf(n).Length) < Some(MostWires))
        {
            nets.Add(net);
            foreach (var device in drawn.SkeletonOf(net).Points.SelectMany(p => drawn.Loom.DevicesOn(p.Point.Connector).Where(d => d.Pins.ContainsValue(p.Point))))
            {
                if (seenDevices.Add(device.Ref))
                {
                    devices.Add(device);
                    Enqueue(device.Pins.Values, at.Steps + 1);
                }
            }
        }

        return (nets, devices);
    }
}
