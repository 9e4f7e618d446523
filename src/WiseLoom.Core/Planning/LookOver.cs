using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning;

/// <summary>A place that is looked at, and what there.</summary>
internal sealed record LookedAt(ProbePoint At, string Place, ImmutableArray<string> Things);

/// <summary>What an eye goes through on a loom.</summary>
internal static class LookOver
{
    /// <summary>Every connector with a wire in it, rings among them, then every twisted pair.</summary>
    internal static IEnumerable<LookedAt> Of(Loom loom)
    {
        var wired = loom.ProbePoints().ToLookup(p => p.Connector, StringComparer.Ordinal);
        return loom.Connectors.Where(c => wired.Contains(c.Ref)).Select(c => At(c, [.. wired[c.Ref]])).Concat(Pairs(loom));
    }

    private static LookedAt At(Connector connector, ImmutableArray<ProbePoint> wired)
    {
        var place = $"{connector.Ref} {connector.Title}";
        return new(wired[0], place, connector.Family.Kind switch
        {
            HousingKind.Ring => ["metal bare and bright where the ring lies, no paint, no rust", "crimp closed over copper and insulation", "sleeve over the barrel"],
            HousingKind.Tail => ["end insulated or capped", "label in place and readable"],
            _ => [.. Housing(connector, wired)],
        });
    }

    private static IEnumerable<string> Housing(Connector connector, ImmutableArray<ProbePoint> wired)
    {
        yield return wired.Length == 1 ? "contact at full depth, held when tugged" : "contacts even in height, each held when tugged";
        yield return "lock and wedge closed";
        yield return "no corrosion, housing neither brittle nor cracked";
        if (!connector.Family.Sealed)
        {
            yield break;
        }

        yield return "wire seals and face seal seated, none rolled or cut";
        var used = wired.Select(p => p.Cavity).ToHashSet(StringComparer.Ordinal);
        if (!connector.Blanked.IsEmpty)
        {
            yield return $"blanking plugs in {Some(connector.Blanked)}";
        }

        ImmutableArray<string> empty = [.. connector.Family.Cavities.Where(c => !used.Contains(c) && !connector.Blanked.Contains(c))];
        if (!empty.IsEmpty)
        {
            yield return $"no wire and no plug drawn in {Some(empty)}: close what stands open";
        }
    }

    private static IEnumerable<LookedAt> Pairs(Loom loom)
    {
        foreach (var group in loom.Wires.Where(w => w.Group is not null).GroupBy(w => w.Group!))
        {
            if (group.SelectMany(w => new[] { w.From, w.To }).Where(e => !e.IsSplice).Select(e => e.Point).Order().Cast<ProbePoint?>().FirstOrDefault() is not { } at)
            {
                continue;
            }

            ImmutableArray<string> things = ["twisted up to 50 mm from each plug, with no stretch left straight"];
            if (group.Any(w => w.Role == WireRole.Shield))
            {
                things = [.. things, "shield whole, its drain sleeved to its cavity", "shield joined to ground at one end only, cut back and covered at the other"];
            }

            yield return new(at, $"Pair {group.Key}", things);
        }
    }

    private static string Some(ImmutableArray<string> cavities) => cavities.Length <= 8 ? string.Join(", ", cavities) : $"{string.Join(", ", cavities.Take(8))} and {cavities.Length - 8} more";
}
