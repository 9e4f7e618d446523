using System.Text.Json.Nodes;
using AngleSharp;
using AngleSharp.Dom;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Revisions;
using WiseLoom.Core.States;
using WiseLoom.Core.Symptoms;

namespace WiseLoom.Core.Tests;

/// <summary>What goes with a loom: its box, the order in which it goes in, codes, drawings of ways, causes at the customer's own key.</summary>
public sealed class PackPapersTests
{
    private static readonly Lazy<(BreakEffects Effects, SymptomTable Table, FaultGuide Guide)> Launch = new(() => Made(Looms.WorkLaunch));

    private static (BreakEffects Effects, SymptomTable Table, FaultGuide Guide) Made(Loom loom)
    {
        var off = LoomStates.For(loom, 20).Bare(Situation.At(KeyPosition.Off));
        var effects = BreakEffects.Of(loom, 20, [.. MixUp.Pairs(loom).Select(p => new Exchanged(p.One, p.Other)), .. NotFitted.OfRelays(loom), .. WrongFeed.OfKeys(loom, off)]);
        var table = SymptomTable.Of(effects);
        return (effects, table, FaultGuide.Of(effects, table));
    }

    [Fact]
    public void A_feed_from_another_terminal_of_the_key_does_what_the_states_of_that_loom_say()
    {
        var (effects, table, _) = Launch.Value;
        effects.All.Select(e => e.Break).OfType<WrongFeed>().ShouldBe([new("key", "IGN", false), new("key", "IGN", true)]);
        foreach (var effect in effects.All.Where(e => e.Break is WrongFeed or Exchanged or NotFitted))
        {
            var drawn = AsBuilt.AsDrawn(effects.Loom, 20);
            var (sound, broken) = (LoomStates.For(drawn, 20), LoomStates.For(effect.Break.In(drawn), 20));
            foreach (var at in effects.Moments.All.Take(Moments.Plain))
            {
                var now = broken.At(at, withProbes: false).Functions.DistinctBy(f => f.Name).ToDictionary(f => f.Name, f => f.Works);
                var expected = sound.At(at, withProbes: false).Functions.Where(f => now.TryGetValue(f.Name, out var works) && works != f.Works).Select(f => f.Name).Order();
                effect.Sees.Where(d => d.Situation == at).Select(d => d.Function).Order().ShouldBe(expected, $"{effect.Break.Id}, {at.Key}");
            }
        }

        var dropping = table.Symptoms.Single(s => s.Id == "no-start").Suspects.Single(s => s.Break is WrongFeed);
        (dropping.Check.At.ToString(), dropping.Check.Key, dropping.Check.BrokenVolts!.Value < 1, dropping.Check.ShouldVolts > 8).ShouldBe(("KEY:2", KeyPosition.Start, true, true));
        effects.All.Count(e => e.Break is NotFitted).ShouldBe(effects.Loom.Devices.Count(d => d.Model is RelayModel));
        table.Symptoms.Single(s => s.Id == "no-crank").Suspects.ShouldContain(s => s.Break == new NotFitted("start-relay"));
        table.Symptoms.Single(s => s.Id == "on key-lamp").Suspects.ShouldHaveSingleItem().Break.ShouldBe(new WrongFeed("key", "IGN", true));
    }

