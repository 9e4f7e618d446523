using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>Two contacts of a connector are exchanged.</summary>
/// <param name="Cavities">The two.</param>
/// <inheritdoc cref="CavityFault"/>
public sealed record SwapFault(string Connector, ImmutableArray<string> Cavities) : CavityFault(Connector)
{
    /// <summary>Two cavities, in the order of their names.</summary>
    public static SwapFault Of(string connector, string first, string second) => new(connector, [.. new[] { first, second }.Order(NaturalOrder.Comparer)]);

    /// <inheritdoc/>
    public override string Title(Loom loom) => $"{Connector}: contacts {string.Join(" and ", Cavities)} exchanged";

    /// <inheritdoc/>
    public override string Why(Loom loom) => $"if the contacts of cavities {string.Join(" and ", Cavities)} in {Connector} were exchanged, each circuit would end in the other’s place.";

    /// <summary>The same connector and cavities.</summary>
    public bool Equals(SwapFault? other) => other is not null && Connector == other.Connector && Cavities.SequenceEqual(other.Cavities);

    /// <inheritdoc/>
    public override int GetHashCode() => Cavities.Aggregate(Connector.GetHashCode(StringComparison.Ordinal), HashCode.Combine);

    private protected override IEnumerable<string> Hands(Connector housing) => Cavities;

    private protected override IReadOnlyDictionary<string, string> Moves(Connector housing) => Cavities is [var first, var second] && first != second
        ? new Dictionary<string, string>(StringComparer.Ordinal) { [first] = second, [second] = first }
        : [];
}
