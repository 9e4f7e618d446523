using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>A contact stands in a wrong, empty cavity.</summary>
/// <param name="From">The cavity that should hold it.</param>
/// <param name="To">The cavity that does.</param>
/// <inheritdoc cref="CavityFault"/>
public sealed record MisplacedFault(string Connector, string From, string To) : CavityFault(Connector)
{
    /// <summary>The cavity in which the contact stands.</summary>
    internal ProbePoint Target => new(Connector, To);

    /// <inheritdoc/>
    public override string Title(Loom loom) => $"{Connector}: contact of cavity {From} stands in {To}";

    /// <inheritdoc/>
    public override string Why(Loom loom) => $"if the contact of cavity {From} in {Connector} stood one over, in {To}, nothing would be where the probe looks.";

    private protected override IEnumerable<string> Hands(Connector housing) => [From, To];

    private protected override IReadOnlyDictionary<string, string> Moves(Connector housing) => new Dictionary<string, string>(StringComparer.Ordinal) { [From] = To };
}
