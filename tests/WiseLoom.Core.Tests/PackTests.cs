using AngleSharp;
using AngleSharp.Dom;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Tests;

public sealed class PackTests
{
    private static readonly DateTimeOffset At = new(2026, 5, 4, 9, 30, 0, TimeSpan.Zero);

    [Fact]
    public async Task Every_connector_stands_in_the_pack_in_walking_order_with_both_faces_and_all_its_wires()
    {
        var loom = Looms.FrostFan;
        var page = await ReadAsync(PackHtml.Render(Pack(loom), loom));

        page.QuerySelectorAll(".index a").Select(a => a.TextContent.Split(' ')[0]).ShouldBe(new TrunkTree(loom).WalkingOrder().Select(c => c.Ref));
        page.QuerySelectorAll(".stop").ShouldAllBe(s => s.QuerySelectorAll("svg.face").Length == 2);
        // Eight injectors share one drawing and one table.
        page.QuerySelectorAll(".stop h3").Single(h => h.TextContent.Contains("INJ1,")).TextContent.ShouldContain("INJ8");
        page.QuerySelectorAll(".stop tbody tr").Length.ShouldBe(loom.ProbePoints().Count());
        page.QuerySelectorAll("svg.stem a").Length.ShouldBe(loom.Connectors.Length);
        foreach (var link in page.QuerySelectorAll("a[href^='#']"))
        {
            page.GetElementById(link.GetAttribute("href")![1..]).ShouldNotBeNull();
        }
    }

    [Fact]
    public async Task The_pack_is_one_file_with_no_script_but_its_own_and_no_outside_resource()
    {
        var loom = Looms.WorkLaunch;
        var html = PackHtml.Render(Pack(loom, papers: true), loom);
        var page = await ReadAsync(html);

        page.QuerySelectorAll("link, img, iframe, object, [onclick], [src]").ShouldBeEmpty();
        html.Split("url(").Skip(1).ShouldAllBe(u => u.StartsWith("data:font/woff2"));
        var policy = page.QuerySelector("meta[http-equiv]")!.GetAttribute("content")!;
        policy.ShouldContain("default-src 'none'");
        var script = page.QuerySelectorAll("script").ShouldHaveSingleItem().TextContent;
        policy.ShouldContain($"script-src 'sha256-{Convert.ToBase64String(System.Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(script)))}'");
        page.DocumentElement.GetAttribute("lang").ShouldBe("en");
        System.Text.Encoding.UTF8.GetByteCount(html).ShouldBeLessThan(1 << 20);
    }

    [Fact]
    public async Task A_customer_finds_each_part_of_the_pack_from_its_front()
    {
        var loom = Looms.FrostFan;
        var page = await ReadAsync(PackHtml.Render(Pack(loom, papers: true), loom));
        page.QuerySelectorAll(".parts a").Select(a => a.TextContent).ShouldBe(
            ["Before you start", "What is in the box", "What you connect", "The walk, connector by connector", "Options: what is there and not used", "Order of fitting", "First start", "If something does not work", "Reading codes", "How it works", "Fuses and relays", "Plugs that fit into each other’s place", "Settings sheet", "The fewest leads to run", "Wires by function", "Faults found and fixed", "Test record"]);
        page.QuerySelectorAll(".parts a, .index a").ShouldAllBe(a => page.GetElementById(a.GetAttribute("href")!.Substring(1)) != null);
        page.QuerySelector("#trouble")!.ParentElement!.TextContent.ShouldContain("Feed R-BAT:1 through 40\u00a0A and CUST:2 through 1\u00a0A, and ground R-FRAME:1.");
        page.QuerySelectorAll(".guide > details > summary").Select(s => s.TextContent).Take(3).ShouldBe(
            ["Nothing at all: with the key on no lamp lights, and the starter does nothing", "The starter does nothing", "The engine cranks and does not start"]);
        page.QuerySelectorAll("tr[data-f] td[data-l=Shows]").ShouldAllBe(c => c.TextContent.Length > 0);
        page.QuerySelectorAll("tr[data-f]").ShouldAllBe(r => !r.TextContent.Contains("\u00a0mΩ"), "milliohms belong to the test record");
    }

