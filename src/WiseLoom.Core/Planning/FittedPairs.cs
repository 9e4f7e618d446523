using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning;

/// <summary>A pair that is read with devices plugged in.</summary>
/// <param name="Devices">Titles of what it reads through; empty where a diode decides.</param>
/// <param name="Wires">Ids of the wires on the way; empty where a diode decides.</param>
/// <param name="Group">The twisted pair that it is; null for none.</param>
internal sealed record FittedReading(FittedPair Pair, ImmutableArray<string> Devices, ImmutableArray<string> Wires, string? Group);

/// <summary>Which pairs of a loom prove its devices through the plugs that stay open.</summary>
internal static class FittedPairs
{
    /// <summary>Readings through devices: a tree over the open cavities of each net; the two conductors of each twisted pair; each diode.</summary>
    /// <param name="fitted">Refs of the devices that are plugged in.</param>
    /// <param name="unseen">Titles of fitted diodes that no reading shows, each with the reason.</param>
    internal static ImmutableArray<FittedReading> Of(Loom loom, PlanTerms terms, IReadOnlySet<string> fitted, List<string> unseen)
    {
        var table = FittedTable.For(loom, terms.AmbientC, terms.Copper, new HashSet<string>(), loom.Devices.Select(d => d.Ref).Where(r => !fitted.Contains(r)).ToHashSet(StringComparer.Ordinal));
        var taken = loom.Devices.Where(d => fitted.Contains(d.Ref) && !table.LeftOut.Contains(d.Ref)).SelectMany(d => d.Pins.Values).Select(p => p.Connector).ToHashSet(StringComparer.Ordinal);
        var open = loom.Connectors.Select(c => c.Ref).Where(r => !taken.Contains(r)).ToHashSet(StringComparer.Ordinal);
        var pairs = Twisted(loom, table, open).ToList();
        var known = pairs.Select(p => (p.Pair.A, p.Pair.B)).ToHashSet();
        void Add(FittedPair pair, ImmutableArray<string> devices, ImmutableArray<string> wires)
        {
            if (!known.Contains((pair.B, pair.A)) && known.Add((pair.A, pair.B)))
            {
                pairs.Add(new(pair, devices, wires, null));
            }
        }

        foreach (var reading in OneEndTest.From(table, open, terms.Meter, CancellationToken.None).Readings.Where(r => r.ThroughDiode || !r.Devices.IsEmpty))
        {
            Add(new(reading.Red, reading.Black, reading.Ohm, reading.Reversed, reading.ThroughDiode), reading.Devices, reading.Wires);
        }

        foreach (var diode in loom.Devices.Where(d => fitted.Contains(d.Ref) && d.Model is DiodeModel))
        {
            if (AcrossOf(loom, table, diode, open) is { } across)
            {
                Add(across, [], []);
            }
            else
            {
                unseen.Add(diode.Title);
            }
        }

        return [.. pairs];
    }

    /// <summary>The pair of open cavities on either side of a diode; null where none is open, or where what lies beside it carries the current.</summary>
    private static FittedPair? AcrossOf(Loom loom, FittedTable table, Device diode, HashSet<string> open)
    {
        var bare = WireGraph.Topology(loom);
        ProbePoint? Open(string role) => diode.Joint(role) is { } joint && bare.NumberOf(joint) is { } number
            ? bare.Nets[number].Points.Where(p => open.Contains(p.Connector)).Order().Select(p => (ProbePoint?)p).FirstOrDefault()
            : null;
        var pins = diode.PinNames.ToList();
        return pins.Count == 2 && Open(pins[0]) is { } a && Open(pins[1]) is { } b && a != b && table.Between(a, b) is { ThroughDiode: true } pair ? pair : null;
    }

    private static IEnumerable<FittedReading> Twisted(Loom loom, FittedTable table, HashSet<string> open)
    {
        var titles = loom.Devices.DistinctBy(d => d.Ref).ToDictionary(d => d.Ref, d => d.Title, StringComparer.Ordinal);
        foreach (var group in loom.Wires.Where(w => w.Group is not null && w.Role != WireRole.Shield).GroupBy(w => w.Group!))
        {
            var ends = group.SelectMany(w => new[] { w.From, w.To }).Where(e => !e.IsSplice && open.Contains(e.Point.Connector)).Select(e => e.Point).Distinct().GroupBy(p => p.Connector).FirstOrDefault(g => g.Count() > 1);
            if (ends is null)
            {
                continue;
            }

            var (a, b) = (ends.Order().First(), ends.Order().Skip(1).First());
            var pair = table.Between(a, b);
            if (pair is { ThroughDiode: false, Ohm: not null })
            {
                yield return new(pair, [.. table.Explain(a, b).Select(p => titles.GetValueOrDefault(p.Label)).OfType<string>().Distinct(StringComparer.Ordinal)], [], group.Key);
            }
            else if (pair.Ohm is null && pair.Reversed is null)
            {
                yield return new(pair, [], [], group.Key);
            }
        }
    }
}
