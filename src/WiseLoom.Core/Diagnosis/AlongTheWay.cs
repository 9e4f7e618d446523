using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Where along two wires metal joins them, from readings through it at both ends (the loop method).</summary>
/// <remarks>
/// With t the share of the ohms of a wire of ρ between nodes u and v of a piece of metal, a point x of the piece reads
/// (1−t)·R(x,u) + t·R(x,v) + t(1−t)·(ρ − R(u,v)) to that place. A reading through the bridge is such a way on either side and the bridge between them; places and
/// bridge are fitted to all of them by least squares, on a grid that is halved around its best. The copper is what the other readings show it to be. What else is
/// wrong leaves the loom in which the bridge lies. May be asked by several at once.
/// </remarks>
internal sealed class AlongTheWay
{
    /// <summary>Pairs of wires that are tried, and that are placed as well as may be.</summary>
    private const int MostTried = 1500, MostPlaced = 150;

    /// <summary>Cavities of either piece that are tried.</summary>
    private const int MostCavities = 150;

    /// <summary>Those that fit worse than the best by this much are placed roughly.</summary>
    private const double WorthPlacing = 40;

    /// <summary>Those that fit worse by this much are not placed at all, beyond the first few.</summary>
    private const double Hopeless = 100;

    private const int LeastPlaced = 50;

    private const int Halvings = 6;

    /// <summary>So many places of either wire are tried around the best, each time half as far apart.</summary>
    private const int Around = 5;

    /// <summary>A place fits as well as the best when its misfit is no larger than by this.</summary>
    private const double AsGood = 0.5;

    private readonly DrawnLoom drawn;
    private readonly Evidence evidence;
    private readonly HashSet<int> touched;

    /// <summary>What was worked out of two pieces of metal; the same two are asked for again and again.</summary>
    private readonly ConcurrentDictionary<(string A, string B), Joined> joined = [];

    /// <summary>Nets that the other faults do not touch.</summary>
    private readonly ConcurrentDictionary<int, Lazy<Altered>> metals = [];

    /// <summary>What they touch, as they leave it, with the copper of the drawing: enough to tell the pieces.</summary>
    private readonly Lazy<Altered> laid;

    /// <summary>The same, its copper as it was measured.</summary>
    private readonly Lazy<Altered> altered;

    /// <summary>What conducts of the wires of the nets that they touch.</summary>
    private readonly Lazy<ILookup<int, Leg>> legs;

    internal AlongTheWay(DrawnLoom drawn, Evidence evidence, ImmutableArray<Fault> besides)
    {
        (this.drawn, this.evidence, touched) = (drawn, evidence, drawn.NetsOf(besides));
        laid = new(() => new Altered(drawn, besides, touched));
        legs = new(() => new BuiltLoom(drawn.Loom, besides, touched.SelectMany(n => drawn.WiresOf(n))).Wires.SelectMany(w => Leg.Of(drawn.Loom, w)).ToLookup(l => drawn.PlaceOf(l.Wire.Id)));
        altered = new(() => new Altered(MeasuredCopper.Of(drawn, evidence, laid.Value), besides, touched));
    }

    /// <summary>Best places along the wires of the two pieces of metal that a bridge joins; none where the readings cannot say.</summary>
    /// <param name="most">So many are told.</param>
    /// <returns>Each with the logarithm of what finding the places costs: how narrow the fit is, as a share of both wires and of all pairs of wires. The few that are told stand for all that fit. Where it lies on a
    /// wire that is poor besides, with the end that the poor joint must be at; and how ill it fits.</returns>
    internal IEnumerable<(ShortFault Fault, double LogWidth, string? PoorEnd, double Misfit)> Between(ShortFault bridge, int most)
    {
        var (all, tried) = JoinedBy(bridge)?.Fits ?? default;
        if (tried == 0)
        {
            return [];
        }

        double Mass(Placed fit) => fit.Width * Math.Exp(-0.5 * (fit.Misfit - all[0].Misfit));
        var stand = Math.Log(all.Sum(Mass) / all.Take(most).Sum(Mass) / tried);
        return all.Take(most).Select(f => (f.Fault, Math.Log(f.Width) + stand, f.PoorEnd, f.Misfit));
    }

    /// <summary>The same for two nets.</summary>
    internal IEnumerable<(ShortFault Fault, double LogWidth, string? PoorEnd, double Misfit)> Between(int a, int b, int most) => Between(new(AnyOf(a), AnyOf(b), 0), most);

    /// <summary>Pairs of wires of the pieces that a bridge joins, with the place along them that fits best; the best first, and none that is hopeless.</summary>
    internal IEnumerable<ShortFault> Elsewhere(ShortFault bridge) => JoinedBy(bridge)?.Fits.Placed.Select(f => f.Fault) ?? [];

