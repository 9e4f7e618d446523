using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Shop;
using WiseLoom.Store;
using WiseLoom.Web.Demo;
using WiseLoom.Web.Http;

namespace WiseLoom.Web.People;

/// <summary>An account as a lead sees it.</summary>
/// <param name="HasPassword">Whether its owner has set one.</param>
/// <param name="Sessions">How many of its sessions are open.</param>
internal sealed record AccountView(
    Guid Id, string SignIn, string Name, string Role, bool Disabled, bool Demo, bool HasPassword, DateTimeOffset? LinkExpires, DateTimeOffset? LastIn, int Sessions, int Version);

internal sealed record NewAccountRequest(string SignIn, string Name, string Role);

internal sealed record AccountChangeRequest(string Name, string Role, bool Disabled);

/// <summary>A one-time link; it is shown this once.</summary>
/// <param name="Code">What stands after the number sign.</param>
internal sealed record LinkView(string Code, DateTimeOffset Expires);

/// <summary>A page of the audit list.</summary>
/// <param name="Before">What to ask with for older ones; null when there are none.</param>
internal sealed record AuditPage(IReadOnlyList<AuditEntry> Lines, long? Before);

internal static class AccountEndpoints
{
    private const int PageLength = 100;

    internal static void MapAccounts(this RouteGroupBuilder api)
    {
        api.MapGet("/accounts", AllAsync).RequireAuthorization(Role.Lead).WithSummary("Everybody's accounts; a lead's");
        api.MapPost("/accounts", AddAsync).RequireAuthorization(Role.Lead).WithSummary("Make an account, with a one-time link for its owner; a lead's");
        api.MapPut("/accounts/{id:guid}", ChangeAsync).RequireAuthorization(Role.Lead).WithSummary("Change an account's name, role or state; a lead's");
        api.MapPost("/accounts/{id:guid}/link", LinkAsync).RequireAuthorization(Role.Lead).WithSummary("Make a one-time link to set an account's password; a lead's");
        api.MapGet("/accounts/{id:guid}/sessions", SessionsAsync).RequireAuthorization(Role.Lead).WithSummary("An account's open sessions; a lead's");
        api.MapDelete("/accounts/{id:guid}/sessions", EndAllAsync).RequireAuthorization(Role.Lead).WithSummary("End all sessions of an account; a lead's");
        api.MapGet("/audit", AuditAsync).RequireAuthorization(Role.Lead).WithSummary("Sign-ins, refusals and changes of rights, the newest first; a lead's");
    }

    private static async Task<IEnumerable<AccountView>> AllAsync(AccountStore accounts, TimeProvider clock, CancellationToken cancel) =>
        (await accounts.AllAsync(clock.GetUtcNow(), cancel)).Select(a => new AccountView(
            a.Person.Id, a.Person.SignIn, a.Person.Name, a.Person.Role, a.Person.Disabled, a.Person.Demo, a.Person.PasswordHash is not null, a.LinkExpires, a.LastIn, a.Sessions, a.Person.Version));

    private static async Task<Results<Ok<LinkView>, ProblemHttpResult>> AddAsync(
        NewAccountRequest request, HttpContext context, ClaimsPrincipal user, AccountStore accounts, DemoWorld demo, TimeProvider clock, CancellationToken cancel)
    {
        if (AccountRules.Problems(request.SignIn, request.Name, request.Role) is { IsEmpty: false } problems)
        {
            return Refusal.Because("This account cannot be made as it is.", problems);
        }

        var ((code, hash), hand) = (PasswordEndpoints.NewCode(), HandOf(context, user, demo, clock));
        return await accounts.AddAsync(new(Guid.CreateVersion7(), request.SignIn, request.Name, request.Role, null), hash, hand, cancel) is var change && Refused(change) is { } no
            ? no : TypedResults.Ok(new LinkView(code, hand.At + AccountRules.LinkLasts));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> ChangeAsync(
        Guid id, AccountChangeRequest request, HttpContext context, ClaimsPrincipal user, AccountStore accounts, Sessions sessions, DemoWorld demo, TimeProvider clock, CancellationToken cancel)
    {
        if (AccountRules.Problems(request.Name, request.Role) is { IsEmpty: false } problems)
        {
            return Refusal.Because("This account cannot be changed like that.", problems);
        }

        if (EntityVersion.Asked(context) is not { } version)
        {
            return EntityVersion.Missing("account");
        }

        var change = await accounts.ChangeAsync(new(id, "", request.Name, request.Role, null, request.Disabled, Version: version), HandOf(context, user, demo, clock), cancel);
        sessions.AskAnew();
        return Refused(change) is { } no ? no : TypedResults.NoContent();
    }

    private static async Task<Results<Ok<LinkView>, ProblemHttpResult>> LinkAsync(
        Guid id, HttpContext context, ClaimsPrincipal user, AccountStore accounts, DemoWorld demo, TimeProvider clock, CancellationToken cancel)
    {
        var ((code, hash), hand) = (PasswordEndpoints.NewCode(), HandOf(context, user, demo, clock));
        return Refused(await accounts.LinkAsync(id, hash, hand, cancel)) is { } no ? no : TypedResults.Ok(new LinkView(code, hand.At + AccountRules.LinkLasts));
    }

    private static async Task<Results<Ok<IEnumerable<OpenSessionView>>, ProblemHttpResult>> SessionsAsync(
        Guid id, ClaimsPrincipal user, PeopleStore people, SessionStore sessions, TimeProvider clock, CancellationToken cancel) =>
        await people.FindAsync(id, cancel) is null
            ? Refusal.NotFound("account")
            : TypedResults.Ok((await sessions.OfAsync(id, clock.GetUtcNow(), cancel)).Select(s => new OpenSessionView(s.Id, s.BegunAt, s.SeenAt, s.Address, s.Browser, s.Id == user.Session())));

    private static async Task<Results<NoContent, ProblemHttpResult>> EndAllAsync(
        Guid id, HttpContext context, ClaimsPrincipal user, AccountStore accounts, Sessions sessions, DemoWorld demo, TimeProvider clock, CancellationToken cancel)
    {
        var change = await accounts.EndSessionsAsync(id, HandOf(context, user, demo, clock), cancel);
        sessions.AskAnew();
        return Refused(change) is { } no ? no : TypedResults.NoContent();
    }

    private static async Task<AuditPage> AuditAsync(long? before, AuditStore audit, CancellationToken cancel)
    {
        var lines = await audit.ListAsync(before, PageLength, cancel);
        return new(lines, lines.Count == PageLength ? lines[^1].Id : null);
    }

    private static AccountHand HandOf(HttpContext context, ClaimsPrincipal user, DemoWorld demo, TimeProvider clock) => new(user.Id(), context.Address(), clock.GetUtcNow(), demo.IsShown);

    private static ProblemHttpResult? Refused(AccountChange change) => change switch
    {
        AccountChange.Done => null,
        AccountChange.Taken => Refusal.Field("/signIn", "Somebody has this name already."),
        AccountChange.Overtaken => EntityVersion.Overtaken("account"),
        AccountChange.LastLead => Refusal.Conflict("This is the only lead who can come in. Make another one first."),
        AccountChange.NotALead => Refusal.Forbidden("You are no longer a lead."),
        _ => Refusal.NotFound("account, or it is disabled"),
    };
}
