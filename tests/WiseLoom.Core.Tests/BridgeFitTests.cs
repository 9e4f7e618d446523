using CsCheck;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>How well a bridge between two cavities explains what was read through one: by ways that are worked out once, against the metal laid out for each.</summary>
public sealed class BridgeFitTests
{
    private static readonly Loom Launch = Looms.WorkLaunch;
    private static readonly DrawnLoom OfLaunch = new DrawnLoom(Launch, Launch.AmbientC, CopperTolerance.Usual).Leaning(null);

    /// <summary>The least squares of what is left for the bridge, by the metal with a joint there.</summary>
    private static double ByMetal(Evidence evidence, IEnumerable<Observation> readings, ProbePoint p, ProbePoint q)
    {
        var joint = new ShortFault(p.ToString(), q.ToString(), 0);
        var metal = new Altered(OfLaunch, [joint], OfLaunch.NetsOf([joint]));
        var left = readings.Select(o => (Way: evidence.Predict(o, metal)!.Ohms, o)).Select(x => (More: x.o.Ohm!.Value - x.Way, Weight: 1 / (Math.Pow(evidence.Noise(x.o), 2) + Math.Pow(0.06 * x.Way, 2) + 1e-9))).ToList();
        var fitted = Math.Max(0, left.Sum(x => x.Weight * x.More) / left.Sum(x => x.Weight));
        return -0.5 * left.Sum(x => x.Weight * Math.Pow(x.More - fitted, 2));
    }

    [Fact]
    public void It_is_what_the_metal_says_of_each_pair_of_cavities() => Gen.Int[0, 1_000_000].Sample(seed =>
    {
        var random = new Random(seed);
        ProbePoint[][] nets = [.. OfLaunch.Graph.Nets.Where(n => n.Points.Length > 1).OrderBy(_ => random.Next()).Take(2).Select(n => n.Points.ToArray())];
        var (here, there) = (nets[0], nets[1]);
        ProbePoint Any(ProbePoint[] some) => some[random.Next(some.Length)];

        // Through the bridge, either probe on either net; those within a net say nothing of it, nor what was moved meanwhile.
        List<Observation> through = [.. Enumerable.Range(0, 8).Select(i => i % 2 == 0 ? Observation.Of(Any(here), Any(there), random.NextDouble()) : Observation.Of(Any(there), Any(here), random.NextDouble()))];
        var evidence = new Evidence(OfLaunch, Meter.BenchFourWire, [.. through, Observation.Of(here[0], here[1], 0.1), Observation.Of(here[0], there[0], null), Observation.Of(here[0], there[0], 0.2) with { Moved = true }]);
        var fit = new BridgeFit(OfLaunch, evidence, OfLaunch.NetOf(here[0]), OfLaunch.NetOf(there[0]));
        return here.Take(3).All(p => there.Take(3).All(q => fit.Of(p, q) is var found && ByMetal(evidence, through, p, q) is var whole && Math.Abs(found - whole) <= 1e-6 * (1 + Math.Abs(whole))));
    }, iter: 200);

    /// <summary>By hand: a reading against all other circuits leads to the bridge and no further, so what lies beyond it is all the bridge's.</summary>
    [Fact]
    public void Against_all_others_only_the_way_to_the_bridge_counts()
    {
        var (own, near) = (new DrawnLoom(Looms.Of("A:1-B:1", "A:2-B:2"), 20, CopperTolerance.Usual).Leaning(null), ProbePoint.Parse("A:1"));
        var evidence = new Evidence(own, Meter.BenchFourWire, [Observation.Of(near, null, 0.5), Observation.Of(ProbePoint.Parse("B:1"), null, 0.5)]);
        var fit = new BridgeFit(own, evidence, own.NetOf(near), own.NetOf(ProbePoint.Parse("A:2")));

        // Both ends read the same: a bridge at either end leaves the wire's ohms to one of them, whichever it is.
        fit.Of(near, ProbePoint.Parse("A:2")).ShouldBe(fit.Of(ProbePoint.Parse("B:1"), ProbePoint.Parse("B:2")), 1e-9);
        fit.Of(near, ProbePoint.Parse("A:2")).ShouldBe(fit.Of(near, ProbePoint.Parse("B:2")), 1e-9, "the far net is not on the way");
    }

    [Fact]
    public void Nothing_read_through_it_fits_anything()
    {
        var evidence = new Evidence(OfLaunch, Meter.BenchFourWire, []);
        ProbePoint[] ends = [.. OfLaunch.Graph.Nets.Where(n => n.Points.Length > 0).Take(2).Select(n => n.Points[0])];
        new BridgeFit(OfLaunch, evidence, OfLaunch.NetOf(ends[0]), OfLaunch.NetOf(ends[1])).Of(ends[0], ends[1]).ShouldBe(0);
    }
}