    [Fact]
    public async Task A_shop_leaves_out_what_it_wants_but_never_what_was_tested_and_found()
    {
        var pack = Pack(Looms.FrostFan, papers: true) with { Questions = [new("Which key?", ["old", "new"], null)], Changes = ["Wire W1 is gone."], Decisions = [new("1 step fails.", "It is known.", "Ada", Bench.Start)], Earlier = [new(3, "A", 5, 2, "Mira", Bench.Start, ["Fault 1"])] };
        var sections = PackSection.All.Where(s => s.Id != "power").ToList();
        foreach (var half in new[] { 0, 1 })
        {
            var leftOut = sections.Where((_, i) => i % 2 == half).Select(s => s.Id).ToList();
            var page = await ReadAsync(PackHtml.Render(pack with { LeftOut = [.. leftOut] }, Looms.FrostFan));
            foreach (var section in sections)
            {
                var isOut = section.MayBeLeftOut && leftOut.Contains(section.Id);
                (page.GetElementById(section.Id) is null).ShouldBe(isOut, section.Id);
                page.QuerySelectorAll($".parts a[href='#{section.Id}']").Length.ShouldBe(isOut ? 0 : 1, section.Id);
            }

            page.QuerySelectorAll("main > section > h2").Length.ShouldBeGreaterThan(5);
        }

        new PackTemplate(["how", "mixups"]).Problems().ShouldBeEmpty();
        foreach (var wrong in new[] { new PackTemplate(["record"]), new PackTemplate(["no such section"]), new PackTemplate(default) })
        {
            wrong.Problems().ShouldHaveSingleItem().At.ShouldBe("/leftOut");
        }

        new PackTemplate([], (PackPaper)7).Problems().ShouldHaveSingleItem().At.ShouldBe("/paper");
        new PackTemplate([], PackPaper.Letter, (LabelPolicy)7).Problems().ShouldHaveSingleItem().At.ShouldBe("/labels");
        new PackTemplate(["how"], PackPaper.Letter).ShouldNotBe(new PackTemplate(["how"]));
        (Core.Shop.ShopLimits.Usual with { Pack = new(["faults"]) }).Problems().ShouldHaveSingleItem().At.ShouldBe("/pack/leftOut");
        (Core.Shop.ShopLimits.Usual with { Pack = null! }).Problems().ShouldHaveSingleItem().At.ShouldBe("/pack/leftOut");
    }

    [Fact]
    public async Task Long_words_right_to_left_and_signs_of_all_kinds_are_shown_as_text_everywhere()
    {
        const string Nasty = "</script><script>alert(1)</script> مِحقن 🔧 <b>x</b> {{ 7 | times: 6 }} ‘\u202e’";
        var fan = Looms.FrostFan;
        var loom = fan with
        {
            Name = Nasty,
            Connectors = [.. fan.Connectors.Select(c => c with { Title = Nasty, Note = Nasty, Place = Nasty + new string('w', 400) })],
            Devices = [.. fan.Devices.Select(d => d with { Title = d.Title + Nasty })],
            Wires = [.. fan.Wires.Select(w => w with { Circuit = Nasty })],
        };
        var html = PackHtml.Render(Pack(loom, papers: true), loom);
        var page = await ReadAsync(html);
        page.QuerySelectorAll("script").Length.ShouldBe(1);
        page.QuerySelectorAll("b").ShouldAllBe(b => b.TextContent != "x");
        page.QuerySelectorAll("td[data-l=Function]").ShouldContain(c => c.TextContent == Nasty);
        html.ShouldNotContain("{{ 7 | times: 6 }} 42");
        foreach (var summary in page.QuerySelectorAll(".guide p.end"))
        {
            summary.Children.ShouldAllBe(c => c.TagName == "B" && c.TextContent.StartsWith("Call the shop and tell them code K"));
        }
    }

