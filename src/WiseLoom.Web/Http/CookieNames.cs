namespace WiseLoom.Web.Http;

/// <summary>Names of the cookies. Browsers keep them by host, not by port: two shops at one address need two first words.</summary>
/// <param name="First">Word that all of them begin with.</param>
internal sealed record CookieNames(string First)
{
    /// <summary>Of the session.</summary>
    internal string Session => First;

    /// <summary>Of the antiforgery token.</summary>
    internal string Token => $"{First}-token";

    /// <summary>Of the browser in which somebody has signed in before.</summary>
    internal string Browser => $"{First}-browser";

    /// <summary>As the setting <c>WISELOOM_COOKIES</c> says; <c>wise-loom</c> without one.</summary>
    internal static CookieNames Of(IConfiguration configuration) => new(configuration["WISELOOM_COOKIES"] is { Length: > 0 } set ? set : "wise-loom");
}