    [Fact]
    public void A_reader_with_a_meter_on_the_broken_loom_is_led_to_the_break()
    {
        var (effects, _, guide) = Launch.Value;
        var drawn = AsBuilt.AsDrawn(effects.Loom, 20);
        var (walked, measured) = (0, 0);
        foreach (var start in guide.Starts)
        {
            foreach (var suspect in start.Symptom.Suspects.Where((_, i) => i % 5 == 0))
            {
                var broken = LoomStates.For(suspect.Break.In(drawn), 20);
                var (node, checks) = (start.Begin, 0);
                while (node.Test is { } test)
                {
                    string answer;
                    if (test.Measured is { } meter)
                    {
                        // By this test's own reading of the broken loom, not by what the guide was grown from.
                        var volts = broken.Bare(effects.Moments.All[(int)meter.Key])!.Volts(meter.At.ToString());
                        answer = volts > 0.65 * 12.6 ? "More than 8.19 V" : volts < 0.2 * 12.6 ? "Less than 2.52 V" : "Something between";
                        measured++;
                    }
                    else
                    {
                        answer = test.Answers(effects.All.Single(e => e.Break.Id == suspect.Break.Id));
                    }

                    node = node.Answers.Single(a => a.Answer == answer).Next;
                    checks++;
                }

                node.Causes.ShouldContain(c => c.Id == suspect.Break.Id, start.Symptom.Title);
                checks.ShouldBeLessThanOrEqualTo(FaultGuide.MostChecks);
                walked++;
            }
        }

        (walked > 40, measured > 10).ShouldBe((true, true), $"{walked} walked, {measured} measured");
    }

    [Fact]
    public void What_lies_behind_a_hole_goes_through_it_first_ground_comes_before_supply_and_the_battery_last()
    {
        var lines = FittingOrder.Of(Looms.FrostFan);
        int Line(string words) => lines.Select((l, i) => (l, i)).Single(x => x.l.Contains(words, StringComparison.Ordinal)).i;
        lines[Line("cabinet wall")].ShouldContain("39 ends");
        int[] order = [Line("Battery off"), Line("cabinet wall"), Line("ground rings"), Line("in the order of the walk"), Line("T-SIREN"), Line("ECU-A, ECU-B"), Line("R-BAT")];
        order.ShouldBeInOrder();
        lines[Line("ground rings")].ShouldContain("R-FRAME, R-ENG-L, R-ENG-R");
        lines[Line("tower")].ShouldContain("Leave the bracket");
        FittingOrder.Of(Looms.Of("A:1-B:1")).Length.ShouldBe(2);
    }

    [Fact]
    public void A_part_is_told_by_what_it_measures_through_its_plug()
    {
        var ohms = PartOhms.Of(Looms.FrostFan, 20);
        ohms[new("INJ1", "1")].ShouldBe("the part itself, plug off: 12.0 Ω – INJ1:2");
        ohms[new("ECT", "1")].ShouldContain("kΩ – ECT:2");
        ohms.Keys.ShouldNotContain(p => p.Connector == "ECU-A");
        PartOhms.Of(Looms.Of("A:1-B:1"), 20).ShouldBeEmpty();
    }

    [Fact]
    public void A_loom_without_a_key_or_relays_has_none_of_their_faults_and_one_without_power_no_feed_of_the_key()
    {
        var plain = Looms.Of("A:1-B:1");
        WrongFeed.OfKeys(plain, LoomStates.For(plain, 20).Bare(Situation.At(KeyPosition.Off))).ShouldBeEmpty();
        NotFitted.OfRelays(plain).ShouldBeEmpty();
        WrongFeed.OfKeys(Looms.FrostFan, null).ShouldBeEmpty("without a state nothing is said");
        var fan = Looms.FrostFan;
        WrongFeed.OfKeys(fan, LoomStates.For(fan, 20).Bare(Situation.At(KeyPosition.Off))).Select(f => (f.Pin, f.Always)).ShouldBe([("IGN", false), ("IGN", true)]);
    }

    [Fact]
    public void The_card_of_fuses_shows_a_shared_feed_as_such_and_speaks_the_language_of_the_papers()
    {
        var launch = Looms.WorkLaunch;
        string Card()
        {
            return FuseCard.Render(launch, [new("Main fuse", 7.5, "<b>pump</b>", "x")]);
        }

        var english = Card();
        english.ShouldContain(">+</text>");
        english.ShouldContain("&lt;b&gt;pump&lt;/b&gt;");
        english.ShouldContain("7.5 A");
        english.ShouldNotContain("10/", Case.Sensitive, "no cell holds a list of ratings");
        using (Words.In(Language.German))
        {
            Card().ShouldContain("7,5 A");
            Card().ShouldContain("<html lang=\"de\">");
        }
    }

