using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>Contacts of one connector that stand in cavities of others.</summary>
/// <param name="Connector">Its ref.</param>
public abstract record CavityFault(string Connector) : Fault
{
    /// <inheritdoc/>
    public override string UsualFix() => "re-pin";

    /// <inheritdoc/>
    public override IEnumerable<string> Places(Loom loom) => loom.FindConnector(Connector) is { } housing ? Hands(housing).Select(c => $"{Connector}:{c}") : [];

    /// <summary>For each cavity whose contact stands elsewhere: where it stands.</summary>
    /// <returns>Empty when the loom has no such connector.</returns>
    public IReadOnlyDictionary<string, string> Moved(Loom loom) => loom?.FindConnector(Connector) is { } housing ? Moves(housing) : new Dictionary<string, string>(StringComparer.Ordinal);

    /// <inheritdoc/>
    internal override void ApplyTo(BuiltLoom built)
    {
        if (built.Drawn.FindConnector(Connector) is { } housing)
        {
            built.Move(Connector, Moves(housing));
        }
    }

    /// <summary>The cavities that hands would be on.</summary>
    private protected abstract IEnumerable<string> Hands(Connector housing);

    /// <summary>For each cavity whose contact stands elsewhere: where it stands.</summary>
    private protected abstract IReadOnlyDictionary<string, string> Moves(Connector housing);
}
