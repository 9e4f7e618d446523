using CsCheck;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>How far one batch of copper and contacts leans to its upper limits is told by what was read.</summary>
public sealed class LeanTests
{
    /// <summary>Trees, and grounds with rings of wires.</summary>
    private static readonly Loom[] Some = [Looms.WorkLaunch, Looms.FrostFan, Looms.Of("A:1-S1", "S1-S2", "S2-S3", "S3-S1", "S1-B:1", "S2-C:1", "S3-D:1", "A:2-B:2", "A:2-C:2", "B:2-C:2")];

    private static readonly DrawnLoom[] Own = Array.ConvertAll(Some, l => new DrawnLoom(l, l.AmbientC, CopperTolerance.Usual));

    /// <summary>How far the first wire of a loom leans: all lean alike.</summary>
    private static double LeanOf(DrawnLoom drawn, DrawnLoom leaning) => (leaning.PartOf(0).Mean - drawn.RangeOf(0).Nominal) / (drawn.RangeOf(0).Max - drawn.RangeOf(0).Nominal);

    private static List<Observation> Read(DrawnLoom batch) =>
        [.. batch.Graph.Nets.SelectMany(n => n.Points.Zip(n.Points.Skip(1), (a, b) => Observation.Of(a, b, batch.AsDrawn(n.Number).Ohms(a, b))))];

    /// <summary>All readings of a loom that leans so: a pull to the usual lean is left, which the readings of a few dozen wires make small.</summary>
    [Fact]
    public void A_batch_that_leans_is_found_to_lean_so() => Gen.Select(Gen.Int[0, Some.Length - 1], Gen.Double[0, 0.6]).Sample((which, lean) =>
    {
        var drawn = Own[which];
        var readings = Enumerable.Repeat(Read(drawn.Leaning(lean)), 12).SelectMany(r => r).ToList();
        return Math.Abs(LeanOf(drawn, Lean.Of(drawn, Meter.BenchFourWire, readings)) - lean) < 0.03;
    }, iter: 60);

    /// <summary>Least squares by looms with all parts at their nominal and at their upper limits, and the usual lean before anything is read.</summary>
    [Fact]
    public void It_is_that_of_least_squares_between_both_limits() => Gen.Select(Gen.Int[0, Some.Length - 1], Gen.Int[0, 9999]).Sample((which, seed) =>
    {
        var (drawn, random) = (Own[which], new Random(seed));
        var readings = Read(drawn.Leaning(0.5 * random.NextDouble())).OrderBy(_ => random.Next()).Take(1 + random.Next(30)).ToList();
        var (low, high, usual) = (drawn.Leaning(0), drawn.Leaning(1), new Evidence(drawn, Meter.BenchFourWire, readings));
        var (over, under) = (36 * 0.12, 36.0);
        foreach (var (seen, middle) in readings.Select(o => (o, usual.AsDrawn(o)!)))
        {
            var (net, a, b) = (drawn.NetOf(seen.A[0]), seen.A[0], seen.B!.Value[0]);
            var (from, to) = (low.AsDrawn(net).Ohms(a, b)!.Value, high.AsDrawn(net).Ohms(a, b)!.Value);
            var weight = (to - from) / (middle.Variance + Math.Pow(usual.Noise(seen), 2));
            (over, under) = (over + (weight * (seen.Ohm!.Value - from)), under + (weight * (to - from)));
        }

        return Math.Abs(LeanOf(drawn, Lean.Of(drawn, Meter.BenchFourWire, readings)) - Math.Clamp(over / under, -0.3, 0.7)) < 0.01;
    }, iter: 60);

    [Fact]
    public void Nothing_read_leaves_the_usual_lean() => LeanOf(Own[0], Lean.Of(Own[0], Meter.BenchFourWire, [])).ShouldBe(0.12, 1e-9);
}
