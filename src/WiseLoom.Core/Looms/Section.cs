using System.Globalization;

namespace WiseLoom.Core.Looms;

/// <summary>Copper cross-section of a wire, kept in the unit the file gave it in.</summary>
public readonly record struct Section
{
    private Section(double mm2, int? awg)
    {
        Mm2 = mm2;
        Awg = awg;
    }

    /// <summary>Area, square millimetres.</summary>
    public double Mm2 { get; }

    /// <summary>The gauge number, when the file gave one.</summary>
    public int? Awg { get; }

    /// <summary>A section in mm², above 0; throws for anything else.</summary>
    public static Section FromMm2(double mm2) =>
        mm2 > 0 && double.IsFinite(mm2) ? new(mm2, null) : throw new ArgumentOutOfRangeException(nameof(mm2), mm2, "A section is more than 0 mm².");

    /// <summary>Area of a solid conductor of this gauge: π/4 · (0.127 mm · 92^((36−n)/39))².</summary>
    /// <param name="awg">−3 (called 4/0) to 40.</param>
    /// <remarks>Source: the geometric definition of the American wire gauge (ASTM B258).</remarks>
    public static Section FromAwg(int awg)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(awg, -3);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(awg, 40);
        var diameter = 0.127 * Math.Pow(92, (36 - awg) / 39.0);
        return new(Math.PI / 4 * diameter * diameter, awg);
    }

    /// <summary>As a person writes it: <c>0.5 mm²</c> or <c>AWG 20</c>.</summary>
    public override string ToString() => Awg is { } awg
        ? string.Create(CultureInfo.InvariantCulture, $"AWG {(awg >= 0 ? awg : $"{1 - awg}/0")}")
        : string.Create(CultureInfo.InvariantCulture, $"{Mm2:0.###} mm²");

    /// <summary>The same as papers for customers write it.</summary>
    public string InWords() => Awg is null ? $"{Words.Figure(Mm2, "0.###")} mm²" : ToString();
}
