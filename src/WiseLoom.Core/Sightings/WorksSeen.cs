using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Sightings;

/// <summary>Whether one device was at work: a load that moved, lit or ticked, a relay that was pulled in, a controller that answered.</summary>
/// <param name="Device">Its ref.</param>
/// <param name="Works">Whether it was.</param>
/// <inheritdoc cref="PoweredSighting"/>
public sealed record WorksSeen(KeyPosition Key, ImmutableArray<string> Set, ImmutableArray<string> Without, string Device, bool Works) : PoweredSighting(Key, Set, Without)
{
    private const double Right = 0.97, Wrong = 1e-5, NoRest = 0.2;

    /// <inheritdoc/>
    public override string InWords() => $"{Device} {(Works ? "is at work" : "does nothing")} ({When()})";

    /// <inheritdoc/>
    public override string Subject() => $"works {Device} {Fully()}";

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Loom loom) => base.Problems(loom).Concat(loom.Devices.Any(d => d.Ref == Device && d.Model is LoadModel or RelayModel or ControllerModel) ? []
        : [new("/device", $"This loom has no load, relay or controller '{Device}'.")]);

    internal override IEnumerable<ProbePoint> Begins(Loom loom) => loom.Devices.Where(d => d.Ref == Device).SelectMany(d => d.Pins.Values)
        .Concat(loom.Devices.Where(d => d.Model is ControllerModel).SelectMany(d => ((ControllerModel)d.Model!).Pins.Where(p => Set.Contains(p.Value.Output) && d.Pins.ContainsKey(p.Key)).Select(p => d.Pins[p.Key])));

    internal override double LogLikelihood(SuspectLoom of) => of.Live(Meanwhile) is not { } live ? SuspectLoom.LogNoState
        : !live.Stays ? Math.Log(NoRest)
        : Math.Log(live.IsAtWork(Device) == Works ? Right : Wrong);

    internal override bool Fits(SuspectLoom of) => of.Live(Meanwhile) is { } live && (!live.Stays || live.IsAtWork(Device) == Works);

    internal override string Expected(SuspectLoom of) => of.Live(Meanwhile) is { } live ? live.IsAtWork(Device) ? "it at work" : "it still" : "no state";
}
