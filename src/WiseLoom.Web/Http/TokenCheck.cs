using System.Security.Claims;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.Extensions.Caching.Memory;

namespace WiseLoom.Web.Http;

/// <summary>An endpoint whose address is a secret of its own: who has the link may speak, and no cookie says anything there.</summary>
internal sealed class LinkSpeaks;

/// <summary>Every change carries the page's token, so that no other site can make a browser send one.</summary>
internal sealed class TokenCheck(RequestDelegate next, IAntiforgery antiforgery, CookieNames names) : IDisposable
{
    private const int Most = 2000;

    private static readonly TimeSpan Unused = TimeSpan.FromMinutes(2);

    // Whether a token goes with a cookie and a person never changes, and finding out costs more than storing a reading.
    private readonly MemoryCache known = new(new MemoryCacheOptions { SizeLimit = Most });

    public async Task InvokeAsync(HttpContext context)
    {
        var method = context.Request.Method;
        var changes = !HttpMethods.IsGet(method) && !HttpMethods.IsHead(method) && !HttpMethods.IsOptions(method);
        if (changes && context.GetEndpoint()?.Metadata.GetMetadata<LinkSpeaks>() is null && !await GoesTogetherAsync(context))
        {
            await Results.Problem(
                title: "The page’s token is missing or out of date.",
                detail: "Reload the page and try again; what you typed is still there.",
                statusCode: StatusCodes.Status400BadRequest,
                type: "urn:wise-loom:token").ExecuteAsync(context);
            return;
        }

        await next(context);
    }

    public void Dispose() => known.Dispose();

    private async Task<bool> GoesTogetherAsync(HttpContext context)
    {
        var key = (context.Request.Headers["X-Wise-Loom-Token"].ToString(), context.Request.Cookies[names.Token] ?? "", context.User.FindFirstValue(ClaimTypes.NameIdentifier));
        if (known.TryGetValue(key, out _))
        {
            return true;
        }

        if (!await antiforgery.IsRequestValidAsync(context))
        {
            return false;
        }

        known.Set(key, true, new MemoryCacheEntryOptions { Size = 1, SlidingExpiration = Unused });
        return true;
    }
}
