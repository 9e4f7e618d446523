using System.Collections.Immutable;
using System.Text.Json;
using CsCheck;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Practice;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Tests;

/// <summary>Short cuts of the ranking against the long way: they must say the same.</summary>
public sealed class RankingLawsTests
{
    private static readonly Loom Fan = Looms.FrostFan;

    private static readonly DrawnLoom Shared = new(Fan, Fan.AmbientC, CopperTolerance.Usual);

    /// <summary>Each case its own: nets are solved as they are asked for.</summary>
    private static DrawnLoom Drawn => Shared.Leaning(null);

    /// <summary>What cavities hold after contacts moved says the same of every reading as the metal laid out.</summary>
    [Fact]
    public void Moved_contacts_join_what_the_metal_joins() => Gen.Int[1, 5000].Sample(seed =>
    {
        if (Enumerable.Range(0, 40).Select(i => new HiddenFaults(Fan, (seed * 40) + i).Some(1)[0]).OfType<CavityFault>().FirstOrDefault() is not { } fault)
        {
            return true;
        }

        var own = Drawn;
        var (moved, metal) = (new MovedContacts(own, fault), new Altered(own, [fault], own.NetsOf([fault])));
        var evidence = new Evidence(own, Meter.BenchFourWire, []);
        var random = new Random(seed);
        ImmutableArray<ProbePoint> near = [.. metal.Points.OrderBy(_ => random.Next()).Take(12)];
        return near.All(a => near.Where(b => b != a).Select(b => Observation.Of(a, b, null)).Append(Observation.Of(a, null, null))
            .All(o => own.NetOf(a) < 0 && o.B is null || moved.Joins(Located.Of(own, o)) == evidence.Predict(o, metal) is not null));
    }, iter: 120);

    /// <summary>More in series with one wire by the rank-one formula, against the net solved anew with it.</summary>
    [Fact]
    public void One_more_resistance_in_series_is_what_the_net_solved_anew_says() => Gen.Select(Gen.Int[0, Fan.Wires.Length - 1], Gen.Double[0.01, 200], Gen.Int[0, 99]).Sample((wire, ohm, pick) =>
    {
        var (before, after) = (new ResistiveFault(Fan.Wires[wire].Id, 1e-9), new ResistiveFault(Fan.Wires[wire].Id, ohm));
        var own = Drawn;
        var nets = own.NetsOf([before]);
        var (low, high) = (new Altered(own, [before], nets), new Altered(own, [after], nets));
        var points = low.Points.ToList();
        var seen = Observation.Of(points[pick % points.Count], points[(pick + 1 + (pick % 3)) % points.Count], 1);
        return seen.A[0] == seen.B!.Value[0] || low.PlaceOf(wire) is not (var place and >= 0) || low.Between(seen.A, seen.B.Value) is not { } predicted
            || Math.Abs(predicted.With(place, ohm) - high.Between([.. seen.A], [.. seen.B.Value])!.Ohms) < 1e-6 * (1 + ohm);
    }, iter: 400);

    /// <summary>A bridge of any ohms from the one of 1 Ω by the same formula, to places that are joined too.</summary>
    [Fact]
    public void A_bridge_of_other_ohms_is_what_the_nets_solved_anew_say() => Gen.Select(Gen.Int[0, 400], Gen.Int[0, 400], Gen.Double[0, 50], Gen.Int[1, 6]).Sample((one, other, ohm, joined) =>
    {
        var own = Drawn;
        ProbePoint[] points = [.. Fan.ProbePoints().Where(p => own.NetOf(p) >= 0)];
        var (a, b) = (points[one % points.Length], points[other % points.Length]);
        if (own.NetOf(a) == own.NetOf(b))
        {
            return true;
        }

        Altered With(double size) => new(own, [new ShortFault(a.ToString(), b.ToString(), size)], own.NetsOf([new ShortFault(a.ToString(), b.ToString(), size)]));
        var (metal, anew) = (With(1), With(ohm));
        ProbePoint[] far = [.. points.Where(p => own.NetOf(p) == own.NetOf(b)).Take(joined)];
        return metal.PlaceOf(Altered.BridgeAt(0)) is var place and >= 0 && metal.Between([a], far) is { } predicted
            && Math.Abs(predicted.With(place, 0) - predicted.Ohms) < 1e-9 && Math.Abs(predicted.With(place, ohm - 1) - anew.Between([a], far)!.Ohms) < 1e-6 * (1 + ohm);
    }, iter: 200);

    /// <summary>Copper that is off by what it may be is found again from what pairs of the net read.</summary>
    [Fact]
    public void Copper_is_what_the_readings_of_a_net_show() => Gen.Select(Gen.Int[0, Fan.Wires.Length - 1], Gen.Int[1, 5000]).Sample((wire, seed) =>
    {
        var (own, random) = (Drawn, new Random(seed));
        var net = own.NetOfWire(Fan.Wires[wire]);
        var metal = new Altered(own.With(own.WiresOf(net).ToDictionary(w => own.PlaceOf(w.Id), w => ((2 * random.NextDouble()) - 1) * 2 * own.PartOf(own.PlaceOf(w.Id)).Sd)), [], new HashSet<int> { net });
        var points = metal.Points.ToList();
        var pairs = points.SelectMany((p, i) => points.Skip(i + 1).Select(q => (p, q))).Take(150).ToList();
        var evidence = new Evidence(own, Meter.BenchFourWire, pairs.Select(x => Observation.Of(x.p, x.q, metal.Ohms(x.p, x.q))));
        var found = new Altered(MeasuredCopper.Of(own, evidence, own.AsDrawn(net)), [], new HashSet<int> { net });
        double Off(Altered of) => pairs.Sum(x => Math.Abs(of.Ohms(x.p, x.q)!.Value - metal.Ohms(x.p, x.q)!.Value));
        return pairs.TrueForAll(x => Math.Abs(found.Ohms(x.p, x.q)!.Value - metal.Ohms(x.p, x.q)!.Value) < 2e-3) && (pairs.Count < 3 || Off(found) <= Off(own.AsDrawn(net)));
    }, iter: 150);

