using System.Collections.Immutable;
using WiseLoom.Core.Devices;

namespace WiseLoom.Core.PowerUp;

/// <summary>How a cranked engine slows down at each compression, told from the edges of its crank wheel.</summary>
/// <param name="Cylinders">Slow places in two turns; 0 when the log is too short to tell.</param>
/// <param name="Depths">How much longer a turn of the wheel takes at each of them than in the mean, share, in the order in which they come.</param>
public sealed record Compressions(int Cylinders, ImmutableArray<double> Depths)
{
    /// <summary>Between so many cylinders a choice is made.</summary>
    private const int Least = 1, Most = 16;

    /// <summary>A compression of less than this share of the usual depth is weak.</summary>
    private const double Weak = 0.5;

    /// <summary>Numbers of weak compressions, from 1, in the order in which they come.</summary>
    public ImmutableArray<int> WeakOnes
    {
        get
        {
            var usual = Depths.IsEmpty ? 0 : Depths.Order().ElementAt(Depths.Length / 2);
            return [.. Depths.Select((d, i) => (d, i)).Where(x => x.d < Weak * usual).Select(x => x.i + 1)];
        }
    }

    /// <summary>Of the edges of a wheel with a gap, judged before.</summary>
    /// <param name="wheel">On the crank.</param>
    /// <param name="edges">Microseconds, rising.</param>
    /// <param name="gaps">Numbers of the edges that end a gap, as <see cref="JudgedTrigger.Gaps"/>.</param>
    public static Compressions Of(TriggerWheel wheel, IReadOnlyList<double> edges, ImmutableArray<int> gaps)
    {
        ArgumentNullException.ThrowIfNull(wheel);
        ArgumentNullException.ThrowIfNull(edges);
        var perTurn = wheel.Teeth - wheel.Missing;
        // Pairs of turns without a lost edge, so that a place of the wheel is a place of the crank.
        var times = new double[2 * wheel.Teeth];
        var pairs = 0;
        for (var g = 0; g + 2 < gaps.Length; g += 2)
        {
            if (gaps[g + 1] - gaps[g] == perTurn && gaps[g + 2] - gaps[g + 1] == perTurn)
            {
                pairs++;
                for (var turn = 0; turn < 2; turn++)
                {
                    Add(times, turn * wheel.Teeth, wheel, edges, gaps[g + turn]);
                }
            }
        }

        if (pairs == 0)
        {
            return new(0, []);
        }

        var mean = times.Average();
        var swing = times.Select(t => (t / mean) - 1).ToArray();
        var strongest = Enumerable.Range(Least, Math.Min(Most, (swing.Length / 2) - 1)).MaxBy(k => Strength(swing, k));
        return new(strongest, [.. Enumerable.Range(0, strongest).Select(c => Depth(swing, strongest, c))]);
    }

    private static void Add(double[] times, int from, TriggerWheel wheel, IReadOnlyList<double> edges, int gapEnd)
    {
        for (var tooth = 0; tooth < wheel.Teeth - wheel.Missing - 1; tooth++)
        {
            times[from + tooth] += edges[gapEnd + tooth + 1] - edges[gapEnd + tooth];
        }

        // The gap is spread over the places that have no tooth.
        var last = gapEnd + wheel.Teeth - wheel.Missing - 1;
        var each = (edges[last + 1] - edges[last]) / (wheel.Missing + 1);
        for (var place = wheel.Teeth - wheel.Missing - 1; place < wheel.Teeth; place++)
        {
            times[from + place] += each;
        }
    }

    private static double Strength(double[] swing, int cycles)
    {
        var (a, b) = (0.0, 0.0);
        for (var i = 0; i < swing.Length; i++)
        {
            var angle = 2 * Math.PI * cycles * i / swing.Length;
            a += swing[i] * Math.Cos(angle);
            b += swing[i] * Math.Sin(angle);
        }

        return (a * a) + (b * b);
    }

    /// <summary>The longest time within one of so many equal stretches, the stretches laid so that their middles are where the engine slows most.</summary>
    private static double Depth(double[] swing, int cylinders, int which)
    {
        var length = swing.Length / (double)cylinders;
        var phase = Enumerable.Range(0, (int)Math.Ceiling(length)).MaxBy(p => Enumerable.Range(0, cylinders).Sum(c => swing[(int)((c * length) + p) % swing.Length]));
        var middle = (which * length) + phase;
        return Enumerable.Range((int)Math.Round(middle - (length / 4)), Math.Max(1, (int)(length / 2))).Max(i => swing[((i % swing.Length) + swing.Length) % swing.Length]);
    }
}
