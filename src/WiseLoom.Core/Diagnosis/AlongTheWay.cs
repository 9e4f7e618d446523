using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Where along two wires metal joins them, from readings through it at both ends (the loop method).</summary>
/// <remarks>
/// With t the share of the way along a wire of ρ ohms between nodes u and v of a piece of metal, a point x of the piece reads
/// (1−t)·R(x,u) + t·R(x,v) + t(1−t)·(ρ − R(u,v)) to that place. A reading through the bridge is such a way on either side and the bridge between them; places and
/// bridge are fitted to all of them by least squares, on a grid that is halved around its best. The copper is what the other readings show it to be.
/// </remarks>
/// <param name="besides">What else is wrong: the bridge lies in the loom as that leaves it.</param>
internal sealed class AlongTheWay(DrawnLoom drawn, Evidence evidence, ImmutableArray<Fault> besides)
{
    /// <summary>Pairs of wires that are tried, and that are placed as well as may be.</summary>
    private const int MostTried = 1500, MostPlaced = 150;

    /// <summary>Cavities of either piece that are tried.</summary>
    private const int MostCavities = 150;

    /// <summary>Those that fit worse than the best by this much are placed roughly.</summary>
    private const double WorthPlacing = 40;

    private const int Grid = 10, Halvings = 6;

    /// <summary>A place fits as well as the best when its misfit is no larger than by this.</summary>
    private const double AsGood = 0.5;

    private readonly HashSet<int> touched = drawn.NetsOf(besides);

    /// <summary>For two pieces of metal, each pair of their wires; worked out once.</summary>
    private readonly Dictionary<(string A, string B), List<Placed>> fits = [];

    private readonly Dictionary<int, Altered> metals = [];

    private Altered? altered;

    /// <summary>Best places along the wires of the two pieces of metal that a bridge joins; none where the readings cannot say.</summary>
    /// <param name="most">So many are told.</param>
    /// <returns>Each with the logarithm of what finding the places costs: how narrow the fit is, as a share of both wires and of all pairs of wires. The few that are told stand for all that fit.</returns>
    internal IEnumerable<(ShortFault Fault, double LogWidth)> Between(ShortFault bridge, int most)
    {
        var all = Fits(bridge);
        if (all.Count == 0)
        {
            return [];
        }

        double Mass(Placed fit) => fit.Width * Math.Exp(-0.5 * (fit.Misfit - all[0].Misfit));
        var stand = Math.Log(all.Sum(Mass) / all.Take(most).Sum(Mass) / all.Count);
        return all.Take(most).Select(f => (f.Fault, Math.Log(f.Width) + stand));
    }

    /// <summary>The same for two nets.</summary>
    internal IEnumerable<(ShortFault Fault, double LogWidth)> Between(int a, int b, int most) => Between(new(AnyOf(a), AnyOf(b), 0), most);

    /// <summary>Each pair of wires of the pieces that a bridge joins, with the place along them that fits best; the best first.</summary>
    internal IEnumerable<ShortFault> Elsewhere(ShortFault bridge) => Fits(bridge).Select(f => f.Fault);

    /// <summary>Each pair of cavities on the pieces that a bridge joins, as far as they are tried, with how ill one between them fits.</summary>
    internal IEnumerable<(ProbePoint A, ProbePoint B, double Misfit)> Cavities(ShortFault bridge)
    {
        if (SidesOf(bridge) is not { } sides)
        {
            yield break;
        }

        var others = sides.B.Points.Take(MostCavities).Select(q => (q, Way: sides.B.To(q))).ToList();
        foreach (var p in sides.A.Points.Take(MostCavities))
        {
            var way = sides.A.To(p);
            foreach (var (q, far) in others)
            {
                yield return (p, q, sides.At(way, far).Misfit);
            }
        }
    }

