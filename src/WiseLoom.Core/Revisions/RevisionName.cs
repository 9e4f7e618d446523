using System.Globalization;

namespace WiseLoom.Core.Revisions;

/// <summary>Names of revisions, one after the other.</summary>
public static class RevisionName
{
    /// <summary>The name after one: <c>C</c> → <c>D</c>, <c>Z</c> → <c>AA</c>, <c>9</c> → <c>10</c>, <c>2b</c> → <c>2c</c>; anything else gets a 2 behind it.</summary>
    /// <param name="taken">Names that are in use and are passed over.</param>
    public static string After(string name, IReadOnlyCollection<string> taken)
    {
        ArgumentNullException.ThrowIfNull(name);
        ArgumentNullException.ThrowIfNull(taken);
        var next = Step(name);
        while (taken.Contains(next))
        {
            next = Step(next);
        }

        return next;
    }

    private static string Step(string name)
    {
        var letters = name.Length - name.TrimEnd([.. "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz"]).Length;
        var digits = name.Length - name.TrimEnd([.. "0123456789"]).Length;
        if (digits is > 0 and < 10)
        {
            return name[..^digits] + (long.Parse(name[^digits..], CultureInfo.InvariantCulture) + 1).ToString(CultureInfo.InvariantCulture);
        }

        return letters is > 0 and <= 2 ? name[..^letters] + Up(name[^letters..]) : name + "2";
    }

    private static string Up(string letters)
    {
        var last = letters[^1];
        var (first, end) = char.IsLower(last) ? ('a', 'z') : ('A', 'Z');
        return last != end ? letters[..^1] + (char)(last + 1) : letters.Length > 1 ? Up(letters[..^1]) + first : $"{first}{first}";
    }
}
