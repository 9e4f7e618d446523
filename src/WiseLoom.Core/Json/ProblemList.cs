using System.Collections.Immutable;
using System.Globalization;
using System.Text.RegularExpressions;

namespace WiseLoom.Core.Json;

/// <summary>Problems as they are shown: the first ones each by itself, the rest counted by what they say.</summary>
public static partial class ProblemList
{
    /// <summary>So many are shown one by one.</summary>
    public const int MostShown = 200;

    /// <summary>So many kinds of the rest are counted by themselves.</summary>
    private const int MostKinds = 20;

    /// <summary>The same list when it is short enough; else its beginning, and for the rest a line for each kind, with the file as its place.</summary>
    public static ImmutableArray<Problem> Shown(IReadOnlyCollection<Problem> problems)
    {
        ArgumentNullException.ThrowIfNull(problems);
        if (problems.Count <= MostShown)
        {
            return [.. problems];
        }

        var kinds = new Dictionary<string, int>(StringComparer.Ordinal);
        var others = 0;
        foreach (var problem in problems.Skip(MostShown))
        {
            var kind = Particular().Replace(problem.Message, "…");
            if (kinds.Count < MostKinds || kinds.ContainsKey(kind))
            {
                kinds[kind] = kinds.GetValueOrDefault(kind) + 1;
            }
            else
            {
                others++;
            }
        }

        return
        [
            .. problems.Take(MostShown),
            .. kinds.OrderByDescending(k => k.Value).Select(k => new Problem("", string.Create(CultureInfo.InvariantCulture, $"{k.Value:#,0} more like this: {k.Key}"))),
            .. others > 0 ? [new Problem("", string.Create(CultureInfo.InvariantCulture, $"{others:#,0} more of other kinds."))] : Array.Empty<Problem>(),
        ];
    }

    /// <summary>What differs between two problems of a kind: names in quotation marks, places and numbers.</summary>
    [GeneratedRegex(@"'[^']*'|\S*\d\S*")]
    private static partial Regex Particular();
}
