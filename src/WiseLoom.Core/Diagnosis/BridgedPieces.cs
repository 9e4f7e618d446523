using System.Numerics.Tensors;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Two pieces of metal and what was read from one to the other.</summary>
internal sealed class BridgedPieces
{
    /// <summary>What the copper on a way is off by, squared ohms: somewhat less than a milliohm.</summary>
    private const double CopperVariance = 6e-7;

    private readonly double[] ohms;

    /// <summary>Of each reading the inverse of its standard deviation; and the sum of their squares.</summary>
    private readonly double[] roots;
    private readonly double weights;

    private BridgedPieces(Side a, Side b, double[] ohms, double[] variances)
    {
        (A, B, this.ohms) = (a, b, ohms);
        roots = [.. variances.Select(v => 1 / Math.Sqrt(v))];
        weights = TensorPrimitives.Dot<double>(roots, roots);
    }

    internal Side A { get; }

    internal Side B { get; }

    /// <summary>Null where no reading leads from one to the other.</summary>
    internal static BridgedPieces? Of(Evidence evidence, (Altered Metal, int Piece, List<Leg> Legs) a, (Altered Metal, int Piece, List<Leg> Legs) b)
    {
        List<Place> onA = [.. a.Metal.PlacesOn(a.Piece)], onB = [.. b.Metal.PlacesOn(b.Piece)];
        if (onA.Count == 0 || onB.Count == 0)
        {
            return null;
        }

        var all = onA.Concat(onB).ToList();
        var seen = evidence.Touching(all.Where(p => p.Spot.Net >= 0).Select(p => p.Spot.Net).ToHashSet(), all.Where(p => p.Spot.Net < 0).Select(p => p.Point).Distinct());
        var values = seen.Where(r => !r.Seen.Moved && Evidence.IsJoined(r.Seen)).Select(r => (r.Seen, Ends: Through(r))).Where(v => v.Ends is not null).ToList();
        return values.Count == 0 ? null : new(
            new(a.Metal, onA, a.Legs, values.ConvertAll(v => v.Ends!.Value.A)),
            new(b.Metal, onB, b.Legs, values.ConvertAll(v => v.Ends!.Value.B)),
            [.. values.Select(v => v.Seen.Ohm!.Value - evidence.LeadsOf(v.Seen))],
            [.. values.Select(v => Math.Pow(evidence.Noise(v.Seen), 2) + CopperVariance)]);

        // The nodes that a reading joins on either piece; null for one that does not lead through the bridge.
        (int[] A, int[] B)? Through(Located r)
        {
            var (nearA, nearB) = (On(a, r.A), On(b, r.A));
            if (nearA.Length == 0 == (nearB.Length == 0))
            {
                return null;
            }

            var (farA, farB) = r.B is { } far ? (On(a, far), On(b, far)) : (But(onA, r.Own), But(onB, r.Own));
            return nearA.Length == 0 ? farA.Length > 0 && farB.Length == 0 ? (farA, nearB) : null : farA.Length == 0 && farB.Length > 0 ? (nearA, farB) : null;
        }

        static int[] On((Altered Metal, int Piece, List<Leg> Legs) side, Spot[] spots)
        {
            List<int>? on = null;
            foreach (var spot in spots)
            {
                if (side.Metal.Node(spot) is var node and >= 0 && side.Metal.PieceAt(node) == side.Piece && on?.Contains(node) != true)
                {
                    (on ??= []).Add(node);
                }
            }

            return on is null ? [] : [.. on];
        }

        // Of what is held against all other nets.
        static int[] But(List<Place> places, HashSet<int> own) => [.. places.Where(p => p.Spot.Net >= 0 && !own.Contains(p.Spot.Net)).Select(p => p.Node)];
    }

    /// <summary>What the readings leave for the bridge and the way on the second piece, when the way on the first leads to a cavity.</summary>
    internal Way OnA(Place cavity)
    {
        var left = A.To(cavity);
        TensorPrimitives.Subtract(ohms, left, left);
        return Weighted(left);
    }

    /// <summary>The way on the second piece to a cavity.</summary>
    internal Way OnB(Place cavity) => Weighted(B.To(cavity));

