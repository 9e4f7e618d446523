using System.Net;
using System.Text.Json;

namespace WiseLoom.Web.Tests;

/// <summary>Two people on one run: each sees where the other stands, and they share the plan out by connectors.</summary>
public sealed class PeopleOnRunTests(Shop shop)
{
    private async Task<(Visitor Mira, Visitor Ada, long Job, long Run)> StartAsync()
    {
        var (mira, ada) = (await shop.TechnicianAsync(), await shop.LeadAsync());
        var job = await mira.JobWithLoomAsync(ImportTests.Small);
        return (mira, ada, job, (await mira.StartRunAsync(job, new { meterId = 1, isolation = "neighbours", carryOver = false })).GetProperty("id").GetInt64());
    }

    private static async Task<List<JsonElement>> PeopleAsync(Visitor visitor, long run) => [.. (await visitor.ReadAsync($"/api/runs/{run}/people")).EnumerateArray()];

    private static async Task<(int Mine, int Theirs)> WayAsync(Visitor visitor, long run)
    {
        var way = await visitor.ReadAsync($"/api/runs/{run}/way?from=0&turned=false");
        return (way.GetProperty("steps").GetArrayLength(), way.GetProperty("theirs").GetArrayLength());
    }

    [Fact]
    public async Task Each_sees_where_the_other_stands()
    {
        var (mira, ada, _, run) = await StartAsync();
        (await mira.PutAsync($"/api/runs/{run}/position", new { step = 2 })).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        var seen = (await PeopleAsync(ada, run)).ShouldHaveSingleItem();
        seen.GetProperty("name").GetString().ShouldBe("Mira Solstad");
        (seen.GetProperty("step").GetInt32(), seen.GetProperty("here").GetBoolean(), seen.GetProperty("isMe").GetBoolean()).ShouldBe((2, true, false));
        seen.GetProperty("black").GetString().ShouldNotBeNullOrEmpty();
        (await PeopleAsync(mira, run))[0].GetProperty("isMe").GetBoolean().ShouldBeTrue();

        await shop.DoAsync($"update run_positions set seen_at = now() - interval '2 minutes' where run_id = {run}");
        (await PeopleAsync(ada, run))[0].GetProperty("here").GetBoolean().ShouldBeFalse();
    }

    [Fact]
    public async Task A_step_elsewhere_is_told_at_once_and_the_same_step_again_is_not()
    {
        var (mira, ada, job, run) = await StartAsync();
        using var told = new StreamReader(await ada.OpenAsync($"/api/jobs/{job}/events"));
        async Task<JsonElement> NextAsync()
        {
            for (var line = await told.ReadLineAsync(TestContext.Current.CancellationToken); line is not null; line = await told.ReadLineAsync(TestContext.Current.CancellationToken))
            {
                if (line.StartsWith("data:", StringComparison.Ordinal))
                {
                    return JsonDocument.Parse(line[5..]).RootElement;
                }
            }

            throw new InvalidOperationException("The stream has ended.");
        }

        await NextAsync();
        await mira.PutAsync($"/api/runs/{run}/position", new { step = 2 });
        var first = await NextAsync();
        (first.GetProperty("run").GetInt64(), first.GetProperty("lastEvent").GetInt64(), first.GetProperty("people").GetBoolean()).ShouldBe((run, 0, true));
        await mira.PutAsync($"/api/runs/{run}/position", new { step = 2 });
        await mira.TakeAsync(run, Sent.New(1, 0.07));
        (await NextAsync()).GetProperty("people").GetBoolean().ShouldBeFalse();
    }

    [Fact]
    public async Task Connectors_that_one_took_leave_the_others_way_and_a_second_hand_on_one_is_told_whose_it_is()
    {
        var (mira, ada, _, run) = await StartAsync();
        var all = (await WayAsync(mira, run)).Mine;
        (await mira.PutAsync($"/api/runs/{run}/share", new { connectors = new[] { "A" } })).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await WayAsync(ada, run)).ShouldBe((0, all));
        (await WayAsync(mira, run)).ShouldBe((all, 0));

        var refused = await ada.PutAsync($"/api/runs/{run}/share", new { connectors = new[] { "A", "B" } });
        refused.StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await refused.Content.ReadAsStringAsync(TestContext.Current.CancellationToken)).ShouldContain("Mira Solstad has taken A");
        (await ada.PutAsync($"/api/runs/{run}/share", new { connectors = new[] { "A" }, over = true })).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await WayAsync(mira, run)).ShouldBe((0, all));
        (await ada.PutAsync($"/api/runs/{run}/share", new { connectors = Array.Empty<string>() })).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await WayAsync(mira, run)).ShouldBe((all, 0));
        (await ada.PutAsync($"/api/runs/{run}/share", new { connectors = new[] { "no such plug" } })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
    }

    [Fact]
    public async Task Of_two_who_take_the_same_at_once_one_has_it()
    {
        var (mira, ada, _, run) = await StartAsync();
        for (var round = 0; round < 10; round++)
        {
            var answers = await Task.WhenAll(mira.PutAsync($"/api/runs/{run}/share", new { connectors = new[] { "B" } }), ada.PutAsync($"/api/runs/{run}/share", new { connectors = new[] { "B" } }));
            answers.Select(a => a.StatusCode).Order().ShouldBe([HttpStatusCode.NoContent, HttpStatusCode.Conflict]);
            (await PeopleAsync(mira, run)).Sum(p => p.GetProperty("takes").GetArrayLength()).ShouldBe(1);
            await mira.PutAsync($"/api/runs/{run}/share", new { connectors = Array.Empty<string>() });
            await ada.PutAsync($"/api/runs/{run}/share", new { connectors = Array.Empty<string>() });
        }
    }
}
