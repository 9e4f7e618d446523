using System.Net.Http.Json;
using System.Text.Json;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

[assembly: AssemblyFixture(typeof(WiseLoom.Web.Tests.Shop))]

namespace WiseLoom.Web.Tests;

/// <summary>The application against a real PostgreSQL, in a database of its own, with the demo world in it.</summary>
public sealed class Shop : WebApplicationFactory<Program>, IAsyncLifetime
{
    private static readonly string TestServerConnection = Environment.GetEnvironmentVariable("WISELOOM_TEST_DB")
        ?? throw new InvalidOperationException("WISELOOM_TEST_DB is not set: run ./wise-loom test, which starts a PostgreSQL for the tests.");

    /// <summary>Seconds that a busy machine may take for a connection or a command: what is away is tested by taking it away.</summary>
    private const int Patience = 120;

    /// <summary>Connection string of this run's database.</summary>
    public string Database { get; } = new NpgsqlConnectionStringBuilder(TestServerConnection) { Database = $"test_{Guid.NewGuid():n}", Timeout = Patience, CommandTimeout = Patience }.ConnectionString;

    /// <summary>The browser that prints packs; null for the usual one.</summary>
    public string? Chromium { get; init; }

    /// <summary>Where a test may link a serial port of this server to.</summary>
    public string SerialPort { get; } = Path.Combine(Path.GetTempPath(), $"port-{Guid.NewGuid():n}");

    public static string DemoFolder => Path.Combine(AppContext.BaseDirectory, "demo");

    /// <summary>How much is tried: for each change, or before a release (<c>./wise-loom test --deep</c>).</summary>
    public static int Effort(int usual, int deep) => Environment.GetEnvironmentVariable("WISELOOM_DEEP") is "1" ? deep : usual;

    /// <summary>Starts the application once, before the first test asks for it, on a copy of the example shop where one was made.</summary>
    public async ValueTask InitializeAsync()
    {
        if (Environment.GetEnvironmentVariable("WISELOOM_TEST_TEMPLATE") is { Length: > 0 } template)
        {
            await using var server = NpgsqlDataSource.Create(TestServerConnection);
            var quote = new NpgsqlCommandBuilder();
            await using var copy = server.CreateCommand($"create database {quote.QuoteIdentifier(new NpgsqlConnectionStringBuilder(Database).Database!)} template {quote.QuoteIdentifier(template)}");
            copy.CommandTimeout = Patience;
            await copy.ExecuteNonQueryAsync();
        }

        Server.PreserveExecutionContext = false;
    }

    /// <summary>A shop for one test alone.</summary>
    public static async Task<Shop> OpenAsync()
    {
        var shop = new Shop();
        await shop.InitializeAsync();
        return shop;
    }

    protected override void ConfigureWebHost(IWebHostBuilder builder)
    {
        builder.UseSetting("WISELOOM_DB", Database);
        builder.UseSetting("WISELOOM_SECRET", new string('7', 64));
        builder.UseSetting("WISELOOM_DEMO", DemoFolder);
        builder.UseSetting("WISELOOM_STANDINS", "59151");
        builder.UseSetting("WISELOOM_SERIAL", SerialPort);
        builder.UseSetting("Logging:LogLevel:Default", "Error");
        if (Chromium is not null)
        {
            builder.UseSetting("WISELOOM_CHROMIUM", Chromium);
        }
    }

    /// <summary>The same shop in an application whose clock stands still: no wait ends, however slow the machine is.</summary>
    public WebApplicationFactory<Program> Still => still ??= WithWebHostBuilder(b => b.ConfigureTestServices(s => s.AddSingleton<TimeProvider>(new StandingClock(DateTimeOffset.UtcNow))));

    private WebApplicationFactory<Program>? still;

    /// <summary>A browser's worth of cookies, nobody signed in.</summary>
    public async Task<Visitor> StrangerAsync() => await Visitor.AtAsync(CreateClient(new() { AllowAutoRedirect = false }));

