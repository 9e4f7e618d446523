using System.Collections.Immutable;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Readings that are not as drawn and seem to have one reason.</summary>
/// <param name="Odd">These readings.</param>
/// <param name="Says">What may be behind them, by them and all readings that are as drawn.</param>
public sealed record GatheredCase(ImmutableArray<Observation> Odd, Diagnosed Says);
