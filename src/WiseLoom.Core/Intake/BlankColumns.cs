using System.Collections.Immutable;
using System.Text.RegularExpressions;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Intake;

/// <summary>Text whose columns stand apart by blanks, as it is copied from a paper.</summary>
internal static partial class BlankColumns
{
    [GeneratedRegex(@"\s{2,}")]
    private static partial Regex Gap();

    /// <summary>The text as a grid; null with a problem when there is too much of it.</summary>
    internal static Grid? Read(string text, string name, List<Problem> problems)
    {
        var lines = text.ReplaceLineEndings("\n").Split('\n').Select((line, i) => (Line: line.TrimEnd(), Number: i + 1)).Where(l => l.Line.Trim().Length > 0).ToList();
        if (lines.Count > TextTable.MostRows || lines.Exists(l => l.Line.Length > 2000))
        {
            problems.Add(new(name, $"At most {TextTable.MostRows} lines of 2,000 characters are read."));
            return null;
        }

        if (lines.Count == 0)
        {
            problems.Add(new(name, "Nothing stands in it."));
            return null;
        }

        var (starts, runs) = (Starts(lines.ConvertAll(l => l.Line)), lines.ConvertAll(l => Gap().Split(l.Line.Trim())));
        var byPlace = starts.Count >= runs.Max(r => r.Length);
        return new(name, [.. lines.Select((l, i) => new TextRow(l.Number, byPlace ? Cut(l.Line, starts) : [.. runs[i]]))]);
    }

    /// <summary>Where columns begin: behind two blanks or more that nearly all lines have.</summary>
    private static List<int> Starts(List<string> lines)
    {
        var width = lines.Max(l => l.Length);
        var (blank, starts, gap) = (new int[width], new List<int>(), 2);
        foreach (var line in lines)
        {
            for (var i = 0; i < width; i++)
            {
                blank[i] += i >= line.Length || line[i] == ' ' ? 1 : 0;
            }
        }

        for (var i = 0; i < width; i++)
        {
            var isGap = blank[i] >= lines.Count - (lines.Count / 50);
            if (!isGap && gap >= 2)
            {
                starts.Add(i);
            }

            gap = isGap ? gap + 1 : 0;
        }

        return starts;
    }

    private static ImmutableArray<string> Cut(string line, List<int> starts) => [.. starts.Select((s, i) => s >= line.Length ? "" : line[s..Math.Min(line.Length, i + 1 < starts.Count ? starts[i + 1] : line.Length)].Trim())];
}