    [Fact]
    public void A_switch_that_is_left_off_is_told_as_missed_and_not_as_nothing()
    {
        var left = Known.Papers(Looms.WorkLaunch)!.LeftOff.ToDictionary(l => l.Connector, l => l.Computed);
        left["STOP"].ShouldBe("Stop button tells the controller nothing.");
        left["DIAG"].ShouldBe("Nobody notices it at once.");
        left["R-BAT"].ShouldStartWith("Nothing at all");
    }

    [Theory]
    [InlineData("", 0)]
    [InlineData("RD", 1)]
    [InlineData("RD/BK", 3)]
    [InlineData("RD/BK/WH", 5)]
    public void A_wire_s_tracers_run_along_in_its_base(string text, int bands)
    {
        WireColour.TryParse(text, out var colour, out _).ShouldBeTrue();
        var seen = colour.Bands.ToList();
        seen.Count.ShouldBe(bands);
        seen.Where((_, i) => i % 2 == 0).ShouldAllBe(b => b == "#c8201f");
        seen.Where((_, i) => i % 2 == 1).ShouldBe(colour.Stripes.Skip(1));
    }

    [Fact]
    public async Task A_way_is_drawn_from_plus_to_minus_and_told_to_those_who_do_not_see_it()
    {
        var loom = Looms.FrostFan;
        var how = PackPapers.Of(loom, 20, TestContext.Current.CancellationToken)!.How.Single(h => h.Name == "Fuel pump runs");
        var page = await BrowsingContext.New(Configuration.Default).OpenAsync(r => r.Content(WayDrawing.Draw(how, loom)), TestContext.Current.CancellationToken);
        var way = page.QuerySelector(".way")!;
        way.GetAttribute("aria-label").ShouldBe("Fuel pump runs: from plus to minus by W97, Fuel pump fuse, Fuel pump relay, W98, Fuel pump, W99, W109, Engine and frame");
        way.QuerySelectorAll(".works").ShouldHaveSingleItem().TextContent.ShouldBe("Fuel pump");
        way.QuerySelectorAll(".line").Select(l => l.Children[0].TextContent).ShouldBe(["W97", "W98", "W99", "W109"]);
        way.QuerySelectorAll(".pole").Select(p => p.TextContent).ShouldBe(["+", "−"]);
    }

    [Fact]
    public async Task Box_codes_questions_and_changes_are_printed_as_they_are_and_encoded()
    {
        const string Nasty = "<img src=x> & {{ 7 }}";
        var loom = Looms.FrostFan with
        {
            Box = [new("P1", Nasty, BoxKind.Replaced, 3, 14, Nasty), new("P2", "Cable", BoxKind.Supply, 1, null, null)],
            CodeReadings = [new("a", "DIAG", [new("DIAG", "C"), new("DIAG", "E")], Nasty)],
            Fitting = [new("F1", Nasty, null)],
        };
        var bench = new Bench(loom, Bench.Plan(loom, Isolation.Neighbours)).All(Verdict.Pass);
        var pack = PackModel.Of(new(7, "", "", loom.Name, loom.Revision, 2, "", "Ada", DateTimeOffset.UnixEpoch, ""), bench.Run, bench.Record()) with
        {
            Questions = [new(Nasty, ["12 V", Nasty], null), new("Which?", [], $"old ({Nasty})")],
            Changes = [Nasty],
        };
        var page = await BrowsingContext.New(Configuration.Default).OpenAsync(r => r.Content(PackHtml.Render(pack, loom)), TestContext.Current.CancellationToken);
        string Words(string id) => page.GetElementById(id)!.ParentElement!.TextContent;
        page.QuerySelectorAll("img").ShouldBeEmpty();
        Words("box").ShouldContain($"3 × {Nasty}, 14 years old. {Nasty}");
        Words("box").ShouldContain("All together 7.4\u00a0kg".Replace('\u00a0', ' '));
        Words("box").ShouldContain("Not in the box: have it at hand");
        Words("codes").ShouldContain($"At DIAG. Key off; bridge DIAG:C and DIAG:E; key on. {Nasty}");
        Words("fitting").ShouldContain(Nasty);
        Words("questions").ShouldContain("Not answered yet. Tell the shop.");
        Words("questions").ShouldContain($"Answered: old ({Nasty})");
        Words("changes").ShouldContain(Nasty);
        PackSection.Of(pack with { Questions = [], Changes = [], Box = [], WeightKg = null, BoxPhotos = default, CodeReadings = [], Fitting = [] }).Select(s => s.Id).ShouldNotContain(id => id == "box" || id == "codes" || id == "fitting" || id == "questions" || id == "changes");
    }

