using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Devices;

namespace WiseLoom.Core.PowerUp;

/// <summary>How a table of a sensor is written in a settings sheet: <c>-10 °C 9400 Ω; 20 °C 2500 Ω</c>.</summary>
public static class SettingText
{
    /// <summary>Writes points, the coldest first.</summary>
    public static string Of(IEnumerable<NtcPoint> points) =>
        string.Join("; ", points.OrderBy(p => p.Celsius).Select(p => string.Create(CultureInfo.InvariantCulture, $"{p.Celsius:0.##} °C {p.Ohms:0.###} Ω")));

    /// <summary>Reads them back; null when the text is none of three points or more.</summary>
    public static ImmutableArray<NtcPoint>? Points(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var points = ImmutableArray.CreateBuilder<NtcPoint>();
        foreach (var part in text.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            if (part.Split(' ', StringSplitOptions.RemoveEmptyEntries) is not [var celsius, "°C", var ohms, "Ω"]
                || !double.TryParse(celsius, NumberStyles.Float, CultureInfo.InvariantCulture, out var c) || !double.TryParse(ohms, NumberStyles.Float, CultureInfo.InvariantCulture, out var r))
            {
                return null;
            }

            points.Add(new(c, r));
        }

        return points.Count >= 3 ? points.ToImmutable() : null;
    }
}
