using System.Text.Json.Nodes;
using CsCheck;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Pinouts;

namespace WiseLoom.Core.Tests;

/// <summary>Matching two sheets by function, and the loom that comes of it.</summary>
public sealed class MergeTests
{
    [Fact]
    public void Nine_of_ten_true_pairs_are_proposed_and_no_wrong_one_is_called_sure()
    {
        var proposals = new FunctionMatcher(Book.Tower.Lines, Book.ControllerTwo.Lines, Book.Synonyms).Proposals();
        var proposed = proposals.Where(p => p.Proposed is not null).ToDictionary(p => new MergePair(p.Place, p.Proposed!.Value), p => p.Trust);
        var missed = Book.TruePairs.Where(p => !proposed.ContainsKey(p)).Select(p => $"{Book.Tower.At(p.Left)!.Function} – {Book.ControllerTwo.At(p.Right)!.Function}").ToList();
        var wrong = proposed.Where(p => !Book.TruePairs.Contains(p.Key)).Select(p => (p.Value, Text: $"{Book.Tower.At(p.Key.Left)!.Function} – {Book.ControllerTwo.At(p.Key.Right)!.Function}")).ToList();
        TestContext.Current.TestOutputHelper?.WriteLine($"{Book.TruePairs.Count - missed.Count} of {Book.TruePairs.Count} proposed, {proposed.Count(p => p.Value == MatchTrust.Sure)} sure; missed: {string.Join(", ", missed)}; wrong: {string.Join(", ", wrong)}");

        (Book.TruePairs.Count - missed.Count).ShouldBeGreaterThanOrEqualTo(Book.TruePairs.Count * 9 / 10, string.Join("; ", missed));
        wrong.Where(w => w.Value == MatchTrust.Sure).ShouldBeEmpty();
        wrong.Where(w => w.Value == MatchTrust.Likely).Count().ShouldBeLessThanOrEqualTo(2, string.Join("; ", wrong));
    }

    [Fact]
    public void No_two_lines_are_given_one_partner_and_order_plays_no_part() => Gen.Shuffle(Book.ControllerTwo.Lines.ToArray()).Sample(shuffled =>
    {
        var proposals = new FunctionMatcher(Book.Tower.Lines, shuffled, Book.Synonyms).Proposals();
        var partners = proposals.Select(p => p.Proposed).OfType<ProbePoint>().ToList();
        partners.Distinct().Count().ShouldBe(partners.Count);
        proposals.Where(p => p.Trust == MatchTrust.Sure).Select(p => (p.Place, p.Proposed)).ShouldBe(
            new FunctionMatcher(Book.Tower.Lines, Book.ControllerTwo.Lines, Book.Synonyms).Proposals().Where(p => p.Trust == MatchTrust.Sure).Select(p => (p.Place, p.Proposed)));
    }, iter: 10);

    [Theory]
    [InlineData("Injector 1", "Injector 2")]
    [InlineData("Oxygen sensor left", "Oxygen sensor right")]
    [InlineData("Knock +", "Knock −")]
    [InlineData("Sensor ground A", "Sensor ground B")]
    public void What_is_one_of_a_row_is_never_offered_for_another(string left, string right) =>
        new FunctionMatcher(Book.Of($"A:1={left}").Lines, Book.Of($"B:1={right}").Lines, Book.Synonyms).Proposals()[0].Candidates.ShouldBeEmpty();

    [Fact]
    public void The_same_words_on_another_kind_of_circuit_are_never_sure()
    {
        var proposal = new FunctionMatcher(Book.Of("A:1=Level switch;supply").Lines, Book.Of("B:1=Level switch;ground").Lines, Book.Synonyms).Proposals()[0];
        proposal.Trust.ShouldBe(MatchTrust.Ask);
        proposal.Candidates[0].Reason.ShouldContain("feed here, ground there");
    }

