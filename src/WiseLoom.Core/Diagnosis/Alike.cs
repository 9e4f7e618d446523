using System.Collections.Concurrent;
using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Brings together what no measurement at probe points can tell apart; may be asked by several at once.</summary>
internal sealed class Alike(DrawnLoom drawn, Evidence evidence, WaysBeside ways)
{
    /// <summary>A hypothesis is said in so many other words at most.</summary>
    private const int MostWays = 40;

    /// <summary>Pairs of wires that a bridge may lie between, as far as they are compared.</summary>
    private const int MostAlong = 150;

    /// <summary>And so many where both of two lie elsewhere.</summary>
    private const int MostAlongBoth = 100;

    /// <summary>Pairs within one piece that are compared at most.</summary>
    private const int MostPairs = 1500;

    /// <summary>Suppositions over more nets than they touch: one is held against many.</summary>
    private readonly ConcurrentDictionary<(Weighed, string), Altered> wider = [];

    /// <summary>Of each supposition where the wires end that its faults touch: one is held against many.</summary>
    private readonly ConcurrentDictionary<Weighed, Spot[]> ends = new(ReferenceEqualityComparer.Instance);

    /// <summary>Whether two suppositions join the same places everywhere, with values that the meter cannot tell apart.</summary>
    internal bool Are(Weighed one, Weighed other)
    {
        if ((one.Faults.Any(IsPluggedOnly) || other.Faults.Any(IsPluggedOnly)) && !one.Faults.Where(IsPluggedOnly).ToHashSet().SetEquals(other.Faults.Where(IsPluggedOnly)))
        {
            return false;
        }

        if (one.Faults.IsEmpty || other.Faults.IsEmpty || IsLoose(one) != IsLoose(other))
        {
            return one.Faults.IsEmpty && other.Faults.IsEmpty;
        }

        if (IsLoose(one))
        {
            return SameLoose(one, other);
        }

        // Most are told apart where their wires end.
        Spot[] ends = [.. EndsOf(one).Union(EndsOf(other))];
        if (IsToldApart(ends, one.Altered, other.Altered))
        {
            return false;
        }

        // What only one of them touches is as drawn in the other.
        if (!one.Nets.Except(other.Nets).All(one.Altered.IsWhole) || !other.Nets.Except(one.Nets).All(other.Altered.IsWhole))
        {
            return false;
        }

        var nets = one.Nets.Union(other.Nets).ToHashSet();
        return Same(Over(one, nets), Over(other, nets), ends);
    }

    /// <summary>Whether two looms join the same places, with values that the meter cannot tell apart; both hold the same nets.</summary>
    /// <param name="first">Points that are likeliest to tell them apart.</param>
    internal bool Same(Altered a, Altered b, IReadOnlyCollection<Spot>? first = null)
    {
        HashSet<Spot> likeliest = [.. first ?? []];
        var (pieces, twins) = (new Dictionary<int, List<(int InA, int InB)>>(), new Dictionary<int, int>());
        var alone = -1;
        foreach (var spot in a.Spots.Concat(b.Filled.Select(drawn.SpotOf).Where(s => a.Node(s) < 0)).OrderBy(s => likeliest.Contains(s) ? 0 : 1))
        {
            // A cavity that only one of the two fills stands alone in the other.
            var at = (InA: a.Node(spot), InB: b.Node(spot));
            var (inA, inB) = (at.InA < 0 ? --alone : a.PieceAt(at.InA), at.InB < 0 ? --alone : b.PieceAt(at.InB));
            var isNew = !pieces.TryGetValue(inA, out var piece);
            if (isNew ? !twins.TryAdd(inB, inA) : twins.GetValueOrDefault(inB, inA - 1) != inA)
            {
                return false;
            }

            if (isNew)
            {
                pieces.Add(inA, piece = []);
            }

            piece!.Add(at);
        }

        return pieces.Values.All(p => Close(p, a, b));
    }

