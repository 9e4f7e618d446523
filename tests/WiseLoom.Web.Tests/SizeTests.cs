using System.Net;
using System.Text;
using System.Text.Json.Nodes;

namespace WiseLoom.Web.Tests;

/// <summary>Looms that are larger than what is worked out while somebody waits are kept and shown, and what is not done is said in words.</summary>
public sealed class SizeTests(Shop shop)
{
    /// <summary>A loom of so many wires, all in one net where a splice is given.</summary>
    private static byte[] Loom(int wires, bool oneNet)
    {
        var ends = Enumerable.Range(0, wires).Select(i => (From: $"C{i / 40}:{(i % 40) + 1}", To: oneNet ? "S1" : $"D{i / 40}:{(i % 40) + 1}"));
        var plugs = Enumerable.Range(0, ((wires - 1) / 40) + 1).SelectMany(i => oneNet ? new[] { $"C{i}" } : [$"C{i}", $"D{i}"]);
        return Encoding.UTF8.GetBytes(new JsonObject
        {
            ["format"] = "wise-loom/loom",
            ["version"] = 1,
            ["loom"] = new JsonObject { ["name"] = "Large", ["revision"] = "A" },
            ["families"] = new JsonArray(new JsonObject { ["id"] = "f", ["rows"] = new JsonArray(new JsonArray([.. Enumerable.Range(1, 40).Select(i => (JsonNode)$"{i}")])) }),
            ["connectors"] = new JsonArray([.. plugs.Select(r => (JsonNode)new JsonObject { ["ref"] = r, ["family"] = "f" })]),
            ["splices"] = oneNet ? new JsonArray(new JsonObject { ["ref"] = "S1", ["kind"] = "crimp" }) : [],
            ["wires"] = new JsonArray([.. ends.Select((e, i) => (JsonNode)new JsonObject { ["id"] = $"W{i}", ["from"] = e.From, ["to"] = e.To, ["mm2"] = 0.5, ["lengthMm"] = 900 })]),
        }.ToJsonString());
    }

    private static async Task SaysAsync(HttpResponseMessage answer, string words)
    {
        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await answer.Content.ReadAsStringAsync(TestContext.Current.CancellationToken)).ShouldContain(words);
    }

    [Fact]
    public async Task What_is_not_worked_out_for_a_large_loom_is_said_and_the_rest_is_done()
    {
        var technician = await shop.TechnicianAsync();
        var job = await technician.JobWithLoomAsync(Loom(12_400, oneNet: false));
        var revision = (await technician.ReadAsync($"/api/jobs/{job}")).GetProperty("revisionId").GetInt64();
        await SaysAsync(await technician.GetAsync($"/api/revisions/{revision}/state?key=on"), "This loom has 12,400 wires; this is worked out for looms of up to 12,000.");
        await SaysAsync(await technician.GetAsync($"/api/revisions/{revision}/explanation?point=C0:1&key=on"), "up to 12,000");
        await SaysAsync(await technician.GetAsync($"/api/revisions/{revision}/cable"), "up to 6,000");
        await SaysAsync(await technician.GetAsync($"/api/revisions/{revision}/one-end"), "up to 6,000");

        (await technician.ReadAsync($"/api/revisions/{revision}/loom")).GetProperty("wires").GetArrayLength().ShouldBe(12_400);
        var compared = await technician.ReadAsync($"/api/compare?left=revision-{revision}&right=revision-{revision}&kinds=same");
        (compared.GetProperty("lines").GetArrayLength(), compared.GetProperty("moreLines").GetInt32()).ShouldBe((500, 24_300));
        compared.GetProperty("counts").EnumerateArray().Single().GetProperty("count").GetInt32().ShouldBe(24_800);
        (await technician.ReadAsync($"/api/compare?left=revision-{revision}&right=revision-{revision}&kinds=moved&kinds=only-left")).GetProperty("lines").GetArrayLength().ShouldBe(0);
        (await technician.ReadAsync($"/api/compare?left=revision-{revision}&right=revision-{revision}&find=C7:1+")).GetProperty("lines").GetArrayLength().ShouldBe(1);
    }

    [Fact]
    public async Task A_net_that_is_too_large_to_be_measured_is_named_and_no_run_begins()
    {
        var technician = await shop.TechnicianAsync();
        var job = await technician.JobWithLoomAsync(Loom(4100, oneNet: true));
        await SaysAsync(await technician.GetAsync($"/api/jobs/{job}/plan?meterId=1&isolation=neighbours"), "Wires join 4,101 places of this loom into one net");
        await SaysAsync(await technician.PostAsync($"/api/jobs/{job}/runs", new { meterId = 1, isolation = "neighbours", carryOver = false }), "C0:1 among them");
        (await technician.ReadAsync($"/api/jobs/{job}/bench")).GetProperty("run").ValueKind.ShouldBe(System.Text.Json.JsonValueKind.Null);
    }

    [Fact]
    public async Task A_draft_or_a_file_of_entries_without_end_is_refused_in_few_words()
    {
        var technician = await shop.TechnicianAsync();
        var job = await technician.JobWithLoomAsync(ImportTests.Small);
        var endless = Encoding.UTF8.GetBytes($"{{\"wires\":[{string.Join(',', Enumerable.Repeat("{}", 60_000))}]}}");
        var draft = await technician.PostForAsync($"/api/jobs/{job}/draft", new { fromRevision = (long?)null, document = (object?)null });
        var id = draft.GetProperty("id").GetInt64();
        await SaysAsync(await technician.SendAsync(HttpMethod.Put, $"/api/drafts/{id}", new ByteArrayContent(endless) { Headers = { ContentType = new("application/json") } }, "\"1\""), "A list has more than 50,000 entries");
        var both = new ByteArrayContent([.. "{\"start\":"u8, .. endless, .. ",\"mine\":"u8, .. endless, .. "}"u8]) { Headers = { ContentType = new("application/json") } };
        await SaysAsync(await technician.SendAsync(HttpMethod.Post, $"/api/drafts/{id}/reconcile", both), "\"at\":\"/start\"");

        var preview = await technician.SendAsync(HttpMethod.Post, $"/api/jobs/{job}/import?name=a.json", new ByteArrayContent(endless) { Headers = { ContentType = new("application/octet-stream") } });
        (await preview.Content.ReadAsByteArrayAsync(TestContext.Current.CancellationToken)).Length.ShouldBeLessThan(2000);
        (await technician.ReadAsync($"/api/jobs/{job}/draft")).GetProperty("open").GetProperty("version").GetInt32().ShouldBe(1);
    }
}
