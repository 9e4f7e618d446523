using System.Net;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Tests;

/// <summary>Every endpoint refuses: a stranger, the wrong role, what is not there, what cannot be read, what is too large. One table; an endpoint that is not in it fails the first test.</summary>
public sealed partial class RefusalTests(Shop shop)
{
    private static readonly Guid Key = Guid.CreateVersion7();

    /// <summary>Endpoints with a body that is right, so that only what is asked about is wrong. The ids in their paths are of nothing.</summary>
    private static readonly (string Method, string Path, object? Body)[] Table =
    [
        ("GET", "/api/jobs/999999", null), ("GET", "/api/jobs/999999/bench", null), ("GET", "/api/jobs/999999/faults", null), ("GET", "/api/jobs/999999/handover", null),
        ("GET", "/api/jobs/999999/revisions", null), ("GET", "/api/jobs/999999/draft", null), ("GET", "/api/jobs/999999/plan?meterId=1&isolation=neighbours", null),
        ("GET", "/api/revisions/999999/loom", null), ("GET", "/api/revisions/999999/file", null), ("GET", "/api/revisions/999999/state?key=on", null),
        ("GET", "/api/revisions/999999/explanation?point=A:1&key=on", null), ("GET", "/api/revisions/999999/cable", null), ("GET", "/api/revisions/999999/one-end", null),
        ("GET", "/api/revisions/999999/sensors", null), ("GET", "/api/revisions/999999/changes?since=1", null), ("GET", "/api/revisions/999999/tables.xlsx", null),
        ("GET", "/api/revisions/999999/tables.zip", null), ("GET", "/api/revisions/999999/stem.svg", null), ("GET", "/api/revisions/999999/faces/A.svg", null),
        ("GET", "/api/runs/999999/readings.csv", null), ("GET", "/api/runs/999999/faults.csv", null), ("GET", "/api/runs/999999/record.json", null), ("GET", "/api/runs/999999/record.pdf", null), ("GET", "/api/jobs/999999/pair?a=A:1&b=B:1", null),
        ("POST", "/api/runs/999999/bring-in?name=r.csv", Small), ("POST", "/api/runs/999999/fill-in?name=r.csv", Small), ("GET", "/api/runs/999999/results.xlsx", null), ("GET", "/api/runs/999999/results.zip", null), ("GET", "/api/runs/999999/since/0", null), ("POST", $"/api/runs/999999/steps/1/photos/{Key}", Small), ("GET", $"/api/runs/999999/photos/{Key}", null),
        ("POST", $"/api/jobs/999999/packing-photos/{Key}", Small), ("GET", $"/api/jobs/999999/packing-photos/{Key}", null), ("DELETE", $"/api/jobs/999999/packing-photos/{Key}", null),
        ("GET", "/api/runs/999999/steps/1/reason", null), ("GET", "/api/runs/999999/way?from=0&turned=false", null), ("GET", "/api/runs/999999/steps/1/causes", null), ("GET", "/api/packs/999999/html", null), ("GET", "/api/packs/999999/pdf", null),
        ("GET", "/api/packs/999999/json", null), ("GET", "/api/drafts/999999/stem", null), ("GET", "/api/drafts/999999/plugs?of=A", null), ("GET", "/api/families/nothing-of-that-name", null),
        ("GET", "/api/sheets/999999", null), ("GET", "/api/sheets/999999/lines.csv", null), ("GET", "/api/sheets/999999/loose/A", null), ("GET", "/api/merges/999999", null),
        ("GET", "/api/compare?left=sheet-999999&right=sheet-1", null),
        ("PUT", "/api/jobs/999999", new { customer = "x", machine = "y", promised = (string?)null, assignedId = (string?)null, waitingFor = (string?)null }),
        ("POST", "/api/jobs/999999/import?name=a.json", Small), ("POST", "/api/jobs/999999/loom?after=0", Small),
        ("POST", "/api/jobs/999999/cable", new { name = "x", one = "A", other = "B", pins = 3, way = "straight", lengthMm = (double?)null, mm2 = (double?)null }), ("POST", "/api/jobs/999999/copy?revision=1&name=x", null),
        ("POST", "/api/jobs/999999/draft", new { fromRevision = (long?)null, document = (object?)null }),
        ("POST", "/api/jobs/999999/runs", new { meterId = 1, isolation = "neighbours", carryOver = false }), ("POST", "/api/jobs/999999/packs", new { changes = "", seen = 0 }),
        ("POST", "/api/runs/999999/readings", "readings"), ("POST", "/api/runs/999999/measure", new { step = 1 }), ("POST", "/api/runs/999999/steady", new { step = 1 }), ("GET", "/api/runs/999999/care", null), ("GET", "/api/runs/999999/matrix", null), ("POST", "/api/runs/999999/wiggle", new { step = 1 }), ("POST", "/api/runs/999999/groups", new { key = Key }), ("POST", "/api/runs/999999/care", new { key = Key, check = "range", overRange = true }),
        ("PUT", "/api/instruments/999999", new { name = "x", profile = "hand-two-wire", matrix = false, retired = false }), ("POST", "/api/instruments/999999/try", null), ("POST", "/api/runs/999999/skips", new { key = Key, step = 1, reason = "no plug" }),
        ("POST", "/api/runs/999999/decisions", new { key = Key, on = "failing", steps = Array.Empty<int>(), reason = "known", seen = 0 }),
        ("PUT", "/api/runs/999999/position", new { step = 1 }), ("GET", "/api/runs/999999/people", null), ("PUT", "/api/runs/999999/share", new { connectors = new[] { "A" } }), ("POST", "/api/runs/999999/faults", new { key = Key, step = 1, seen = "open" }),
        ("POST", "/api/runs/999999/faults/1/cause", new { key = Key, faults = Array.Empty<object>(), words = "broken" }),
        ("POST", "/api/runs/999999/faults/1/correct-drawing", new { key = Key, faults = Array.Empty<object>() }),
        ("POST", "/api/runs/999999/probes/measure", new { a = new[] { "A:1" }, b = (object?)null }),
        ("POST", "/api/runs/999999/probes", new { key = Key, a = new[] { "A:1" }, b = (object?)null, ohms = 1.0, overRange = false, fromMeter = false, takenAt = DateTimeOffset.UtcNow, seen = 0 }),
        ("POST", "/api/runs/999999/sightings", new { key = Key, what = new { kind = "device", device = "pump", ohm = 1.0 }, takenAt = DateTimeOffset.UtcNow, seen = 0 }), ("GET", "/api/runs/999999/sightings/choices", null),
        ("POST", "/api/runs/999999/faults/1/fix", new { key = Key, did = "re-crimp", places = new[] { "A:1" }, minutes = (double?)null, parts = (string?)null, note = (string?)null }),
        ("POST", "/api/runs/999999/repair", new { places = new[] { "A:1" } }), ("POST", "/api/packs/999999/share", null), ("POST", "/api/packs/999999/share/renew", null), ("DELETE", "/api/packs/999999/share", null),
        ("PUT", "/api/drafts/999999", Small), ("PATCH", "/api/drafts/999999", new { rows = Array.Empty<object>() }), ("DELETE", "/api/drafts/999999", null),
        ("POST", "/api/drafts/999999/reopen", null), ("POST", "/api/drafts/999999/release?after=0", null), ("POST", "/api/drafts/999999/reconcile", new { start = new { }, mine = new { } }),
        ("PUT", "/api/sheets/999999", Sheet), ("POST", "/api/sheets/999999/confirmations", new { how = "loom", lines = new[] { new { key = Key, connector = "A", cavity = "1" } } }),
        ("POST", "/api/sheets/999999/loose", new { key = Key, connector = "A", cavity = "1", decision = "keep-long", label = "x", lengthMm = 1, note = "" }),
        ("PUT", "/api/merges/999999/decisions", new { pairs = Array.Empty<object>(), apart = Array.Empty<object>(), left = Array.Empty<object>(), right = Array.Empty<object>(), usualMm = 1000 }), ("POST", "/api/merges/999999/make", null),
        ("POST", "/api/merges/999999/ticks", new { key = Key, item = "x", done = true }),
        ("PUT", $"/api/accounts/{Key}", new { name = "x", role = "look", disabled = true }), ("POST", $"/api/accounts/{Key}/link", null), ("GET", $"/api/accounts/{Key}/sessions", null),
        ("DELETE", $"/api/accounts/{Key}/sessions", null), ("DELETE", $"/api/me/sessions/{Key}", null), ("POST", "/api/password-links/look", new { code = "x" }),
        ("POST", "/api/password-links/use", new { code = "x", password = "x" }),
        ("GET", "/api/jobs/999999/power-up", null), ("POST", "/api/jobs/999999/power-up", new { key = Key, school = "bench", fitted = new { } }),
        ("POST", "/api/jobs/999999/power-up/answers", new { key = Key, check = "short no-power", answer = new { kind = "seen", outcome = "lights" }, controller = (string?)null, note = (string?)null, cautionsSeen = true, takenAt = DateTimeOffset.UtcNow, seen = 0 }),
        ("POST", "/api/jobs/999999/power-up/stages", new { key = Key, stage = 1, notDone = true, reason = "no engine", word = "Mira" }), ("GET", "/api/jobs/999999/power-up/minimum", null),
        ("GET", "/api/jobs/999999/power-up/live?controller=x", null), ("GET", "/api/jobs/999999/power-up/codes?controller=x", null), ("GET", "/api/jobs/999999/power-up/settings", null), ("GET", "/api/jobs/999999/power-up/log?controller=x&ms=200", null),
        ("POST", "/api/jobs/999999/power-up/drive", new { controller = "x", check = "drive Siren", cautionsSeen = true, times = 1, onMs = 1, offMs = 1 }), ("POST", "/api/jobs/999999/power-up/stop", new { controller = "x" }),
        ("GET", "/api/packs/999999/csv", null), ("GET", "/api/jobs/999999/review", null), ("POST", "/api/jobs/999999/review", null), ("DELETE", "/api/jobs/999999/review", null),
        ("POST", "/api/jobs/999999/questions", new { key = Key, asks = "Where?", choices = Array.Empty<string>() }), ("GET", "/api/jobs/999999/labels", null), ("GET", "/api/jobs/999999/fuse-card", null),
        ("GET", "/api/intake/mappings/999999/file", null), ("DELETE", "/api/intake/mappings/999999", null), ("DELETE", "/api/intake/colours/nothing", null),
        ("POST", "/api/jobs/999999/power-up/put?check=x", new { controller = "x" }), ("POST", $"/api/runs/999999/photos/{Key}?check=x", Small),
    ];