    /// <summary>How well the places of a bridge between two wires are known, millimetres: one standard deviation along either.</summary>
    internal (double A, double B)? Spread(ShortFault bridge)
    {
        var (wire, other) = (drawn.Loom.FindWire(bridge.A), drawn.Loom.FindWire(bridge.B));
        return wire is null || other is null || Fits(bridge).Find(f => f.Fault.A == bridge.A && f.Fault.B == bridge.B) is not { } fit ? null : (fit.SdA * wire.LengthMm, fit.SdB * other.LengthMm);
    }

    /// <summary>The pieces of metal that a bridge joins, by name; null where both are one, or the loom does not have them.</summary>
    internal (string A, string B)? Pieces(ShortFault bridge) => PieceAt(bridge.A) is var (_, _, a) && PieceAt(bridge.B) is var (_, _, b) && a != b ? (a, b) : null;

    /// <summary>Whether a bridge joins pieces that the other faults leave as they are drawn.</summary>
    internal bool IsAsDrawn(ShortFault bridge) => PieceAt(bridge.A) is var (one, _, _) && PieceAt(bridge.B) is var (other, _, _) && one != altered && other != altered;

    private string AnyOf(int net) => drawn.SkeletonOf(net).NodeOf.First().Key;

    private List<Placed> Fits(ShortFault bridge)
    {
        if (Pieces(bridge) is not { } pieces)
        {
            return [];
        }

        if (!fits.TryGetValue(pieces, out var known))
        {
            fits.Add(pieces, known = SidesOf(bridge) is { } sides ? [.. AllFits(sides).OrderBy(f => f.Misfit)] : []);
        }

        return known;
    }

    private static IEnumerable<Placed> AllFits(Sides sides)
    {
        var rough = new List<Roughly>();
        var others = sides.B.Wires.ConvertAll(sides.B.Ways);
        for (var one = 0; one < sides.A.Wires.Count; one++)
        {
            var ways = sides.A.Ways(sides.A.Wires[one]);
            for (var other = 0; other < others.Count && rough.Count < MostTried; other++)
            {
                rough.Add(Rough(sides, one, ways, other, others[other]));
            }
        }

        var best = rough.Count == 0 ? 0 : rough.Min(r => r.Best.Misfit);
        return rough.OrderBy(r => r.Best.Misfit).Select((r, i) => Place(sides, r, i < MostPlaced && r.Best.Misfit < best + WorthPlacing ? Halvings : 0));
    }

    /// <summary>The best of a grid over both wires.</summary>
    private static Roughly Rough(Sides sides, int one, double[][] ways, int other, double[][] others)
    {
        var (misfits, best) = (new double[(Grid + 1) * (Grid + 1)], (T: 0.0, S: 0.0, Misfit: double.PositiveInfinity));
        for (var i = 0; i <= Grid; i++)
        {
            for (var j = 0; j <= Grid; j++)
            {
                var misfit = misfits[(i * (Grid + 1)) + j] = sides.At(ways[i], others[j]).Misfit;
                if (misfit < best.Misfit)
                {
                    best = ((double)i / Grid, (double)j / Grid, misfit);
                }
            }
        }

        var (all, t, s) = (0.0, 0.0, 0.0);
        for (var i = 0; i < misfits.Length; i++)
        {
            var fits = Math.Exp(-0.5 * Math.Min(1000, misfits[i] - best.Misfit));
            (all, t, s) = (all + fits, t + (fits * (i / (Grid + 1)) / Grid), s + (fits * (i % (Grid + 1)) / Grid));
        }

        return new(one, other, best, (t / all, s / all), all / misfits.Length);
    }

