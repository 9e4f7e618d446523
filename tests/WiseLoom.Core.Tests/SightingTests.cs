using System.Collections.Immutable;
using System.Text.Json;
using CsCheck;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;
using WiseLoom.Core.Sightings;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Tests;

/// <summary>What was seen beside resistances of the bare loom: with the key on, of a part by itself, under load, with the eye.</summary>
public sealed class SightingTests
{
    private static readonly Loom Fan = Looms.FrostFan;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static Diagnostician Of(Loom loom) => new(loom, loom.AmbientC, CopperTolerance.Usual, FaultTally.None);

    private static Diagnosed Find(Loom loom, params Sighting[] seen) => Of(loom).Find([], seen, Meter.BenchFourWire, Hands.Usual, Cancel);

    private static VoltsSeen Volts(string at, double volts, KeyPosition key = KeyPosition.On) => new(key, [], [], ProbePoint.Parse(at), volts);

    private static LampSeen Lamp(string at, Glow glow, KeyPosition key = KeyPosition.On) => new(key, [], [], ProbePoint.Parse(at), false, glow);

    /// <summary>Readings of a whole plan of the sound loom.</summary>
    private static List<Observation> Bare(Loom loom)
    {
        var plan = Bench.Plan(loom, Isolation.Neighbours, Meter.BenchFourWire);
        var bench = new SimulatedBench(loom, Meter.BenchFourWire, [], 3);
        return [.. plan.Steps.Where(s => s.Phase == StepPhase.Bare).Select(s => Observation.Of(s.Black, s.Red, bench.Measure(StepProbes.Of(loom, plan, s).Red, StepProbes.Of(loom, plan, s).Black).Ohms))];
    }

    [Fact]
    public void A_feed_that_reads_its_volts_and_carries_nothing_is_a_poor_joint()
    {
        var found = Find(Fan, Volts("INJ1:1", 12.5), Lamp("INJ1:1", Glow.Dark), Lamp("INJ2:1", Glow.Bright));
        found.Ranking[0].Faults.ShouldBe([new ResistiveFault("W9", ((ResistiveFault)found.Ranking[0].Faults[0]).Ohm)]);
        found.Ranking[0].Sentence.ShouldContain("a voltage without a load proves nothing there", Case.Sensitive);
        found.Ranking[0].Sentence.ShouldStartWith("A lamp from INJ1:1 to ground stays dark (key on), where the drawing has a bright lamp.");
        ((ResistiveFault)found.Ranking[0].Faults[0]).Ohm.ShouldBeInRange(10, 500);
    }

    [Fact]
    public void What_is_as_drawn_is_clean()
    {
        var found = Find(Fan, Lamp("INJ1:1", Glow.Bright), Volts("INJ2:1", 12.5), new FunctionSeen(KeyPosition.On, [], [], "Oil lamp lights", true), new DeviceAlone("injector-3", 12.1));
        found.Ranking[0].Faults.ShouldBeEmpty();
        found.Ranking[0].Probability.ShouldBeGreaterThan(0.95);
    }

    [Fact]
    public void A_contact_that_reads_right_bare_and_does_not_meet_its_pin()
    {
        var hidden = new BackedOutFault("INJ3", "1");
        var looker = new Onlooker(Fan, hidden);
        looker.Read.AddRange(Bare(Fan));
        looker.Turns(KeyPosition.On).ShouldBeTrue();
        var found = looker.Follow(Of(Fan), 8, Cancel);
        found.Ranking.Take(2).ShouldContain(f => f.Faults.SequenceEqual(new Fault[] { hidden }), "An injector dead by itself, and a contact that misses it, are all that bare readings leave.");
        found.Ranking.Where(f => f.Probability > 0.05).SelectMany(f => f.Faults).ShouldAllBe(f => f is BackedOutFault || f is DeviceFault);
    }

    [Fact]
    public void A_wire_may_have_failed_since_it_was_measured_and_what_speaks_against_it_is_said()
    {
        var found = Of(Fan).Find(Bare(Fan), [Volts("INJ1:1", 12.5), Lamp("INJ1:1", Glow.Dark), Lamp("INJ2:1", Glow.Bright)], Meter.BenchFourWire, Hands.Usual, Cancel);
        found.Ranking.Take(2).ShouldContain(f => f.Faults.Length == 1 && f.Faults[0] is ResistiveFault && ((ResistiveFault)f.Faults[0]).Wire == "W9");
        found.Ranking.First(f => f.Faults is [ResistiveFault]).Sentence.ShouldContain("against it");
        (found.Look is not null || found.Next is not null || found.Ranking[0].Probability > Diagnostician.SureEnough).ShouldBeTrue(string.Join("\n", found.Ranking.Select(f => $"{f.Probability:0.000} {string.Join(';', f.Faults)}")));
    }

