using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Electrical;

/// <summary>A reading of the one-end test.</summary>
/// <param name="Red">A cavity of the plug.</param>
/// <param name="Black">Another cavity of the plug.</param>
/// <param name="Ohm">What it must read, ohms; null for over range in this direction.</param>
/// <param name="Reversed">With the probes exchanged; differs where a diode lies in the way.</param>
/// <param name="Devices">Titles of the devices it reads through.</param>
/// <param name="Wires">Ids of the wires it proves.</param>
/// <param name="NoticedOhms">Smallest added resistance that the meter surely notices; null for none.</param>
public sealed record OneEndReading(
    ProbePoint Red, ProbePoint Black, OhmRange? Ohm, OhmRange? Reversed, bool ThroughDiode, ImmutableArray<string> Devices, ImmutableArray<string> Wires, double? NoticedOhms);

/// <summary>Everything that can be read from one plug with all far ends fitted, and what cannot be reached from there.</summary>
/// <param name="Readings">Enough to touch each reachable cavity once: the pairs of least resistance that join them.</param>
/// <param name="Alone">Cavities from which nothing leads back to this plug: they are tested from their far ends.</param>
/// <param name="LeftOut">Titles of devices that take no part.</param>
public sealed record OneEndTest(ImmutableArray<OneEndReading> Readings, ImmutableArray<ProbePoint> Alone, ImmutableArray<string> LeftOut)
{
    /// <summary>Plans the test.</summary>
    /// <param name="plugs">Refs of the connectors that are in hand, as those of one controller.</param>
    public static OneEndTest From(FittedTable table, IReadOnlyCollection<string> plugs, Meter meter, CancellationToken cancel)
    {
        var loom = table.Loom;
        var names = (Wires: loom.Wires.Select(w => w.Id).ToHashSet(StringComparer.Ordinal), Devices: loom.Devices.DistinctBy(d => d.Ref).ToDictionary(d => d.Ref, d => d.Title, StringComparer.Ordinal));
        var readings = ImmutableArray.CreateBuilder<OneEndReading>();
        var alone = ImmutableArray.CreateBuilder<ProbePoint>();
        foreach (var net in table.Nets)
        {
            var here = net.Points.Where(p => plugs.Contains(p.Connector)).Order().ToList();
            if (here.Count == 1)
            {
                alone.Add(here[0]);
            }
            else if (here.Count > 1)
            {
                Span(table, here, pair => Reading(table, pair, meter, names.Wires, names.Devices), readings, alone, cancel);
            }
        }

        return new(
            [.. readings.OrderBy(r => r.Red)],
            [.. alone.Order()],
            [.. table.LeftOut.Select(r => names.Devices[r])]);
    }

    /// <summary>A tree of least resistance over the cavities of a net (Prim).</summary>
    private static void Span(FittedTable table, List<ProbePoint> points, Func<FittedPair, OneEndReading> reading, ImmutableArray<OneEndReading>.Builder readings, ImmutableArray<ProbePoint>.Builder alone, CancellationToken cancel)
    {
        var best = points.Skip(1).ToDictionary(p => p, p => Look(table, p, points[0]));
        var reached = new HashSet<ProbePoint>();
        while (best.Count > 0)
        {
            cancel.ThrowIfCancellationRequested();
            var (point, pair) = best.MinBy(x => Nominal(x.Value));
            best.Remove(point);
            if (double.IsInfinity(Nominal(pair)))
            {
                alone.Add(point);
                continue;
            }

            reached.Add(point);
            reached.Add(pair.B);
            readings.Add(reading(pair));
            foreach (var other in best.Keys.ToList())
            {
                var through = Look(table, other, point);
                if (Nominal(through) < Nominal(best[other]))
                {
                    best[other] = through;
                }
            }
        }

        if (!reached.Contains(points[0]))
        {
            alone.Add(points[0]);
        }
    }

    private static FittedPair Look(FittedTable table, ProbePoint red, ProbePoint black) => table.Between(red, black);

    private static double Nominal(FittedPair pair) => Math.Min(pair.Ohm?.Nominal ?? double.PositiveInfinity, pair.Reversed?.Nominal ?? double.PositiveInfinity);

    private static OneEndReading Reading(FittedTable table, FittedPair pair, Meter meter, HashSet<string> wireIds, Dictionary<string, string> titles)
    {
        var parts = table.Explain(pair.A, pair.B);
        var wires = parts.Where(p => wireIds.Contains(p.Label)).Select(p => p.Label).Distinct(StringComparer.Ordinal);
        var devices = parts.Select(p => titles.GetValueOrDefault(p.Label)).OfType<string>().Distinct(StringComparer.Ordinal);
        var ohm = pair.Ohm ?? pair.Reversed;
        return new(
            pair.A, pair.B, pair.Ohm, pair.Reversed, pair.ThroughDiode, [.. devices], [.. wires],
            ohm is { } range ? Judgement.SurelyNoticedOhms(range.Nominal, new(range.Min, range.Max), meter) : null);
    }
}
