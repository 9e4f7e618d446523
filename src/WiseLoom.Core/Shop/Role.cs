namespace WiseLoom.Core.Shop;

/// <summary>What a person of the shop may do.</summary>
public static class Role
{
    /// <summary>Sees everything, changes nothing.</summary>
    public const string Look = "look";

    /// <summary>Works: makes jobs and looms, measures, logs, mends.</summary>
    public const string Technician = "technician";

    /// <summary>The same, and signs, shares, sets limits and gives access to others.</summary>
    public const string Lead = "lead";

    /// <summary>All of them, from the least to the most.</summary>
    public static IReadOnlyList<string> All { get; } = [Look, Technician, Lead];
}
