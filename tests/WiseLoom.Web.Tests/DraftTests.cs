using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace WiseLoom.Web.Tests;

/// <summary>Drafts, revisions, import previews, exports, merges and carried proof, over HTTP.</summary>
public sealed class DraftTests(Shop shop)
{
    private static async Task<long> NewJobAsync(Visitor visitor) =>
        (await visitor.PostForAsync("/api/jobs", new { customer = "x", machine = "Fan", promised = (string?)null, assignedId = (string?)null, waitingFor = (string?)null })).GetProperty("id").GetInt64();

    private static async Task<JsonElement> OpenAsync(Visitor visitor, long job, JsonNode? document = null) =>
        await visitor.PostForAsync($"/api/jobs/{job}/draft", new { fromRevision = (long?)null, document });

    private static JsonObject Document(JsonElement draft) => JsonNode.Parse(draft.GetProperty("document").GetRawText())!.AsObject();

    private static Task<HttpResponseMessage> WriteAsync(Visitor visitor, JsonElement draft, JsonNode document, int version) =>
        visitor.SendAsync(HttpMethod.Put, $"/api/drafts/{draft.GetProperty("id").GetInt64()}", JsonContent.Create(document), $"\"{version}\"");

    private static Task<HttpResponseMessage> ReleaseAsync(Visitor visitor, long draft, int version, long after) =>
        visitor.SendAsync(HttpMethod.Post, $"/api/drafts/{draft}/release?after={after}", null, $"\"{version}\"");

    private static async Task<long> NewestAsync(Visitor visitor, long job) => (await visitor.ReadAsync($"/api/jobs/{job}/draft")).GetProperty("newest").GetInt64();

