using System.Collections.Immutable;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Looks for the measurement that tells most for its time.</summary>
internal sealed class NextMeasurement(DrawnLoom drawn, Evidence evidence, Hands hands, CancellationToken cancel)
{
    /// <summary>So many groups are told apart, and so many points are tried.</summary>
    private const int Groups = 40, MostPoints = 30;

    /// <summary>Less than this many bits are not worth a touch, however near.</summary>
    internal const double LeastBits = 0.02;

    /// <summary>Outcomes this many of their own standard deviations from each other, each, are told apart.</summary>
    private const double Apart = 2;

    /// <summary>What copper is off by, as a share of it, and the most ohms of it on a way: near enough to choose a measurement by.</summary>
    private const double CopperShare = 0.06, MostCopper = 0.5;

    /// <summary>The same between places whose copper was measured, as that of a net with many ends has been.</summary>
    private const double MeasuredShare = 0.025;

    /// <summary>A bridge that may lie on fewer wires is sought end by end; of more, so many ends are joined at most, against so many places of the other.</summary>
    private const int LeastJoined = 4, MostJoined = 24, MostFrom = 2;

    /// <summary>The best of the pairs of points that the likeliest groups touch.</summary>
    /// <param name="groups">Groups with their shares, falling.</param>
    /// <param name="before">Seconds that pass before the loom can be measured.</param>
    /// <returns>Null when no measurement tells more; with the bits that it tells in a second.</returns>
    internal (Measurement? Measurement, double Rate) Of(IReadOnlyList<(Weighed Best, double Share)> groups, double before)
    {
        var told = groups.Take(Groups).Where(g => g.Share > 1e-4).ToList();
        if (told.Count < 2)
        {
            return default;
        }

        // Copper is hardly ever off by as much as it may be: what would tell nothing if it were may tell yet. And where nothing new tells, what is odd is read again: it may be the touch.
        var best = Best(told, CopperShare, before);
        best = best.Measurement is null ? Best(told, MeasuredShare, before) : best;
        return best.Measurement is null ? Again(told, before) : best;
    }

    private (Measurement? Measurement, double Rate) Best(List<(Weighed Best, double Share)> told, double copper, double before)
    {
        var taken = evidence.All.Select(Key).ToHashSet();
        var tried = Possible(told).Select(x => (x.One, x.IsOfMeasured, Seen: new Observation([x.One.A], x.One.B, null, x.One.Moved))).Where(x => !taken.Contains(Key(x.Seen))).ToList();
        return Best(before, tried.ConvertAll(x => x.One), tried.Each(x =>
        {
            var (at, share) = (evidence.Locate(x.Seen), x.IsOfMeasured ? MeasuredShare : copper);
            return Bits(told, g => Outcome(x.One, at, g, share));
        }, cancel));
    }

    /// <summary>What was read once, and what one of the groups does not explain, once more.</summary>
    private (Measurement? Measurement, double Rate) Again(List<(Weighed Best, double Share)> told, double before)
    {
        var once = evidence.All.GroupBy(Key).Where(g => g.Count() == 1).Select(g => g.Single()).Where(o => o is { A.Length: 1, B: not null, Moved: false, With: null } && Evidence.IsJoined(o));
        var odd = once.Where(o => told.Exists(g => evidence.Touches(o, g.Best.Altered)) && told.Exists(g => !evidence.IsExplained(o, g.Best))).Take(MostPoints).ToList();
        return Best(before, odd.ConvertAll(o => new Measurement(o.A[0], o.B, false) { IsAgain = true }), odd.Each(o => Bits(told, g => Outcome(o, g)), cancel));
    }

    /// <summary>That which tells most for its seconds.</summary>
    /// <param name="bits">How much each of them tells.</param>
    private (Measurement? Measurement, double Rate) Best(double before, List<Measurement> tried, double[] bits)
    {
        var best = (Measurement: (Measurement?)null, Rate: 0.0);
        for (var i = 0; i < tried.Count; i++)
        {
            var rate = bits[i] > LeastBits ? bits[i] / (hands.Seconds(tried[i]) + before) : 0;
            best = rate > best.Rate ? (tried[i], rate) : best;
        }

        return best;
    }

