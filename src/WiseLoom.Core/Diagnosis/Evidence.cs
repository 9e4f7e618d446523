using System.Collections.Immutable;
using System.Numerics.Tensors;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>All readings so far, and how well a supposition explains them.</summary>
/// <remarks>Readings of untouched nets are as likely under every supposition, so each is only held against those of the nets that it touches, and against the
/// loom as drawn for the same.</remarks>
internal sealed class Evidence
{
    /// <summary>A reading that says joined where nothing joins, or apart where metal does: one in e⁶⁰ of them.</summary>
    internal const double Impossible = -60;

    /// <summary>A value that nothing explains still says joined: never worse than a reading that says the contrary.</summary>
    private const double WrongValue = -45;

    /// <summary>Beyond this many readings of one net copper is taken as if each pair had its own.</summary>
    private const int MostTogether = 200;

    /// <summary>How a reading is spread within the meter's worst case: one standard deviation as a share of it.</summary>
    private const double NoiseShare = 0.45;

    /// <summary>Readings further off than this many standard deviations ask for an explanation.</summary>
    internal const double Suspicious = 4;

    /// <summary>Logarithms: something loose that was moved and did not break; something sound that broke.</summary>
    private const double SeldomStill = -1.6, SeldomBreaks = -12;

    private readonly DrawnLoom drawn;
    private readonly Meter meter;
    private readonly Dictionary<int, List<Observation>> ofNet = [];
    private readonly Dictionary<ProbePoint, List<Observation>> ofEmpty = [];
    private readonly List<Observation> all = [];
    private readonly Dictionary<Observation, Predicted?> asDrawn = new(ReferenceEqualityComparer.Instance);
    private readonly Dictionary<string, double> drawnScores = new(StringComparer.Ordinal);

    internal Evidence(DrawnLoom drawn, Meter meter, IEnumerable<Observation> observations)
    {
        this.drawn = drawn;
        this.meter = meter;
        foreach (var seen in observations)
        {
            all.Add(seen);
            foreach (var point in seen.A.Concat(seen.B ?? []).Distinct())
            {
                if (drawn.NetOf(point) is var net and >= 0)
                {
                    Add(ofNet, net, seen);
                }
                else
                {
                    Add(ofEmpty, point, seen);
                }
            }
        }

        LeadOhms = Leads();
    }

    internal IReadOnlyList<Observation> All => all;

    internal Meter Meter => meter;

    /// <summary>What the leads seem to add to every reading, ohms.</summary>
    internal double LeadOhms { get; }

    /// <summary>Readings that touch some drawn nets, or cavities without a wire.</summary>
    internal IReadOnlyCollection<Observation> Touching(IEnumerable<int> nets, IEnumerable<ProbePoint> empties)
    {
        var found = new HashSet<Observation>(ReferenceEqualityComparer.Instance);
        foreach (var net in nets)
        {
            found.UnionWith(ofNet.GetValueOrDefault(net, []));
        }

        foreach (var point in empties)
        {
            found.UnionWith(ofEmpty.GetValueOrDefault(point, []));
        }

        return found;
    }

    /// <summary>Whether a net was held against all others and stood apart.</summary>
    internal bool StoodApart(int net) => ofNet.GetValueOrDefault(net, []).Exists(o => o is { B: null, Ohm: null, Moved: false } && o.A.All(p => drawn.NetOf(p) == net));

    /// <summary>How much more likely what was read is with some faults than with the loom as drawn; a logarithm.</summary>
    /// <param name="loose">Places of wires that open while they are moved.</param>
    internal double Gain(Altered altered, IReadOnlyCollection<int> loose)
    {
        var seen = Touching(altered.Nets, altered.Filled);

        return Score(seen, altered, loose) - DrawnScore(seen, altered.Nets);
    }

    /// <summary>What says joined and apart wrongly more often than the drawing does is out, whatever its values.</summary>
    /// <returns>How much less likely it is; null when it is not out.</returns>
    internal double? Denied(Altered altered) => Denied(Touching(altered.Nets, altered.Filled), o => WouldJoin(o, altered));

    /// <summary>Whether contacts that stand elsewhere say joined and apart wrongly more often than the drawing does: by which nets the cavities then hold, without laying out any metal.</summary>
    /// <returns>How much less likely it is; null when it is not out.</returns>
    internal double? Denied(CavityFault fault)
    {
        var moved = new MovedContacts(drawn, fault);
        return Denied(Touching(moved.Nets, moved.Empty), moved.Joins);
    }

    private double? Denied(IReadOnlyCollection<Observation> seen, Func<Observation, bool> joins)
    {
        var (wrong, wrongAsDrawn) = (seen.Count(o => Denies(o, joins(o))), seen.Count(o => Denies(o, WouldJoin(o, null))));
        return wrong > wrongAsDrawn || (wrong == wrongAsDrawn && wrong > 0) ? Impossible * (1 + wrong - wrongAsDrawn) : null;
    }

