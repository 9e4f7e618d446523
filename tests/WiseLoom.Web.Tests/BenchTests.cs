using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace WiseLoom.Web.Tests;

/// <summary>Runs, readings, skips, faults, fixes and release over HTTP, against a real PostgreSQL.</summary>
public sealed class BenchTests(Shop shop)
{
    private const double Good = 0.042;

    private static Sent Reading(Guid key, int step, double? ohms, bool overRange = false) => new(key, step, ohms, overRange);

    private static async Task<(long Job, long Run)> StartAsync(Visitor visitor, string meter = "Hand meter, two leads", string isolation = "neighbours")
    {
        var job = await visitor.JobWithLoomAsync(ImportTests.Small);
        var meters = (await visitor.ReadAsync($"/api/jobs/{job}/bench")).GetProperty("meters").EnumerateArray();
        var meterId = meters.Single(m => m.GetProperty("name").GetString() == meter).GetProperty("id").GetInt64();
        var run = await visitor.PostForAsync($"/api/jobs/{job}/runs", new { meterId, isolation, carryOver = false });
        return (job, run.GetProperty("id").GetInt64());
    }

    private static Task<(long Job, long Run)> StartFourWireAsync(Visitor visitor) => StartAsync(visitor, "Bench meter, frost fan (stand-in)");

    private static Task<JsonElement> TakeAsync(Visitor visitor, long run, params Sent[] readings) => visitor.TakeAsync(run, readings);

    private static async Task<JsonElement> RunOfAsync(Visitor visitor, long job) => (await visitor.ReadAsync($"/api/jobs/{job}/bench")).GetProperty("run");

    [Fact]
    public async Task A_reading_posted_twice_is_stored_once()
    {
        var visitor = await shop.TechnicianAsync();
        var (job, run) = await StartFourWireAsync(visitor);
        var key = Guid.CreateVersion7();
        var first = await TakeAsync(visitor, run, Reading(key, 1, Good));
        var second = await TakeAsync(visitor, run, Reading(key, 1, Good), Reading(key, 1, 7));

        first.GetProperty("stored")[0].GetProperty("standing").GetProperty("state").GetString().ShouldBe("pass");
        second.GetProperty("stored").EnumerateArray().ShouldHaveSingleItem().GetProperty("reading").GetProperty("value").GetDouble().ShouldBe(Good);
        second.GetProperty("refused").EnumerateArray().ShouldHaveSingleItem().GetProperty("message").GetString()!.ShouldContain("used for something else");
        (await shop.CountAsync("select count(*) from run_events where run_id = @run and kind = 'reading'", run)).ShouldBe(1);
        (await RunOfAsync(visitor, job)).GetProperty("progress").GetProperty("done").GetInt32().ShouldBe(1);
    }

    [Fact]
    public async Task The_same_batch_from_many_hands_at_once_is_stored_once()
    {
        var visitor = await shop.TechnicianAsync();
        var (_, run) = await StartFourWireAsync(visitor);
        var batch = Enumerable.Range(0, 10).Select(i => Reading(Guid.CreateVersion7(), 1 + (i % 3), Good)).ToArray();
        await Task.WhenAll(Enumerable.Range(0, 6).Select(_ => TakeAsync(visitor, run, batch)));

        (await shop.CountAsync("select count(*) from run_events where run_id = @run and kind = 'reading'", run)).ShouldBe(10);
    }

    [Fact]
    public async Task A_key_of_another_step_is_refused_and_its_reading_stays_as_it_is()
    {
        var visitor = await shop.TechnicianAsync();
        var (_, run) = await StartFourWireAsync(visitor);
        var key = Guid.CreateVersion7();
        await TakeAsync(visitor, run, Reading(key, 1, Good));
        var answer = await TakeAsync(visitor, run, Reading(key, 3, Good));

        answer.GetProperty("stored").GetArrayLength().ShouldBe(0);
        answer.GetProperty("refused")[0].GetProperty("message").GetString()!.ShouldContain("key");
    }

