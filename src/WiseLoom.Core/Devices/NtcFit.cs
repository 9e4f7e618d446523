using System.Collections.Immutable;
using System.Globalization;
using MathNet.Numerics;

namespace WiseLoom.Core.Devices;

/// <summary>The curve of one NTC: 1/T = A + B·ln R + C·(ln R)³, T in kelvin, R in ohms (Steinhart and Hart, 1968).</summary>
/// <remarks>Exact through three points; through more it is the least-squares fit of 1/T. Defined between the outermost points and
/// as far beyond them as it still falls.</remarks>
public sealed class NtcFit
{
    private const double Kelvin = 273.15;

    /// <summary>A point further from the fitted curve than this, kelvin, cannot belong to the same sensor.</summary>
    public const double FurthestK = 5;

    /// <summary>Material constants outside these belong to no NTC, kelvin.</summary>
    private const double LeastBeta = 500, MostBeta = 20_000;

    private NtcFit(ImmutableArray<NtcPoint> points, double a, double b, double c, string? wrong) =>
        (Points, A, B, C, Wrong) = (points, a, b, c, wrong);

    /// <summary>The points, coldest first.</summary>
    public ImmutableArray<NtcPoint> Points { get; }

    /// <summary>Coefficient A, 1/K.</summary>
    public double A { get; }

    /// <summary>Coefficient B, 1/K.</summary>
    public double B { get; }

    /// <summary>Coefficient C, 1/K.</summary>
    public double C { get; }

    /// <summary>Why the points cannot belong to one NTC; null when they can.</summary>
    public string? Wrong { get; }

    /// <summary>β between the coldest and the warmest point: ln(R₁/R₂) / (1/T₁ − 1/T₂), kelvin; NaN when <see cref="Wrong"/>.</summary>
    public double Beta => Wrong is null ? BetaOf(Points[0], Points[^1]) : double.NaN;

    /// <summary>Fits a curve.</summary>
    /// <param name="points">At least three, in any order.</param>
    /// <returns>Never throws: points that make no curve give <see cref="Wrong"/> in words.</returns>
    public static NtcFit Through(ImmutableArray<NtcPoint> points)
    {
        ImmutableArray<NtcPoint> sorted = [.. points.OrderBy(p => p.Celsius)];
        NtcFit No(string wrong) => new(sorted, double.NaN, double.NaN, double.NaN, wrong);
        if (sorted.Length < 3)
        {
            return No("A curve needs at least three temperatures with their resistances.");
        }

        if (sorted.Any(Bad))
        {
            var bad = sorted.First(Bad);
            return No(string.Create(CultureInfo.InvariantCulture, $"{bad.Celsius} °C with {bad.Ohms} Ω cannot be: a temperature above −273.15 °C and a resistance above 0 Ω are needed."));
        }

        for (var i = 1; i < sorted.Length; i++)
        {
            var (cold, warm) = (sorted[i - 1], sorted[i]);
            if (warm.Celsius - cold.Celsius < 0.01)
            {
                return No(string.Create(CultureInfo.InvariantCulture, $"{cold.Celsius} °C stands twice; each temperature is needed once."));
            }

            if (warm.Ohms >= cold.Ohms)
            {
                return No(string.Create(CultureInfo.InvariantCulture, $"From {cold.Celsius} °C to {warm.Celsius} °C the resistance goes from {cold.Ohms} Ω to {warm.Ohms} Ω; an NTC falls as it warms. Are two readings exchanged, or is it a sensor that rises?"));
            }

            var beta = BetaOf(cold, warm);
            if (beta is < LeastBeta or > MostBeta)
            {
                return No(string.Create(CultureInfo.InvariantCulture, $"Between {cold.Celsius} °C and {warm.Celsius} °C β would be {beta:0} K; an NTC has {LeastBeta} to {MostBeta} K. Look at both readings again."));
            }
        }

        var (a, b, c) = Solve(sorted);
        var fit = new NtcFit(sorted, a, b, c, null);
        if (!fit.FallsThroughout())
        {
            return No("No Steinhart–Hart curve through these points falls all the way: one of them does not belong to this sensor.");
        }

        var far = sorted.MaxBy(p => Math.Abs(fit.CelsiusAt(p.Ohms) - p.Celsius))!;
        var off = fit.CelsiusAt(far.Ohms) - far.Celsius;
        return Math.Abs(off) > FurthestK
            ? No(string.Create(CultureInfo.InvariantCulture, $"{far.Ohms} Ω at {far.Celsius} °C lies {Math.Abs(off):0.0} K from the curve of the other points: it does not belong to this sensor."))
            : fit;
    }

