using System.Collections.Immutable;
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
    internal static void MapSession(this RouteGroupBuilder api)
    {
        api.MapGet("/session", Session).AllowAnonymous().WithSummary("Who is signed in, and the token that changes must carry");
        api.MapPost("/session", SignInAsync).AllowAnonymous().RequireRateLimiting(ShopSignIn.SignInBrake).WithSummary("Sign in");
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
        SignInRequest request, HttpContext context, PeopleStore people, IPasswordHasher<Person> hasher, CancellationToken cancel)
    {
        var person = await people.BySignInAsync(request.SignIn.Trim(), cancel);

        // A stranger's name costs as much time as a wrong password, so that names cannot be found out by the clock.
        var checkedAgainst = person ?? Nobody;
        var right = hasher.VerifyHashedPassword(checkedAgainst, checkedAgainst.PasswordHash, request.Password) != PasswordVerificationResult.Failed;
        if (person is null || !right)
        {
            return TypedResults.Problem(title: "Name and password do not fit together.", statusCode: StatusCodes.Status401Unauthorized);
        }

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
