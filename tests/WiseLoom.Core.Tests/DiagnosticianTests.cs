using System.Collections.Immutable;
using CsCheck;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;

namespace WiseLoom.Core.Tests;

/// <summary>What is behind readings: hand-made cases with the sentence they must lead to, and hidden faults played to their end.</summary>
public sealed class DiagnosticianTests
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static Trial TrialOf(Loom loom, Meter meter, Isolation isolation) => new(loom, Bench.Plan(loom, isolation, meter));

    /// <summary>Plays hidden faults from a whole plan until the diagnosis is sure.</summary>
    private static TrialCase Play(Loom loom, params Fault[] hidden) => TrialOf(loom, Meter.BenchFourWire, Isolation.Thorough).Play(hidden, 11, Cancel);

    private static Diagnosed Find(Loom loom, params Observation[] readings) => new Diagnostician(loom, loom.AmbientC, CopperTolerance.Usual, FaultTally.None).Find(readings, Meter.BenchFourWire, Cancel);

    private static Observation Reads(string a, string? b, double? ohm, bool moved = false) => new([ProbePoint.Parse(a)], b is null ? null : [ProbePoint.Parse(b)], ohm, moved);

    /// <summary>A contact of the controller in the empty cavity beside it.</summary>
    private static MisplacedFault Astray
    {
        get
        {
            bool Wired(string cavity) => Looms.FrostFan.WiresAt(new("ECU-A", cavity)).Any();
            var (a, b) = FaceLayout.Neighbours(Looms.FrostFan.Connector("ECU-A").Family).First(n => Wired(n.A) != Wired(n.B));
            return new("ECU-A", Wired(a) ? a : b, Wired(a) ? b : a);
        }
    }

    /// <summary>Of two wires in a row with a splice between them nobody can say by measuring which is broken: the other is named; of a wire by itself none is.</summary>
    [Fact]
    public void A_wire_that_reads_the_same_is_named()
    {
        var loom = Looms.Of("A:1-S1", "S1-B:1", "A:2-B:2", "A:3-B:3");
        string Of(int broken) => Find(loom, [.. Enumerable.Range(1, 3).Select(i => Reads($"A:{i}", $"B:{i}", i == broken ? null : i == 1 ? 0.073 : 0.036))]).Ranking.First(r => r.Faults is [OpenFault]).Sentence;
        Of(1).ShouldEndWith("No measurement tells it from these: Open in W2 (S1 to B:1).");
        Of(2).ShouldNotContain("No measurement");
    }

    /// <summary>Metal beside a splice may be on any of the wires that meet there.</summary>
    [Fact]
    public void A_bridge_beside_a_splice_may_be_on_any_of_its_wires()
    {
        var played = Play(Looms.Of("A:1-S1@2000", "S1-B:1@2000", "S1-C:1@2000", "D:1-E:1@2000"), new ShortFault("W1", "W4", 0.2) { AlongMm = [1990, 1000] });
        played.Found.ShouldBeTrue(played.Sentence);
        played.Sentence.ShouldContain("No measurement tells it from these: ");
        new[] { "W1", "W2", "W3" }.Count(w => played.Sentence.Contains($"{w} and W4 touch", StringComparison.Ordinal) || played.Sentence.Contains($"W4 and {w} touch", StringComparison.Ordinal) || played.Sentence.Contains($"between {w}", StringComparison.Ordinal)).ShouldBeGreaterThan(1, played.Sentence);
    }

    public static TheoryData<string, Fault[], string> HandMade => new()
    {
        { "two contacts exchanged at the controller", [SwapFault.Of("ECU-A", "25", "26")], "If the contacts of cavities 25 and 26 in ECU-A were exchanged" },
        { "a contact one cavity over", [Astray], $"in {Astray.To}" },
        { "a plug filled from the wrong face", [new MirroredFault("CRANK")], "filled as seen from the wrong face" },
        { "a plug pushed into its twin's place", [SwapFault.Of("ECU-A", "25", "26")], "if the plugs INJ5 and INJ6 were in each other's place" },
        { "the two contacts of an injector's plug exchanged", [new MirroredFault("INJ3")], "contacts of cavities 1 and 2 in INJ3 were exchanged" },
        { "a shield touching its signal", [new ShortFault("CRANK:B", "CRANK:C", 0.1)], "Metal between CRANK:" },
        { "one leg out of a splice", [new OpenFault("W12", "to")], "With W12" },
        { "a ground ring with 0.4 Ω", [new ResistiveFault("W42", 0.4, "to")], "a poor joint of about 0.4" },
        { "a short between neighbours", [new ShortFault("ECU-A:21", "ECU-A:22", 0.2)], "Metal between ECU-A:2" },
        { "a wire that is not there", [new MissingFault("W77")], "With W77" },
    };

    [Theory]
    [MemberData(nameof(HandMade))]
    public void A_hand_made_case_leads_to_its_sentence(string what, Fault[] hidden, string sentence)
    {
        var played = Play(Looms.FrostFan, hidden);
        played.Found.ShouldBeTrue($"{what}: {played.Sentence}");
        played.Sentence.ShouldContain(sentence);
        played.FirstProbability.ShouldBeGreaterThan(0.9);
    }

    [Fact]
    public void A_run_of_contacts_one_place_along_is_found_as_a_run()
    {
        var shift = new HiddenFaults(Looms.FrostFan, 1);
        var run = Enumerable.Range(0, 4000).SelectMany(_ => shift.Some(1)).OfType<ShiftFault>().First();
        Play(Looms.FrostFan, run).ShouldSatisfyAllConditions(c => c.Found.ShouldBeTrue(c.Sentence), c => c.Sentence.ShouldContain("one place along"));
    }

    [Fact]
    public void Two_faults_in_one_plug_that_mask_each_other_are_both_named()
    {
        var played = Play(Looms.FrostFan, SwapFault.Of("ECU-A", "25", "26"), new OpenFault("W12"));
        played.Found.ShouldBeTrue(played.Sentence);
    }

    [Fact]
    public void An_open_that_comes_and_goes_is_told_from_what_broke_while_it_was_moved()
    {
        var loom = Looms.Of("A:1-B:1", "A:2-B:2");
        var found = Find(loom, Reads("A:1", "B:1", 0.035), Reads("A:2", "B:2", 0.035), Reads("A:1", "A:2", null), Reads("A:1", "B:1", null, moved: true));
        found.Ranking[0].Faults.ShouldBe([new IntermittentFault("W1")]);
        found.Ranking[0].Sentence.ShouldContain("broke while it was moved");
        found.Ranking[0].Alike.ShouldContain(a => a.Length == 1 && a[0].Equals(new IntermittentFault("W1", "from")));
    }

    [Fact]
    public void A_sound_loom_is_called_clean_and_what_could_not_be_seen_is_named()
    {
        var loom = Looms.Of("A:1-B:1", "A:2-B:2");
        var found = Find(loom, Reads("A:1", "B:1", 0.035), Reads("A:2", "B:2", 0.035), Reads("A:1", "A:2", null));
        found.Ranking.ShouldHaveSingleItem().Faults.ShouldBeEmpty();
        found.Next.ShouldBeNull();
        found.Unseeable.ShouldContain(u => u.StartsWith("intermittent", StringComparison.Ordinal));
        found.Unseeable.ShouldContain(u => u.StartsWith("device", StringComparison.Ordinal));
        Find(loom).Ranking[0].Faults.ShouldBeEmpty();
    }

    [Fact]
    public void A_bridge_at_either_end_is_told_apart_by_one_more_measurement()
    {
        // 2 m of 0.5 mm²: 69 mΩ a wire. Metal of 10 mΩ at B reads 148 mΩ from A; so does metal of 148 mΩ at A.
        var loom = Looms.Of("A:1-B:1@2000", "A:2-B:2@2000");
        var first = Find(loom, Reads("A:1", "B:1", 0.069), Reads("A:2", "B:2", 0.069), Reads("A:1", "A:2", 0.148));
        first.Ranking.Length.ShouldBeGreaterThan(1);
        var next = first.Next.ShouldNotBeNull();
        next.B!.Value.ShouldHaveSingleItem();
        var second = Find(loom, Reads("A:1", "B:1", 0.069), Reads("A:2", "B:2", 0.069), Reads("A:1", "A:2", 0.148), Reads("B:1", "B:2", 0.01));
        second.Ranking[0].Faults.ShouldHaveSingleItem().ShouldBeOfType<ShortFault>().ShouldSatisfyAllConditions(
            s => new[] { s.A, s.B }.Order().ShouldBe(["B:1", "B:2"]), s => s.Ohm.ShouldBe(0.01, 0.004));
    }

    [Fact]
    public void A_contact_that_may_stand_in_any_empty_cavity_is_looked_for_in_all_of_them_at_once()
    {
        var loom = Looms.Of("A:1-B:1", "A:2-B:2");
        var found = Find(loom, Reads("A:1", "B:1", null), Reads("A:2", "B:2", 0.035), Reads("A:1", "A:2", null), Reads("B:1", "B:2", null));
        found.Ranking[0].Faults.ShouldBe([new OpenFault("W1")]);
        found.Ranking[0].Alike.ShouldContain(a => a.Length == 1 && a[0].Equals(new MissingFault("W1")));
        found.Next.ShouldNotBeNull().B!.Value.Length.ShouldBeGreaterThan(2);
    }

    [Fact]
    public void What_the_meter_cannot_tell_apart_is_one_group()
    {
        // Two wires in a row with nothing between them that a probe can touch.
        var loom = Looms.Of("A:1-S1", "S1-B:1", "A:2-B:2");
        var found = Find(loom, Reads("A:1", "B:1", null), Reads("A:2", "B:2", 0.035), Reads("A:1", "A:2", null), Reads("B:1", "B:2", null), Reads("A:1", "B:3", null));
        found.Ranking[0].Alike.Prepend(found.Ranking[0].Faults).Select(f => f[0]).OfType<OpenFault>().Select(f => f.Wire).Distinct().Order().ShouldBe(["W1", "W2"]);
    }

    [Theory]
    [InlineData(Isolation.Thorough, false, 1, 40)]
    [InlineData(Isolation.Neighbours, false, 1, 40)]
    [InlineData(Isolation.Thorough, true, 1, 40)]
    [InlineData(Isolation.Thorough, false, 2, 50)]
    [InlineData(Isolation.Thorough, false, 0, 20)]
    [InlineData(Isolation.Neighbours, true, 0, 20)]
    public void Hidden_faults_are_first_at_the_end(Isolation isolation, bool byHand, int faults, int count)
    {
        var loom = Looms.WorkLaunch;
        var trial = TrialOf(loom, byHand ? Meter.HandTwoWire : Meter.BenchFourWire, isolation);
        var cases = Enumerable.Range(0, count).Select(i => trial.Play(faults == 0 ? [] : new HiddenFaults(loom, 400 + i).Some(faults), i, Cancel)).ToList();
        var seeable = cases.FindAll(c => c.IsSeeable);
        var missed = seeable.FindAll(c => !c.Found);
        missed.Count.ShouldBeLessThanOrEqualTo(faults switch { 0 => 0, 1 => count / 40, _ => count / 10 }, string.Join("\n", missed.Select(m => $"{string.Join(" + ", m.Hidden)}: {m.Sentence}")));
        cases.Select(c => c.Extra).Order().ElementAt(count / 2).ShouldBeLessThanOrEqualTo(isolation == Isolation.Thorough && !byHand ? 1 : 4);
    }

    [Fact]
    public void The_order_of_readings_changes_nothing()
    {
        var loom = Looms.WorkLaunch;
        var plan = Bench.Plan(loom, Isolation.Neighbours);
        var bench = new SimulatedBench(loom, plan.Meter, [SwapFault.Of("X1", "6", "10")], 3);
        Observation[] readings = [.. plan.Steps.Select(s => Observation.Of(s.Black, s.Red, bench.Measure([s.Red!.Value], [s.Black]).Ohms))];
        var first = Find(loom, readings).Ranking[0];
        Gen.Shuffle(readings).Sample(
            shuffled =>
            {
                var other = Find(loom, shuffled).Ranking[0];
                other.Faults.ShouldBe(first.Faults);
                other.Probability.ShouldBe(first.Probability, 1e-3);
            },
            iter: 5);
    }

    public static TheoryData<string, Func<double?, double?>, string> Senseless => new()
    {
        { "a lead is off", _ => null, "a lead is off" },
        { "leads that were not nulled", ohm => ohm + 0.31, "the leads were not nulled" },
        { "milliohms taken for ohms", ohm => ohm * 1000, "another range" },
        { "kilohms taken for ohms", ohm => ohm / 1000, "another range" },
    };

    [Theory]
    [MemberData(nameof(Senseless))]
    public void What_speaks_of_the_meter_is_said_and_not_explained_by_a_fault(string what, Func<double?, double?> shown, string words)
    {
        var loom = Looms.WorkLaunch;
        var plan = Bench.Plan(loom, Isolation.Neighbours);
        var bench = new SimulatedBench(loom, plan.Meter, [], 3);
        var found = Find(loom, [.. plan.Steps.Select(s => Observation.Of(s.Black, s.Red, shown(bench.Measure([s.Red!.Value], [s.Black]).Ohms)))]);
        found.Doubts.ShouldHaveSingleItem(what).ShouldContain(words);
        found.Ranking.ShouldHaveSingleItem().Faults.ShouldBeEmpty();
        found.Next.ShouldBeNull();
    }

    /// <summary>All readings of a star lead through the leg that they are taken from: a poor joint there is no lead that was not nulled.</summary>
    [Fact]
    public void Too_much_in_all_readings_through_one_wire_is_that_wire()
    {
        var loom = Looms.Of("A:1-S1@800", "S1-B:1@700", "S1-B:2@900", "S1-B:3@600", "S1-B:4@500", "S1-B:5@1100", "A:2-C:1@700");
        var bench = new SimulatedBench(loom, Meter.BenchFourWire, [new ResistiveFault("W1", 0.31)], 4);
        var points = loom.Wires.Select(w => w.To).Where(e => !e.IsSplice && e.Point.Connector == "B").Select(e => e.Point);
        var found = Find(loom, [.. points.Select(p => Observation.Of(new("A", "1"), p, bench.Measure([p], [new("A", "1")]).Ohms))]);
        found.Doubts.ShouldBeEmpty();
        found.Ranking[0].Faults.ShouldHaveSingleItem().ShouldBeOfType<ResistiveFault>().Wire.ShouldBe("W1");
    }

    [Fact]
    public void The_same_pair_read_twice_in_two_ways_is_asked_for_again()
    {
        var loom = Looms.Of("A:1-B:1", "A:2-B:2");
        Find(loom, Reads("A:1", "B:1", 0.035), Reads("B:1", "A:1", null)).Doubts.ShouldHaveSingleItem().ShouldContain("read twice, as 35.0 mΩ and as over range");
        Find(loom, Reads("A:1", "B:1", 0.035), Reads("A:1", "B:1", 0.0352)).Doubts.ShouldBeEmpty();
        Find(loom, Reads("A:1", "B:1", 0.035), Reads("A:1", "B:1", null, moved: true)).Doubts.ShouldBeEmpty();
    }

    [Fact]
    public void A_reading_of_what_is_not_there_is_refused()
    {
        var loom = Looms.Of("A:1-B:1");
        Should.Throw<ArgumentException>(() => Find(loom, Reads("A:1", "C:9", 1))).Message.ShouldContain("C:9");
        Should.Throw<ArgumentException>(() => Find(loom, new Observation([], null, 1, false))).Message.ShouldContain("one point at least");
    }

    [Fact]
    public void Every_hidden_fault_names_what_the_loom_has()
    {
        foreach (var loom in new[] { Looms.FrostFan, Looms.WorkLaunch, Looms.Of("A:1-B:1") })
        {
            for (var seed = 0; seed < 60; seed++)
            {
                foreach (var fault in new HiddenFaults(loom, seed).Some(2))
                {
                    fault.Places(loom).ShouldNotBeEmpty();
                    fault.Places(loom).ShouldAllBe(p => loom.HasPlace(p));
                }
            }
        }
    }
}
