using System.Buffers;
using System.Numerics;
using System.Numerics.Tensors;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Values that were read, held against one supposition: copper moves all readings through a wire together.</summary>
/// <remarks>
/// The Cholesky factor of how they move together is kept row by row from the first reading that shares a wire with the row's own (its envelope: Jennings, 1966): readings
/// of other metal share none, and the factor is empty wherever that is.
/// </remarks>
internal sealed class Correlated : IDisposable
{
    /// <summary>A value that nothing explains still says joined: never worse than a reading that says the contrary.</summary>
    private const double WrongValue = -45;

    /// <summary>A score of more readings than this takes copper as if each had its own.</summary>
    internal const int Most = 200;

    /// <summary>Two that show in the same values but for this share are one.</summary>
    private const double Alone = 1e-9;

    /// <summary>What a reading is off by, besides its copper, at the least: squared ohms.</summary>
    private const double Least = 1e-12, LeastOfFactor = 1e-14;

    /// <summary>Of each row the first reading that it shares a wire with, and where it begins in the cells.</summary>
    private readonly int[] begins, starts;

    /// <summary>All rows, lent: there are thousands of these, each for a moment.</summary>
    private readonly double[] cells;

    private Correlated(ReadOnlySpan<Valued> valued)
    {
        (begins, starts, cells) = (new int[valued.Length], new int[valued.Length], ArrayPool<double>.Shared.Rent(valued.Length * (valued.Length + 1) / 2));
        Fill(valued);
        Factor();
    }

    /// <inheritdoc/>
    public void Dispose() => ArrayPool<double>.Shared.Return(cells);

    /// <summary>How likely all values are; a logarithm. A normal law, its ends a little heavier.</summary>
    internal static double Score(ReadOnlySpan<Valued> valued)
    {
        var score = 0.0;
        if (valued.Length > Most)
        {
            foreach (var one in valued)
            {
                var sd = Math.Sqrt(one.Predicted.Variance + one.Noise);
                score += One(one.Over / sd) - Math.Log(sd);
            }

            return score;
        }

        using var all = new Correlated(valued);
        Span<double> told = stackalloc double[valued.Length];
        for (var i = 0; i < valued.Length; i++)
        {
            // What nothing explains tells nothing of the copper that others share with it.
            var (off, sd) = (all.Beyond(i, valued[i].Over, told), all.Row(i)[^1]);
            var likely = One(off);
            told[i] = likely > WrongValue ? off : 0;
            score += likely - Math.Log(sd);
        }

        return score;
    }

    /// <summary>By how much one thing or two would have to be larger to fit all values best, together (generalised least squares).</summary>
    /// <param name="slopes">Of each, how much of it each value shows.</param>
    /// <param name="lowest">Of each, by how much it can change at the least.</param>
    internal static double[] Steps(ReadOnlySpan<Valued> valued, double[][] slopes, double[] lowest)
    {
        if (!slopes.Any(z => z.Any(s => s > 0)))
        {
            return new double[slopes.Length];
        }

        using var all = new Correlated(valued);
        var over = new double[valued.Length];
        for (var i = 0; i < over.Length; i++)
        {
            over[i] = valued[i].Over;
        }

        var (y, z) = (all.Whitened(over), Array.ConvertAll(slopes, all.Whitened));
        double Times(int i, double[] with) => TensorPrimitives.Dot<double>(z[i], with);

        // One as the other then is: nothing where no value shows it.
        double One(int i, double apart) => Times(i, z[i]) is var sum and > 0 ? Math.Max(lowest[i], (Times(i, y) - apart) / sum) : 0;
        if (z.Length == 1)
        {
            return [One(0, 0)];
        }

        var (a, b, both) = (Times(0, z[0]), Times(1, z[1]), Times(0, z[1]));
        var own = (a * b) - (both * both);
        if (own <= Alone * a * b)
        {
            // What shows only together is the first's.
            var alone = One(0, 0);
            return [alone, One(1, both * alone)];
        }

        var (x, w) = (Times(0, y), Times(1, y));
        double[] steps = [((b * x) - (both * w)) / own, ((a * w) - (both * x)) / own];
        if (steps[0] >= lowest[0] && steps[1] >= lowest[1])
        {
            return steps;
        }

        // The least lies where one of them cannot go further: there the other is as well as it may be.
        double Left(double[] of) => (a * of[0] * of[0]) + (b * of[1] * of[1]) + (2 * both * of[0] * of[1]) - (2 * x * of[0]) - (2 * w * of[1]);
        double[] first = [lowest[0], One(1, both * lowest[0])], second = [One(0, both * lowest[1]), lowest[1]];
        return double.IsNegativeInfinity(lowest[1]) || (!double.IsNegativeInfinity(lowest[0]) && Left(first) <= Left(second)) ? first : second;
    }

