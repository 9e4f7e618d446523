namespace WiseLoom.Core.Diagnosis;

/// <summary>The loops of one piece of metal, each closed by one part beside the tree: their currents follow from the loop equations.</summary>
internal sealed class Loops : ISolvedMetal
{
    /// <summary>Parts of no more ohms than this are joints: a loop of nothing else carries what it likes.</summary>
    private const double Joint = 1e-12;

    private readonly Metal metal;
    private readonly List<(int Part, double Share)[]> ways = [];
    private readonly Dictionary<int, List<(int Loop, double Share)>> through = [];

    /// <summary>The Cholesky factor of the loops' ohms, row by row; each diagonal holds its reciprocal.</summary>
    private readonly double[][] factor;

    internal Loops(Metal metal, List<int> closing)
    {
        this.metal = metal;
        foreach (var e in closing)
        {
            var (from, to) = metal.EndsOf(e);
            var way = metal.Way(to, from);
            if (metal.MeanOf(e) + metal.Sum(way) <= Joint)
            {
                continue;
            }

            way = [.. way, (e, 1)];
            foreach (var (at, share) in way)
            {
                if (!through.TryGetValue(at, out var passing))
                {
                    through.Add(at, passing = []);
                }

                passing.Add((ways.Count, share));
            }

            ways.Add(way);
        }

        factor = [.. Enumerable.Range(0, ways.Count).Select(i => new double[i + 1])];
        foreach (var (at, passing) in through)
        {
            foreach (var (i, one) in passing)
            {
                foreach (var (j, other) in passing.Where(p => p.Loop <= i))
                {
                    factor[i][j] += one * other * metal.MeanOf(at);
                }
            }
        }

        for (var i = 0; i < factor.Length; i++)
        {
            for (var j = 0; j <= i; j++)
            {
                var left = factor[i][j];
                for (var k = 0; k < j; k++)
                {
                    left -= factor[i][k] * factor[j][k];
                }

                factor[i][j] = j == i ? 1 / Math.Sqrt(Math.Max(left, Joint)) : left * factor[j][j];
            }
        }
    }

    public double Ohms(int a, int b)
    {
        var way = metal.Way(a, b);
        return metal.Sum(way) - Saved(Drops(way));
    }

    public Flow Between(int a, int b)
    {
        var way = metal.Way(a, b);
        var drops = Drops(way);
        var ohms = metal.Sum(way) - Saved(drops);
        return drops is null ? new(ohms, way, null) : Told(ohms, Shares(way, drops));
    }

    /// <summary>A change of one conductance by d moves R(a,b) by −d·v²/(1 + d·R(u,w)), v the volts across that part at 1 A (Sherman and Morrison, 1950).</summary>
    private Flow Told(double ohms, (int Part, double Share)[] shares)
    {
        // One part is asked for at a time, with many sizes.
        Across? known = null;
        return new(ohms, shares, With);

        double With(int part, double added)
        {
            var ((from, to), mean) = (metal.EndsOf(part), metal.MeanOf(part));
            var (_, volts, around) = known is { } last && last.Part == part ? last : known = new(part, mean * Array.Find(shares, s => s.Part == part).Share, Ohms(from, to));
            var change = (1 / Math.Max(1e-9, mean + added)) - (1 / mean);
            return ohms - (change * volts * volts / (1 + (change * around)));
        }
    }

    /// <summary>Volts that an ampere on its way through the tree puts into each loop, brought through the factor; null where it touches none.</summary>
    private double[]? Drops((int Part, double Share)[] way)
    {
        double[]? drops = null;
        foreach (var (at, share) in way)
        {
            foreach (var (loop, own) in through.TryGetValue(at, out var passing) ? passing : [])
            {
                (drops ??= new double[ways.Count])[loop] += share * own * metal.MeanOf(at);
            }
        }

        for (var i = 0; i < drops?.Length; i++)
        {
            for (var j = 0; j < i; j++)
            {
                drops[i] -= factor[i][j] * drops[j];
            }

            drops[i] *= factor[i][i];
        }

        return drops;
    }

    /// <summary>Ohms that the loops save.</summary>
    private static double Saved(double[]? drops)
    {
        var saved = 0.0;
        foreach (var drop in drops ?? [])
        {
            saved += drop * drop;
        }

        return saved;
    }

    private (int Part, double Share)[] Shares((int Part, double Share)[] way, double[] drops)
    {
        double[] currents = [.. drops];
        for (var i = currents.Length - 1; i >= 0; i--)
        {
            for (var j = i + 1; j < currents.Length; j++)
            {
                currents[i] -= factor[j][i] * currents[j];
            }

            currents[i] *= factor[i][i];
        }

        var shares = way.ToDictionary(w => w.Part, w => w.Share);
        for (var i = 0; i < currents.Length; i++)
        {
            foreach (var (at, own) in currents[i] == 0 ? [] : ways[i])
            {
                shares[at] = shares.GetValueOrDefault(at) - (own * currents[i]);
            }
        }

        return [.. shares.Select(s => (s.Key, s.Value))];
    }

    /// <summary>A part with an ampere on its way.</summary>
    /// <param name="Volts">Across it.</param>
    /// <param name="Around">Ohms between its ends.</param>
    private sealed record Across(int Part, double Volts, double Around);
}
