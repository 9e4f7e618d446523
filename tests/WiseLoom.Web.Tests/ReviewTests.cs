using System.Net;
using System.Text.Json;
using AngleSharp;
using AngleSharp.Dom;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace WiseLoom.Web.Tests;

/// <summary>A customer's word before boxing: by a link without an account that is guessed by nobody, flooded by nobody, and withdrawn when the shop says so.</summary>
public sealed class ReviewTests(Shop shop)
{
    private const string Nasty = "<script>alert(1)</script> \" ' & مرحبا 🔧";

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_customer_answers_comments_and_says_go_and_the_shop_sees_it()
    {
        var (lead, job, link) = await OpenAsync();
        await lead.PostAsync($"/api/jobs/{job}/questions", new { key = Guid.CreateVersion7(), asks = "Where shall the siren’s tail end?", choices = new[] { "at the mast: 2 m more", "at the box" } });
        using var customer = Stranger();
        var page = await ReadAsync(await customer.GetAsync(link, Cancel));
        page.QuerySelector("h1")!.TextContent.ShouldContain("Small");
        var question = page.QuerySelectorAll("form").Single(f => f.TextContent.Contains("siren"));
        question.QuerySelectorAll("input[type=radio]").Length.ShouldBe(2);
        (await SayAsync(customer, link, "answer", Hidden(question, "subject"), "", choice: "at the box")).StatusCode.ShouldBe(HttpStatusCode.Redirect);
        (await SayAsync(customer, link, "comment", "A", "The plug is too near the exhaust.")).StatusCode.ShouldBe(HttpStatusCode.Redirect);
        (await SayAsync(customer, link, "go", "", "")).StatusCode.ShouldBe(HttpStatusCode.Redirect);

        var said = (await lead.ReadAsync($"/api/jobs/{job}/review")).GetProperty("said").EnumerateArray().ToList();
        said.Select(s => (s.GetProperty("kind").GetString(), s.GetProperty("words").GetString())).ShouldBe([("answer", "at the box"), ("comment", "The plug is too near the exhaust."), ("go", "")]);
        said.ShouldAllBe(s => s.GetProperty("name").GetString() == "Petra of the orchard" && !s.GetProperty("old").GetBoolean());
        (await ReadAsync(await customer.GetAsync($"{link}?said=go", Cancel))).QuerySelector("[role=status]")!.TextContent.ShouldContain("go is kept");
    }

    [Fact]
    public async Task The_same_word_sent_twice_is_kept_once()
    {
        var (lead, job, link) = await OpenAsync();
        using var customer = Stranger();
        var key = Guid.CreateVersion7();
        (await SayAsync(customer, link, "comment", "", "Once.", key)).StatusCode.ShouldBe(HttpStatusCode.Redirect);
        (await SayAsync(customer, link, "comment", "", "Once.", key)).StatusCode.ShouldBe(HttpStatusCode.Redirect);
        (await lead.ReadAsync($"/api/jobs/{job}/review")).GetProperty("said").GetArrayLength().ShouldBe(1);
    }

