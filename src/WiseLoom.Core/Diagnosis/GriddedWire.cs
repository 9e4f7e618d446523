using System.Numerics;

namespace WiseLoom.Core.Diagnosis;

/// <summary>A wire with places from where its copper begins to where it ends, the same step apart.</summary>
internal sealed class GriddedWire
{
    internal const int Steps = 10;

    /// <param name="side">The piece that it is of.</param>
    internal GriddedWire(Side side, Leg leg, Course course)
    {
        (Leg, Course) = (leg, course);
        Array.Fill(Squares, double.PositiveInfinity);
        for (var i = 0; i <= Steps; i++)
        {
            var share = Shares[i] = side.PlaceAt(leg, (double)i / Steps).Share;
            (Sums[i], Squares[i]) = (course.Sum(share), course.Square(share));
        }
    }

    /// <summary>How many places there is room for: as many as are worked out at once, or twice, thrice as many.</summary>
    internal static int Padded { get; } = (Steps + Vector<double>.Count) / Vector<double>.Count * Vector<double>.Count;

    internal Leg Leg { get; }

    internal Course Course { get; }

    /// <summary>Of each place the share of the ohms before it, and what <see cref="Diagnosis.Course"/> has there; squares are infinite where there is no place.</summary>
    internal double[] Shares { get; } = new double[Padded];

    /// <inheritdoc cref="Shares"/>
    internal double[] Sums { get; } = new double[Padded];

    /// <inheritdoc cref="Shares"/>
    internal double[] Squares { get; } = new double[Padded];
}

/// <summary>A bridge between all places of two wires.</summary>
internal sealed class GriddedPair
{
    /// <summary>A place that fits so much worse than the best has no share that could be told.</summary>
    private const double NoFit = 60;

    internal GriddedPair(GriddedWire one, GriddedWire other, Crossing crossing)
    {
        (One, Other, Crossing) = (one, other, crossing);
        var best = (I: 0, J: 0, Misfit: double.PositiveInfinity);
        Span<double> misfits = stackalloc double[GriddedWire.Padded];
        for (var i = 0; i <= GriddedWire.Steps; i++)
        {
            crossing.Fill(one, i, other, misfits);
            for (var j = 0; j <= GriddedWire.Steps; j++)
            {
                best = misfits[j] < best.Misfit ? (i, j, misfits[j]) : best;
            }
        }

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
        Span<double> misfits = stackalloc double[GriddedWire.Padded];
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
