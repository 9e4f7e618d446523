using CsCheck;
using WiseLoom.Core.Diagnosis;

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
}
