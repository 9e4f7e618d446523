using System.Buffers;
using System.Collections;
using System.Collections.Concurrent;
using System.Collections.Immutable;
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

    /// <summary>How a reading is spread within the meter's worst case: one standard deviation as a share of it.</summary>
    private const double NoiseShare = 0.45;

    /// <summary>Readings further off than this many standard deviations ask for an explanation.</summary>
    internal const double Suspicious = 4;

    /// <summary>Logarithms: something loose that was moved and did not break; something sound that broke.</summary>
    private const double SeldomStill = -1.6, SeldomBreaks = -12;

    private readonly DrawnLoom drawn;
    private readonly Meter meter;

    /// <summary>Which readings touch a drawn net, or a cavity without a wire: by their places among all.</summary>
    private readonly Dictionary<int, List<int>> ofNet = [];
    private readonly Dictionary<ProbePoint, List<int>> ofEmpty = [];
    private readonly Dictionary<ProbePoint, int> at = [];
    private readonly List<Observation> all = [];
    private readonly List<Located> places = [];

    /// <summary>Those that the drawing does not explain.</summary>
    private readonly Lazy<List<Observation>> odd;
    private readonly Dictionary<Observation, Located> located = new(ReferenceEqualityComparer.Instance);
    private readonly ConcurrentDictionary<string, Touched> touching = new(StringComparer.Ordinal);

    internal Evidence(DrawnLoom drawn, Meter meter, IEnumerable<Observation> observations)
    {
        this.drawn = drawn;
        this.meter = meter;
        all.AddRange(observations);
        foreach (var (seen, found) in all.Each(o => (o, Located.Of(drawn, o)), default))
        {
            Take(seen, found);
        }

        LeadOhms = Leads();
        odd = new(() => all.FindAll(o => !IsExplained(o, null)));
    }

    /// <summary>The same with one more reading; what the leads add stays as it was found.</summary>
    internal Evidence(Evidence of, Observation more)
    {
        (drawn, meter, LeadOhms) = (of.drawn, of.meter, of.LeadOhms);
        all.AddRange(of.all.Append(more));
        places.AddRange(of.places);
        (at, located) = (new(of.at), new(of.located, ReferenceEqualityComparer.Instance));

        // Lists that grow are its own, the others stay as they are.
        (ofNet, ofEmpty) = (new(of.ofNet), new(of.ofEmpty));
        foreach (var point in more.A.Concat(more.B ?? []))
        {
            CopyList(ofNet, drawn.NetOf(point));
            CopyList(ofEmpty, point);
        }

        Take(more, Located.Of(drawn, more));
        odd = new(() => IsExplained(more, null) ? of.odd.Value : [.. of.odd.Value, more]);
    }

    private void Take(Observation seen, Located found)
    {
        located.TryAdd(seen, found);
        var place = places.Count;
        places.Add(found);
        foreach (var point in seen.A.Concat(seen.B ?? []).Distinct())
        {
            at[point] = at.GetValueOrDefault(point) + (seen.Moved ? 0 : 1);
            if (drawn.NetOf(point) is var net and >= 0)
            {
                Add(ofNet, net, place);
            }
            else
            {
                Add(ofEmpty, point, place);
            }
        }
    }

    internal IReadOnlyList<Observation> All => all;

    /// <summary>Whether no reading touched a cavity by itself or joined with few others; the shorting plug leaves cavities without a drawn wire out.</summary>
    internal bool IsUntouched(ProbePoint point) => !all.Any(o => o.A.Contains(point) || o.B?.Contains(point) == true);

    internal Meter Meter => meter;

    /// <summary>What the leads seem to add to every reading, ohms.</summary>
    internal double LeadOhms { get; }

    /// <summary>How many readings were taken at a place, without those of a loom that was moved.</summary>
    internal int At(ProbePoint point) => at.GetValueOrDefault(point);

    /// <summary>Readings that touch some drawn nets, or cavities without a wire, with their places.</summary>
    internal IReadOnlyList<Located> Touching(IEnumerable<int> nets, IEnumerable<ProbePoint> empties) => Found(nets, empties).Readings;

    /// <summary>The same with what they say of the drawing; kept, because the same nets are asked for again and again.</summary>
    private Touched Found(IEnumerable<int> nets, IEnumerable<ProbePoint> empties)
    {
        int[] own = [.. nets.Order()];
        ProbePoint[] filled = [.. empties];
        return touching.GetOrAdd($"{string.Join(' ', own)} {string.Join(' ', filled)}", _ =>
        {
            var (found, isTaken) = (new List<Located>(), new BitArray(places.Count));
            foreach (var list in own.Select(n => ofNet.GetValueOrDefault(n)).Concat(filled.Select(p => ofEmpty.GetValueOrDefault(p))))
            {
                foreach (var place in list ?? [])
                {
                    if (!isTaken[place])
                    {
                        isTaken[place] = true;
                        found.Add(places[place]);
                    }
                }
            }

            return new(found, t => Score(t, i => t.Readings[i].AsDrawn, []), r => Denies(r.Seen, r.JoinsAsDrawn), AgainstDrawing);
        });
    }

    /// <summary>Lets go of what was found of some nets; it is found again when it is asked for.</summary>
    internal void Forget() => touching.Clear();

    /// <summary>Whether a net was held against all others and stood apart.</summary>
    internal bool StoodApart(int net) => ofNet.GetValueOrDefault(net, []).Exists(i => all[i] is var o && o is { B: null, Ohm: null, Moved: false } && o.A.All(p => drawn.NetOf(p) == net));

    /// <summary>Whether places of two nets were held against each other and nothing joined them.</summary>
    internal bool AreApart(int a, int b) => (ofNet.GetValueOrDefault(a, []) is var one && ofNet.GetValueOrDefault(b, []) is var other && one.Count <= other.Count ? one : other)
        .Exists(i => all[i] is var o && o is { Ohm: null, Moved: false, B: { } far } && ((Has(o.A, a) && Has(far, b)) || (Has(o.A, b) && Has(far, a))));

    private bool Has(IReadOnlyList<ProbePoint> points, int net) => points.Any(p => drawn.NetOf(p) == net);

    /// <summary>How much more likely what was read is with some faults than with the loom as drawn; a logarithm.</summary>
    /// <param name="loose">Places of wires that open while they are moved.</param>
    internal double Gain(Altered altered, IReadOnlyCollection<int> loose)
    {
        var foreseen = Foresee(altered);
        return Score(foreseen.Touched, i => foreseen[i], loose) - foreseen.Touched.AsDrawn;
    }

    /// <summary>What the readings that touch some altered nets would be; known of the same metal by fewer readings, it goes on from that.</summary>
    internal Foreseen Foresee(Altered altered)
    {
        var known = altered.Foreseen;
        if (known?.IsOf(this) != true)
        {
            altered.Foreseen = known = new(this, altered, Found(altered.Nets, altered.Filled), known);
        }

        return known;
    }

    /// <summary>What says joined and apart wrongly, of the readings that some faults touch.</summary>
    internal Denials Denied(Altered altered) => Denied(Foresee(altered).Touched, r => r.Joins(altered));

    /// <summary>The same for contacts that stand elsewhere: by which nets the cavities then hold, without laying out any metal.</summary>
    internal Denials Denied(CavityFault fault)
    {
        var moved = new MovedContacts(drawn, fault);
        return Denied(Found(moved.Nets, moved.Empty), moved.Joins);
    }

    private static Denials Denied(Touched touched, Func<Located, bool> joins)
    {
        var wrong = 0;
        foreach (var reading in touched.Readings)
        {
            wrong += Denies(reading.Seen, joins(reading)) ? 1 : 0;
        }

        return new(wrong, touched.DeniedAsDrawn);
    }

    /// <summary>What a reading would be with some faults; null for apart.</summary>
    internal Predicted? Predict(Observation seen, Altered altered) => Predict(Locate(seen), altered);

    /// <inheritdoc cref="Predict(Observation, Altered)"/>
    internal Predicted? Predict(Located at, Altered altered)
    {
        var within = Within(at, altered);
        if (within is not null || at.B is null)
        {
            return within;
        }

        // Untouched nets join as drawn.
        return Located.Joined(drawn, at.A, at.B, altered);
    }

    /// <summary>The same through the altered nets alone.</summary>
    private static Predicted? Within(Located at, Altered altered)
    {
        if (at is { A: [var one], B: [var other] })
        {
            return altered.Node(one) is not (var from and >= 0) || altered.Node(other) is not (var to and >= 0) ? null : altered.Keeps(at) ? at.AsDrawn : altered.Between([from], [to]);
        }

        var room = ArrayPool<int>.Shared.Rent(at.A.Length + (at.B?.Length ?? altered.CountOfPoints));
        var near = Held(at.A, room);
        var far = at.B is { } b ? Held(b, room.AsSpan(near)) : altered.Strangers(room.AsSpan(0, near), at.Own, room.AsSpan(near));
        var found = altered.Between(room.AsSpan(0, near), room.AsSpan(near, far));
        ArrayPool<int>.Shared.Return(room);
        return found;

        int Held(Spot[] spots, Span<int> nodes)
        {
            var count = 0;
            foreach (var spot in spots)
            {
                if (altered.Node(spot) is var node and >= 0)
                {
                    nodes[count++] = node;
                }
            }

            return count;
        }
    }

    /// <summary>A reading with its places.</summary>
    internal Located Locate(Observation seen) => located.TryGetValue(seen, out var known) ? known : Located.Of(drawn, seen);

    /// <summary>Whether a reading touches altered nets.</summary>
    internal bool Touches(Observation seen, Altered altered) => Locate(seen).Touches(altered);

    /// <summary>What a reading would be with the loom as drawn; null for apart.</summary>
    internal Predicted? AsDrawn(Observation seen) => Locate(seen).AsDrawn;

    /// <summary>Whether metal was found, as far as this meter goes.</summary>
    internal static bool IsJoined(Observation seen) => seen.Ohm is { } ohm && ohm < Limits.ApartOhms;

    /// <summary>Whether a reading says joined where a prediction says apart, or the other way round.</summary>
    internal bool Contradicts(Observation seen, Predicted? predicted) => !seen.Moved
        && (predicted is null ? IsJoined(seen) : !IsJoined(seen) && predicted.Ohms < Math.Min((seen.With ?? meter).UpToOhms, Limits.ApartOhms));

    /// <summary>Whether a reading says the contrary. Metal of more than the meter's scale reads as none; only values can tell that.</summary>
    private static bool Denies(Observation seen, bool joins) => !seen.Moved && joins != IsJoined(seen) && !(joins && seen.Ohm is not null);

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
    internal bool IsExplained(Observation seen, Weighed? by) =>
        by is not null && Touches(seen, by.Altered) ? IsExplained(seen, Predict(seen, by.Altered), by.Faults) : IsExplained(seen, AsDrawn(seen), by is null ? [] : by.Faults);

    private bool IsExplained(Observation seen, Predicted? predicted, IReadOnlyList<Fault> faults) => seen.Moved
        ? predicted is null || IsJoined(seen) || faults.OfType<IntermittentFault>().Any(f => predicted.Of(drawn.PlaceOf(f.Wire)) > 0.5)
        : !Contradicts(seen, predicted) && Math.Abs(Off(seen, predicted)) <= Suspicious;

    /// <summary>All readings that a supposition, or the drawing, does not explain, in no order.</summary>
    /// <param name="by">Null for the loom as drawn.</param>
    internal IReadOnlyList<Observation> Unexplained(Weighed? by) => by is null
        ? odd.Value
        : [.. odd.Value.Where(o => !Touches(o, by.Altered)), .. Unexplained(Foresee(by.Altered), by.Faults)];

    private IEnumerable<Observation> Unexplained(Foreseen foreseen, IReadOnlyList<Fault> faults) =>
        foreseen.Readings.Select(r => r.Seen).Where((o, i) => !IsExplained(o, foreseen[i], faults));

    private static double Square(double x) => x * x;

    private static void CopyList<T>(Dictionary<T, List<int>> lists, T key)
        where T : notnull
    {
        if (lists.TryGetValue(key, out var list))
        {
            lists[key] = [.. list];
        }
    }

    private static void Add<T>(Dictionary<T, List<int>> lists, T key, int place)
        where T : notnull
    {
        if (!lists.TryGetValue(key, out var list))
        {
            lists.Add(key, list = []);
        }

        if (list.Count == 0 || list[^1] != place)
        {
            list.Add(place);
        }
    }

    /// <summary>Readings that found metal where it is drawn, held against the drawing; null where they are too many.</summary>
    private Correlated? AgainstDrawing(Touched touched)
    {
        var first = Array.FindAll(touched.Readings, r => r.IsMetalAsDrawn);
        return first.Length <= Correlated.Most ? Correlated.Kept(Array.ConvertAll(first, r => Value(r.Seen, r.AsDrawn!))) : null;
    }

    /// <summary>A value that was read, without the leads, with what it should be.</summary>
    private Valued Value(Observation seen, Predicted predicted) => new(predicted, seen.Ohm!.Value - LeadsOf(seen) - predicted.Ohms, Square(Noise(seen)));

    /// <param name="predicting">What each would be, by its place among them.</param>
    private double Score(Touched touched, Func<int, Predicted?> predicting, IReadOnlyCollection<int> loose)
    {
        var (score, readings) = (0.0, touched.Readings);
        for (var i = 0; i < readings.Length; i++)
        {
            var (seen, predicted) = (readings[i].Seen, predicting(i));
            if (seen.Moved)
            {
                score += MovedScore(seen, predicted, loose);
            }
            else if (Contradicts(seen, predicted))
            {
                score += Impossible;
            }
        }

        var valued = ArrayPool<Valued>.Shared.Rent(readings.Length);
        var (count, same) = Values(touched, predicting, valued);
        score += Correlated.Score(valued.AsSpan(0, count), same > 0 ? touched.Drawn : null, same);
        ArrayPool<Valued>.Shared.Return(valued, clearArray: true);
        return score;
    }

    /// <summary>Values of what found metal where there would be some, in order, as far as there is room.</summary>
    /// <returns>How many; and how many of the first are as drawn.</returns>
    private (int Count, int Same) Values(Touched touched, Func<int, Predicted?> predicting, Span<Valued> values)
    {
        var (count, same, readings) = (0, 0, touched.Readings);
        for (var i = 0; i < readings.Length && count < values.Length; i++)
        {
            var seen = readings[i].Seen;
            if (!seen.Moved && IsJoined(seen) && predicting(i) is { } predicted)
            {
                same += same == i && ReferenceEquals(predicted, readings[i].AsDrawn) ? 1 : 0;
                values[count++] = Value(seen, predicted);
            }
        }

        return (count, same);
    }

    /// <summary>A break while the loom was moved is hardly likely where nothing is loose; where nothing joins, it is certain.</summary>
    private static double MovedScore(Observation seen, Predicted? predicted, IReadOnlyCollection<int> loose) =>
        predicted is null ? IsJoined(seen) ? Impossible : 0
        : loose.Any(w => predicted.Of(w) > 0.5) ? IsJoined(seen) ? SeldomStill : 0
        : IsJoined(seen) ? 0 : SeldomBreaks;

    /// <summary>By how many ohms one part or two would have to be larger to fit all values best, together.</summary>
    /// <param name="parts">Each the place of a wire, or the part of a bridge.</param>
    /// <param name="lowest">Of each, by how many ohms it can change at the least.</param>
    internal double[] Steps(Altered altered, int[] parts, double[] lowest)
    {
        var foreseen = Foresee(altered);
        var valued = new Valued[Math.Min(Correlated.Most, foreseen.Readings.Length)];
        var (count, same) = Values(foreseen.Touched, i => foreseen[i], valued);
        Array.Resize(ref valued, count);
        return Correlated.Steps(valued, same > 0 ? foreseen.Touched.Drawn : null, same, Array.ConvertAll(parts, p => Array.ConvertAll(valued, v => v.Predicted.Of(p))), lowest);
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

    /// <summary>Readings that say joined where nothing would join, or the other way round.</summary>
    /// <param name="Wrong">With what is supposed.</param>
    /// <param name="AsDrawn">With the drawing.</param>
    internal readonly record struct Denials(int Wrong, int AsDrawn)
    {
        /// <summary>How many more than with the drawing.</summary>
        internal int More => Wrong - AsDrawn;

        /// <summary>What is denied more often than the drawing is out, whatever its values: how much less likely it is; null when it is not out.</summary>
        internal double? Out => More > 0 || (More == 0 && Wrong > 0) ? Impossible * (1 + More) : null;
    }
}
