using System.Collections.Immutable;
using WiseLoom.Core.Faults;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Something that may be wrong, together with all that no measurement at probe points can tell from it.</summary>
/// <param name="Probability">Of the group, 0 to 1.</param>
/// <param name="Faults">The likeliest of the group; empty when nothing is wrong.</param>
/// <param name="Alike">The others of the group, each a list of faults.</param>
/// <param name="Sentence">What was seen, why this explains it, and what speaks against it.</param>
public sealed record Finding(double Probability, ImmutableArray<Fault> Faults, ImmutableArray<ImmutableArray<Fault>> Alike, string Sentence);

/// <summary>What readings say about a loom.</summary>
/// <param name="Ranking">Falling by probability.</param>
/// <param name="Next">What to measure next; null when no measurement would tell more, or one group is sure enough.</param>
/// <param name="Doubts">What speaks of the meter and its leads, not of the loom; the ranking then holds nothing but that, unless one fault would explain as much.</param>
/// <param name="Unseeable">What this meter and these readings cannot show, in words.</param>
public sealed record Diagnosed(ImmutableArray<Finding> Ranking, Measurement? Next, ImmutableArray<string> Doubts, ImmutableArray<string> Unseeable)
{
    /// <summary>What to look at next, where that tells more than a measurement of the bare loom; null otherwise.</summary>
    public Look? Look { get; init; }

    /// <summary>What was weighed for it, to go on from; null where there is nothing to go on from.</summary>
    internal WeighedSoFar? SoFar { get; init; }

    /// <summary>Whether one group holds so much that nothing more is asked for: <see cref="Diagnostician.SureEnough"/>.</summary>
    public bool IsSure => Ranking[0].Probability >= Diagnostician.SureEnough;
}