    [Fact]
    public void Two_alike_on_one_side_are_never_sure() =>
        new FunctionMatcher(Book.Of("A:1=Injector feed", "A:2=Injector feed").Lines, Book.Of("B:1=Injector feed").Lines, Book.Synonyms).Proposals().ShouldAllBe(p => p.Trust == MatchTrust.Ask);

    [Fact]
    public void A_loom_gets_a_new_controller_and_hands_get_a_list()
    {
        var document = JsonNode.Parse(Looms.DemoFile("frost-fan.json"))!.AsObject();
        var left = Pinout.Of(Looms.FrostFan, ["ECU-A", "ECU-B"]);
        var proposals = new FunctionMatcher(left.Lines, Book.ControllerTwo.Lines, Book.Synonyms).Proposals();
        var decisions = new MergeDecisions(
            [.. proposals.Where(p => p.Trust == MatchTrust.Sure).Select(p => new MergePair(p.Place, p.Proposed!.Value))],
            [],
            [new(ProbePoint.Parse("ECU-A:49"), LonelyDecision.LeaveOut)],
            [new(Book.ControllerTwo.Lines.First(l => l.Function == "Wastegate position").Place, LonelyDecision.OptionTail), new(Book.ControllerTwo.Lines.First(l => l.Function == "Water spray pump").Place, LonelyDecision.Relay)],
            800);
        decisions = decisions with { Left = [.. decisions.Left.Where(l => decisions.Pairs.All(p => p.Left != l.Place))] };
        decisions.Problems(left, Book.ControllerTwo).ShouldBeEmpty();
        decisions.Pairs.Length.ShouldBeGreaterThan(25);

        var result = MergeBuilder.Build(document, left, [], Book.ControllerTwo, Book.FamilyBodies, decisions);
        var reading = LoomReader.Read(LoomDocument.Bytes(result.Document));
        reading.Problems.ShouldBeEmpty();
        var loom = reading.Loom!;
        loom.FindConnector("ECU-A").ShouldBeNull();
        foreach (var pair in decisions.Pairs)
        {
            var before = Looms.FrostFan.WiresAt(pair.Left).Select(w => w.Id);
            var at = loom.WiresAt(pair.Right).Select(w => w.Id).ToList();
            at.ShouldBe(before.Count() == 1 ? before : at);
        }

        result.Work.Count(w => w.Half == MergeHalf.LikeToLike).ShouldBe(decisions.Pairs.Length);
        result.Work.Select(w => w.Kind).Distinct().ShouldBe(["move-contact", "insulate", "plug-cavity", "add-wire", "add-relay"], ignoreOrder: true);
        result.Work.Select(w => w.Key).Distinct().Count().ShouldBe(result.Work.Length);
        document.ToJsonString().ShouldBe(JsonNode.Parse(Looms.DemoFile("frost-fan.json"))!.ToJsonString(), "the old loom stays as it was");
    }

    [Fact]
    public void Two_sheets_become_a_loom_that_reads_without_a_problem()
    {
        var proposals = new FunctionMatcher(Book.Tower.Lines, Book.ControllerTwo.Lines, Book.Synonyms).Proposals();
        var decisions = MergeDecisions.None with { Pairs = [.. proposals.Where(p => p.Trust == MatchTrust.Sure).Select(p => new MergePair(p.Place, p.Proposed!.Value))] };
        var result = MergeBuilder.Build(null, Book.Tower, Book.FamilyBodies, Book.ControllerTwo, Book.FamilyBodies, decisions);
        var loom = LoomReader.Read(LoomDocument.Bytes(result.Document)).ShouldSatisfyAllConditionsOrGive();
        loom.Wires.Length.ShouldBe(decisions.Pairs.Length);
        result.Work.Count(w => w.Kind == "plug-cavity").ShouldBe(240 - (2 * decisions.Pairs.Length));
    }

