using System.Numerics;
using System.Numerics.Tensors;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Ohms to each place along a wire by each reading, in its standard deviations: e₀ + t·e₁ + t²·e₂ for the share t of the wire's ohms before the place.</summary>
/// <remarks>By (1−t)·R(x,u) + t·R(x,v) + t(1−t)·(ρ − R(u,v)), see <see cref="AlongTheWay"/>. What all places are held against each other by is then a polynomial of both shares,
/// and no place asks for the readings again.</remarks>
internal sealed class Course
{
    private readonly double[][] each;

    /// <summary>By rising powers of the share.</summary>
    private readonly double[] sums, squares;

    /// <param name="each">By rising powers of the share, three; each by all readings.</param>
    /// <param name="roots">Of each reading the inverse of its standard deviation.</param>
    internal Course(double[][] each, double[] roots)
    {
        this.each = each;
        sums = Array.ConvertAll(each, e => TensorPrimitives.Dot<double>(e, roots));
        squares = [Dot(each[0], each[0]), 2 * Dot(each[0], each[1]), Dot(each[1], each[1]) + (2 * Dot(each[0], each[2])), 2 * Dot(each[1], each[2]), Dot(each[2], each[2])];
    }

    /// <summary>All readings' ohms to a place, each by its weight.</summary>
    internal double Sum(double share) => sums[0] + (share * (sums[1] + (share * sums[2])));

    /// <summary>Their squares, together.</summary>
    internal double Square(double share) => squares[0] + (share * (squares[1] + (share * (squares[2] + (share * (squares[3] + (share * squares[4])))))));

    /// <summary>The products of two, together: by the share on the other (its powers in a row), and on this.</summary>
    internal double[] Products(Course other)
    {
        var products = new double[9];
        for (var i = 0; i < products.Length; i++)
        {
            products[i] = Dot(each[i % 3], other.each[i / 3]);
        }

        return products;
    }

    private static double Dot(double[] a, double[] b) => TensorPrimitives.Dot<double>(a, b);
}

/// <summary>A wire of either piece, and a bridge anywhere between them.</summary>
/// <param name="weights">All readings' weights, together.</param>
internal sealed class Crossing(Course a, Course b, double weights)
{
    private readonly double[] products = a.Products(b);

    /// <summary>How ill the best bridge between two places fits, and its ohms.</summary>
    internal (double Misfit, double Ohm) At(double onA, double onB)
    {
        var (none, once, twice) = Far(onA);
        return BridgedPieces.Left(a.Square(onA) + b.Square(onB) - (2 * (none + (onB * (once + (onB * twice))))), a.Sum(onA) - b.Sum(onB), weights);
    }

    /// <summary>The best of all places.</summary>
    internal (int I, int J, double Misfit) Best(GriddedWire one, GriddedWire other)
    {
        var best = (I: 0, J: 0, Misfit: double.PositiveInfinity);
        Span<double> misfits = stackalloc double[GriddedWire.Padded(other.Count)];
        for (var i = 0; i < one.Count; i++)
        {
            Fill(one, i, other, misfits);
            for (var j = 0; j < other.Count; j++)
            {
                if (misfits[j] < best.Misfit)
                {
                    best = (i, j, misfits[j]);
                }
            }
        }

        return best;
    }

    /// <summary>How ill it fits between a place of one grid and all of another.</summary>
    /// <param name="at">Which place of the first.</param>
    /// <param name="misfits">As many as <see cref="GriddedWire.Padded"/>; where the grid has ended they are infinite.</param>
    /// <inheritdoc cref="BridgedPieces.Left" path="/remarks"/>
    internal void Fill(GriddedWire one, int at, GriddedWire other, Span<double> misfits)
    {
        var (none, once, twice) = Far(one.Shares[at]);
        var (sum, square, share) = (new Vector<double>(one.Sums[at]), new Vector<double>(one.Squares[at]), new Vector<double>(1 / weights));
        for (var i = 0; i < misfits.Length; i += Vector<double>.Count)
        {
            var onB = new Vector<double>(other.Shares, i);
            var both = new Vector<double>(none) + (onB * (new Vector<double>(once) + (onB * twice)));
            var over = Vector.Max(sum - new Vector<double>(other.Sums, i), Vector<double>.Zero);
            Vector.Max(square + new Vector<double>(other.Squares, i) - (2 * both) - (over * over * share), Vector<double>.Zero).CopyTo(misfits[i..]);
        }
    }

    /// <summary>The products of both ways to a place on the first, by rising powers of the share on the other.</summary>
    private (double None, double Once, double Twice) Far(double onA)
    {
        var p = products;
        return (p[0] + (onA * (p[1] + (onA * p[2]))), p[3] + (onA * (p[4] + (onA * p[5]))), p[6] + (onA * (p[7] + (onA * p[8]))));
    }
}