    /// <summary>What is left when the way on the first piece leads to places along a wire.</summary>
    internal Course OnA(Leg leg)
    {
        var powers = A.Powers(leg);
        TensorPrimitives.Negate(powers[1], powers[1]);
        TensorPrimitives.Negate(powers[2], powers[2]);
        TensorPrimitives.Subtract(ohms, powers[0], powers[0]);
        return Weighted(powers);
    }

    /// <summary>The way on the second piece to places along a wire.</summary>
    internal Course OnB(Leg leg) => Weighted(B.Powers(leg));

    private Way Weighted(double[] each)
    {
        TensorPrimitives.Multiply(each, roots, each);
        return new(each, TensorPrimitives.Dot<double>(each, roots), TensorPrimitives.Dot<double>(each, each));
    }

    private Course Weighted(double[][] powers)
    {
        foreach (var each in powers)
        {
            TensorPrimitives.Multiply(each, roots, each);
        }

        return new(powers, roots);
    }

    /// <summary>With the ways on either side: how ill the best bridge fits.</summary>
    internal double MisfitAt(Way a, Way b) => Left(a.Square + b.Square - (2 * TensorPrimitives.Dot<double>(a.Each, b.Each)), a.Sum - b.Sum, weights).Misfit;

    /// <summary>A bridge anywhere between two wires.</summary>
    internal Crossing Cross(Course a, Course b) => new(a, b, weights);

    /// <summary>The squares that the best bridge leaves, and its ohms.</summary>
    /// <remarks>With x what is left for bridge and far way, y the far way, both in standard deviations, the squares without a bridge are |x|² − 2x·y + |y|²: many places are tried against each other.</remarks>
    /// <param name="squares">Without a bridge.</param>
    /// <param name="sum">What is left for it by all readings, each by its weight.</param>
    /// <param name="weights">All readings' weights, together.</param>
    internal static (double Misfit, double Ohm) Left(double squares, double sum, double weights)
    {
        var ohm = Math.Max(0, sum / weights);
        return (Math.Max(0, squares - (ohm * Math.Max(0, sum))), ohm);
    }

    /// <summary>Ohms to a place by each reading, in its standard deviations.</summary>
    /// <param name="Sum">Each by its weight, together.</param>
    /// <param name="Square">Their squares, together.</param>
    internal readonly record struct Way(double[] Each, double Sum, double Square);
}

/// <summary>One of the two pieces.</summary>
/// <param name="at">For each reading, the nodes that it joins here.</param>
internal sealed class Side(Altered metal, List<Place> places, List<Leg> wires, List<int[]> at)
{
    private readonly List<(int At, Func<int, int, double> Ohms)> from = Froms(metal, at);

    internal List<Place> Places => places;

    internal List<Leg> Wires => wires;

    /// <summary>For each reading: ohms to a cavity.</summary>
    internal double[] To(Place cavity) => [.. from.Select(f => f.Ohms(f.At, cavity.Node))];

    /// <summary>For each reading: ohms to a place along a wire, by rising powers of the share of its ohms before the place.</summary>
    internal double[][] Powers(Leg leg)
    {
        var (whole, first, second) = (leg.Ohms(Whole(leg)), new double[from.Count], new double[from.Count]);
        var (begins, ends, near) = (metal.Node(leg.From), metal.Node(leg.To), new double[from.Count]);
        for (var i = 0; i < near.Length; i++)
        {
            var (at, ohms) = from[i];
            var (to, far, around) = (ohms(at, begins), ohms(at, ends), whole - ohms(begins, ends));
            (near[i], first[i], second[i]) = (to, far - to + around, -around);
        }

        return [near, first, second];
    }

    /// <summary>Ohms of the whole wire that one is of, without its poor joints.</summary>
    internal double Whole(Leg leg) => metal.Whole(leg.Wire);

    private static List<(int At, Func<int, int, double> Ohms)> Froms(Altered metal, List<int[]> at)
    {
        var joined = new Dictionary<string, Func<int, int, double>>(StringComparer.Ordinal);
        return at.ConvertAll<(int, Func<int, int, double>)>(nodes =>
        {
            if (nodes.Length == 1)
            {
                return (nodes[0], (a, b) => metal.Ohms(a, b) ?? 0);
            }

            var key = string.Join(' ', nodes);
            if (!joined.TryGetValue(key, out var ohms))
            {
                joined.Add(key, ohms = metal.WithJoined(nodes));
            }

            return (nodes[0], ohms);
        });
    }
}
