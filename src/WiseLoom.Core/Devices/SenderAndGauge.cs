using System.Collections.Immutable;
using System.Globalization;

namespace WiseLoom.Core.Devices;

/// <summary>A point of a sender's curve, or of the curve a gauge is made for.</summary>
/// <param name="Units">What is shown: litres, kilopascals, degrees.</param>
/// <param name="Ohms">The resistance that belongs to it.</param>
public sealed record SenderPoint(double Units, double Ohms);

/// <summary>What a gauge would show for a sender at one place of its travel.</summary>
/// <param name="True">What is so.</param>
/// <param name="Shown">What the gauge shows.</param>
public sealed record GaugeReading(double True, double Ohms, double Shown)
{
    /// <summary>How far the gauge is off: above 0 it shows too much.</summary>
    public double Off => Shown - True;
}

/// <summary>A sender with a gauge that may be made for another one.</summary>
/// <param name="Readings">Along the sender's travel.</param>
/// <param name="Worst">Where it is off most.</param>
/// <param name="Match">Whether the two belong together.</param>
public sealed record SenderAndGauge(ImmutableArray<GaugeReading> Readings, GaugeReading Worst, bool Match, string Sentence)
{
    /// <summary>A pair that is nowhere off by more than this share of the scale belongs together.</summary>
    public const double MatchShare = 0.05;

    private const int Steps = 20;

    /// <summary>Lays a sender's curve beside the curve its gauge is made for.</summary>
    /// <param name="sender">At least two points; resistance all rising or all falling.</param>
    /// <param name="gauge">The same of the gauge.</param>
    /// <returns>Never throws on odd curves: null with what is wrong with them.</returns>
    public static (SenderAndGauge? Pair, string? Wrong) Of(ImmutableArray<SenderPoint> sender, ImmutableArray<SenderPoint> gauge)
    {
        if ((Wrong(sender, "sender") ?? Wrong(gauge, "gauge")) is { } wrong)
        {
            return (null, wrong);
        }

        var (send, made) = (sender.OrderBy(p => p.Units).ToImmutableArray(), gauge.OrderBy(p => p.Units).ToImmutableArray());
        var (low, high) = (send[0].Units, send[^1].Units);
        var readings = Enumerable.Range(0, Steps + 1).Select(i =>
        {
            var units = low + ((high - low) * i / Steps);
            var ohms = Along(send, p => p.Units, p => p.Ohms, units);
            return new GaugeReading(units, ohms, Along([.. made.OrderBy(p => p.Ohms)], p => p.Ohms, p => p.Units, ohms));
        }).ToImmutableArray();
        var worst = readings.MaxBy(r => Math.Abs(r.Off))!;
        var span = made[^1].Units - made[0].Units;
        var match = Math.Abs(worst.Off) <= MatchShare * span;
        var against = send[^1].Ohms > send[0].Ohms != made[^1].Ohms > made[0].Ohms;
        var sentence = match
            ? string.Create(CultureInfo.InvariantCulture, $"They belong together: nowhere more than {Math.Abs(worst.Off):0.##} off.")
            : string.Create(CultureInfo.InvariantCulture, $"They do not belong together: at {worst.True:0.##} ({worst.Ohms:0.#} Ω) the gauge shows {worst.Shown:0.##}, {Math.Abs(worst.Off):0.##} too {(worst.Off > 0 ? "much" : "little")}.{(against ? " One rises where the other falls: full would read empty." : "")}");
        return (new(readings, worst, match, sentence), null);
    }

    private static string? Wrong(ImmutableArray<SenderPoint> points, string whose)
    {
        if (points.Length < 2)
        {
            return $"The {whose} needs at least two points, each with what is shown and its resistance.";
        }

        if (points.Any(p => !double.IsFinite(p.Units) || !double.IsFinite(p.Ohms) || p.Ohms < 0))
        {
            return $"A point of the {whose} is no number, or below 0 Ω.";
        }

        var sorted = points.OrderBy(p => p.Units).ToList();
        var steps = sorted.Zip(sorted.Skip(1), (a, b) => (Units: b.Units - a.Units, Ohms: b.Ohms - a.Ohms)).ToList();
        return steps.Exists(s => s.Units <= 0) ? $"The {whose} has one value twice."
            : steps.TrueForAll(s => s.Ohms > 0) || steps.TrueForAll(s => s.Ohms < 0) ? null
            : $"The resistance of the {whose} turns back on its way: it must rise all the way or fall all the way.";
    }

    /// <summary>Along straight lines between points; at the ends it stays, as a pointer does at its stop.</summary>
    private static double Along(ImmutableArray<SenderPoint> points, Func<SenderPoint, double> x, Func<SenderPoint, double> y, double at)
    {
        if (at <= x(points[0]))
        {
            return y(points[0]);
        }

        for (var i = 1; i < points.Length; i++)
        {
            if (at <= x(points[i]))
            {
                var share = (at - x(points[i - 1])) / (x(points[i]) - x(points[i - 1]));
                return y(points[i - 1]) + (share * (y(points[i]) - y(points[i - 1])));
            }
        }

        return y(points[^1]);
    }
}