    [Fact]
    public async Task A_key_stands_for_its_words_and_for_its_link_alone()
    {
        var (lead, job, link) = await OpenAsync();
        using var customer = Stranger();
        var key = Guid.CreateVersion7();
        (await SayAsync(customer, link, "comment", "", "Once.", key)).StatusCode.ShouldBe(HttpStatusCode.Redirect);
        (await SayAsync(customer, link, "comment", "", "Something else.", key)).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await SayAsync(customer, link, "comment", "", "With no key.", Guid.Empty)).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        var (_, other, elsewhere) = await OpenAsync();
        (await SayAsync(customer, elsewhere, "comment", "", "Of another loom.", key)).StatusCode.ShouldBe(HttpStatusCode.Redirect);
        (await lead.ReadAsync($"/api/jobs/{job}/review")).GetProperty("said").GetArrayLength().ShouldBe(1);
        (await lead.ReadAsync($"/api/jobs/{other}/review")).GetProperty("said").EnumerateArray().Single().GetProperty("words").GetString().ShouldBe("Of another loom.");
    }

    /// <summary>Bodies that no page sends: what their kind is, and what they hold.</summary>
    public static TheoryData<string, string> OddBodies => new()
    {
        { "application/x-www-form-urlencoded", "kind=comment&name=P%00&subject=&words=x&key=0198c0de-0000-7000-8000-000000000001" },
        { "application/x-www-form-urlencoded", "kind=comment&name=P&subject=&words=%ED%A0%80&key=%00" },
        { "application/x-www-form-urlencoded", string.Join('&', Enumerable.Range(0, 1500).Select(n => $"f{n}=1")) },
        { "application/x-www-form-urlencoded", $"{new string('n', 300)}=1" },
        { "multipart/form-data; boundary=b", "--b\r\nContent-Disposition: form-data; name=\"kind\"\r\n\r\ncomm" },
        { "multipart/form-data; boundary=b", "nothing of that kind" },
        { "multipart/form-data", "no boundary" },
        { "application/json", "{}" },
    };

    /// <summary>Every form that a stranger reaches, from the route table.</summary>
    [Theory]
    [MemberData(nameof(OddBodies))]
    public async Task An_odd_body_is_refused_in_words_by_every_form_that_a_stranger_reaches(string kind, string body)
    {
        var (lead, job, link) = await OpenAsync();
        var forms = shop.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>()
            .Where(e => e.Metadata.GetMetadata<IAllowAnonymous>() is not null && e.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods.Contains("POST") == true && !e.RoutePattern.RawText!.StartsWith("/api/", StringComparison.Ordinal)).ToList();
        forms.Select(f => f.RoutePattern.RawText).ShouldBe(["/r/{token}"]);
        using var customer = Stranger();
        foreach (var form in forms)
        {
            using var content = new StringContent(body);
            content.Headers.Remove("Content-Type");
            content.Headers.TryAddWithoutValidation("Content-Type", kind);
            var answer = await customer.PostAsync(form.RoutePattern.RawText!.Replace("/r/{token}", link, StringComparison.Ordinal), content, Cancel);
            ((int)answer.StatusCode).ShouldBeInRange(400, 422);
            (await answer.Content.ReadAsStringAsync(Cancel)).ShouldNotContain("Exception");
        }

        (await lead.ReadAsync($"/api/jobs/{job}/review")).GetProperty("said").GetArrayLength().ShouldBe(0);
    }

    [Fact]
    public async Task A_go_of_an_earlier_loom_is_said_to_be_old()
    {
        var (lead, job, link) = await OpenAsync();
        using var customer = Stranger();
        await SayAsync(customer, link, "go", "", "");
        await shop.DoAsync($"insert into loom_revisions (job_id, revision, name, document, imported_by) select job_id, 'Z', name, document, imported_by from loom_revisions where job_id = {job} limit 1");
        (await lead.ReadAsync($"/api/jobs/{job}/review")).GetProperty("changedSinceGo").GetBoolean().ShouldBeTrue();
        (await ReadAsync(await customer.GetAsync(link, Cancel))).QuerySelector("[role=alert]")!.TextContent.ShouldContain("changed after somebody said go");
    }

    [Fact]
    public async Task A_link_that_is_guessed_replaced_withdrawn_or_expired_leads_nowhere()
    {
        var (lead, job, link) = await OpenAsync();
        using var customer = Stranger();
        foreach (var guessed in new[] { "/r/x", "/r/" + new string('A', 43), link[..^1] + (link[^1] == 'A' ? 'B' : 'A'), link + "A", "/r/%C2%A0", "/r/' or 1=1 --" })
        {
            (await customer.GetAsync(guessed, Cancel)).StatusCode.ShouldBe(HttpStatusCode.NotFound, guessed);
            (await SayAsync(customer, guessed, "comment", "", "In?")).StatusCode.ShouldBe(HttpStatusCode.NotFound, guessed);
            (await customer.GetAsync($"{guessed}/pack", Cancel)).StatusCode.ShouldBe(HttpStatusCode.NotFound, guessed);
        }

        var second = (await lead.PostForAsync($"/api/jobs/{job}/review", new { })).GetProperty("link").GetString()!;
        (await customer.GetAsync(link, Cancel)).StatusCode.ShouldBe(HttpStatusCode.NotFound, "a new link takes the place of the old");
        (await customer.GetAsync(second, Cancel)).StatusCode.ShouldBe(HttpStatusCode.OK);
        await shop.DoAsync($"update reviews set expires_at = now() - interval '1 second' where job_id = {job}");
        (await SayAsync(customer, second, "go", "", "")).StatusCode.ShouldBe(HttpStatusCode.NotFound, "it has expired");
        var third = (await lead.PostForAsync($"/api/jobs/{job}/review", new { })).GetProperty("link").GetString()!;
        (await lead.DeleteAsync($"/api/jobs/{job}/review")).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await customer.GetAsync(third, Cancel)).StatusCode.ShouldBe(HttpStatusCode.NotFound, "it was withdrawn");
        (await lead.ReadAsync($"/api/jobs/{job}/review")).GetProperty("said").GetArrayLength().ShouldBe(0);
    }

    [Fact]
    public async Task The_token_is_kept_nowhere()
    {
        var (_, _, link) = await OpenAsync();
        (await shop.CountAsync($"select count(*) from reviews where encode(token_hash, 'escape') like '%{link[3..]}%' or @run = 0 and false", 1)).ShouldBe(0);
    }

    [Fact]
    public async Task A_flood_is_stopped_and_what_was_kept_stays()
    {
        var (lead, job, link) = await OpenAsync();
        var stored = await Task.WhenAll(Enumerable.Range(0, 40).Select(async i =>
        {
            using var customer = Stranger();
            return (await SayAsync(customer, link, "comment", "", $"Number {i}")).StatusCode;
        }));
        stored.Count(s => s == HttpStatusCode.Redirect).ShouldBe(20);
        stored.Count(s => s == HttpStatusCode.TooManyRequests).ShouldBe(20);
        (await lead.ReadAsync($"/api/jobs/{job}/review")).GetProperty("said").GetArrayLength().ShouldBe(20);
    }

    public static TheoryData<string, string, string, string> Wrong => new()
    {
        { "comment", "", "", "Petra" },
        { "comment", "no such plug", "Hm.", "Petra" },
        { "comment", "", "No name.", "" },
        { "comment", "", new string('x', 2001), "Petra" },
        { "comment", "", "Long name.", new string('n', 81) },
        { "answer", "999999", "Which?", "Petra" },
        { "answer", "", "Which?", "Petra" },
        { "go", "A", "", "Petra" },
        { "release", "", "Now.", "Petra" },
        { "", "", "", "" },
    };

    [Fact]
    public async Task What_cannot_be_said_is_refused_in_words_and_nothing_is_kept()
    {
        var (lead, job, link) = await OpenAsync();
        using var customer = Stranger();
        foreach (var row in Wrong)
        {
            var (kind, subject, words, name) = row.Data;
            var refused = await SayAsync(customer, link, kind, subject, words, name: name);
            refused.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity, $"{kind} {subject}");
            (await ReadAsync(refused)).QuerySelector("[role=status]")!.TextContent.ShouldContain("Nothing was kept.");
        }

        (await SayAsync(customer, link, "comment", "", "No key.", Guid.Empty, keyText: "none")).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await customer.PostAsync(link, new StringContent("{}", System.Text.Encoding.UTF8, "application/json"), Cancel)).StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        (await SayAsync(customer, link, "comment", "", new string('x', 30_000))).StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        (await lead.ReadAsync($"/api/jobs/{job}/review")).GetProperty("said").GetArrayLength().ShouldBe(0);
    }

    [Fact]
    public async Task Hostile_words_are_shown_as_words_under_a_policy_without_script()
    {
        var (lead, job, link) = await OpenAsync();
        await lead.PostAsync($"/api/jobs/{job}/questions", new { key = Guid.CreateVersion7(), asks = Nasty, choices = new[] { Nasty } });
        using var customer = Stranger();
        await SayAsync(customer, link, "comment", "", Nasty, name: Nasty);
        var answer = await customer.GetAsync(link, Cancel);
        answer.Headers.GetValues("Content-Security-Policy").Single().ShouldStartWith("default-src 'none'; style-src 'unsafe-inline'; base-uri 'none'; form-action 'self'");
        answer.Headers.CacheControl!.NoStore.ShouldBeTrue();
        var page = await ReadAsync(answer);
        page.QuerySelectorAll("script").ShouldBeEmpty();
        page.QuerySelectorAll("li").ShouldContain(l => l.TextContent.Contains(Nasty));
        page.QuerySelectorAll("h3").ShouldContain(h => h.TextContent == Nasty);
    }

    [Fact]
    public async Task Only_a_lead_opens_and_withdraws_and_who_looks_on_asks_nothing()
    {
        var (_, job, _) = await OpenAsync();
        var (mira, look) = (await shop.TechnicianAsync(), await shop.LookAsync());
        (await mira.PostAsync($"/api/jobs/{job}/review", new { })).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        (await mira.DeleteAsync($"/api/jobs/{job}/review")).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        object ask = new { key = Guid.CreateVersion7(), asks = "Which?", choices = Array.Empty<string>() };
        (await look.PostAsync($"/api/jobs/{job}/questions", ask)).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        (await mira.PostAsync($"/api/jobs/{job}/questions", ask)).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await mira.PostAsync($"/api/jobs/{job}/questions", ask)).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await mira.ReadAsync($"/api/jobs/{job}/review")).GetProperty("questions").GetArrayLength().ShouldBe(1, "the same key asks once");
        foreach (var wrong in new object[] { new { key = Guid.Empty, asks = "Which?", choices = Array.Empty<string>() }, new { key = Guid.CreateVersion7(), asks = " ", choices = Array.Empty<string>() }, new { key = Guid.CreateVersion7(), asks = "Which?", choices = Enumerable.Repeat("x", 9) } })
        {
            (await mira.PostAsync($"/api/jobs/{job}/questions", wrong)).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        }
    }

    [Fact]
    public async Task The_draft_behind_the_link_is_the_pack_that_nobody_signed()
    {
        var (lead, job, link) = await OpenAsync();
        using var customer = Stranger();
        (await (await customer.GetAsync($"{link}/pack", Cancel)).Content.ReadAsStringAsync(Cancel)).ShouldContain("has not been on the bench yet");
        await lead.StartRunAsync(job, new { meterId = 1, isolation = "neighbours", carryOver = false });
        var draft = await customer.GetAsync($"{link}/pack", Cancel);
        draft.Headers.GetValues("Content-Security-Policy").Single().ShouldContain("script-src 'sha256-");
        (await ReadAsync(draft)).Body!.TextContent.ShouldContain("nobody yet: this is a draft");
    }

    [Fact]
    public async Task Labels_are_a_sheet_of_their_own_and_nonsense_is_refused_at_its_place()
    {
        var (lead, job, _) = await OpenAsync();
        var sheet = await lead.GetAsync($"/api/jobs/{job}/labels?kind=wrap&paper=letter&which=all");
        sheet.StatusCode.ShouldBe(HttpStatusCode.OK);
        (await ReadAsync(sheet)).QuerySelectorAll(".label.wrap").Length.ShouldBe(2);
        foreach (var (query, at) in new[] { ("kind=ribbon", "/kind"), ("paper=a5", "/paper"), ("which=some", "/which") })
        {
            (await Problems.OfAsync(await lead.GetAsync($"/api/jobs/{job}/labels?{query}"))).ShouldContain(p => p.At == at);
        }
    }

    private async Task<(Visitor Lead, long Job, string Link)> OpenAsync()
    {
        var lead = await shop.LeadAsync();
        var job = await lead.JobWithLoomAsync(ImportTests.Small);
        return (lead, job, (await lead.PostForAsync($"/api/jobs/{job}/review", new { })).GetProperty("link").GetString()!);
    }

    private HttpClient Stranger() => shop.CreateClient(new() { AllowAutoRedirect = false, HandleCookies = false });

    private static async Task<HttpResponseMessage> SayAsync(HttpClient customer, string link, string kind, string subject, string words, Guid? key = null, string choice = "", string name = "Petra of the orchard", string? keyText = null) =>
        await customer.PostAsync(link, new FormUrlEncodedContent(new Dictionary<string, string>
        {
            ["kind"] = kind, ["subject"] = subject, ["words"] = words, ["name"] = name, ["choice"] = choice, ["key"] = keyText ?? (key ?? Guid.CreateVersion7()).ToString(),
        }), Cancel);

    private static string Hidden(IElement form, string name) => form.QuerySelector($"input[name={name}]")!.GetAttribute("value")!;

    private static async Task<IDocument> ReadAsync(HttpResponseMessage answer) =>
        await BrowsingContext.New(Configuration.Default).OpenAsync(Holding(await answer.Content.ReadAsStringAsync(Cancel)), Cancel);

    private static Action<AngleSharp.Io.VirtualResponse> Holding(string html) => r => r.Content(html);
}