    /// <summary>From a size that is off, one step by all readings together comes to where they agree.</summary>
    [Fact]
    public void A_step_of_the_fit_comes_to_the_size_that_the_readings_have() => Gen.Select(Gen.Int[0, Fan.Wires.Length - 1], Gen.Double[0.5, 20]).Sample((wire, ohm) =>
    {
        ResistiveFault Poor(double size) => new(Fan.Wires[wire].Id, size);
        var own = Drawn;
        var nets = own.NetsOf([Poor(1)]);
        var truth = new Altered(own, [Poor(ohm)], nets);
        var points = truth.Points.ToList();
        if (truth.PlaceOf(wire) < 0 || points.Count < 2)
        {
            return true;
        }

        var readings = points.Skip(1).Select(p => Observation.Of(points[0], p, truth.Ohms(points[0], p))).ToList();
        var evidence = new Evidence(own, Meter.BenchFourWire, readings);
        var shows = readings.Any(r => Math.Abs(evidence.AsDrawn(r)!.Ohms - r.Ohm!.Value) > 0.4 * ohm);
        var near = ohm * 1.05;
        return !shows || Math.Abs(near + evidence.Steps(new Altered(own, [Poor(near)], nets), [wire], [-near])[0] - ohm) < 0.02 * ohm;
    }, iter: 120);

    [Fact]
    public void Causes_from_before_they_were_weighed_are_read_as_single_faults()
    {
        const string old = """{"fault":{"kind":"open","wire":"W1","end":null},"sentence":"as it was","explains":2,"of":3,"against":0,"places":["A:1"]}""";
        var cause = JsonSerializer.Deserialize<Cause>(old, CoreJson.Options)!;
        cause.Faults.ShouldBe([new OpenFault("W1")]);
        (cause.Probability, cause.Sentence).ShouldBe((null, "as it was"));
        cause.Places.ShouldBe(["A:1"]);
        JsonSerializer.Deserialize<CauseFound>("""{"fault":{"kind":"missing","wire":"W7"},"words":"gone"}""", CoreJson.Options)!.Faults.ShouldBe([new MissingFault("W7")]);
        JsonSerializer.Deserialize<CauseFound>("""{"fault":null,"words":"nobody knows"}""", CoreJson.Options)!.Faults.ShouldBeEmpty();
        var now = new Cause([new OpenFault("W1"), new ShortFault("A:1", "A:2", 0.5)], 0.25, "both", ["A:1"]);
        JsonSerializer.Deserialize<Cause>(JsonSerializer.Serialize(now, CoreJson.Options), CoreJson.Options)!.Faults.ShouldBe(now.Faults);
    }

    /// <summary>What only one of two causes touches is compared with the drawing first: that short cut, and places seen to join differently, say what both laid out over all their nets say.</summary>
    [Fact]
    public void Causes_are_alike_when_all_their_nets_laid_out_are() => Gen.Int[1, 5000].Sample(seed =>
    {
        var own = Drawn;
        var evidence = new Evidence(own, Meter.BenchFourWire, []);
        var alike = new Alike(own, evidence, new(own, evidence));
        Weighed Of(ImmutableArray<Fault> faults) => new(faults, 0, 0, new Altered(own, faults, own.NetsOf(faults)));
        ImmutableArray<Fault>[] some = [.. Enumerable.Range(0, 4).Select(i => new HiddenFaults(Fan, (seed * 4) + i).Some(1 + (i % 2)).ToImmutableArray()).Where(f => f.All(x => x is not (IntermittentFault or DeviceFault or BackedOutFault or KeyTerminalFault)))];

        // The same wire in other words, so that some are alike.
        some = [.. some, .. some.SelectMany(f => alike.InOtherWords(f).Take(2))];
        return some.All(a => some.All(b =>
        {
            var nets = own.NetsOf(a).Union(own.NetsOf(b)).ToHashSet();
            return alike.Are(Of(a), Of(b)) == alike.Same(new(own, a, nets), new(own, b, nets));
        }));
    }, iter: 60);

    /// <summary>Which net is whole under some faults is what its places and their pieces say.</summary>
    [Fact]
    public void A_net_is_whole_when_its_places_are_one_piece_without_strangers() => Gen.Int[1, 5000].Sample(seed =>
    {
        var own = Drawn;
        ImmutableArray<Fault> faults = [.. new HiddenFaults(Fan, seed).Some(2)];
        var metal = new Altered(own, faults, own.NetsOf(faults));
        return metal.Nets.All(net =>
        {
            var (places, all) = (metal.Points.Where(p => own.NetOf(p) == net).ToList(), metal.Points.ToList());
            return metal.IsWhole(net) == all.TrueForAll(p => places.Count == 0 || places.Contains(p) == metal.Ohms(places[0], p) is not null);
        });
    }, iter: 200);
}
