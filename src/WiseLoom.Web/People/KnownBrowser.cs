using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;
using WiseLoom.Web.Http;

namespace WiseLoom.Web.People;

/// <summary>Knows a browser again in which somebody has signed in before: what others do to a name from elsewhere does not lock its owner out of it.</summary>
/// <remarks>A sealed cookie names the browser and those who signed in there. It opens nothing: it only says which tries count together.</remarks>
internal sealed class KnownBrowser(IDataProtectionProvider keys, CookieNames named)
{
    private const int MostNames = 20;

    private static readonly TimeSpan Kept = TimeSpan.FromDays(365);

    private readonly ITimeLimitedDataProtector seal = keys.CreateProtector("wise-loom known browser").ToTimeLimitedDataProtector();

    /// <summary>The browser, when this person has signed in there before; null otherwise.</summary>
    /// <param name="name">The sign-in name as it was typed.</param>
    internal Guid? Of(HttpContext context, string name) => Read(context) is var (browser, names) && names.Contains(Plain(name)) ? browser : null;

    /// <summary>Notes that a person has signed in here.</summary>
    internal void Keep(HttpContext context, string name)
    {
        var (browser, names) = Read(context) ?? (Guid.NewGuid(), []);
        var all = names.Where(n => n != Plain(name)).Prepend(Plain(name)).Take(MostNames);
        context.Response.Cookies.Append(named.Browser, seal.Protect(string.Join('\n', all.Prepend(browser.ToString())), Kept), new CookieOptions
        {
            HttpOnly = true,
            SameSite = SameSiteMode.Strict,
            Secure = context.Request.IsHttps,
            MaxAge = Kept,
            Path = "/api/session",
        });
    }

    private (Guid Browser, string[] Names)? Read(HttpContext context)
    {
        try
        {
            return context.Request.Cookies[named.Browser] is { Length: > 0 } sealedText && seal.Unprotect(sealedText).Split('\n') is [var id, .. var names] && Guid.TryParse(id, out var browser) ? (browser, names) : null;
        }
        catch (CryptographicException)
        {
            // Somebody else's, or of keys that are no more: nobody is known by it.
            return null;
        }
    }

    private static string Plain(string name) => name.Trim().ToLowerInvariant();
}
