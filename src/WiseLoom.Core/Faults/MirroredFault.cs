using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>A connector was filled as seen from the wrong face: each row reversed by itself.</summary>
/// <inheritdoc cref="CavityFault"/>
public sealed record MirroredFault(string Connector) : CavityFault(Connector)
{
    /// <summary>Whether a connector can be filled from the wrong face at all: no contact's mirror place is a gap.</summary>
    /// <param name="isWired">Whether a cavity holds a contact.</param>
    internal static bool Fits(Connector housing, Func<string, bool> isWired) =>
        housing.Family.Rows.Any(row => row.Length > 1) && housing.Family.Rows.All(row => row.Zip(row.Reverse()).All(p => p.First is null || !isWired(p.First) || p.Second is not null));

    /// <inheritdoc/>
    public override string Title(Loom loom) => $"{Connector} was filled from the wrong face";

    /// <inheritdoc/>
    public override string Why(Loom loom) => $"if {Connector} had been filled as seen from the wrong face, each circuit would end in its mirror place.";

    private protected override IEnumerable<string> Hands(Connector housing) => housing.Family.Cavities;

    private protected override IReadOnlyDictionary<string, string> Moves(Connector housing) => housing.Family.Rows
        .SelectMany(row => row.Zip(row.Reverse()))
        .Where(pair => pair.First is not null && pair.Second is not null)
        .ToDictionary(pair => pair.First!, pair => pair.Second!, StringComparer.Ordinal);
}