    public async Task<Visitor> TechnicianAsync() => await (await StrangerAsync()).SignInAsync("mira", "copper-and-crimp");

    public async Task<Visitor> LeadAsync() => await (await StrangerAsync()).SignInAsync("ada", "nothing-left-open");

    /// <summary>Somebody new who may only look.</summary>
    public async Task<Visitor> LookAsync() => await PersonAsync($"look-{Guid.NewGuid():n}", "look");

    /// <summary>Somebody new, from the account to the sign-in.</summary>
    public async Task<Visitor> PersonAsync(string signIn, string role)
    {
        var link = await (await LeadAsync()).PostForAsync("/api/accounts", new { signIn, name = $"{signIn} of the shop", role });
        var stranger = await StrangerAsync();
        (await stranger.PostAsync("/api/password-links/use", new { code = link.GetProperty("code").GetString(), password = Visitor.Password })).EnsureSuccessStatusCode();
        return await stranger.SignInAsync(signIn, Visitor.Password);
    }

    /// <summary>Mira, signed in, and her session's cookie as somebody else could have copied it.</summary>
    public async Task<(string Cookie, Visitor Visitor)> CopiedCookieAsync()
    {
        var jar = new System.Net.CookieContainer();
        var visitor = await (await Visitor.AtAsync(CreateDefaultClient(new Microsoft.AspNetCore.Mvc.Testing.Handlers.CookieContainerHandler(jar)))).SignInAsync("mira", "copper-and-crimp");
        return (jar.GetCookieHeader(new("http://localhost/")), visitor);
    }

    /// <summary>Does something straight in the database.</summary>
    public async Task DoAsync(string sql)
    {
        await using var connection = new NpgsqlConnection(Database);
        await connection.OpenAsync(TestContext.Current.CancellationToken);
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync(TestContext.Current.CancellationToken);
    }

    /// <summary>A count straight from the database.</summary>
    public async Task<long> CountAsync(string sql, long run)
    {
        await using var connection = new NpgsqlConnection(Database);
        await connection.OpenAsync(TestContext.Current.CancellationToken);
        await using var command = new NpgsqlCommand(sql, connection);
        command.Parameters.AddWithValue("run", run);
        return (long)(await command.ExecuteScalarAsync(TestContext.Current.CancellationToken))!;
    }
}

/// <summary>A reading as a client sends it.</summary>
/// <param name="Seen">Number of the last event that was seen; null for all there are.</param>
public sealed record Sent(Guid Key, int Step, double? Ohms = null, bool OverRange = false, double? Volts = null, long? Seen = null, DateTimeOffset? At = null)
{
    /// <summary>A reading with a key of its own.</summary>
    public static Sent New(int step, double? ohms, long? seen = null) => new(Guid.CreateVersion7(), step, ohms, ohms is null, null, seen);
}

/// <summary>Somebody at the application's address, with the token that changes must carry.</summary>
public sealed class Visitor
{
    /// <summary>Of everybody whom a test makes.</summary>
    public const string Password = "row-two-fifth-from-left";

    private readonly HttpClient client;
    private string token = "";

    /// <summary>Number of who is signed in; empty for nobody.</summary>
    public Guid Person { get; private set; }

    private Visitor(HttpClient client) => this.client = client;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public static async Task<Visitor> AtAsync(HttpClient client)
    {
        var visitor = new Visitor(client);
        await visitor.RefreshTokenAsync();
        return visitor;
    }

    /// <summary>Fetches the token of whoever is signed in now.</summary>
    public Task RefreshAsync() => RefreshTokenAsync();

    public async Task<Visitor> SignInAsync(string name, string password)
    {
        (await PostAsync("/api/session", new { signIn = name, password })).EnsureSuccessStatusCode();
        await RefreshTokenAsync();
        return this;
    }

