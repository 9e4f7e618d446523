using System.Globalization;
using System.Text.RegularExpressions;

namespace WiseLoom.Core.Intake;

/// <summary>Numbers with units, as people write them.</summary>
internal static partial class Quantities
{
    /// <summary>Section in mm² that stands for a gauge in metric lists: the usual neighbour.</summary>
    private static readonly (int Awg, double Mm2)[] Neighbours = [(24, 0.22), (22, 0.35), (20, 0.5), (18, 0.75), (17, 1), (16, 1.5), (14, 2.5), (12, 4), (10, 6), (8, 10), (6, 16), (4, 25), (2, 35), (1, 50)];

    [GeneratedRegex("""^[~≈+]?\s*(?<n>\d+(?:[.,]\d+)?)\s*(?<u>[\p{L}²"”″']*\d?)\.?$""")]
    private static partial Regex Number();

    [GeneratedRegex(@"^(?:awg|ga\.?|gauge)\s*#?\s*(?<n>\d{1,2}|\d/0)$|^#?\s*(?<n>\d{1,2}|\d/0)\s*(?:awg|ga\.?|gauge)$", RegexOptions.IgnoreCase)]
    private static partial Regex Gauge();

    /// <summary>The metric section that is bought where a list says this gauge, mm²; null for a gauge without one.</summary>
    internal static double? Neighbour(int awg) => Array.Find(Neighbours, n => n.Awg == awg) is { Mm2: > 0 } found ? found.Mm2 : null;

    /// <summary>The gauge, where a cell says one with its unit, or with none in a column of gauges; −3 to 40.</summary>
    internal static int? Awg(string cell, bool withoutUnit)
    {
        var text = cell.Trim();
        var number = Gauge().Match(text) is { Success: true } said ? said.Groups["n"].Value : withoutUnit ? text : "";
        return number.EndsWith("/0", StringComparison.Ordinal) ? int.TryParse(number[..^2], NumberStyles.None, CultureInfo.InvariantCulture, out var zeros) && zeros is >= 1 and <= 4 ? 1 - zeros : null
            : int.TryParse(number, NumberStyles.None, CultureInfo.InvariantCulture, out var awg) && awg <= 40 ? awg : null;
    }

    /// <summary>A section in mm² by its own unit or none.</summary>
    internal static double? Mm2(string cell) =>
        Number().Match(cell.Trim()) is { Success: true } m && Plain.Joined(m.Groups["u"].Value) is "" or "mm" or "mm2" or "qmm" or "sqmm" && Figure(m.Groups["n"].Value) is var n && n is > 0 and <= 1000 ? n : null;

    /// <summary>A length in millimetres by its own unit, or by its column's.</summary>
    /// <param name="unit">Of the column; null where cells have their own.</param>
    internal static double? Millimetres(string cell, string? unit)
    {
        if (Number().Match(cell.Trim()) is not { Success: true } m)
        {
            return null;
        }

        var own = Unit(m.Groups["u"].Value);
        return own == "?" || (own ?? unit) is not { } by ? null : Figure(m.Groups["n"].Value, by) * Factor(by);
    }

    /// <summary>The unit of length that a cell has itself; null for none, or no length.</summary>
    internal static string? OwnUnit(string cell) => Number().Match(cell.Trim()) is { Success: true } m && Unit(m.Groups["u"].Value) is { } unit and not "?" ? unit : null;

    /// <summary>The number of a cell, whatever its unit; null for none.</summary>
    internal static double? NumberOf(string cell) => Number().Match(cell.Trim()) is { Success: true } m ? Figure(m.Groups["n"].Value) : null;

    /// <summary>The unit of length that a word means; null for none, <c>?</c> for a word that is no unit of length.</summary>
    internal static string? Unit(string word) => word.Trim().ToLowerInvariant() switch
    {
        "" => null,
        "mm" or "millimetre" or "millimeter" => "mm",
        "cm" => "cm",
        "m" or "metre" or "meter" or "metres" or "meters" or "mtr" => "m",
        "in" or "inch" or "inches" or "zoll" or "\"" or "”" or "″" or "''" => "in",
        "ft" or "feet" or "foot" or "'" => "ft",
        _ => "?",
    };

    /// <summary>A length in another unit.</summary>
    internal static double In(double millimetres, string unit) => millimetres / Factor(unit);

    private static double Factor(string unit) => unit switch { "cm" => 10, "m" => 1000, "in" => 25.4, "ft" => 304.8, _ => 1 };

    /// <summary>A comma is a decimal comma, unless it parts thousands of millimetres: <c>1,260 mm</c>.</summary>
    private static double Figure(string digits, string? unit = null)
    {
        var comma = digits.IndexOf(',', StringComparison.Ordinal);
        var plain = comma < 0 ? digits : unit == "mm" && digits.Length - comma == 4 ? digits.Remove(comma, 1) : digits.Replace(',', '.');
        return double.Parse(plain, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture);
    }
}
