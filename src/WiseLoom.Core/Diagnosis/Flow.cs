namespace WiseLoom.Core.Diagnosis;

/// <summary>An ampere from one place to another, and how it goes.</summary>
internal sealed class Flow
{
    /// <summary>Of more parts a library sorts faster.</summary>
    private const int Few = 24;

    private readonly Func<int, double, double>? with;

    /// <param name="ohms">Mean between the two places.</param>
    /// <param name="shares">Amperes in each part that carries some, by its place in the metal; positive from its first node to its second. Kept, and sorted.</param>
    /// <param name="with">Ohms between the places if one part, by its place, had so many ohms more; null where no loop lies on the way.</param>
    internal Flow(double ohms, (int Part, double Share)[] shares, Func<int, double, double>? with)
        : this(with, ohms, shares) => Sort(shares);

    private Flow(Func<int, double, double>? with, double ohms, (int Part, double Share)[] sorted) => (Ohms, Shares, this.with) = (ohms, sorted, with);

    /// <summary>From a place to itself.</summary>
    internal static Flow Nowhere { get; } = new(0, [], null);

    /// <summary>Whether a loop lies on the way, or may: then it does not go the same way when a part changes.</summary>
    internal bool HasLoops => with is not null;

    /// <summary>The same way with so many ohms more on it; no loop lies on it.</summary>
    internal Flow Longer(double more) => new(null, Ohms + more, Shares);

    /// <summary>Mean between the two places.</summary>
    internal double Ohms { get; }

    /// <summary>Amperes in each part that carries some, rising by its place in the metal.</summary>
    internal (int Part, double Share)[] Shares { get; }

    /// <summary>Ohms between the places if one part, by its place, had so many ohms more; its mean is not 0.</summary>
    internal double With(int part, double added) => with is not null ? with(part, added) : ShareOf(part) == 0 ? Ohms : Ohms + added;

    /// <summary>Amperes in a part; 0 where it carries none.</summary>
    internal double ShareOf(int part)
    {
        foreach (var (at, share) in Shares)
        {
            if (at == part)
            {
                return share;
            }
        }

        return 0;
    }

    private static void Sort((int Part, double Share)[] shares)
    {
        if (shares.Length > Few)
        {
            Array.Sort(shares, (x, y) => x.Part.CompareTo(y.Part));
            return;
        }

        for (var i = 1; i < shares.Length; i++)
        {
            var (one, at) = (shares[i], i);
            for (; at > 0 && shares[at - 1].Part > one.Part; at--)
            {
                shares[at] = shares[at - 1];
            }

            shares[at] = one;
        }
    }
}
