namespace WiseLoom.Core.Diagnosis;

/// <summary>Sorts readings that are not as drawn by what seems to be behind each: several faults of one loom have nothing to do with each other.</summary>
internal static class Gathering
{
    /// <summary>More are not told at once; what is left over is told with the last.</summary>
    internal const int MostCases = 12;

    /// <summary>A fault that explains less than this gathers nothing; a logarithm.</summary>
    private const double WorthACase = 12;

    /// <summary>Takes the likeliest single fault, with all that it explains; then the next, for what is left. What meets in a net belongs together: one fault may hide part of another.</summary>
    /// <param name="odd">Readings that are not as drawn.</param>
    /// <param name="falling">Single faults, the likeliest first.</param>
    /// <returns>Each odd reading in one of them.</returns>
    internal static List<List<Observation>> Of(Evidence evidence, DrawnLoom drawn, List<Observation> odd, IEnumerable<Weighed> falling)
    {
        var cases = new List<(HashSet<int> Nets, List<Observation> Odd)>();
        var rest = odd.ToList();
        foreach (var one in falling.Where(s => s.Faults.Length == 1 && s.Gain > WorthACase))
        {
            if (rest.Count == 0)
            {
                break;
            }

            var own = rest.FindAll(o => evidence.IsExplained(o, one));
            if (own.Count > 0)
            {
                rest.RemoveAll(own.Contains);
                Meet(cases, [.. one.Nets, .. NetsOf(drawn, own)], own);
            }
        }

        foreach (var left in rest)
        {
            Meet(cases, [.. NetsOf(drawn, [left])], [left]);
        }

        cases = [.. cases.OrderByDescending(c => c.Odd.Count)];
        return [.. cases.Take(MostCases - 1).Select(c => c.Odd), .. cases.Count >= MostCases ? [[.. cases.Skip(MostCases - 1).SelectMany(c => c.Odd)]] : Array.Empty<List<Observation>>()];
    }

    private static void Meet(List<(HashSet<int> Nets, List<Observation> Odd)> cases, HashSet<int> nets, List<Observation> own)
    {
        var met = cases.FindAll(c => c.Nets.Overlaps(nets));
        cases.RemoveAll(met.Contains);
        cases.Add(([.. nets, .. met.SelectMany(c => c.Nets)], [.. met.SelectMany(c => c.Odd), .. own]));
    }

    private static IEnumerable<int> NetsOf(DrawnLoom drawn, IEnumerable<Observation> seen) => seen.SelectMany(o => o.A.Concat(o.B ?? [])).Select(drawn.NetOf).Where(n => n >= 0);
}
