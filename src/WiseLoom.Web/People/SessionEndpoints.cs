using System.Collections.Immutable;
using System.Globalization;
using System.Security.Claims;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using WiseLoom.Core.Shop;
using WiseLoom.Store;
using WiseLoom.Web.Demo;
using WiseLoom.Web.Http;

namespace WiseLoom.Web.People;

/// <summary>Somebody who is signed in.</summary>
/// <param name="MayChange">False for who may only look.</param>
/// <param name="IsLead">Whether access can be given to others.</param>
internal sealed record PersonView(Guid Id, string Name, string Role, bool MayChange, bool IsLead);

/// <summary>Somebody to whom work can be given, or could once.</summary>
/// <param name="MayWork">False for who is disabled or may only look.</param>
internal sealed record WorkerView(Guid Id, string Name, string Role, bool MayWork);

/// <summary>A demo person, named on the sign-in page in demo mode only.</summary>
internal sealed record DemoPersonView(string SignIn, string Name, string Role, string Password);

/// <summary>The session: who it is, the token every change must carry, and the demo people.</summary>
/// <param name="NeedsLead">Whether there is no lead yet: the first one is made with the code that the terminal shows.</param>
internal sealed record SessionView(PersonView? Person, string Token, ImmutableArray<DemoPersonView> Demo, bool NeedsLead);

internal sealed record SignInRequest(string SignIn, string Password);

/// <summary>An open session.</summary>
/// <param name="Here">Whether it is the one that asks.</param>
internal sealed record OpenSessionView(Guid Id, DateTimeOffset BegunAt, DateTimeOffset SeenAt, string Address, string Browser, bool Here);

internal static class SessionEndpoints
{
    /// <summary>No sign-in name and no password is longer.</summary>
    private const int MostName = 60, MostPassword = 1000;

    internal static void MapSession(this RouteGroupBuilder api)
    {
        api.MapGet("/session", SessionAsync).AllowAnonymous().WithSummary("Who is signed in, and the token that changes must carry");
        api.MapPost("/session", SignInAsync).AllowAnonymous().WithMetadata(new ChangesNothing()).WithSummary("Sign in");
        api.MapDelete("/session", SignOutAsync).WithMetadata(new ChangesNothing()).WithSummary("Sign out");
        api.MapGet("/people", PeopleAsync).WithSummary("The people to whom work can be given");
        api.MapGet("/me/sessions", MineAsync).WithSummary("One's own open sessions");
        api.MapDelete("/me/sessions/{id:guid}", EndAsync).WithMetadata(new ChangesNothing()).WithSummary("End one of one's own sessions");
    }

