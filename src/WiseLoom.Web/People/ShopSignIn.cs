using Microsoft.AspNetCore.Authentication.Cookies;

namespace WiseLoom.Web.People;

/// <summary>Roles a person can have.</summary>
internal static class Role
{
    internal const string Lead = "lead";
}

/// <summary>Cookie sign-in and antiforgery.</summary>
internal static class ShopSignIn
{
    internal static void AddShopSignIn(this IServiceCollection services)
    {
        services.AddAuthentication(CookieAuthenticationDefaults.AuthenticationScheme).AddCookie(o =>
        {
            o.Cookie.Name = "wise-loom";
            o.Cookie.HttpOnly = true;
            o.Cookie.SameSite = SameSiteMode.Strict;
            o.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
            o.ExpireTimeSpan = TimeSpan.FromHours(12);
            o.SlidingExpiration = true;

            // An API answers with a status, never with a redirect to a page.
            o.Events.OnRedirectToLogin = c => Status(c.Response, StatusCodes.Status401Unauthorized);
            o.Events.OnRedirectToAccessDenied = c => Status(c.Response, StatusCodes.Status403Forbidden);
        });
        services.AddSingleton<KnownTickets>();
        services.AddOptions<CookieAuthenticationOptions>(CookieAuthenticationDefaults.AuthenticationScheme).Configure<KnownTickets>((o, tickets) => o.TicketDataFormat = tickets);
        services.AddAuthorizationBuilder().AddPolicy(Role.Lead, p => p.RequireRole(Role.Lead));
        services.AddAntiforgery(o =>
        {
            o.HeaderName = "X-Wise-Loom-Token";
            o.Cookie.Name = "wise-loom-token";
            o.Cookie.SameSite = SameSiteMode.Strict;
            o.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
        });
    }

    private static Task Status(HttpResponse response, int status)
    {
        response.StatusCode = status;
        return Task.CompletedTask;
    }
}
