namespace WiseLoom.Core.Diagnosis;

/// <summary>An ampere from one place to another, and how it goes.</summary>
/// <param name="Ohms">Mean between the two places.</param>
/// <param name="Shares">Amperes in each part that carries some, by its place in the metal; positive from its first node to its second.</param>
/// <param name="With">Ohms between the places if one part, by its place, had so many ohms more; its mean is not 0.</param>
internal sealed record Flow(double Ohms, List<(int Part, double Share)> Shares, Func<int, double, double> With)
{
    /// <summary>From a place to itself.</summary>
    internal static Flow Nowhere { get; } = new(0, [], (_, _) => 0);
}
