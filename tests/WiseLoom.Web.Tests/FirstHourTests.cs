using System.Text;
using System.Text.Json;

namespace WiseLoom.Web.Tests;

/// <summary>The list of a new shop's first page: ticked by what is there, put away for good.</summary>
public sealed class FirstHourTests(OwnShop own) : IClassFixture<OwnShop>
{
    private static IEnumerable<bool> Ticks(JsonElement hour) => hour.GetProperty("steps").EnumerateArray().Select(s => s.GetProperty("isDone").GetBoolean());

    [Fact]
    public async Task Each_line_is_ticked_by_what_is_there_and_the_list_is_put_away_for_good()
    {
        var lead = await own.Shop.LeadAsync();
        (await lead.ReadAsync("/api/first-hour")).GetProperty("shown").GetBoolean().ShouldBeFalse("the example shop has done all of it");
        await own.Shop.DoAsync("truncate packs, run_events, loom_revisions cascade");
        var hour = await lead.ReadAsync("/api/first-hour");
        hour.GetProperty("shown").GetBoolean().ShouldBeTrue();
        Ticks(hour).Skip(2).ShouldBe([false, false, false]);

        var job = (await lead.PostForAsync("/api/jobs", new { customer = "x", machine = "Pump cart", promised = (string?)null, assignedId = (string?)null, waitingFor = (string?)null })).GetProperty("id").GetInt64();
        var cable = await lead.PostForAsync($"/api/jobs/{job}/cable", new { name = "Lead", one = "A", other = "B", pins = 2, way = "straight", lengthMm = 900.0, mm2 = 0.5 });
        (await lead.ImportAsync(job, Encoding.UTF8.GetBytes(cable.GetProperty("document").GetRawText()))).EnsureSuccessStatusCode();
        hour = await lead.ReadAsync("/api/first-hour");
        Ticks(hour).Skip(2).ShouldBe([true, false, false]);
        hour.GetProperty("steps")[3].GetProperty("to").GetString().ShouldBe($"/jobs/{job}/bench");

        (await lead.PutAsync("/api/first-hour", new { putAway = false })).StatusCode.ShouldBe(System.Net.HttpStatusCode.UnprocessableEntity);
        (await lead.PutAsync("/api/first-hour", new { putAway = true })).EnsureSuccessStatusCode();
        (await (await own.Shop.TechnicianAsync()).PutAsync("/api/first-hour", new { putAway = true })).EnsureSuccessStatusCode();
        (await lead.ReadAsync("/api/first-hour")).GetProperty("shown").GetBoolean().ShouldBeFalse();
    }
}
