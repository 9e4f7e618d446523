namespace WiseLoom.Core.Json;

/// <summary>Orders names as people do: runs of digits by their number, so that <c>INJ2</c> stands before <c>INJ10</c>.</summary>
public static class NaturalOrder
{
    /// <summary>A comparer for sorting.</summary>
    public static IComparer<string> Comparer { get; } = Comparer<string>.Create(Compare);

    /// <summary>Less than, equal to or greater than zero, as <see cref="IComparer{T}"/>.</summary>
    public static int Compare(string left, string right)
    {
        int i = 0, j = 0;
        while (i < left.Length && j < right.Length)
        {
            if (char.IsAsciiDigit(left[i]) && char.IsAsciiDigit(right[j]))
            {
                var a = Digits(left, ref i);
                var b = Digits(right, ref j);
                if (a.Length != b.Length)
                {
                    return a.Length - b.Length;
                }

                var byNumber = a.CompareTo(b, StringComparison.Ordinal);
                if (byNumber != 0)
                {
                    return byNumber;
                }
            }
            else if (left[i] != right[j])
            {
                return left[i] - right[j];
            }
            else
            {
                i++;
                j++;
            }
        }

        var rest = (left.Length - i) - (right.Length - j);
        return rest != 0 ? rest : string.CompareOrdinal(left, right);
    }

    private static ReadOnlySpan<char> Digits(string text, ref int at)
    {
        var start = at;
        while (at < text.Length && char.IsAsciiDigit(text[at]))
        {
            at++;
        }

        return text.AsSpan(start, at - start).TrimStart('0');
    }
}
