using System.Globalization;
using System.Text.Json.Serialization;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Sightings;

/// <summary>What a place has against the rest of the loom, joined: it grows with the metal that hangs on it, and so tells how far a break is away.</summary>
/// <param name="At">A cavity.</param>
/// <param name="Nanofarad">0.001 to 10,000.</param>
public sealed record CapacitanceSeen([property: JsonConverter(typeof(PointAsText))] ProbePoint At, double Nanofarad) : Sighting
{
    /// <inheritdoc/>
    public override string InWords() => string.Create(CultureInfo.InvariantCulture, $"{At} has {Nanofarad:0.###} nF to the rest of the loom");

    /// <inheritdoc/>
    public override string Subject() => $"capacitance {At}";

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Loom loom) => NoPoint(loom, At, "/at").Concat(Outside(Nanofarad, 0.001, 10_000, "/nanofarad", "nF"));

    internal override IEnumerable<ProbePoint> Begins(Loom loom) => [At];

    internal override double LogLikelihood(SuspectLoom of) => 0;

    internal override bool Fits(SuspectLoom of) => true;

    internal override string Expected(SuspectLoom of) => "it";
}
