using System.Text.Json.Nodes;
using CsCheck;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Planning.Steps;
using WiseLoom.Core.Revisions;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Tests;

/// <summary>What differs between two looms, two people's changes laid together, and what a rework leaves proven.</summary>
public sealed class RevisionTests
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static JsonObject Fan => JsonNode.Parse(Looms.DemoFile("frost-fan.json"))!.AsObject();

    /// <summary>Small edits of the frost fan: a list, a place in it, a field and a value.</summary>
    private static readonly Gen<(int List, int Index, int Field, int Value)[]> Edits =
        Gen.Select(Gen.Int[0, 6], Gen.Int[0, 200], Gen.Int[0, 20], Gen.Int[0, 3]).Array[0, 8];

    private static JsonObject Edited((int List, int Index, int Field, int Value)[] edits)
    {
        var document = Fan;
        foreach (var (list, index, field, value) in edits)
        {
            var entries = document[LoomDocument.Lists[list].Field]!.AsArray();
            var entry = entries[index % entries.Count]!.AsObject();
            if (value == 0 && entries.Count > 1)
            {
                entries.RemoveAt(index % entries.Count);
            }
            else if (entry.Select(f => f.Key).Where(k => k is not ("id" or "ref")).ToList() is { Count: > 0 } fields)
            {
                entry[fields[field % fields.Count]] = $"edit {value}";
            }
        }

        return document;
    }

    [Fact]
    public void Nothing_differs_from_itself_and_whatever_differs_is_named() => Gen.Select(Edits, Edits).Sample((a, b) =>
    {
        var (one, other) = (Edited(a), Edited(b));
        LoomDifference.Between(one, one, Cancel).ShouldBeEmpty();
        LoomDifference.Between(one, other, Cancel).IsEmpty.ShouldBe(JsonNode.DeepEquals(one, other));
    }, iter: 100);

    [Fact]
    public void A_change_reads_as_a_person_would_say_it()
    {
        var after = Fan;
        after["wires"]![2]!["from"] = "ECU-A:30";
        after["wires"]![3]!["colour"] = "BU/GY";
        after["wires"]!.AsArray().RemoveAt(4);
        after["loom"]!["revision"] = "D";
        LoomDifference.Between(Fan, after, Cancel).Select(c => (c.Kind, c.Sentence)).ShouldBe(
        [
            (ChangeKind.Moved, "Wire W3: from ECU-A:23 → ECU-A:30."),
            (ChangeKind.Recoloured, "Wire W4: colour BU/YE → BU/GY."),
            (ChangeKind.Removed, "Wire W5 is gone: ECU-A:25 to INJ5:2, Injector 5 drive."),
            (ChangeKind.Changed, "Loom: revision C → D."),
        ]);
    }

    [Fact]
    public void One_persons_changes_are_kept_whole_when_the_other_made_none() => Edits.Sample(e =>
    {
        var mine = Edited(e);
        var first = Reconciliation.Of(Fan, mine, Fan, Cancel);
        JsonNode.DeepEquals(first.Together, mine).ShouldBeTrue();
        first.Clashes.ShouldBeEmpty();
        Reconciliation.Of(Fan, Fan, mine, Cancel).Clashes.ShouldBeEmpty();
        LoomDifference.Between(mine, Reconciliation.Of(Fan, Fan, mine, Cancel).Together, Cancel).ShouldBeEmpty();
    }, iter: 60);

    [Fact]
    public void Both_peoples_changes_are_there_or_named_as_a_clash() => Gen.Select(Edits, Edits).Sample((a, b) =>
    {
        var (mine, theirs) = (Edited(a), Edited(b));
        var both = Reconciliation.Of(Fan, mine, theirs, Cancel);
        var lost = LoomDifference.Between(both.Together, mine, Cancel).Count(c => both.Theirs.All(t => t.Name != c.Name || t.List != c.List));
        lost.ShouldBe(0, "whatever is not as I left it was changed by the other");
        if (both.Clashes.IsEmpty)
        {
            LoomDifference.Between(both.Together, Reconciliation.Of(Fan, theirs, mine, Cancel).Together, Cancel).ShouldBeEmpty();
        }
    }, iter: 60);

    [Fact]
    public void Two_values_for_one_field_clash_and_mine_stands_until_somebody_chooses()
    {
        var (mine, theirs) = (Fan, Fan);
        mine["wires"]![0]!["lengthMm"] = 1;
        theirs["wires"]![0]!["lengthMm"] = 2;
        theirs["wires"]![0]!["colour"] = "RD";
        var both = Reconciliation.Of(Fan, mine, theirs, Cancel);
        both.Clashes.ShouldHaveSingleItem().ShouldBe(new Clash("wire W1, lengthMm", "1", "2"));
        both.Together["wires"]![0]!["lengthMm"]!.GetValue<int>().ShouldBe(1);
        both.Together["wires"]![0]!["colour"]!.GetValue<string>().ShouldBe("RD");
    }

    private static BenchRun Proven(Isolation isolation) => new Bench(Looms.FrostFan, Bench.Plan(Looms.FrostFan, isolation)).All(Verdict.Pass).Run;

    private static CarriedProof Carry(Action<JsonObject> rework, Isolation isolation = Isolation.Neighbours, Meter? meter = null)
    {
        var document = Fan;
        rework(document);
        var now = LoomReader.Read(LoomDocument.Bytes(document)).Loom!;
        var run = Proven(isolation);
        return CarriedProof.Of(run, now, Reworked(run, now, isolation, meter));
    }

    private static TestPlan Reworked(BenchRun run, Loom now, Isolation isolation, Meter? meter = null)
    {
        var terms = PlanTerms.Usual(meter ?? Meter.BenchFourWire, isolation, now.AmbientC, CopperTolerance.Usual);
        return Planner.Plan(now, terms with { Proven = CarriedProof.Pairs(run, now, terms) });
    }

    [Fact]
    public void A_plan_for_a_reworked_loom_measures_what_was_changed_first_and_leaves_the_rest_to_what_was_proven()
    {
        var document = Fan;
        document["wires"]![2]!["lengthMm"] = 2222;
        var now = LoomReader.Read(LoomDocument.Bytes(document)).Loom!;
        var run = Proven(Isolation.Neighbours);
        var plan = Reworked(run, now, Isolation.Neighbours);
        var carried = CarriedProof.Of(run, now, plan).Steps.Select(s => s.Step).ToHashSet();

        plan.Steps.Length.ShouldBe(run.Plan.Steps.Length);
        plan.Steps.Where(s => !carried.Contains(s.Number)).Select(s => s.Number).ShouldBe(Enumerable.Range(1, plan.Steps.Length - carried.Count), "what must be measured stands in front");
        plan.Steps.Take(plan.Steps.Length - carried.Count).Sum(s => s.Seconds).ShouldBeInRange(plan.LowerBoundSeconds, 200);
        WireGraph.Topology(now).Nets.Sum(n => n.Points.Length - 1).ShouldBe(plan.Steps.Count(s => s is ContinuityStep));
    }

    [Theory]
    [InlineData(Isolation.Neighbours)]
    [InlineData(Isolation.Thorough)]
    public void An_unchanged_loom_carries_everything_over(Isolation isolation)
    {
        var proof = Carry(_ => { }, isolation);
        proof.Reasons.ShouldBeEmpty();
        proof.Steps.Length.ShouldBe(Proven(isolation).Plan.Steps.Length);
    }

    [Fact]
    public void Another_length_opens_its_net_and_what_stands_beside_its_ends()
    {
        var proof = Carry(d => d["wires"]![2]!["lengthMm"] = 2222);
        var plan = Proven(Isolation.Neighbours).Plan;
        var opened = plan.Steps.Where(s => proof.Steps.All(c => c.FromStep != s.Number)).ToList();
        opened.Count(s => s is ContinuityStep).ShouldBe(1);
        opened.ShouldAllBe(s => s.IsJoined || s.Red != null);
        opened.Count.ShouldBeInRange(2, 20);
    }

    /// <summary>Hands were in A:2. The circuits in A:1 and A:3 are as they were, and both stand beside it: that they are apart is
    /// measured again.</summary>
    [Fact]
    public void Two_circuits_beside_the_hand_are_held_apart_again()
    {
        var document = Looms.Json("A:1-B:1", "A:2-C:1", "A:3-B:2", "D:1-E:1", "D:2-E:2");
        var loom = Looms.Read(document.ToJsonString()).Loom!;
        var run = new Bench(loom, Bench.Plan(loom, Isolation.Neighbours)).All(Verdict.Pass).Run;
        document["wires"]![1]!["lengthMm"] = 1500;
        var now = Looms.Read(document.ToJsonString()).Loom!;
        var plan = Reworked(run, now, Isolation.Neighbours);
        var carried = CarriedProof.Of(run, now, plan).Steps.Select(s => s.Step).ToHashSet();
        var apart = plan.Steps.OfType<IsolationStep>().ToLookup(s => s.Black.Connector is "D" or "E", s => carried.Contains(s.Number));
        apart[true].ShouldBe([true]);
        apart[false].ShouldAllBe(c => !c);
        apart[false].Count().ShouldBe(3);
    }

    [Fact]
    public void Any_change_opens_isolation_against_all_others()
    {
        var proof = Carry(d => d["wires"]![2]!["lengthMm"] = 2222, Isolation.Thorough);
        var plan = Proven(Isolation.Thorough).Plan;
        proof.Steps.ShouldAllBe(s => plan.Steps[s.FromStep - 1] is ContinuityStep);
    }

    [Theory]
    [InlineData("colour", "\"GN\"")]
    [InlineData("mm2", "0.75")]
    [InlineData("lengthMm", "1200")]
    public void Another_wire_is_measured_again(string field, string value)
    {
        var document = Looms.Json("A:1-B:1", "A:5-C:1");
        var loom = Looms.Read(document.ToJsonString()).Loom!;
        var run = new Bench(loom, Bench.Plan(loom, Isolation.Neighbours)).All(Verdict.Pass).Run;
        document["wires"]![0]![field] = JsonNode.Parse(value);
        var now = Looms.Read(document.ToJsonString()).Loom!;
        var plan = Reworked(run, now, Isolation.Neighbours);
        CarriedProof.Of(run, now, plan).Steps.Select(s => plan.Steps[s.Step - 1].Black.Connector).ShouldAllBe(c => c != "B");
        CarriedProof.Of(run, now, plan).Steps.ShouldHaveSingleItem();
    }

    [Theory]
    [InlineData(35, 0)]
    [InlineData(20, 0.02)]
    public void Another_temperature_or_other_limits_of_the_shop_prove_nothing(double ambientC, double wider)
    {
        var loom = Looms.Of("A:1-B:1", "A:5-C:1");
        var run = new Bench(loom, Bench.Plan(loom, Isolation.Neighbours)).All(Verdict.Pass).Run;
        var terms = PlanTerms.Usual(Meter.BenchFourWire, Isolation.Neighbours, ambientC, CopperTolerance.Usual with { LengthShare = CopperTolerance.Usual.LengthShare + wider });
        var proof = CarriedProof.Of(run, loom, Planner.Plan(loom, terms));
        proof.Steps.ShouldBeEmpty();
        proof.Reasons.ShouldHaveSingleItem().ShouldContain("at another temperature or by other limits");
        CarriedProof.Pairs(run, loom, terms).ShouldBeEmpty();
    }

    [Fact]
    public void What_was_not_measured_is_not_proven_and_one_against_all_proves_no_neighbours()
    {
        var loom = Looms.Of("A:1-B:1", "A:2-C:1", "A:3-D:1");
        var plan = Bench.Plan(loom, Isolation.Thorough);
        CarriedProof.Of(new Bench(loom, plan).Run, loom, plan).Steps.ShouldBeEmpty();
        var measured = new Bench(loom, plan).All(Verdict.Pass).Run;
        var terms = PlanTerms.Usual(Meter.BenchFourWire, Isolation.Neighbours, 20, CopperTolerance.Usual);
        CarriedProof.Pairs(measured, loom, terms).Length.ShouldBe(3);
        CarriedProof.Pairs(measured, loom, terms with { Isolation = Isolation.Thorough }).Length.ShouldBe(5);
    }

    [Fact]
    public void Another_meter_proves_nothing_and_says_so()
    {
        var proof = Carry(_ => { }, meter: Meter.HandTwoWire);
        proof.Steps.ShouldBeEmpty();
        proof.Reasons.ShouldHaveSingleItem().ShouldContain("another meter");
    }

    [Fact]
    public void A_plan_that_was_stored_and_read_again_has_the_same_meter() =>
        System.Text.Json.JsonSerializer.Deserialize<Meter>(System.Text.Json.JsonSerializer.Serialize(Meter.BenchFourWire, CoreJson.Options), CoreJson.Options).ShouldBe(Meter.BenchFourWire);

    [Fact]
    public void A_title_or_a_note_opens_nothing() =>
        Carry(d =>
        {
            d["connectors"]![0]!["title"] = "Another title";
            d["wires"]![5]!["note"] = "seen";
            d["wires"]![5]!["circuit"] = "Another name";
        }).Reasons.ShouldBeEmpty();

    [Fact]
    public void Carried_proof_is_a_pass_until_a_fix_touches_it()
    {
        var bench = new Bench(Looms.FrostFan, Bench.Plan(Looms.FrostFan, Isolation.Neighbours));
        Decision Carry() => bench.Ask(Guid.NewGuid(), Bench.Mira, Bench.Start, run => run.Carry(Guid.NewGuid(), new(1, 7, 1, "carried")));
        Carry().ShouldBeOfType<Decision.Accepted>();
        (bench.Run[1].State, bench.Run.Done).ShouldBe((StepState.Pass, 1));
        bench.Read(2, Verdict.Fail);
        bench.Log(2);
        bench.Fix(1, bench.Run.Plan.Steps[0].Black.ToString());
        bench.Run[1].State.ShouldBe(StepState.Retest);
        bench.Read(1, Verdict.Fail);
        Carry().ShouldBeOfType<Decision.Conflict>();
        bench.Run[1].State.ShouldBe(StepState.Fail);
    }

    [Theory]
    [InlineData("branches", "{\"id\":\"loop\",\"parent\":\"loop\",\"lengthMm\":5}")]
    [InlineData("branches", "{\"id\":\"trunk\",\"parent\":null,\"lengthMm\":5}")]
    [InlineData("branches", "{\"id\":\"lost\",\"parent\":\"nowhere\",\"lengthMm\":5}")]
    [InlineData("families", "{\"id\":\"seal-2\",\"rows\":[[\"1\"]]}")]
    [InlineData("connectors", "{\"ref\":\"INJ1\",\"family\":\"seal-2\",\"branch\":\"lost\"}")]
    [InlineData("wires", "{\"id\":\"W1\",\"from\":\"INJ1:1\",\"to\":\"INJ1:1\",\"mm2\":1,\"lengthMm\":1}")]
    [InlineData("splices", "{\"ref\":\"S1\"}")]
    [InlineData("devices", "{\"ref\":5}")]
    public void A_draft_with_a_problem_can_still_be_drawn(string list, string entry)
    {
        var document = Fan;
        document[list]!.AsArray().Add(JsonNode.Parse(entry));
        var reading = LoomReader.ReadDraft(LoomDocument.Bytes(document));
        reading.Problems.ShouldNotBeEmpty();
        var loom = reading.Loom!;
        StemLayout.Of(loom).Tags.Length.ShouldBe(loom.Connectors.Length);
        Handover.WalkStop.Of(loom, 20, CopperTolerance.Usual, withReadings: false).Length.ShouldBe(45);
    }

    [Theory]
    [InlineData("C", "D")]
    [InlineData("Z", "AA")]
    [InlineData("AZ", "BA")]
    [InlineData("9", "10")]
    [InlineData("2b", "2c")]
    [InlineData("", "2")]
    [InlineData("final", "final2")]
    public void A_draft_is_named_as_the_next_revision(string name, string next) => RevisionName.After(name, []).ShouldBe(next);

    [Fact]
    public void A_name_that_is_taken_is_passed_over() => RevisionName.After("A", ["B", "C"]).ShouldBe("D");

    [Fact]
    public void A_changed_row_is_put_in_its_place_and_nothing_else_moves() => Gen.Select(Gen.Int[0, 6], Gen.Int[0, 200]).Array[1, 5].Sample(places =>
    {
        var expected = Fan;
        var edits = new List<RowEdit>();
        foreach (var (list, any) in places.DistinctBy(p => (p.Item1, p.Item2 % Fan[LoomDocument.Lists[p.Item1].Field]!.AsArray().Count)))
        {
            var field = LoomDocument.Lists[list].Field;
            var index = any % Fan[field]!.AsArray().Count;
            expected[field]![index] = new JsonObject { ["id"] = "é \" new", ["n"] = index };
            edits.Add(new(field, index, System.Text.Json.JsonSerializer.SerializeToElement(expected[field]![index])));
        }

        var edited = RowEdits.Apply(Looms.DemoFile("frost-fan.json"), edits).ShouldNotBeNull();
        JsonNode.DeepEquals(JsonNode.Parse(edited), expected).ShouldBeTrue();
    }, iter: 60);

    [Theory]
    [InlineData("wires", 9999)]
    [InlineData("wires", -1)]
    [InlineData("nothing", 0)]
    [InlineData("loom", 0)]
    public void A_row_that_is_not_there_is_not_put_anywhere(string list, int index) =>
        RowEdits.Apply(Looms.DemoFile("frost-fan.json"), [new(list, index, default)]).ShouldBeNull();
}