    public Task<HttpResponseMessage> GetAsync(string path) => client.GetAsync(new Uri(path, UriKind.Relative), Cancel);

    public async Task<JsonElement> ReadAsync(string path)
    {
        var answer = await GetAsync(path);
        answer.IsSuccessStatusCode.ShouldBeTrue($"{path} answered {(int)answer.StatusCode}");
        return await answer.Content.ReadFromJsonAsync<JsonElement>(Cancel);
    }

    public Task<HttpResponseMessage> PostAsync(string path, object body) => SendAsync(HttpMethod.Post, path, JsonContent.Create(body));

    public Task<HttpResponseMessage> PutAsync(string path, object body, string? ifMatch = null) => SendAsync(HttpMethod.Put, path, JsonContent.Create(body), ifMatch);

    public Task<HttpResponseMessage> DeleteAsync(string path) => SendAsync(HttpMethod.Delete, path, null);

    public async Task<JsonElement> PostForAsync(string path, object body) => await BodyAsync(await PostAsync(path, body), path);

    /// <summary>The same by somebody who hangs up.</summary>
    public Task<HttpResponseMessage> PostUntilAsync(string path, object body, CancellationToken leaves) => SendAsync(HttpMethod.Post, path, JsonContent.Create(body), cancel: leaves);

    public async Task<HttpResponseMessage> SendAsync(HttpMethod method, string path, HttpContent? content, string? ifMatch = null, bool withToken = true, CancellationToken? cancel = null)
    {
        using var request = new HttpRequestMessage(method, path) { Content = content };
        if (withToken)
        {
            request.Headers.Add("X-Wise-Loom-Token", token);
        }

        if (ifMatch is not null)
        {
            request.Headers.TryAddWithoutValidation("If-Match", ifMatch);
        }

        return await client.SendAsync(request, cancel ?? Cancel);
    }

    /// <summary>Brings a loom file in as the job's newest revision, knowing of the one before.</summary>
    public async Task<HttpResponseMessage> ImportAsync(long job, byte[] file, string? name = null)
    {
        var newest = (await ReadAsync($"/api/jobs/{job}")).GetProperty("revisionId");
        return await ImportAfterAsync(job, newest.ValueKind == JsonValueKind.Null ? 0 : newest.GetInt64(), file, name);
    }

    /// <summary>The same, knowing of a revision that may not be the newest any more.</summary>
    public Task<HttpResponseMessage> ImportAfterAsync(long job, long after, byte[] file, string? name = null)
    {
        var content = new ByteArrayContent(file);
        content.Headers.ContentType = new("application/json");
        return SendAsync(HttpMethod.Post, $"/api/jobs/{job}/loom?after={after}{(name is null ? "" : $"&name={name}")}", content);
    }

    /// <summary>Sends readings as this person's; those that do not say what had been seen have seen everything.</summary>
    public async Task<JsonElement> TakeAsync(long run, params Sent[] readings) => await BodyAsync(await PostReadingsAsync(run, readings), "readings");

    /// <summary>The same, for an answer that may be a refusal.</summary>
    public async Task<HttpResponseMessage> PostReadingsAsync(long run, IEnumerable<Sent> readings, Guid? takenBy = null)
    {
        var seen = (await ReadAsync($"/api/runs/{run}/since/{long.MaxValue}")).GetProperty("lastEvent").GetInt64();
        var sent = readings.Select(r => new { r.Key, r.Step, r.Ohms, r.OverRange, FromMeter = false, TakenAt = r.At ?? DateTimeOffset.UtcNow, Seen = r.Seen ?? seen, r.Volts });
        return await PostAsync($"/api/runs/{run}/readings", new { takenBy = takenBy ?? Person, readings = sent });
    }

    /// <summary>Sends a file as it is.</summary>
    public Task<HttpResponseMessage> SendFileAsync(string path, byte[] file)
    {
        var content = new ByteArrayContent(file);
        content.Headers.ContentType = new("application/octet-stream");
        return SendAsync(HttpMethod.Post, path, content);
    }