    /// <summary>How well a bridge between two cavities of different nets explains the values read through it: the two nets as drawn with its ohms between, fitted; a logarithm without its constant.</summary>
    internal double Bridged(IReadOnlyCollection<Observation> touching, ProbePoint p, ProbePoint q)
    {
        var (one, other) = (drawn.NetOf(p), drawn.NetOf(q));
        var (a, b) = (drawn.AsDrawn(one), drawn.AsDrawn(other));
        var (weights, sum, squares) = (0.0, 0.0, 0.0);
        foreach (var seen in touching)
        {
            if (seen.Moved || !IsJoined(seen) || seen.A is not [var x] || seen.B is { Length: > 1 })
            {
                continue;
            }

            var far = seen.B is [var y] ? y : (ProbePoint?)null;
            var on = drawn.NetOf(x);
            var way = on == one ? a.Ohms(x, p) + (far is null ? 0 : b.Ohms(far.Value, q)) : on == other ? b.Ohms(x, q) + (far is null ? 0 : a.Ohms(far.Value, p)) : null;
            if (way is not { } ohms)
            {
                continue;
            }

            var rest = seen.Ohm!.Value - LeadsOf(seen) - ohms;
            var weight = 1 / (Square(Noise(seen)) + Square(0.06 * ohms) + 1e-9);
            (weights, sum, squares) = (weights + weight, sum + (weight * rest), squares + (weight * rest * rest));
        }

        var fitted = weights > 0 ? Math.Max(0, sum / weights) : 0;
        return -0.5 * (squares - (2 * fitted * sum) + (fitted * fitted * weights));
    }

    /// <summary>What a reading would be with some faults; null for apart.</summary>
    internal Predicted? Predict(Observation seen, Altered altered)
    {
        var (a, far) = Ends(seen, altered);
        var within = a.Count > 0 && far.Count > 0 ? altered.Between(a, far) : null;
        if (within is not null || seen.B is not { } b)
        {
            return within;
        }

        // Untouched nets join as drawn.
        var outside = seen.A.Where(p => !altered.Has(p)).ToLookup(drawn.NetOf);
        return b.Where(p => !altered.Has(p)).GroupBy(drawn.NetOf).Where(g => g.Key >= 0 && outside.Contains(g.Key))
            .Select(g => drawn.AsDrawn(g.Key).Between([.. outside[g.Key]], [.. g])).FirstOrDefault();
    }

    /// <summary>The places of altered nets that a reading joins on either side.</summary>
    internal (List<ProbePoint> A, List<ProbePoint> B) Ends(Observation seen, Altered altered)
    {
        var own = seen.B is null ? seen.A.Select(drawn.NetOf).ToHashSet() : [];
        return ([.. seen.A.Where(altered.Has)], seen.B is { } far ? [.. far.Where(altered.Has)] : [.. altered.Points.Where(p => drawn.NetOf(p) is var net && net >= 0 && !own.Contains(net))]);
    }

    /// <summary>What a reading would be with the loom as drawn; null for apart.</summary>
    internal Predicted? AsDrawn(Observation seen)
    {
        if (!asDrawn.TryGetValue(seen, out var known))
        {
            asDrawn.Add(seen, known = OfDrawn(seen));
        }

        return known;
    }

    private Predicted? OfDrawn(Observation seen)
    {
        if (seen.B is not { } b)
        {
            return null;
        }

        if (seen.A.Length == 1 && b.Length == 1)
        {
            return drawn.NetOf(seen.A[0]) is var net && net >= 0 && drawn.NetOf(b[0]) == net ? drawn.AsDrawn(net).Between(seen.A, b) : null;
        }

        var a = seen.A.ToLookup(drawn.NetOf);
        return b.GroupBy(drawn.NetOf).Where(g => g.Key >= 0 && a.Contains(g.Key)).Select(g => drawn.AsDrawn(g.Key).Between([.. a[g.Key]], [.. g])).FirstOrDefault();
    }

    /// <summary>Whether metal was found, as far as this meter goes.</summary>
    internal static bool IsJoined(Observation seen) => seen.Ohm is { } ohm && ohm < Limits.ApartOhms;

    /// <summary>Whether a reading says joined where a prediction says apart, or the other way round.</summary>
    internal bool Contradicts(Observation seen, Predicted? predicted) => !seen.Moved
        && (predicted is null ? IsJoined(seen) : !IsJoined(seen) && predicted.Ohms < Math.Min((seen.With ?? meter).UpToOhms, Limits.ApartOhms));