    /// <summary>Endpoints that are about nothing in particular: there is nothing of theirs that could not be there.</summary>
    private static readonly string[] Whole =
    [
        "GET /api/session", "POST /api/session", "DELETE /api/session", "GET /api/people", "GET /api/me/sessions", "PUT /api/me/password", "POST /api/first-lead", "GET /api/accounts", "POST /api/accounts", "GET /api/audit", "GET /api/faults", "GET /api/faults/report", "GET /api/work", "GET /api/jobs", "POST /api/jobs", "GET /api/families", "PUT /api/families/{id}", "POST /api/faces/pattern",
        "POST /api/faces/draw", "POST /api/faces/find", "GET /api/device-types", "GET /api/colours", "GET /api/languages", "GET /api/vocabulary", "GET /api/synonyms", "PUT /api/synonyms", "GET /api/limits", "PUT /api/limits", "GET /api/instruments", "POST /api/instruments", "GET /api/instruments/ways", "POST /api/instruments/lines", "GET /api/sheets",
        "POST /api/sheets", "GET /api/sheets/search", "POST /api/sheets/read-lines", "GET /api/pinouts", "GET /api/merges", "POST /api/merges", "POST /api/sensors/fit", "POST /api/sensors/temperature",
        "POST /api/sensors/units", "POST /api/sensors/gauge", "POST /api/sensors/unknown", "GET /api/jobs/{id}/events", "GET /openapi/{documentName}.json",
        "GET /api/first-hour", "PUT /api/first-hour", "GET /api/intake", "GET /api/looms", "POST /api/intake/mappings", "PUT /api/intake/colours/{word}",
    ];

