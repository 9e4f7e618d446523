using System.Net;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Practice;
using WiseLoom.Instruments;
using WiseLoom.Store;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Tests;

/// <summary>Failing readings gathered into cases, readings beside the plan, and the drawing that was wrong.</summary>
public sealed class CasesTests(Shop shop)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static readonly byte[] Launch = File.ReadAllBytes(Path.Combine(Shop.DemoFolder, "work-launch.json"));

    /// <summary>A run over a whole plan by a stand-in that hides something.</summary>
    private async Task<(Visitor Visitor, long Job, long Run)> MeasuredAsync(params Fault[] hidden)
    {
        var loom = LoomReader.Read(Launch).Loom!;
        var practice = new SimulatedBench(loom, Meter.BenchFourWire, hidden, 5);
        var listening = new TaskCompletionSource<int>();
        _ = new SimulatedMeter(loom, practice).ServeAsync(0, listening.SetResult, Cancel);
        var meterId = await shop.Services.GetRequiredService<MeterStore>().PutAsync($"Stand-in {Guid.NewGuid():n}", "bench-four-wire", "127.0.0.1", await listening.Task, Cancel);
        var visitor = await shop.PersonAsync($"cases-{Guid.NewGuid():n}", "technician");
        var job = await visitor.JobWithLoomAsync(Launch);
        var run = (await visitor.StartRunAsync(job, new { meterId, isolation = "neighbours", carryOver = false })).GetProperty("id").GetInt64();
        var steps = (await visitor.ReadAsync($"/api/jobs/{job}/bench")).GetProperty("run").GetProperty("steps").EnumerateArray().ToList();
        var fixture = steps.ConvertAll(s => (Number: s.GetProperty("number").GetInt32(), A: ProbePoint.Parse(s.GetProperty("black").GetString()!), B: s.GetProperty("red").GetString()));
        await visitor.TakeAsync(run, [.. fixture.Select(s => Sent.New(s.Number, practice.Measure(s.B is { } b ? [ProbePoint.Parse(b)] : Core.Planning.StepProbes.Against(loom, s.A), [s.A]).Ohms))]);
        return (visitor, job, run);
    }

    private static Task<JsonElement> LogAsync(Visitor visitor, long run, JsonElement of) =>
        visitor.PostForAsync($"/api/runs/{run}/faults", new { key = Guid.CreateVersion7(), step = of.GetProperty("steps")[0].GetProperty("step").GetInt32(), seen = "not as drawn" });

    private static object Kept(Guid key, object a, object? b, double? ohms, long seen = 0) =>
        new { key, a, b, ohms, overRange = ohms is null, fromMeter = true, takenAt = DateTimeOffset.UtcNow, seen };

    [Fact]
    public async Task Whoever_asks_of_a_run_at_the_same_moment_gets_the_same_work_and_one_who_leaves_spoils_it_for_nobody()
    {
        var (_, _, run) = await MeasuredAsync(new ResistiveFault("W64", 1.8, "to"));
        var open = (await shop.Services.GetRequiredService<RunLedger>().FindAsync(run, Cancel))!;
        using var cache = new DiagnosisCache(shop.Services.GetRequiredService<FaultLogStore>());
        using var leaves = new CancellationTokenSource();
        await leaves.CancelAsync();
        await Should.ThrowAsync<OperationCanceledException>(() => cache.OfAsync(run, open.Run, leaves.Token));
        var all = await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => Task.Run(() => cache.OfAsync(run, open.Run, Cancel), Cancel)));
        all.ShouldAllBe(d => ReferenceEquals(d, all[0]));
        all[0].Cases.ShouldHaveSingleItem().Causes[0].Faults[0].ShouldBeOfType<ResistiveFault>().Wire.ShouldBe("W64");
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    public async Task Readings_beside_the_plan_are_taken_and_kept_once_and_move_the_ranking_until_it_is_sure(int faults)
    {
        var (visitor, job, run) = await MeasuredAsync([.. new Fault[] { new MisplacedFault("PANEL", "8", "9"), new ResistiveFault("W64", 1.8, "to") }.Take(faults)]);
        var log = await visitor.ReadAsync($"/api/jobs/{job}/faults");
        log.GetProperty("cases").GetArrayLength().ShouldBe(faults);
        log.GetProperty("cases").EnumerateArray().ShouldAllBe(c => c.GetProperty("history").GetArrayLength() == 0);
        for (var taken = 0; ; taken++)
        {
            taken.ShouldBeLessThan(6);
            var own = (await visitor.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("cases").EnumerateArray().Single(c => c.GetProperty("causes")[0].GetProperty("places").EnumerateArray().Any(p => p.GetString()!.StartsWith("PANEL:8", StringComparison.Ordinal)));
            var next = own.GetProperty("next");
            if (next.ValueKind == JsonValueKind.Null)
            {
                own.GetProperty("causes")[0].GetProperty("faults")[0].GetProperty("kind").GetString().ShouldBe("misplaced");
                own.GetProperty("causes")[0].GetProperty("probability").GetDouble().ShouldBeGreaterThan(0.98);
                own.GetProperty("history").GetArrayLength().ShouldBe(taken + 1);
                var kept = (await visitor.ReadAsync($"/api/runs/{run}/record.json")).GetProperty("probes").EnumerateArray().ToList();
                kept.Count.ShouldBe(taken);
                kept.ShouldAllBe(p => p.GetProperty("counts").GetBoolean() && p.GetProperty("reading").GetString()!.Contains("PANEL", StringComparison.Ordinal));
                break;
            }

            var (a, b) = (new[] { next.GetProperty("a").GetString()! }, next.GetProperty("b").EnumerateArray().Select(p => p.GetString()!).ToArray());
            var shown = await visitor.PostForAsync($"/api/runs/{run}/probes/measure", new { a, b });
            double? ohms = shown.GetProperty("ohms").ValueKind == JsonValueKind.Null ? null : shown.GetProperty("ohms").GetDouble();
            var key = Guid.CreateVersion7();
            var last = (await visitor.PostForAsync($"/api/runs/{run}/probes", Kept(key, a, b, ohms))).GetProperty("lastEvent").GetInt64();
            (await visitor.PostForAsync($"/api/runs/{run}/probes", Kept(key, a, b, ohms))).GetProperty("lastEvent").GetInt64().ShouldBe(last, "sent twice, kept once");
            (await visitor.PostAsync($"/api/runs/{run}/probes", Kept(key, a, b, 77))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        }
    }

    [Fact]
    public async Task What_is_seen_with_power_on_is_kept_once_and_moves_the_ranking()
    {
        var (visitor, job, run) = await MeasuredAsync();
        var choices = await visitor.ReadAsync($"/api/runs/{run}/sightings/choices");
        choices.GetProperty("functions").EnumerateArray().Select(f => f.GetString()).ShouldContain("Injector 3 fires");
        choices.GetProperty("conditions").GetArrayLength().ShouldBeGreaterThan(3);
        choices.GetProperty("positions").EnumerateArray().Select(f => f.GetString()).ShouldBe(["off", "accessory", "on", "start", "running"]);
        var key = Guid.CreateVersion7();
        object Sent(Guid of, object what) => new { key = of, what, takenAt = DateTimeOffset.UtcNow, seen = 0 };
        object dead = new { kind = "function", key = "on", set = Array.Empty<string>(), without = Array.Empty<string>(), name = "Injector 3 fires", works = false };
        var last = (await visitor.PostForAsync($"/api/runs/{run}/sightings", Sent(key, dead))).GetProperty("lastEvent").GetInt64();
        (await visitor.PostForAsync($"/api/runs/{run}/sightings", Sent(key, dead))).GetProperty("lastEvent").GetInt64().ShouldBe(last, "sent twice, kept once");
        (await visitor.PostAsync($"/api/runs/{run}/sightings", Sent(key, new { kind = "device", device = "injector-3", ohm = 1.0 }))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        var only = (await visitor.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("cases").EnumerateArray().ShouldHaveSingleItem();
        only.GetProperty("seen")[0].GetString().ShouldBe("‘Injector 3 fires’ does not work (key on)");
        only.GetProperty("look").ValueKind.ShouldBe(JsonValueKind.Object);
        await visitor.PostForAsync($"/api/runs/{run}/sightings", Sent(Guid.CreateVersion7(), new { kind = "device", device = "injector-3", ohm = (double?)null }));
        var after = (await visitor.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("cases")[0].GetProperty("causes")[0];
        (after.GetProperty("faults")[0].GetProperty("kind").GetString(), after.GetProperty("probability").GetDouble() > 0.9).ShouldBe(("device", true));
        (await visitor.ReadAsync($"/api/runs/{run}/record.json")).GetProperty("probes").EnumerateArray().Select(p => p.GetProperty("reading").GetString()).ShouldContain("the device injector-3 by itself measures over range");
    }

    [Theory]
    [InlineData("""{"kind":"device","device":"nobody","ohm":1}""", "no device 'nobody'")]
    [InlineData("""{"kind":"volts","key":"on","set":[],"without":[],"at":"PANEL:99","volts":1}""", "no cavity PANEL:99")]
    [InlineData("""{"kind":"volts","key":"on","set":[],"without":[],"at":"PANEL:8","volts":900}""", "between -100 and 100")]
    [InlineData("""{"kind":"lamp","key":"on","set":["rain"],"without":[],"at":"PANEL:8","toSupply":false,"glow":"dim"}""", "'rain'")]
    [InlineData("""{"kind":"function","key":"on","set":[],"without":[],"name":"Tea is made","works":false}""", "no function 'Tea is made'")]
    [InlineData("""{"kind":"look","place":"PANEL:8","words":""}""", "1 to 200")]
    public async Task What_cannot_be_seen_of_this_loom_is_refused_with_what_would_be_right(string what, string words)
    {
        var (visitor, _, run) = await MeasuredAsync();
        var answer = await visitor.PostAsync($"/api/runs/{run}/sightings", new { key = Guid.CreateVersion7(), what = JsonSerializer.Deserialize<JsonElement>(what), takenAt = DateTimeOffset.UtcNow, seen = 0 });
        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await answer.Content.ReadAsStringAsync(Cancel)).ShouldContain(words);
    }

    [Theory]
    [InlineData("""{"a":["PANEL"],"b":["X1:22"]}""", "CONNECTOR:CAVITY")]
    [InlineData("""{"a":["PANEL:8"],"b":["X1"]}""", "CONNECTOR:CAVITY")]
    [InlineData("""{"a":["PANEL:99"],"b":null}""", "no cavity PANEL:99")]
    [InlineData("""{"a":[],"b":null}""", "1 to 400")]
    [InlineData("""{"a":["PANEL:8"],"b":[]}""", "1 to 400")]
    [InlineData("""{"a":["PANEL:8"],"b":["PANEL:8"]}""", "both probes")]
    public async Task What_no_probe_can_touch_is_refused_with_what_would_be_right(string sides, string words)
    {
        var (visitor, _, run) = await MeasuredAsync();
        var body = JsonSerializer.Deserialize<Dictionary<string, object?>>(sides)!;
        foreach (var path in new[] { "probes/measure", "probes" })
        {
            var answer = await visitor.PostAsync($"/api/runs/{run}/{path}", path == "probes" ? Kept(Guid.CreateVersion7(), body["a"]!, body["b"], 1) : body);
            answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
            (await answer.Content.ReadAsStringAsync(Cancel)).ShouldContain(words);
        }
    }

    [Fact]
    public async Task A_wiggled_pair_is_read_until_it_breaks_and_a_value_with_over_range_is_refused()
    {
        var (visitor, _, run) = await MeasuredAsync(new IntermittentFault("W64"));
        var wire = LoomReader.Read(Launch).Loom!.Wires.First(w => w.Id == "W64");
        (await visitor.PostForAsync($"/api/runs/{run}/probes/measure", new { a = new[] { wire.From.Text }, b = new[] { wire.To.Text }, moved = true })).GetProperty("overRange").GetBoolean().ShouldBeTrue();
        (await visitor.PostForAsync($"/api/runs/{run}/probes/measure", new { a = new[] { wire.From.Text }, b = new[] { wire.To.Text }, moved = false })).GetProperty("overRange").GetBoolean().ShouldBeFalse("the stand-in lies still again");
        var both = await visitor.PostAsync($"/api/runs/{run}/probes", new { key = Guid.CreateVersion7(), a = new[] { "PANEL:8" }, b = (string[]?)null, ohms = 1.0, overRange = true, fromMeter = false, takenAt = DateTimeOffset.UtcNow, seen = 0 });
        both.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
    }

    [Fact]
    public async Task The_drawing_that_was_wrong_becomes_a_revision_once_and_what_is_proven_is_carried_over()
    {
        var (visitor, job, run) = await MeasuredAsync(SwapFault.Of("ECU", "20", "21"));
        var own = (await visitor.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("cases")[0];
        var cause = own.GetProperty("causes")[0];
        cause.GetProperty("disputed").GetArrayLength().ShouldBe(2);
        await LogAsync(visitor, run, own);
        var correction = new { key = Guid.CreateVersion7(), faults = cause.GetProperty("faults") };

        // Two people press at once, and one of them twice: one revision.
        var answers = await Task.WhenAll(Enumerable.Range(0, 3).Select(_ => visitor.PostAsync($"/api/runs/{run}/faults/1/correct-drawing", correction)));
        answers.ShouldContain(a => a.StatusCode == HttpStatusCode.OK);
        answers.ShouldAllBe(a => a.StatusCode == HttpStatusCode.OK || a.StatusCode == HttpStatusCode.Conflict);
        var revisions = await visitor.ReadAsync($"/api/jobs/{job}/revisions");
        revisions.GetArrayLength().ShouldBe(2);
        var changes = await visitor.ReadAsync($"/api/revisions/{revisions[0].GetProperty("id").GetInt64()}/changes?since={revisions[1].GetProperty("id").GetInt64()}");
        changes.GetProperty("changes").EnumerateArray().Count(c => c.ToString().Contains("ECU:2", StringComparison.Ordinal)).ShouldBeGreaterThanOrEqualTo(2);
        (await shop.CountAsync("select count(*) from run_events where run_id = @run and body->>'kind' = 'fix' and body->'fix'->>'did' = 'drawing corrected'", run)).ShouldBe(1);
        var meter = await shop.CountAsync("select meter_id from runs where id = @run", run);
        var plan = await visitor.ReadAsync($"/api/jobs/{job}/plan?meterId={meter}&isolation=neighbours");
        plan.GetProperty("carry").GetProperty("steps").GetInt32().ShouldBeGreaterThan(100);
    }

    /// <summary>The server was killed after the revision was stored and before the log was: asking again finishes it.</summary>
    [Fact]
    public async Task A_correction_that_was_cut_off_is_finished_by_asking_again()
    {
        var (visitor, job, run) = await MeasuredAsync(SwapFault.Of("ECU", "20", "21"));
        var own = (await visitor.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("cases")[0];
        await LogAsync(visitor, run, own);
        var correction = new { key = Guid.CreateVersion7(), faults = own.GetProperty("causes")[0].GetProperty("faults") };
        var (store, drawn) = (shop.Services.GetRequiredService<LoomStore>(), LoomReader.Read(Launch).Loom!);
        var revision = (await visitor.ReadAsync($"/api/jobs/{job}")).GetProperty("revisionId").GetInt64();
        var document = LoomDocument.Parse(System.Text.Encoding.UTF8.GetBytes((await store.DocumentAsync(revision, Cancel))!))!;
        PaperAndMetal.Correct(document, drawn, new([SwapFault.Of("ECU", "20", "21")], 1, "", []), "B");
        var stored = (RevisionStored.As)await store.AddAsync(new(job, revision, LoomReader.Read(LoomDocument.Bytes(document)).Loom!, document.ToJsonString(), visitor.Person, revision), Cancel);

        (await visitor.PostForAsync($"/api/runs/{run}/faults/1/correct-drawing", correction)).GetProperty("revisionId").GetInt64().ShouldBe(stored.Id);
        (await visitor.ReadAsync($"/api/jobs/{job}/revisions")).GetArrayLength().ShouldBe(2);
        (await shop.CountAsync("select count(*) from run_events where run_id = @run and body->>'kind' = 'fix'", run)).ShouldBe(1);
    }

    [Fact]
    public async Task What_the_readings_do_not_say_and_what_is_no_matter_of_the_drawing_is_not_corrected()
    {
        var (visitor, job, run) = await MeasuredAsync(new ResistiveFault("W64", 1.8, "to"));
        var own = (await visitor.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("cases")[0];
        await LogAsync(visitor, run, own);
        var poor = await visitor.PostAsync($"/api/runs/{run}/faults/1/correct-drawing", new { key = Guid.CreateVersion7(), faults = own.GetProperty("causes")[0].GetProperty("faults") });
        poor.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        var other = await visitor.PostAsync($"/api/runs/{run}/faults/1/correct-drawing", new { key = Guid.CreateVersion7(), faults = new[] { new { kind = "missing", wire = "W1" } } });
        other.StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await visitor.PostAsync($"/api/runs/{run}/faults/9/correct-drawing", new { key = Guid.CreateVersion7(), faults = Array.Empty<object>() })).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await visitor.ReadAsync($"/api/jobs/{job}/revisions")).GetArrayLength().ShouldBe(1);
    }
}
