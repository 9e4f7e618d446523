using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.States;

/// <summary>What the shop lets a wire carry and lose. The figures are defaults that a shop may change.</summary>
/// <param name="InsulationC">Temperature class of the insulation, degrees Celsius: 85, 105 or 125.</param>
/// <param name="FeedDrop">Largest share of the supply that a feed may lose.</param>
/// <param name="SensorGroundDrop">Largest share of the supply that a sensor ground may lose.</param>
/// <param name="FuseLoad">Largest share of its rating that a fuse may carry all the time.</param>
/// <param name="Table">What a single wire in still air carries with a rise of <see cref="RiseK"/>, insulation class 105 °C, by rising section; two rows at least.</param>
public sealed record CableLimits(double InsulationC, double FeedDrop, double SensorGroundDrop, double FuseLoad, ImmutableArray<SectionAmps> Table)
{
    /// <summary>Rise of the copper at the current of the table, kelvin.</summary>
    public const double RiseK = 50;

    /// <summary>What a shop starts with, until a lead has set its own.</summary>
    public static CableLimits Usual { get; } = new(
        105, 0.03, 0.01, 0.8,
        [
            new(0.22, 3.5), new(0.35, 5), new(0.5, 8), new(0.75, 11), new(1, 14), new(1.5, 18), new(2.5, 26),
            new(4, 36), new(6, 47), new(10, 66), new(16, 90), new(25, 122), new(35, 152), new(50, 190),
        ]);

    /// <summary>Wires in one bundle, and the share of the single wire's current that is left to each.</summary>
    private static readonly (int UpTo, double Share)[] Bundles = [(3, 1), (6, 0.8), (12, 0.7), (24, 0.6), (48, 0.5), (int.MaxValue, 0.45)];

    /// <summary>What a wire may carry all the time.</summary>
    /// <param name="bundle">Wires that run with it, itself among them.</param>
    /// <returns>Amperes; between the sizes of the table along a straight line on logarithmic scales, beyond it on the line of the outermost two.</returns>
    public double Amps(Section section, int bundle)
    {
        var at = Math.Clamp(Table.Count(row => row.Mm2 <= section.Mm2) - 1, 0, Table.Length - 2);
        var (low, high) = (Table[at], Table[at + 1]);
        var share = Math.Log(section.Mm2 / low.Mm2) / Math.Log(high.Mm2 / low.Mm2);
        var single = low.Amps * Math.Pow(high.Amps / low.Amps, share);
        var insulation = InsulationC >= 125 ? 1.15 : InsulationC >= 105 ? 1 : 0.85;
        return single * insulation * Bundles.First(b => bundle <= b.UpTo).Share;
    }

    /// <summary>How warm the copper gets above its surroundings: the rise goes with the square of the current.</summary>
    /// <returns>Kelvin.</returns>
    public double Rise(double amps, Section section, int bundle) => RiseK * Math.Pow(amps / Amps(section, bundle), 2);
}

/// <summary>What a wire of a section carries.</summary>
/// <param name="Mm2">Square millimetres.</param>
/// <param name="Amps">Amperes.</param>
public sealed record SectionAmps(double Mm2, double Amps);

/// <summary>How warm a wire gets, as a person would feel it.</summary>
public enum RiseClass
{
    /// <summary>Under 5 K.</summary>
    Cool,

    /// <summary>5 to 20 K.</summary>
    Warm,

    /// <summary>20 to 50 K.</summary>
    Hot,

    /// <summary>More than its insulation is for.</summary>
    TooHot,
}
