using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Sightings;

/// <summary>The current at a place: between what is plugged in there and the wires.</summary>
/// <param name="Amps">−1,000 to 1,000; the sign is not looked at.</param>
/// <inheritdoc cref="PoweredSighting"/>
public sealed record CurrentSeen(KeyPosition Key, ImmutableArray<string> Set, ImmutableArray<string> Without, ProbePoint At, double Amps) : FigureSeen(Key, Set, Without, At)
{
    /// <summary>What clamp, battery and parts may be off by: amperes, and a share.</summary>
    private const double OffAmps = 0.005, OffShare = 0.07;

    /// <inheritdoc/>
    public override string InWords() => $"{Say.Amps(Math.Abs(Amps))} flow at {At} ({When()})";

    /// <inheritdoc/>
    public override string Subject() => $"current {At} {Fully()}";

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Loom loom) => base.Problems(loom).Concat(NoPoint(loom, At, "/at")).Concat(Outside(Amps, -1000, 1000, "/amps", "A"));

    internal override string Expected(SuspectLoom of) => of.Live(Meanwhile) is { } live ? Say.Amps(Math.Abs(live.Amps(At))) : "no state";

    private protected override double? Off(SuspectLoom of) => of.Live(Meanwhile) is { } live ? Deviations(Math.Abs(Amps), Math.Abs(live.Amps(At)), OffAmps, OffShare) : null;
}
