using System.Collections.Immutable;

namespace WiseLoom.Core.Handover;

/// <summary>What packs are printed on.</summary>
public enum PackPaper
{
    /// <summary>210 × 297 mm.</summary>
    A4,

    /// <summary>8.5 × 11 inches.</summary>
    Letter,
}

/// <summary>Which connectors of a loom get a label.</summary>
public enum LabelPolicy
{
    /// <summary>All.</summary>
    All,

    /// <summary>Those that fit into another's place within reach.</summary>
    Mistaken,
}

/// <summary>What a shop puts into its packs, and on its labels.</summary>
/// <param name="LeftOut">Ids of the sections that are left out.</param>
/// <param name="Paper">What its PDFs are laid out for.</param>
/// <param name="Labels">What is labelled unless somebody asks otherwise.</param>
public sealed record PackTemplate(ImmutableArray<string> LeftOut, PackPaper Paper = PackPaper.A4, LabelPolicy Labels = LabelPolicy.All)
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

        if (!Enum.IsDefined(Paper))
        {
            yield return new("/paper", "Packs are printed on a4 or letter.");
        }

        if (!Enum.IsDefined(Labels))
        {
            yield return new("/labels", "Labels are for all, or for what can be mistaken.");
        }
    }

    /// <summary>Equal when the same is left out, in whatever order.</summary>
    public bool Equals(PackTemplate? other) => other is not null && Paper == other.Paper && Labels == other.Labels && LeftOut.Order(StringComparer.Ordinal).SequenceEqual(other.LeftOut.Order(StringComparer.Ordinal));

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(LeftOut.Length, Paper, Labels);
}
