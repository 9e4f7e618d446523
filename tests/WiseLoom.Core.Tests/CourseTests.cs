using CsCheck;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>A bridge between places along two wires, held against all readings at once.</summary>
public sealed class CourseTests
{
    private static readonly Gen<double[]> Powers = Gen.Double[-3, 3].Array[12];

    private static double[] At(double[][] powers, double share) => [.. Enumerable.Range(0, powers[0].Length).Select(i => powers[0][i] + (share * powers[1][i]) + (share * share * powers[2][i]))];

    /// <summary>What is left of each reading after the far way, and the bridge that leaves least of all together, found reading by reading.</summary>
    [Fact]
    public void Squares_and_bridge_are_those_of_each_reading_by_itself()
    {
        var readings = Gen.Select(Powers, Powers, Powers).Select(p => new[] { p.Item1, p.Item2, p.Item3 });
        Gen.Select(readings, readings, Gen.Double[0.1, 5].Array[12], Gen.Double[0, 1], Gen.Double[0, 1]).Sample((onA, onB, roots, t, s) =>
        {
            double[][] Weighted(double[][] powers) => Array.ConvertAll(powers, p => p.Zip(roots, (v, r) => v * r).ToArray());
            var weights = roots.Sum(r => r * r);
            var left = At(onA, t).Zip(At(onB, s), (a, b) => a - b).ToArray();
            var ohm = Math.Max(0, left.Zip(roots, (l, r) => l * r * r).Sum() / weights);
            var misfit = left.Zip(roots, (l, r) => Math.Pow((l - ohm) * r, 2)).Sum();

            var found = new Crossing(new(Weighted(onA), roots), new(Weighted(onB), roots), weights).At(t, s);

            found.Ohm.ShouldBe(ohm, 1e-9);
            found.Misfit.ShouldBe(misfit, 1e-7 * (1 + misfit));
        });
    }

    /// <summary>All places of two wires at once are as each by itself, and the best of them is the best.</summary>
    [Fact]
    public void Places_in_a_row_are_as_each_by_itself()
    {
        var loom = Looms.Of("A:1-B:1@2000", "A:2-B:2@1500");
        var drawn = new DrawnLoom(loom, 20, CopperTolerance.Usual);
        var some = Gen.Double[0, 1].Array[1, 13];
        Gen.Select(Gen.Select(Powers, Powers, Powers), Gen.Select(Powers, Powers, Powers), Gen.Double[0.1, 5].Array[12], some, some).Sample((a, b, roots, onOne, onOther) =>
        {
            GriddedWire Along(int wire, (double[], double[], double[]) powers, double[] at)
            {
                var own = drawn.AsDrawn(drawn.NetOfWire(loom.Wires[wire]));
                return new(new(own, [], [], []), new(loom.Wires[wire], loom.Wires[wire].From.Text, loom.Wires[wire].To.Text, OhmsAlong.Of(loom, loom.Wires[wire])), new([powers.Item1, powers.Item2, powers.Item3], roots), at);
            }

            var (one, other) = (Along(0, a, onOne), Along(1, b, onOther));
            var crossing = new Crossing(one.Course, other.Course, roots.Sum(r => r * r));
            var misfits = new double[GriddedWire.Padded(onOther.Length)];
            var least = double.PositiveInfinity;
            for (var i = 0; i < onOne.Length; i++)
            {
                crossing.Fill(one, i, other, misfits);
                for (var j = 0; j < misfits.Length; j++)
                {
                    var alone = j < onOther.Length ? crossing.At(one.Shares[i], other.Shares[j]).Misfit : double.PositiveInfinity;
                    (misfits[j] == alone || Math.Abs(misfits[j] - alone) < 1e-7 * (1 + alone)).ShouldBeTrue($"{i} {j}: {misfits[j]} and {alone}");
                    least = Math.Min(least, misfits[j]);
                }
            }

            var best = crossing.Best(one, other);
            best.Misfit.ShouldBe(least);
            crossing.At(one.Shares[best.I], other.Shares[best.J]).Misfit.ShouldBe(least, 1e-7 * (1 + least));
        }, iter: 200);
    }
}
