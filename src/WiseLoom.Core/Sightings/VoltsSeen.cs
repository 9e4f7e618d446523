using System.Collections.Immutable;
using System.Text.Json.Serialization;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Sightings;

/// <summary>What a meter of 10 MΩ showed between a place and the battery's negative pole.</summary>
/// <param name="Volts">−100 to 100.</param>
/// <inheritdoc cref="PoweredSighting"/>
public sealed record VoltsSeen(KeyPosition Key, ImmutableArray<string> Set, ImmutableArray<string> Without, [property: JsonConverter(typeof(PointAsText))] ProbePoint At, double Volts) : PoweredSighting(Key, Set, Without)
{
    /// <summary>What meter, battery and tolerances may be off by: volts, and a share of the voltage.</summary>
    private const double OffVolts = 0.2, OffShare = 0.04;

    /// <summary>So many standard deviations are still as predicted.</summary>
    private const double Near = 3;

    /// <inheritdoc/>
    public override string InWords() => $"{At} reads {Say.Volts(Volts)} ({When()})";

    /// <inheritdoc/>
    public override string Subject() => $"volts {At} {Fully()}";

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Loom loom) => base.Problems(loom).Concat(NoPoint(loom, At, "/at")).Concat(Outside(Volts, -100, 100, "/volts", "V"));

    internal override ProbePoint? Probed => At;

    internal override IEnumerable<ProbePoint> Begins(Loom loom) => [At];

    internal override double LogLikelihood(SuspectLoom of) => Off(of) is { } z ? Math.Log((0.98 * Math.Exp(-0.5 * z * z)) + 1e-5) : SuspectLoom.LogNoState;

    internal override bool Fits(SuspectLoom of) => Off(of) is { } z && Math.Abs(z) <= Near;

    internal override string Expected(SuspectLoom of) => of.At(Meanwhile, At) is { Shows: { } shows } ? Say.Volts(shows.Meter) : "no voltage";

    private double? Off(SuspectLoom of)
    {
        if (of.At(Meanwhile, At)?.Shows is not { } shows)
        {
            return null;
        }

        // Of one that swings the nearest of its moments.
        var predicted = Math.Clamp(Volts, shows.MeterLeast, shows.MeterMost);
        return (Volts - predicted) / Math.Sqrt((OffVolts * OffVolts) + (OffShare * OffShare * predicted * predicted));
    }
}
