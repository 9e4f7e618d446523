using System.Collections.Immutable;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Where the probes stand, and how long hands take from there.</summary>
/// <param name="Stand">Where the last reading was taken; null when that is not known, and then every place is as far.</param>
/// <param name="Cost">Seconds of touches and moves.</param>
public sealed record Hands(ProbePair? Stand, TouchCost Cost)
{
    /// <summary>Seconds in which a reading settles, is read off and stands in its field.</summary>
    private const double ReadOff = 5;

    /// <summary>More for each cavity that a probe sweeps over, seconds, and for moving the loom meanwhile.</summary>
    private const double Sweep = 0.25, Wiggle = 10;

    /// <summary>Usual hands, wherever they are.</summary>
    public static Hands Usual { get; } = new(null, TouchCost.Usual);

    /// <summary>Usual hands after the last of some readings.</summary>
    public static Hands After(IReadOnlyList<Observation> readings)
    {
        ArgumentNullException.ThrowIfNull(readings);
        return readings.Count == 0 ? Usual : Usual with { Stand = At(readings[^1]) };
    }

    /// <summary>Where the probes stand for a reading: on the first point of each side.</summary>
    internal static ProbePair At(Observation reading) => new(First(reading.A), First(reading.B));

    /// <summary>Seconds from here until a measurement is read off.</summary>
    internal double Seconds(Measurement next) =>
        ReadOff + Cost.Between(Stand, new(next.A, next.B?[0])) + (next.B is { Length: > 1 } joined ? Sweep * joined.Length : 0) + (next.Moved ? Wiggle : 0);

    private static ProbePoint? First(ImmutableArray<ProbePoint>? side) => side is { IsDefaultOrEmpty: false } points ? points[0] : null;
}
