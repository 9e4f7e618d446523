using WiseLoom.Core.Electrical;

namespace WiseLoom.Core.Shop;

/// <summary>Numbers of ohms that meters send.</summary>
public static class MeterNumber
{
    /// <summary>SCPI's word for "beyond the scale" (SCPI-99, 7.2.1.5: 9.9E37); what is as large means the same on other lines.</summary>
    private const double Infinity = 9.9e37;

    /// <summary>What a number means.</summary>
    /// <param name="ohms">As sent.</param>
    /// <returns>A reading; null for what no meter of resistance shows: less than −1 Ω, or more than 1 TΩ and no sign for over range.</returns>
    public static Reading? Read(double ohms) =>
        ohms >= Infinity * 0.99 ? Reading.OverRange
        : ohms is >= -1 and <= 1e12 ? new Reading(ohms)
        : null;
}
