using System.Buffers;

namespace WiseLoom.Core.Diagnosis;

/// <summary>An ampere from a node to others of its piece, which the fixture joins: they are the ground.</summary>
/// <remarks>
/// Volts of a tree are worked out from its ends to its root and back (elimination, which fills nothing there). Each part that closes a loop takes the current that makes the volts
/// across it right (loop equations: Maxwell, 1873), which are as many as there are loops.
/// </remarks>
internal sealed class Grounded
{
    /// <summary>A loop of no more ohms than this carries what it likes.</summary>
    private const double Joint = 1e-12;

    private readonly Metal metal;

    /// <summary>The nodes of the piece, each behind the one that it hangs on; and of each where that one is.</summary>
    private readonly int start, count;

    /// <summary>What each node conducts to the ground through those that hang on it; infinite for the ground.</summary>
    private readonly double[] siemens;

    /// <summary>Parts that close a loop, and the volts everywhere for an ampere in each.</summary>
    private readonly List<(int Part, double[] Volts)> loops = [];

    /// <summary>The Cholesky factor of the loops' ohms.</summary>
    private readonly double[,] factor;

    private readonly double[] volts;
    private readonly double ohms;

    /// <summary>The part that was asked for last.</summary>
    private Across? known;

    private Grounded(Metal metal, int from, ReadOnlySpan<int> there)
    {
        this.metal = metal;
        (start, count) = metal.SpanOf(from);
        siemens = new double[count];
        foreach (var node in there)
        {
            if (metal.PieceOf(node) == metal.PieceOf(from))
            {
                siemens[At(node)] = double.PositiveInfinity;
            }
        }

        for (var i = count - 1; i > 0; i--)
        {
            siemens[Before(i)] += 1 / (Ohms(i) + (1 / siemens[i]));
        }

        foreach (var e in metal.ClosedOn(from))
        {
            var (a, b) = metal.EndsOf(e);
            var own = Tree(At(a), At(b));
            if (metal.MeanOf(e) + own[At(a)] - own[At(b)] > Joint)
            {
                loops.Add((e, own));
            }
        }

        factor = Factor();
        volts = Volts(At(from), -1);
        ohms = volts[At(from)];
    }

    /// <summary>From one node to others, some of which are of its piece; few loops are on it.</summary>
    internal static Flow From(Metal metal, int from, ReadOnlySpan<int> there)
    {
        if (there.Contains(from))
        {
            return Flow.Nowhere;
        }

        var grounded = new Grounded(metal, from, there);
        return new(grounded.ohms, grounded.Shares(), grounded.With);
    }

    /// <summary>Ohms if one part had more: R + s²·x/(1 + x/L) for x more ohms in a part with the share s of the current, L being all that it stands in a loop with, itself too (Thévenin).</summary>
    private double With(int part, double added)
    {
        var across = known is { } last && last.Part == part ? last : known = AcrossOf(part);
        added = Math.Max(added, -metal.MeanOf(part));
        return across.Power == 0 ? ohms : ohms + (across.Power * added / (1 + (added * across.Siemens)));
    }

    private Across AcrossOf(int part)
    {
        var ((a, b), mean) = (metal.EndsOf(part), metal.MeanOf(part));
        if (metal.SpanOf(a).Start != start)
        {
            return new(part, 0, 0);
        }

        var share = (volts[At(a)] - volts[At(b)]) / mean;
        if (Math.Abs(share) < Joint)
        {
            return new(part, 0, 0);
        }

        // Between its ends there is itself beside all the rest of the loop.
        var own = Volts(At(a), At(b));
        return new(part, share * share, Math.Max(0, mean - own[At(a)] + own[At(b)]) / (mean * mean));
    }

    private (int Part, double Share)[] Shares()
    {
        var room = ArrayPool<(int, double)>.Shared.Rent(count + loops.Count);
        var filled = 0;
        for (var i = 1; i < count; i++)
        {
            Take(metal.Up(start + i));
        }

        foreach (var (e, _) in loops)
        {
            Take(e);
        }

        var told = room[..filled];
        ArrayPool<(int, double)>.Shared.Return(room);
        return told;

        void Take(int e)
        {
            var ((a, b), mean) = (metal.EndsOf(e), metal.MeanOf(e));
            if (mean > 0 && (volts[At(a)] - volts[At(b)]) / mean is var share && Math.Abs(share) > Joint)
            {
                room[filled++] = (e, share);
            }
        }
    }

    /// <summary>Volts everywhere for an ampere that comes in at one place of the piece, and leaves at another; negative for the ground.</summary>
    private double[] Volts(int at, int leaves)
    {
        var all = Tree(at, leaves);
        Span<double> currents = stackalloc double[loops.Count];
        for (var i = 0; i < currents.Length; i++)
        {
            var (a, b) = metal.EndsOf(loops[i].Part);
            currents[i] = all[At(a)] - all[At(b)];
            for (var j = 0; j < i; j++)
            {
                currents[i] -= factor[i, j] * currents[j];
            }

            currents[i] /= factor[i, i];
        }

        for (var i = currents.Length - 1; i >= 0; i--)
        {
            for (var j = i + 1; j < currents.Length; j++)
            {
                currents[i] -= factor[j, i] * currents[j];
            }

            currents[i] /= factor[i, i];
            var own = loops[i].Volts;
            for (var k = 0; k < all.Length; k++)
            {
                all[k] -= currents[i] * own[k];
            }
        }

        return all;
    }

    /// <summary>The same through the tree alone.</summary>
    private double[] Tree(int at, int leaves)
    {
        var all = new double[count];
        (all[at], all[leaves < 0 ? at : leaves]) = (1, leaves < 0 ? 1 : -1);
        for (var i = count - 1; i > 0; i--)
        {
            // What comes in beneath goes on, as far as it does not take a way to the ground there.
            if (all[i] != 0 && siemens[i] != double.PositiveInfinity)
            {
                all[Before(i)] += all[i] / (1 + (Ohms(i) * siemens[i]));
            }
        }

        all[0] = all[0] == 0 || double.IsPositiveInfinity(siemens[0]) ? 0 : all[0] / siemens[0];
        for (var i = 1; i < count; i++)
        {
            all[i] = double.IsPositiveInfinity(siemens[i]) ? 0 : (all[Before(i)] + (all[i] * Ohms(i))) / (1 + (Ohms(i) * siemens[i]));
        }

        return all;
    }

    private double[,] Factor()
    {
        var all = new double[loops.Count, loops.Count];
        for (var i = 0; i < loops.Count; i++)
        {
            var (a, b) = metal.EndsOf(loops[i].Part);
            for (var j = 0; j <= i; j++)
            {
                var left = loops[j].Volts[At(a)] - loops[j].Volts[At(b)] + (j == i ? metal.MeanOf(loops[i].Part) : 0);
                for (var k = 0; k < j; k++)
                {
                    left -= all[i, k] * all[j, k];
                }

                all[i, j] = j == i ? Math.Sqrt(Math.Max(left, Joint)) : left / all[j, j];
            }
        }

        return all;
    }

    private int At(int node) => metal.PlaceOf(node) - start;

    private int Before(int at) => metal.Before(start + at) - start;

    private double Ohms(int at) => metal.MeanOf(metal.Up(start + at));

    /// <summary>A part, and what it stands in a loop with.</summary>
    /// <param name="Power">Its share of the current, squared.</param>
    /// <param name="Siemens">What the loop conducts; 0 where it is the only way.</param>
    private sealed record Across(int Part, double Power, double Siemens);
}