    /// <summary>Measurements that may tell some groups apart, and whether between places whose copper was measured.</summary>
    private IEnumerable<(Measurement One, bool IsOfMeasured)> Possible(List<(Weighed Best, double Share)> told)
    {
        var points = Points(told);
        for (var i = 0; i < points.Count; i++)
        {
            for (var j = i + 1; j < points.Count; j++)
            {
                yield return (Measurement.Of(points[i], points[j]), false);
            }

            if (drawn.NetOf(points[i]) >= 0)
            {
                yield return (new(points[i], null, false), false);
            }
        }

        // A contact that may stand in any of several cavities: all of them joined, then half of them.
        foreach (var astray in told.SelectMany(g => g.Best.Faults.OfType<MisplacedFault>()).GroupBy(f => (f.Connector, f.From)))
        {
            ImmutableArray<ProbePoint> places = [.. astray.Select(f => new ProbePoint(f.Connector, f.To)).Distinct()];
            var far = drawn.Graph.NetOf(new(astray.Key.Connector, astray.Key.From))?.Points.Where(p => p.Connector != astray.Key.Connector).Take(3) ?? [];
            foreach (var point in places.Length > 1 ? far : [])
            {
                yield return (new(point, places, false), false);
                yield return (new(point, places[..((places.Length + 1) / 2)], false), false);
            }
        }

        foreach (var joined in JoinedEnds(told))
        {
            yield return (joined, true);
        }

        foreach (var joined in JoinedNets(told))
        {
            yield return (joined, false);
        }

        // What is loose shows only while it is moved, between places of its own net.
        foreach (var net in told.SelectMany(g => g.Best.Faults.OfType<IntermittentFault>()).SelectMany(f => drawn.NetsOf([f])).Distinct())
        {
            ImmutableArray<ProbePoint> places = [.. drawn.Graph.Nets[net].Points.Take(MostPoints)];
            for (var i = 0; i < places.Length; i++)
            {
                for (var j = i + 1; j < places.Length; j++)
                {
                    yield return (new(places[i], [places[j]], true), false);
                }
            }
        }
    }

    /// <summary>The same for the same places, whichever probe is where.</summary>
    private static (ProbePoint, ProbePoint?, int, bool) Key(Observation seen) =>
        seen is { A: [var a], B: [var b] } ? a.CompareTo(b) < 0 ? (a, b, 1, seen.Moved) : (b, a, 1, seen.Moved) : (seen.A[0], seen.B?[0], seen.B?.Length ?? 0, seen.Moved);

    /// <summary>Places that the groups would change, those of the likeliest first.</summary>
    private List<ProbePoint> Points(List<(Weighed Best, double Share)> told)
    {
        var hands = told.SelectMany(g => g.Best.Faults).SelectMany(f => f.Places(drawn.Loom)).Select(p => ProbePoint.TryParse(p, out var point) ? point : (ProbePoint?)null).OfType<ProbePoint>();
        var wires = told.SelectMany(g => g.Best.Faults).SelectMany(f => f.Places(drawn.Loom)).Select(drawn.Loom.FindWire).OfType<Wire>().SelectMany(w => new[] { w.From, w.To }).Where(e => !e.IsSplice).Select(e => e.Point);
        var whole = told.SelectMany(g => g.Best.Altered.Points);
        return [.. hands.Concat(wires).Concat(whole).Distinct().Take(MostPoints)];
    }

    /// <summary>A bridge that may lie on any of many wires of a net: from the other net to the far ends of some of them, joined. Through the wire that it lies on it reads less.</summary>
    private IEnumerable<Measurement> JoinedEnds(List<(Weighed Best, double Share)> told)
    {
        var along = told.SelectMany(g => g.Best.Faults.OfType<ShortFault>()).Where(f => f.AlongMm is not null).Select(f => (One: drawn.Loom.FindWire(f.A), Other: drawn.Loom.FindWire(f.B))).Where(w => w.One is not null && w.Other is not null).ToList();
        foreach (var side in along.Concat(along.Select(w => (One: w.Other, Other: w.One))).GroupBy(w => (drawn.NetOfWire(w.One!), drawn.NetOfWire(w.Other!))))
        {
            List<ProbePoint> ends = [.. side.Select(w => w.One!).DistinctBy(w => w.Id).Select(w => Ends(w).Cast<ProbePoint?>().LastOrDefault()).OfType<ProbePoint>().Distinct()];
            if (ends.Count < LeastJoined)
            {
                continue;
            }

            // From either end of the other wire: one of them may be where a probe stands.
            foreach (var from in side.SelectMany(w => Ends(w.Other!)).Concat(drawn.SkeletonOf(side.Key.Item2).Points.Select(p => p.Point)).Distinct().Take(MostFrom).ToList())
            {
                for (var some = (ends.Count + 1) / 2; some > 1; some /= 2)
                {
                    yield return new(from, [.. ends.Take(Math.Min(some, MostJoined))], false);
                    yield return new(from, [.. ends.Where((_, i) => i % 2 == 0).Take(Math.Min(some, MostJoined))], false);
                }
            }
        }
    }

    /// <summary>A net that may be bridged to any of many others: from it to a place of each of half of these, joined, in the plug that most of them come to.</summary>
    private IEnumerable<Measurement> JoinedNets(List<(Weighed Best, double Share)> told)
    {
        var pairs = told.SelectMany(g => g.Best.Faults.OfType<ShortFault>()).Select(f => drawn.NetsOf([f]).ToList()).Where(n => n.Count == 2).Select(n => (One: n[0], Other: n[1])).ToList();
        foreach (var side in pairs.Concat(pairs.Select(p => (One: p.Other, Other: p.One))).Distinct().GroupBy(p => p.One, p => p.Other))
        {
            var others = side.Select(n => drawn.Graph.Nets[n].Points).Where(p => p.Length > 0).ToList();
            if (others.Count < LeastJoined)
            {
                continue;
            }

            var coming = others.SelectMany(p => p.Select(x => x.Connector).Distinct()).CountBy(c => c).ToDictionary(c => c.Key, c => c.Value, StringComparer.Ordinal);
            var places = others.ConvertAll(p => p.MaxBy(x => coming[x.Connector]));
            foreach (var from in drawn.Graph.Nets[side.Key].Points.Take(MostFrom))
            {
                for (var some = (places.Count + 1) / 2; some > 1; some /= 2)
                {
                    yield return new(from, [.. places.Take(Math.Min(some, MostJoined)).OrderByDescending(p => coming[p.Connector])], false);
                }
            }
        }
    }

