using System.Net;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.Mvc.Testing.Handlers;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Extensions.DependencyInjection;

namespace WiseLoom.Web.Tests;

/// <summary>Who comes in and by which way: browsers that are known, hosts that are served, networks in which instruments answer.</summary>
public sealed class EntranceTests(Shop shop)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    /// <summary>A new browser, before a clock that stands still.</summary>
    private Task<Visitor> StrangerAsync() => Visitor.AtAsync(shop.Still.CreateClient(new() { AllowAutoRedirect = false }));

    private static object Meter(string host, int port) => new { name = $"Meter {Guid.NewGuid():n}", profile = "hand-two-wire", host, port, matrix = false, retired = false };

    [Fact]
    public async Task Nobody_is_locked_out_of_a_browser_in_which_they_have_signed_in_before()
    {
        var name = $"k{Guid.NewGuid():n}"[..20];
        var jar = new CookieContainer();
        await shop.PersonAsync(name, "technician");

        var mine = await Visitor.AtAsync(shop.Still.CreateDefaultClient(new CookieContainerHandler(jar)));
        await mine.SignInAsync(name, Visitor.Password);
        (await mine.DeleteAsync("/api/session")).EnsureSuccessStatusCode();
        await mine.RefreshAsync();

        // Somebody else guesses at the name until the next try has to wait.
        var other = await StrangerAsync();
        HttpStatusCode last;
        do
        {
            last = (await other.PostAsync("/api/session", new { signIn = name, password = "guessed" })).StatusCode;
        }
        while (last == HttpStatusCode.Unauthorized);
        last.ShouldBe(HttpStatusCode.TooManyRequests);
        (await (await StrangerAsync()).PostAsync("/api/session", new { signIn = name, password = Visitor.Password })).StatusCode.ShouldBe(HttpStatusCode.TooManyRequests, "a new browser waits");
        (await mine.PostAsync("/api/session", new { signIn = name, password = Visitor.Password })).StatusCode.ShouldBe(HttpStatusCode.NoContent, "the known one does not");

        // What a known browser guesses counts too, and only for the names that signed in there.
        await mine.RefreshAsync();
        for (var tries = 0; tries < 5; tries++)
        {
            (await mine.PostAsync("/api/session", new { signIn = name, password = "guessed" })).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        }

        (await mine.PostAsync("/api/session", new { signIn = name, password = "guessed" })).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        (await mine.PostAsync("/api/session", new { signIn = name, password = Visitor.Password })).StatusCode.ShouldBe(HttpStatusCode.TooManyRequests);
        jar.GetCookieHeader(new("http://localhost/api/session")).ShouldContain("wise-loom-browser=");
        jar.GetCookieHeader(new("http://localhost/api/jobs")).ShouldNotContain("wise-loom-browser=");
    }

    [Fact]
    public async Task Guessing_passwords_is_braked()
    {
        var stranger = await StrangerAsync();
        var answers = new List<HttpResponseMessage>();
        for (var n = 0; n < 7; n++)
        {
            answers.Add(await stranger.PostAsync("/api/session", new { signIn = " Guessed ", password = "guess" }));
        }

        answers.Select(a => (int)a.StatusCode).ShouldBe([401, 401, 401, 401, 401, 401, 429], "the sixth makes the seventh wait");
        answers[6].Headers.RetryAfter!.Delta!.Value.TotalSeconds.ShouldBe(2);
        (await answers[6].Content.ReadAsStringAsync(Cancel)).ShouldContain("The next one is looked at in");
        (await shop.TechnicianAsync()).Person.ShouldNotBe(Guid.Empty, "others at the same address come in");
    }

    [Fact]
    public async Task Of_many_guesses_at_once_no_more_are_looked_at_than_one_after_the_other()
    {
        var stranger = await StrangerAsync();
        var answers = await Task.WhenAll(Enumerable.Range(0, 25).Select(_ => stranger.PostAsync("/api/session", new { signIn = "all-at-once", password = "guess" })));
        answers.Count(a => a.StatusCode == HttpStatusCode.Unauthorized).ShouldBe(6, "five are free, and the sixth makes the others wait");
        answers.Count(a => a.StatusCode == HttpStatusCode.TooManyRequests).ShouldBe(19);
    }

    [Fact]
    public async Task Cookies_are_secure_whenever_the_request_came_over_tls_and_only_served_hosts_are_answered()
    {
        await using var beside = shop.WithWebHostBuilder(b => b.UseSetting("WISELOOM_HOSTS", "shop.example").UseSetting("Logging:LogLevel:Default", "Error"));
        using var client = beside.CreateClient(new() { AllowAutoRedirect = false, HandleCookies = false, BaseAddress = new("https://shop.example") });
        var session = await client.GetAsync(new Uri("/api/session", UriKind.Relative), Cancel);
        session.Headers.GetValues("Set-Cookie").ShouldAllBe(c => c.Contains("; secure", StringComparison.OrdinalIgnoreCase));
        using var plain = beside.CreateClient(new() { AllowAutoRedirect = false, HandleCookies = false, BaseAddress = new("http://shop.example") });
        (await plain.GetAsync(new Uri("/api/session", UriKind.Relative), Cancel)).Headers.GetValues("Set-Cookie").ShouldAllBe(c => !c.Contains("; secure", StringComparison.OrdinalIgnoreCase));
        using var other = beside.CreateClient(new() { AllowAutoRedirect = false, BaseAddress = new("https://other.example") });
        (await other.GetAsync(new Uri("/api/session", UriKind.Relative), Cancel)).StatusCode.ShouldBe(HttpStatusCode.BadRequest);
    }

    [Fact]
    public async Task Instruments_answer_in_the_owners_networks_only_and_never_where_the_database_does()
    {
        var lead = await shop.LeadAsync();
        var database = new Npgsql.NpgsqlConnectionStringBuilder(shop.Database);
        foreach (var (host, port) in new[] { ("203.0.113.9", 5025), ("::ffff:203.0.113.9", 5025), ("127.0.0.1", database.Port), ("localhost", database.Port), ("0.0.0.0", database.Port) })
        {
            var answer = await lead.PostAsync("/api/instruments", Meter(host, port));
            answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity, $"{host}:{port}");
            (await Problems.OfAsync(answer)).ShouldContain(p => p.At == "/host", $"{host}:{port}");
        }

        var entered = await Visitor.BodyAsync(await lead.PostAsync("/api/instruments", Meter("127.0.0.1", 1)), "a meter on loopback");
        await using var beside = shop.WithWebHostBuilder(b => b.UseSetting("WISELOOM_INSTRUMENTS", "10.9.0.0/16").UseSetting("Logging:LogLevel:Default", "Error"));
        var there = await (await Visitor.AtAsync(beside.CreateClient(new() { AllowAutoRedirect = false }))).SignInAsync("ada", "nothing-left-open");
        (await there.PostForAsync($"/api/instruments/{entered.GetProperty("id").GetInt64()}/try", new { })).GetProperty("problem").GetString()!.ShouldContain("not allowed");
    }

    [Fact]
    public async Task A_technician_who_tries_a_meter_learns_nothing_of_what_answers_there()
    {
        var (lead, technician) = (await shop.LeadAsync(), await shop.TechnicianAsync());
        using var hangsUp = new System.Net.Sockets.TcpListener(IPAddress.Loopback, 0);
        hangsUp.Start();
        _ = HangUpAsync(hangsUp);
        var said = new List<string>();
        foreach (var port in new[] { 1, ((IPEndPoint)hangsUp.LocalEndpoint).Port })
        {
            var meter = await Visitor.BodyAsync(await lead.PostAsync("/api/instruments", Meter("127.0.0.1", port)), "a meter");
            var tried = await technician.PostForAsync($"/api/instruments/{meter.GetProperty("id").GetInt64()}/try", new { });
            said.Add(tried.GetProperty("problem").GetString()!.Replace(meter.GetProperty("name").GetString()!, "The meter", StringComparison.Ordinal));
        }

        said.Distinct().ShouldBe(["The meter does not answer as a meter does. A lead is told more."]);
    }

    [Fact]
    public async Task A_transducer_with_two_equal_volts_is_a_problem_at_its_place()
    {
        var technician = await shop.TechnicianAsync();
        async Task<HttpResponseMessage> UnitsAsync(double low, double high, double volts) =>
            await technician.PostAsync("/api/sensors/units", new { scale = new { lowVolts = low, lowUnits = 0, highVolts = high, highUnits = 100, unit = "kPa" }, volts });
        (await Problems.OfAsync(await UnitsAsync(1, 1, 1))).ShouldContain(p => p.At == "/scale/highVolts");
        (await Problems.OfAsync(await UnitsAsync(0.5, 4.5, 1e14))).ShouldContain(p => p.At == "/volts");
        (await Problems.OfAsync(await UnitsAsync(-1e14, 4.5, 1))).ShouldContain(p => p.At == "/scale");
        (await UnitsAsync(0.5, 4.5, 2.5)).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    private static async Task HangUpAsync(System.Net.Sockets.TcpListener listener)
    {
        while (!Cancel.IsCancellationRequested)
        {
            (await listener.AcceptTcpClientAsync(Cancel)).Dispose();
        }
    }
}
