using Microsoft.AspNetCore.Hosting;
using Microsoft.Extensions.DependencyInjection;
using System.Net;
using System.Text.Json;

namespace WiseLoom.Web.Tests;

public sealed class SignInTests(Shop shop)
{
    [Fact]
    public async Task Every_endpoint_but_sign_in_asks_who_it_is()
    {
        var open = shop.Services.GetRequiredService<Microsoft.AspNetCore.Routing.EndpointDataSource>().Endpoints
            .OfType<Microsoft.AspNetCore.Routing.RouteEndpoint>()
            .Where(e => e.Metadata.GetMetadata<Microsoft.AspNetCore.Authorization.IAllowAnonymous>() is not null
                || e.Metadata.GetMetadata<Microsoft.AspNetCore.Authorization.IAuthorizeData>() is null)
            .Select(e => e.RoutePattern.RawText);

        open.Distinct().ShouldBe(["/api/session", "/api/password-links/look", "/api/password-links/use", "/api/first-lead", "/health", "/p/{token}", "/p/{token}/pdf", "/r/{token}", "/r/{token}/pack"], ignoreOrder: true);
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

    [Theory]
    [InlineData(61, 5)]
    [InlineData(4, 1001)]
    public async Task A_name_or_password_that_nobody_has_is_not_even_counted(int name, int password) =>
        (await (await shop.StrangerAsync()).PostAsync("/api/session", new { signIn = new string('x', name), password = new string('x', password) })).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);

    [Theory]
    [InlineData("10.0.0.300")]
    [InlineData("everybody")]
    public void A_proxy_that_is_no_address_keeps_the_application_from_starting(string proxy)
    {
        using var wrong = shop.WithWebHostBuilder(b => b.UseSetting("WISELOOM_PROXIES", proxy));
        Should.Throw<InvalidOperationException>(() => wrong.CreateClient()).Message.ShouldContain($"'{proxy}' is no address and no network");
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