    /// <summary>From the first reading that it shares a wire with to its own.</summary>
    private Span<double> Row(int at) => cells.AsSpan(starts[at], at - begins[at] + 1);

    private void Fill(ReadOnlySpan<Valued> valued)
    {
        var (parts, wires) = (0, 0);
        foreach (var value in valued)
        {
            foreach (var (wire, _, _) in value.Predicted.Weights)
            {
                (parts, wires) = (parts + 1, Math.Max(wires, wire + 1));
            }
        }

        // Of each wire the first reading that it shows in, and the last, each with that before it; counted from one.
        var byWire = ArrayPool<(int First, int Last)>.Shared.Rent(wires);
        Array.Clear(byWire, 0, wires);
        var shares = ArrayPool<(int Reading, double Sd, int Before)>.Shared.Rent(parts + 1);
        var (count, end) = (0, 0);
        for (var i = 0; i < begins.Length; i++)
        {
            (begins[i], starts[i]) = (i, end);
            var weights = valued[i].Predicted.Weights;
            foreach (var (wire, _, sd) in weights)
            {
                if (sd > 0 && byWire[wire] is var (first, _) && first > 0)
                {
                    begins[i] = Math.Min(begins[i], first - 1);
                }
            }

            var row = Row(i);
            end += row.Length;
            row.Clear();
            row[^1] = valued[i].Noise + Least;
            foreach (var (wire, weight, sd) in weights)
            {
                if (sd <= 0)
                {
                    continue;
                }

                ref var own = ref byWire[wire];
                for (var at = own.Last; at > 0; at = shares[at].Before)
                {
                    row[shares[at].Reading - begins[i]] += weight * sd * shares[at].Sd;
                }

                row[^1] += weight * sd * weight * sd;
                shares[++count] = (i, weight * sd, own.Last);
                own = (own.First > 0 ? own.First : i + 1, count);
            }
        }

        ArrayPool<(int First, int Last)>.Shared.Return(byWire);
        ArrayPool<(int Reading, double Sd, int Before)>.Shared.Return(shares);
    }

    private void Factor()
    {
        for (var i = 0; i < begins.Length; i++)
        {
            // Where the first of all would be in either row.
            var row = starts[i] - begins[i];
            for (var j = begins[i]; j <= i; j++)
            {
                var (other, from) = (starts[j] - begins[j], Math.Max(begins[i], begins[j]));
                var left = cells[row + j] - Dot(row + from, other + from, j - from);
                cells[row + j] = j == i ? Math.Sqrt(Math.Max(left, LeastOfFactor)) : left / cells[other + j];
            }
        }
    }

    /// <summary>The sum of products of cells; most are few, and a library is slower for these.</summary>
    private double Dot(int one, int other, int count)
    {
        var (all, i) = (Vector<double>.Zero, 0);
        for (; i <= count - Vector<double>.Count; i += Vector<double>.Count)
        {
            all += new Vector<double>(cells, one + i) * new Vector<double>(cells, other + i);
        }

        var sum = Vector.Sum(all);
        for (; i < count; i++)
        {
            sum += cells[one + i] * cells[other + i];
        }

        return sum;
    }

    /// <summary>Brought through the factor: what each says beyond those before it, in standard deviations.</summary>
    private double[] Whitened(double[] of)
    {
        var all = new double[begins.Length];
        for (var i = 0; i < all.Length; i++)
        {
            all[i] = Beyond(i, of[i], all);
        }

        return all;
    }

    private double Beyond(int at, double value, ReadOnlySpan<double> told)
    {
        var row = Row(at);
        return (value - TensorPrimitives.Dot<double>(row[..^1], told.Slice(begins[at], row.Length - 1))) / row[^1];
    }

    private static double One(double off)
    {
        const double freedom = 30;
        return Math.Max(WrongValue, -0.919 - (0.5 * (freedom + 1) * Math.Log(1 + (off * off / freedom))));
    }
}

/// <summary>A value with what it should be.</summary>
/// <param name="Over">How much more was read, without the leads, ohms.</param>
/// <param name="Noise">Of what it was taken with, squared ohms.</param>
internal readonly record struct Valued(Predicted Predicted, double Over, double Noise);
