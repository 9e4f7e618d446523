namespace WiseLoom.Core.Json;

/// <summary>How far apart two names are: the least number of characters to insert, delete or replace (Levenshtein, 1965).</summary>
internal static class EditDistance
{
    /// <summary>The known name that a wrong one differs least from, small and capital letters alike; null when none is close enough to be meant.</summary>
    internal static string? Nearest(string wrong, IEnumerable<string> known)
    {
        var best = known.Select(k => (Name: k, Steps: Between(wrong.ToUpperInvariant(), k.ToUpperInvariant()))).OrderBy(k => k.Steps).FirstOrDefault();
        return best.Name is not null && best.Steps < wrong.Length && best.Steps <= Math.Max(1, wrong.Length / 3) ? best.Name : null;
    }

    internal static int Between(string left, string right)
    {
        var row = Enumerable.Range(0, right.Length + 1).ToArray();
        for (var i = 1; i <= left.Length; i++)
        {
            var diagonal = row[0];
            row[0] = i;
            for (var j = 1; j <= right.Length; j++)
            {
                var replaced = diagonal + (left[i - 1] == right[j - 1] ? 0 : 1);
                diagonal = row[j];
                row[j] = Math.Min(replaced, 1 + Math.Min(row[j], row[j - 1]));
            }
        }

        return row[right.Length];
    }
}