    /// <summary>A bridge at other places along the wires of its circuits, as far as the meter cannot tell them from it; of two bridges each by itself, then both.</summary>
    internal List<ImmutableArray<Fault>> Along(Weighed one, CancellationToken cancel)
    {
        var bridges = one.Faults.Index().Where(f => f.Item is ShortFault).Select(f => (f.Index, Bridge: (ShortFault)f.Item)).ToList();
        var elsewhere = bridges.ConvertAll(x => Same(ways.Of(one.Faults.RemoveAt(x.Index)).Elsewhere(x.Bridge).Where(o => o.A != x.Bridge.A || o.B != x.Bridge.B).Take(MostAlong).Select(o => one.Faults.SetItem(x.Index, o))));
        return [.. elsewhere.SelectMany(e => e), .. elsewhere is [var first, var second] ? Same(Both(first, second)) : []];

        List<ImmutableArray<Fault>> Same(IEnumerable<ImmutableArray<Fault>> some)
        {
            var all = some.ToList();
            return [.. all.Zip(all.Each(faults => Are(one, one with { Faults = faults, Laid = new(drawn, faults) }), cancel)).Where(x => x.Second).Select(x => x.First)];
        }

        // The best of each with the best of the other first.
        IEnumerable<ImmutableArray<Fault>> Both(List<ImmutableArray<Fault>> some, List<ImmutableArray<Fault>> others) =>
            (from a in some.Index() from b in others.Index() orderby a.Index + b.Index select a.Item.SetItem(bridges[1].Index, b.Item[bridges[1].Index])).Take(MostAlongBoth);
    }

    /// <summary>The same fault said in other words: a wire that is missing or open at either end, a poor joint at either end.</summary>
    internal IEnumerable<ImmutableArray<Fault>> InOtherWords(ImmutableArray<Fault> faults)
    {
        // Each fault by itself or in any of its other words: all ways but the first, which is as it stands.
        IEnumerable<ImmutableArray<Fault>> ways = [[]];
        foreach (var fault in faults)
        {
            ImmutableArray<Fault> words = [fault, .. Words(fault)];
            ways = ways.SelectMany(w => words.Select(w.Add));
        }

        return ways.Skip(1).Take(MostWays);
    }

    /// <summary>Contacts of a connector that stand elsewhere, said as the one that is filled from the wrong face, exchanged, or astray.</summary>
    private IEnumerable<Fault> Words(CavityFault fault)
    {
        var housing = drawn.Loom.FindConnector(fault.Connector);
        var moved = fault.Moved(drawn.Loom).Where(m => m.Key != m.Value && drawn.NetOf(new(fault.Connector, m.Key)) >= 0).ToDictionary(m => m.Key, m => m.Value, StringComparer.Ordinal);
        bool IsSame(CavityFault other) => other.Moved(drawn.Loom).Where(m => m.Key != m.Value && drawn.NetOf(new(fault.Connector, m.Key)) >= 0).All(m => moved.GetValueOrDefault(m.Key) == m.Value)
            && other.Moved(drawn.Loom).Count(m => m.Key != m.Value && drawn.NetOf(new(fault.Connector, m.Key)) >= 0) == moved.Count;
        List<CavityFault> other = housing is null ? [] : [new MirroredFault(fault.Connector)];
        if (moved.Count == 2)
        {
            other.Add(SwapFault.Of(fault.Connector, moved.Keys.First(), moved.Values.First()));
        }
        else if (moved.Count == 1)
        {
            other.Add(new MisplacedFault(fault.Connector, moved.Keys.First(), moved.Values.First()));
        }

        return other.Where(o => o.GetType() != fault.GetType() && IsSame(o));
    }

    private IEnumerable<Fault> Words(Fault fault) => fault switch
    {
        OpenFault open => [open with { End = "from" }, open with { End = "to" }, new MissingFault(open.Wire)],
        ResistiveFault poor => [poor with { End = "from" }, poor with { End = "to" }],
        IntermittentFault loose => [loose with { End = "from" }, loose with { End = "to" }],
        CavityFault moved => Words(moved),
        _ => [],
    };

