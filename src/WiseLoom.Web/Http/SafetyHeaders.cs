namespace WiseLoom.Web.Http;

/// <summary>Headers that every answer carries.</summary>
internal static class SafetyHeaders
{
    private const string PagePolicy =
        "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' data:; connect-src 'self'; worker-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

    /// <summary>A pack is one file with its style inside and no script at all.</summary>
    internal static readonly string PackPolicy = $"default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src data:; script-src {Core.Handover.PackHtml.ScriptHash}; base-uri 'none'; form-action 'none'; frame-ancestors 'none'";

    internal static void UseSafetyHeaders(this WebApplication app) => app.Use((context, next) =>
    {
        var headers = context.Response.Headers;
        headers.ContentSecurityPolicy = PagePolicy;
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "no-referrer";
        headers["Cross-Origin-Opener-Policy"] = "same-origin";
        if (context.Request.Path.StartsWithSegments("/api", StringComparison.Ordinal) || context.Request.Path.StartsWithSegments("/p", StringComparison.Ordinal))
        {
            // What belongs to a customer is kept by no proxy and found by no search.
            headers.CacheControl = "no-store";
            headers["X-Robots-Tag"] = "noindex";
        }

        return next(context);
    });
}