    /// <summary>The temperature at a resistance.</summary>
    /// <param name="ohms">More than 0.</param>
    /// <returns>Degrees Celsius; NaN when the points make no curve.</returns>
    public double CelsiusAt(double ohms)
    {
        var ln = Math.Log(ohms);
        return (1 / (A + (B * ln) + (C * ln * ln * ln))) - Kelvin;
    }

    /// <summary>The resistance at a temperature.</summary>
    /// <returns>Ohms; NaN when the points make no curve, or far outside them where the curve has ended.</returns>
    /// <remarks>The one real root of C·x³ + B·x + A − 1/T = 0 on the falling side, by bisection: nothing cancels.</remarks>
    public double OhmsAt(double celsius)
    {
        if (Wrong is not null || !(celsius > -Kelvin))
        {
            return double.NaN;
        }

        double Off(double ln) => A + (B * ln) + (C * ln * ln * ln) - (1 / (celsius + Kelvin));
        var (low, high) = (Math.Log(Points[^1].Ohms) - 8, Math.Log(Points[0].Ohms) + 8);
        // The curve may turn where C < 0: then it ends there.
        if (C < 0)
        {
            var turn = Math.Sqrt(-B / (3 * C));
            (low, high) = (Math.Max(low, -turn), Math.Min(high, turn));
        }

        if (Off(low) > 0 || Off(high) < 0)
        {
            return double.NaN;
        }

        for (var i = 0; i < 200 && high - low > 1e-15 * Math.Max(1, Math.Abs(low)); i++)
        {
            var middle = (low + high) / 2;
            (low, high) = Off(middle) < 0 ? (middle, high) : (low, middle);
        }

        return Math.Exp((low + high) / 2);
    }

    private static bool Bad(NtcPoint p) => !double.IsFinite(p.Celsius) || !(p.Ohms > 0) || !double.IsFinite(p.Ohms) || p.Celsius <= -Kelvin;

    private static double BetaOf(NtcPoint cold, NtcPoint warm) =>
        Math.Log(cold.Ohms / warm.Ohms) / ((1 / (cold.Celsius + Kelvin)) - (1 / (warm.Celsius + Kelvin)));

    private static (double A, double B, double C) Solve(ImmutableArray<NtcPoint> points)
    {
        double[] ln = [.. points.Select(p => Math.Log(p.Ohms))];
        double[] inverse = [.. points.Select(p => 1 / (p.Celsius + Kelvin))];
        if (points.Length == 3)
        {
            // The textbook form for three points.
            var (u2, u3) = ((inverse[1] - inverse[0]) / (ln[1] - ln[0]), (inverse[2] - inverse[0]) / (ln[2] - ln[0]));
            var c3 = (u3 - u2) / (ln[2] - ln[1]) / (ln[0] + ln[1] + ln[2]);
            var b3 = u2 - (c3 * ((ln[0] * ln[0]) + (ln[0] * ln[1]) + (ln[1] * ln[1])));
            return (inverse[0] - ((b3 + (c3 * ln[0] * ln[0])) * ln[0]), b3, c3);
        }

        var fit = Fit.LinearCombination(ln, inverse, _ => 1, x => x, x => x * x * x);
        return (fit[0], fit[1], fit[2]);
    }

    /// <summary>Whether 1/T rises with ln R from the warmest to the coldest point.</summary>
    private bool FallsThroughout()
    {
        double Slope(double ln) => B + (3 * C * ln * ln);
        var (low, high) = (Math.Log(Points[^1].Ohms), Math.Log(Points[0].Ohms));
        return Slope(low) > 0 && Slope(high) > 0 && (low > 0 || high < 0 || Slope(0) > 0);
    }
}
