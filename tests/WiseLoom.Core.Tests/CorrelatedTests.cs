using CsCheck;
using WiseLoom.Core.Diagnosis;

namespace WiseLoom.Core.Tests;

/// <summary>Values that copper moves together, factored row by row, against the same done one reading after the other and by elimination of the whole.</summary>
public sealed class CorrelatedTests
{
    /// <summary>Readings between places of a tree of wires, each wire off by some part of its spread.</summary>
    private sealed record Case(int Wires, Valued[] Values)
    {
        public override string ToString() => $"{Wires} wires, {Values.Length} readings: {string.Join(' ', Values.Select(v => $"{v.Over:G4}±{Math.Sqrt(v.Noise):G3}"))}";

        /// <summary>Standard deviation of a wire's own in a reading.</summary>
        internal double Share(int reading, int wire) => Values[reading].Predicted.Weights.Where(w => w.Wire == wire).Sum(w => w.Weight * w.Sd);

        /// <summary>How readings move together, all of it.</summary>
        internal double[,] Whole()
        {
            var all = new double[Values.Length, Values.Length];
            for (var i = 0; i < Values.Length; i++)
            {
                for (var j = 0; j < Values.Length; j++)
                {
                    all[i, j] = Enumerable.Range(0, Wires).Sum(w => Share(i, w) * Share(j, w)) + (i == j ? Values[i].Noise : 0);
                }
            }

            return all;
        }
    }

    private static readonly Gen<Case> Cases = Gen.Select(Gen.Int[2, 25], Gen.Int[1, 40], Gen.Int[0, 1_000_000], Gen.Bool).Select((nodes, readings, seed, isApart) =>
    {
        var random = new Random(seed);

        // Two pieces that share nothing in half of the cases: what lies outside of the envelope then is empty.
        var parts = Enumerable.Range(1, nodes - 1).Where(i => !isApart || i != nodes / 2).Select(i => (From: isApart && i > nodes / 2 ? random.Next(nodes / 2, i) : random.Next(i), To: i))
            .Select((p, i) => (p.From, p.To, new Part(i, 0.01 + (0.2 * random.NextDouble()), random.Next(6) == 0 ? 0 : 0.02 * random.NextDouble()))).ToList();
        var metal = new Metal(nodes, parts);
        var values = new List<Valued>();
        for (var i = 0; i < readings; i++)
        {
            var (a, b) = (random.Next(nodes), random.Next(nodes));
            if (a != b && metal.PieceOf(a) == metal.PieceOf(b))
            {
                values.Add(new(new(metal, metal.Between(a, b)), 0.1 * (random.NextDouble() - 0.5), Math.Pow(0.0005 + (0.002 * random.NextDouble()), 2)));
            }
        }

        return new Case(nodes - 1, [.. values]);
    });

    private static bool Near(double one, double other) => Math.Abs(one - other) <= 1e-5 * (1 + Math.Abs(other));

    /// <summary>Each reading by what those before leave of it, with the copper that they show (Kalman, 1960).</summary>
    private static double OneByOne(Case of)
    {
        var (score, copper, spread) = (0.0, new double[of.Wires], new double[of.Wires, of.Wires]);
        for (var w = 0; w < of.Wires; w++)
        {
            spread[w, w] = 1;
        }

        for (var i = 0; i < of.Values.Length; i++)
        {
            double[] shares = [.. Enumerable.Range(0, of.Wires).Select(w => of.Share(i, w))];
            double[] moves = [.. Enumerable.Range(0, of.Wires).Select(w => Enumerable.Range(0, of.Wires).Sum(v => spread[w, v] * shares[v]))];
            var (variance, over) = (of.Values[i].Noise + 1e-12, of.Values[i].Over);
            for (var w = 0; w < of.Wires; w++)
            {
                variance += shares[w] * moves[w];
                over -= shares[w] * copper[w];
            }

            // The law of 30 degrees of freedom, never below what no value at all would cost; what costs that tells nothing of the copper.
            var one = -0.919 - (15.5 * Math.Log(1 + (over * over / variance / 30)));
            score += Math.Max(-45, one) - (0.5 * Math.Log(variance));
            over = one > -45 ? over : 0;
            for (var w = 0; w < of.Wires; w++)
            {
                copper[w] += moves[w] * over / variance;
                for (var v = 0; v < of.Wires; v++)
                {
                    spread[w, v] -= moves[w] * moves[v] / variance;
                }
            }
        }

        return score;
    }