    private static Placed Place(Sides sides, Roughly rough, int halvings)
    {
        var (one, other) = (sides.A.Wires[rough.One], sides.B.Wires[rough.Other]);
        (double Misfit, double Ohm) At(double t, double s) => sides.At(sides.A.Way(one, t), sides.B.Way(other, s));
        var (best, step) = (rough.Best, 0.5 / Grid);
        for (var round = 0; round < halvings; round++)
        {
            var from = best;
            for (var i = -2; i <= 2; i++)
            {
                for (var j = -2; j <= 2; j++)
                {
                    var (t, s) = (Math.Clamp(from.T + (i * step), 0, 1), Math.Clamp(from.S + (j * step), 0, 1));
                    if (At(t, s).Misfit is var misfit && misfit < best.Misfit)
                    {
                        best = (t, s, misfit);
                    }
                }
            }

            step /= 2;
        }

        // Where a valley of places fits, the middle of it stands for them.
        if (At(rough.Middle.T, rough.Middle.S).Misfit is var middle && middle < best.Misfit + AsGood)
        {
            best = (rough.Middle.T, rough.Middle.S, middle);
        }

        // One standard deviation is where the misfit has grown by one.
        const double little = 0.02;
        double Sd(double low, double high) => little / Math.Sqrt(Math.Max(1e-9, (low + high - (2 * best.Misfit)) / 2));
        var fault = new ShortFault(one.Wire.Id, other.Wire.Id, At(best.T, best.S).Ohm) { AlongMm = [Math.Round(best.T * one.Wire.LengthMm), Math.Round(best.S * other.Wire.LengthMm)] };
        var (sdA, sdB) = (Sd(At(best.T - little, best.S).Misfit, At(best.T + little, best.S).Misfit), Sd(At(best.T, best.S - little).Misfit, At(best.T, best.S + little).Misfit));

        // Where a valley of places fits, the share of the grid that does; where one place does, its own width.
        var valley = rough.Fitting * Math.Exp(-0.5 * Math.Min(1000, rough.Best.Misfit - best.Misfit));
        return new(fault, best.Misfit, sdA, sdB, Math.Clamp(Math.Max(valley, 2 * Math.PI * Math.Clamp(sdA, 0, 0.4) * Math.Clamp(sdB, 0, 0.4)), 1e-6, 1));
    }

    /// <summary>The two pieces of metal that a bridge joins; null where they are one, or no reading leads from one to the other.</summary>
    private Sides? SidesOf(ShortFault bridge) =>
        Pieces(bridge) is not null && PieceAt(bridge.A) is var (one, p, _) && PieceAt(bridge.B) is var (other, q, _)
            ? Sides.Of(drawn, evidence, (one, p, LegsOn(one, p)), (other, q, LegsOn(other, q)))
            : null;

    /// <summary>The piece of metal that a cavity, a splice or a wire is part of, and its name.</summary>
    private (Altered Metal, int Piece, string Name)? PieceAt(string place)
    {
        var wire = drawn.Loom.FindWire(place);
        var net = wire is null ? drawn.Graph.NumberOf(place) : drawn.NetOfWire(wire);
        if (net is { } whole && !touched.Contains(whole))
        {
            return (MetalOf(whole), MetalOf(whole).PieceOf(AnyOf(whole)), string.Create(CultureInfo.InvariantCulture, $"net {whole}"));
        }

        var metal = Touched();
        var node = wire is null ? place : Legs(drawn.WiresOf(net!.Value)).FirstOrDefault(l => l.Wire.Id == wire.Id)?.From;
        return node is not null && metal.PieceOf(node) is var piece and >= 0 ? (metal, piece, string.Create(CultureInfo.InvariantCulture, $"piece {piece}")) : null;
    }

    /// <summary>Wires that are whole, and part of a piece of metal.</summary>
    private List<Leg> LegsOn(Altered metal, int piece) =>
        [.. (metal == altered ? Legs(metal.Nets.SelectMany(n => drawn.WiresOf(n))) : metal.Nets.SelectMany(n => drawn.WiresOf(n)).Select(w => new Leg(w, w.From.Text, w.To.Text))).Where(l => metal.PieceOf(l.From) == piece)];

    private IEnumerable<Leg> Legs(IEnumerable<Wire> wires) =>
        new BuiltLoom(drawn.Loom, besides, wires).Wires.Where(w => w.Pieces().ToList() is [{ Share: 1, AddedOhm: 0 }]).Select(w => new Leg(w.Drawn, w.From, w.To));

