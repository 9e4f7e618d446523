using System.Collections.Immutable;
using System.Text.Json.Serialization;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Sightings;

/// <summary>A figure that a meter showed at one place with power on: as predicted, or so many standard deviations beside it.</summary>
/// <inheritdoc cref="PoweredSighting"/>
public abstract record FigureSeen(KeyPosition Key, ImmutableArray<string> Set, ImmutableArray<string> Without, [property: JsonConverter(typeof(PointAsText))] ProbePoint At) : PoweredSighting(Key, Set, Without)
{
    /// <summary>So many standard deviations are still as predicted.</summary>
    private const double Near = 3;

    /// <summary>The share of figures that are read or written down wrong, whatever is so.</summary>
    private const double Slips = 1e-5;

    internal override IEnumerable<ProbePoint> Begins(Loom loom) => [At];

    internal override double LogLikelihood(SuspectLoom of) => Off(of) is { } z ? Math.Log((0.98 * Math.Exp(-0.5 * z * z)) + Slips) : SuspectLoom.LogNoState;

    internal override bool Fits(SuspectLoom of) => Off(of) is { } z && Math.Abs(z) <= Near;

    /// <summary>Standard deviations between what was seen and what a loom would show; null when it has no such figure.</summary>
    private protected abstract double? Off(SuspectLoom of);

    /// <summary>A difference in standard deviations of what instrument, battery and parts may be off by.</summary>
    /// <param name="off">In the unit of the figure.</param>
    /// <param name="share">Of the predicted figure.</param>
    private protected static double Deviations(double seen, double predicted, double off, double share) => (seen - predicted) / Math.Sqrt((off * off) + (share * share * predicted * predicted));
}
