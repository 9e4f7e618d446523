using System.Net;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace WiseLoom.Web.Tests.Gate;

/// <summary>A technician and a lead who do anything that the API offers with one job, in any order, twice, and at once.</summary>
internal sealed class GateWalk
{
    internal static readonly string LoomText = File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "gate.json"));

    private static readonly string[] Schools = ["bench", "test-engine", "vehicle"];

    private readonly Shop shop;
    private readonly Visitor technician;
    private readonly Visitor lead;
    private readonly Random random;
    private readonly RequestMaker maker;
    private readonly List<string> log = [];
    private readonly List<string> keys = [];
    private readonly Dictionary<long, Asked> askedOf = [];
    private readonly Asked asked;
    private long job;

    private GateWalk(Shop shop, Visitor technician, Visitor lead, Random random, Asked asked) =>
        (this.shop, this.technician, this.lead, this.random, this.asked, maker) = (shop, technician, lead, random, asked, new(shop.Services.GetRequiredService<EndpointDataSource>(), random));

    /// <summary>What was done, one action a line.</summary>
    internal IReadOnlyList<string> Log => log;

    /// <summary>How many packs were signed.</summary>
    internal int Signed { get; private set; }

    /// <summary>Routes that were asked.</summary>
    internal HashSet<string> Routes { get; } = new(StringComparer.Ordinal);

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    /// <summary>A new job in a shop that asks for something chosen at random.</summary>
    internal static async Task<GateWalk> BeginAsync(Shop shop, Visitor technician, Visitor lead, int seed)
    {
        var random = new Random(seed);
        int[][] stages = [[], [1, 2, 3], [1, 2, 3, 5, 6], [7, 8, 9], [1, 6, 9]];
        var asked = new Asked(random.Next(2) == 0 ? 0.05 : 0.3, stages[random.Next(stages.Length)], random.Next(Schools.Length));
        asked = asked.School == 0 ? asked with { Stages = [.. asked.Stages.Where(s => s < 7)] } : asked;
        var view = await lead.ReadAsync("/api/limits");
        var limits = JsonNode.Parse(view.GetProperty("limits").GetRawText())!;
        limits["bench"]!["mostSkipped"] = asked.MostSkipped;
        limits["powerUp"]!["school"] = Schools[asked.School];
        limits["powerUp"]!["required"] = new JsonArray([.. asked.Stages.Select(s => (JsonNode)s)]);
        (await lead.PutAsync("/api/limits", limits, $"\"{view.GetProperty("version").GetInt32()}\"")).EnsureSuccessStatusCode();
        var walk = new GateWalk(shop, technician, lead, random, asked) { job = await technician.JobWithLoomAsync(Encoding.UTF8.GetBytes(LoomText)) };
        await walk.StartAsync(technician);
        return walk;
    }

    /// <summary>Some actions one after the other; after each signed pack the statement is held against the stored events.</summary>
    /// <returns>What is broken, with the number of actions that it took; empty when nothing is.</returns>
    internal async Task<string> GoAsync(int actions)
    {
        for (var i = 1; i <= actions; i++)
        {
            await ActAsync();
            if (random.Next(6) == 0 && await SignAsync() && await BrokenAsync() is { Count: > 0 } broken)
            {
                return $"after {i} actions: {string.Join("; ", broken)}\n{string.Join('\n', log)}";
            }
        }

        return await FinishAsync() && await BrokenAsync() is { Count: > 0 } left ? $"after {actions} actions and an end: {string.Join("; ", left)}\n{string.Join('\n', log)}" : "";
    }

    private async Task ActAsync()
    {
        var who = random.Next(10) < 7 ? technician : lead;
        switch (random.Next(20))
        {
            case 0 or 1: await MeasureAsync(who, good: true); break;
            case 2: await MeasureAsync(who, good: false); break;
            case 3: await SkipRestAsync(technician); break;
            case 4 or 5: await AnswerAsync(who, all: true, good: true); break;
            case 6 or 7: await AnswerAsync(technician, all: false, good: false); break;
            case 8: await StageAsync(random.Next(2) == 0 ? technician : lead); break;
            case 9: await PowerUpTroubleAsync(technician); break;
            case 10: await StartAsync(technician); break;
            case 11: await TroubleAsync(technician); break;
            case 12: await RedrawAsync(technician); break;
            case 13: await DecideAsync(technician); break;
            case 14 when random.Next(2) == 0: await DecideAsync(lead); break;
            case 15:
                // Two at once.
                await Task.WhenAll(AnyAsync(technician), AnyAsync(lead));
                break;
            default: await AnyAsync(who); break;
        }
    }

    /// <summary>What a technician does who wants it signed: measures or skips what is left, answers or gives up what is locked; then a lead presses the button.</summary>
    private async Task<bool> FinishAsync()
    {
        for (var i = random.Next(3); i > 0; i--)
        {
            await MendAsync(technician);
        }

        if (random.Next(4) > 0)
        {
            await MeasureAsync(technician, good: true, most: random.Next(3) == 0);
        }

        await SkipRestAsync(technician);
        for (var i = 0; i < 9 && await technician.ReadAsync($"/api/jobs/{job}/power-up") is var view && view.GetProperty("current").ValueKind == JsonValueKind.Number; i++)
        {
            await AnswerAsync(technician, all: true, good: true);
            await StageAsync(technician);
        }

        return await SignAsync();
    }

    private async Task<bool> SignAsync()
    {
        var handover = await lead.ReadAsync($"/api/jobs/{job}/handover");
        var answer = await lead.PostAsync($"/api/jobs/{job}/packs", new { changes = "", seen = handover.GetProperty("lastEvent").GetInt64() });
        if (answer.StatusCode == HttpStatusCode.Created)
        {
            log.Add("lead: signed");
            Signed++;
            return true;
        }

        return false;
    }

    private async Task<WalkRun?> RunAsync() => (await technician.ReadAsync($"/api/jobs/{job}/bench")).GetProperty("run") is { ValueKind: JsonValueKind.Object } run
        ? new(run.GetProperty("id").GetInt64(), run.GetProperty("lastEvent").GetInt64(), [.. run.GetProperty("steps").EnumerateArray().Select(s => new WalkStep(s.GetProperty("standing").GetProperty("state").GetString()!, Showing(s, "pass"), Showing(s, "fail")))])
        : null;

    private async Task StartAsync(Visitor who)
    {
        var current = (await technician.ReadAsync($"/api/jobs/{job}/bench")).GetProperty("current");
        var answer = await SendAsync(who, HttpMethod.Post, $"/api/jobs/{job}/runs", new { meterId = 1, isolation = random.Next(3) == 0 ? "thorough" : "neighbours", carryOver = random.Next(2) == 0, setAside = current.ValueKind == JsonValueKind.Object ? current.GetProperty("id").GetInt64() : (long?)null });
        if (answer is { StatusCode: HttpStatusCode.Created })
        {
            askedOf[JsonNode.Parse(await answer.Content.ReadAsStringAsync(Cancel))!["id"]!.GetValue<long>()] = asked;
        }
    }

    private async Task MeasureAsync(Visitor who, bool good, bool most = true)
    {
        if (await RunAsync() is not { } run)
        {
            return;
        }

        var steps = good ? [.. Enumerable.Range(1, run.Steps.Count).Where(s => !most || random.Next(8) > 0)] : new[] { random.Next(run.Steps.Count) + 1 };
        await SendAsync(who, HttpMethod.Post, $"/api/runs/{run.Id}/readings", new
        {
            takenBy = who.Person,
            readings = steps.Select(s => (Step: s, Ohms: good ? run.Steps[s - 1].Good : run.Steps[s - 1].Bad)).Select(s => new
            {
                key = Key(),
                s.Step,
                ohms = s.Ohms,
                overRange = s.Ohms is null,
                fromMeter = false,
                takenAt = DateTimeOffset.UtcNow,
                seen = run.LastEvent,
            }),
        });
    }

    /// <summary>What the meter shows when a step has a verdict; null for over range.</summary>
    private static double? Showing(JsonElement step, string verdict)
    {
        var band = step.GetProperty("bands").EnumerateArray().Last(b => b.GetProperty("verdict").GetString() == verdict);
        return Number(band, "to") is { } to ? (band.GetProperty("from").GetDouble() + to) / 2 : null;
    }

    private async Task SkipRestAsync(Visitor who)
    {
        if (await RunAsync() is { } run)
        {
            foreach (var step in Enumerable.Range(1, run.Steps.Count).Where(s => run.Steps[s - 1].State is "not-tested" or "retest"))
            {
                await SendAsync(who, HttpMethod.Post, $"/api/runs/{run.Id}/skips", new { key = Key(), step, reason = "no plug at hand" });
            }
        }
    }

    private async Task AnswerAsync(Visitor who, bool all, bool good)
    {
        var view = await technician.ReadAsync($"/api/jobs/{job}/power-up");
        var seen = view.GetProperty("lastEvent").GetInt64();
        var checks = view.GetProperty("stages").EnumerateArray().Where(s => all ? s.GetProperty("state").GetString() == "open" : s.GetProperty("state").GetString() != "locked").SelectMany(s => s.GetProperty("checks").EnumerateArray()).ToList();
        foreach (var check in all || checks.Count == 0 ? checks : [checks[random.Next(checks.Count)]])
        {
            if (check.GetProperty("state").GetString() != "passed" || !good)
            {
                await SendAsync(who, HttpMethod.Post, $"/api/jobs/{job}/power-up/answers", new
                {
                    key = Key(), check = check.GetProperty("id").GetString(), answer = Said(check.GetProperty("expect"), good), controller = (string?)null, note = (string?)null, cautionsSeen = true, takenAt = DateTimeOffset.UtcNow, seen,
                });
            }
        }
    }

    private static JsonObject Said(JsonElement expect, bool good)
    {
        if (expect.GetProperty("outcome") is { ValueKind: JsonValueKind.String } outcome)
        {
            return new() { ["kind"] = "seen", ["outcome"] = (good ? outcome : expect.GetProperty("otherwise")).GetString()!.Replace(' ', '-') };
        }

        var (most, least) = (Number(expect, "max"), Number(expect, "min") ?? 0);
        return new() { ["kind"] = "measured", ["value"] = good ? Number(expect, "nominal") ?? (least * 10) : most is null ? 0 : most + 400 };
    }

    private static double? Number(JsonElement expect, string name) => expect.GetProperty(name) is { ValueKind: JsonValueKind.Number } number ? number.GetDouble() : null;

    private async Task StageAsync(Visitor who)
    {
        var view = await technician.ReadAsync($"/api/jobs/{job}/power-up");
        if (view.GetProperty("current") is { ValueKind: JsonValueKind.Number } stage)
        {
            await SendAsync(who, HttpMethod.Post, $"/api/jobs/{job}/power-up/stages", new { key = Key(), stage = stage.GetInt32(), notDone = true, reason = "no engine here", word = "Mira" });
        }
    }

    private async Task BeginPowerUpAsync(Visitor who)
    {
        var nothing = new { kind = "nothing" };
        object[] fits = [new { }, new { lamp = nothing }, new { lamp = nothing, ecu = nothing }, new { ecu = nothing }];
        await SendAsync(who, HttpMethod.Post, $"/api/jobs/{job}/power-up", new { key = Key(), school = Schools[random.Next(3)], fitted = fits[random.Next(fits.Length)] });
    }

    /// <summary>Logs a fault of a failing step or check, or says that one was mended, at a place that need not be its own.</summary>
    private async Task MendAsync(Visitor who)
    {
        if (await RunAsync() is not { } run)
        {
            return;
        }

        var failing = Enumerable.Range(1, run.Steps.Count).Where(s => run.Steps[s - 1].State == "fail").Append(0).ToList();
        var faults = (await technician.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("faults").EnumerateArray().Select(f => f.GetProperty("number").GetInt32()).ToList();
        if (faults.Count == 0 || random.Next(2) == 0)
        {
            await SendAsync(who, HttpMethod.Post, $"/api/runs/{run.Id}/faults", new { key = Key(), step = failing[random.Next(failing.Count)], seen = "reads wrong" });
            return;
        }

        string[] dids = ["re-crimp", "re-pin", "drawing corrected"];
        string[] places = ["RB:1", "ECU:1", "ECU:3", "L:4", "W2"];
        await SendAsync(who, HttpMethod.Post, $"/api/runs/{run.Id}/faults/{faults[random.Next(faults.Count)]}/fix", new { key = Key(), did = dids[random.Next(3)], places = new[] { places[random.Next(places.Length)] }, minutes = (double?)null, parts = (string?)null, note = (string?)null });
    }

    /// <summary>Something fails, is logged, said to be mended, and measured again; it may break off anywhere.</summary>
    private async Task TroubleAsync(Visitor who)
    {
        Func<Task>[] way = [() => random.Next(2) == 0 ? MeasureAsync(who, good: false) : AnswerAsync(who, all: false, good: false), () => MendAsync(who), () => MendAsync(who), () => MeasureAsync(who, good: true)];
        foreach (var next in way.TakeWhile(_ => random.Next(6) > 0))
        {
            await next();
        }
    }

    /// <summary>A check fails, the bench is said to be another one, or a stage is said not to be done, in any order; then all is answered that is left.</summary>
    private async Task PowerUpTroubleAsync(Visitor who)
    {
        Func<Task>[] ways = [() => AnswerAsync(who, all: false, good: false), () => BeginPowerUpAsync(who), () => StageAsync(lead), () => AnswerAsync(who, all: true, good: true)];
        for (var i = random.Next(1, 4); i > 0; i--)
        {
            await ways[random.Next(ways.Length)]();
        }
    }

    /// <summary>Brings in another drawing: with a wire less, or as it was.</summary>
    private async Task RedrawAsync(Visitor who)
    {
        var loom = JsonNode.Parse(LoomText)!;
        loom["loom"]!["revision"] = $"R{random.Next(10_000)}";
        if (random.Next(2) == 0)
        {
            loom["wires"]!.AsArray().RemoveAt(4);
        }

        log.Add($"{(who == lead ? "lead" : "technician")}: brings in a drawing, {(await who.ImportAsync(job, Encoding.UTF8.GetBytes(loom.ToJsonString()))).StatusCode}");
        if (random.Next(4) > 0)
        {
            await StartAsync(technician);
        }
    }

    private async Task DecideAsync(Visitor who)
    {
        var view = await technician.ReadAsync($"/api/jobs/{job}/handover");
        var holds = view.GetProperty("holds").EnumerateArray().Select(h => h.GetProperty("on")).Where(o => o.ValueKind == JsonValueKind.String).Select(o => o.GetString()).ToList();
        if (holds.Count > 0 && await RunAsync() is { } run)
        {
            await SendAsync(who, HttpMethod.Post, $"/api/runs/{run.Id}/decisions", new { key = Key(), on = holds[random.Next(holds.Count)], steps = Array.Empty<int>(), reason = "known and harmless", seen = random.Next(4) > 0 ? run.LastEvent : Math.Max(0, run.LastEvent - 3) });
        }
    }

    /// <summary>Anything that the route table has, with whatever comes to mind; sometimes twice.</summary>
    private async Task AnyAsync(Visitor who)
    {
        var run = await RunAsync();
        JsonNode?[] Numbers(params long[] all) => [.. all.Select(n => (JsonNode)n)];
        JsonNode?[] Texts(params string[] all) => [.. all.Select(n => (JsonNode)n)];
        var known = new Known(
            new Dictionary<string, long> { ["jobs"] = job, ["runs"] = run?.Id ?? 0 },
            new Dictionary<string, JsonNode?[]>(StringComparer.Ordinal)
            {
                ["key"] = Texts(keys.Count > 0 && random.Next(5) == 0 ? keys[random.Next(keys.Count)] : Key()), ["takenBy"] = Texts($"{who.Person}"), ["step"] = Numbers([.. Enumerable.Range(0, (run?.Steps.Count ?? 3) + 1).Select(n => (long)n)]),
                ["seen"] = [.. Numbers(run?.LastEvent ?? 0, 0, (run?.LastEvent ?? 0) / 2), .. Texts("reads wrong")], ["did"] = Texts("re-crimp", "re-pin", "drawing corrected"),
                ["place"] = Texts("RB:1", "ECU:1", "ECU:3", "L:4", "W2"), ["fault"] = Numbers(1, 2, 3), ["stage"] = Numbers(1, 2, 3, 4, 5, 6, 7, 8, 9), ["meterId"] = Numbers(1), ["school"] = Texts(Schools),
                ["on"] = Texts("failing", "retest", "skips", "plan", "fault 1", "fault 2", "school bench", "earlier 1 step 1"), ["check"] = Texts("short no-power", "drive Lamp", "ground ECU:2"), ["ohms"] = [null, 0.03, 5.0],
            });
        var endpoint = maker.Endpoints[random.Next(maker.Endpoints.Count)];
        var request = maker.Make(endpoint, known);
        Routes.Add(request.Route);
        for (var times = random.Next(5) == 0 ? 2 : 1; times > 0; times--)
        {
            await SendAsync(who, request.Method, request.Path, request.Body is null ? null : JsonNode.Parse(request.Body));
        }
    }

    private string Key()
    {
        keys.Add(Guid.CreateVersion7().ToString());
        return keys[^1];
    }

    private async Task<HttpResponseMessage?> SendAsync(Visitor who, HttpMethod method, string path, object? body)
    {
        using var giveUp = CancellationTokenSource.CreateLinkedTokenSource(Cancel);
        giveUp.CancelAfter(TimeSpan.FromSeconds(20));
        var text = body is null ? null : JsonSerializer.Serialize(body, JsonSerializerOptions.Web);
        try
        {
            using var content = text is null ? null : new StringContent(text, Encoding.UTF8, "application/json");
            var answer = await who.SendAsync(method, path, content, "\"1\"", cancel: giveUp.Token);
            ((int)answer.StatusCode).ShouldNotBe(500, $"{method} {path} {text}: {await answer.Content.ReadAsStringAsync(Cancel)}");
            if (answer.IsSuccessStatusCode)
            {
                log.Add($"{(who == lead ? "lead" : "technician")}: {method} {path} {text}");
            }

            return answer;
        }
        catch (OperationCanceledException) when (!Cancel.IsCancellationRequested)
        {
            return null;
        }
    }

    private async Task<List<string>> BrokenAsync()
    {
        var (runs, events) = (new List<RawRun>(), new List<RawEvent>());
        await using var connection = new NpgsqlConnection(shop.Database);
        await connection.OpenAsync(Cancel);
        await using (var command = new NpgsqlCommand("select r.id, r.revision_id, p.body::text, coalesce((select max(version) from packs where run_id = r.id), 0) from runs r join plans p on p.hash = r.plan_hash where r.job_id = @job order by r.id", connection))
        {
            command.Parameters.AddWithValue("job", job);
            await using var rows = await command.ExecuteReaderAsync(Cancel);
            while (await rows.ReadAsync(Cancel))
            {
                runs.Add(new(rows.GetInt64(0), rows.GetInt64(1), JsonNode.Parse(rows.GetString(2))!));
            }
        }

        await using (var command = new NpgsqlCommand("select e.run_id, e.number, p.role, e.body::text from run_events e join people p on p.id = e.made_by join runs r on r.id = e.run_id where r.job_id = @job order by e.run_id, e.number", connection))
        {
            command.Parameters.AddWithValue("job", job);
            await using var rows = await command.ExecuteReaderAsync(Cancel);
            while (await rows.ReadAsync(Cancel))
            {
                events.Add(new(runs.FindIndex(r => r.Id == rows.GetInt64(0)), rows.GetInt64(1), rows.GetString(2) == "lead", JsonNode.Parse(rows.GetString(3))!));
            }
        }

        // Every loom of the walk has the same feeds and grounds.
        HashSet<string> critical = ["RB:1", "RN:1", "ECU:1", "ECU:2", "L:1"];
        var last = events.FindLast(e => e.Kind == "signed")!;
        var broken = new GateStatement(runs, [.. events.Where(e => !e.IsAfter(last))], askedOf.GetValueOrDefault(runs[^1].Id, asked), critical).Broken().ToList();
        var pack = JsonNode.Parse((await lead.ReadAsync($"/api/packs/{(await lead.ReadAsync($"/api/jobs/{job}/handover")).GetProperty("packs")[0].GetProperty("id").GetInt64()}/json")).GetRawText())!;
        if (pack["earlier"]!.AsArray().Count != runs.Count - 1)
        {
            broken.Add($"the pack names {pack["earlier"]!.AsArray().Count} of {runs.Count - 1} runs that were set aside");
        }

        return broken;
    }

    private sealed record WalkRun(long Id, long LastEvent, List<WalkStep> Steps);

    /// <param name="Good">What passes; null for over range.</param>
    private sealed record WalkStep(string State, double? Good, double? Bad);
}