    [Fact]
    public void What_the_customer_connects_is_told_by_what_it_is()
    {
        var connects = Known.Papers(Looms.FrostFan)!.Connects.ToDictionary(c => c.Pin);
        connects["R-BAT:1"].Is.ShouldStartWith("constant feed");
        connects["R-BAT:1"].FuseAmps.ShouldBe(40, "as the test with the fewest leads says");
        connects["CUST:2"].Is.ShouldBe("ignition feed: must stay up while cranking");
        connects["CUST:3"].Is.ShouldStartWith("start");
        connects["CUST:4"].Is.ShouldBe("lead of Oil lamp");
        connects["CUST:10"].Is.ShouldStartWith("ground");
    }

    [Theory]
    [InlineData("Fuel pump runs", "Pump relay")]
    [InlineData("Starter solenoid pulls", "while cranking")]
    public void How_it_works_goes_from_the_battery_to_ground(string name, string holds)
    {
        var how = Known.Papers(Looms.FrostFan)!.How.Single(h => h.Name == name);
        how.Sentence.ShouldContain(holds, Case.Insensitive);
        how.Way.Length.ShouldBeGreaterThan(3);
    }

    [Fact]
    public void Plugs_of_one_housing_within_reach_are_told_with_what_happens()
    {
        var mixed = Known.Papers(Looms.FrostFan)!.MixUps;
        mixed.Length.ShouldBeInRange(1, MixUp.Most);
        mixed.ShouldAllBe(m => m.ApartMm <= MixUp.ReachMm && m.Does.Length > 0);
        mixed.Single(m => m is { One: "INJ1", Other: "INJ5" }).Does.ShouldContain("when it is the other’s turn");
        mixed.ShouldAllBe(m => Looms.FrostFan.Connector(m.One).Family.Id == Looms.FrostFan.Connector(m.Other).Family.Id);
    }

    [Fact]
    public void A_sentence_of_the_shop_that_names_what_goes_on_working_is_pointed_out()
    {
        var connectors = Looms.FrostFan.Connectors.Select(c => c.Ref == "IDLE" ? c with { IfLeftOff = "The fuel pump stops." } : c);
        var left = Known.Papers(Looms.FrostFan with { Connectors = [.. connectors] })!.LeftOff;
        left.Single(l => l.Connector == "IDLE").Contradicts.ShouldBe("It names Fuel pump, which goes on working by the drawing.");
        Known.Papers(Looms.FrostFan)!.LeftOff.ShouldAllBe(l => l.Contradicts == null);
    }

    [Fact]
    public void The_table_of_pins_has_a_row_for_each_and_no_formula()
    {
        var connectors = Looms.FrostFan.Connectors.Select(c => c.Ref == "ECT" ? c with { Title = "=1+1" } : c);
        var loom = Looms.FrostFan with { Connectors = [.. connectors] };
        var csv = Core.Formats.PinTable.Of(System.Text.Json.JsonSerializer.SerializeToElement(Pack(loom, papers: true), Core.Json.CoreJson.Options));
        csv.Split("\r\n", StringSplitOptions.RemoveEmptyEntries).Length.ShouldBe(loom.ProbePoints().Count() + 1);
        csv.ShouldNotContain(",=1+1");
    }

