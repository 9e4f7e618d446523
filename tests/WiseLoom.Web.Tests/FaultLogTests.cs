using System.Net;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using WiseLoom.Store;

namespace WiseLoom.Web.Tests;

/// <summary>The faults of all jobs, over HTTP.</summary>
public sealed class FaultLogTests(Shop shop)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    /// <summary>A job with a fault that was found and mended.</summary>
    private static async Task<(long Job, long Run)> FoundAsync(Visitor visitor, string words, object fault)
    {
        var job = await visitor.JobWithLoomAsync(ImportTests.Small);
        var run = (await visitor.PostForAsync($"/api/jobs/{job}/runs", new { meterId = 1, isolation = "neighbours", carryOver = false })).GetProperty("id").GetInt64();
        await visitor.TakeAsync(run, Sent.New(1, 1.2));
        await visitor.PostForAsync($"/api/runs/{run}/faults", new { key = Guid.CreateVersion7(), step = 1, seen = $"{words} seen" });
        await visitor.PostForAsync($"/api/runs/{run}/faults/1/cause", new { key = Guid.CreateVersion7(), faults = new[] { fault }, words = $"{words} found" });
        await visitor.PostForAsync($"/api/runs/{run}/faults/1/fix", new { key = Guid.CreateVersion7(), did = "re-crimp", places = new[] { "W1", "A:1" }, minutes = 7.5, parts = "one contact", note = $"{words} done" });
        return (job, run);
    }

    [Fact]
    public async Task A_fault_is_found_again_by_what_was_seen_found_done_or_the_kind_and_by_nothing_else()
    {
        var visitor = await shop.TechnicianAsync();
        var words = $"quill{Guid.NewGuid():n}";
        var (job, _) = await FoundAsync(visitor, words, new { kind = "resistive", wire = "W1", end = "from", ohm = 1.16 });
        async Task<JsonElement> FindAsync(string query) => (await visitor.ReadAsync($"/api/faults?{query}")).GetProperty("lines");
        foreach (var query in new[] { $"words={words}", $"words={words} seen", $"words={words} FOUND", $"words={words} done", $"words={words}&kind=resistive" })
        {
            var line = (await FindAsync(query)).EnumerateArray().ShouldHaveSingleItem();
            line.GetProperty("job").GetInt64().ShouldBe(job);
            line.GetProperty("state").GetString().ShouldBe("fixed");
            line.GetProperty("kinds")[0].GetString().ShouldBe("resistive");
            line.GetProperty("minutes").GetDouble().ShouldBe(7.5);
            line.GetProperty("place").GetString().ShouldBe("A");
        }

        (await FindAsync($"words={words}&kind=swap")).GetArrayLength().ShouldBe(0);
        (await FindAsync($"words={words}%25")).GetArrayLength().ShouldBe(0, "a per cent sign is a per cent sign");
        (await FindAsync($"words={words}_")).GetArrayLength().ShouldBe(0);
        (await FindAsync("words=' or 1=1 --")).GetArrayLength().ShouldBe(0);
    }

    [Fact]
    public async Task Pages_follow_each_other_without_a_gap_and_the_report_counts_all()
    {
        var visitor = await shop.TechnicianAsync();
        var before = (await visitor.ReadAsync("/api/faults/report")).GetProperty("count").GetInt32();
        var words = $"page{Guid.NewGuid():n}";
        var (_, run) = await FoundAsync(visitor, words, new { kind = "open", wire = "W1" });
        for (var i = 0; i < 54; i++)
        {
            await visitor.TakeAsync(run, Sent.New(1, 1.2));
            await visitor.PostForAsync($"/api/runs/{run}/faults", new { key = Guid.CreateVersion7(), step = 1, seen = $"{words} {i}" });
        }

        var first = await visitor.ReadAsync($"/api/faults?words={words}");
        var second = await visitor.ReadAsync($"/api/faults?words={words}&before={first.GetProperty("before").GetGuid()}");
        second.GetProperty("before").ValueKind.ShouldBe(JsonValueKind.Null);
        first.GetProperty("lines").EnumerateArray().Concat(second.GetProperty("lines").EnumerateArray()).Select(l => l.GetProperty("key").GetGuid()).Distinct().Count().ShouldBe(55);
        var report = await visitor.ReadAsync("/api/faults/report");
        report.GetProperty("count").GetInt32().ShouldBeGreaterThanOrEqualTo(before + 55);
        report.GetProperty("families").EnumerateArray().ShouldContain(f => f.GetProperty("name").GetString() == "three");
        (await shop.Services.GetRequiredService<FaultLogStore>().TallyAsync(Cancel)).Of("open").ShouldBeGreaterThanOrEqualTo(1);
    }

    [Theory]
    [InlineData("kind=soup", "/kind")]
    [InlineData("words=WIDE", "/words")]
    public async Task What_cannot_be_searched_for_is_refused(string query, string at)
    {
        var answer = await (await shop.TechnicianAsync()).GetAsync($"/api/faults?{query.Replace("WIDE", new string('x', 201), StringComparison.Ordinal)}");
        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await Problems.OfAsync(answer)).ShouldContain(p => p.At == at);
    }
}
