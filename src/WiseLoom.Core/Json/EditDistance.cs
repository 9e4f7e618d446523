namespace WiseLoom.Core.Json;

/// <summary>How far apart two names are: the least number of characters to insert, delete or replace (Levenshtein, 1965).</summary>
internal static class EditDistance
{
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