    /// <summary>Whether a reading says the contrary. Metal of more than the meter's scale reads as none; only values can tell that.</summary>
    private static bool Denies(Observation seen, bool joins) => !seen.Moved && joins != IsJoined(seen) && !(joins && seen.Ohm is not null);

    /// <summary>Whether metal would join the two sides of a reading, without asking by how much.</summary>
    private bool WouldJoin(Observation seen, Altered? altered)
    {
        if (altered is null)
        {
            return seen.B is { } drawnB && seen.A.Any(a => drawn.NetOf(a) is var net && net >= 0 && drawnB.Any(b => drawn.NetOf(b) == net));
        }

        if (seen.B is not { } far)
        {
            var own = seen.A.Select(drawn.NetOf).ToHashSet();
            return seen.A.Any(a => altered.PieceOf(a) is var piece && piece >= 0 && altered.DrawnNetsOn(piece).Any(n => !own.Contains(n)));
        }

        return seen.A.Any(a => altered.PieceOf(a) is var piece && piece >= 0
            ? far.Any(b => altered.PieceOf(b) == piece)
            : drawn.NetOf(a) is var net && net >= 0 && far.Any(b => !altered.Has(b) && drawn.NetOf(b) == net));
    }

    /// <summary>How far a value is from a prediction, in standard deviations of copper and meter together; 0 where it has none to hold against.</summary>
    internal double Off(Observation seen, Predicted? predicted) =>
        predicted is null || seen.Moved || seen.Ohm is not { } ohm ? 0 : (ohm - LeadsOf(seen) - predicted.Ohms) / Math.Sqrt(predicted.Variance + Square(Noise(seen)));

    /// <summary>One standard deviation of the meter, ohms.</summary>
    internal double Noise(double ohm) => NoiseShare * meter.Uncertainty(Math.Max(0, ohm));

    /// <summary>One standard deviation of what a reading was taken with, ohms.</summary>
    internal double Noise(Observation seen) => NoiseShare * (seen.With ?? meter).Uncertainty(Math.Max(0, seen.Ohm ?? 0));

    /// <summary>What the leads add to a reading, ohms.</summary>
    internal double LeadsOf(Observation seen) => seen.With is null ? LeadOhms : 0;

    /// <summary>Whether a supposition, or the drawing, makes a reading what it is.</summary>
    /// <param name="by">Null for the loom as drawn.</param>
    internal bool IsExplained(Observation seen, Weighed? by)
    {
        var predicted = by is not null && (seen.A.Any(by.Altered.Has) || (seen.B?.Any(by.Altered.Has) ?? false)) ? Predict(seen, by.Altered) : AsDrawn(seen);
        return seen.Moved
            ? predicted is null || IsJoined(seen) || (by is not null && by.Faults.OfType<IntermittentFault>().Any(f => predicted.Of(drawn.PlaceOf(f.Wire)) > 0.5))
            : !Contradicts(seen, predicted) && Math.Abs(Off(seen, predicted)) <= Suspicious;
    }

    private static double Square(double x) => x * x;

    private static void Add<T>(Dictionary<T, List<Observation>> lists, T key, Observation seen)
        where T : notnull
    {
        if (!lists.TryGetValue(key, out var list))
        {
            lists.Add(key, list = []);
        }

        list.Add(seen);
    }

    private double DrawnScore(IReadOnlyCollection<Observation> seen, IReadOnlySet<int> nets)
    {
        var key = $"{string.Join(',', nets.Order())} {seen.Count}";
        if (!drawnScores.TryGetValue(key, out var known))
        {
            drawnScores.Add(key, known = Score(seen, null, []));
        }

        return known;
    }

    private double Score(IReadOnlyCollection<Observation> observations, Altered? altered, IReadOnlyCollection<int> loose)
    {
        var score = 0.0;
        var valued = new List<Valued>();
        foreach (var seen in observations)
        {
            var predicted = altered is null ? AsDrawn(seen) : Predict(seen, altered);
            if (seen.Moved)
            {
                score += MovedScore(seen, predicted, loose);
            }
            else if (Contradicts(seen, predicted))
            {
                score += Impossible;
            }
            else if (predicted is not null && seen.Ohm is { } ohm && IsJoined(seen))
            {
                valued.Add(new(predicted, ohm - LeadsOf(seen), Square(Noise(seen))));
            }
        }

        return score + Together(valued);
    }

    /// <summary>A break while the loom was moved is hardly likely where nothing is loose; where nothing joins, it is certain.</summary>
    private static double MovedScore(Observation seen, Predicted? predicted, IReadOnlyCollection<int> loose) =>
        predicted is null ? IsJoined(seen) ? Impossible : 0
        : loose.Any(w => predicted.Of(w) > 0.5) ? IsJoined(seen) ? SeldomStill : 0
        : IsJoined(seen) ? 0 : SeldomBreaks;