    private static readonly string[] Leads =
    [
        "POST /api/jobs/{id}/packs", "POST /api/packs/{id}/share", "POST /api/packs/{id}/share/renew", "DELETE /api/packs/{id}/share", "PUT /api/limits", "POST /api/instruments", "PUT /api/instruments/{id}", "GET /api/instruments/ways", "POST /api/instruments/lines", "GET /api/accounts", "POST /api/accounts", "PUT /api/accounts/{id}",
        "POST /api/accounts/{id}/link", "GET /api/accounts/{id}/sessions", "DELETE /api/accounts/{id}/sessions", "GET /api/audit", "POST /api/jobs/{id}/review", "DELETE /api/jobs/{id}/review",
    ];

    /// <summary>Asked by a method of change, but nothing of the shop's is changed: who may only look may ask them too.</summary>
    private static readonly string[] Harmless =
    [
        "POST /api/session", "DELETE /api/session", "PUT /api/me/password", "DELETE /api/me/sessions/{id}", "POST /api/password-links/look", "POST /api/password-links/use", "POST /api/first-lead",
        "POST /api/faces/pattern", "POST /api/faces/draw", "POST /api/faces/find", "POST /api/jobs/{id}/import", "POST /api/jobs/{id}/cable", "POST /api/jobs/{id}/copy", "POST /api/runs/{id}/fill-in", "POST /api/drafts/{id}/reconcile", "POST /api/sheets/read-lines",
        "POST /api/sensors/fit", "POST /api/sensors/temperature", "POST /api/sensors/units", "POST /api/sensors/gauge", "POST /api/sensors/unknown",
    ];

