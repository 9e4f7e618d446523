using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>What a supposition, or the drawing, leaves unexplained.</summary>
/// <param name="Apart">Nets with a place that should be joined to another and is not, or the other way round.</param>
/// <param name="Off">Nets with a value that copper and meter do not explain.</param>
/// <param name="Broken">Nets in which a pair broke while it was moved.</param>
/// <param name="Bridged">Pairs of nets that a bridge may lie between.</param>
internal sealed record Unexplained(HashSet<int> Apart, HashSet<int> Off, HashSet<int> Broken, HashSet<(int A, int B)> Bridged)
{
    /// <summary>One bridge in so many readings that found metal where none should be is behind none: contacts stand elsewhere, and as long as these are not known, a
    /// bridge between any two of their nets explains as little as between any others. Two bridges are behind half of them at least, one of them.</summary>
    private const int MostBehindNone = 8;

    /// <summary>Pairs of nets that a bridge is looked for between at most, by metal that should not be there, and as many by values: as long as most nets were not held against all others,
    /// one that does not stand apart may be joined to any of them.</summary>
    private const int MostBridged = 64;

    internal bool IsEmpty => Apart.Count + Off.Count + Broken.Count == 0;

    /// <summary>The same for the same, in any order.</summary>
    internal string Key => string.Create(CultureInfo.InvariantCulture, $"{string.Join(' ', Apart.Order())}|{string.Join(' ', Off.Order())}|{string.Join(' ', Broken.Order())}|{string.Join(' ', Bridged.Order())}");

    /// <param name="with">Null for the loom as drawn.</param>
    internal static Unexplained Of(DrawnLoom drawn, Evidence evidence, Suspects suspects, Weighed? with)
    {
        var (apart, off, broken) = (new HashSet<int>(), new HashSet<int>(), new HashSet<int>());

        // Between which nets a value is off, by how many readings.
        var valued = new Dictionary<(int A, int B), int>();

        // Between which nets metal was found that should not be there: reading by reading, null for all other nets.
        var found = new List<(HashSet<int> Own, HashSet<int>? Far)>();
        foreach (var seen in evidence.Unexplained(with))
        {
            var predicted = with is not null && evidence.Touches(seen, with.Altered) ? evidence.Predict(seen, with.Altered) : evidence.AsDrawn(seen);
            var (own, far) = (NetsAt(drawn, seen.A, with), NetsAt(drawn, seen.B ?? [], with));
            if (seen.Moved)
            {
                broken.UnionWith(own);
            }
            else if (evidence.Contradicts(seen, predicted))
            {
                apart.UnionWith(own.Concat(far));
                if (predicted is null)
                {
                    found.Add((own, seen.B is null ? null : far));
                }
            }
            else
            {
                off.UnionWith(own.Concat(far));
                Count(valued, Pairs(own, far).Distinct());
                if (with is { Faults: [ShortFault] })
                {
                    // Within what a bridge joins, contacts that stand elsewhere show by values alone.
                    apart.UnionWith(own.Concat(far));
                }
            }
        }

        return new(apart, off, broken, [.. Likeliest(valued, evidence, suspects), .. Between(found, () => Partners(drawn, evidence, with, found), evidence, suspects)]);
    }

    /// <summary>Pairs of nets that a bridge may lie between.</summary>
    /// <param name="found">What says that metal is there.</param>
    /// <param name="partners">Nets that may be joined to one that does not stand apart from all others.</param>
    private static IEnumerable<(int A, int B)> Between(List<(HashSet<int> Own, HashSet<int>? Far)> found, Func<List<int>> partners, Evidence evidence, Suspects suspects)
    {
        var others = found.Exists(f => f.Far is null) ? partners() : [];
        var behind = new Dictionary<(int A, int B), int>();
        Count(behind, found.SelectMany(f => Pairs(f.Own, f.Far ?? (IEnumerable<int>)others).Distinct()));
        return behind.Count == 0 || behind.Values.Max() * MostBehindNone < found.Count ? [] : Likeliest(behind, evidence, suspects);
    }

    private static void Count(Dictionary<(int A, int B), int> behind, IEnumerable<(int A, int B)> pairs)
    {
        foreach (var pair in pairs)
        {
            behind[pair] = behind.GetValueOrDefault(pair) + 1;
        }
    }

    /// <summary>Those that are behind most; of these what was not read apart yet, and what lies nearest: what is read apart makes room for others.</summary>
    private static IEnumerable<(int A, int B)> Likeliest(Dictionary<(int A, int B), int> behind, Evidence evidence, Suspects suspects) =>
        behind.Count <= MostBridged ? behind.Keys
            : behind.OrderByDescending(p => p.Value).ThenBy(p => evidence.AreApart(p.Key.A, p.Key.B) ? 1 : 0).ThenByDescending(p => suspects.Nearness(p.Key.A, p.Key.B)).Take(MostBridged).Select(p => p.Key);

    /// <summary>What touches a net that does not stand apart: another such, or one that was never held against all others.</summary>
    private static List<int> Partners(DrawnLoom drawn, Evidence evidence, Weighed? with, List<(HashSet<int> Own, HashSet<int>? Far)> found) =>
        [.. found.Where(f => f.Far is null).SelectMany(f => f.Own).Concat(drawn.Graph.Nets.Where(n => n.Points.Length > 0 && !(evidence.StoodApart(n.Number) && IsWhole(n, with))).Select(n => n.Number)).Distinct()];

    private static IEnumerable<(int, int)> Pairs(IEnumerable<int> own, IEnumerable<int> far) => own.SelectMany(a => far.Where(b => b != a).Select(b => (Math.Min(a, b), Math.Max(a, b))));

    /// <summary>Whether metal still joins all places of a net.</summary>
    private static bool IsWhole(Net net, Weighed? with) => with?.Nets.Contains(net.Number) != true || net.Points.Select(p => with.Altered.PieceOf(p.ToString())).Distinct().Count() == 1;

    /// <summary>The nets of some places; where contacts stand elsewhere, those too whose wires came there.</summary>
    private static HashSet<int> NetsAt(DrawnLoom drawn, ImmutableArray<ProbePoint> points, Weighed? with)
    {
        HashSet<int> nets = [.. points.Select(drawn.NetOf).Where(n => n >= 0)];
        if (with is { Faults: [CavityFault] })
        {
            nets.UnionWith(points.SelectMany(with.Altered.DrawnNetsAt));
        }

        return nets;
    }
}
