using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Electrical;

/// <summary>A test under load: a known current through a pair, and the drop that its copper explains.</summary>
/// <param name="Amps">What flows.</param>
/// <param name="LeastDropVolts">The drop with every part at its least.</param>
/// <param name="MostDropVolts">The greatest drop that the copper explains; more is a fault.</param>
/// <param name="NoticedOhms">Smallest added resistance that the meter surely notices this way.</param>
public sealed record LoadTest(double Amps, double LeastDropVolts, double MostDropVolts, double NoticedOhms)
{
    /// <summary>A lamp of this power at the loom's own voltage, watts: two of the usual indicator size would be 42.</summary>
    public const double LampWatts = 21;

    /// <summary>What a hand meter's millivolt range is worth: share of the reading, and volts besides.</summary>
    private const double MeterShare = 0.005, MeterVolts = 0.0003;

    /// <summary>A meter that surely notices this much more needs no load beside it, ohms.</summary>
    public const double GoodEnoughOhms = 0.05;

    /// <summary>The test with a lamp or resistor.</summary>
    /// <param name="pair">What the pair must read, ohms.</param>
    /// <param name="supplyVolts">The supply the lamp hangs on, volts.</param>
    /// <param name="loadOhms">The load; null for a lamp of <see cref="LampWatts"/>.</param>
    /// <remarks>Source: Ohm's law; the drop a pair may show is current × its greatest resistance. The current is that of the load with
    /// the pair at its nominal value.</remarks>
    /// <exception cref="ArgumentOutOfRangeException">The load is not more than 0 Ω.</exception>
    public static LoadTest Of(OhmRange pair, double supplyVolts, double? loadOhms = null)
    {
        var load = loadOhms ?? (supplyVolts * supplyVolts / LampWatts);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(load, nameof(loadOhms));
        var amps = supplyVolts / (load + pair.Nominal);
        var most = amps * pair.Max;
        // The drop must still show above the limit when the meter is off both times.
        var noticed = ((most * (1 + MeterShare)) + (2 * MeterVolts)) / (1 - MeterShare);
        return new(amps, amps * pair.Min, most, Math.Max(0, (noticed / amps) - pair.Nominal));
    }

    /// <summary>Whether a pair of this use should be tested under load, because the meter at hand would miss a poor joint.</summary>
    /// <param name="role">What the pair's wires are for; null when the file does not say.</param>
    /// <param name="noticedOhms">What the meter surely notices; null for nothing.</param>
    public static bool IsNeeded(WireRole? role, double? noticedOhms) =>
        role is WireRole.Feed or WireRole.Ground && !(noticedOhms <= GoodEnoughOhms);

    /// <summary>What to do and what may be seen, in words.</summary>
    public string Sentence(WireRole? role) =>
        $"Put a {LampWatts:0} W lamp behind it ({Say.Amps(Amps)}) and measure along the wire from end to end: at most {Say.Volts(MostDropVolts)}. "
        + $"This notices {Say.Ohms(NoticedOhms)}. {(role == WireRole.Ground ? "A ground" : "A feed")} that shows battery voltage without a load proves nothing about its joints.";
}