    [Fact]
    public async Task A_draft_is_kept_with_its_problems_and_released_only_without()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(ImportTests.Small);
        var draft = await OpenAsync(visitor, job);
        var document = Document(draft);
        document["loom"]!["revision"]!.GetValue<string>().ShouldBe("B");
        document["wires"]![0]!["lengthMm"] = "long";
        var stored = await Visitor.BodyAsync(await WriteAsync(visitor, draft, document, 1), "write");
        stored.GetProperty("problems")[0].GetProperty("at").GetString().ShouldBe("/wires/0/lengthMm");
        var id = draft.GetProperty("id").GetInt64();
        (await ReleaseAsync(visitor, id, 2, await NewestAsync(visitor, job))).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await visitor.ReadAsync($"/api/drafts/{id}/stem")).GetProperty("stem").GetProperty("tags").GetArrayLength().ShouldBe(2);
        (await visitor.ReadAsync($"/api/drafts/{id}/plugs?of=B,NOBODY"))[0].GetProperty("ref").GetString().ShouldBe("B");

        document["wires"]![0]!["lengthMm"] = 1234;
        (await WriteAsync(visitor, draft, document, 2)).EnsureSuccessStatusCode();
        (await ReleaseAsync(visitor, id, 2, await NewestAsync(visitor, job))).StatusCode.ShouldBe(HttpStatusCode.PreconditionFailed);
        (await ReleaseAsync(visitor, id, 3, await NewestAsync(visitor, job))).EnsureSuccessStatusCode();
        var revisions = (await visitor.ReadAsync($"/api/jobs/{job}/revisions")).EnumerateArray().ToList();
        revisions.ConvertAll(r => (r.GetProperty("revision").GetString(), r.GetProperty("state").GetString())).ShouldBe([("B", "released"), ("A", "superseded")]);
        var changes = await visitor.ReadAsync($"/api/revisions/{revisions[0].GetProperty("id").GetInt64()}/changes?since={revisions[1].GetProperty("id").GetInt64()}");
        changes.GetProperty("changes").EnumerateArray().Select(c => c.GetProperty("sentence").GetString()).ShouldBe(["Wire W1: length (mm) 1000 → 1234.", "Loom: revision A → B."]);
        (await WriteAsync(visitor, draft, document, 3)).StatusCode.ShouldBe(HttpStatusCode.Conflict);
    }

    [Fact]
    public async Task A_revision_that_came_in_while_a_draft_was_open_is_not_passed_over_in_silence()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(ImportTests.Small);
        var id = (await OpenAsync(visitor, job)).GetProperty("id").GetInt64();
        var before = await NewestAsync(visitor, job);
        (await visitor.ImportAsync(job, ImportTests.Small, "X")).EnsureSuccessStatusCode();
        var late = await ReleaseAsync(visitor, id, 1, before);
        late.StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await late.Content.ReadAsStringAsync(TestContext.Current.CancellationToken)).ShouldContain("Revision X of this job came in since you looked");
        (await visitor.ReadAsync($"/api/jobs/{job}")).GetProperty("revision").GetString().ShouldBe("X");
        (await ReleaseAsync(visitor, id, 1, await NewestAsync(visitor, job))).EnsureSuccessStatusCode();
        (await visitor.ReadAsync($"/api/jobs/{job}")).GetProperty("revision").GetString().ShouldBe("B");
    }

    [Fact]
    public async Task A_file_and_a_draft_that_become_the_newest_revision_at_once_do_so_one_after_the_other()
    {
        var visitor = await shop.TechnicianAsync();
        for (var round = 0; round < 10; round++)
        {
            var job = await visitor.JobWithLoomAsync(ImportTests.Small);
            var id = (await OpenAsync(visitor, job)).GetProperty("id").GetInt64();
            var before = await NewestAsync(visitor, job);
            var answers = await Task.WhenAll(ReleaseAsync(visitor, id, 1, before), visitor.ImportAfterAsync(job, before, ImportTests.Small, "X"), ReleaseAsync(visitor, id, 1, before));
            answers.Count(a => a.IsSuccessStatusCode).ShouldBe(1);
            (await visitor.ReadAsync($"/api/jobs/{job}/revisions")).GetArrayLength().ShouldBe(2);
        }
    }

    [Fact]
    public async Task The_second_of_two_writers_is_refused_and_gets_both_sides()
    {
        var visitor = await shop.TechnicianAsync();
        var draft = await OpenAsync(visitor, await visitor.JobWithLoomAsync(ImportTests.Small));
        var (start, theirs, mine) = (Document(draft), Document(draft), Document(draft));
        theirs["wires"]![0]!["colour"] = "RD";
        mine["wires"]![1]!["colour"] = "BU";
        (await WriteAsync(visitor, draft, theirs, 1)).EnsureSuccessStatusCode();
        (await WriteAsync(visitor, draft, mine, 1)).StatusCode.ShouldBe(HttpStatusCode.PreconditionFailed);
        (await visitor.SendAsync(HttpMethod.Put, $"/api/drafts/{draft.GetProperty("id").GetInt64()}", JsonContent.Create(mine))).StatusCode.ShouldBe(HttpStatusCode.PreconditionRequired);

        var both = await visitor.PostForAsync($"/api/drafts/{draft.GetProperty("id").GetInt64()}/reconcile", new { start, mine });
        var together = both.GetProperty("together").GetProperty("wires");
        (together[0].GetProperty("colour").GetString(), together[1].GetProperty("colour").GetString()).ShouldBe(("RD", "BU"));
        both.GetProperty("clashes").GetArrayLength().ShouldBe(0);
    }

    [Fact]
    public async Task A_changed_row_alone_is_enough_and_a_row_that_is_not_there_is_refused()
    {
        var visitor = await shop.TechnicianAsync();
        var draft = await OpenAsync(visitor, await visitor.JobWithLoomAsync(ImportTests.Small));
        var path = $"/api/drafts/{draft.GetProperty("id").GetInt64()}";
        Task<HttpResponseMessage> EditAsync(int index, string colour, int version) => visitor.SendAsync(
            HttpMethod.Patch, path, JsonContent.Create(new { rows = new[] { new { list = "wires", index, row = new { id = "W1", from = "A:1", to = "B:1", mm2 = 0.5, lengthMm = 1000, colour } } } }), $"\"{version}\"");

        (await Visitor.BodyAsync(await EditAsync(0, "RD", 1), "edit")).GetProperty("problems").GetArrayLength().ShouldBe(0);
        (await Visitor.BodyAsync(await EditAsync(0, "PUCE", 2), "edit")).GetProperty("problems")[0].GetProperty("at").GetString().ShouldBe("/wires/0/colour");
        (await EditAsync(0, "BU", 2)).StatusCode.ShouldBe(HttpStatusCode.PreconditionFailed);
        (await Problems.OfAsync(await EditAsync(7, "BU", 3))).ShouldHaveSingleItem().At.ShouldBe("/rows");
        var now = (await visitor.ReadAsync($"/api/jobs/{draft.GetProperty("jobId").GetInt64()}/draft")).GetProperty("open");
        Document(now)["wires"]![0]!["colour"]!.GetValue<string>().ShouldBe("PUCE");
        Document(now)["loom"]!["owner"]!.GetValue<string>().ShouldBe("kept as it is");
    }

    [Fact]
    public async Task A_job_has_one_open_draft_and_one_put_away_comes_back_as_it_was()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await NewJobAsync(visitor);
        var draft = await OpenAsync(visitor, job);
        var id = draft.GetProperty("id").GetInt64();
        (await visitor.PostAsync($"/api/jobs/{job}/draft", new { fromRevision = (long?)null, document = (object?)null })).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await Problems.OfAsync(await ReleaseAsync(visitor, id, 1, await NewestAsync(visitor, job)))).ShouldHaveSingleItem().At.ShouldBe("/wires");
        (await visitor.DeleteAsync($"/api/drafts/{id}")).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await visitor.DeleteAsync($"/api/drafts/{id}")).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await visitor.ReadAsync($"/api/jobs/{job}/draft")).GetProperty("putAway").GetInt64().ShouldBe(id);
        (await visitor.PostAsync($"/api/drafts/{id}/reopen", new { })).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await visitor.ReadAsync($"/api/jobs/{job}/draft")).GetProperty("open").GetProperty("id").GetInt64().ShouldBe(id);
        (await visitor.PostAsync($"/api/jobs/{job}/draft", new { fromRevision = 1L, document = (object?)null })).StatusCode.ShouldBe(HttpStatusCode.NotFound, "a revision of another job");
    }

    [Theory]
    [InlineData("")]
    [InlineData("[]")]
    [InlineData("{ \"wires\": [")]
    [InlineData("{ \"a\": 1, \"a\": 2 }")]
    [InlineData("{ \"a\": \"\\ud800\" }")]
    public async Task What_could_not_be_kept_is_refused_and_the_draft_stays(string body)
    {
        var visitor = await shop.TechnicianAsync();
        var draft = await OpenAsync(visitor, await NewJobAsync(visitor));
        using var content = new StringContent(body, Encoding.UTF8, "application/json");
        (await visitor.SendAsync(HttpMethod.Put, $"/api/drafts/{draft.GetProperty("id").GetInt64()}", content, "\"1\"")).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
    }

    private static Task<HttpResponseMessage> LookAsync(Visitor visitor, long job, string name, byte[] file) =>
        visitor.SendFileAsync($"/api/jobs/{job}/import?name={name}", file);

    [Fact]
    public async Task Looking_at_a_file_says_what_would_change_and_stores_nothing()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(ImportTests.Small);
        var preview = await Visitor.BodyAsync(await LookAsync(visitor, job, "wires.csv", "wire,from,to,mm2,length_mm\nW1,A:1,B:1,0.5,1000\nW3,A:3,B:3,0.5,900\n"u8.ToArray()), "preview");
        preview.GetProperty("changes").EnumerateArray().Select(c => c.GetProperty("sentence").GetString()).ShouldBe(["Wire W2 is gone: A:2 to B:2.", "Wire W3 is new: A:3 to B:3."]);
        (await visitor.ReadAsync($"/api/jobs/{job}/revisions")).GetArrayLength().ShouldBe(1);
        var bad = await Visitor.BodyAsync(await LookAsync(visitor, job, "wires.csv", "wire,from,to,mm2,length_mm\nW1,A:1,B:9,0.5,1000\n"u8.ToArray()), "preview");
        bad.GetProperty("problems")[0].GetProperty("at").GetString().ShouldBe("wires.csv row 2, column to");
        (await LookAsync(visitor, job, "big.csv", new byte[9 * 1024 * 1024])).StatusCode.ShouldBe(HttpStatusCode.RequestEntityTooLarge);
        (await LookAsync(visitor, 999999, "x.csv", [1])).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Theory]
    [InlineData("tables.xlsx", "loom.xlsx")]
    [InlineData("tables.zip", "loom.zip")]
    [InlineData("file", "loom.json")]
    public async Task What_goes_out_comes_in_again_without_a_change(string address, string name)
    {
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(ImportTests.Small);
        var revision = (await visitor.ReadAsync($"/api/jobs/{job}")).GetProperty("revisionId").GetInt64();
        var file = await (await visitor.GetAsync($"/api/revisions/{revision}/{address}")).Content.ReadAsByteArrayAsync(TestContext.Current.CancellationToken);
        var preview = await Visitor.BodyAsync(await LookAsync(visitor, job, name, file), "preview");
        preview.GetProperty("problems").GetArrayLength().ShouldBe(0);
        preview.GetProperty("changes").GetArrayLength().ShouldBe(0);
    }

    [Theory]
    [InlineData("/api/revisions/1/stem.svg", "<svg xmlns")]
    [InlineData("/api/revisions/1/faces/ECU-A.svg?side=wire", "wire side")]
    [InlineData("/api/runs/1/readings.csv", "step,kind,black,red")]
    [InlineData("/api/runs/1/faults.csv", "fault,step,seen")]
    [InlineData("/api/sheets/1/lines.csv", "connector,cavity,function")]
    public async Task Drawings_and_records_go_out_as_ordinary_files(string path, string holds)
    {
        var answer = await (await shop.TechnicianAsync()).GetAsync(path);
        answer.EnsureSuccessStatusCode();
        answer.Content.Headers.ContentDisposition!.DispositionType.ShouldBe("attachment");
        (await answer.Content.ReadAsStringAsync(TestContext.Current.CancellationToken)).ShouldContain(holds);
    }

    [Theory]
    [InlineData("/api/revisions/999999/tables.xlsx")]
    [InlineData("/api/revisions/999999/stem.svg")]
    [InlineData("/api/revisions/1/faces/NOBODY.svg")]
    [InlineData("/api/runs/999999/readings.csv")]
    [InlineData("/api/revisions/1/changes?since=999999")]
    [InlineData("/api/drafts/999999/stem")]
    [InlineData("/api/merges/999999")]
    public async Task What_is_not_there_is_said_so(string path) => (await (await shop.TechnicianAsync()).GetAsync(path)).StatusCode.ShouldBe(HttpStatusCode.NotFound);

    [Fact]
    public async Task A_merge_is_decided_by_one_at_a_time_and_becomes_a_draft_with_its_work()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(await File.ReadAllBytesAsync(Path.Combine(Shop.DemoFolder, "frost-fan.json"), TestContext.Current.CancellationToken));
        var revision = (await visitor.ReadAsync($"/api/jobs/{job}")).GetProperty("revisionId").GetInt64();
        var merge = await visitor.PostForAsync("/api/merges", new { title = "New controller", jobId = job, left = $"revision-{revision}:ECU-A,ECU-B", right = "sheet-2" });
        var path = $"/api/merges/{merge.GetProperty("id").GetInt64()}";
        var sure = merge.GetProperty("proposals").EnumerateArray().Where(p => p.GetProperty("trust").GetString() == "sure").Select(p => new { left = p.GetProperty("place").GetString(), right = p.GetProperty("proposed").GetString() }).ToList();
        sure.Count.ShouldBeGreaterThan(20);
        object Decisions(object pairs) => new { pairs, apart = Array.Empty<object>(), left = Array.Empty<object>(), right = Array.Empty<object>(), usualMm = 900 };

        (await visitor.PutAsync($"{path}/decisions", Decisions(sure), "\"1\"")).EnsureSuccessStatusCode();
        (await visitor.PutAsync($"{path}/decisions", Decisions(sure), "\"1\"")).StatusCode.ShouldBe(HttpStatusCode.PreconditionFailed);
        (await Problems.OfAsync(await visitor.PutAsync($"{path}/decisions", Decisions(new[] { new { left = "ECU-A:1", right = "Q:1" } }), "\"2\""))).ShouldHaveSingleItem().At.ShouldBe("/pairs/0");
        (await visitor.PutAsync($"{path}/decisions", Decisions(new[] { new { left = "nonsense", right = "Q:1" } }), "\"2\"")).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);

        var made = await visitor.PostForAsync($"{path}/make", new { });
        made.GetProperty("work").EnumerateArray().Count(w => w.GetProperty("half").GetString() == "like-to-like").ShouldBe(sure.Count);
        (await visitor.PostAsync($"{path}/make", new { })).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        var draft = (await visitor.ReadAsync($"/api/jobs/{job}/draft")).GetProperty("open");
        draft.GetProperty("problems").GetArrayLength().ShouldBe(0);
        draft.GetProperty("document").GetProperty("loom").GetProperty("revision").GetString().ShouldBe("D");

        var item = made.GetProperty("work")[0].GetProperty("key").GetString();
        var ticked = await visitor.PostForAsync($"{path}/ticks", new { key = Guid.CreateVersion7(), item, done = true });
        ticked.GetProperty("work")[0].GetProperty("by").GetString().ShouldBe("Mira Solstad");
        (await Problems.OfAsync(await visitor.PostAsync($"{path}/ticks", new { key = Guid.CreateVersion7(), item = "nothing", done = true }))).ShouldHaveSingleItem().At.ShouldBe("/item");
        (await Problems.OfAsync(await visitor.PostAsync("/api/merges", new { title = "", jobId = 999999, left = "sheet-99", right = "x" }))).Select(p => p.At).ShouldBe(["/title", "/jobId", "/left", "/right"]);
    }

    [Fact]
    public async Task A_rework_carries_over_what_it_did_not_touch_and_the_pack_would_say_so()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(ImportTests.Small);
        const long Typed = 3;
        (await visitor.ReadAsync($"/api/jobs/{job}/plan?meterId={Typed}&isolation=neighbours")).GetProperty("carry").ValueKind.ShouldBe(JsonValueKind.Null);
        var run = await visitor.StartRunAsync(job, new { meterId = Typed, isolation = "neighbours", carryOver = true });
        var steps = run.GetProperty("steps").EnumerateArray().ToList();
        var apart = steps.First(s => s.GetProperty("kind").GetString() == "apart").GetProperty("number").GetInt32();
        await visitor.TakeAsync(run.GetProperty("id").GetInt64(), Sent.New(apart, null));

        var changed = Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(ImportTests.Small).Replace("\"revision\": \"A\"", "\"revision\": \"B\"", StringComparison.Ordinal));
        (await visitor.ImportAsync(job, changed)).EnsureSuccessStatusCode();
        var carry = (await visitor.ReadAsync($"/api/jobs/{job}/plan?meterId={Typed}&isolation=neighbours")).GetProperty("carry");
        carry.GetProperty("steps").GetInt32().ShouldBe(1);
        carry.GetProperty("from").GetString().ShouldBe("revision A, measured with Hand meter, two leads");
        (await Problems.OfAsync(await visitor.GetAsync($"/api/jobs/{job}/plan?meterId={Typed}&isolation=guessed"))).ShouldHaveSingleItem().At.ShouldBe("/isolation");

        var next = await visitor.StartRunAsync(job, new { meterId = Typed, isolation = "neighbours", carryOver = true, setAside = run.GetProperty("id").GetInt64() });
        var step = next.GetProperty("steps").EnumerateArray().Last();
        step.GetProperty("kind").GetString().ShouldBe("apart", "what still holds stands behind what must be measured");
        step.GetProperty("standing").GetProperty("state").GetString().ShouldBe("pass");
        step.GetProperty("standing").GetProperty("carried").GetString().ShouldStartWith($"carried over from revision A, step {apart}: over range, Mira Solstad");
        (await visitor.ReadAsync($"/api/jobs/{job}/handover")).GetProperty("notProven").EnumerateArray().Select(n => n.GetString()).ShouldContain(n => n!.StartsWith("1 of the", StringComparison.Ordinal));
        var bare = await visitor.StartRunAsync(job, new { meterId = Typed, isolation = "neighbours", carryOver = false, setAside = next.GetProperty("id").GetInt64() });
        bare.GetProperty("steps")[apart - 1].GetProperty("standing").GetProperty("state").GetString().ShouldBe("not-tested");
    }

    [Fact]
    public async Task Rows_of_the_book_and_of_drafts_that_must_stay_can_be_neither_changed_nor_deleted()
    {
        await using var connection = new Npgsql.NpgsqlConnection(shop.Database);
        await connection.OpenAsync(TestContext.Current.CancellationToken);
        foreach (var sql in new[] { "delete from confirmations", "update confirmations set how = 'print'" })
        {
            await using var command = new Npgsql.NpgsqlCommand(sql, connection);
            (await Should.ThrowAsync<Npgsql.PostgresException>(() => command.ExecuteNonQueryAsync(TestContext.Current.CancellationToken))).MessageText.ShouldContain("append-only");
        }
    }
}