    [Fact]
    public void All_values_are_as_likely_as_one_after_the_other() => Cases.Sample(of => Near(Correlated.Score(of.Values), OneByOne(of)), iter: 400);

    /// <summary>What many suppositions have in common is held against once: it goes on from there as if all had been anew, whatever followed before.</summary>
    [Fact]
    public void What_is_the_same_at_first_is_gone_on_from() => Gen.Select(Cases, Gen.Int[0, 9999]).Sample((of, seed) =>
    {
        var random = new Random(seed);
        var (same, values) = (random.Next(of.Values.Length + 1), of.Values);
        var kept = Correlated.Kept([.. values[..same], .. values[same..].Reverse().Select(v => v with { Over = v.Over + 1 })]);
        double[][] slopes = [[.. values.Select(_ => random.NextDouble())], [.. values.Select((_, i) => i < same ? 0 : random.NextDouble())]];
        double[] lowest = [-0.01, double.NegativeInfinity];
        return Near(Correlated.Score(values, kept, same), Correlated.Score(values))
            && Correlated.Steps(values, kept, same, slopes, lowest).Zip(Correlated.Steps(values, null, 0, slopes, lowest)).All(s => Near(s.First, s.Second));
    }, iter: 300);

    /// <summary>One of many that is far off costs what it costs by itself, wherever it stands among them.</summary>
    [Fact]
    public void A_value_that_nothing_explains_spoils_no_other() => Cases.Sample(of =>
    {
        var sound = Array.ConvertAll(of.Values, v => v with { Over = 0 });
        var worst = Enumerable.Range(0, sound.Length).Select(i => Correlated.Score([.. sound.Select((v, k) => k == i ? v with { Over = 50 } : v)])).DefaultIfEmpty(0).Min();
        return sound.Length == 0 || worst > Correlated.Score(sound) - 45 - 1e-6;
    }, iter: 200);

    /// <summary>s·C⁻¹·over / s·C⁻¹·s, with C⁻¹ by elimination.</summary>
    [Fact]
    public void The_step_is_that_of_least_squares_over_all() => Gen.Select(Cases, Gen.Int[0, 99]).Sample((of, seed) =>
    {
        var random = new Random(seed);
        var slopes = Array.ConvertAll(of.Values, _ => random.Next(3) == 0 ? 0 : random.NextDouble());
        if (!Array.Exists(slopes, s => s > 0))
        {
            return Step(of.Values, slopes) == 0;
        }

        var pulled = Eliminated(of.Whole(), [.. slopes]);
        var (along, all) = (0.0, 0.0);
        for (var i = 0; i < pulled.Length; i++)
        {
            (along, all) = (along + (pulled[i] * of.Values[i].Over), all + (pulled[i] * slopes[i]));
        }

        return Math.Abs(Step(of.Values, slopes) - (along / all)) < 1e-4 * (1 + Math.Abs(along / all));
    }, iter: 400);

    private static double Step(Valued[] values, double[] slopes) => Correlated.Steps(values, null, 0, [slopes], [double.NegativeInfinity])[0];

    /// <summary>Of two together: no other two, near or far, leave less unexplained; and neither is less than it can be.</summary>
    [Fact]
    public void Two_steps_together_leave_the_least() => Gen.Select(Cases, Gen.Int[0, 9999]).Sample((of, seed) =>
    {
        var random = new Random(seed);
        double[][] slopes = [.. Enumerable.Range(0, 2).Select(_ => of.Values.Select(_ => random.Next(3) == 0 ? 0 : random.NextDouble()).ToArray())];
        double[] lowest = [random.Next(2) == 0 ? double.NegativeInfinity : -0.01 * random.NextDouble(), random.Next(2) == 0 ? double.NegativeInfinity : -0.01 * random.NextDouble()];
        if (!slopes.All(z => z.Any(s => s > 0)))
        {
            return true;
        }

        var found = Correlated.Steps(of.Values, null, 0, slopes, lowest);
        var least = Left(found);
        return found.Zip(lowest).All(s => s.First >= s.Second - 1e-12)
            && Enumerable.Range(0, 40).Select(_ => found.Select((s, k) => Math.Max(lowest[k], s + (Math.Pow(10, -random.Next(1, 5)) * (random.NextDouble() - 0.5)))).ToArray()).All(other => Left(other) > least - 1e-6 - (1e-6 * Math.Abs(least)));

        // over·C⁻¹·over of what two leave.
        double Left(double[] steps)
        {
            double[] left = [.. of.Values.Select((v, i) => v.Over - (slopes[0][i] * steps[0]) - (slopes[1][i] * steps[1]))];
            return Eliminated(of.Whole(), [.. left]).Zip(left, (x, y) => x * y).Sum();
        }
    }, iter: Effort.Of(20, 300));

