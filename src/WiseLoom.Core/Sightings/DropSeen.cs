using System.Globalization;
using System.Text.Json.Serialization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Sightings;

/// <summary>What a known current dropped between two cavities: a load test.</summary>
/// <param name="A">A cavity.</param>
/// <param name="B">Another of the same circuit.</param>
/// <param name="Amps">The current; 0.05 to 100.</param>
/// <param name="Millivolts">The drop; the sign is not looked at.</param>
public sealed record DropSeen([property: JsonConverter(typeof(PointAsText))] ProbePoint A, [property: JsonConverter(typeof(PointAsText))] ProbePoint B, double Amps, double Millivolts) : Sighting
{
    /// <summary>A meter on its millivolt range: steps of 0.1 mV, three of them; the current is known to 3 %.</summary>
    private const double StepVolts = 1e-4, Steps = 3, Percent = 3;

    /// <summary>What copper and the current may add to a drop that is right: a share of it, and ohms.</summary>
    private const double MostOver = 0.25, MostOverOhms = 0.005;

    /// <inheritdoc/>
    public override string InWords() => string.Create(CultureInfo.InvariantCulture, $"{A} to {B} drops {Math.Abs(Millivolts):0.#} mV at {Amps:0.##} A");

    /// <inheritdoc/>
    public override string Subject() => $"drop {A} {B}";

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Loom loom) =>
        NoPoint(loom, A, "/a").Concat(NoPoint(loom, B, "/b")).Concat(Outside(Amps, 0.05, 100, "/amps", "A")).Concat(Outside(Millivolts, -60_000, 60_000, "/millivolts", "mV"));

    /// <summary>The resistance that makes the drop, ohms.</summary>
    internal double Ohm => Math.Abs(Millivolts) / 1000 / Amps;

    /// <summary>Current and millivolts together as a meter of resistance.</summary>
    /// <param name="amps">The current.</param>
    internal static Meter MeterAt(double amps) => new("Load test", [new(1000, Percent, Steps, StepVolts / amps)], true, 0, 0);

    internal override IEnumerable<ProbePoint> Begins(Loom loom) => [A, B];

    internal override double LogLikelihood(SuspectLoom of) => 0;

    internal override bool Fits(SuspectLoom of) => of.Bare(A, B) is { } joined && Ohm <= joined.Nominal * (1 + MostOver) + MostOverOhms;

    internal override string Expected(SuspectLoom of) => of.Bare(A, B) is { } joined ? $"{Say.Drop(joined.Nominal * Amps)}" : "nothing between them";
}