    /// <summary>Open to anybody, as they are before one is signed in.</summary>
    private static readonly string[] Open = ["GET /api/session", "POST /api/session", "POST /api/password-links/look", "POST /api/password-links/use", "POST /api/first-lead"];

    private static object Small => JsonSerializer.Deserialize<JsonElement>(ImportTests.Small);

    private static object Sheet => new { title = "x", source = "traced", sourceNote = "", connectors = Array.Empty<object>(), lines = Array.Empty<object>() };

    public static TheoryData<string, string> Paths => [.. Table.Select(t => $"{t.Method} {t.Path}").Concat(Whole).Except(Open).Select(w => w.Split(' ')).Select(w => (w[0], Filled(w[1])))];

    public static TheoryData<int> Rows => [.. Enumerable.Range(0, Table.Length)];

    public static TheoryData<string, string> Bodies => [.. Table.Where(t => t.Body is not null).Select(t => (t.Method, t.Path)).Concat(Whole.Where(w => w.StartsWith("POST", StringComparison.Ordinal) || w.StartsWith("PUT", StringComparison.Ordinal)).Select(w => w.Split(' ')).Select(w => (w[0], Filled(w[1]))))];

    [Fact]
    public void Every_endpoint_is_in_the_table()
    {
        var known = Table.Select(t => $"{t.Method} {t.Path.Split('?')[0]}").ToList();
        var missing = Endpoints().Where(e => !Whole.Contains(e) && !known.Exists(k => Pattern(e).IsMatch(k)));
        missing.ShouldBeEmpty();
    }

    [Theory]
    [MemberData(nameof(Paths))]
    public async Task A_stranger_is_refused(string method, string path)
    {
        var answer = await (await shop.StrangerAsync()).SendAsync(new(method), path, null);
        answer.StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        answer.Content.Headers.ContentLength.GetValueOrDefault().ShouldBeLessThan(1000);
    }

    [Fact]
    public async Task What_is_a_leads_is_refused_to_a_technician()
    {
        Endpoints(e => e.Metadata.GetOrderedMetadata<IAuthorizeData>().Any(a => a.Policy is not null)).ShouldBe(Leads, ignoreOrder: true);
        var technician = await shop.TechnicianAsync();
        foreach (var endpoint in Leads.Select(e => e.Split(' ')))
        {
            (await technician.SendAsync(new(endpoint[0]), Filled(endpoint[1]), Json("{}"))).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        }
    }

