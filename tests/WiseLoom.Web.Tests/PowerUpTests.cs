using System.Net;
using System.Text.Json;
using System.Text.Json.Nodes;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Practice;
using WiseLoom.Core.States;
using WiseLoom.Instruments;

namespace WiseLoom.Web.Tests;

/// <summary>A power-up over HTTP: what is fitted, answers once and in order, a controller that is asked, driven and cut off, faults and the gate.</summary>
public sealed class PowerUpTests(OwnShop own) : IClassFixture<OwnShop>
{
    private static readonly byte[] Fan = File.ReadAllBytes(Path.Combine(Shop.DemoFolder, "frost-fan.json"));

    private readonly Shop shop = own.Shop;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Begun_it_tells_its_stages_and_an_answer_sent_twice_is_kept_once()
    {
        var (mira, job, _) = await BenchedAsync();
        (await mira.ReadAsync($"/api/jobs/{job}/power-up")).GetProperty("begun").GetBoolean().ShouldBeFalse();
        (await mira.PostAsync($"/api/jobs/{job}/power-up/answers", Answer("short no-power", Measured(2000)))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        var view = await BeginAsync(mira, job);
        view.GetProperty("stages").GetArrayLength().ShouldBe(6);
        view.GetProperty("limitAmps").GetDouble().ShouldBe(0.5);

        var key = Guid.CreateVersion7();
        var first = await mira.PostForAsync($"/api/jobs/{job}/power-up/answers", Answer("short no-power", Measured(2000), key));
        first.GetProperty("passed").GetBoolean().ShouldBeTrue();
        var again = await mira.PostForAsync($"/api/jobs/{job}/power-up/answers", Answer("short no-power", Measured(2000), key));
        again.GetProperty("lastEvent").GetInt64().ShouldBe(first.GetProperty("lastEvent").GetInt64());
        (await mira.PostAsync($"/api/jobs/{job}/power-up/answers", Answer("short no-power", Measured(3), key))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await mira.ReadAsync($"/api/jobs/{job}/power-up")).GetProperty("stages")[0].GetProperty("passed").GetInt32().ShouldBe(1);
    }

    public static TheoryData<string, object?, string> Wrong => new()
    {
        { "short no-power", new { kind = "seen", outcome = "lights" }, "/answer" },
        { "short no-power", new { kind = "measured", value = -5 }, "/answer" },
        { "fuse fuse-a1", new { kind = "measured", value = 10 }, "/answer" },
        { "fuse fuse-a1", new { kind = "others", devices = new[] { "siren" } }, "/answer" },
        { "no such check", new { kind = "measured", value = 1 }, "/check" },
    };

    [Fact]
    public async Task What_cannot_be_an_answer_is_refused_with_its_place_and_nothing_is_kept()
    {
        var (mira, job, _) = await BenchedAsync();
        var before = (await BeginAsync(mira, job)).GetProperty("lastEvent").GetInt64();
        foreach (var row in Wrong)
        {
            var (check, answer, at) = row.Data;
            var refused = await mira.PostAsync($"/api/jobs/{job}/power-up/answers", Answer(check, answer));
            (await Problems.OfAsync(refused)).ShouldContain(p => p.At == at, check);
        }

        (await mira.PostAsync($"/api/jobs/{job}/power-up/answers", Answer("short no-power", null))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await mira.PostAsync($"/api/jobs/{job}/power-up/answers", Answer("short no-power", Measured(2000), cautionsSeen: false))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await mira.PostAsync($"/api/jobs/{job}/power-up", new { key = Guid.CreateVersion7(), school = "garage", fitted = new { } })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await mira.PostAsync($"/api/jobs/{job}/power-up", new { key = Guid.CreateVersion7(), school = "bench", fitted = new { horn = new { kind = "nothing" } } })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await mira.ReadAsync($"/api/jobs/{job}/power-up")).GetProperty("lastEvent").GetInt64().ShouldBe(before);
    }

    [Fact]
    public async Task Two_people_at_once_a_failure_stands_until_somebody_who_knows_of_it_sees_it_right()
    {
        var (mira, job, _) = await BenchedAsync();
        var tomas = await shop.PersonAsync("tomas-2", "technician");
        var last = (await BeginAsync(mira, job)).GetProperty("lastEvent").GetInt64();
        await mira.PostForAsync($"/api/jobs/{job}/power-up/answers", Answer("short no-power", Measured(3), seen: last));
        var late = await tomas.PostForAsync($"/api/jobs/{job}/power-up/answers", Answer("short no-power", Measured(2000), seen: last));
        late.GetProperty("counts").GetBoolean().ShouldBeFalse();
        late.GetProperty("standing").GetString().ShouldBe("failed");
        var knew = await tomas.PostForAsync($"/api/jobs/{job}/power-up/answers", Answer("short no-power", Measured(2000), seen: late.GetProperty("lastEvent").GetInt64()));
        knew.GetProperty("standing").GetString().ShouldBe("passed");
        (await (await shop.LookAsync()).PostAsync($"/api/jobs/{job}/power-up/answers", Answer("short no-power", Measured(2000)))).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
    }

    [Fact]
    public async Task A_stage_is_let_pass_by_a_lead_alone_and_proposed_as_not_done_by_anybody()
    {
        var (mira, job, _) = await BenchedAsync();
        await BeginAsync(mira, job);
        object Pass(bool notDone, int stage = 1) => new { key = Guid.CreateVersion7(), stage, notDone, reason = "the customer wants it so", word = "Mira" };
        (await mira.PostAsync($"/api/jobs/{job}/power-up/stages", Pass(false))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await mira.PostForAsync($"/api/jobs/{job}/power-up/stages", Pass(true, 3))).GetProperty("state").GetString().ShouldBe("locked");
        (await mira.PostForAsync($"/api/jobs/{job}/power-up/stages", Pass(true))).GetProperty("state").GetString().ShouldBe("open", "a proposal");
        (await mira.ReadAsync($"/api/jobs/{job}/power-up")).GetProperty("stages")[0].GetProperty("proposal").GetString()!.ShouldContain("A lead decides");
        (await (await shop.LeadAsync()).PostForAsync($"/api/jobs/{job}/power-up/stages", Pass(true))).GetProperty("state").GetString().ShouldBe("waived");
        (await (await shop.LeadAsync()).PostForAsync($"/api/jobs/{job}/power-up/stages", Pass(false, 2))).GetProperty("state").GetString().ShouldBe("waived");
        (await mira.ReadAsync($"/api/jobs/{job}/power-up")).GetProperty("stages")[0].GetProperty("pass").GetString()!.ShouldContain("by the word of Mira");
    }

    [Fact]
    public async Task What_the_shop_asks_for_holds_the_loom_from_the_first_step_on()
    {
        await ChangeTemplateAsync(t => t["required"] = new JsonArray(1, 2));
        var (mira, job, _) = await BenchedAsync();
        var holds = (await mira.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("holds").EnumerateArray().Select(h => h.GetProperty("kind").GetString());
        holds.ShouldContain("power-up");
        (await (await shop.LeadAsync()).PostAsync($"/api/jobs/{job}/packs", new { changes = "", seen = 1 })).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        // Saying what is fitted does not take it back.
        await ChangeTemplateAsync(t => t["required"] = new JsonArray());
        await BeginAsync(mira, job);
        (await mira.ReadAsync($"/api/jobs/{job}/power-up")).GetProperty("stages")[0].GetProperty("required").GetBoolean().ShouldBeTrue();
    }

    [Fact]
    public async Task A_controller_is_asked_for_a_check_and_what_it_says_is_judged_and_named()
    {
        var (name, _) = await EngineAsync(HiddenMachine.Nothing with { Settings = HiddenMachine.Nothing.Settings.Add("cylinders", Core.Devices.ControllerSetting.Of("cylinders", 6)) });
        var (mira, job, _) = await BenchedAsync();
        await BeginAsync(mira, job);
        await WaiveAsync(job, 4);
        var said = await mira.PostForAsync($"/api/jobs/{job}/power-up/answers", Answer("live ECU-B:10", null, controller: name));
        said.GetProperty("passed").GetBoolean().ShouldBeTrue();
        said.GetProperty("note").GetString()!.ShouldContain("Coolant temperature");
        var settings = await mira.PostForAsync($"/api/jobs/{job}/power-up/answers", Answer("settings controller", null, controller: name));
        settings.GetProperty("passed").GetBoolean().ShouldBeFalse();
        settings.GetProperty("note").GetString()!.ShouldContain("cylinders differs: the controller has 6, this loom needs 8");
        (await mira.ReadAsync($"/api/jobs/{job}/power-up/settings?controller={Uri.EscapeDataString(name)}")).EnumerateArray().Select(r => r.GetProperty("differs").GetBoolean()).Take(2).ShouldBe([true, false], "what differs stands first");
        (await mira.ReadAsync($"/api/jobs/{job}/power-up/codes?controller={Uri.EscapeDataString(name)}")).GetProperty("codes").GetArrayLength().ShouldBe(0);
        (await mira.PostAsync($"/api/jobs/{job}/power-up/answers", Answer("live ECU-B:10", null, controller: "nobody"))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
    }

    [Fact]
    public async Task Nothing_is_driven_before_its_stage_and_its_cautions_and_hanging_up_switches_it_off()
    {
        var (name, engine) = await EngineAsync(HiddenMachine.Nothing);
        var (mira, job, _) = await BenchedAsync();
        await BeginAsync(mira, job);
        object Drive(bool seen, int on = 20) => new { controller = name, check = "drive Injector 3", cautionsSeen = seen, times = 10, onMs = on, offMs = 10 };
        (await mira.PostAsync($"/api/jobs/{job}/power-up/drive", Drive(true))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        await WaiveAsync(job, 5);
        (await mira.PostAsync($"/api/jobs/{job}/power-up/drive", Drive(false))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await mira.PostAsync($"/api/jobs/{job}/power-up/drive", Drive(true, 5000))).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        engine.Driven.ShouldBeNull();
        (await mira.PostForAsync($"/api/jobs/{job}/power-up/drive", Drive(true))).GetProperty("times").GetInt32().ShouldBe(10);

        using var leaves = CancellationTokenSource.CreateLinkedTokenSource(Cancel);
        var driving = mira.PostUntilAsync($"/api/jobs/{job}/power-up/drive", Drive(true, 1000), leaves.Token);
        while (engine.Driven is null)
        {
            await Task.Yield();
            Cancel.ThrowIfCancellationRequested();
        }

        await leaves.CancelAsync();
        await Should.ThrowAsync<OperationCanceledException>(() => driving);
        while (engine.Driven is not null)
        {
            await Task.Yield();
            Cancel.ThrowIfCancellationRequested();
        }
    }

    [Fact]
    public async Task While_one_drives_another_is_refused_and_what_is_no_output_drives_nothing()
    {
        var (name, engine) = await EngineAsync(HiddenMachine.Nothing);
        var (mira, job, _) = await BenchedAsync();
        var tomas = await shop.PersonAsync("tomas-3", "technician");
        await BeginAsync(mira, job);
        await WaiveAsync(job, 5);
        object Drive(string check, int on = 1000, string? controller = null) => new { controller = controller ?? name, check, cautionsSeen = true, times = 10, onMs = on, offMs = 10 };
        using var leaves = CancellationTokenSource.CreateLinkedTokenSource(Cancel);
        var driving = mira.PostUntilAsync($"/api/jobs/{job}/power-up/drive", Drive("drive Injector 3"), leaves.Token);
        while (engine.Driven is null)
        {
            await Task.Yield();
            Cancel.ThrowIfCancellationRequested();
        }

        var second = await tomas.PostAsync($"/api/jobs/{job}/power-up/drive", Drive("drive Injector 5", 20));
        second.StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await second.Content.ReadAsStringAsync(Cancel)).ShouldContain("one output at a time");
        engine.Driven.ShouldBe("Injector 3");
        (await tomas.PostForAsync($"/api/jobs/{job}/power-up/stop", new { controller = name })).GetProperty("controller").GetString().ShouldBe(name);
        (await driving).StatusCode.ShouldBe(HttpStatusCode.OK);
        engine.Driven.ShouldBeNull();

        foreach (var (body, status) in new[]
        {
            (Drive("short no-power", 20), HttpStatusCode.Conflict), (Drive("no such check", 20), HttpStatusCode.Conflict), (Drive("drive Injector 3", 0), HttpStatusCode.UnprocessableEntity),
            (Drive("drive Injector 3", 20, "nobody"), HttpStatusCode.UnprocessableEntity), (new { controller = name, check = "drive Injector 3", cautionsSeen = true, times = 21, onMs = 20, offMs = 10 }, HttpStatusCode.UnprocessableEntity),
            (new { controller = name, check = "drive Injector 3", cautionsSeen = true, times = 1, onMs = 20, offMs = -1 }, HttpStatusCode.UnprocessableEntity),
        })
        {
            (await mira.PostAsync($"/api/jobs/{job}/power-up/drive", body)).StatusCode.ShouldBe(status, JsonSerializer.Serialize(body));
        }

        engine.Driven.ShouldBeNull();
        (await (await shop.LookAsync()).PostAsync($"/api/jobs/{job}/power-up/drive", Drive("drive Injector 3", 20))).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
    }

    [Fact]
    public async Task Each_sees_at_which_check_the_other_stands_and_their_step_at_the_bench_stays()
    {
        var (mira, job, run) = await BenchedAsync();
        var lead = await shop.LeadAsync();
        await BeginAsync(mira, job);
        (await mira.PutAsync($"/api/runs/{run}/position", new { step = 3 })).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await mira.PutAsync($"/api/runs/{run}/position", new { check = "short no-power" })).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        var seen = (await lead.ReadAsync($"/api/runs/{run}/people")).EnumerateArray().Single(p => p.GetProperty("name").GetString() == "Mira Solstad");
        (seen.GetProperty("check").GetString(), seen.GetProperty("step").GetInt32()).ShouldBe(("short no-power", 3));
        foreach (var nowhere in new object[] { new { check = "no such check" }, new { check = "short no-power", step = 1 }, new { step = 0 }, new { } })
        {
            (await mira.PutAsync($"/api/runs/{run}/position", nowhere)).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        }

        (await mira.PutAsync($"/api/runs/{run}/position", new { step = 4 })).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await lead.ReadAsync($"/api/runs/{run}/people")).EnumerateArray().First().GetProperty("check").ValueKind.ShouldBe(JsonValueKind.Null);
    }

    [Fact]
    public async Task Without_a_run_or_after_its_controllers_have_gone_each_request_says_what_is_missing()
    {
        var mira = await shop.TechnicianAsync();
        var job = await mira.JobWithLoomAsync(Fan);
        (await mira.ReadAsync($"/api/jobs/{job}/power-up")).GetProperty("refused").GetString()!.ShouldContain("has not been on the bench");
        foreach (var (path, body) in new (string, object)[]
        {
            ("", new { key = Guid.CreateVersion7(), school = "bench", fitted = new { } }), ("/answers", Answer("short no-power", Measured(1))),
            ("/stages", new { key = Guid.CreateVersion7(), stage = 1, notDone = true, reason = "r", word = "w" }), ("/stop", new { controller = "c" }),
        })
        {
            (await mira.PostAsync($"/api/jobs/{job}/power-up{path}", body)).StatusCode.ShouldBe(HttpStatusCode.NotFound, path);
        }

        foreach (var path in new[] { "/minimum", "/settings", "/codes?controller=c", "/live?controller=c", "/log?controller=c&ms=200" })
        {
            (await mira.GetAsync($"/api/jobs/{job}/power-up{path}")).StatusCode.ShouldBe(HttpStatusCode.NotFound, path);
        }

        (await mira.GetAsync("/api/jobs/999999/power-up")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task Two_injectors_that_are_exchanged_are_a_case_a_fault_and_a_hold()
    {
        var (name, _) = await EngineAsync(HiddenMachine.With(SwapFault.Of("ECU-A", "23", "25")));
        var (mira, job, run) = await BenchedAsync();
        await BeginAsync(mira, job);
        await WaiveAsync(job, 5);
        var said = await mira.PostForAsync($"/api/jobs/{job}/power-up/answers", Answer("drive Injector 3", null, controller: name));
        said.GetProperty("said").GetString().ShouldBe("instead Injector 5");
        var own = (await mira.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("cases").EnumerateArray().Single(c => c.GetProperty("checks").EnumerateArray().Any(x => x.GetString() == "drive Injector 3"));
        own.GetProperty("causes")[0].GetProperty("title").GetString()!.ShouldContain("23 and 25 exchanged");
        await mira.PostForAsync($"/api/runs/{run}/faults", new { key = Guid.CreateVersion7(), step = 0, seen = "drove 3, 5 ticked" });
        (await mira.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("faults")[0].GetProperty("checks")[0].GetString().ShouldBe("drive Injector 3");
    }

    [Fact]
    public async Task The_minimum_to_run_and_a_trigger_log_are_told()
    {
        var (name, _) = await EngineAsync(HiddenMachine.Nothing);
        var (mira, job, _) = await BenchedAsync();
        await BeginAsync(mira, job, "vehicle");
        (await mira.ReadAsync($"/api/jobs/{job}/power-up/minimum")).GetProperty("sentence").GetString()!.ShouldStartWith("Feed R-BAT:1");
        await mira.PostForAsync($"/api/jobs/{job}/power-up/put?check={Uri.EscapeDataString("trigger crank-sensor")}", new { controller = name });
        var log = await mira.ReadAsync($"/api/jobs/{job}/power-up/log?controller={Uri.EscapeDataString(name)}&ms=1500");
        log.GetProperty("triggers")[0].GetProperty("findings").GetArrayLength().ShouldBe(0);
        log.GetProperty("cylinders").GetInt32().ShouldBe(8);
        log.GetProperty("sync").GetArrayLength().ShouldBe(0);
        (await mira.GetAsync($"/api/jobs/{job}/power-up/log?controller={Uri.EscapeDataString(name)}&ms=5")).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
    }

    private static object Measured(double? value) => new { kind = "measured", value };

    private static object Answer(string check, object? answer, Guid? key = null, string? controller = null, bool cautionsSeen = true, long seen = 0) =>
        new { key = key ?? Guid.CreateVersion7(), check, answer, controller, note = (string?)null, cautionsSeen, takenAt = DateTimeOffset.UtcNow, seen };

    private static Task<JsonElement> BeginAsync(Visitor visitor, long job, string school = "bench") =>
        visitor.PostForAsync($"/api/jobs/{job}/power-up", new { key = Guid.CreateVersion7(), school, fitted = new { } });

    private async Task<(Visitor Visitor, long Job, long Run)> BenchedAsync()
    {
        var mira = await shop.TechnicianAsync();
        var job = await mira.JobWithLoomAsync(Fan);
        return (mira, job, (await mira.StartRunAsync(job, new { meterId = 1, isolation = "neighbours", carryOver = false })).GetProperty("id").GetInt64());
    }

    /// <summary>Stages up to one are said not to be done.</summary>
    private async Task WaiveAsync(long job, int upTo)
    {
        var lead = await shop.LeadAsync();
        foreach (var stage in Enumerable.Range(1, upTo))
        {
            await lead.PostForAsync($"/api/jobs/{job}/power-up/stages", new { key = Guid.CreateVersion7(), stage, notDone = false, reason = "done before", word = "" });
        }
    }

    private async Task ChangeTemplateAsync(Action<JsonObject> change)
    {
        var lead = await shop.LeadAsync();
        var stored = await lead.ReadAsync("/api/limits");
        var limits = JsonNode.Parse(stored.GetProperty("limits").GetRawText())!.AsObject();
        change(limits["powerUp"]!.AsObject());
        (await lead.PutAsync("/api/limits", limits, $"\"{stored.GetProperty("version").GetInt32()}\"")).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    private async Task<(string Name, SimulatedController Engine)> EngineAsync(HiddenMachine hidden)
    {
        var loom = LoomReader.Read(Fan).Loom!;
        var engine = new SimulatedController(new SimulatedMachine(loom, BenchFit.AsDrawn, hidden, 20, 1), PowerUpPlan.Of(loom, BenchFit.AsDrawn, 20, School.Vehicle), 20);
        var listening = new TaskCompletionSource<int>();
        _ = engine.ServeAsync(0, listening.SetResult, Cancel);
        var port = await listening.Task;
        var name = $"Engine {port}";
        await ChangeTemplateAsync(t => t["controllers"]!.AsArray().Add(new JsonObject { ["name"] = name, ["host"] = "127.0.0.1", ["port"] = port }));
        return (name, engine);
    }
}
