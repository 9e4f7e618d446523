using AngleSharp;
using AngleSharp.Dom;
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

        page.QuerySelectorAll(".stop h3").Select(h => h.TextContent.Split(' ', StringSplitOptions.RemoveEmptyEntries)[1])
            .ShouldBe(new TrunkTree(loom).WalkingOrder().Select(c => c.Ref));
        page.QuerySelectorAll(".stop").ShouldAllBe(s => s.QuerySelectorAll("svg.face").Length == 2);
        page.QuerySelectorAll(".stop tbody tr").Length.ShouldBe(loom.ProbePoints().Count());
        page.QuerySelectorAll("svg.stem a").Length.ShouldBe(loom.Connectors.Length);
        foreach (var link in page.QuerySelectorAll("a[href^='#']"))
        {
            page.GetElementById(link.GetAttribute("href")![1..]).ShouldNotBeNull();
        }
    }

    [Fact]
    public async Task The_pack_is_one_file_without_script_or_outside_resource()
    {
        var loom = Looms.WorkLaunch;
        var html = PackHtml.Render(Pack(loom), loom);
        var page = await ReadAsync(html);

        page.QuerySelectorAll("script, link, img, iframe, object, [onclick], [src]").ShouldBeEmpty();
        html.ShouldNotContain("url(");
        page.QuerySelector("meta[http-equiv]")!.GetAttribute("content")!.ShouldContain("default-src 'none'");
        page.DocumentElement.GetAttribute("lang").ShouldBe("en");
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

    private static PackModel Pack(Loom loom, string changes = "")
    {
        var plan = Bench.Plan(loom, Isolation.Neighbours);
        var bench = new Bench(loom, plan).All(Verdict.Pass);
        var head = new PackHead(7, "Hollow Lane Orchards", "Tower fan 2", loom.Name, loom.Revision, 1, changes, "Ada Quill", At, "Bench meter");
        return PackModel.Of(head, bench.Run, bench.Record());
    }

    private static async Task<IDocument> ReadAsync(string html) =>
        await BrowsingContext.New(Configuration.Default).OpenAsync(r => r.Content(html), TestContext.Current.CancellationToken);
}