    /// <summary>The ends of a wire that a probe can touch.</summary>
    private static IEnumerable<ProbePoint> Ends(Wire wire) => new[] { wire.From, wire.To }.Where(e => !e.IsSplice).Select(e => e.Point);

    /// <summary>What a group would show: its value and spread; null for apart.</summary>
    private (double Ohms, double Sd)? Outcome(Measurement seen, Located at, Weighed of, double share)
    {
        if (seen.B is null)
        {
            return of.Altered.NearestStranger(seen.A) is { } nearest ? (nearest.Ohms, evidence.Noise(nearest.Ohms) + (share * Math.Min(OfCopper(nearest, of), MostCopper))) : null;
        }

        var predicted = evidence.Predict(at, of.Altered) ?? (at.Touches(of.Altered) ? null : at.AsDrawn);
        if (predicted is null || predicted.Ohms > evidence.Meter.UpToOhms)
        {
            return null;
        }

        if (seen.Moved && of.Faults.OfType<IntermittentFault>().Any(f => predicted.Of(drawn.PlaceOf(f.Wire)) > 0.5))
        {
            return null;
        }

        var (noise, copper) = (evidence.Noise(predicted.Ohms), share * Math.Min(OfCopper(predicted, of), MostCopper));
        return (predicted.Ohms, Math.Sqrt((copper * copper) + (noise * noise)));
    }

    /// <summary>What a group would show where a reading was taken already: its copper is by then known as well as that reading tells it.</summary>
    private (double Ohms, double Sd)? Outcome(Observation taken, Weighed of)
    {
        if (evidence.Predict(taken, of.Altered) is not { } predicted)
        {
            return null;
        }

        var (copper, noise) = (predicted.Variance, Math.Pow(evidence.Noise(taken), 2));
        var known = copper / (copper + noise);
        return (predicted.Ohms + (known * (taken.Ohm!.Value - evidence.LeadOhms - predicted.Ohms)), Math.Sqrt(noise * (1 + known)));
    }

    /// <summary>What is copper of a value: all but the sizes of the faults that are on the way, by the share that each has of it.</summary>
    private double OfCopper(Predicted predicted, Weighed of)
    {
        var (copper, bridges) = (predicted.Ohms, 0);
        foreach (var fault in of.Faults)
        {
            copper -= fault switch
            {
                ShortFault bridge => bridge.Ohm * predicted.Of(Altered.BridgeAt(bridges++)),
                ResistiveFault poor => poor.Ohm * predicted.Of(drawn.PlaceOf(poor.Wire)),
                _ => 0,
            };
        }

        return Math.Max(0, copper);
    }

    /// <param name="outcome">What a group would show.</param>
    private static double Bits(List<(Weighed Best, double Share)> told, Func<Weighed, (double Ohms, double Sd)?> outcome)
    {
        var total = told.Sum(g => g.Share);
        Span<(double Share, double Ohms, double Sd)> outcomes = stackalloc (double, double, double)[Groups];
        var (count, apart) = (0, 0.0);
        foreach (var (best, share) in told)
        {
            if (outcome(best) is { } shows)
            {
                outcomes[count++] = (share / total, shows.Ohms, shows.Sd);
            }
            else
            {
                apart += share / total;
            }
        }

        return Bits(outcomes[..count], apart);
    }

    /// <summary>Information that tells outcomes apart: those within <see cref="Apart"/> of their standard deviations of each other count as one.</summary>
    /// <param name="outcomes">Values; they are put in order.</param>
    /// <param name="apart">The share of those that show none.</param>
    private static double Bits(Span<(double Share, double Ohms, double Sd)> outcomes, double apart)
    {
        var bits = apart > 0 ? -apart * Math.Log2(apart) : 0;
        var (cluster, end) = (0.0, double.NegativeInfinity);
        outcomes.Sort((x, y) => x.Ohms.CompareTo(y.Ohms));
        foreach (var (share, ohms, sd) in outcomes)
        {
            if (ohms - (Apart * sd) > end && cluster > 0)
            {
                bits -= cluster * Math.Log2(cluster);
                cluster = 0;
            }

            cluster += share;
            end = Math.Max(end, ohms + (Apart * sd));
        }

        return cluster > 0 ? bits - (cluster * Math.Log2(cluster)) : bits;
    }
}
