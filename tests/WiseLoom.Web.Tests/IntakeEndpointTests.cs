using System.Globalization;
using System.Net;
using System.Text;
using System.Text.Json;

namespace WiseLoom.Web.Tests;

/// <summary>A stranger's table over HTTP: looked at without storing, with what a person says of its columns, and taken.</summary>
public sealed class IntakeEndpointTests(Shop shop)
{
    private static readonly byte[] Wires = "Wire No,From Connector,From Pin,To Connector,To Pin,Color,AWG,Length (cm)\n1,ECU,17,INJ1,1,BU/WH,20,145\n2,ECU,18,INJ2,1,RD,20,160\n"u8.ToArray();

    private static async Task<long> JobAsync(Visitor visitor) =>
        (await visitor.PostForAsync("/api/jobs", new { customer = "x", machine = "Pump cart", promised = (string?)null, assignedId = (string?)null, waitingFor = (string?)null })).GetProperty("id").GetInt64();

    private static async Task<JsonElement> LookAsync(Visitor visitor, long job, byte[] file, string said = "") => await Visitor.BodyAsync(await SendAsync(visitor, job, file, said), "import");

    private static async Task<HttpResponseMessage> SendAsync(Visitor visitor, long job, byte[] file, string said)
    {
        var address = $"/api/jobs/{job}/import?name=wires%20of%20the%20cart.csv";
        if (said.Length == 0)
        {
            return await visitor.SendFileAsync(address, file);
        }

        using var form = new MultipartFormDataContent { { new StringContent(said), "said" }, { new ByteArrayContent(file), "file", "wires.csv" } };
        return await visitor.SendAsync(HttpMethod.Post, address, form);
    }

    [Fact]
    public async Task A_strangers_list_is_understood_mapped_and_taken_and_nothing_is_stored_by_looking()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await JobAsync(visitor);
        var intake = (await LookAsync(visitor, job, Wires)).GetProperty("intake");
        intake.GetProperty("wires").GetInt32().ShouldBe(2);
        intake.GetProperty("tables")[0].GetProperty("columns")[7].GetProperty("unit").GetString().ShouldBe("cm");
        intake.GetProperty("problems").GetArrayLength().ShouldBe(0);

        var mapped = await LookAsync(visitor, job, Wires, """{"columns":{"Length (cm)":{"meaning":"length","unit":"in"},"AWG":{"meaning":"ignore"}}}""");
        mapped.GetProperty("document").GetProperty("wires")[0].GetProperty("lengthMm").GetDouble().ShouldBe(3683);
        mapped.GetProperty("intake").GetProperty("estimated").GetInt32().ShouldBe(2);
        (await visitor.ReadAsync($"/api/jobs/{job}")).GetProperty("stage").GetString().ShouldBe("no-loom");