    [Fact]
    public async Task Who_may_only_look_changes_nothing()
    {
        Endpoints(e => e.Metadata.GetMetadata<ChangesNothing>() is not null).ShouldBe(Harmless, ignoreOrder: true);
        var look = await shop.LookAsync();
        foreach (var endpoint in Endpoints().Where(e => !e.StartsWith("GET ", StringComparison.Ordinal)).Except(Harmless).Select(e => e.Split(' ')))
        {
            (await look.SendAsync(new(endpoint[0]), Filled(endpoint[1]), Json("{}"), "\"1\"")).StatusCode.ShouldBe(HttpStatusCode.Forbidden, $"{endpoint[0]} {endpoint[1]}");
        }

        (await look.GetAsync("/api/jobs")).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await look.PostAsync("/api/sensors/units", new { }))!.StatusCode.ShouldNotBe(HttpStatusCode.Forbidden);
    }

    [Theory]
    [MemberData(nameof(Rows))]
    public async Task What_is_not_there_is_not_found(int row)
    {
        var (method, path, body) = Table[row];
        var lead = await shop.LeadAsync();
        var right = body is "readings" ? Readings(lead.Person) : body;
        var answer = await lead.SendAsync(new(method), path, right is null ? null : Json(JsonSerializer.Serialize(right)), "\"1\"");

        answer.StatusCode.ShouldBe(HttpStatusCode.NotFound, $"{method} {path}: {await answer.Content.ReadAsStringAsync(TestContext.Current.CancellationToken)}");
        answer.Content.Headers.ContentType!.MediaType.ShouldBe("application/problem+json");
    }

    [Theory]
    [MemberData(nameof(Bodies))]
    public async Task What_cannot_be_read_is_refused_and_never_a_fault_of_the_server(string method, string path)
    {
        var lead = await shop.LeadAsync();
        foreach (var body in new[] { "{", "", "null", "[]", "5", "\"x\"", "{\"a\":1,\"a\":2}", $"{{\"x\":{new string('[', 5000)}", "\u0000", "{\"key\":\"nonsense\",\"step\":\"one\"}" })
        {
            var answer = await lead.SendAsync(new(method), path, Json(body), "\"1\"");
            ((int)answer.StatusCode).ShouldBeInRange(400, 499, $"{method} {path} with {body[..Math.Min(body.Length, 30)]}");
        }

        using var wrongKind = new StringContent("<x/>", Encoding.UTF8, "text/xml");
        ((int)(await lead.SendAsync(new(method), path, wrongKind, "\"1\"")).StatusCode).ShouldBeInRange(400, 499);
    }

    [Theory]
    [InlineData("{\"\":null}")]
    [InlineData("{\"wire\":\"W1\"}")]
    public async Task A_fault_that_does_not_say_its_kind_is_refused_in_words(string fault)
    {
        var answer = await (await shop.LeadAsync()).SendAsync(HttpMethod.Post, "/api/runs/1/faults/1/cause", Json($"{{\"key\":\"{Key}\",\"faults\":[{fault}],\"words\":\"broken\"}}"));
        answer.StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        (await answer.Content.ReadAsStringAsync(TestContext.Current.CancellationToken)).ShouldContain("does not say in");
    }

    [Theory]
    [MemberData(nameof(Bodies))]
    public async Task What_is_too_large_is_refused_before_it_is_read(string method, string path)
    {
        var lead = await shop.LeadAsync();
        var answer = await lead.SendAsync(new(method), path, new ByteArrayContent(new byte[21 * 1024 * 1024]) { Headers = { ContentType = new("application/json") } }, "\"1\"");

        // A file for a job that is not there is told so first.
        answer.StatusCode.ShouldBe(path.Contains("/loom?", StringComparison.Ordinal) ? HttpStatusCode.NotFound : HttpStatusCode.RequestEntityTooLarge, $"{method} {path}");
    }

    [Theory]
    [MemberData(nameof(Bodies))]
    public async Task A_change_without_the_pages_token_is_refused(string method, string path) =>
        (await (await shop.LeadAsync()).SendAsync(new(method), path, Json("{}"), withToken: false)).StatusCode.ShouldBe(HttpStatusCode.BadRequest);

    private static object Readings(Guid person) => new
    {
        takenBy = person,
        readings = new[] { new { key = Key, step = 1, ohms = 0.04, overRange = false, fromMeter = false, takenAt = DateTimeOffset.UtcNow, seen = 0 } },
    };

    private static StringContent Json(string body) => new(body, Encoding.UTF8, "application/json");

    /// <summary>Endpoints that are not open to anybody, as <c>METHOD /path/{id}</c>.</summary>
    private IEnumerable<string> Endpoints(Func<RouteEndpoint, bool>? which = null) => shop.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>()
        .Where(e => which?.Invoke(e) ?? true)
        .Where(e => e.RoutePattern.RawText is { } path && !path.StartsWith("/p/", StringComparison.Ordinal) && !path.StartsWith("/r/", StringComparison.Ordinal) && path != "/health" && !path.Contains('*', StringComparison.Ordinal))
        .SelectMany(e => (e.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods ?? ["GET"]).Select(m => $"{m} {Constraint().Replace(e.RoutePattern.RawText!, "")}"))
        .Distinct();

    private static Regex Pattern(string endpoint) => new($"^{Parameter().Replace(Regex.Escape(endpoint).Replace("\\{", "{", StringComparison.Ordinal), "[^/]+")}$");

    private static string Filled(string path) => Parameter().Replace(path, path.Contains("/accounts/", StringComparison.Ordinal) || path.Contains("/me/sessions/", StringComparison.Ordinal) ? $"{Key}" : "999999");

    [GeneratedRegex(@":\w+(?=})")]
    private static partial Regex Constraint();

    [GeneratedRegex(@"\{\w+\}")]
    private static partial Regex Parameter();
}
