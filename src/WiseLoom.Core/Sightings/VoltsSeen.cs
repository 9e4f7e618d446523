using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Sightings;

/// <summary>What a meter of 10 MΩ showed between a place and the battery's negative pole.</summary>
/// <param name="Volts">−100 to 100.</param>
/// <inheritdoc cref="PoweredSighting"/>
public sealed record VoltsSeen(KeyPosition Key, ImmutableArray<string> Set, ImmutableArray<string> Without, ProbePoint At, double Volts) : FigureSeen(Key, Set, Without, At)
{
    /// <summary>What meter, battery and tolerances may be off by: volts, and a share of the voltage.</summary>
    private const double OffVolts = 0.2, OffShare = 0.04;

    /// <inheritdoc/>
    public override string InWords() => $"{At} reads {Say.Volts(Volts)} ({When()})";

    /// <inheritdoc/>
    public override string Subject() => $"volts {At} {Fully()}";

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Loom loom) => base.Problems(loom).Concat(NoPoint(loom, At, "/at")).Concat(Outside(Volts, -100, 100, "/volts", "V"));

    internal override ProbePoint? Probed => At;

    internal override string Expected(SuspectLoom of) => of.At(Meanwhile, At) is { Shows: { } shows } ? Say.Volts(shows.Meter) : "no voltage";

    // Of one that swings the nearest of its moments.
    private protected override double? Off(SuspectLoom of) =>
        of.At(Meanwhile, At)?.Shows is { } shows ? Deviations(Volts, Math.Clamp(Volts, shows.MeterLeast, shows.MeterMost), OffVolts, OffShare) : null;
}
