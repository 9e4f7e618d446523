using System.Collections.Immutable;

namespace WiseLoom.Core.PowerUp;

/// <summary>What must be on, off, plugged or mounted for some checks: those that need the same stand together.</summary>
/// <param name="Id">Short name, the same for the same.</param>
/// <param name="Title">What to do to get there, in a sentence.</param>
/// <param name="Without">Refs of devices that are unplugged meanwhile.</param>
public sealed record SetUp(string Id, string Title, ImmutableHashSet<string> Without)
{
    /// <summary>Equal by its name.</summary>
    public bool Equals(SetUp? other) => other is not null && Id == other.Id;

    /// <inheritdoc/>
    public override int GetHashCode() => Id.GetHashCode(StringComparison.Ordinal);
}