    [Theory]
    [InlineData(LabelKind.Flag, LabelPaper.A4, false)]
    [InlineData(LabelKind.Wrap, LabelPaper.Letter, false)]
    [InlineData(LabelKind.Plain, LabelPaper.Strip, true)]
    public async Task Labels_name_each_connector_and_lead_to_its_part_of_the_pack(LabelKind kind, LabelPaper paper, bool onlyMistaken)
    {
        var connectors = Looms.FrostFan.Connectors.Select(c => c.Ref == "INJ3" ? c with { Title = "<b>Injector</b> &amp; مِحقن 🔧" } : c);
        var loom = Looms.FrostFan with { Connectors = [.. connectors] };
        var sheet = new LabelSheet(loom, kind, paper, onlyMistaken, "http://127.0.0.1:7150/p/abc");
        var page = await ReadAsync(sheet.Render());
        page.QuerySelectorAll(".label").Length.ShouldBe(onlyMistaken ? MixUp.Pairs(loom).SelectMany(p => new[] { p.One, p.Other }).Distinct().Count() : loom.Connectors.Length);
        var label = page.QuerySelectorAll(".label").Single(l => l.QuerySelector("b")!.TextContent == "INJ3");
        label.QuerySelector(".side span")!.TextContent.ShouldBe("<b>Injector</b> &amp; مِحقن 🔧");
        label.QuerySelectorAll(".side").Length.ShouldBe(kind switch { LabelKind.Flag => 2, LabelKind.Wrap => 3, _ => 1 });
        label.QuerySelector("svg")!.GetAttribute("aria-label").ShouldBe($"http://127.0.0.1:7150/p/abc#c{sheet.Labelled.Single(l => l.Connector.Ref == "INJ3").Number}");
        page.QuerySelectorAll("script, img, link").ShouldBeEmpty();
    }

    [Fact]
    public void What_is_there_and_not_used_is_told_with_how_it_is_kept()
    {
        var options = Pack(Looms.FrostFan).Options;
        options.Single(o => o.Where.StartsWith("T-SIREN")).Words.ShouldContain("Second siren");
        options.Single(o => o.Where.StartsWith("ECU-A")).Words.ShouldStartWith("Cavities without a wire: 9, 10");
        options.ShouldNotContain(o => o.Where.StartsWith("INJ1"));
    }

    [Fact]
    public async Task The_card_of_fuses_shows_each_where_it_sits_with_its_rating()
    {
        var page = await ReadAsync(FuseCard.Render(Looms.FrostFan, Known.Papers(Looms.FrostFan)!.Fuses));
        var fuses = Looms.FrostFan.Devices.Where(d => d.Model is FuseModel).ToList();
        page.QuerySelectorAll(".lid").Length.ShouldBe(1, "coil drivers are no boxes of fuses");
        page.QuerySelectorAll(".lid g").Select(g => g.QuerySelector("title")!.TextContent).ShouldContain("Idle valve fuse");
        page.QuerySelectorAll(".lid g").Single(g => g.QuerySelector("title")!.TextContent == "Idle valve fuse").QuerySelector("text")!.TextContent.ShouldBe("7.5");
        page.QuerySelectorAll("tbody tr").Length.ShouldBe(fuses.Count);
        page.QuerySelectorAll("tbody tr").Single(r => r.TextContent.Contains("Fuel pump fuse")).TextContent.ShouldContain("cranks and does not start");
    }

    [Fact]
    public void A_loom_without_a_battery_has_a_pack_without_these_parts()
    {
        var loom = Looms.Of("A:1-B:1");
        PackPapers.Of(loom, 20, TestContext.Current.CancellationToken).ShouldBeNull();
        PackHtml.Render(Pack(loom), loom).ShouldNotContain("id=\"trouble\"");
    }

    [Fact]
    public async Task Words_from_the_file_and_from_people_are_shown_as_words()
    {
        const string Nasty = "<img src=x onerror=alert(1)>\"'&";
        var file = Looms.Json("A:1-B:1");
        file["loom"]!["name"] = Nasty;
        file["connectors"]![0]!["title"] = Nasty;
        file["connectors"]![0]!["note"] = Nasty;
        file["wires"]![0]!["circuit"] = Nasty;
        var loom = Looms.Read(file.ToJsonString()).Loom!;
        var page = await ReadAsync(PackHtml.Render(Pack(loom, changes: Nasty), loom));

        page.QuerySelectorAll("img").ShouldBeEmpty();
        page.QuerySelector("h1")!.TextContent.ShouldContain(Nasty);
        page.QuerySelector(".note dd")!.TextContent.ShouldBe(Nasty);
    }

