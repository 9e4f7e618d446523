using System.Collections.Immutable;
using System.Globalization;
using System.Security.Claims;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using WiseLoom.Core.Runs;
using WiseLoom.Store;
using WiseLoom.Web.Demo;

namespace WiseLoom.Web.People;

/// <summary>Somebody who is signed in.</summary>
internal sealed record PersonView(Guid Id, string Name, string Role);

/// <summary>A demo person, named on the sign-in page in demo mode only.</summary>
internal sealed record DemoPersonView(string SignIn, string Name, string Role, string Password);

/// <summary>The session: who it is, the token every change must carry, and the demo people.</summary>
internal sealed record SessionView(PersonView? Person, string Token, ImmutableArray<DemoPersonView> Demo);

internal sealed record SignInRequest(string SignIn, string Password);

internal static class SessionEndpoints
{
    /// <summary>No sign-in name and no password is longer.</summary>
    private const int MostName = 60, MostPassword = 1000;

    internal static void MapSession(this RouteGroupBuilder api)
    {
        api.MapGet("/session", Session).AllowAnonymous().WithSummary("Who is signed in, and the token that changes must carry");
        api.MapPost("/session", SignInAsync).AllowAnonymous().WithSummary("Sign in");
        api.MapDelete("/session", (Delegate)SignOutAsync).WithSummary("Sign out");
        api.MapGet("/people", PeopleAsync).WithSummary("The people of the shop");
    }

    /// <summary>The number of the person who is signed in.</summary>
    internal static Guid Id(this ClaimsPrincipal user) => Guid.Parse(user.FindFirstValue(ClaimTypes.NameIdentifier)!);

    internal static string Name(this ClaimsPrincipal user) => user.FindFirstValue(ClaimTypes.Name)!;

    /// <summary>Who does something, as records name them.</summary>
    internal static Hand Hand(this ClaimsPrincipal user) => new(user.Id(), user.Name());

    private static SessionView Session(HttpContext context, IAntiforgery antiforgery, DemoWorld demo)
    {
        var token = antiforgery.GetAndStoreTokens(context).RequestToken!;
        var user = context.User;
        return user.Identity?.IsAuthenticated == true
            ? new(new(user.Id(), user.Name(), user.FindFirstValue(ClaimTypes.Role)!), token, [])
            : new(null, token, demo.People);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> SignInAsync(
        SignInRequest request, HttpContext context, PeopleStore people, SignInTryStore tries, IPasswordHasher<Person> hasher, TimeProvider clock, CancellationToken cancel)
    {
        if (request.SignIn.Length > MostName || request.Password.Length > MostPassword)
        {
            return Wrong();
        }

        var address = context.Connection.RemoteIpAddress?.ToString() ?? "";
        if (await tries.CountAsync(request.SignIn, address, clock.GetUtcNow(), cancel) is var wait && wait > TimeSpan.Zero)
        {
            var seconds = (int)Math.Ceiling(wait.TotalSeconds);
            context.Response.Headers.RetryAfter = seconds.ToString(CultureInfo.InvariantCulture);
            return TypedResults.Problem(title: $"Too many tries went wrong. The next one is looked at in {Say.Duration(seconds)}.", statusCode: StatusCodes.Status429TooManyRequests);
        }

        var person = await people.BySignInAsync(request.SignIn.Trim(), cancel);

        // A stranger's name costs as much time as a wrong password, so that names cannot be found out by the clock.
        var checkedAgainst = person ?? Nobody;
        var right = hasher.VerifyHashedPassword(checkedAgainst, checkedAgainst.PasswordHash, request.Password) != PasswordVerificationResult.Failed;
        if (person is null || !right)
        {
            return Wrong();
        }

        await tries.RightAsync(request.SignIn, address, cancel);

        var identity = new ClaimsIdentity(
            [
                new(ClaimTypes.NameIdentifier, person.Id.ToString()),
                new(ClaimTypes.Name, person.Name),
                new(ClaimTypes.Role, person.Role),
            ],
            CookieAuthenticationDefaults.AuthenticationScheme);
        await context.SignInAsync(CookieAuthenticationDefaults.AuthenticationScheme, new ClaimsPrincipal(identity), new AuthenticationProperties { IsPersistent = true });
        return TypedResults.NoContent();
    }

    private static ProblemHttpResult Wrong() => TypedResults.Problem(title: "Name and password do not fit together.", statusCode: StatusCodes.Status401Unauthorized);

    private static async Task<NoContent> SignOutAsync(HttpContext context)
    {
        await context.SignOutAsync(CookieAuthenticationDefaults.AuthenticationScheme);
        return TypedResults.NoContent();
    }

    private static async Task<IEnumerable<PersonView>> PeopleAsync(PeopleStore people, CancellationToken cancel) =>
        (await people.AllAsync(cancel)).Select(p => new PersonView(p.Id, p.Name, p.Role));

    private static readonly Person Nobody = MakeNobody();

    private static Person MakeNobody()
    {
        var nobody = new Person(Guid.Empty, "", "", "", "");
        return nobody with { PasswordHash = new PasswordHasher<Person>().HashPassword(nobody, Guid.NewGuid().ToString()) };
    }
}
