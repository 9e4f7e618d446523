using System.Collections.Immutable;

namespace WiseLoom.Core.Handover;

/// <summary>What a shop puts into its packs.</summary>
/// <param name="LeftOut">Ids of the sections that are left out.</param>
public sealed record PackTemplate(ImmutableArray<string> LeftOut)
{
    /// <summary>Everything.</summary>
    public static PackTemplate Usual { get; } = new([]);

    /// <summary>What of it cannot be; places as JSON pointers of this record.</summary>
    public IEnumerable<Problem> Problems()
    {
        if (LeftOut.IsDefault || LeftOut.FirstOrDefault(id => !PackSection.All.Any(s => s.Id == id && s.MayBeLeftOut)) is not null)
        {
            yield return new("/leftOut", $"These may be left out: {string.Join(", ", PackSection.All.Where(s => s.MayBeLeftOut).Select(s => s.Id))}.");
        }
    }

    /// <summary>Equal when the same is left out, in whatever order.</summary>
    public bool Equals(PackTemplate? other) => other is not null && LeftOut.Order(StringComparer.Ordinal).SequenceEqual(other.LeftOut.Order(StringComparer.Ordinal));

    /// <inheritdoc/>
    public override int GetHashCode() => LeftOut.Length;
}
