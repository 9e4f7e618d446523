namespace WiseLoom.Core.Units;

/// <summary>Writes values as a person reads them: three or four figures and a unit.</summary>
public static class Say
{
    /// <summary>A resistance: <c>72.4 mΩ</c>, <c>1.24 Ω</c>, <c>12.0 kΩ</c>, <c>10 MΩ</c>; <c>no limit</c> for infinity.</summary>
    public static string Ohms(double ohms)
    {
        if (double.IsPositiveInfinity(ohms))
        {
            return Words.Text("no limit");
        }

        var size = Math.Abs(ohms);
        return size switch
        {
            0 => "0 Ω",
            < 0.9995 => Figures(ohms * 1e3, "mΩ"),
            < 999.5 => Figures(ohms, "Ω"),
            < 999.5e3 => Figures(ohms / 1e3, "kΩ"),
            _ => Figures(ohms / 1e6, "MΩ"),
        };
    }

    /// <summary>A drop under load, three figures: <c>13.2 mV</c>, <c>1.40 V</c>.</summary>
    public static string Drop(double volts) => volts == 0 ? "0 mV" : Math.Abs(volts) < 0.9995 ? Figures(volts * 1000, "mV") : Figures(volts, "V");

    /// <summary>Two values with the unit written once where both share it: <c>52.1 to 98.0 mΩ</c>.</summary>
    /// <param name="least">A figure, a space and a unit.</param>
    /// <param name="most">The same.</param>
    public static string Between(string least, string most)
    {
        var (a, b) = (least.Split(' '), most.Split(' '));
        return a[1] == b[1] ? Words.Of($"{a[0]} to {most}") : Words.Of($"{least} to {most}");
    }

    /// <summary>A voltage: <c>12.6 V</c>, <c>5.01 V</c>, <c>46 mV</c>; below 1 mV <c>0 V</c>.</summary>
    public static string Volts(double volts) => Math.Abs(volts) switch
    {
        < 0.001 => "0 V",
        < 0.0995 => string.Create(Words.Language.Numbers, $"{volts * 1000:0} mV"),
        < 9.995 => string.Create(Words.Language.Numbers, $"{volts:0.00} V"),
        _ => string.Create(Words.Language.Numbers, $"{volts:0.0} V"),
    };

    /// <summary>A force: <c>85 N</c>, <c>8.4 N</c>.</summary>
    public static string Newtons(double newtons) => Math.Abs(newtons) < 9.95
        ? string.Create(Words.Language.Numbers, $"{newtons:0.#} N")
        : string.Create(Words.Language.Numbers, $"{newtons:0} N");

    /// <summary>A current: <c>1.05 A</c>, <c>46 mA</c>, <c>12 µA</c>; below 1 µA <c>no current</c>.</summary>
    public static string Amps(double amps) => Math.Abs(amps) switch
    {
        < 1e-6 => Words.Text("no current"),
        < 0.9995e-3 => string.Create(Words.Language.Numbers, $"{amps * 1e6:0} µA"),
        < 0.9995 => string.Create(Words.Language.Numbers, $"{amps * 1000:0.#} mA"),
        < 9.995 => string.Create(Words.Language.Numbers, $"{amps:0.00} A"),
        < 9995 => string.Create(Words.Language.Numbers, $"{amps:0.0} A"),
        < 9.995e6 => string.Create(Words.Language.Numbers, $"{amps / 1e3:0.0} kA"),
        _ => string.Create(Words.Language.Numbers, $"{amps / 1e6:0.0} MA"),
    };

    /// <summary>A time: <c>45 s</c>, <c>12 min</c>, <c>1 h 05 min</c>.</summary>
    public static string Duration(double seconds) => seconds switch
    {
        < 90 => string.Create(Words.Language.Numbers, $"{Math.Max(0, seconds):0} s"),
        < 3570 => string.Create(Words.Language.Numbers, $"{seconds / 60:0} min"),
        _ => string.Create(Words.Language.Numbers, $"{Math.Floor(Math.Round(seconds / 60) / 60):0} h {Math.Round(seconds / 60) % 60:00} min"),
    };

    private static string Figures(double value, string unit)
    {
        var form = Math.Abs(value) switch { >= 99.95 => "0", >= 9.995 => "0.0", _ => "0.00" };
        return $"{Words.Figure(value, form)} {unit}";
    }
}
