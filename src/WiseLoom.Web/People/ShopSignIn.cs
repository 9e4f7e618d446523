using System.Security.Claims;
using Microsoft.AspNetCore.Authentication.Cookies;
using WiseLoom.Core.Shop;
using WiseLoom.Store;
using WiseLoom.Web.Http;

namespace WiseLoom.Web.People;

/// <summary>Cookie sign-in and antiforgery. The cookie names a session and nothing else.</summary>
internal static class ShopSignIn
{
    internal static void AddShopSignIn(this IServiceCollection services, CookieNames names)
    {
        services.AddSingleton(names);
        services.AddSingleton<Sessions>().AddSingleton<RefusedRights>().AddSingleton<FirstLead>();
        services.AddAuthentication(CookieAuthenticationDefaults.AuthenticationScheme).AddCookie(o =>
        {
            o.Cookie.Name = names.Session;
            o.Cookie.HttpOnly = true;
            o.Cookie.SameSite = SameSiteMode.Strict;
            o.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
            o.ExpireTimeSpan = AccountRules.SessionIdle;
            o.SlidingExpiration = true;
            o.Events.OnValidatePrincipal = LookAgainAsync;

            // An API answers with a status, never with a redirect to a page.
            o.Events.OnRedirectToLogin = c => Status(c.Response, StatusCodes.Status401Unauthorized);
            o.Events.OnRedirectToAccessDenied = async c =>
            {
                await c.HttpContext.RequestServices.GetRequiredService<RefusedRights>().NoteAsync(c.HttpContext);
                await Status(c.Response, StatusCodes.Status403Forbidden);
            };
        });
        services.AddSingleton<KnownTickets>();
        services.AddOptions<CookieAuthenticationOptions>(CookieAuthenticationDefaults.AuthenticationScheme).Configure<KnownTickets>((o, tickets) => o.TicketDataFormat = tickets);
        services.AddAuthorizationBuilder().AddPolicy(Role.Lead, p => p.RequireRole(Role.Lead));
        services.AddAntiforgery(o =>
        {
            o.HeaderName = "X-Wise-Loom-Token";
            o.Cookie.Name = names.Token;
            o.Cookie.SameSite = SameSiteMode.Strict;
            o.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
        });
    }

    /// <summary>What a new session's cookie says.</summary>
    internal static ClaimsPrincipal CookieOf(Guid session) => new(new ClaimsIdentity([new(ClaimTypes.Sid, session.ToString())], CookieAuthenticationDefaults.AuthenticationScheme));

    /// <summary>Who somebody is comes from the session's row, never from the cookie.</summary>
    private static async Task LookAgainAsync(CookieValidatePrincipalContext context)
    {
        // Pages are for everybody, and stay when the database is away.
        var path = context.HttpContext.Request.Path;
        if (!path.StartsWithSegments("/api", StringComparison.Ordinal) && !path.StartsWithSegments("/openapi", StringComparison.Ordinal))
        {
            context.RejectPrincipal();
            return;
        }

        if (Guid.TryParse(context.Principal?.FindFirstValue(ClaimTypes.Sid), out var session)
            && await context.HttpContext.RequestServices.GetRequiredService<Sessions>().HolderAsync(session, context.HttpContext.RequestAborted) is { } person)
        {
            context.ReplacePrincipal(Holder(person, session));
        }
        else
        {
            context.RejectPrincipal();
        }
    }

    private static ClaimsPrincipal Holder(Person person, Guid session) => new(new ClaimsIdentity(
        [
            new(ClaimTypes.NameIdentifier, person.Id.ToString()),
            new(ClaimTypes.Name, person.Name),
            new(ClaimTypes.Role, person.Role),
            new(ClaimTypes.Sid, session.ToString()),
        ],
        CookieAuthenticationDefaults.AuthenticationScheme));

    private static Task Status(HttpResponse response, int status)
    {
        response.StatusCode = status;
        return Task.CompletedTask;
    }
}