    [Theory]
    [InlineData("""{ "box": [ { "id": "P1" } ] }""", "/box/0/title", "Missing")]
    [InlineData("""{ "box": [ { "id": "P1", "title": "x", "kind": "lent" } ] }""", "/box/0/kind", "packed, returned, replaced, reused, supply")]
    [InlineData("""{ "box": [ { "id": "P1", "title": "x", "count": 1.5 } ] }""", "/box/0/count", "whole")]
    [InlineData("""{ "box": [ { "id": "P1", "title": "x", "count": 0 } ] }""", "/box/0/count", "1")]
    [InlineData("""{ "box": [ { "id": "P1", "title": "x" }, { "id": "P1", "title": "y" } ] }""", "/box/1/id", "earlier entry")]
    [InlineData("""{ "box": [ { "title": "x" } ] }""", "/box/0/id", "Missing")]
    [InlineData("""{ "box": [ 7 ] }""", "/box/0", "object")]
    [InlineData("""{ "box": {} }""", "/box", "list")]
    [InlineData("""{ "box": [ { "id": "P1", "title": "x", "years": -1 } ] }""", "/box/0/years", "0")]
    [InlineData("""{ "fitting": [ { "id": "F1" } ] }""", "/fitting/0/do", "Missing")]
    [InlineData("""{ "fitting": [ { "id": "F1", "do": "x", "branch": "trnk" } ] }""", "/fitting/0/branch", "trunk")]
    [InlineData("""{ "codeReadings": [ { "id": "c", "how": "x", "socket": "Z" } ] }""", "/codeReadings/0/socket", "No connector")]
    [InlineData("""{ "codeReadings": [ { "id": "c", "how": "x", "bridge": ["A:1"] } ] }""", "/codeReadings/0/bridge", "Two cavities")]
    [InlineData("""{ "codeReadings": [ { "id": "c", "how": "x", "bridge": ["A:1", "A:99"] } ] }""", "/codeReadings/0/bridge/1", "no cavity")]
    [InlineData("""{ "codeReadings": [ { "id": "c", "how": "x", "bridge": ["A:1", 5] } ] }""", "/codeReadings/0/bridge/1", "no cavity")]
    [InlineData("""{ "codeReadings": [ { "id": "c" } ] }""", "/codeReadings/0/how", "Missing")]
    public void What_is_wrong_in_the_papers_of_a_loom_is_said_with_its_place(string fields, string at, string says)
    {
        var json = Looms.Json("A:1-B:1");
        foreach (var (name, value) in JsonNode.Parse(fields)!.AsObject())
        {
            json[name] = value!.DeepClone();
        }

        var problem = Looms.Read(json.ToJsonString()).Problems.First(p => p.At == at);
        problem.Message.ShouldContain(says);
    }

    [Fact]
    public void A_change_of_the_papers_is_told_like_any_other()
    {
        var (before, after) = (Looms.Json("A:1-B:1"), Looms.Json("A:1-B:1"));
        after["box"] = JsonNode.Parse("""[ { "id": "P1", "title": "Loom" } ]""");
        after["loom"]!["weightKg"] = 3.5;
        LoomDifference.Between(before, after, TestContext.Current.CancellationToken).Select(c => c.Sentence).ShouldBe(["Thing in the box P1 is new: Loom.", "Loom: weight (kg) none → 3.5."]);
    }
}
