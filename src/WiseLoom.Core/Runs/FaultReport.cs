using System.Collections.Immutable;
using WiseLoom.Core.Faults;

namespace WiseLoom.Core.Runs;

/// <summary>A fault out of the log of the whole shop.</summary>
/// <param name="Loom">Name of the loom it was found in.</param>
/// <param name="Place">Connector that hands were on; null when nobody noted one.</param>
/// <param name="Family">Its connector family; null when that is not known.</param>
/// <param name="Builder">Who the job is given to; null for nobody.</param>
/// <param name="Faults">What it turned out to be; empty while unknown, or when only words were given.</param>
/// <param name="Minutes">Time used; null when not noted.</param>
public sealed record LoggedInShop(string Loom, string? Place, string? Family, string? Builder, ImmutableArray<Fault> Faults, double? Minutes);

/// <summary>How often something came back.</summary>
/// <param name="Name">Of the kind, family, place or builder.</param>
/// <param name="Count">How many faults.</param>
/// <param name="Minutes">Minutes noted for them, together.</param>
/// <param name="Timed">For how many of them minutes were noted.</param>
/// <param name="Repeats">How many of them were the same kind at the same place of a loom of the same name again.</param>
public sealed record FaultShare(string Name, int Count, double Minutes, int Timed, int Repeats);

/// <summary>Which faults come back: counted by kind, connector family, place and builder.</summary>
public sealed record FaultReport(int Count, ImmutableArray<FaultShare> Kinds, ImmutableArray<FaultShare> Families, ImmutableArray<FaultShare> Places, ImmutableArray<FaultShare> Builders)
{
    /// <summary>So many of each are told, those that come most often.</summary>
    public const int Most = 20;

    /// <summary>Counts faults.</summary>
    /// <param name="log">The newest first.</param>
    public static FaultReport Of(IReadOnlyCollection<LoggedInShop> log)
    {
        ArgumentNullException.ThrowIfNull(log);
        var seen = new HashSet<string>(StringComparer.Ordinal);
        var counted = log.Reverse().Select(f => (Fault: f, Again: f.Place is not null && !f.Faults.IsEmpty && !seen.Add($"{f.Loom}\n{f.Place}\n{f.Faults[0].Kind()}"))).ToList();
        ImmutableArray<FaultShare> By(Func<LoggedInShop, string?> name) =>
        [
            .. counted.Select(c => (Name: name(c.Fault), c)).Where(x => x.Name is not null).GroupBy(x => x.Name!, StringComparer.Ordinal)
                .Select(g => new FaultShare(g.Key, g.Count(), g.Sum(x => x.c.Fault.Minutes ?? 0), g.Count(x => x.c.Fault.Minutes is not null), g.Count(x => x.c.Again)))
                .OrderByDescending(s => s.Count).ThenBy(s => s.Name, StringComparer.Ordinal).Take(Most),
        ];
        return new(
            log.Count,
            By(f => f.Faults.IsEmpty ? "in words only, or not known yet" : f.Faults[0].Kind()),
            By(f => f.Family),
            By(f => f.Place is null ? null : $"{f.Loom}: {f.Place}"),
            By(f => f.Builder));
    }
}