    /// <summary>Of the pairs of cavities on the pieces that a bridge joins, as far as they are tried, the likeliest by how ill one between them fits and how likely it is before.</summary>
    /// <param name="most">So many are told.</param>
    /// <param name="prior">How likely one between two cavities is before anything is read; a logarithm.</param>
    /// <param name="likeliest">The most that it is.</param>
    /// <returns>The likeliest first.</returns>
    internal List<(ProbePoint A, ProbePoint B, double Prior, double Misfit)> Cavities(ShortFault bridge, int most, Func<ProbePoint, ProbePoint, double> prior, double likeliest)
    {
        var found = new List<(ProbePoint A, ProbePoint B, double Prior, double Misfit)>(most + 1);
        if (JoinedBy(bridge)?.Sides is not { } sides)
        {
            return found;
        }

        var others = sides.B.Places.Take(MostCavities).Select(q => (q, Way: sides.OnB(q))).ToList();
        foreach (var p in sides.A.Places.Take(MostCavities))
        {
            var way = sides.OnA(p);
            foreach (var (q, far) in others)
            {
                var misfit = sides.MisfitAt(way, far);
                if (found.Count == most && likeliest - (0.5 * misfit) <= Worth(found[^1]))
                {
                    continue;
                }

                var one = (p.Point, q.Point, Prior: prior(p.Point, q.Point), Misfit: misfit);
                var at = found.FindIndex(f => Worth(f) < Worth(one));
                found.Insert(at < 0 ? found.Count : at, one);
                if (found.Count > most)
                {
                    found.RemoveAt(most);
                }
            }
        }

        return found;

        static double Worth((ProbePoint, ProbePoint, double Prior, double Misfit) of) => of.Prior - (0.5 * of.Misfit);
    }

    /// <summary>How well the places of a bridge between two wires are known, millimetres: one standard deviation along either.</summary>
    internal (double A, double B)? Spread(ShortFault bridge) => JoinedBy(bridge)?.Fits.Placed.Find(f => f.Fault.A == bridge.A && f.Fault.B == bridge.B) is { } fit ? (fit.MmA, fit.MmB) : null;

    /// <summary>The pieces of metal that a bridge joins, by name; null where both are one, or the loom does not have them.</summary>
    internal (string A, string B)? Pieces(ShortFault bridge) => PieceAt(bridge.A) is { } a && PieceAt(bridge.B) is { } b && a != b ? (a.Name, b.Name) : null;

    /// <summary>Whether a bridge joins pieces that the other faults leave as they are drawn.</summary>
    internal bool IsAsDrawn(ShortFault bridge) => PieceAt(bridge.A) is { IsTouched: false } && PieceAt(bridge.B) is { IsTouched: false };

    private string AnyOf(int net) => drawn.SkeletonOf(net).NodeOf.First().Key;

    private Joined? JoinedBy(ShortFault bridge) => Pieces(bridge) is { } pieces ? joined.GetOrAdd(pieces, _ => new(() => SidesOf(bridge))) : null;

    private static (List<Placed> Placed, int Tried) Fits(BridgedPieces sides)
    {
        var rough = new List<GriddedPair>();
        var others = sides.B.Wires.ConvertAll(w => new GriddedWire(sides.B, w, sides.OnB(w)));
        for (var one = 0; one < sides.A.Wires.Count && rough.Count < MostTried; one++)
        {
            var wire = new GriddedWire(sides.A, sides.A.Wires[one], sides.OnA(sides.A.Wires[one]));
            for (var other = 0; other < others.Count && rough.Count < MostTried; other++)
            {
                rough.Add(new(wire, others[other], sides.Cross(wire.Course, others[other].Course)));
            }
        }

        var best = rough.Count == 0 ? 0 : rough.Min(r => r.Best.Misfit);
        var placed = rough.OrderBy(r => r.Best.Misfit).TakeWhile((r, i) => i < LeastPlaced || r.Best.Misfit < best + Hopeless)
            .Select((r, i) => Place(sides, r, i < MostPlaced && r.Best.Misfit < best + WorthPlacing ? Halvings : 0));
        return ([.. placed.OrderBy(f => f.Misfit)], rough.Count);
    }

