using System.Collections.Immutable;
using System.Text.Json.Serialization;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Sightings;

/// <summary>How a test lamp of 21 W burnt between a place and one of the battery's poles.</summary>
/// <param name="ToSupply">Whether its other end was at the positive pole; else at the negative one.</param>
/// <inheritdoc cref="PoweredSighting"/>
public sealed record LampSeen(KeyPosition Key, ImmutableArray<string> Set, ImmutableArray<string> Without, [property: JsonConverter(typeof(PointAsText))] ProbePoint At, bool ToSupply, Glow Glow) : PoweredSighting(Key, Set, Without)
{
    /// <summary>How often somebody says what it was, one step off, and two steps off.</summary>
    private const double Right = 0.93, Near = 0.06, Wrong = 1e-5, OfOneThatFlickers = 0.2;

    /// <inheritdoc/>
    public override string InWords() => $"a lamp from {At} to {(ToSupply ? "supply" : "ground")} {(Glow == Glow.Dark ? "stays dark" : $"is {(Glow == Glow.Dim ? "dim" : "bright")}")} ({When()})";

    /// <inheritdoc/>
    public override string Subject() => $"lamp {At} {ToSupply} {Fully()}";

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Loom loom) => base.Problems(loom).Concat(NoPoint(loom, At, "/at"));

    internal override ProbePoint? Probed => At;

    internal override IEnumerable<ProbePoint> Begins(Loom loom) => [At];

    internal override double LogLikelihood(SuspectLoom of) => Lamp(of) is not { } lamp ? SuspectLoom.LogNoState
        : Math.Log(lamp.Flickers ? OfOneThatFlickers : Math.Abs(lamp.Glow - Glow) switch { 0 => Right, 1 => Near, _ => Wrong });

    internal override bool Fits(SuspectLoom of) => Lamp(of) is { } lamp && (lamp.Flickers || lamp.Glow == Glow);

    internal override string Expected(SuspectLoom of) => Lamp(of) is not { } lamp ? "a dark lamp" : lamp.Flickers ? "a lamp that flickers" : $"a {(lamp.Glow == Glow.Dark ? "dark" : lamp.Glow == Glow.Dim ? "dim" : "bright")} lamp";

    private LampShows? Lamp(SuspectLoom of) => of.At(Meanwhile, At)?.Shows is { } shows ? ToSupply ? shows.LampToSupply : shows.LampToGround : null;
}
