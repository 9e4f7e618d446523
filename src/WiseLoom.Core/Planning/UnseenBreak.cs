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
internal static class HiddenBreaks
{
    /// <summary>Of a net with more points than this, only pairs at the ends of the wire are looked at.</summary>
    private const int AllPairsUpTo = 24;

    /// <summary>Pairs of a net that together show every break that can be shown, as far as a tree has room for them.</summary>
    /// <param name="joined">Pairs that are in the tree already; they are not among the answer.</param>
    internal static ImmutableArray<(ProbePoint A, ProbePoint B)> Needed(Net net, Meter meter, IEnumerable<(ProbePoint A, ProbePoint B)> joined)
    {
        var seen = Doubled(net).ToDictionary(w => w, w => Showing(net, w, meter).ToHashSet());
        var index = net.Points.Select((p, i) => (p, i)).ToDictionary(x => x.p, x => x.i);
        var parts = new Order.Parts(net.Points.Length);
        var pairs = ImmutableArray.CreateBuilder<(ProbePoint, ProbePoint)>();
        var open = seen.Where(s => s.Value.Count > 0 && net.Points.Length > 2).Select(s => s.Value).ToList();
        foreach (var pair in joined)
        {
            parts.Join(index[pair.A], index[pair.B]);
            open.RemoveAll(s => s.Contains(pair) || s.Contains((pair.B, pair.A)));
        }

        while (open.Count > 0)
        {
            var best = open.SelectMany(s => s).CountBy(p => p).OrderByDescending(p => p.Value).ThenBy(p => p.Key.A).ThenBy(p => p.Key.B)
                .Select(p => ((ProbePoint A, ProbePoint B)?)p.Key).FirstOrDefault(p => parts.Of(index[p!.Value.A]) != parts.Of(index[p.Value.B]));
            if (best is not { } pair)
            {
                break;
            }

            parts.Join(index[pair.A], index[pair.B]);
            pairs.Add(pair);
            open.RemoveAll(s => s.Contains(pair));
        }

        return pairs.ToImmutable();
    }

    /// <summary>Breaks in a net that no pair of a plan surely shows.</summary>
    /// <param name="measured">The plan's pairs in the net.</param>
    internal static IEnumerable<UnseenBreak> Of(Net net, Meter meter, IReadOnlyCollection<(ProbePoint A, ProbePoint B)> measured, WireGraph graph)
    {
        foreach (var wire in Doubled(net).Where(w => !measured.Any(p => Shows(net, w, p.A, p.B, meter))))
        {
            var showing = Showing(net, wire, meter).Cast<(ProbePoint, ProbePoint)?>().FirstOrDefault();
            yield return new(wire.Label, showing, graph.Nodes[graph.Points[wire.From] is null ? wire.To : wire.From]);
        }
    }

    /// <summary>Wires of a net that are not the only way between their ends.</summary>
    private static IEnumerable<GraphEdge> Doubled(Net net) => net.Edges.Length < net.Nodes.Length ? [] : net.Edges.Where(net.IsDoubled);

    private static IEnumerable<(ProbePoint A, ProbePoint B)> Showing(Net net, GraphEdge wire, Meter meter)
    {
        var points = net.Points.Length <= AllPairsUpTo ? net.Points : net.AtEnds(wire);
        for (var i = 0; i < points.Length; i++)
        {
            for (var j = i + 1; j < points.Length; j++)
            {
                if (Shows(net, wire, points[i], points[j], meter))
                {
                    yield return (points[i], points[j]);
                }
            }
        }
    }

    private static bool Shows(Net net, GraphEdge wire, ProbePoint a, ProbePoint b, Meter meter)
    {
        var limits = net.Between(a, b);
        var least = net.LeastWithout(wire, a, b);
        var shown = double.IsInfinity(least) || least > meter.UpToOhms ? Reading.OverRange : new Reading(least - meter.Uncertainty(least));
        return Judgement.Of(shown, new(limits.Min, limits.Max), meter) == Verdict.Fail;
    }
}
