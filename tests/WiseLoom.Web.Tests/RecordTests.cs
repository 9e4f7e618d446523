using System.Net;
using System.Text;
using System.Text.Json;
using UglyToad.PdfPig;
using WiseLoom.Core.Looms;

namespace WiseLoom.Web.Tests;

/// <summary>A run's record as files, and readings that come in as one.</summary>
public sealed class RecordTests(Shop shop)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private async Task<(Visitor Visitor, long Job, long Run, JsonElement[] Steps)> StartAsync()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(ImportTests.Small);
        var run = await visitor.StartRunAsync(job, new { meterId = 1, isolation = "neighbours", carryOver = false });
        return (visitor, job, run.GetProperty("id").GetInt64(), [.. run.GetProperty("steps").EnumerateArray()]);
    }

    /// <summary>Rows for all steps of a run, each within its limits, or with a value of one's own.</summary>
    private static string Rows(JsonElement[] steps, string? joined = null, string more = "") => $"black,red,ohm,at,by\n{string.Concat(steps.Select(s =>
        $"{s.GetProperty("black").GetString()},{s.GetProperty("red").GetString()},{(s.GetProperty("joined").GetBoolean() ? joined ?? Pass(s) : "over range")},2026-05-04T10:00:00Z,Tomas Wren\n"))}{more}";

    private static string Pass(JsonElement step)
    {
        var band = step.GetProperty("bands").EnumerateArray().First(b => b.GetProperty("verdict").GetString() == "pass");
        return ((band.GetProperty("from").GetDouble() + band.GetProperty("to").GetDouble()) / 2).ToString("R", System.Globalization.CultureInfo.InvariantCulture);
    }

    private static async Task<JsonElement> BringAsync(Visitor visitor, long run, string csv, string query = "?name=bench-two.csv")
    {
        var answer = await visitor.SendFileAsync($"/api/runs/{run}/bring-in{query}", Encoding.UTF8.GetBytes(csv));
        var text = await answer.Content.ReadAsStringAsync(Cancel);
        answer.StatusCode.ShouldBe(HttpStatusCode.OK, text);
        return JsonDocument.Parse(text).RootElement;
    }

    private static (int Stored, int Before, int Idle, int Refused) Of(JsonElement brought) =>
        (brought.GetProperty("stored").GetInt32(), brought.GetProperty("before").GetInt32(), brought.GetProperty("notCounting").GetInt32(), brought.GetProperty("refused").GetArrayLength());

    [Fact]
    public async Task Readings_of_another_bench_come_in_once_however_often_the_file_is_sent()
    {
        var (visitor, job, run, steps) = await StartAsync();
        Of(await BringAsync(visitor, run, Rows(steps))).ShouldBe((steps.Length, 0, 0, 0));
        Of(await BringAsync(visitor, run, Rows(steps))).ShouldBe((0, steps.Length, 0, 0));
        var progress = (await visitor.ReadAsync($"/api/runs/{run}/since/0")).GetProperty("progress");
        progress.GetProperty("done").GetInt32().ShouldBe(steps.Length);
        progress.GetProperty("failing").GetInt32().ShouldBe(0);
        (await (await visitor.GetAsync($"/api/runs/{run}/readings.csv")).Content.ReadAsStringAsync(Cancel)).ShouldContain("brought in from bench-two.csv, by Tomas Wren");
        (await visitor.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("holds").GetArrayLength().ShouldBe(0);
    }

    [Fact]
    public async Task What_a_run_wrote_is_read_by_another_run_of_the_same_loom()
    {
        var (visitor, _, run, steps) = await StartAsync();
        await BringAsync(visitor, run, Rows(steps));
        var csv = await (await visitor.GetAsync($"/api/runs/{run}/readings.csv")).Content.ReadAsStringAsync(Cancel);
        var (_, _, other, _) = await StartAsync();
        Of(await BringAsync(visitor, other, csv)).ShouldBe((steps.Length, 0, 0, 0));
    }

    [Fact]
    public async Task Each_row_that_fits_nowhere_is_named_and_the_others_are_stored()
    {
        var (visitor, _, run, steps) = await StartAsync();
        var brought = await BringAsync(visitor, run, Rows(steps, more: "A:1,A:99,0.05,,\nhere,B:1,0.05,,\nA:1,B:1,much,,\nA:1,B:1,0.05,soon,\nA:1,B:1,0.05,2199-01-01T00:00:00Z,\nA:1,B:1,-7,,\nA:1,B:1,,,\n"));
        brought.GetProperty("stored").GetInt32().ShouldBe(steps.Length);
        brought.GetProperty("left").GetInt32().ShouldBe(1);
        brought.GetProperty("refused").EnumerateArray().Select(p => p.GetProperty("at").GetString()).ShouldBe(
            [$"bench-two.csv row {steps.Length + 2}", $"bench-two.csv row {steps.Length + 3}, column black", $"bench-two.csv row {steps.Length + 4}, column ohm", $"bench-two.csv row {steps.Length + 5}, column at", $"bench-two.csv row {steps.Length + 6}, column ohm", $"bench-two.csv row {steps.Length + 7}, column ohm"], ignoreOrder: true);
    }

    [Fact]
    public async Task A_file_that_may_be_from_before_a_fix_proves_nothing_of_it_until_somebody_says_that_it_is_not()
    {
        var (visitor, job, run, steps) = await StartAsync();
        var failing = steps.First(s => s.GetProperty("joined").GetBoolean());
        var number = failing.GetProperty("number").GetInt32();
        await visitor.TakeAsync(run, Sent.New(number, null));
        (await visitor.PostAsync($"/api/runs/{run}/faults", new { key = Guid.CreateVersion7(), step = number, seen = "open" })).EnsureSuccessStatusCode();
        (await visitor.PostAsync($"/api/runs/{run}/faults/1/fix", new { key = Guid.CreateVersion7(), did = "re-crimp", places = new[] { failing.GetProperty("black").GetString() }, minutes = (double?)null, parts = (string?)null, note = (string?)null })).EnsureSuccessStatusCode();
        var early = await BringAsync(visitor, run, Rows(steps));
        early.GetProperty("notCounting").GetInt32().ShouldBeGreaterThan(0);
        (await visitor.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("holds").EnumerateArray().ShouldContain(h => h.GetProperty("kind").GetString() == "retest");

        var last = early.GetProperty("lastEvent").GetInt64();
        Of(await BringAsync(visitor, run, Rows(steps).Replace("10:00", "11:00", StringComparison.Ordinal), $"?name=after.csv&seen={last}")).ShouldBe((steps.Length, 0, 0, 0));
        (await visitor.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("holds").GetArrayLength().ShouldBe(0);
        (await visitor.SendFileAsync($"/api/runs/{run}/bring-in?seen=99999", "black,red,ohm\n"u8.ToArray())).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
    }

    [Theory]
    [InlineData("")]
    [InlineData("a,b\n1,2\n")]
    [InlineData("black,red\nA:1,B:1\n")]
    [InlineData("black,red,ohm\n\"A:1,B:1,3\n")]
    [InlineData("black,red,ohm\nnonsense,B:1,3\n")]
    public async Task What_is_no_table_of_readings_is_refused_with_its_place(string csv)
    {
        var (visitor, _, run, _) = await StartAsync();
        (await Problems.OfAsync(await visitor.SendFileAsync($"/api/runs/{run}/bring-in", Encoding.UTF8.GetBytes(csv)))).ShouldNotBeEmpty();
    }

    [Fact]
    public async Task The_largest_file_is_judged_row_by_row_and_a_larger_one_refused()
    {
        var (visitor, _, run, steps) = await StartAsync();
        var row = $"{steps[0].GetProperty("black").GetString()},{steps[0].GetProperty("red").GetString()},over range\n";
        var most = string.Concat(Enumerable.Repeat(row, 19_999));
        Of(await BringAsync(visitor, run, $"black,red,ohm\n{most}")).Stored.ShouldBe(19_999);
        (await visitor.SendFileAsync($"/api/runs/{run}/bring-in", Encoding.UTF8.GetBytes($"black,red,ohm\n{most}{row}{row}{row}"))).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await visitor.SendFileAsync($"/api/runs/{run}/bring-in", new byte[LoomReader.LargestFile + 1])).StatusCode.ShouldBe(HttpStatusCode.RequestEntityTooLarge);
    }

    [Fact]
    public async Task The_record_is_there_as_json_and_as_a_paper()
    {
        var (visitor, _, run, steps) = await StartAsync();
        await BringAsync(visitor, run, Rows(steps));
        await visitor.PostForAsync($"/api/runs/{run}/care", new { key = Guid.CreateVersion7(), check = "known-link", ohms = 1.0, overRange = false });
        var record = await visitor.ReadAsync($"/api/runs/{run}/record.json");
        record.GetProperty("format").GetString().ShouldBe("wise-loom/run-record");
        record.GetProperty("steps").GetArrayLength().ShouldBe(steps.Length);
        record.GetProperty("steps")[0].GetProperty("readings")[0].GetProperty("from").GetString()!.ShouldStartWith("bench-two.csv");
        record.GetProperty("checks")[0].GetProperty("passed").GetBoolean().ShouldBeTrue();

        using var pdf = PdfDocument.Open(await (await visitor.GetAsync($"/api/runs/{run}/record.pdf")).Content.ReadAsByteArrayAsync(Cancel));
        var text = string.Concat(pdf.GetPages().Select(p => p.Text));
        text.ShouldContain($"Record of run {run}");
        text.ShouldContain("Known link");
    }

    [Fact]
    public async Task A_pair_is_followed_over_this_loom_and_all_of_its_name()
    {
        var (visitor, job, run, steps) = await StartAsync();
        await BringAsync(visitor, run, Rows(steps));
        var (_, other, elsewhere, _) = await StartAsync();
        await BringAsync(visitor, elsewhere, Rows(steps, joined: "9"));
        var step = steps.First(s => s.GetProperty("joined").GetBoolean());
        var (a, b) = (step.GetProperty("black").GetString(), step.GetProperty("red").GetString());
        foreach (var query in new[] { $"a={a}&b={b}", $"a={b}&b={a}" })
        {
            var readings = (await visitor.ReadAsync($"/api/jobs/{job}/pair?{query}")).GetProperty("readings").EnumerateArray().ToList();
            readings.Single(r => r.GetProperty("job").GetInt64() == job).GetProperty("mine").GetBoolean().ShouldBeTrue();
            readings.Single(r => r.GetProperty("job").GetInt64() == other).GetProperty("verdict").GetString().ShouldBe("fail");
        }

        (await visitor.ReadAsync($"/api/jobs/{job}/pair?a=Z:1&b=Z:2")).GetProperty("readings").GetArrayLength().ShouldBe(0);
        (await visitor.GetAsync($"/api/jobs/{job}/pair?a=Z&b=Z:2")).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
    }

    [Fact]
    public async Task A_customers_list_comes_back_filled_in_and_our_tables_take_a_mappings_order()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(ImportTests.Small);
        var run = (await visitor.StartRunAsync(job, new { meterId = 1, isolation = "neighbours", carryOver = false })).GetProperty("id").GetInt64();
        var list = "From;To;Note\nA:1;B:1;first\n"u8.ToArray();
        var answer = await visitor.SendFileAsync($"/api/runs/{run}/fill-in?name=their%20list.csv", list);
        answer.StatusCode.ShouldBe(HttpStatusCode.OK, await answer.Content.ReadAsStringAsync(Cancel));
        answer.Content.Headers.ContentDisposition!.FileNameStar.ShouldBe("their list with results.csv");
        (await answer.Content.ReadAsStringAsync(Cancel)).TrimStart('\ufeff').ShouldStartWith("From;To;Note;reads;verdict\r\nA:1;B:1;first;;not tested");
        (await visitor.SendFileAsync($"/api/runs/{run}/fill-in?name=x.csv", "From,To\nQ:1,R:1\n"u8.ToArray())).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);

        var kept = await visitor.PostForAsync("/api/intake/mappings", new { name = "Orchard lists", headings = new[] { "Ende", "Anfang" }, columns = new Dictionary<string, object> { ["Ende"] = new { meaning = "other-end" }, ["Anfang"] = new { meaning = "end" } } });
        var mapping = kept.GetProperty("mappings").EnumerateArray().Single(m => m.GetProperty("name").GetString() == "Orchard lists").GetProperty("id").GetInt64();
        var zip = await (await visitor.GetAsync($"/api/runs/{run}/results.zip?mapping={mapping}")).Content.ReadAsByteArrayAsync(Cancel);
        using var archive = new System.IO.Compression.ZipArchive(new MemoryStream(zip));
        using var wires = new StreamReader(archive.GetEntry("wires.csv")!.Open());
        (await wires.ReadLineAsync(Cancel))!.ShouldContain("Ende,Anfang,reads,verdict");
        (await visitor.GetAsync($"/api/runs/{run}/results.xlsx?mapping=999999")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await visitor.GetAsync($"/api/runs/{run}/results.xlsx")).StatusCode.ShouldBe(HttpStatusCode.OK);
    }
}
