using System.Net;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace WiseLoom.Web.Tests;

/// <summary>The shop's limits over HTTP: read by all, changed by a lead, kept by the runs that were started with them. In a shop of its own.</summary>
public sealed class LimitTests : IAsyncLifetime
{
    private readonly Shop shop = new();

    public ValueTask InitializeAsync() => shop.InitializeAsync();

    public ValueTask DisposeAsync() => shop.DisposeAsync();

    private static async Task<JsonObject> LimitsAsync(Visitor visitor) =>
        JsonNode.Parse((await visitor.ReadAsync("/api/limits")).GetProperty("limits").GetRawText())!.AsObject();

    [Fact]
    public async Task A_lead_changes_them_a_run_keeps_its_own_and_the_second_of_two_is_told()
    {
        var (lead, technician) = (await shop.LeadAsync(), await shop.TechnicianAsync());
        var job = await technician.JobWithLoomAsync(ImportTests.Small);
        async Task<string?> FirstLimitsAsync(bool start, long? run = null) =>
            (start ? await technician.StartRunAsync(job, new { meterId = 1, isolation = "neighbours", carryOver = false, setAside = run }) : (await technician.ReadAsync($"/api/jobs/{job}/bench")).GetProperty("run"))
                .GetProperty("steps")[0].GetProperty("limitsText").GetString();
        var before = await FirstLimitsAsync(start: true);

        var limits = await LimitsAsync(technician);
        var first = (await technician.ReadAsync("/api/limits")).GetProperty("version").GetInt32();
        var (asked, next) = ($"\"{first}\"", $"\"{first + 1}\"");
        limits["copper"]!["lengthMm"] = 100;
        limits["cable"]!["feedDrop"] = 0.025;
        (await technician.PutAsync("/api/limits", limits, asked)).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        (await lead.PutAsync("/api/limits", limits)).StatusCode.ShouldBe(HttpStatusCode.PreconditionRequired);
        var stored = await lead.PutAsync("/api/limits", limits, asked);
        stored.StatusCode.ShouldBe(HttpStatusCode.OK);
        stored.Headers.ETag!.Tag.ShouldBe(next);

        (await FirstLimitsAsync(start: false)).ShouldBe(before);
        (await FirstLimitsAsync(start: true, (await technician.ReadAsync($"/api/jobs/{job}")).GetProperty("runId").GetInt64())).ShouldNotBe(before);
        var revision = (await technician.ReadAsync($"/api/jobs/{job}")).GetProperty("revisionId").GetInt64();
        (await technician.ReadAsync($"/api/revisions/{revision}/cable")).GetProperty("limits").GetString()!.ShouldStartWith("A feed may lose 2.5% of the supply");

        var overtaken = await lead.PutAsync("/api/limits", limits, asked);
        overtaken.StatusCode.ShouldBe(HttpStatusCode.PreconditionFailed);
        var now = JsonDocument.Parse(await overtaken.Content.ReadAsStringAsync(TestContext.Current.CancellationToken)).RootElement.GetProperty("now");
        now.GetProperty("version").GetInt32().ShouldBe(first + 1);
        now.GetProperty("changedBy").GetString().ShouldBe("Ada Quill");

        limits["cable"]!["fuseLoad"] = 7;
        limits["cable"]!["table"]![0]!["amps"] = -1;
        limits["powerUp"]!["secondsDry"] = 1;
        limits["powerUp"]!["required"] = new JsonArray(7);
        limits["powerUp"]!["controllers"]![0]!["port"] = 0;
        (await Problems.OfAsync(await lead.PutAsync("/api/limits", limits, next))).Select(p => p.At).ShouldBe(["/cable/fuseLoad", "/cable/table/0/amps", "/powerUp/secondsDry", "/powerUp/required", "/powerUp/controllers/0/port"], ignoreOrder: true);
        (await technician.ReadAsync("/api/limits")).GetProperty("version").GetInt32().ShouldBe(first + 1);
    }
}
