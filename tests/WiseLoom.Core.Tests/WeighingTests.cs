using System.Collections.Immutable;
using CsCheck;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Practice;

namespace WiseLoom.Core.Tests;

/// <summary>How suppositions are held against readings: what is read is likelier with its cause than without, and sizes come out as they are.</summary>
public sealed class WeighingTests
{
    private static readonly Loom Launch = Looms.WorkLaunch;
    private static readonly DrawnLoom Shared = new(Launch, Launch.AmbientC, CopperTolerance.Usual);

    private static DrawnLoom Drawn => Shared.Leaning(null);

    /// <summary>All pairs from the first place of each net that some faults touch, and that place against all others, as the drawn copper has them.</summary>
    private static List<Observation> Exact(DrawnLoom own, IReadOnlyList<Fault> faults)
    {
        var metal = new Altered(own, faults, own.NetsOf(faults));
        var unread = new Evidence(own, Meter.BenchFourWire, []);
        double? Ohm(Observation o) => unread.Predict(o, metal)?.Ohms;
        return [.. metal.Nets.SelectMany(n => own.SkeletonOf(n).Points.Select(p => p.Point).ToList() is [var first, .. var rest] ? rest.Select(p => Observation.Of(first, p, null)).Append(Observation.Of(first, null, null)) : []).Select(o => o with { Ohm = Ohm(o) })];
    }

    private static (Weighing Weighing, Evidence Evidence) Over(DrawnLoom own, IEnumerable<Observation> readings)
    {
        var evidence = new Evidence(own, Meter.BenchFourWire, readings);
        return (new(own, evidence), evidence);
    }

    [Fact]
    public void A_poor_joint_has_the_ohms_that_its_readings_show() => Gen.Select(Gen.Int[0, Launch.Wires.Length - 1], Gen.Double[0.2, 400]).Sample((wire, ohm) =>
    {
        var own = Drawn;
        Fault truth = new ResistiveFault(Launch.Wires[wire].Id, ohm);
        var (weighing, evidence) = Over(own, Exact(own, [truth]));
        var shows = evidence.All.Max(o => Math.Abs((evidence.AsDrawn(o)?.Ohms ?? o.Ohm ?? 0) - (o.Ohm ?? 0)));
        var found = weighing.Refine(weighing.Weigh(new([new ResistiveFault(Launch.Wires[wire].Id, double.NaN)], 0)));

        // In a loop, or on a wire that no pair leads through, it may hide.
        return shows < 0.9 * ohm || (Math.Abs(((ResistiveFault)found.Faults[0]).Ohm - ohm) < 0.02 * ohm && found.Gain > 0);
    }, iter: 200);

    [Fact]
    public void A_bridge_has_the_ohms_that_its_readings_show() => Gen.Select(Gen.Int[0, 500], Gen.Int[0, 500], Gen.Double[0.05, 200]).Sample((one, other, ohm) =>
    {
        var own = Drawn;
        ProbePoint[] points = [.. Launch.ProbePoints().Where(p => own.NetOf(p) >= 0)];
        var (a, b) = (points[one % points.Length], points[other % points.Length]);
        if (own.NetOf(a) == own.NetOf(b))
        {
            return true;
        }

        ShortFault Bridge(double size) => new(a.ToString(), b.ToString(), size);
        var (weighing, _) = Over(own, Exact(own, [Bridge(ohm)]));
        var found = weighing.Refine(weighing.Weigh(new([Bridge(double.NaN)], 0)));
        return Math.Abs(((ShortFault)found.Faults[0]).Ohm - ohm) < 0.002 + (0.02 * ohm) && found.Gain > 50;
    }, iter: 200);

    /// <summary>Whatever is hidden: its readings are likelier with it than with the drawing, when they show it at all, and nothing is left unexplained.</summary>
    [Fact]
    public void What_is_wrong_explains_what_was_read() => Gen.Int[1, 100_000].Sample(seed =>
    {
        var own = Drawn;
        ImmutableArray<Fault> hidden = [.. new HiddenFaults(Launch, seed).Some(1 + (seed % 2)).Where(f => f is not (IntermittentFault or DeviceFault or BackedOutFault or KeyTerminalFault))];
        if (hidden.IsEmpty)
        {
            return true;
        }

        var (weighing, evidence) = Over(own, Exact(own, hidden));
        var found = weighing.Weigh(new(hidden, 0));
        return evidence.All.All(o => evidence.IsExplained(o, found)) && (evidence.All.All(o => evidence.IsExplained(o, null)) || found.Gain > 0);
    }, iter: 300);