    /// <summary>Opens an answer that goes on for as long as one listens.</summary>
    public Task<Stream> OpenAsync(string path) => client.GetStreamAsync(new Uri(path, UriKind.Relative), Cancel);

    /// <summary>Asks, with the page's token.</summary>
    public Task<HttpResponseMessage> AskAsync(HttpRequestMessage request, HttpCompletionOption until = HttpCompletionOption.ResponseContentRead)
    {
        request.Headers.Add("X-Wise-Loom-Token", token);
        return client.SendAsync(request, until, Cancel);
    }

    /// <summary>Opens a stream, whatever is sent for it.</summary>
    public async Task<Stream> StreamAsync(HttpRequestMessage request)
    {
        var answer = await AskAsync(request, HttpCompletionOption.ResponseHeadersRead);
        answer.EnsureSuccessStatusCode();
        return await answer.Content.ReadAsStreamAsync(Cancel);
    }

    /// <summary>Follows a trace until it says what is waited for, and hangs up; gives breaks, the shortest break that shows, and whether the worst was over range.</summary>
    public async Task<(int Breaks, double Sees, bool WorstOver)> FollowAsync(string path, object body, Func<JsonElement, bool> until)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, path) { Content = JsonContent.Create(body) };
        request.Headers.Add("X-Wise-Loom-Token", token);
        using var answer = await client.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, Cancel);
        answer.EnsureSuccessStatusCode();
        using var lines = new StreamReader(await answer.Content.ReadAsStreamAsync(Cancel));
        for (var line = await lines.ReadLineAsync(Cancel); line is not null; line = await lines.ReadLineAsync(Cancel))
        {
            if (line.StartsWith("data:", StringComparison.Ordinal) && JsonDocument.Parse(line[5..]).RootElement is var view && until(view))
            {
                return (view.GetProperty("breaks").GetInt32(), view.GetProperty("seesSeconds").GetDouble(), view.GetProperty("worstOverRange").GetBoolean());
            }
        }

        throw new InvalidOperationException("The trace ended before that.");
    }

    /// <summary>Starts a run and gives it as the bench shows it.</summary>
    public async Task<JsonElement> StartRunAsync(long job, object start)
    {
        await PostForAsync($"/api/jobs/{job}/runs", start);
        return (await ReadAsync($"/api/jobs/{job}/bench")).GetProperty("run");
    }

    /// <summary>Signs a job's pack, having seen all that happened.</summary>
    public async Task<HttpResponseMessage> SignAsync(long job) =>
        await PostAsync($"/api/jobs/{job}/packs", new { changes = "", seen = (await ReadAsync($"/api/jobs/{job}/handover")).GetProperty("lastEvent").GetInt64() });

    /// <summary>A new job with a loom in it.</summary>
    public async Task<long> JobWithLoomAsync(byte[] file)
    {
        var job = (await PostForAsync("/api/jobs", new { customer = "Hollow Lane Orchards", machine = "Test fan", promised = (string?)null, assignedId = (string?)null, waitingFor = (string?)null })).GetProperty("id").GetInt64();
        await BodyAsync(await ImportAsync(job, file), "taking the loom in");
        return job;
    }

    public static async Task<JsonElement> BodyAsync(HttpResponseMessage answer, string what)
    {
        var text = await answer.Content.ReadAsStringAsync(Cancel);
        answer.IsSuccessStatusCode.ShouldBeTrue($"{what} answered {(int)answer.StatusCode}: {text}");
        return JsonSerializer.Deserialize<JsonElement>(text);
    }

    private async Task RefreshTokenAsync()
    {
        var session = await ReadAsync("/api/session");
        token = session.GetProperty("token").GetString()!;
        Person = session.GetProperty("person") is { ValueKind: JsonValueKind.Object } person ? person.GetProperty("id").GetGuid() : Guid.Empty;
    }
}
