using System.Collections.Immutable;
using System.Text.Json.Serialization;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Sightings;

/// <summary>What a meter of resistance showed between two cavities with everything plugged in and no power.</summary>
/// <param name="A">A cavity.</param>
/// <param name="B">Another.</param>
/// <param name="Ohm">Ohms; null for over range.</param>
/// <param name="Plugged">Refs of the devices that were plugged in; empty for all of them.</param>
public sealed record FittedSeen([property: JsonConverter(typeof(PointAsText))] ProbePoint A, [property: JsonConverter(typeof(PointAsText))] ProbePoint B, double? Ohm, ImmutableArray<string> Plugged) : Sighting
{
    /// <inheritdoc cref="FittedSeen" path="/param[@name='Plugged']"/>
    public ImmutableArray<string> Plugged { get; init; } = Plugged.IsDefault ? [] : Plugged;

    /// <summary>Conditions that held, such as <c>no oil pressure</c> of an engine that stands; none when the bench says nothing of them.</summary>
    public ImmutableArray<string> Set { get; init; } = [];

    /// <inheritdoc/>
    public override string InWords() => $"{A} to {B} reads {(Ohm is { } ohm ? Say.Ohms(ohm) : "over range")} with {(Plugged.IsEmpty ? "everything" : "its devices")} plugged in";

    /// <inheritdoc/>
    public override string Subject() => $"fitted {A} {B}";

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Loom loom) => NoPoint(loom, A, "/a").Concat(NoPoint(loom, B, "/b")).Concat(Ohm is { } ohm ? Outside(ohm, -1, 1e12, "/ohm", "Ω") : [])
        .Concat(Plugged.Where(p => loom.Devices.All(d => d.Ref != p)).Select(p => new Problem("/plugged", $"This loom has no device '{p}'.")));

    internal override IEnumerable<ProbePoint> Begins(Loom loom) => [A, B];

    internal override double LogLikelihood(SuspectLoom of) => of.Fitted(A, B, Plugged, Set) is { } fitted ? of.LogOf(Ohm, fitted.Ohm) : 0;

    internal override bool Fits(SuspectLoom of) => of.Fitted(A, B, Plugged, Set) is not { } fitted || of.IsNear(Ohm, fitted.Ohm);

    internal override string Expected(SuspectLoom of) => of.Fitted(A, B, Plugged, Set) is { } fitted ? Said(fitted.Ohm) : "a diode in the way";
}