    /// <summary>What the other faults touch, as they leave it, its copper as it was measured.</summary>
    private Altered Touched() => altered ??= new Altered(MeasuredCopper.Of(drawn, evidence, new Altered(drawn, besides, touched)), besides, touched);

    /// <summary>A net that they do not touch.</summary>
    private Altered MetalOf(int net)
    {
        if (!metals.TryGetValue(net, out var known))
        {
            metals.Add(net, known = new Altered(MeasuredCopper.Of(drawn, evidence, drawn.AsDrawn(net)), [], new HashSet<int> { net }));
        }

        return known;
    }

    /// <summary>A wire as it came off the board.</summary>
    /// <param name="From">Name of the node that it begins at.</param>
    internal sealed record Leg(Wire Wire, string From, string To);

    /// <summary>Two wires on the grid.</summary>
    /// <param name="Best">The best place, as shares of either wire.</param>
    /// <param name="Middle">The mean of all places, each as well as it fits.</param>
    /// <param name="Fitting">What share of the grid fits as well.</param>
    private sealed record Roughly(int One, int Other, (double T, double S, double Misfit) Best, (double T, double S) Middle, double Fitting);

    /// <summary>The best places along two wires.</summary>
    /// <param name="SdA">One standard deviation along the first, as a share of it.</param>
    /// <param name="Width">What share of both wires fits as well.</param>
    private sealed record Placed(ShortFault Fault, double Misfit, double SdA, double SdB, double Width);

    /// <summary>Two pieces of metal and what was read from one to the other.</summary>
    private sealed record Sides(Side A, Side B, double[] Ohms, double[] Weights)
    {
        /// <summary>What the copper on a way is off by, squared ohms: somewhat less than a milliohm.</summary>
        private const double CopperVariance = 6e-7;

        /// <summary>Null where no reading leads from one to the other.</summary>
        internal static Sides? Of(DrawnLoom drawn, Evidence evidence, (Altered Metal, int Piece, List<Leg> Legs) a, (Altered Metal, int Piece, List<Leg> Legs) b)
        {
            var (onA, onB) = (PointsOn(a.Metal, a.Piece), PointsOn(b.Metal, b.Piece));
            if (onA.Count == 0 || onB.Count == 0)
            {
                return null;
            }

            var nets = onA.Concat(onB).Select(drawn.NetOf).Where(n => n >= 0).ToHashSet();
            var seen = evidence.Touching(nets, onA.Concat(onB).Where(p => drawn.NetOf(p) < 0)).Where(o => !o.Moved && Evidence.IsJoined(o));
            var values = seen.Select(o => (Seen: o, Ends: Through(o))).Where(v => v.Ends is not null).ToList();
            return values.Count == 0 ? null : new(
                new(a.Metal, onA, a.Legs, values.ConvertAll(v => v.Ends!.Value.A)),
                new(b.Metal, onB, b.Legs, values.ConvertAll(v => v.Ends!.Value.B)),
                [.. values.Select(v => v.Seen.Ohm!.Value - evidence.LeadsOf(v.Seen))],
                [.. values.Select(v => 1 / (Math.Pow(evidence.Noise(v.Seen), 2) + CopperVariance))]);

            // The places that a reading joins on either piece; null for one that does not lead through the bridge.
            (ImmutableArray<ProbePoint> A, ImmutableArray<ProbePoint> B)? Through(Observation o)
            {
                var own = o.A.Select(drawn.NetOf).ToHashSet();
                bool IsFar(ProbePoint p) => o.B is { } far ? far.Contains(p) : drawn.NetOf(p) is var net && net >= 0 && !own.Contains(net);
                ImmutableArray<ProbePoint> On(HashSet<ProbePoint> piece, Func<ProbePoint, bool> side) => [.. piece.Where(side)];
                var (nearA, farA, nearB, farB) = (On(onA, o.A.Contains), On(onA, IsFar), On(onB, o.A.Contains), On(onB, IsFar));
                return nearA.IsEmpty && !farA.IsEmpty && !nearB.IsEmpty && farB.IsEmpty ? (farA, nearB)
                    : !nearA.IsEmpty && farA.IsEmpty && nearB.IsEmpty && !farB.IsEmpty ? (nearA, farB)
                    : null;
            }
        }