    [Fact]
    public async Task A_pack_that_no_longer_holds_says_so_at_its_head_and_is_otherwise_as_it_was_signed()
    {
        var loom = Looms.Of("A:1-B:1");
        var html = PackHtml.Render(Pack(loom), loom);
        var page = await ReadAsync(PackHtml.Warned(html, "Since it was signed: 1 <step> fails."));

        page.Body!.FirstElementChild!.TextContent.ShouldBe("This pack no longer holds. Since it was signed: 1 <step> fails. Ask the shop before going by it.");
        page.Body.FirstElementChild.GetAttribute("role").ShouldBe("alert");
        PackHtml.Warned(html, null).ShouldBe(html);
    }

    [Fact]
    public void A_reading_that_came_late_is_in_the_record_and_the_one_that_stands_is_shown_first()
    {
        var loom = Looms.Of("A:1-B:1");
        var bench = new Bench(loom, Bench.Plan(loom, Isolation.Neighbours));
        bench.Read(1, Verdict.Fail);
        bench.Read(1, Verdict.Pass, Bench.Tomas, 0);
        var step = bench.Record()[0];

        (step.State, step.Last!.Verdict, step.Readings.Length).ShouldBe((StepState.Fail, Verdict.Fail, 2));
        PackHtml.Render(PackModel.Of(new(7, "", "", "", "", 1, "", "", At, ""), bench.Run, bench.Record()), loom).ShouldContain("(pass, came late)");
    }

    [Fact]
    public void What_was_not_tested_is_named_step_by_step()
    {
        var loom = Looms.Of("A:1-B:1", "A:2-B:2");
        var plan = Bench.Sorted(Bench.Plan(loom, Isolation.Neighbours, Meter.HandTwoWire));
        var bench = new Bench(loom, plan);
        bench.Skip(1, "Plug not supplied.");
        bench.Read(2, Verdict.CantTell);
        bench.Read(3, Verdict.Pass);
        var lines = PackModel.NotProven(bench.Run, bench.Record());

        lines.ShouldContain("Step 1, A:1 to B:1: not measured. Plug not supplied.");
        lines.ShouldContain("Step 2, A:2 to B:2: measured, but this meter cannot decide it.");
        lines.ShouldContain(l => l.StartsWith("Isolation was measured only", StringComparison.Ordinal));
        lines.ShouldContain(l => l.StartsWith("No power was applied", StringComparison.Ordinal));
        lines.ShouldContain(l => l.StartsWith("The meter was not held", StringComparison.Ordinal));
        lines.Length.ShouldBe(5);
    }

    [Fact]
    public void A_pin_that_ends_in_a_splice_says_where_the_splice_leads()
    {
        var stops = WalkStop.Of(Looms.Of("A:1-S1", "S1-B:1", "S1-C:2"), 20, CopperTolerance.Usual);
        var pin = stops.Single(s => s.Connector.Ref == "B").Pins.Single(p => p.Cavity == "1");

        pin.GoesTo.ShouldBe("splice S1: A:1, C:2");
        pin.Reads.ShouldBe("69.0 mΩ to A:1");
        stops[0].Pins.Single(p => p.Cavity == "7").Kind.ShouldBe("empty");
    }

    private static PackModel Pack(Loom loom, string changes = "", bool papers = false)
    {
        var plan = Bench.Plan(loom, Isolation.Neighbours);
        var bench = new Bench(loom, plan).All(Verdict.Pass);
        var head = new PackHead(7, "Hollow Lane Orchards", "Tower fan 2", loom.Name, loom.Revision, 1, changes, "Ada Quill", At, "Bench meter");
        return PackModel.Of(head, bench.Run, bench.Record(), papers ? Known.Papers(loom) : null);
    }

    private static async Task<IDocument> ReadAsync(string html) =>
        await BrowsingContext.New(Configuration.Default).OpenAsync(r => r.Content(html), TestContext.Current.CancellationToken);
}
