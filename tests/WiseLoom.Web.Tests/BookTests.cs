using System.Net;
using System.Text;
using System.Text.Json;

namespace WiseLoom.Web.Tests;

/// <summary>The library, the pinout book, loose wires and comparing, over HTTP.</summary>
public sealed class BookTests(Shop shop)
{
    private static object Sheet(string title = "A sheet", string source = "traced", object[]? connectors = null, object[]? lines = null) =>
        new { title, source, sourceNote = "", connectors = connectors ?? [new { @ref = "Q1", title = "", family = "seal-8" }], lines = lines ?? [Line("1", "Pump relay")] };

    private static object Line(string cavity, string function, string connector = "Q1", string direction = "") =>
        new { connector, cavity, function, direction, colour = "", section = "", note = "" };

    private static async Task<long> IdAsync(HttpResponseMessage answer) => (await Visitor.BodyAsync(answer, "sheet")).GetProperty("id").GetInt64();

    [Fact]
    public async Task A_sheet_is_kept_changed_and_its_earlier_versions_stay()
    {
        var visitor = await shop.TechnicianAsync();
        var id = await IdAsync(await visitor.PostAsync("/api/sheets", Sheet()));
        var changed = await visitor.PutAsync($"/api/sheets/{id}", Sheet("Another title"), "\"1\"");
        changed.StatusCode.ShouldBe(HttpStatusCode.OK);
        changed.Headers.ETag!.Tag.ShouldBe("\"2\"");
        (await shop.CountAsync("select count(*) from sheet_versions where sheet_id = @run and title = 'A sheet'", id)).ShouldBe(1);

        var late = await visitor.PutAsync($"/api/sheets/{id}", Sheet("Too late"), "\"1\"");
        late.StatusCode.ShouldBe(HttpStatusCode.PreconditionFailed);
        (await visitor.ReadAsync($"/api/sheets/{id}")).GetProperty("title").GetString().ShouldBe("Another title");
        (await visitor.PutAsync($"/api/sheets/{id}", Sheet())).StatusCode.ShouldBe(HttpStatusCode.PreconditionRequired);
        (await visitor.PutAsync("/api/sheets/999999", Sheet(), "\"1\"")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task A_confirmation_holds_for_what_the_line_said_and_not_for_what_it_says_later()
    {
        var visitor = await shop.TechnicianAsync();
        var id = await IdAsync(await visitor.PostAsync("/api/sheets", Sheet()));
        var key = Guid.CreateVersion7();
        var body = new { how = "loom", lines = new[] { new { key, connector = "Q1", cavity = "1" } } };
        (await visitor.PostAsync($"/api/sheets/{id}/confirmations", body)).EnsureSuccessStatusCode();
        var twice = await Visitor.BodyAsync(await visitor.PostAsync($"/api/sheets/{id}/confirmations", body), "confirm");
        twice.GetProperty("lines")[0].GetProperty("vouched").GetArrayLength().ShouldBe(1);

        var changed = await Visitor.BodyAsync(await visitor.PutAsync($"/api/sheets/{id}", Sheet(lines: [Line("1", "Something else")]), "\"1\""), "change");
        changed.GetProperty("lines")[0].GetProperty("vouched").GetArrayLength().ShouldBe(0);
        (await Problems.OfAsync(await visitor.PostAsync($"/api/sheets/{id}/confirmations", new { how = "dream", lines = body.lines }))).ShouldHaveSingleItem().At.ShouldBe("/how");
        (await Problems.OfAsync(await visitor.PostAsync($"/api/sheets/{id}/confirmations", new { how = "loom", lines = new[] { new { key, connector = "Q1", cavity = "7" } } }))).ShouldHaveSingleItem().At.ShouldBe("/lines/0");
    }

    public static TheoryData<string, object, string> BadSheets => new()
    {
        { "no title", Sheet(""), "/title" },
        { "unknown source", Sheet(source: "rumour"), "/source" },
        { "one cavity twice", Sheet(lines: [Line("1", "a"), Line("1", "b")]), "/lines/1/cavity" },
        { "no such plug", Sheet(lines: [Line("1", "a", "Q9")]), "/lines/0/connector" },
        { "no such family", Sheet(connectors: [new { @ref = "Q1", title = "", family = "nobody" }]), "/connectors/0/family" },
        { "unknown direction", Sheet(lines: [Line("1", "a", direction: "sideways")]), "/lines/0/direction" },
        { "control character", Sheet(lines: [Line("1", "a\u0007b")]), "/lines/0/function" },
        { "too many lines", Sheet(lines: [.. Enumerable.Range(0, 2001).Select(i => Line($"{i}", "x"))]), "/lines" },
    };

    [Theory]
    [MemberData(nameof(BadSheets))]
    public async Task A_sheet_that_cannot_be_is_refused_at_its_place(string what, object body, string at)
    {
        var answer = await (await shop.TechnicianAsync()).PostAsync("/api/sheets", body);
        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity, what);
        (await Problems.OfAsync(answer)).ShouldContain(p => p.At == at, what);
    }

    [Fact]
    public async Task Lines_are_read_from_a_file_without_storing_anything()
    {
        var visitor = await shop.TechnicianAsync();
        async Task<JsonElement> ReadAsync(string text) => await Visitor.BodyAsync(
            await visitor.SendFileAsync("/api/sheets/read-lines?name=x.csv&plug=P1", Encoding.UTF8.GetBytes(text)), "read");

        (await ReadAsync("pin;function\n1;Pump\n")).GetProperty("lines")[0].GetProperty("function").GetString().ShouldBe("Pump");
        var bad = await ReadAsync("pin;function\n1;Pump\n1;Pump\n");
        bad.GetProperty("lines").GetArrayLength().ShouldBe(0);
        bad.GetProperty("problems")[0].GetProperty("at").GetString().ShouldBe("x.csv row 3, column pin");
    }

    [Fact]
    public async Task A_search_goes_over_all_sheets_and_by_synonyms()
    {
        var hits = (await (await shop.TechnicianAsync()).ReadAsync("/api/sheets/search?q=coolant%20temperature")).EnumerateArray().Select(h => h.GetProperty("line").GetProperty("function").GetString()).ToList();
        hits.ShouldContain("ECT sensor");
        hits.ShouldContain("Water temperature");
        (await (await shop.TechnicianAsync()).ReadAsync("/api/sheets/search")).GetArrayLength().ShouldBe(0);
    }

    [Fact]
    public async Task A_loose_wire_is_decided_once_for_each_key_and_can_be_taken_back()
    {
        var visitor = await shop.TechnicianAsync();
        object Decide(Guid key, string? decision, string cavity = "4", string label = "P3:4 x", double lengthMm = 100) => new { key, connector = "P3", cavity, decision, label, lengthMm, note = "" };
        static JsonElement Cavity(JsonElement view) => view.GetProperty("cavities").EnumerateArray().First(c => c.GetProperty("cavity").GetString() == "4").GetProperty("decided");
        var key = Guid.CreateVersion7();

        Cavity(await visitor.PostForAsync("/api/sheets/2/loose", Decide(key, "cut-back"))).GetProperty("decision").GetString().ShouldBe("cut-back");
        Cavity(await visitor.PostForAsync("/api/sheets/2/loose", Decide(key, "keep-long"))).GetProperty("decision").GetString().ShouldBe("cut-back", "the same key again changes nothing");
        Cavity(await visitor.PostForAsync("/api/sheets/2/loose", Decide(Guid.CreateVersion7(), null))).ValueKind.ShouldBe(JsonValueKind.Null);
        foreach (var (body, at) in new[] { (Decide(key, "cut-back", "99"), "/cavity"), (Decide(key, "cut-back", label: new string('x', 40)), "/label"), (Decide(key, "cut-back", lengthMm: -1), "/lengthMm"), (Decide(Guid.Empty, "cut-back"), "/key") })
        {
            (await Problems.OfAsync(await visitor.PostAsync("/api/sheets/2/loose", body))).ShouldHaveSingleItem().At.ShouldBe(at);
        }

        (await visitor.GetAsync("/api/sheets/2/loose/NOBODY")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task Sheets_looms_and_revisions_are_compared()
    {
        var visitor = await shop.TechnicianAsync();
        var twins = (await visitor.ReadAsync("/api/compare?left=sheet-3&right=sheet-1")).GetProperty("twins");
        twins.EnumerateArray().ShouldContain(t => t.GetProperty("left").GetString() == "ECU-A" && t.GetProperty("right").GetString() == "T1");
        var same = await visitor.ReadAsync("/api/compare?left=revision-1&right=revision-1");
        same.GetProperty("lines").EnumerateArray().ShouldAllBe(l => l.GetProperty("kind").GetString() == "same");
        same.GetProperty("changes").GetArrayLength().ShouldBe(0);
        (await visitor.ReadAsync("/api/compare?left=revision-1:ECU-B&right=sheet-3")).GetProperty("lines").GetArrayLength().ShouldBeGreaterThan(30);
        foreach (var bad in new[] { "left=sheet-99&right=sheet-1", "left=&right=sheet-1", "left=sheet-1%27%3B&right=sheet-1", "left=revision-x&right=sheet-1" })
        {
            (await visitor.GetAsync($"/api/compare?{bad}")).StatusCode.ShouldBe(HttpStatusCode.NotFound, bad);
        }

        (await visitor.ReadAsync("/api/pinouts")).EnumerateArray().Select(p => p.GetProperty("key").GetString()).ShouldContain("sheet-1");
    }

    [Fact]
    public async Task A_family_is_added_once_and_changed_by_the_one_who_saw_it_last()
    {
        var visitor = await shop.LeadAsync();
        object Family(string title) => new { id = "made-4", title, rows = new[] { new[] { "1", "2" }, new[] { "3", "4" } } };
        (await visitor.PutAsync("/api/families/made-4", Family("Made"))).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await visitor.PutAsync("/api/families/made-4", Family("Again"))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await visitor.PutAsync("/api/families/made-4", Family("Changed"), "\"1\"")).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await visitor.PutAsync("/api/families/made-4", Family("Late"), "\"1\"")).StatusCode.ShouldBe(HttpStatusCode.PreconditionFailed);
        (await visitor.ReadAsync("/api/families/made-4")).GetProperty("title").GetString().ShouldBe("Changed");
        (await Problems.OfAsync(await visitor.PutAsync("/api/families/other", Family("x")))).ShouldHaveSingleItem().At.ShouldBe("/id");
        (await Problems.OfAsync(await visitor.PutAsync("/api/families/bad", new { id = "bad", rows = new[] { new[] { "1", "1" } } }))).ShouldHaveSingleItem().At.ShouldBe("/rows/0/1");
    }

    [Fact]
    public async Task Words_lead_to_a_cavity_and_a_pattern_to_rows()
    {
        var visitor = await shop.TechnicianAsync();
        (await visitor.PostForAsync("/api/faces/find", new { familyId = "slab-60", family = (object?)null, side = "wire-side", words = "second row, fifth from the left" })).GetProperty("cavity").GetString().ShouldBe("36");
        (await visitor.PostAsync("/api/faces/find", new { familyId = "none", family = (object?)null, side = "wire-side", words = "x" })).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        var pattern = new { rows = new[] { 2, 1 }, gaps = Array.Empty<int[]>(), start = "top-right", byColumns = false, backAndForth = false, naming = "numbers", first = 1 };
        (await visitor.PostForAsync("/api/faces/pattern", pattern)).GetProperty("rows").GetRawText().ShouldBe("[[\"2\",\"1\"],[\"3\"]]");
        (await Problems.OfAsync(await visitor.PostAsync("/api/faces/pattern", pattern with { rows = [0, 1] }))).ShouldHaveSingleItem().At.ShouldBe("/rows");
    }

    [Fact]
    public async Task Synonyms_are_changed_by_the_one_who_saw_them_last()
    {
        var visitor = await shop.LeadAsync();
        var now = await visitor.ReadAsync("/api/synonyms");
        var groups = now.GetProperty("groups").Deserialize<string[][]>()!;
        var version = $"\"{now.GetProperty("version").GetInt32()}\"";
        (await visitor.PutAsync("/api/synonyms", new { groups = groups.Append(["quench pump", "fog pump"]) }, version)).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await visitor.PutAsync("/api/synonyms", new { groups }, version)).StatusCode.ShouldBe(HttpStatusCode.PreconditionFailed);
        (await Problems.OfAsync(await visitor.PutAsync("/api/synonyms", new { groups = new[] { new[] { new string('x', 100) } } }, version))).ShouldHaveSingleItem().At.ShouldBe("/groups");
    }
}