    /// <summary>Whether a fault shows only with everything plugged in.</summary>
    private static bool IsPluggedOnly(Fault fault) => fault is DeviceFault or BackedOutFault or KeyTerminalFault;

    private static bool IsLoose(Weighed one) => one.Faults.Any(f => f is IntermittentFault);

    /// <summary>Two wires in series, with nothing between them that a probe can touch, break the same pairs.</summary>
    private bool SameLoose(Weighed one, Weighed other) =>
        one.Faults is [IntermittentFault a] && other.Faults is [IntermittentFault b]
        && Are(Opened(one, a), Opened(other, b));

    private Weighed Opened(Weighed of, IntermittentFault loose)
    {
        ImmutableArray<Fault> open = [new OpenFault(loose.Wire)];
        return of with { Faults = open, Laid = new(drawn, open) };
    }

    /// <summary>Where the wires end that a supposition's faults touch.</summary>
    private Spot[] EndsOf(Weighed of) => ends.GetOrAdd(of, o => [.. Ends(o.Faults).Select(drawn.SpotOf).Distinct()]);

    private IEnumerable<ProbePoint> Ends(ImmutableArray<Fault> faults) =>
        faults.SelectMany(f => f.Places(drawn.Loom)).Select(drawn.Loom.FindWire).OfType<Wire>().SelectMany(w => new[] { w.From, w.To }).Where(e => !e.IsSplice).Select(e => e.Point);

    private Altered Over(Weighed of, HashSet<int> nets)
    {
        if (of.Nets.SetEquals(nets))
        {
            return of.Altered;
        }

        return wider.GetOrAdd((of, string.Join(' ', nets.Order())), _ => new(drawn, of.Faults, nets));
    }

    private static double Spread(Altered of, int from, int to) => Math.Sqrt(of.Between([from], [to])!.Variance);

    /// <summary>Whether two places that both hold are joined in one only, or read otherwise.</summary>
    private bool IsToldApart(Spot[] places, Altered a, Altered b)
    {
        var held = places.Select(p => (InA: a.Node(p), InB: b.Node(p))).Where(n => n is { InA: >= 0, InB: >= 0 }).ToList();
        for (var i = 0; i < held.Count; i++)
        {
            for (var j = i + 1; j < held.Count; j++)
            {
                var isJoined = a.PieceAt(held[i].InA) == a.PieceAt(held[j].InA);
                if (isJoined != (b.PieceAt(held[i].InB) == b.PieceAt(held[j].InB)) || (isJoined && ReadsOtherwise(held[i], held[j], a, b)))
                {
                    return true;
                }
            }
        }

        return false;
    }

    private bool Close(List<(int InA, int InB)> piece, Altered a, Altered b)
    {
        var left = MostPairs;
        for (var i = 0; i < piece.Count; i++)
        {
            for (var j = i + 1; j < piece.Count && left-- > 0; j++)
            {
                if (ReadsOtherwise(piece[i], piece[j], a, b))
                {
                    return false;
                }
            }
        }

        return true;
    }

    /// <summary>Whether a pair of one piece reads otherwise in another loom. The copper is only asked for where the meter alone would tell the two apart.</summary>
    private bool ReadsOtherwise((int InA, int InB) from, (int InA, int InB) to, Altered a, Altered b)
    {
        var (one, other) = (a.Ohms(from.InA, to.InA)!.Value, b.Ohms(from.InB, to.InB)!.Value);
        var apart = Math.Abs(one - other) - evidence.Meter.Uncertainty(one) - evidence.Meter.Uncertainty(other);
        return apart > 0 && apart > 1.5 * (Spread(a, from.InA, to.InA) + Spread(b, from.InB, to.InB));
    }
}
