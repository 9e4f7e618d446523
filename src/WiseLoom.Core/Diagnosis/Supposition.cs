using System.Collections.Immutable;
using WiseLoom.Core.Faults;

namespace WiseLoom.Core.Diagnosis;

/// <summary>What may be wrong: nothing, one fault, or two.</summary>
/// <param name="Faults">Empty for nothing.</param>
/// <param name="LogPrior">Natural logarithm of how likely it is before anything is read.</param>
internal sealed record Supposition(ImmutableArray<Fault> Faults, double LogPrior)
{
    /// <summary>Two faults at once.</summary>
    internal static Supposition Both(Supposition one, Supposition other, double logPairing) => new(one.Faults.AddRange(other.Faults), one.LogPrior + other.LogPrior + logPairing);
}