    [Fact]
    public void A_device_that_measures_wrong_by_itself_is_named_with_its_ohms()
    {
        var found = Find(Fan, new DeviceAlone("injector-3", 3.1));
        found.Ranking[0].Faults.ShouldBe([new DeviceFault("injector-3", 3.1)]);
        found.Ranking[0].Sentence.ShouldContain("Injector 3 at 3.10 Ω");
    }

    [Fact]
    public void A_reading_through_a_device_points_at_it_or_at_the_wires_on_the_way()
    {
        var found = Find(Fan, new FittedSeen(ProbePoint.Parse("INJ1:1"), ProbePoint.Parse("INJ1:2"), null, []));
        found.Ranking[0].Faults.ShouldBe([new DeviceFault("injector-1")]);
    }

    [Fact]
    public void Of_two_wires_side_by_side_one_is_lifted_out_to_tell_which_is_poor()
    {
        var loom = Looms.Of("A:1-S1", "S1-S2@4000", "S1-S2@4000", "S2-B:1");
        var hidden = new ResistiveFault("W2", 0.8);
        var looker = new Onlooker(loom, hidden);
        var reads = new BuiltLoom(loom, [hidden]).Graph(20, CopperTolerance.Usual).NetOf(new("A", "1"))!.Between(new("A", "1"), new("B", "1"), Corner.Nominal);
        looker.Read.Add(Observation.Of(new("A", "1"), new("B", "1"), reads));
        var before = Of(loom).Find(looker.Read, Meter.BenchFourWire, Cancel);
        before.Next.ShouldBeNull();
        before.Look.ShouldNotBeNull().Kind.ShouldBe(LookKind.Wire);
        looker.Seen.Add(looker.Answer(before.Look));
        looker.Seen.Add(new WireAlone("W2", looker.Answer(before.Look with { At = "W2" }) is WireAlone { Ohm: var ohm } ? ohm : null));
        Of(loom).Find(looker.Read, looker.Seen, Meter.BenchFourWire, Hands.Usual, Cancel).Ranking[0].Faults.ShouldBe([new ResistiveFault("W2", 0.8)], new SameWire());
    }

    [Fact]
    public void A_load_test_shows_what_a_hand_meter_cannot()
    {
        var loom = Looms.Of("A:1-B:1", "A:2-B:2");
        Observation[] read = [Observation.Of(new("A", "1"), new("B", "1"), 0.3), Observation.Of(new("A", "2"), new("B", "2"), 0.2)];
        var (drops, sound) = (new DropSeen(new("A", "1"), new("B", "1"), 2, 320), new DropSeen(new("A", "1"), new("B", "1"), 2, 72));
        Of(loom).Find(read, [drops], Meter.HandTwoWire, Hands.Usual, Cancel).Ranking[0].Faults.ShouldBe([new ResistiveFault("W1", 0.12)], new SameWire());
        Of(loom).Find(read, [sound], Meter.HandTwoWire, Hands.Usual, Cancel).Ranking[0].Faults.ShouldBeEmpty();
    }

    [Fact]
    public void What_the_eye_finds_makes_a_place_likelier()
    {
        Sighting[] dead = [new FunctionSeen(KeyPosition.Start, [], [], "Fuel pump runs", false), new FunctionSeen(KeyPosition.On, [], [], "Injector 1 fires", true)];
        double Share(Diagnosed found) => found.Ranking.Where(f => f.Faults is [OpenFault { Wire: "W98" }]).Sum(f => f.Probability);
        var (before, after) = (Find(Fan, dead), Find(Fan, [.. dead, new LookSeen("W98", "crushed")]));
        Share(after).ShouldBeGreaterThan(3 * Share(before));
    }

    [Fact]
    public void A_break_is_placed_by_what_its_ends_have_against_the_rest() => Gen.Select(Gen.Double[0.05, 0.95], Gen.Double[0.05, 0.3]).Sample((share, perMetre) =>
    {
        // W2 of 3 m is broken; 1 m hangs on one side of it, 2 m on the other.
        var loom = Looms.Of("A:1-S1", "S1-S2@3000", "S2-B:1@2000");
        ImmutableArray<Sighting> seen = [new CapacitanceSeen(new("A", "1"), perMetre * (1 + (3 * share))), new CapacitanceSeen(new("B", "1"), perMetre * (2 + (3 * (1 - share))))];
        var drawn = new DrawnLoom(loom, 20, CopperTolerance.Usual);
        var place = BreakByCapacitance.Of(drawn, loom.FindWire("W2")!, seen);
        return place is var (mm, spread) && Math.Abs(mm - (3000 * share)) < 1 && spread is > 20 and < 500;
    });