    /// <summary>By how many ohms a part would have to be larger to fit all values best.</summary>
    /// <param name="part">Place of a wire, or the part of a bridge.</param>
    internal double Step(Altered altered, int part)
    {
        var valued = new List<Valued>();
        var slopes = new List<double>();
        foreach (var seen in Touching(altered.Nets, altered.Filled))
        {
            if (!seen.Moved && IsJoined(seen) && Predict(seen, altered) is { } predicted && valued.Count < MostTogether)
            {
                valued.Add(new(predicted, seen.Ohm!.Value - LeadsOf(seen), Square(Noise(seen))));
                slopes.Add(predicted.Of(part));
            }
        }

        var (along, all) = (0.0, 0.0);
        if (slopes.Exists(s => s > 0))
        {
            var c = Covariance(valued);
            var (y, z) = (new double[valued.Count], new double[valued.Count]);
            for (var i = 0; i < valued.Count; i++)
            {
                y[i] = (valued[i].Ohm - valued[i].Predicted.Ohms - TensorPrimitives.Dot<double>(c[i].AsSpan(0, i), y.AsSpan(0, i))) / c[i][i];
                z[i] = (slopes[i] - TensorPrimitives.Dot<double>(c[i].AsSpan(0, i), z.AsSpan(0, i))) / c[i][i];
                (along, all) = (along + (y[i] * z[i]), all + (z[i] * z[i]));
            }
        }

        return all > 0 ? along / all : 0;
    }

    /// <summary>Values of one supposition: copper moves all readings through a wire together (a normal law, its ends a little heavier).</summary>
    private static double Together(List<Valued> valued)
    {
        if (valued.Count > MostTogether)
        {
            return valued.Sum(v =>
            {
                var sd = Math.Sqrt(v.Predicted.Variance + v.Noise);
                return One((v.Ohm - v.Predicted.Ohms) / sd) - Math.Log(sd);
            });
        }

        var c = Covariance(valued);
        var (score, y) = (0.0, new double[valued.Count]);
        for (var i = 0; i < valued.Count; i++)
        {
            y[i] = (valued[i].Ohm - valued[i].Predicted.Ohms - TensorPrimitives.Dot<double>(c[i].AsSpan(0, i), y.AsSpan(0, i))) / c[i][i];
            score += One(y[i]) - Math.Log(c[i][i]);
        }

        return score;
    }

    /// <summary>The Cholesky factor of how values move together, row by row.</summary>
    private static double[][] Covariance(List<Valued> valued)
    {
        var n = valued.Count;
        var c = new double[n][];
        var byWire = new Dictionary<int, List<(int Reading, double Sd)>>();
        for (var i = 0; i < n; i++)
        {
            c[i] = new double[i + 1];
            c[i][i] = valued[i].Noise + 1e-12;
            foreach (var (wire, weight, sd) in valued[i].Predicted.Weights)
            {
                if (sd <= 0)
                {
                    continue;
                }

                if (!byWire.TryGetValue(wire, out var list))
                {
                    byWire.Add(wire, list = []);
                }

                foreach (var (other, otherSd) in list)
                {
                    c[i][other] += weight * sd * otherSd;
                }

                c[i][i] += Square(weight * sd);
                list.Add((i, weight * sd));
            }
        }

        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j <= i; j++)
            {
                var sum = c[i][j] - TensorPrimitives.Dot<double>(c[i].AsSpan(0, j), c[j].AsSpan(0, j));
                c[i][j] = j == i ? Math.Sqrt(Math.Max(sum, 1e-14)) : sum / c[j][j];
            }
        }

        return c;
    }

    private static double One(double off)
    {
        const double freedom = 30;
        return Math.Max(WrongValue, -0.919 - (0.5 * (freedom + 1) * Math.Log(1 + (off * off / freedom))));
    }

    /// <summary>What leads that were not nulled add to all readings: the middle of what is left over, within what the meter's leads can be.</summary>
    private double Leads()
    {
        if (meter.LeadOhms <= 0)
        {
            return 0;
        }

        var over = all.Where(o => IsJoined(o) && !o.Moved).Select(o => (o, Drawn: AsDrawn(o))).Where(x => x.Drawn is not null).Select(x => x.o.Ohm!.Value - x.Drawn!.Ohms).Order().ToList();
        return over.Count == 0 ? 0 : Math.Clamp(over[over.Count / 2], 0, meter.LeadOhms);
    }

    /// <param name="Ohm">What was read, without the leads.</param>
    /// <param name="Noise">Of what it was taken with, squared.</param>
    private readonly record struct Valued(Predicted Predicted, double Ohm, double Noise);
}