    public static TheoryData<string, int, double?, bool> BadReadings => new()
    {
        { "no such step", 99, Good, false },
        { "step zero", 0, Good, false },
        { "neither value nor over range", 1, null, false },
        { "both value and over range", 1, Good, true },
        { "far below zero", 1, -5, false },
        { "beyond any meter", 1, 1e13, false },
    };

    [Theory]
    [MemberData(nameof(BadReadings))]
    public async Task A_reading_that_cannot_be_is_refused_and_the_good_one_beside_it_is_stored(string what, int step, double? ohms, bool overRange)
    {
        var visitor = await shop.TechnicianAsync();
        var (_, run) = await StartFourWireAsync(visitor);
        var answer = await TakeAsync(visitor, run, Reading(Guid.CreateVersion7(), step, ohms, overRange), Reading(Guid.CreateVersion7(), 3, Good));

        answer.GetProperty("refused").GetArrayLength().ShouldBe(1, what);
        answer.GetProperty("stored").GetArrayLength().ShouldBe(1, what);
    }

    [Fact]
    public async Task Verdicts_depend_on_the_meter_in_hand()
    {
        var visitor = await shop.TechnicianAsync();
        var (_, hand) = await StartAsync(visitor);
        var (_, bench) = await StartFourWireAsync(visitor);

        (await TakeAsync(visitor, hand, Reading(Guid.CreateVersion7(), 1, 0.1))).GetProperty("stored")[0].GetProperty("standing").GetProperty("state").GetString().ShouldBe("cant-tell");
        (await TakeAsync(visitor, bench, Reading(Guid.CreateVersion7(), 1, 0.1))).GetProperty("stored")[0].GetProperty("standing").GetProperty("state").GetString().ShouldBe("fail");
        (await TakeAsync(visitor, bench, Reading(Guid.CreateVersion7(), 2, null, true))).GetProperty("stored")[0].GetProperty("standing").GetProperty("state").GetString().ShouldBe("pass");
    }

