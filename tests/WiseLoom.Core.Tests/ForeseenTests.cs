using System.Collections.Immutable;
using CsCheck;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Practice;

namespace WiseLoom.Core.Tests;

/// <summary>What readings would be is kept with the metal: it says the same as if it were worked out each time.</summary>
public sealed class ForeseenTests
{
    private static readonly Loom Launch = Looms.WorkLaunch, Fan = Looms.FrostFan;
    private static readonly DrawnLoom OfLaunch = new(Launch, Launch.AmbientC, CopperTolerance.Usual), OfFan = new(Fan, Fan.AmbientC, CopperTolerance.Usual);

    /// <summary>Pairs of places of some nets, joined ones and each against all others.</summary>
    private static List<Observation> Readings(Altered metal, Random random)
    {
        ProbePoint[] points = [.. metal.Points.OrderBy(_ => random.Next()).Take(10)];
        return [.. points.Zip(points.Skip(1), (a, b) => Observation.Of(a, b, 0.5)), .. points.Select(a => Observation.Of(a, null, 0.5)), new Observation([points[0]], [.. points.Skip(1).Take(4)], 0.5, false)];
    }

    private static bool AreSame(Predicted? one, Predicted? other, Altered metal) => one is null ? other is null : other is not null
        && Math.Abs(one.Ohms - other.Ohms) < 1e-9 * (1 + other.Ohms) && Math.Abs(one.Variance - other.Variance) < 1e-12
        && one.Weights.OrderBy(w => w.Wire).Zip(other.Weights.OrderBy(w => w.Wire)).All(w => w.First.Wire == w.Second.Wire && Math.Abs(w.First.Weight - w.Second.Weight) < 1e-7)
        && (!metal.Makes(other) || metal.PlaceOf(Altered.BridgeAt(0)) is not (var at and >= 0) || Math.Abs(one.With(at, 0.3) - other.With(at, 0.3)) < 1e-9 * (1 + other.Ohms));

    /// <summary>A bridge or a poor joint of another size, beside another fault: with loops and without.</summary>
    [Fact]
    public void What_a_size_does_not_change_stays_and_the_rest_is_as_worked_out_anew() => Gen.Select(Gen.Int[1, 100_000], Gen.Double[0.001, 40], Gen.Double[0.001, 40], Gen.Bool).Sample((seed, before, after, isFan) =>
    {
        var (loom, own) = isFan ? (Fan, OfFan.Leaning(null)) : (Launch, OfLaunch.Leaning(null));
        var random = new Random(seed);
        string Place() => random.Next(3) == 0 ? loom.Wires[random.Next(loom.Wires.Length)].From.Text : loom.ProbePoints().ElementAt(random.Next(loom.ProbePoints().Count())).ToString();
        var (a, b, poor) = (Place(), Place(), loom.Wires[random.Next(loom.Wires.Length)].Id);
        var second = new HiddenFaults(loom, seed).Some(1)[0];
        ImmutableArray<Fault> With(double ohm) => seed % 3 == 0 ? [new ResistiveFault(poor, ohm), second] : [new ShortFault(a, b, ohm), second];
        var metal = new Altered(own, With(before), own.NetsOf(With(before)));
        if (a == b || !metal.Points.Skip(2).Any() || metal.PlaceOf(seed % 3 == 0 ? own.PlaceOf(poor) : Altered.BridgeAt(0)) is not (var place and >= 0))
        {
            return true;
        }

        var evidence = new Evidence(own, Meter.BenchFourWire, Readings(metal, random));
        var known = evidence.Foresee(metal);
        _ = Enumerable.Range(0, known.Readings.Length).Select(i => known[i]).ToList();
        var (resized, anew) = (metal.Resized(place, after - before), new Altered(own, With(after), own.NetsOf(With(after))));
        var (went, whole) = (evidence.Foresee(resized), evidence.Foresee(anew));
        return Enumerable.Range(0, whole.Readings.Length).All(i => ReferenceEquals(went.Readings[i], whole.Readings[i]) && AreSame(went[i], whole[i], anew));
    }, iter: 600);

    [Fact]
    public void One_more_reading_keeps_what_is_known_of_the_others()
    {
        var own = OfLaunch.Leaning(null);
        var bridge = new ShortFault(Launch.Wires[0].From.Text, Launch.Wires[^1].To.Text, 0.4);
        var metal = new Altered(own, [bridge], own.NetsOf([bridge]));
        var readings = Readings(metal, new(3));
        var fewer = new Evidence(own, Meter.BenchFourWire, readings[..^1]);
        var known = fewer.Foresee(metal);
        var before = Enumerable.Range(0, known.Readings.Length).Select(i => known[i]).ToList();
        var more = new Evidence(fewer, readings[^1]).Foresee(metal);
        more.Readings.Length.ShouldBe(before.Count + 1);
        Enumerable.Range(0, more.Readings.Length).Select(i => more[i]).Count(p => p is not null && before.Contains(p, ReferenceEqualityComparer.Instance)).ShouldBe(before.Count(p => p is not null));
        var other = new Altered(own, [bridge], own.NetsOf([bridge]));
        var anew = new Evidence(own, Meter.BenchFourWire, readings).Foresee(other);
        more.Readings.Select(r => r.Seen).ShouldBe(anew.Readings.Select(r => r.Seen), ignoreOrder: true);
    }
}