        (await visitor.ImportAsync(job, Encoding.UTF8.GetBytes(mapped.GetProperty("document").GetRawText()))).StatusCode.ShouldBe(HttpStatusCode.Created);
        var revision = (await visitor.ReadAsync($"/api/jobs/{job}")).GetProperty("revisionId").GetInt64();
        (await visitor.ReadAsync($"/api/revisions/{revision}/loom")).GetProperty("wires")[0].GetProperty("section").GetString()!.ShouldEndWith("estimated");
    }

    [Theory]
    [InlineData("[]")]
    [InlineData("nothing")]
    [InlineData("null")]
    [InlineData("""{"columns":{"AWG":{"meaning":"everything"}}}""")]
    [InlineData("""{"columns":{"AWG":null}}""")]
    [InlineData("""{"columns":{"AWG":{"meaning":99}}}""")]
    [InlineData("""{"cells":[null]}""")]
    [InlineData("""{"cells":[{"sheet":"x","row":1,"column":1}]}""")]
    [InlineData("""{"rows":501}""")]
    public async Task What_is_said_and_makes_no_sense_is_refused_in_words(string said)
    {
        var visitor = await shop.TechnicianAsync();
        var answer = await SendAsync(visitor, await JobAsync(visitor), Wires, said);
        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await Problems.OfAsync(answer)).ShouldNotBeEmpty();
    }

    [Fact]
    public async Task A_form_that_is_none_or_too_large_is_refused_in_words()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await JobAsync(visitor);
        async Task<HttpStatusCode> SentAsync(HttpContent form) => (await visitor.SendAsync(HttpMethod.Post, $"/api/jobs/{job}/import?name=a.csv", form)).StatusCode;
        (await SentAsync(new MultipartFormDataContent { { new StringContent("{}"), "said" } })).ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await SentAsync(new MultipartFormDataContent { { new StringContent("{}"), "other" }, { new ByteArrayContent(Wires), "file", "a.csv" } })).ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await SentAsync(new MultipartFormDataContent { { new ByteArrayContent(Wires), "file", "a.csv" }, { new ByteArrayContent(Wires), "file", "b.csv" } })).ShouldBe(HttpStatusCode.UnprocessableEntity);
        var broken = new ByteArrayContent("--x\r\nContent-Disposition"u8.ToArray());
        broken.Headers.TryAddWithoutValidation("Content-Type", "multipart/form-data; boundary=x");
        (await SentAsync(broken)).ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await SentAsync(new MultipartFormDataContent { { new ByteArrayContent(new byte[9 * 1024 * 1024]), "file", "a.csv" } })).ShouldBe(HttpStatusCode.RequestEntityTooLarge);
    }

    [Fact]
    public async Task What_is_said_of_columns_and_colours_is_kept_for_the_next_file_and_forgotten()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await JobAsync(visitor);
        var file = "Alpha,Beta,Weite,Farbe\nECU:1,INJ1:1,100,heliotropish\nECU:2,INJ2:1,120,RD\n"u8.ToArray();
        (await LookAsync(visitor, job, file)).GetProperty("intake").GetProperty("unknownColours")[0].GetString().ShouldBe("heliotropish");

        var mapping = new { name = "Cart lists", headings = new[] { "Alpha", "Beta", "Weite", "Farbe" }, columns = new Dictionary<string, object> { ["Weite"] = new { meaning = "length", unit = "cm" } } };
        await visitor.PostForAsync("/api/intake/mappings", mapping);
        var kept = (await visitor.PostForAsync("/api/intake/mappings", mapping)).GetProperty("mappings").EnumerateArray().Single(m => m.GetProperty("name").GetString() == "Cart lists");
        var second = (await visitor.PostForAsync("/api/intake/mappings", mapping with { headings = ["Alpha", "Beta", "Weite", "Sonst"] })).GetProperty("mappings").EnumerateArray().Select(m => m.GetProperty("name").GetString());
        second.ShouldContain("Cart lists 2");
        (await visitor.PostAsync("/api/intake/mappings", mapping with { headings = ["Alpha"] })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await visitor.PutAsync("/api/intake/colours/Heliotropish", new { code = "VT" })).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await visitor.PutAsync("/api/intake/colours/Heliotropish", new { code = "XX" })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await visitor.PutAsync("/api/intake/colours/12", new { code = "VT" })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);

        // Another person, another day, the same shape.
        var next = await LookAsync(await shop.LeadAsync(), job, file);
        next.GetProperty("intake").GetProperty("tables")[0].GetProperty("remembered").GetString().ShouldBe("Cart lists");
        var wire = next.GetProperty("document").GetProperty("wires")[0];
        (wire.GetProperty("lengthMm").GetDouble(), wire.GetProperty("colour").GetString()).ShouldBe((1000, "VT"));

        // Its file is what the terminal takes, and what another shop takes.
        var id = kept.GetProperty("id").GetInt64();
        var text = await visitor.ReadAsync($"/api/intake/mappings/{id}/file");
        text.GetProperty("columns").GetProperty("Weite").GetProperty("meaning").GetString().ShouldBe("length");
        (await visitor.SendAsync(HttpMethod.Post, "/api/intake/mappings", new StringContent(text.GetRawText(), Encoding.UTF8, "application/json"))).StatusCode.ShouldBe(HttpStatusCode.OK);

        (await visitor.DeleteAsync($"/api/intake/mappings/{id}")).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await visitor.DeleteAsync("/api/intake/colours/heliotropish")).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await visitor.DeleteAsync("/api/intake/colours/heliotropish")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await LookAsync(visitor, job, file)).GetProperty("intake").GetProperty("tables")[0].GetProperty("remembered").ValueKind.ShouldBe(JsonValueKind.Null);
    }

    [Fact]
    public async Task A_chart_of_one_connector_is_asked_for_its_name()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await JobAsync(visitor);
        var pins = "Pin,Colour,Goes to\n1,RD,BOX:7\n2,BK,RING1:1\n"u8.ToArray();
        var asked = (await LookAsync(visitor, job, pins)).GetProperty("intake");
        (asked.GetProperty("asks").GetBoolean(), asked.GetProperty("wires").GetInt32()).ShouldBe((true, 0));
        var named = (await LookAsync(visitor, job, pins, """{"connector":"ECU"}""")).GetProperty("intake");
        (named.GetProperty("asks").GetBoolean(), named.GetProperty("wires").GetInt32()).ShouldBe((false, 2));
    }

    [Fact]
    public async Task Each_of_several_tables_with_the_same_headings_shows_its_rows_its_problems_and_what_was_left_out()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await JobAsync(visitor);
        var charts = "ECU\nPin,Colour,Goes to\n1,RD,BOX:7\n2,BK,BOX:8\ntotal,2,\n\nPUMP\nPin,Colour,Goes to\n1,YE,BOX:1\n2,?!,BOX:2\n3,GN,BOX:3\n"u8.ToArray();
        var table = (await LookAsync(visitor, job, charts)).GetProperty("intake").GetProperty("tables").EnumerateArray().ShouldHaveSingleItem();
        table.GetProperty("rows").GetInt32().ShouldBe(5);
        table.GetProperty("parts").EnumerateArray().Select(p => (Of(p, "title")[^4..].Trim(), Number(p, "rows"), Number(p, "problems"), Number(p, "struck"), p.GetProperty("sample").GetArrayLength()))
            .ShouldBe([("ECU", 2, 0, 1, 2), ("PUMP", 3, 1, 0, 3)]);
        table.GetProperty("parts")[0].GetProperty("left")[0].GetProperty("number").GetInt32().ShouldBe(5);
    }

    /// <summary>Of many long tables only so many rows are sent as a page can show; those with problems are among them.</summary>
    [Fact]
    public async Task Many_long_tables_share_the_rows_that_are_shown()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await JobAsync(visitor);
        var text = new StringBuilder();
        for (var chart = 0; chart < 20; chart++)
        {
            text.Append(CultureInfo.InvariantCulture, $"X{chart}\nPin,Colour,Goes to\n");
            for (var pin = 1; pin <= 300; pin++)
            {
                text.Append(CultureInfo.InvariantCulture, $"{pin},{(pin == 290 ? "?!" : "RD")},Y{chart}:{pin}\n");
            }

            text.Append('\n');
        }

        var parts = (await LookAsync(visitor, job, Encoding.UTF8.GetBytes(text.ToString()), """{"rows":500}""")).GetProperty("intake").GetProperty("tables")[0].GetProperty("parts").EnumerateArray().ToList();
        parts.Count.ShouldBe(20);
        parts.Sum(p => p.GetProperty("sample").GetArrayLength()).ShouldBeInRange(4000, 4000 + 20 * 10);
        parts.ShouldAllBe(p => p.GetProperty("sample").GetArrayLength() >= 10 && p.GetProperty("sample").EnumerateArray().Any(r => r.GetProperty("cells")[1].GetString() == "?!"));
    }

    private static string Of(JsonElement part, string name) => part.GetProperty(name).GetString()!;

    private static int Number(JsonElement part, string name) => part.GetProperty(name).GetInt32();

    /// <summary>Tables of our own shape with a slip in them are told so, and not read as something else.</summary>
    [Fact]
    public async Task Our_own_tables_stay_our_own()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(ImportTests.Small);
        var own = await LookAsync(visitor, job, "wire,from,to,colour,mm2,length_mm\nW1,A:1,Q:1,RD,0.5,1000\n"u8.ToArray());
        own.GetProperty("intake").ValueKind.ShouldBe(JsonValueKind.Null);
        own.GetProperty("problems")[0].GetProperty("message").GetString()!.ShouldContain("'Q'");
    }

    [Fact]
    public async Task A_cable_and_a_copy_are_shown_and_then_taken_as_any_file()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await JobAsync(visitor);
        var cable = new { name = "Float lead", one = "A", other = "B", pins = 6, way = "rolled", lengthMm = 1200.0, mm2 = (double?)null };
        var shown = await visitor.PostForAsync($"/api/jobs/{job}/cable", cable);
        (await visitor.ImportAsync(job, Encoding.UTF8.GetBytes(shown.GetProperty("document").GetRawText()))).StatusCode.ShouldBe(HttpStatusCode.Created);
        var revision = (await visitor.ReadAsync($"/api/jobs/{job}")).GetProperty("revisionId").GetInt64();
        (await visitor.PostAsync($"/api/jobs/{job}/cable", cable with { pins = 0 })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);

        var next = await JobAsync(visitor);
        var copy = await visitor.PostForAsync($"/api/jobs/{next}/copy?revision={revision}&name=Float%20lead%20two", new { });
        (copy.GetProperty("document").GetProperty("loom").GetProperty("name").GetString(), copy.GetProperty("document").GetProperty("wires").GetArrayLength()).ShouldBe(("Float lead two", 6));
        (await visitor.ReadAsync("/api/looms")).EnumerateArray().ShouldContain(l => l.GetProperty("id").GetInt64() == revision);
        (await visitor.PostAsync($"/api/jobs/{next}/copy?revision={revision}&name=", new { })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await visitor.ReadAsync($"/api/jobs/{next}")).GetProperty("stage").GetString().ShouldBe("no-loom");
    }

    [Fact]
    public async Task A_draft_offers_the_connector_that_a_wire_names()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await JobAsync(visitor);
        var document = new { format = "wise-loom/loom", version = 1, loom = new { name = "Cart", revision = "A" }, wires = new[] { new { id = "W1", from = "ECU:17", to = "INJ:1", mm2 = 0.5, lengthMm = 900 } } };
        var draft = await visitor.PostForAsync($"/api/jobs/{job}/draft", new { fromRevision = (long?)null, document });
        var offers = draft.GetProperty("offers").EnumerateArray().ToList();
        offers.Select(o => o.GetProperty("words").GetString()).ShouldBe(["Make ECU with pin 17", "Make INJ with pin 1"]);
        var made = new { document.format, document.version, document.loom, document.wires, families = offers.Select(o => o.GetProperty("family")), connectors = offers.Select(o => o.GetProperty("connector")) };
        var kept = await Visitor.BodyAsync(await visitor.PutAsync($"/api/drafts/{draft.GetProperty("id").GetInt64()}", made, "\"1\""), "draft");
        (kept.GetProperty("offers").GetArrayLength(), kept.GetProperty("problems").GetArrayLength()).ShouldBe((0, 0));
    }
}