    [Fact]
    public void A_break_that_its_capacitances_cannot_be_of_has_no_place()
    {
        var drawn = new DrawnLoom(Looms.Of("A:1-B:1"), 20, CopperTolerance.Usual);
        var wire = drawn.Loom.FindWire("W1")!;
        BreakByCapacitance.Of(drawn, wire, [new CapacitanceSeen(new("A", "1"), 0.1)]).ShouldBeNull("one end alone says nothing");
        var found = Of(drawn.Loom).Find([Observation.Of(new("A", "1"), new("B", "1"), null)], [new CapacitanceSeen(new("A", "1"), 0.03), new CapacitanceSeen(new("B", "1"), 0.09)], Meter.BenchFourWire, Hands.Usual, Cancel);
        found.Ranking[0].Sentence.ShouldContain("roughly 250 mm from A:1 and 750 mm from B:1");
    }

    public static TheoryData<string, Sighting> Wrong => new()
    {
        { "/at", Volts("INJ9:1", 1) },
        { "/at", Volts("INJ1:7", 1) },
        { "/volts", Volts("INJ1:1", 1000) },
        { "/volts", Volts("INJ1:1", double.NaN) },
        { "/set", new VoltsSeen(KeyPosition.On, ["no such thing"], [], ProbePoint.Parse("INJ1:1"), 1) },
        { "/without", new VoltsSeen(KeyPosition.On, [], ["nobody"], ProbePoint.Parse("INJ1:1"), 1) },
        { "/at", Lamp("NOWHERE:1", Glow.Dark) },
        { "/name", new FunctionSeen(KeyPosition.On, [], [], "Coffee is made", false) },
        { "/wire", new WireAlone("W9999", 1) },
        { "/ohm", new WireAlone("W9", 1e15) },
        { "/device", new DeviceAlone("nobody", 1) },
        { "/b", new FittedSeen(ProbePoint.Parse("INJ1:1"), ProbePoint.Parse("X:1"), 1, []) },
        { "/amps", new DropSeen(ProbePoint.Parse("INJ1:1"), ProbePoint.Parse("INJ2:1"), 0, 1) },
        { "/millivolts", new DropSeen(ProbePoint.Parse("INJ1:1"), ProbePoint.Parse("INJ2:1"), 1, 1e9) },
        { "/place", new LookSeen("nowhere", "rust") },
        { "/words", new LookSeen("S1", " ") },
        { "/nanofarad", new CapacitanceSeen(ProbePoint.Parse("INJ1:1"), 0) },
    };

    [Theory]
    [MemberData(nameof(Wrong))]
    public void What_cannot_be_of_this_loom_is_said_with_its_field(string at, Sighting sighting)
    {
        var problem = sighting.Problems(Fan).ShouldHaveSingleItem();
        problem.At.ShouldBe(at);
        problem.Message.Length.ShouldBeGreaterThan(20);
    }

    [Fact]
    public void Each_kind_is_written_and_read_back()
    {
        Sighting[] all =
        [
            Volts("INJ1:1", 12.5), Lamp("INJ1:1", Glow.Dim), new FunctionSeen(KeyPosition.Start, [], [], "Fuel pump runs", false), new FittedSeen(new("INJ1", "1"), new("INJ1", "2"), 12, ["injector-1"]),
            new DropSeen(new("INJ1", "1"), new("INJ2", "1"), 2, 30), new WireAlone("W9", null), new DeviceAlone("injector-1", 12), new LookSeen("S1", "green"), new CapacitanceSeen(new("INJ1", "1"), 0.2),
            new WorksSeen(KeyPosition.On, ["Injector 3"], [], "injector-3", true), new CurrentSeen(KeyPosition.On, [], [], new("R-BAT", "1"), 1.5), new PolaritySeen("crank-sensor", true),
        ];
        all.Length.ShouldBe(Sighting.Kinds.Count);
        foreach (var one in all)
        {
            var text = JsonSerializer.Serialize(one, CoreJson.Options);
            var back = JsonSerializer.Deserialize<Sighting>(text, CoreJson.Options)!;
            JsonSerializer.Serialize(back, CoreJson.Options).ShouldBe(text);
            back.InWords().ShouldBe(one.InWords());
            back.Subject().ShouldBe(one.Subject());
            back.Problems(Fan).ShouldBeEmpty(text);
        }
    }

