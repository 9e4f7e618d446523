using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning;

/// <summary>A single wire whose break some readings miss, because another way lies beside it: a doubled wire, a ring.</summary>
/// <param name="Wire">Its id.</param>
/// <param name="Shows">A pair that the plan does not measure and that would surely show it; null when no pair would.</param>
/// <param name="End">An end of it, <c>G1:1</c> or a splice, which would have to be lifted otherwise.</param>
public sealed record UnseenBreak(string Wire, (ProbePoint A, ProbePoint B)? Shows, string End)
{
    /// <summary>What is missed and what would show it, in words.</summary>
    public string Sentence() => Shows is { } pair
        ? Words.Of($"A break of {Wire} might not be noticed, since another way lies beside it: measure {pair.A} to {pair.B} as well.")
        : Words.Of($"A break of {Wire} cannot be noticed by any pair, since another way lies beside it: take its end out at {End} and measure it alone, or test under load.");
}

/// <summary>Looks for breaks that other ways hide.</summary>
/// <remarks>A break is seen by a pair when even the least resistance left between them reads as a sure failure: with all other parts at their
/// least, the meter off by all it may be, and its reading judged with all it may be off.</remarks>
internal sealed class HiddenBreaks(Meter meter, PlanPatience patience)
{
    /// <summary>Of a net with more points than this, only pairs at the ends of the wire are looked at, and of so many points there.</summary>
    private const int AllPairsUpTo = 24;

    /// <summary>Pairs that are looked at in one plan, about three seconds: beyond, wires are only counted.</summary>
    private const int MostLooks = 3_000_000;

    private int looks;

    /// <summary>Wires that were not looked at.</summary>
    internal int NotLookedAt { get; private set; }

    private bool IsSpent => looks > MostLooks || patience.IsOver;

    /// <summary>Pairs of a net that together show every break that can be shown, as far as a tree has room for them.</summary>
    /// <param name="joined">Pairs that are in the tree already; they are not among the answer.</param>
    internal ImmutableArray<(ProbePoint A, ProbePoint B)> Needed(Net net, IEnumerable<(ProbePoint A, ProbePoint B)> joined)
    {
        var index = net.Points.Select((p, i) => (p, i)).ToDictionary(x => x.p, x => x.i);
        var parts = new Order.Parts(net.Points.Length);
        var pairs = ImmutableArray.CreateBuilder<(ProbePoint, ProbePoint)>();
        var open = new OpenBreaks(net.Points.Length > 2 ? Doubled(net).TakeWhile(_ => !IsSpent).Select(w => Showing(net, w)) : []);
        foreach (var pair in joined)
        {
            parts.Join(index[pair.A], index[pair.B]);
            open.Close(pair);
            open.Close((pair.B, pair.A));
        }

        while (open.Best(p => parts.Of(index[p.A]) != parts.Of(index[p.B])) is { } pair)
        {
            parts.Join(index[pair.A], index[pair.B]);
            pairs.Add(pair);
            open.Close(pair);
        }

        return pairs.ToImmutable();
    }

    /// <summary>Breaks in a net that no pair of a plan surely shows.</summary>
    /// <param name="measured">The plan's pairs in the net.</param>
    internal IEnumerable<UnseenBreak> Of(Net net, IReadOnlyCollection<(ProbePoint A, ProbePoint B)> measured, WireGraph graph)
    {
        foreach (var wire in Doubled(net))
        {
            if (IsSpent)
            {
                NotLookedAt++;
            }
            else if (!measured.Any(p => Shows(net, wire, p.A, p.B)))
            {
                var showing = Showing(net, wire).Cast<(ProbePoint, ProbePoint)?>().FirstOrDefault();
                yield return new(wire.Label, showing, graph.Nodes[graph.Points[wire.From] is null ? wire.To : wire.From]);
            }
        }
    }

    /// <summary>Wires of a net that are not the only way between their ends.</summary>
    private static IEnumerable<GraphEdge> Doubled(Net net) => net.Edges.Length < net.Nodes.Length ? [] : net.Edges.Where(net.IsDoubled);

    private IEnumerable<(ProbePoint A, ProbePoint B)> Showing(Net net, GraphEdge wire)
    {
        var points = net.Points.Length <= AllPairsUpTo ? net.Points : [.. net.AtEnds(wire).Take(AllPairsUpTo)];
        for (var i = 0; i < points.Length; i++)
        {
            for (var j = i + 1; j < points.Length; j++)
            {
                if (Shows(net, wire, points[i], points[j]))
                {
                    yield return (points[i], points[j]);
                }
            }
        }
    }

    private bool Shows(Net net, GraphEdge wire, ProbePoint a, ProbePoint b)
    {
        looks++;
        var limits = net.Between(a, b);
        var least = net.LeastWithout(wire, a, b);
        var shown = double.IsInfinity(least) || least > meter.UpToOhms ? Reading.OverRange : new Reading(least - meter.Uncertainty(least));
        return Judgement.Of(shown, new(limits.Min, limits.Max), meter) == Verdict.Fail;
    }

    /// <summary>Breaks that are not shown yet, with the pairs that would show each; the pair that shows the most comes first, of equals the first by name.</summary>
    private sealed class OpenBreaks
    {
        private readonly List<(ProbePoint A, ProbePoint B)[]> pairsOf;
        private readonly Dictionary<(ProbePoint A, ProbePoint B), List<int>> breaksOf = [];
        private readonly Dictionary<(ProbePoint A, ProbePoint B), int> counts = [];
        private readonly SortedSet<(int Fewer, ProbePoint A, ProbePoint B)> ranked = [];
        private readonly HashSet<int> closed = [];

        internal OpenBreaks(IEnumerable<IEnumerable<(ProbePoint A, ProbePoint B)>> shownBy)
        {
            pairsOf = [.. shownBy.Select(s => s.ToArray())];
            foreach (var (pairs, at) in pairsOf.Select((p, i) => (p, i)))
            {
                foreach (var pair in pairs)
                {
                    counts[pair] = counts.GetValueOrDefault(pair) + 1;
                    (breaksOf.TryGetValue(pair, out var breaks) ? breaks : breaksOf[pair] = []).Add(at);
                }
            }

            ranked.UnionWith(counts.Select(c => (-c.Value, c.Key.A, c.Key.B)));
        }

        /// <summary>The pair that shows the most; null when none that may be taken shows any. One that may not be taken now never may be again.</summary>
        internal (ProbePoint A, ProbePoint B)? Best(Func<(ProbePoint A, ProbePoint B), bool> mayBe)
        {
            while (ranked.Count > 0 && ranked.Min is var (fewer, a, b) && fewer < 0)
            {
                if (mayBe((a, b)))
                {
                    return (a, b);
                }

                ranked.Remove((fewer, a, b));
                counts.Remove((a, b));
            }

            return null;
        }

        /// <summary>The breaks that a pair shows are shown now.</summary>
        internal void Close((ProbePoint A, ProbePoint B) pair)
        {
            foreach (var at in breaksOf.GetValueOrDefault(pair, []).Where(closed.Add))
            {
                foreach (var other in pairsOf[at].Where(counts.ContainsKey))
                {
                    ranked.Remove((-counts[other], other.A, other.B));
                    counts[other]--;
                    ranked.Add((-counts[other], other.A, other.B));
                }
            }
        }
    }
}
