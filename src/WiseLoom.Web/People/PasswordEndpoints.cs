using System.Buffers.Text;
using System.Security.Claims;
using System.Security.Cryptography;
using System.Text;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Identity;
using WiseLoom.Core.Shop;
using WiseLoom.Store;
using WiseLoom.Web.Demo;
using WiseLoom.Web.Http;

namespace WiseLoom.Web.People;

/// <param name="Old">The password as it is.</param>
/// <param name="New">The password as it is to be.</param>
internal sealed record PasswordChangeRequest(string Old, string New);

/// <param name="Code">The part of a one-time link after its number sign.</param>
internal sealed record LinkCode(string Code);

internal sealed record LinkUse(string Code, string Password);

/// <summary>Whom a one-time link is for.</summary>
internal sealed record LinkOwnerView(string SignIn, string Name);

/// <param name="Code">The code that the server's terminal shows.</param>
internal sealed record FirstLeadRequest(string Code, string SignIn, string Name, string Password);

internal static class PasswordEndpoints
{
    private const int CodeBytes = 32, MostCode = 100;

    internal static void MapPasswords(this RouteGroupBuilder api)
    {
        api.MapPut("/me/password", ChangeAsync).WithMetadata(new ChangesNothing()).WithSummary("Change one's own password; every other session of one's own ends");
        api.MapPost("/password-links/look", LookAsync).AllowAnonymous().WithMetadata(new ChangesNothing()).WithSummary("Whom a one-time link is for");
        api.MapPost("/password-links/use", UseAsync).AllowAnonymous().WithMetadata(new ChangesNothing()).WithSummary("Set a password through a one-time link, which is used up by it");
        api.MapPost("/first-lead", FirstAsync).AllowAnonymous().WithMetadata(new ChangesNothing()).WithSummary("Make the first lead with the code that the terminal shows, while there is none");
    }

    /// <summary>A code for a one-time link, and the hash by which it is known.</summary>
    internal static (string Code, byte[] Hash) NewCode()
    {
        var code = Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(CodeBytes));
        return (code, HashOf(code));
    }

    private static byte[] HashOf(string code) => SHA256.HashData(Encoding.UTF8.GetBytes(code.Length > MostCode ? "" : code.Trim()));

    private static ProblemHttpResult NoLink() => TypedResults.Problem(title: "This link is no longer open: it was used, replaced by a newer one, or is too old. A lead can make another.", statusCode: StatusCodes.Status404NotFound);

    private static async Task<Results<NoContent, ProblemHttpResult>> ChangeAsync(
        PasswordChangeRequest request, HttpContext context, ClaimsPrincipal user, PeopleStore people, AccountStore accounts, SignInTryStore tries, Sessions sessions, DemoWorld demo, IPasswordHasher<Person> hasher, TimeProvider clock, CancellationToken cancel)
    {
        if (await people.FindAsync(user.Id(), cancel) is not { PasswordHash: { } hash } person)
        {
            return Refusal.NotFound("account");
        }

        // A session left open is no way to guess a password either.
        var (address, now) = (context.Address(), clock.GetUtcNow());
        if (await tries.CountAsync(person.SignIn, address, null, now, cancel) is var wait && wait > TimeSpan.Zero)
        {
            return SessionEndpoints.TooMany(context, wait);
        }

        if (request.Old.Length > AccountRules.MostPassword || hasher.VerifyHashedPassword(person, hash, request.Old) == PasswordVerificationResult.Failed)
        {
            return Refusal.Field("/old", "This is not your password.");
        }

        await tries.RightAsync(person.SignIn, address, null, cancel);
        if (AccountRules.PasswordProblem(request.New, person.SignIn) is { } problem)
        {
            return Refusal.Field("/new", problem);
        }

        var done = await accounts.PasswordAsync(person, hasher.HashPassword(person, request.New), user.Session(), new(person.Id, address, now, demo.IsShown), cancel);
        sessions.AskAnew();
        return done ? TypedResults.NoContent() : Refusal.Conflict("Your password was changed from elsewhere in the meantime.");
    }

    private static async Task<Results<Ok<LinkOwnerView>, ProblemHttpResult>> LookAsync(LinkCode request, AccountStore accounts, TimeProvider clock, CancellationToken cancel) =>
        await accounts.OfLinkAsync(HashOf(request.Code), clock.GetUtcNow(), cancel) is { } person ? TypedResults.Ok(new LinkOwnerView(person.SignIn, person.Name)) : NoLink();

    private static async Task<Results<NoContent, ProblemHttpResult>> UseAsync(
        LinkUse request, HttpContext context, AccountStore accounts, Sessions sessions, IPasswordHasher<Person> hasher, TimeProvider clock, CancellationToken cancel)
    {
        var (hash, now) = (HashOf(request.Code), clock.GetUtcNow());
        if (await accounts.OfLinkAsync(hash, now, cancel) is not { } person)
        {
            return NoLink();
        }

        if (AccountRules.PasswordProblem(request.Password, person.SignIn) is { } problem)
        {
            return Refusal.Field("/password", problem);
        }

        var used = await accounts.UseLinkAsync(hash, hasher.HashPassword(person, request.Password), context.Address(), now, cancel);
        sessions.AskAnew();
        return used is null ? NoLink() : TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> FirstAsync(
        FirstLeadRequest request, HttpContext context, FirstLead first, AccountStore accounts, SignInTryStore tries, DemoWorld demo, IPasswordHasher<Person> hasher, TimeProvider clock, CancellationToken cancel)
    {
        const string CountedAs = "(the first lead)";
        if (!await first.IsMissingAsync(cancel))
        {
            return Refusal.Conflict("There is a lead already. Ask for an account there.");
        }

        var (address, now) = (context.Address(), clock.GetUtcNow());
        if (await tries.CountAsync(CountedAs, address, null, now, cancel) is var wait && wait > TimeSpan.Zero)
        {
            return SessionEndpoints.TooMany(context, wait);
        }

        if (request.Code.Length > MostCode || !first.IsRight(request.Code))
        {
            return Refusal.Field("/code", "This is not the code that the terminal shows.");
        }

        await tries.RightAsync(CountedAs, address, null, cancel);
        if (AccountRules.Problems(request.SignIn, request.Name, Role.Lead) is { IsEmpty: false } problems)
        {
            return Refusal.Because("This account cannot be made as it is.", problems);
        }

        if (AccountRules.PasswordProblem(request.Password, request.SignIn) is { } problem)
        {
            return Refusal.Field("/password", problem);
        }

        var lead = new Person(Guid.CreateVersion7(), request.SignIn, request.Name, Role.Lead, null);
        return await accounts.FirstLeadAsync(lead with { PasswordHash = hasher.HashPassword(lead, request.Password) }, new(lead.Id, address, now, demo.IsShown), cancel) switch
        {
            AccountChange.Done => TypedResults.NoContent(),
            AccountChange.Taken => Refusal.Field("/signIn", "Somebody has this name already."),
            _ => Refusal.Conflict("There is a lead already. Ask for an account there."),
        };
    }
}
