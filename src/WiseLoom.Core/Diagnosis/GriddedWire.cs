using System.Numerics;

namespace WiseLoom.Core.Diagnosis;

/// <summary>A wire with some places along it.</summary>
internal sealed class GriddedWire
{
    /// <summary>Steps from where its copper begins to where it ends.</summary>
    internal const int Steps = 10;

    private static readonly double[] Even = [.. Enumerable.Range(0, Steps + 1).Select(i => (double)i / Steps)];

    /// <summary>With places the same step apart, from where its copper begins to where it ends.</summary>
    /// <param name="side">The piece that it is of.</param>
    internal GriddedWire(Side side, Leg leg, Course course)
        : this(side, leg, course, Even)
    {
    }

    /// <param name="side">The piece that it is of.</param>
    /// <param name="at">Its places, from 0 where its copper begins to 1 where it ends.</param>
    internal GriddedWire(Side side, Leg leg, Course course, ReadOnlySpan<double> at)
    {
        (Leg, Course, Count) = (leg, course, at.Length);
        (Shares, Sums, Squares) = (new double[Padded(Count)], new double[Padded(Count)], new double[Padded(Count)]);
        Squares.AsSpan(Count).Fill(double.PositiveInfinity);
        var whole = side.Whole(leg);
        for (var i = 0; i < Count; i++)
        {
            var share = Shares[i] = leg.PlaceAt(at[i], whole).Share;
            (Sums[i], Squares[i]) = (course.Sum(share), course.Square(share));
        }
    }

    /// <summary>Room for some places: they are worked out several at once.</summary>
    internal static int Padded(int count) => (count + Vector<double>.Count - 1) / Vector<double>.Count * Vector<double>.Count;

    internal Leg Leg { get; }

    internal Course Course { get; }

    /// <summary>How many places.</summary>
    internal int Count { get; }

    /// <summary>Of each place the share of the ohms before it, and what <see cref="Diagnosis.Course"/> has there; squares are infinite where there is no place.</summary>
    internal double[] Shares { get; }

    /// <inheritdoc cref="Shares"/>
    internal double[] Sums { get; }

    /// <inheritdoc cref="Shares"/>
    internal double[] Squares { get; }
}

/// <summary>A bridge between all places of two wires.</summary>
internal sealed class GriddedPair
{
    /// <summary>A place that fits so much worse than the best has no share that could be told.</summary>
    private const double NoFit = 60;

    internal GriddedPair(GriddedWire one, GriddedWire other, Crossing crossing)
    {
        (One, Other, Crossing) = (one, other, crossing);
        var best = crossing.Best(one, other);
        Best = ((double)best.I / GriddedWire.Steps, (double)best.J / GriddedWire.Steps, best.Misfit);
    }

    internal GriddedWire One { get; }

    internal GriddedWire Other { get; }

    internal Crossing Crossing { get; }

    /// <summary>The best place, as shares of either wire.</summary>
    internal (double T, double S, double Misfit) Best { get; }

    /// <summary>The mean of all places, each as well as it fits, as shares of either wire; and what share of the grid fits as well.</summary>
    internal (double T, double S, double Fitting) Around()
    {
        var (all, t, s) = (0.0, 0.0, 0.0);
        Span<double> misfits = stackalloc double[GriddedWire.Padded(Other.Count)];
        for (var i = 0; i <= GriddedWire.Steps; i++)
        {
            Crossing.Fill(One, i, Other, misfits);
            for (var j = 0; j <= GriddedWire.Steps; j++)
            {
                if (misfits[j] - Best.Misfit is var more && more <= NoFit)
                {
                    var fits = Math.Exp(-0.5 * more);
                    (all, t, s) = (all + fits, t + (fits * i), s + (fits * j));
                }
            }
        }

        return (t / all / GriddedWire.Steps, s / all / GriddedWire.Steps, all / ((GriddedWire.Steps + 1) * (GriddedWire.Steps + 1)));
    }
}
