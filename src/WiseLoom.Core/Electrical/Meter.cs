using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace WiseLoom.Core.Electrical;

/// <summary>One resistance range of a meter.</summary>
/// <param name="UpToOhms">Greatest value it shows, ohms.</param>
/// <param name="Percent">First half of its accuracy: percent of the reading.</param>
/// <param name="Counts">Second half: steps of the last digit.</param>
/// <param name="ResolutionOhms">One step of the last digit, ohms.</param>
public sealed record MeterRange(double UpToOhms, double Percent, double Counts, double ResolutionOhms)
{
    /// <summary>The part of the uncertainty that does not grow with the reading, ohms.</summary>
    [JsonIgnore]
    public double FloorOhms => Counts * ResolutionOhms;
}

/// <summary>What a meter can and cannot tell.</summary>
/// <param name="Ranges">From the lowest to the highest; at least one.</param>
/// <param name="FourWire">Whether the leads drop out of the reading.</param>
/// <param name="TouchOhms">How far one touch differs from the next, worst case, ohms.</param>
/// <param name="LeadOhms">What the leads add before they are nulled, ohms.</param>
public sealed record Meter(string Name, ImmutableArray<MeterRange> Ranges, bool FourWire, double TouchOhms, double LeadOhms)
{
    /// <summary>Two meters are the same when every figure is, however they came here.</summary>
    public bool Equals(Meter? other) => other is not null && Name == other.Name && FourWire == other.FourWire
        && TouchOhms.Equals(other.TouchOhms) && LeadOhms.Equals(other.LeadOhms) && Ranges.SequenceEqual(other.Ranges);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Name, FourWire, TouchOhms, LeadOhms, Ranges.Length);

    /// <summary>A bench meter with four leads, 0.1 mΩ steps, up to 100 MΩ.</summary>
    public static Meter BenchFourWire { get; } = new(
        "Bench meter, four-wire",
        [
            new(1, 0.03, 8, 0.0001),
            new(100, 0.02, 4, 0.001),
            new(10_000, 0.02, 4, 0.1),
            new(1_000_000, 0.05, 4, 10),
            new(100_000_000, 1, 4, 1000),
        ],
        true,
        0.0005,
        0);

    /// <summary>A hand meter with two leads and 0.1 Ω steps, up to 40 MΩ.</summary>
    public static Meter HandTwoWire { get; } = new(
        "Hand meter, two-wire",
        [
            new(400, 0.8, 3, 0.1),
            new(4_000, 0.8, 2, 1),
            new(40_000, 0.8, 2, 10),
            new(400_000, 0.8, 2, 100),
            new(4_000_000, 1.2, 3, 1000),
            new(40_000_000, 2, 5, 10_000),
        ],
        false,
        0.1,
        0.3);

    /// <summary>Beyond this the meter shows over range, ohms.</summary>
    public double UpToOhms => Ranges[^1].UpToOhms;

    /// <summary>Worst-case uncertainty of a reading: accuracy of its range plus the touch.</summary>
    /// <param name="ohms">The reading; 0 to <see cref="UpToOhms"/>.</param>
    /// <returns>Ohms; more than 0.</returns>
    public double Uncertainty(double ohms)
    {
        var range = RangeFor(ohms);
        return (range.Percent / 100 * Math.Abs(ohms)) + range.FloorOhms + TouchOhms;
    }

    /// <summary>The lowest range that shows a value; the highest one when none does.</summary>
    public MeterRange RangeFor(double ohms)
    {
        foreach (var range in Ranges)
        {
            if (Math.Abs(ohms) <= range.UpToOhms)
            {
                return range;
            }
        }

        return Ranges[^1];
    }
}