    private static async Task<SessionView> SessionAsync(HttpContext context, IAntiforgery antiforgery, DemoWorld demo, FirstLead first, CancellationToken cancel)
    {
        var token = antiforgery.GetAndStoreTokens(context).RequestToken!;
        var user = context.User;
        return user.Identity?.IsAuthenticated == true
            ? new(new(user.Id(), user.Name(), user.Role(), user.Role() != Role.Look, user.Role() == Role.Lead), token, [], false)
            : new(null, token, demo.People, await first.IsMissingAsync(cancel));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> SignInAsync(
        SignInRequest request, HttpContext context, PeopleStore people, SessionStore store, Sessions sessions, AuditStore audit, SignInTryStore tries, KnownBrowser known, IPasswordHasher<Person> hasher, TimeProvider clock, CancellationToken cancel)
    {
        if (request.SignIn.Length > MostName || request.Password.Length > MostPassword)
        {
            return Wrong();
        }

        var (address, browser, now) = (context.Address(), known.Of(context, request.SignIn), clock.GetUtcNow());
        if (await tries.CountAsync(request.SignIn, address, browser, now, cancel) is var wait && wait > TimeSpan.Zero)
        {
            return TooMany(context, wait);
        }

        var person = await people.BySignInAsync(request.SignIn.Trim(), cancel);

        // A stranger's name costs as much time as a wrong password, so that names cannot be found out by the clock.
        var checkedAgainst = person is { PasswordHash: not null } ? person : Nobody;
        var right = hasher.VerifyHashedPassword(checkedAgainst, checkedAgainst.PasswordHash!, request.Password) != PasswordVerificationResult.Failed;
        if (person?.PasswordHash is null || !right)
        {
            await RefuseAsync(person is null ? "a name that nobody has" : person.PasswordHash is null ? "no password is set yet" : "wrong password");
            return Wrong();
        }

        // Only who knows the password is told more.
        await tries.RightAsync(request.SignIn, address, browser, cancel);
        if (!sessions.MayComeIn(person))
        {
            await RefuseAsync(person.Disabled ? "the account is disabled" : "the example world is not shown");
            return person.Disabled
                ? Refusal.Forbidden("This account is disabled. A lead can enable it again.")
                : Refusal.Forbidden("This is a person of the example world, which is not shown here.");
        }

        if (await store.BeginAsync(person, address, context.Request.Headers.UserAgent.ToString(), now, cancel) is not { } session)
        {
            return Wrong();
        }

        await context.SignInAsync(CookieAuthenticationDefaults.AuthenticationScheme, ShopSignIn.CookieOf(session), new AuthenticationProperties { IsPersistent = true });
        known.Keep(context, request.SignIn);
        return TypedResults.NoContent();

        Task RefuseAsync(string why) => audit.AddAsync(new(AuditEvent.SignInRefused, now, person?.Id, null, address, why), cancel);
    }

    /// <summary>A try has to wait.</summary>
    internal static ProblemHttpResult TooMany(HttpContext context, TimeSpan wait)
    {
        var seconds = (int)Math.Ceiling(wait.TotalSeconds);
        context.Response.Headers.RetryAfter = seconds.ToString(CultureInfo.InvariantCulture);
        return TypedResults.Problem(title: $"Too many tries went wrong. The next one is looked at in {Say.Duration(seconds)}.", statusCode: StatusCodes.Status429TooManyRequests);
    }

    private static ProblemHttpResult Wrong() => TypedResults.Problem(title: "Name and password do not fit together.", statusCode: StatusCodes.Status401Unauthorized);

    private static async Task<NoContent> SignOutAsync(HttpContext context, ClaimsPrincipal user, SessionStore store, Sessions sessions, TimeProvider clock, CancellationToken cancel)
    {
        await store.EndAsync(user.Session(), user.Id(), new(AuditEvent.SignedOut, clock.GetUtcNow(), user.Id(), user.Id(), context.Address(), ""), cancel);
        sessions.AskAnew();
        await context.SignOutAsync(CookieAuthenticationDefaults.AuthenticationScheme);
        return TypedResults.NoContent();
    }

    private static async Task<IEnumerable<WorkerView>> PeopleAsync(PeopleStore people, CancellationToken cancel) =>
        (await people.AllAsync(cancel)).Select(p => new WorkerView(p.Id, p.Name, p.Role, p.MayWork));

    private static async Task<IEnumerable<OpenSessionView>> MineAsync(ClaimsPrincipal user, SessionStore store, TimeProvider clock, CancellationToken cancel) =>
        (await store.OfAsync(user.Id(), clock.GetUtcNow(), cancel)).Select(s => new OpenSessionView(s.Id, s.BegunAt, s.SeenAt, s.Address, s.Browser, s.Id == user.Session()));

    private static async Task<Results<NoContent, ProblemHttpResult>> EndAsync(Guid id, HttpContext context, ClaimsPrincipal user, SessionStore store, Sessions sessions, TimeProvider clock, CancellationToken cancel)
    {
        var ended = await store.EndAsync(id, user.Id(), new(AuditEvent.SessionEnded, clock.GetUtcNow(), user.Id(), user.Id(), context.Address(), "one of one’s own"), cancel);
        sessions.AskAnew();
        return ended ? TypedResults.NoContent() : Refusal.NotFound("session");
    }

    private static readonly Person Nobody = MakeNobody();

    private static Person MakeNobody()
    {
        var nobody = new Person(Guid.Empty, "", "", "", null);
        return nobody with { PasswordHash = new PasswordHasher<Person>().HashPassword(nobody, Guid.NewGuid().ToString()) };
    }
}
