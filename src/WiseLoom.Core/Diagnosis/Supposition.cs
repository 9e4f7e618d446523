using System.Collections.Immutable;
using WiseLoom.Core.Faults;

namespace WiseLoom.Core.Diagnosis;

/// <summary>What may be wrong: nothing, one fault, or two.</summary>
/// <param name="faults">Empty for nothing.</param>
/// <param name="logPrior">Natural logarithm of how likely it is before anything is read.</param>
internal sealed class Supposition(ImmutableArray<Fault> faults, double logPrior)
{
    private string? key;

    /// <summary>What is wrong; empty for nothing.</summary>
    internal ImmutableArray<Fault> Faults => faults;

    /// <summary>Natural logarithm of how likely it is before anything is read.</summary>
    internal double LogPrior => logPrior;

    /// <summary>That of its first fault, see <see cref="FaultKeys"/>; asked for often.</summary>
    internal string Key => key ??= FaultKeys.Of(faults[0]);
}
