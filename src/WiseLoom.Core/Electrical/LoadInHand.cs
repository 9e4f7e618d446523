using System.Globalization;

namespace WiseLoom.Core.Electrical;

/// <summary>What draws the current of a load test.</summary>
/// <param name="Name">How the bench calls it.</param>
/// <param name="Ohms">Its resistance while the current flows, ohms; more than 0.</param>
/// <param name="Share">How far its current may be from what its name says, share of the current.</param>
public sealed record LoadInHand(string Name, double Ohms, double Share)
{
    /// <summary>Power of the lamp that most benches have at hand, watts.</summary>
    public const double UsualLampWatts = 21;

    /// <summary>A lamp, hot.</summary>
    /// <param name="watts">At the voltage it is fed with; 2 to 100.</param>
    /// <param name="volts">That voltage.</param>
    /// <exception cref="ArgumentOutOfRangeException">The power is outside its range, or the voltage not more than 0.</exception>
    public static LoadInHand Lamp(double watts, double volts)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(watts, 2);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(watts, 100);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(volts);
        return new(string.Create(CultureInfo.InvariantCulture, $"{watts:0.#} W lamp"), volts * volts / watts, 0.1);
    }

    /// <summary>A resistor.</summary>
    /// <param name="ohms">1 to 1,000.</param>
    /// <exception cref="ArgumentOutOfRangeException">The resistance is outside its range.</exception>
    public static LoadInHand Resistor(double ohms)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(ohms, 1);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(ohms, 1000);
        return new(string.Create(CultureInfo.InvariantCulture, $"{ohms:0.##} Ω resistor"), ohms, 0.05);
    }
}
