using System.Collections.Immutable;
using WiseLoom.Core.Sightings;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Readings that are not as drawn and seem to have one reason.</summary>
/// <param name="Odd">These readings.</param>
/// <param name="Says">What may be behind them, by them and all readings that are as drawn.</param>
public sealed record GatheredCase(ImmutableArray<Observation> Odd, Diagnosed Says)
{
    /// <summary>What was seen besides that is not as drawn and has the same reason.</summary>
    public ImmutableArray<Sighting> OddSightings { get; init; } = [];
}
