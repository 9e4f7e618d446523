using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning.Order;

/// <summary>The same proof as somebody takes it who goes down a pinout: net by net from its first place, then what must be apart.</summary>
internal static class PinOrder
{
    /// <summary>The pairs in that order.</summary>
    /// <param name="meet">For nets that must be measured apart the first two places where they stand beside each other; unused when thorough.</param>
    internal static ImmutableArray<ProbePair> Of(ProofNeeds needs, ImmutableArray<(ProbePoint A, ProbePoint B)> meet)
    {
        var list = ImmutableArray.CreateBuilder<ProbePair>();
        var (pairs, joined) = (needs.Pairs.ToLookup(p => p.Net), needs.Joined.ToLookup(p => p.Net));
        for (var net = 0; net < needs.Nets.Length; net++)
        {
            var points = needs.Nets[net];
            var parts = new Parts(points.Length);
            foreach (var (_, a, b) in joined[net])
            {
                parts.Join(points.IndexOf(a), points.IndexOf(b));
            }

            foreach (var (_, a, b) in pairs[net])
            {
                parts.Join(points.IndexOf(a), points.IndexOf(b));
                list.Add(new(a, b));
            }

            list.AddRange(points.Skip(1).Index().Where(p => parts.Join(0, p.Index + 1)).Select(p => new ProbePair(points[0], p.Item)));
        }

        list.AddRange(needs.IsThorough
            ? needs.Nets.Where((_, i) => needs.MayLetOff && !needs.Plugged.Contains(i)).SkipLast(1).Select(n => new ProbePair(n[0], null))
            : meet.Select(m => new ProbePair(m.A, m.B)));
        return list.ToImmutable();
    }
}