    /// <summary>A broken wire is a loom without it; what a fault of a device makes of it is the loom with that device.</summary>
    [Fact]
    public void A_loom_as_built_is_the_loom_drawn_so() => Gen.Int[0, Fan.Wires.Length - 1].Sample(i =>
    {
        var wire = Fan.Wires[i];
        var built = LoomStates.For(new BuiltLoom(Fan, [new OpenFault(wire.Id)]).AsBuilt(20), 20).At(Situation.At(KeyPosition.On), withProbes: false);
        var drawn = LoomStates.For(Fan with { Wires = Fan.Wires.Remove(wire) }, 20).At(Situation.At(KeyPosition.On), withProbes: false);
        return drawn.Points.All(p => built.Points.TryGetValue(p.Key, out var there) && there.Floats == p.Value.Floats && Math.Abs((there.Volts ?? 0) - (p.Value.Volts ?? 0)) < 1e-6)
            && built.Functions.Select(f => (f.Name, f.Works)).SequenceEqual(drawn.Functions.Select(f => (f.Name, f.Works)));
    }, iter: 25);

    [Fact]
    public void A_poor_joint_drops_what_its_ohms_say()
    {
        var loom = new BenchLoom().Battery().Wire("BAT", "P").Wire("GND", "Q").Device("lamp", "resistor", """{ "1": "P", "2": "Q" }""", """{ "ohm": 7.5, "use": "lamp" }""").Loom();
        var state = LoomStates.For(new BuiltLoom(loom, [new ResistiveFault("W1", 30)]).AsBuilt(20), 20).At(Situation.At(KeyPosition.On), withProbes: false);
        state.Points[new("P", "1")].Volts!.Value.ShouldBe(12.6 * 7.5 / (30 + 7.5), 0.05);
        state.Functions.ShouldHaveSingleItem().Works.ShouldBeFalse();
    }

    /// <summary>Kind and seed. A contact that does not meet its pin asks for the most looks: before a release.</summary>
    public static TheoryData<int, int> Hidden => [.. new TheoryData<int, int> { { 0, 50 }, { 1, 41 }, { 2, 42 }, { 3, 43 } }.Take(Effort.Of(2, 4))];

    /// <summary>Seeded faults of all kinds that take a function away: what is asked for leads to them. Long: up to ten rankings over all devices of a launch each.</summary>
    [Theory]
    [MemberData(nameof(Hidden))]
    public void Following_what_is_asked_for_leads_to_the_fault(int kind, int seed)
    {
        var loom = Looms.WorkLaunch;
        var (random, played, found) = (new Random(seed), 0, 0);
        var diagnostician = Of(loom);
        var most = Effort.Of(1, 3);
        for (var i = 0; i < 40 && played < most; i++)
        {
            var wire = loom.Wires[random.Next(loom.Wires.Length)];
            var device = loom.Devices.Where(d => d.Model is not (BatteryModel or CableModel)).ElementAt(random.Next(20));
            var point = loom.ProbePoints().ElementAt(random.Next(60));
            Fault hidden = kind switch { 0 => new OpenFault(wire.Id), 1 => new DeviceFault(device.Ref), 2 => new ResistiveFault(wire.Id, 30), _ => new BackedOutFault(point.Connector, point.Cavity) };
            var looker = new Onlooker(loom, hidden);
            if (!new[] { KeyPosition.On, KeyPosition.Start }.Any(looker.Turns))
            {
                continue;
            }

            played++;
            var told = looker.Follow(diagnostician, 10, Cancel);
            found += told.Ranking.Take(2).Any(r => r.Alike.Prepend(r.Faults).Any(f => f is [var one] && IsThat(one, hidden, loom))) ? 1 : 0;
        }

        played.ShouldBe(most);
        found.ShouldBeGreaterThanOrEqualTo(Effort.Of(1, 2));
    }

    /// <summary>Where a wire ends alone in a contact, that the one is broken and that the other does not meet its pin may look the same at every place.</summary>
    private static bool IsThat(Fault one, Fault hidden, Loom loom) => hidden is WireFault wire ? one is WireFault other && other.Wire == wire.Wire
        : one.Equals(hidden) || (hidden is BackedOutFault && one is OpenFault open && open.Places(loom).Intersect(hidden.Places(loom)).Any());

    /// <summary>Poor joints of one wire, of about the same size.</summary>
    private sealed class SameWire : IEqualityComparer<Fault>
    {
        public bool Equals(Fault? x, Fault? y) => x is ResistiveFault one && y is ResistiveFault other ? one.Wire == other.Wire && Math.Abs(one.Ohm - other.Ohm) < 0.1 * other.Ohm + 0.02 : Equals((object?)x, y);

        public int GetHashCode(Fault obj) => obj is ResistiveFault poor ? poor.Wire.GetHashCode(StringComparison.Ordinal) : obj.GetHashCode();
    }
}