    [Fact]
    public async Task Coming_back_leads_to_the_same_step()
    {
        var visitor = await shop.TechnicianAsync();
        var (job, run) = await StartFourWireAsync(visitor);
        (await RunOfAsync(visitor, job)).GetProperty("position").GetInt32().ShouldBe(1);
        (await visitor.PutAsync($"/api/runs/{run}/position", new { step = 3 })).StatusCode.ShouldBe(HttpStatusCode.NoContent);

        (await RunOfAsync(visitor, job)).GetProperty("position").GetInt32().ShouldBe(3);
        (await RunOfAsync(await shop.LeadAsync(), job)).GetProperty("position").GetInt32().ShouldBe(1, "each person has a place of their own");
        (await visitor.PutAsync($"/api/runs/{run}/position", new { step = 44 })).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task Limits_open_into_how_they_came_about()
    {
        var visitor = await shop.TechnicianAsync();
        var (_, run) = await StartFourWireAsync(visitor);
        var reason = await visitor.ReadAsync($"/api/runs/{run}/steps/1/reason");

        reason.GetProperty("sentence").GetString()!.ShouldContain("At 20 °C the copper and contacts on the way add up to 42.5 mΩ");
        reason.GetProperty("parts")[0].GetProperty("wire").GetString().ShouldBe("W1");
        (await visitor.ReadAsync($"/api/runs/{run}/steps/2/reason")).GetProperty("sentence").GetString()!.ShouldContain("at least 10.0 MΩ");
    }

    [Fact]
    public async Task A_loom_goes_from_fault_to_fix_to_proof_to_a_signed_pack_that_a_link_opens()
    {
        var visitor = await shop.TechnicianAsync();
        var lead = await shop.LeadAsync();
        var (job, run) = await StartFourWireAsync(visitor);
        await TakeAsync(visitor, run, Reading(Guid.CreateVersion7(), 1, 1.2), Reading(Guid.CreateVersion7(), 3, Good), Reading(Guid.CreateVersion7(), 2, null, true));

        // A failing step is logged; one that passes is not.
        (await visitor.PostAsync($"/api/runs/{run}/faults", new { key = Guid.CreateVersion7(), step = 2, seen = "nothing" })).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        var key = Guid.CreateVersion7();
        var fault = await visitor.PostForAsync($"/api/runs/{run}/faults", new { key, step = 1, seen = "reads 1.2 Ω" });
        (await visitor.PostForAsync($"/api/runs/{run}/faults", new { key, step = 1, seen = "reads 1.2 Ω" })).GetProperty("number").GetInt32().ShouldBe(1, "logged once");
        var cause = fault.GetProperty("suggested")[0];
        cause.GetProperty("faults")[0].GetProperty("kind").GetString().ShouldBe("resistive");
        (await lead.SignAsync(job)).StatusCode.ShouldBe(HttpStatusCode.Conflict);

        await visitor.PostForAsync($"/api/runs/{run}/faults/1/cause", new { key = Guid.CreateVersion7(), faults = cause.GetProperty("faults"), words = "Poor crimp at A:1" });
        (await visitor.PostAsync($"/api/runs/{run}/faults/1/fix", new { key = Guid.CreateVersion7(), did = "re-crimp", places = new[] { "Z:9" }, minutes = (double?)5, parts = (string?)null, note = (string?)null })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        var @fixed = await visitor.PostForAsync($"/api/runs/{run}/faults/1/fix", new { key = Guid.CreateVersion7(), did = "re-crimp", places = new[] { "A:1" }, minutes = (double?)5, parts = (string?)null, note = (string?)null });
        @fixed.GetProperty("state").GetString().ShouldBe("fixed");
        @fixed.GetProperty("retests").EnumerateArray().Select(r => r.GetProperty("step").GetInt32()).ShouldBe([1, 2]);

        var holds = (await visitor.ReadAsync($"/api/jobs/{job}/handover")).GetProperty("holds").EnumerateArray().Select(h => h.GetProperty("kind").GetString()).ToList();
        holds.ShouldBe(["retest", "fault"]);
        await TakeAsync(visitor, run, Reading(Guid.CreateVersion7(), 1, Good), Reading(Guid.CreateVersion7(), 2, null, true));
        (await visitor.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("faults")[0].GetProperty("state").GetString().ShouldBe("proven");

        // Only a lead signs; the pack opens without an account until the link is withdrawn.
        (await visitor.SignAsync(job)).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        var pack = (await Visitor.BodyAsync(await lead.SignAsync(job), "sign")).GetProperty("id").GetInt64();
        var link = (await lead.PostForAsync($"/api/packs/{pack}/share", new { })).GetProperty("share").GetString()!;
        var stranger = await shop.StrangerAsync();
        var shared = await stranger.GetAsync(link);
        shared.StatusCode.ShouldBe(HttpStatusCode.OK);
        shared.Headers.GetValues("Content-Security-Policy").Single().ShouldMatch("script-src 'sha256-[^' ]+';", "no script but the pack's own");
        (await shared.Content.ReadAsStringAsync(TestContext.Current.CancellationToken)).ShouldContain("Poor crimp at A:1");
        (await stranger.GetAsync(link + "x")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await lead.DeleteAsync($"/api/packs/{pack}/share")).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await stranger.GetAsync(link)).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await visitor.ReadAsync($"/api/jobs/{job}")).GetProperty("stage").GetString().ShouldBe("released");
    }

    [Fact]
    public async Task Two_packs_signed_at_once_become_one_pack_and_one_refusal()
    {
        var lead = await shop.LeadAsync();
        var (job, run) = await StartFourWireAsync(lead);
        await TakeAsync(lead, run, Reading(Guid.CreateVersion7(), 1, Good), Reading(Guid.CreateVersion7(), 3, Good), Reading(Guid.CreateVersion7(), 2, null, true));
        var answers = await Task.WhenAll(lead.SignAsync(job), lead.SignAsync(job));

        var made = answers.Count(a => a.StatusCode == HttpStatusCode.Created);
        (await shop.CountAsync("select count(*) from packs where run_id = @run", run)).ShouldBe(made);
        answers.ShouldAllBe(a => a.StatusCode == HttpStatusCode.Created || a.StatusCode == HttpStatusCode.Conflict);
    }

    [Fact]
    public async Task A_skipped_step_needs_a_reason_and_is_named_in_the_pack()
    {
        var visitor = await shop.TechnicianAsync();
        var (job, run) = await StartFourWireAsync(visitor);
        (await visitor.PostAsync($"/api/runs/{run}/skips", new { key = Guid.CreateVersion7(), step = 1, reason = " " })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        await visitor.PostForAsync($"/api/runs/{run}/skips", new { key = Guid.CreateVersion7(), step = 1, reason = "Plug B was not supplied." });

        (await visitor.ReadAsync($"/api/jobs/{job}/handover")).GetProperty("notProven").EnumerateArray().ShouldContain(l => l.GetString()!.Contains("Plug B was not supplied.", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_new_revision_starts_the_bench_anew_and_keeps_the_old_readings()
    {
        var visitor = await shop.TechnicianAsync();
        var (job, run) = await StartFourWireAsync(visitor);
        await TakeAsync(visitor, run, Reading(Guid.CreateVersion7(), 1, Good));
        (await visitor.ImportAsync(job, ImportTests.Small, "B")).EnsureSuccessStatusCode();

        (await RunOfAsync(visitor, job)).ValueKind.ShouldBe(JsonValueKind.Null);
        (await visitor.ReadAsync($"/api/jobs/{job}")).GetProperty("stage").GetString().ShouldBe("waiting-for-bench");
        (await shop.CountAsync("select count(*) from run_events where run_id = @run and kind = 'reading'", run)).ShouldBe(1);
    }

    [Fact]
    public async Task A_meter_that_does_not_answer_is_told_in_words_and_one_read_by_eye_too()
    {
        var visitor = await shop.TechnicianAsync();
        var (_, away) = await StartFourWireAsync(visitor);
        var (_, byEye) = await StartAsync(visitor);
        async Task<string> AskAsync(long run)
        {
            var answer = await visitor.PostAsync($"/api/runs/{run}/measure", new { step = 1 });
            answer.StatusCode.ShouldBe(HttpStatusCode.ServiceUnavailable);
            return (await answer.Content.ReadFromJsonAsync<JsonElement>(TestContext.Current.CancellationToken)).GetProperty("detail").GetString()!;
        }

        (await AskAsync(away)).ShouldContain("cannot be reached");
        (await AskAsync(byEye)).ShouldContain("type what it shows");
    }

    [Fact]
    public async Task A_change_by_one_person_rings_at_the_other()
    {
        var visitor = await shop.TechnicianAsync();
        var (job, run) = await StartFourWireAsync(visitor);
        using var stream = await visitor.OpenAsync($"/api/jobs/{job}/events");
        using var reader = new StreamReader(stream);
        async Task NextAsync()
        {
            while (await reader.ReadLineAsync(TestContext.Current.CancellationToken) is { } line && line != "event: changed")
            {
            }
        }

        await NextAsync();
        await TakeAsync(visitor, run, Reading(Guid.CreateVersion7(), 1, Good));
        await NextAsync();
    }

    [Fact]
    public async Task The_released_demo_job_has_a_pack_as_html_pdf_and_json()
    {
        var visitor = await shop.TechnicianAsync();
        var pack = (await visitor.ReadAsync("/api/jobs/1/handover")).GetProperty("packs")[0];
        var id = pack.GetProperty("id").GetInt64();

        pack.GetProperty("hasPdf").GetBoolean().ShouldBeTrue();
        using var pdf = UglyToad.PdfPig.PdfDocument.Open(await (await visitor.GetAsync($"/api/packs/{id}/pdf")).Content.ReadAsByteArrayAsync(TestContext.Current.CancellationToken));
        pdf.NumberOfPages.ShouldBeInRange(10, 29);
        pdf.GetPage(1).Text.ShouldContain("Frost fan");
        pdf.TryGetBookmarks(out var bookmarks).ShouldBeTrue();
        bookmarks.GetNodes().ShouldContain(n => n.Title.Contains("CRANK", StringComparison.Ordinal));
        (await visitor.ReadAsync($"/api/packs/{id}/json")).GetProperty("walk").GetArrayLength().ShouldBe(45);
    }
}
