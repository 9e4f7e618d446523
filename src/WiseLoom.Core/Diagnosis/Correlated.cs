using System.Buffers;
using System.Numerics;
using System.Numerics.Tensors;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Values that were read, held against one supposition: copper moves all readings through a wire together.</summary>
/// <remarks>
/// The Cholesky factor of how they move together is kept row by row from the first reading that shares a wire with the row's own (its envelope: Jennings, 1966): readings
/// of other metal share none, and the factor is empty wherever that is. Most suppositions leave most readings as they are drawn: those come first, and what the first of many
/// suppositions have in common is factored once.
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

    /// <summary>What each value says beyond those before it, in standard deviations; how likely all are up to each, a logarithm; then all rows. Lent: there are thousands of these, each for a moment.</summary>
    private readonly double[] cells;

    private Correlated(ReadOnlySpan<Valued> valued, Correlated? kept, int same)
    {
        (begins, starts, cells) = (new int[valued.Length], new int[valued.Length], ArrayPool<double>.Shared.Rent(valued.Length * (valued.Length + 5) / 2));
        Take(kept, same);
        Fill(valued, same);
        Factor(same);
    }

    /// <summary>The same, to be kept.</summary>
    private Correlated(Correlated of) => (begins, starts, cells) = (of.begins, of.starts, of.cells[..of.End(of.begins.Length)]);

    /// <inheritdoc/>
    public void Dispose() => ArrayPool<double>.Shared.Return(cells);

    private Span<double> Told => cells.AsSpan(0, begins.Length);

    private Span<double> Scores => cells.AsSpan(begins.Length, begins.Length);

    /// <summary>Held against what many suppositions have in common, for as long as it is kept.</summary>
    /// <param name="valued">At most <see cref="Most"/>.</param>
    internal static Correlated Kept(ReadOnlySpan<Valued> valued)
    {
        using var all = new Correlated(valued, null, 0);
        all.Tell(valued, 0);
        return new(all);
    }

    /// <summary>How likely all values are; a logarithm. A normal law, its ends a little heavier.</summary>
    /// <param name="kept">Values that were held against the same; null for none.</param>
    /// <param name="same">So many of these are the first of all; said in vain where none are kept.</param>
    internal static double Score(ReadOnlySpan<Valued> valued, Correlated? kept = null, int same = 0)
    {
        if (valued.Length > Most)
        {
            var score = 0.0;
            foreach (var one in valued)
            {
                var sd = Math.Sqrt(one.Predicted.Variance + one.Noise);
                score += One(one.Over / sd) - Math.Log(sd);
            }

            return score;
        }

        same = kept is null ? 0 : same;
        if (same == valued.Length)
        {
            return same == 0 ? 0 : kept!.Scores[same - 1];
        }

        using var all = new Correlated(valued, kept, same);
        all.Tell(valued, same);
        return all.Scores[^1];
    }

    /// <param name="same">So many were told already.</param>
    private void Tell(ReadOnlySpan<Valued> valued, int same)
    {
        for (var i = same; i < valued.Length; i++)
        {
            // What nothing explains tells nothing of the copper that others share with it.
            var (off, sd) = (Beyond(i, valued[i].Over, Told), Row(i)[^1]);
            var likely = One(off);
            Told[i] = likely > WrongValue ? off : 0;
            Scores[i] = (i > 0 ? Scores[i - 1] : 0) + likely - Math.Log(sd);
        }
    }

    /// <summary>By how much one thing or two would have to be larger to fit all values best, together (generalised least squares).</summary>
    /// <param name="kept">Values that were held against the same; null for none.</param>
    /// <param name="same">So many of these are the first of all.</param>
    /// <param name="slopes">Of each, how much of it each value shows.</param>
    /// <param name="lowest">Of each, by how much it can change at the least.</param>
    internal static double[] Steps(ReadOnlySpan<Valued> valued, Correlated? kept, int same, double[][] slopes, double[] lowest)
    {
        if (!slopes.Any(z => z.Any(s => s > 0)))
        {
            return new double[slopes.Length];
        }

        using var all = new Correlated(valued, kept, kept is null ? 0 : same);
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

    /// <summary>Where the rows before one end.</summary>
    private int End(int row) => row == 0 ? 2 * begins.Length : starts[row - 1] + row - begins[row - 1];

    /// <summary>Takes over the first rows.</summary>
    private void Take(Correlated? kept, int same)
    {
        if (kept is null || same == 0)
        {
            return;
        }

        kept.Told[..same].CopyTo(Told);
        kept.Scores[..same].CopyTo(Scores);
        kept.cells.AsSpan((2 * kept.begins.Length)..kept.End(same)).CopyTo(cells.AsSpan(2 * begins.Length));
        for (var i = 0; i < same; i++)
        {
            (begins[i], starts[i]) = (kept.begins[i], kept.starts[i] + (2 * (begins.Length - kept.begins.Length)));
        }
    }

    /// <param name="same">So many rows are filled already.</param>
    private void Fill(ReadOnlySpan<Valued> valued, int same)
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
        var count = 0;
        for (var i = 0; i < begins.Length; i++)
        {
            var weights = valued[i].Predicted.Weights;
            if (i >= same)
            {
                (begins[i], starts[i]) = (i, End(i));
                foreach (var (wire, _, sd) in weights)
                {
                    if (sd > 0 && byWire[wire] is var (first, _) && first > 0)
                    {
                        begins[i] = Math.Min(begins[i], first - 1);
                    }
                }

                var row = Row(i);
                row.Clear();
                row[^1] = valued[i].Noise + Least;
                foreach (var (wire, weight, sd) in weights)
                {
                    for (var at = sd > 0 ? byWire[wire].Last : 0; at > 0; at = shares[at].Before)
                    {
                        row[shares[at].Reading - begins[i]] += weight * sd * shares[at].Sd;
                    }

                    row[^1] += weight * sd * weight * sd;
                }
            }

            foreach (var (wire, weight, sd) in weights)
            {
                if (sd > 0)
                {
                    ref var own = ref byWire[wire];
                    shares[++count] = (i, weight * sd, own.Last);
                    own = (own.First > 0 ? own.First : i + 1, count);
                }
            }
        }

        ArrayPool<(int First, int Last)>.Shared.Return(byWire);
        ArrayPool<(int Reading, double Sd, int Before)>.Shared.Return(shares);
    }

    /// <param name="same">So many rows are factored already.</param>
    private void Factor(int same)
    {
        for (var i = same; i < begins.Length; i++)
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