        /// <summary>With the ways on either side: how ill the best bridge fits, and its ohms.</summary>
        internal (double Misfit, double Ohm) At(double[] a, double[] b)
        {
            var (weights, sum, squares) = (0.0, 0.0, 0.0);
            for (var i = 0; i < Ohms.Length; i++)
            {
                var (rest, weight) = (Ohms[i] - a[i] - b[i], Weights[i]);
                (weights, sum, squares) = (weights + weight, sum + (weight * rest), squares + (weight * rest * rest));
            }

            var ohm = Math.Max(0, sum / weights);
            return (squares - (2 * ohm * sum) + (ohm * ohm * weights), ohm);
        }

        private static HashSet<ProbePoint> PointsOn(Altered metal, int piece) => [.. metal.Points.Where(p => metal.PieceOf(p) == piece)];
    }

    /// <summary>One of the two pieces.</summary>
    /// <param name="at">For each reading, the places that it joins here.</param>
    private sealed class Side(Altered metal, HashSet<ProbePoint> points, List<Leg> wires, List<ImmutableArray<ProbePoint>> at)
    {
        private readonly List<(string At, Func<string, string, double> Ohms)> from = Froms(metal, at);
        private readonly Dictionary<string, (double Whole, double[] Near, double[] Far, double[] Across)> known = new(StringComparer.Ordinal);

        internal IReadOnlyCollection<ProbePoint> Points => points;

        internal List<Leg> Wires => wires;

        /// <summary>For each reading: ohms to a cavity.</summary>
        internal double[] To(ProbePoint point) => [.. from.Select(f => f.Ohms(f.At, point.ToString()))];

        /// <summary>For each reading: ohms to a place along a wire.</summary>
        internal double[] Way(Leg leg, double t)
        {
            var (whole, near, far, across) = Of(leg);
            var way = new double[near.Length];
            for (var i = 0; i < way.Length; i++)
            {
                way[i] = ((1 - t) * near[i]) + (t * far[i]) + (t * (1 - t) * (whole - across[i]));
            }

            return way;
        }

        /// <summary>The same for all places of the grid.</summary>
        internal double[][] Ways(Leg leg) => [.. Enumerable.Range(0, Grid + 1).Select(i => Way(leg, (double)i / Grid))];

        private (double Whole, double[] Near, double[] Far, double[] Across) Of(Leg leg)
        {
            if (!known.TryGetValue(leg.Wire.Id, out var ways))
            {
                known.Add(leg.Wire.Id, ways = (metal.Whole(leg.Wire), [.. from.Select(f => f.Ohms(f.At, leg.From))], [.. from.Select(f => f.Ohms(f.At, leg.To))], [.. from.Select(f => f.Ohms(leg.From, leg.To))]));
            }

            return ways;
        }

        private static List<(string At, Func<string, string, double> Ohms)> Froms(Altered metal, List<ImmutableArray<ProbePoint>> at)
        {
            var joined = new Dictionary<string, Func<string, string, double>>(StringComparer.Ordinal);
            return at.ConvertAll<(string, Func<string, string, double>)>(points =>
            {
                if (points.Length == 1)
                {
                    return (points[0].ToString(), (a, b) => metal.Ohms(a, b) ?? 0);
                }

                var key = string.Join(' ', points);
                if (!joined.TryGetValue(key, out var ohms))
                {
                    joined.Add(key, ohms = metal.WithJoined(points));
                }

                return (points[0].ToString(), ohms);
            });
        }
    }
}