    [Fact]
    public void Two_wires_for_one_sealed_cavity_are_spliced()
    {
        var loom = Looms.Json("A:1-B:1", "A:2-B:2");
        var left = Pinout.Of(LoomReader.Read(LoomDocument.Bytes(loom)).Loom!, ["A"]);
        var right = Book.Of("P:1=Both");
        var result = MergeBuilder.Build(loom, left, [], right, Book.FamilyBodies, MergeDecisions.None with { Pairs = [new(new("A", "1"), new("P", "1")), new(new("A", "2"), new("P", "1"))] });
        result.Work.Select(w => w.Kind).ShouldBe(["splice", "add-wire"]);
        LoomReader.Read(LoomDocument.Bytes(result.Document)).Loom!.WiresAt(new("P", "1")).ShouldHaveSingleItem().From.IsSplice.ShouldBeTrue();
    }

    [Fact]
    public void Plugs_of_one_name_on_both_sides_are_kept_apart()
    {
        var result = MergeBuilder.Build(null, Book.Of("P:1=Injector 1"), Book.FamilyBodies, Book.Of("P:5=INJ1"), Book.FamilyBodies, MergeDecisions.None with { Pairs = [new(new("P", "1"), new("P", "5"))] });
        var wire = LoomReader.Read(LoomDocument.Bytes(result.Document)).Loom!.Wires.ShouldHaveSingleItem();
        (wire.From.Text, wire.To.Text).ShouldBe(("P:1", "P-new1:5"));
    }

    [Fact]
    public void Decisions_that_do_not_go_together_are_named()
    {
        var (left, right) = (Book.Of("A:1=x", "A:2=y"), Book.Of("B:1=x", "B:2=y"));
        ProbePoint P(string text) => ProbePoint.Parse(text);
        string[] At(MergeDecisions d) => [.. d.Problems(left, right).Select(p => p.At)];
        At(MergeDecisions.None with { Pairs = [new(P("A:1"), P("B:1")), new(P("A:1"), P("B:2"))] }).ShouldBe(["/pairs/1"]);
        At(MergeDecisions.None with { Pairs = [new(P("A:9"), P("B:1"))] }).ShouldBe(["/pairs/0"]);
        At(MergeDecisions.None with { Left = [new(P("A:1"), LonelyDecision.Relay)] }).ShouldBe(["/left/0"]);
        At(MergeDecisions.None with { Right = [new(P("B:1"), LonelyDecision.Insulate)] }).ShouldBe(["/right/0"]);
        At(MergeDecisions.None with { Pairs = [new(P("A:1"), P("B:1"))], Left = [new(P("A:1"), LonelyDecision.LeaveOut)] }).ShouldBe(["/left/0"]);
        At(MergeDecisions.None with { UsualMm = double.NaN }).ShouldBe(["/usualMm"]);
    }

    [Fact]
    public void Progress_counts_like_to_like_first_and_then_the_rest()
    {
        var (left, right) = (Book.Of("A:1=Injector 1", "A:2=Injector 2", "A:3=Old lamp"), Book.Of("B:1=INJ1", "B:2=INJ2", "B:3=Boost"));
        var proposals = new FunctionMatcher(left.Lines, right.Lines, Book.Synonyms).Proposals();
        MergeProgress.Of(left, right, proposals, MergeDecisions.None).ShouldBe(new MergeProgress(0, 2, 0, 2));
        var some = MergeDecisions.None with { Pairs = [new(new("A", "1"), new("B", "1"))], Apart = [new(new("A", "2"), new("B", "2"))], Left = [new(new("A", "3"), LonelyDecision.LeaveOut)] };
        MergeProgress.Of(left, right, proposals, some).ShouldBe(new MergeProgress(1, 0, 1, 3));
    }
}

internal static class ReadingThatMustBeSound
{
    internal static Loom ShouldSatisfyAllConditionsOrGive(this LoomReading reading)
    {
        reading.Problems.ShouldBeEmpty();
        return reading.Loom!;
    }
}
