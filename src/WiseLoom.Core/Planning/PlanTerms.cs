using System.Collections.Immutable;
using WiseLoom.Core.Electrical;

namespace WiseLoom.Core.Planning;

/// <summary>What a plan is made for.</summary>
/// <param name="Meter">What the bench measures with.</param>
/// <param name="Isolation">How isolation is proven.</param>
/// <param name="AmbientC">Degrees Celsius.</param>
/// <param name="Copper">How far the copper may be from its drawing.</param>
/// <param name="Load">What load tests are made with; null when there is nothing at hand, which the plan then says.</param>
/// <param name="Beyond">What is asked for beside the bare loom.</param>
/// <param name="Cost">What the hands of this bench need.</param>
/// <param name="Proven">Pairs that were measured before and still hold: they count as measured, and stand behind all others.</param>
/// <param name="First">Repaired or re-pinned places, which come first: cavities such as <c>ECU:17</c>, wire ids and splice refs.</param>
public sealed record PlanTerms(
    Meter Meter, Isolation Isolation, double AmbientC, CopperTolerance Copper, LoadInHand? Load, Beyond Beyond, TouchCost Cost, ImmutableArray<string> First, ImmutableArray<ProbePair> Proven)
{
    /// <summary>Nothing was repaired, the hands are as usual, and neither load nor devices are at hand.</summary>
    public static PlanTerms Usual(Meter meter, Isolation isolation, double ambientC, CopperTolerance copper) => new(meter, isolation, ambientC, copper, null, Beyond.Nothing, TouchCost.Usual, [], []);
}
