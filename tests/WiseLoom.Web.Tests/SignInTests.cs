using Microsoft.AspNetCore.Hosting;
using Microsoft.Extensions.DependencyInjection;
using System.Net;
using System.Text.Json;

namespace WiseLoom.Web.Tests;

public sealed class SignInTests(Shop shop)
{
    [Theory]
    [InlineData("/api/jobs")]
    [InlineData("/api/jobs/1")]
    [InlineData("/api/jobs/1/bench")]
    [InlineData("/api/jobs/1/faults")]
    [InlineData("/api/jobs/1/handover")]
    [InlineData("/api/jobs/1/events")]
    [InlineData("/api/revisions/1/loom")]
    [InlineData("/api/revisions/1/file")]
    [InlineData("/api/runs/1/steps/1/reason")]
    [InlineData("/api/runs/1/steps/1/causes")]
    [InlineData("/api/packs/1/html")]
    [InlineData("/api/packs/1/pdf")]
    [InlineData("/api/packs/1/json")]
    [InlineData("/api/people")]
    [InlineData("/api/nothing-here")]
    [InlineData("/openapi/v1.json")]
    public async Task A_stranger_reads_nothing(string path) =>
        (await (await shop.StrangerAsync()).GetAsync(path)).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);

    [Theory]
    [InlineData("/api/jobs")]
    [InlineData("/api/jobs/1/loom")]
    [InlineData("/api/jobs/1/runs")]
    [InlineData("/api/runs/1/readings")]
    [InlineData("/api/runs/1/measure")]
    [InlineData("/api/runs/1/skips")]
    [InlineData("/api/runs/1/faults")]
    [InlineData("/api/faults/1/fix")]
    [InlineData("/api/jobs/1/packs")]
    [InlineData("/api/packs/1/share")]
    public async Task A_stranger_changes_nothing(string path) =>
        (await (await shop.StrangerAsync()).PostAsync(path, new { })).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);

    [Fact]
    public async Task Every_endpoint_but_sign_in_asks_who_it_is()
    {
        var open = shop.Services.GetRequiredService<Microsoft.AspNetCore.Routing.EndpointDataSource>().Endpoints
            .OfType<Microsoft.AspNetCore.Routing.RouteEndpoint>()
            .Where(e => e.Metadata.GetMetadata<Microsoft.AspNetCore.Authorization.IAllowAnonymous>() is not null
                || e.Metadata.GetMetadata<Microsoft.AspNetCore.Authorization.IAuthorizeData>() is null)
            .Select(e => e.RoutePattern.RawText);

        open.Distinct().ShouldBe(["/api/session", "/health", "/p/{token}", "/p/{token}/pdf"], ignoreOrder: true);
        await Task.CompletedTask;
    }

    [Fact]
    public async Task Health_and_the_session_answer_anybody()
    {
        var stranger = await shop.StrangerAsync();

        (await stranger.GetAsync("/health")).StatusCode.ShouldBe(HttpStatusCode.OK);
        var session = await stranger.ReadAsync("/api/session");
        session.GetProperty("person").ValueKind.ShouldBe(JsonValueKind.Null);
        session.GetProperty("demo").GetArrayLength().ShouldBe(3);
    }

    [Theory]
    [InlineData("mira", "wrong")]
    [InlineData("nobody", "copper-and-crimp")]
    [InlineData("", "")]
    [InlineData("mira' or '1'='1", "x")]
    public async Task A_wrong_name_or_password_opens_nothing_and_does_not_say_which(string name, string password)
    {
        var stranger = await shop.StrangerAsync();
        var answer = await stranger.PostAsync("/api/session", new { signIn = name, password });

        answer.StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        (await answer.Content.ReadAsStringAsync(TestContext.Current.CancellationToken)).ShouldContain("Name and password do not fit together");
        (await stranger.GetAsync("/api/jobs")).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
    }

    [Fact]
    public async Task Guessing_passwords_is_braked()
    {
        await using var braked = shop.WithWebHostBuilder(b => b.UseSetting("WISELOOM_SIGN_INS_PER_MINUTE", "2"));
        var stranger = await Visitor.AtAsync(braked.CreateClient());
        async Task<HttpStatusCode> GuessAsync() => (await stranger.PostAsync("/api/session", new { signIn = "mira", password = "guess" })).StatusCode;

        (await GuessAsync()).ShouldBe(HttpStatusCode.Unauthorized);
        (await GuessAsync()).ShouldBe(HttpStatusCode.Unauthorized);
        (await GuessAsync()).ShouldBe(HttpStatusCode.TooManyRequests);
    }

    [Fact]
    public async Task Who_is_signed_in_is_known_until_signing_out()
    {
        var visitor = await shop.TechnicianAsync();
        var person = (await visitor.ReadAsync("/api/session")).GetProperty("person");
        (person.GetProperty("name").GetString(), person.GetProperty("role").GetString()).ShouldBe(("Mira Solstad", "technician"));

        (await visitor.DeleteAsync("/api/session")).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await visitor.GetAsync("/api/jobs")).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
    }

    [Fact]
    public async Task The_session_cookie_is_closed_to_scripts_and_other_sites()
    {
        var client = shop.CreateClient(new() { HandleCookies = false });
        var first = await client.GetAsync(new Uri("/api/session", UriKind.Relative), TestContext.Current.CancellationToken);

        first.Headers.GetValues("Set-Cookie").ShouldAllBe(c => c.Contains("samesite=strict", StringComparison.OrdinalIgnoreCase) && c.Contains("httponly", StringComparison.OrdinalIgnoreCase));
    }

    [Fact]
    public async Task A_change_without_the_token_is_refused()
    {
        var visitor = await shop.TechnicianAsync();
        var answer = await visitor.SendAsync(HttpMethod.Post, "/api/jobs", System.Net.Http.Json.JsonContent.Create(new { customer = "a", machine = "b" }), withToken: false);

        answer.StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        (await answer.Content.ReadAsStringAsync(TestContext.Current.CancellationToken)).ShouldContain("urn:wise-loom:token");
    }

    [Fact]
    public async Task Pages_may_run_no_script_but_their_own()
    {
        var policy = (await (await shop.StrangerAsync()).GetAsync("/health")).Headers.GetValues("Content-Security-Policy").Single();

        policy.ShouldContain("default-src 'none'");
        policy.ShouldContain("script-src 'self';");
        policy.ShouldNotContain("unsafe");
    }
}
