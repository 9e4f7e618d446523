using Microsoft.AspNetCore.Antiforgery;

namespace WiseLoom.Web.Http;

/// <summary>Every request that changes something must carry the antiforgery token of its session.</summary>
internal sealed class TokenCheck(RequestDelegate next, IAntiforgery antiforgery)
{
    public async Task InvokeAsync(HttpContext context)
    {
        var method = context.Request.Method;
        var changes = !HttpMethods.IsGet(method) && !HttpMethods.IsHead(method) && !HttpMethods.IsOptions(method);
        if (changes && !await antiforgery.IsRequestValidAsync(context))
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
}
