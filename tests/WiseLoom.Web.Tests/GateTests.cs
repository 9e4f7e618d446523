using System.Net;
using System.Text.Json;

namespace WiseLoom.Web.Tests;

/// <summary>What a release, a proof and a run's place are worth when things happen at once, late, twice or out of order.</summary>
public sealed class GateTests(Shop shop)
{
    private const double Good = 0.042, Bad = 1.2;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static Sent[] Passing => [Sent.New(1, Good), Sent.New(3, Good), Sent.New(2, null)];

    private static async Task<(long Job, long Run)> StartAsync(Visitor visitor)
    {
        var job = await visitor.JobWithLoomAsync(ImportTests.Small);
        return (job, (await visitor.PostForAsync($"/api/jobs/{job}/runs", new { meterId = 1, isolation = "neighbours", carryOver = false })).GetProperty("id").GetInt64());
    }

    private static async Task<string> StageAsync(Visitor visitor, long job) => (await visitor.ReadAsync($"/api/jobs/{job}")).GetProperty("stage").GetString()!;

    private static Task<HttpResponseMessage> LogAsync(Visitor visitor, long run, int step) =>
        visitor.PostAsync($"/api/runs/{run}/faults", new { key = Guid.CreateVersion7(), step, seen = "reads too much" });

    private static Task<HttpResponseMessage> FixAsync(Visitor visitor, long run) => visitor.PostAsync(
        $"/api/runs/{run}/faults/1/fix", new { key = Guid.CreateVersion7(), did = "re-crimp", places = new[] { "A:1" }, minutes = (double?)5, parts = (string?)null, note = (string?)null });

    /// <summary>The pack is printed while a failing reading and a fault arrive: either it was signed before them and the job says that it no longer holds, or it was not signed.</summary>
    [Fact]
    public async Task A_pack_is_never_signed_over_a_failing_reading_that_was_acknowledged()
    {
        var (lead, technician) = (await shop.LeadAsync(), await shop.TechnicianAsync());
        for (var round = 0; round < 6; round++)
        {
            var (job, run) = await StartAsync(technician);
            await technician.TakeAsync(run, Passing);
            var signing = lead.SignAsync(job);
            await technician.TakeAsync(run, Sent.New(1, Bad));
            (await LogAsync(technician, run, 1)).EnsureSuccessStatusCode();
            var signed = await signing;

            var last = await shop.CountAsync("select coalesce(max(event), 0) from packs where run_id = @run", run);
            var failed = await shop.CountAsync("select min(number) from run_events where run_id = @run and body->>'verdict' = 'fail'", run);
            (signed.StatusCode == HttpStatusCode.Created ? last < failed : signed.StatusCode == HttpStatusCode.Conflict && last == 0).ShouldBeTrue($"round {round}: {signed.StatusCode}, pack at {last}, failure at {failed}");
            (await StageAsync(technician, job)).ShouldBe(signed.StatusCode == HttpStatusCode.Created ? "overturned" : "on-bench");
        }
    }

    [Fact]
    public async Task A_pack_that_came_too_late_is_thrown_away_with_words()
    {
        var (lead, technician) = (await shop.LeadAsync(), await shop.TechnicianAsync());
        var (job, run) = await StartAsync(technician);
        await technician.TakeAsync(run, Passing);
        var signing = lead.SignAsync(job);
        await technician.TakeAsync(run, Sent.New(3, Good));
        var answer = await signing;

        if (answer.StatusCode == HttpStatusCode.Conflict)
        {
            (await answer.Content.ReadAsStringAsync(Cancel)).ShouldContain("Nothing was signed");
        }

        (await shop.CountAsync("select count(*) from packs where run_id = @run", run)).ShouldBe(answer.StatusCode == HttpStatusCode.Created ? 1 : 0);
    }