    /// <summary>By hand: where two show in the same values by the same share, the first has it all.</summary>
    [Fact]
    public void Of_two_that_show_only_together_the_first_has_it_all()
    {
        var metal = new Metal(2, [(0, 1, new Part(0, 0.1, 0.003))]);
        Valued[] values = [new(new(metal, metal.Between(0, 1)), 0.010, 16e-6), new(new(metal, metal.Between(1, 0)), 0.020, 16e-6)];
        double[][] slopes = [[1, 1], [1, 1]];
        var steps = Correlated.Steps(values, null, 0, slopes, [double.NegativeInfinity, double.NegativeInfinity]);
        steps[0].ShouldBe(0.015, 1e-8);
        steps[1].ShouldBe(0, 1e-8);
    }

    /// <summary>x with a·x = b, by Gauss with the largest pivot first.</summary>
    private static double[] Eliminated(double[,] a, double[] b)
    {
        for (var k = 0; k < b.Length; k++)
        {
            var pivot = Enumerable.Range(k, b.Length - k).MaxBy(i => Math.Abs(a[i, k]));
            for (var j = 0; j < b.Length; j++)
            {
                (a[k, j], a[pivot, j]) = (a[pivot, j], a[k, j]);
            }

            (b[k], b[pivot]) = (b[pivot], b[k]);
            for (var i = k + 1; i < b.Length; i++)
            {
                var times = a[i, k] / a[k, k];
                for (var j = k; j < b.Length; j++)
                {
                    a[i, j] -= times * a[k, j];
                }

                b[i] -= times * b[k];
            }
        }

        for (var k = b.Length - 1; k >= 0; k--)
        {
            for (var j = k + 1; j < b.Length; j++)
            {
                b[k] -= a[k, j] * b[j];
            }

            b[k] /= a[k, k];
        }

        return b;
    }

    /// <summary>By hand: two readings through one wire, one 10 mΩ over and the other 20: as much of something that both show is 15.</summary>
    [Fact]
    public void Two_readings_of_one_wire_ask_for_their_mean()
    {
        var metal = new Metal(2, [(0, 1, new Part(0, 0.1, 0.003))]);
        Valued[] values = [new(new(metal, metal.Between(0, 1)), 0.010, 16e-6), new(new(metal, metal.Between(1, 0)), 0.020, 16e-6)];
        Step(values, [1, 1]).ShouldBe(0.015, 1e-8);
    }

    [Fact]
    public void Nothing_read_says_nothing()
    {
        Correlated.Score([]).ShouldBe(0);
        Step([], []).ShouldBe(0);
    }

    /// <summary>A value that is off by the world costs as much as one that says the contrary of metal, no more.</summary>
    [Fact]
    public void A_value_that_nothing_explains_costs_no_more_than_a_contradiction()
    {
        var metal = new Metal(2, [(0, 1, new Part(0, 0.1, 0.003))]);
        double Of(double over) => Correlated.Score([new(new(metal, metal.Between(0, 1)), over, 1e-6)]);
        (Of(0) - Of(1e6)).ShouldBeInRange(40, -Evidence.Impossible);
        Of(1e6).ShouldBe(Of(1e9));
    }

    /// <summary>Beyond so many readings each has its copper by itself: a sum of single ones.</summary>
    [Fact]
    public void Very_many_readings_are_taken_one_by_one()
    {
        var metal = new Metal(2, [(0, 1, new Part(0, 0.1, 0.003))]);
        Valued Of(int i) => new(new(metal, metal.Between(0, 1)), 0.001 * (i % 7), 1e-6);
        Valued[] many = [.. Enumerable.Range(0, Correlated.Most + 1).Select(Of)];
        Correlated.Score(many).ShouldBe(many.Sum(v => Correlated.Score([v])), 1e-3);
    }
}
