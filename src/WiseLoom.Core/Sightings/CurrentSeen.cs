using System.Collections.Immutable;
using System.Text.Json.Serialization;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Sightings;

/// <summary>The current at a place: between what is plugged in there and the wires.</summary>
/// <param name="Amps">−1,000 to 1,000; the sign is not looked at.</param>
/// <inheritdoc cref="PoweredSighting"/>
public sealed record CurrentSeen(KeyPosition Key, ImmutableArray<string> Set, ImmutableArray<string> Without, [property: JsonConverter(typeof(PointAsText))] ProbePoint At, double Amps) : PoweredSighting(Key, Set, Without)
{
    /// <summary>What clamp, battery and parts may be off by: amperes, and a share.</summary>
    private const double OffAmps = 0.005, OffShare = 0.07;

    /// <summary>So many standard deviations are still as predicted.</summary>
    private const double Near = 3;

    /// <inheritdoc/>
    public override string InWords() => $"{Say.Amps(Math.Abs(Amps))} flow at {At} ({When()})";

    /// <inheritdoc/>
    public override string Subject() => $"current {At} {Fully()}";

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Loom loom) => base.Problems(loom).Concat(NoPoint(loom, At, "/at")).Concat(Outside(Amps, -1000, 1000, "/amps", "A"));

    internal override IEnumerable<ProbePoint> Begins(Loom loom) => [At];

    internal override double LogLikelihood(SuspectLoom of) => Off(of) is { } z ? Math.Log((0.98 * Math.Exp(-0.5 * z * z)) + 1e-5) : SuspectLoom.LogNoState;

    internal override bool Fits(SuspectLoom of) => Off(of) is { } z && Math.Abs(z) <= Near;

    internal override string Expected(SuspectLoom of) => of.Live(Meanwhile) is { } live ? Say.Amps(Math.Abs(live.Amps(At))) : "no state";

    private double? Off(SuspectLoom of)
    {
        if (of.Live(Meanwhile) is not { } live)
        {
            return null;
        }

        var predicted = Math.Abs(live.Amps(At));
        return (Math.Abs(Amps) - predicted) / Math.Sqrt((OffAmps * OffAmps) + (OffShare * OffShare * predicted * predicted));
    }
}
