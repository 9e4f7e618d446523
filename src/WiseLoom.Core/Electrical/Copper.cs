using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Electrical;

/// <summary>Resistance of a copper wire from its section, length and temperature.</summary>
public static class Copper
{
    /// <summary>Resistivity of annealed copper at 20 °C, Ω·mm²/m ·10³ = mΩ/m for 1 mm². Source: IEC 60028 (100 % IACS, 1/58 Ω·mm²/m).</summary>
    public const double MilliohmMm2PerMetre = 17.241;

    /// <summary>Relative rise of resistance per kelvin around 20 °C. Source: IEC 60028.</summary>
    public const double PerKelvin = 0.00393;

    /// <summary>The most that a size outside the table may be above nominal.</summary>
    public const double MostOfNominal = 1.08;

    /// <summary>Greatest conductor resistance at 20 °C by section, mΩ/m. Source: ISO 6722-1, table of conductor resistances.</summary>
    private static readonly (double Mm2, double MilliohmPerMetre)[] Table =
    [
        (0.22, 84.8), (0.35, 54.4), (0.5, 37.1), (0.75, 24.7), (1, 18.5), (1.25, 14.9), (1.5, 12.7), (2, 9.42), (2.5, 7.60),
        (3, 6.15), (4, 4.71), (5, 3.94), (6, 3.14), (8, 2.38), (10, 1.82), (12, 1.52), (16, 1.16), (20, 0.955), (25, 0.743),
        (30, 0.647), (35, 0.527), (40, 0.473), (50, 0.368),
    ];

    /// <summary>Sections that the table has, rising, mm².</summary>
    public static IEnumerable<double> Sections => Table.Select(row => row.Mm2);

    /// <summary>Resistance per metre at 20 °C.</summary>
    /// <param name="tolerance">How far the wire may be from its drawing.</param>
    /// <returns>Milliohms per metre: the shop's least (0.96 × nominal), nominal, and the table's greatest value (1.08 × nominal for a size outside it).</returns>
    public static OhmRange MilliohmPerMetre(Section section, CopperTolerance tolerance)
    {
        var nominal = MilliohmMm2PerMetre / section.Mm2;
        var listed = section.Awg is null
            ? Array.Find(Table, row => Math.Abs(row.Mm2 - section.Mm2) < 1e-9).MilliohmPerMetre
            : 0;
        return new(tolerance.LeastOfNominal * nominal, nominal, listed > 0 ? listed : MostOfNominal * nominal);
    }

    /// <summary>Resistance of one wire without its ends.</summary>
    /// <param name="ambientC">Temperature of the copper, degrees Celsius.</param>
    /// <param name="tolerance">How far the wire may be from its drawing.</param>
    /// <returns>Ohms; every limit 0 or more. Length and temperature tolerances are in the limits, not in the nominal value.</returns>
    public static OhmRange Wire(Section section, double lengthMm, double ambientC, CopperTolerance tolerance)
    {
        var perMetre = MilliohmPerMetre(section, tolerance);
        var off = Math.Max(tolerance.LengthShare * lengthMm, tolerance.LengthMm);
        return new(
            perMetre.Min * Metres(lengthMm - off) * Warm(ambientC - tolerance.AmbientK) / 1000,
            perMetre.Nominal * Metres(lengthMm) * Warm(ambientC) / 1000,
            perMetre.Max * Metres(lengthMm + off) * Warm(ambientC + tolerance.AmbientK) / 1000);
    }

    /// <summary>The same of a wire whose length or section may be a range: the thickest and shortest that it can be is the least, the thinnest and longest the most.</summary>
    public static OhmRange Wire(Wire wire, double ambientC, CopperTolerance tolerance)
    {
        ArgumentNullException.ThrowIfNull(wire);
        var nominal = Wire(wire.Section, wire.LengthMm, ambientC, tolerance);
        if (!wire.IsEstimated)
        {
            return nominal;
        }

        Section Thick(double? mm2) => mm2 is { } known ? Section.FromMm2(known) : wire.Section;
        var least = Wire(Thick(wire.SectionRange?.Max), wire.LengthRange?.Min ?? wire.LengthMm, ambientC, tolerance);
        var most = Wire(Thick(wire.SectionRange?.Min), wire.LengthRange?.Max ?? wire.LengthMm, ambientC, tolerance);
        return new(Math.Min(least.Min, nominal.Min), nominal.Nominal, Math.Max(most.Max, nominal.Max));
    }

    private static double Metres(double mm) => Math.Max(0, mm) / 1000;

    private static double Warm(double celsius) => Math.Max(0, 1 + (PerKelvin * (celsius - 20)));
}