    [Fact]
    public async Task A_lead_signs_what_was_looked_at_and_nothing_that_came_since()
    {
        var (lead, technician) = (await shop.LeadAsync(), await shop.TechnicianAsync());
        var (job, run) = await StartAsync(technician);
        await technician.TakeAsync(run, Passing);
        var seen = (await lead.ReadAsync($"/api/jobs/{job}/handover")).GetProperty("lastEvent").GetInt64();
        await technician.TakeAsync(run, Sent.New(1, Good));
        var late = await lead.PostAsync($"/api/jobs/{job}/packs", new { changes = "", seen });
        late.StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await late.Content.ReadAsStringAsync(Cancel)).ShouldContain("since you looked. Nothing was signed. Look at what is new");
        await technician.TakeAsync(run, Sent.New(1, Bad));
        (await (await lead.PostAsync($"/api/jobs/{job}/packs", new { changes = "", seen })).Content.ReadAsStringAsync(Cancel)).ShouldContain("Now it cannot be released: 1 step fails.");
        await technician.TakeAsync(run, Sent.New(1, Good));
        (await lead.SignAsync(job)).StatusCode.ShouldBe(HttpStatusCode.Created);
        (await lead.PostAsync($"/api/jobs/{job}/packs", new { changes = "", seen = seen + 3 })).StatusCode.ShouldBe(HttpStatusCode.Conflict, "pressed twice");
    }

    [Fact]
    public async Task After_the_signature_a_failing_reading_is_told_on_the_job_the_handover_page_and_the_pack()
    {
        var (lead, technician, stranger) = (await shop.LeadAsync(), await shop.TechnicianAsync(), await shop.StrangerAsync());
        var (job, run) = await StartAsync(technician);
        await technician.TakeAsync(run, Passing);
        var pack = (await Visitor.BodyAsync(await lead.SignAsync(job), "sign")).GetProperty("id").GetInt64();
        var link = (await lead.PostForAsync($"/api/packs/{pack}/share", new { })).GetProperty("share").GetString()!;
        async Task<string> SharedAsync() => await (await stranger.GetAsync(link)).Content.ReadAsStringAsync(Cancel);
        (await SharedAsync()).ShouldNotContain("no longer holds");

        await technician.TakeAsync(run, Sent.New(1, Bad));
        var view = await technician.ReadAsync($"/api/jobs/{job}");
        (view.GetProperty("stage").GetString(), view.GetProperty("stageText").GetString(), view.GetProperty("heldBy").GetString()).ShouldBe(("overturned", "Pack 1 no longer holds", "1 step fails"));
        var handover = await technician.ReadAsync($"/api/jobs/{job}/handover");
        handover.GetProperty("holds")[0].GetProperty("kind").GetString().ShouldBe("failing");
        handover.GetProperty("packs")[0].GetProperty("against").GetString().ShouldBe("Since it was signed: 1 step fails.");
        (await SharedAsync()).ShouldContain("This pack no longer holds.");
        (await (await technician.GetAsync($"/api/packs/{pack}/html")).Content.ReadAsStringAsync(Cancel)).ShouldContain("This pack no longer holds.");
    }

    [Fact]
    public async Task Readings_from_before_a_fix_that_arrive_after_it_are_kept_and_prove_nothing()
    {
        var technician = await shop.TechnicianAsync();
        var (job, run) = await StartAsync(technician);
        await technician.TakeAsync(run, Sent.New(1, Bad), Sent.New(3, Good), Sent.New(2, null));
        (await LogAsync(technician, run, 1)).EnsureSuccessStatusCode();
        var known = (await technician.ReadAsync($"/api/runs/{run}/since/0")).GetProperty("lastEvent").GetInt64();
        (await FixAsync(technician, run)).EnsureSuccessStatusCode();

        var late = await technician.TakeAsync(run, Sent.New(1, Good, known), Sent.New(2, null, known));
        late.GetProperty("stored").EnumerateArray().ShouldAllBe(s => s.GetProperty("bearing").GetString() == "before-fix" && s.GetProperty("standing").GetProperty("state").GetString() == "retest");
        late.GetProperty("stored")[0].GetProperty("standing").GetProperty("late").GetString()!.ShouldContain("before knowing of the fix");
        var step = (await technician.ReadAsync($"/api/jobs/{job}/bench")).GetProperty("run").GetProperty("steps")[0];
        step.GetProperty("standing").GetProperty("late").GetString()!.ShouldContain("42.0 mΩ");
        (await technician.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("faults")[0].GetProperty("state").GetString().ShouldBe("fixed");
        (await (await technician.GetAsync($"/api/runs/{run}/readings.csv")).Content.ReadAsStringAsync(Cancel)).ShouldContain("from before the fix");

        await technician.TakeAsync(run, Sent.New(1, Good, known + 1), Sent.New(2, null, known + 1));
        (await technician.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("faults")[0].GetProperty("state").GetString().ShouldBe("proven");
    }

    [Fact]
    public async Task A_reading_that_claims_to_have_seen_what_has_not_happened_is_refused()
    {
        var technician = await shop.TechnicianAsync();
        var (_, run) = await StartAsync(technician);
        (await technician.TakeAsync(run, Sent.New(1, Good, 44))).GetProperty("refused")[0].GetProperty("message").GetString()!.ShouldContain("This run has 0 events");
    }

    [Fact]
    public async Task Four_starts_at_once_make_one_run()
    {
        var technician = await shop.TechnicianAsync();
        var job = await technician.JobWithLoomAsync(ImportTests.Small);
        var answers = await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => technician.PostAsync($"/api/jobs/{job}/runs", new { meterId = 1, isolation = "neighbours", carryOver = false })));

        answers.Count(a => a.StatusCode == HttpStatusCode.Created).ShouldBe(1);
        answers.Count(a => a.StatusCode == HttpStatusCode.Conflict).ShouldBe(3);
    }

    [Fact]
    public async Task Another_run_asks_says_what_it_sets_aside_and_the_old_one_refuses_with_words()
    {
        var (technician, other) = (await shop.TechnicianAsync(), await shop.LeadAsync());
        var (job, run) = await StartAsync(technician);
        await technician.TakeAsync(run, Sent.New(1, Good));
        object Start(long? setAside) => new { meterId = 1, isolation = "thorough", carryOver = false, setAside };

        var refused = await other.PostAsync($"/api/jobs/{job}/runs", Start(null));
        refused.StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await refused.Content.ReadAsStringAsync(Cancel)).ShouldContain("Mira Solstad started a run with Bench meter, frost fan (stand-in)");
        (await other.PostAsync($"/api/jobs/{job}/runs", Start(run + 1000))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        var answers = await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => other.PostAsync($"/api/jobs/{job}/runs", Start(run))));
        answers.Count(a => a.StatusCode == HttpStatusCode.Created).ShouldBe(1);

        var late = await technician.TakeAsync(run, Sent.New(3, Good));
        late.GetProperty("refused")[0].GetProperty("message").GetString()!.ShouldContain("set aside by Ada Quill");
        (await technician.PostAsync($"/api/runs/{run}/skips", new { key = Guid.CreateVersion7(), step = 2, reason = "no plug" })).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await technician.ReadAsync($"/api/runs/{run}/since/0")).GetProperty("setAside").GetString().ShouldBe("Ada Quill");
        (await shop.CountAsync("select count(*) from run_events where run_id = @run and kind = 'reading'", run)).ShouldBe(1);
    }

    [Fact]
    public async Task Readings_are_taken_only_from_the_session_of_whoever_took_them()
    {
        var (technician, lead) = (await shop.TechnicianAsync(), await shop.LeadAsync());
        var (_, run) = await StartAsync(technician);
        var answer = await lead.PostReadingsAsync(run, [Sent.New(1, Good)], technician.Person);

        answer.StatusCode.ShouldBe(HttpStatusCode.Conflict);
        JsonDocument.Parse(await answer.Content.ReadAsStringAsync(Cancel)).RootElement.GetProperty("type").GetString().ShouldBe("urn:wise-loom:other-person");
        (await shop.CountAsync("select count(*) from run_events where run_id = @run", run)).ShouldBe(0);
    }

    [Fact]
    public async Task A_skip_answers_truthfully_about_its_key()
    {
        var technician = await shop.TechnicianAsync();
        var (_, run) = await StartAsync(technician);
        var (_, elsewhere) = await StartAsync(technician);
        var key = Guid.CreateVersion7();
        object Skip(Guid k, int step, string reason = "Plug not supplied") => new { key = k, step, reason };
        (await technician.PostAsync($"/api/runs/{run}/skips", Skip(key, 1))).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await technician.PostAsync($"/api/runs/{run}/skips", Skip(key, 1))).StatusCode.ShouldBe(HttpStatusCode.OK, "the same once more");

        (await technician.PostAsync($"/api/runs/{run}/skips", Skip(key, 2))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await technician.PostAsync($"/api/runs/{run}/skips", Skip(key, 1, "Another reason"))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await technician.PostAsync($"/api/runs/{elsewhere}/skips", Skip(key, 1))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await technician.PostAsync($"/api/runs/{run}/skips", Skip(Guid.Empty, 2))).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await technician.TakeAsync(elsewhere, new Sent(key, 1, Good))).GetProperty("refused").GetArrayLength().ShouldBe(1);
        (await shop.CountAsync("select count(*) from run_events where run_id = @run", run)).ShouldBe(1);
        (await shop.CountAsync("select count(*) from run_events where run_id = @run", elsewhere)).ShouldBe(0);
    }

    [Fact]
    public async Task A_field_that_stands_twice_is_refused()
    {
        var technician = await shop.TechnicianAsync();
        var (_, run) = await StartAsync(technician);
        var reading = $$"""{"key":"{{Guid.CreateVersion7()}}","step":1,"ohms":0.042,"ohms":9,"overRange":false,"fromMeter":false,"takenAt":"{{DateTimeOffset.UtcNow:O}}","seen":0}""";
        using var body = new StringContent($$"""{"takenBy":"{{technician.Person}}","readings":[{{reading}}]}""", System.Text.Encoding.UTF8, "application/json");

        (await technician.SendAsync(HttpMethod.Post, $"/api/runs/{run}/readings", body)).StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        (await shop.CountAsync("select count(*) from run_events where run_id = @run", run)).ShouldBe(0);
    }

    [Fact]
    public async Task Beside_a_signed_pack_only_a_lead_releases_a_draft()
    {
        var (lead, technician) = (await shop.LeadAsync(), await shop.TechnicianAsync());
        var (job, run) = await StartAsync(technician);
        await technician.TakeAsync(run, Passing);
        (await lead.SignAsync(job)).EnsureSuccessStatusCode();
        var draft = (await technician.PostForAsync($"/api/jobs/{job}/draft", new { fromRevision = (long?)null, document = (object?)null })).GetProperty("id").GetInt64();
        var path = $"/api/drafts/{draft}/release?after={(await lead.ReadAsync($"/api/jobs/{job}/draft")).GetProperty("newest").GetInt64()}";
        var refused = await technician.SendAsync(HttpMethod.Post, path, null, "\"1\"");
        refused.StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        (await refused.Content.ReadAsStringAsync(Cancel)).ShouldContain("Pack 1 of this job is signed: a lead releases");
        (await lead.SendAsync(HttpMethod.Post, path, null, "\"1\"")).EnsureSuccessStatusCode();
    }

    [Fact]
    public async Task Nothing_of_a_customer_is_kept_by_a_proxy_or_found_by_a_search()
    {
        var (lead, stranger) = (await shop.LeadAsync(), await shop.StrangerAsync());
        var link = (await lead.PostForAsync("/api/packs/1/share", new { })).GetProperty("share").GetString()!;
        foreach (var answer in new[] { await stranger.GetAsync(link), await stranger.GetAsync($"{link}/pdf"), await stranger.GetAsync("/p/none"), await lead.GetAsync("/api/packs/1/json"), await lead.GetAsync("/api/jobs") })
        {
            answer.Headers.CacheControl!.NoStore.ShouldBeTrue(answer.RequestMessage!.RequestUri!.ToString());
            answer.Headers.GetValues("X-Robots-Tag").ShouldBe(["noindex"]);
        }
    }

    [Fact]
    public async Task A_job_that_is_not_there_has_no_events_and_one_persons_pages_have_an_end()
    {
        var tomas = await (await shop.StrangerAsync()).SignInAsync("tomas", "second-row-fifth");
        (await tomas.GetAsync("/api/jobs/999999/events")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        var streams = new List<Stream>();
        for (var n = 0; n < 30; n++)
        {
            streams.Add(await tomas.OpenAsync("/api/jobs/1/events"));
            await streams[^1].ReadExactlyAsync(new byte[1], Cancel);
        }

        (await tomas.GetAsync("/api/jobs/1/events")).StatusCode.ShouldBe(HttpStatusCode.TooManyRequests);
        streams.ForEach(s => s.Dispose());
    }

    [Fact]
    public async Task Of_a_link_asked_for_four_times_at_once_one_is_out_and_it_is_kept_as_a_hash()
    {
        var lead = await shop.LeadAsync();
        var links = await Task.WhenAll(Enumerable.Range(0, 4).Select(async _ => (await lead.PostForAsync("/api/packs/1/share", new { })).GetProperty("share").GetString()));

        var stranger = await shop.StrangerAsync();
        var open = await Task.WhenAll(links.Select(async l => (await stranger.GetAsync(l!)).StatusCode));
        open.Count(s => s == HttpStatusCode.OK).ShouldBe(1);
        open.Count(s => s == HttpStatusCode.NotFound).ShouldBe(3);
        (await shop.CountAsync("select count(*) from shares where position(convert_to('" + links[0]!.Split('/')[^1] + "', 'UTF8') in token_hash) > 0 and pack_id = @run", 1)).ShouldBe(0);
        (await lead.PostForAsync("/api/packs/1/share/renew", new { })).GetProperty("share").ValueKind.ShouldBe(JsonValueKind.Null, "a link is told once");
        (await shop.CountAsync("select count(*) from shares where pack_id = @run and withdrawn_at is null", 1)).ShouldBe(1);
        await lead.DeleteAsync("/api/packs/1/share");
        (await lead.PostAsync("/api/packs/1/share/renew", new { })).StatusCode.ShouldBe(HttpStatusCode.Conflict);
    }

    [Fact]
    public async Task Two_looms_of_one_name_cannot_be_brought_in_however_many_try_at_once()
    {
        var technician = await shop.TechnicianAsync();
        var job = (await technician.PostForAsync("/api/jobs", new { customer = "x", machine = "y", promised = (string?)null, assignedId = (string?)null, waitingFor = (string?)null })).GetProperty("id").GetInt64();
        var answers = await Task.WhenAll(Enumerable.Range(0, 8).Select(_ => technician.ImportAfterAsync(job, 0, ImportTests.Small)));

        answers.Count(a => a.StatusCode == HttpStatusCode.Created).ShouldBe(1);
        answers.ShouldAllBe(a => a.StatusCode == HttpStatusCode.Created || a.StatusCode == HttpStatusCode.PreconditionFailed || a.StatusCode == HttpStatusCode.UnprocessableEntity);
        var again = await technician.ImportAsync(job, ImportTests.Small);
        again.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await again.Content.ReadAsStringAsync(Cancel)).ShouldContain("B is free");
        (await technician.ImportAsync(job, ImportTests.Small, "B")).StatusCode.ShouldBe(HttpStatusCode.Created);
        (await shop.CountAsync("select count(*) from loom_revisions where job_id = @run", job)).ShouldBe(2);
    }

    [Fact]
    public async Task A_loom_beside_a_signed_pack_is_a_leads_and_anybody_elses_becomes_a_draft()
    {
        var (lead, technician) = (await shop.LeadAsync(), await shop.TechnicianAsync());
        var (job, run) = await StartAsync(technician);
        await technician.TakeAsync(run, Passing);
        (await lead.SignAsync(job)).StatusCode.ShouldBe(HttpStatusCode.Created);

        (await Visitor.BodyAsync(await technician.SendFileAsync($"/api/jobs/{job}/import?name=x.json", ImportTests.Small), "preview")).GetProperty("onlyDraft").GetString()!.ShouldContain("Pack 1 of this job is signed");
        var answer = await Visitor.BodyAsync(await technician.ImportAsync(job, ImportTests.Small, "B"), "import");
        answer.GetProperty("revisionId").ValueKind.ShouldBe(JsonValueKind.Null);
        answer.GetProperty("draftId").GetInt64().ShouldBeGreaterThan(0);
        (await technician.ImportAsync(job, ImportTests.Small, "B")).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await StageAsync(technician, job)).ShouldBe("released");
        (await Visitor.BodyAsync(await lead.ImportAsync(job, ImportTests.Small, "B"), "import")).GetProperty("revisionId").GetInt64().ShouldBeGreaterThan(0);
    }
}