    private static Placed Place(BridgedPieces sides, GriddedPair rough, int halvings)
    {
        var (one, other, (middleT, middleS, fitting)) = (rough.One.Leg, rough.Other.Leg, rough.Around());
        var (wholeOne, wholeOther) = (sides.A.Whole(one), sides.B.Whole(other));
        (double Misfit, double Ohm) At(double t, double s) => rough.Crossing.At(one.PlaceAt(t, wholeOne).Share, other.PlaceAt(s, wholeOther).Share);
        var (best, step) = (rough.Best, 0.5 / GriddedWire.Steps);
        Span<double> alongOne = stackalloc double[Around], alongOther = stackalloc double[Around];
        for (var round = 0; round < halvings; round++)
        {
            for (var i = 0; i < Around; i++)
            {
                var more = (i - (Around / 2)) * step;
                (alongOne[i], alongOther[i]) = (Math.Clamp(best.T + more, 0, 1), Math.Clamp(best.S + more, 0, 1));
            }

            var found = rough.Crossing.Best(new(sides.A, one, rough.One.Course, alongOne), new(sides.B, other, rough.Other.Course, alongOther));
            best = found.Misfit < best.Misfit ? (alongOne[found.I], alongOther[found.J], found.Misfit) : best;
            step /= 2;
        }

        // Where a valley of places fits, the middle of it stands for them.
        if (At(middleT, middleS).Misfit is var middle && middle < best.Misfit + AsGood)
        {
            best = (middleT, middleS, middle);
        }

        // One standard deviation is where the misfit has grown by one.
        const double little = 0.02;
        double Sd(double low, double high) => little / Math.Sqrt(Math.Max(1e-9, (low + high - (2 * best.Misfit)) / 2));
        var (onOne, onOther) = (one.PlaceAt(best.T, wholeOne), other.PlaceAt(best.S, wholeOther));
        var fault = new ShortFault(one.Wire.Id, other.Wire.Id, At(best.T, best.S).Ohm) { AlongMm = [Math.Round(onOne.Mm), Math.Round(onOther.Mm)] };
        var (sdA, sdB) = (Sd(At(best.T - little, best.S).Misfit, At(best.T + little, best.S).Misfit), Sd(At(best.T, best.S - little).Misfit, At(best.T, best.S + little).Misfit));

        // Where a valley of places fits, the share of the grid that does; where one place does, its own width.
        var valley = fitting * Math.Exp(-0.5 * Math.Min(1000, rough.Best.Misfit - best.Misfit));
        return new(fault, onOne.PoorEnd ?? onOther.PoorEnd, best.Misfit, sdA * onOne.PerT, sdB * onOther.PerT, Math.Clamp(Math.Max(valley, 2 * Math.PI * Math.Clamp(sdA, 0, 0.4) * Math.Clamp(sdB, 0, 0.4)), 1e-6, 1));
    }

    /// <summary>The two pieces of metal that a bridge joins; null where they are one, or no reading leads from one to the other.</summary>
    private BridgedPieces? SidesOf(ShortFault bridge) =>
        PieceAt(bridge.A) is { } one && PieceAt(bridge.B) is { } other && one != other ? BridgedPieces.Of(evidence, MetalOf(one), MetalOf(other)) : null;

    /// <summary>The piece of metal that a cavity, a splice or a wire is part of.</summary>
    private Piece? PieceAt(string place)
    {
        var wire = drawn.Loom.FindWire(place);
        var net = wire is null ? drawn.Graph.NumberOf(place) : drawn.NetOfWire(wire);
        if (net is { } whole && !touched.Contains(whole))
        {
            return new(false, whole);
        }

        var node = wire is null ? place : legs.Value[drawn.PlaceOf(wire.Id)].FirstOrDefault()?.From;
        return node is not null && laid.Value.PieceOf(node) is var piece and >= 0 ? new(true, piece) : null;
    }

    /// <summary>A piece as it was measured, and what conducts of wires and is part of it.</summary>
    private (Altered Metal, int Piece, List<Leg> Legs) MetalOf(Piece piece)
    {
        if (piece.IsTouched)
        {
            var metal = altered.Value;
            return (metal, piece.Number, [.. legs.Value.SelectMany(l => l).Where(l => metal.PieceOf(l.From) == piece.Number)]);
        }

        var own = metals.GetOrAdd(piece.Number, net => new(() => new Altered(MeasuredCopper.Of(drawn, evidence, drawn.AsDrawn(net)), [], new HashSet<int> { net }))).Value;
        return (own, own.PieceOf(AnyOf(piece.Number)), [.. drawn.WiresOf(piece.Number).Select(w => new Leg(w, w.From.Text, w.To.Text, OhmsAlong.Of(drawn.Loom, w)))]);
    }

    /// <summary>A piece of metal: a net as it is drawn, or one of those that the other faults leave of what they touch.</summary>
    private readonly record struct Piece(bool IsTouched, int Number)
    {
        internal string Name => string.Create(CultureInfo.InvariantCulture, $"{(IsTouched ? "piece" : "net")} {Number}");
    }

    /// <summary>Two pieces of metal and the places of a bridge between them.</summary>
    private sealed class Joined
    {
        private readonly Lazy<BridgedPieces?> sides;
        private readonly Lazy<(List<Placed> Placed, int Tried)> fits;

        internal Joined(Func<BridgedPieces?> of)
        {
            sides = new(of);
            fits = new(() => sides.Value is { } both ? AlongTheWay.Fits(both) : ([], 0));
        }

        /// <summary>Null where no reading leads from one to the other.</summary>
        internal BridgedPieces? Sides => sides.Value;

        /// <summary>Pairs of their wires, the best first, without those that are hopeless; and how many were tried.</summary>
        internal (List<Placed> Placed, int Tried) Fits => fits.Value;
    }

    /// <summary>The best places along two wires.</summary>
    /// <param name="PoorEnd">The end that a poor joint in either of them must be at then.</param>
    /// <param name="MmA">One standard deviation along the first, millimetres.</param>
    /// <param name="Width">What share of both wires fits as well.</param>
    private sealed record Placed(ShortFault Fault, string? PoorEnd, double Misfit, double MmA, double MmB, double Width);
}