    [Fact]
    public void Fitting_once_more_never_makes_it_less_likely() => Gen.Select(Gen.Int[0, Launch.Wires.Length - 1], Gen.Double[0.3, 30], Gen.Int[1, 9999]).Sample((wire, ohm, seed) =>
    {
        var own = Drawn;
        Fault truth = new ResistiveFault(Launch.Wires[wire].Id, ohm);
        var random = new Random(seed);
        var (weighing, _) = Over(own, Exact(own, [truth]).Select(o => o with { Ohm = o.Ohm * (1 + (0.02 * (random.NextDouble() - 0.5))) }));
        var first = weighing.Weigh(new([new ResistiveFault(Launch.Wires[wire].Id, double.NaN)], -3));
        var better = weighing.Refine(first);
        return better.Score >= first.Score && Math.Abs(better.Score - better.Gain - (first.Score - first.Gain)) < 1e-9;
    }, iter: 150);

    /// <summary>Sizes of two, in either order.</summary>
    [Theory]
    [InlineData(0.4, 0.1)]
    [InlineData(12, 0.8)]
    [InlineData(1.5, 60)]
    public void Two_sizes_are_fitted_beside_each_other(double poor, double bridge)
    {
        var own = Drawn;
        var wire = Launch.Wires.First(w => !w.From.IsSplice && !w.To.IsSplice && own.WiresOf(own.NetOfWire(w)).Length == 1);
        var other = Launch.Wires.First(w => !w.From.IsSplice && own.NetOfWire(w) != own.NetOfWire(wire));
        ImmutableArray<Fault> Both(double ohm, double metal) => [new ResistiveFault(wire.Id, ohm), new ShortFault(wire.To.Text, other.From.Text, metal)];
        var (weighing, _) = Over(own, Exact(own, Both(poor, bridge)));
        foreach (var unsized in new[] { Both(double.NaN, double.NaN), [.. Both(double.NaN, double.NaN).Reverse()] })
        {
            var found = weighing.Refine(weighing.Weigh(new(unsized, 0)));
            found.Faults.OfType<ResistiveFault>().Single().Ohm.ShouldBe(poor, 0.03 * poor);
            found.Faults.OfType<ShortFault>().Single().Ohm.ShouldBe(bridge, 0.003 + (0.03 * bridge));
        }
    }

    [Fact]
    public void What_readings_deny_is_out_before_any_size_is_fitted()
    {
        var own = Drawn;
        var wire = Launch.Wires.First(w => !w.From.IsSplice && !w.To.IsSplice && own.WiresOf(own.NetOfWire(w)).Length == 1);
        var (weighing, _) = Over(own, [Observation.Of(wire.From.Point, wire.To.Point, own.PartOf(own.PlaceOf(wire.Id)).Mean), Observation.Of(wire.From.Point, null, null)]);
        var laid = weighing.Lay(new([new OpenFault(wire.Id)], 0));
        (laid.Denials.Wrong, laid.Denials.AsDrawn, laid.Denials.More).ShouldBe((1, 0, 1));
        laid.Denials.Out.ShouldBe(2 * Evidence.Impossible);
        weighing.WeighLaid(laid).Score.ShouldBe(2 * Evidence.Impossible);
        weighing.Lay(new([new ResistiveFault(wire.Id, double.NaN)], 0)).Denials.Out.ShouldBeNull();
    }

    /// <summary>Nets that are asked for one by one, by two, or beside an empty cavity have the readings that touch any of them, each once.</summary>
    [Fact]
    public void Readings_that_touch_nets_are_each_found_once() => Gen.Select(Gen.Int[0, 40], Gen.Int[0, 40], Gen.Int[0, 40]).Sample((a, b, c) =>
    {
        var own = Drawn;
        var points = Launch.ProbePoints().ToList();
        var empty = Launch.Connectors.SelectMany(k => k.Family.Cavities.Select(x => new ProbePoint(k.Ref, x))).First(p => own.NetOf(p) < 0);
        var readings = points.Where((_, i) => i % 3 == 0).Zip(points.Where((_, i) => i % 3 == 1), (p, q) => Observation.Of(p, q, null)).Append(Observation.Of(empty, points[0], null)).ToList();
        var evidence = new Evidence(own, Meter.BenchFourWire, readings);
        int[] nets = [a % own.Graph.Nets.Length, b % own.Graph.Nets.Length, c % own.Graph.Nets.Length];
        bool Is(IEnumerable<int> some, IEnumerable<ProbePoint> empties) =>
            evidence.Touching(some.Distinct(), empties).Select(r => r.Seen).ToHashSet().SetEquals(readings.Where(o => o.A.Concat(o.B ?? []).Any(p => some.Contains(own.NetOf(p)) || empties.Contains(p))))
            && evidence.Touching(some.Distinct(), empties).Count == evidence.Touching(some.Distinct(), empties).Distinct().Count();
        return Is(nets[..1], []) && Is(nets[..2], []) && Is(nets, []) && Is(nets[..1], [empty]) && Is([], [empty]);
    }, iter: 60);
}
