using Microsoft.AspNetCore.Http.Features;

namespace WiseLoom.Web.Http;

/// <summary>An endpoint that takes a whole file as its body and limits it by itself.</summary>
internal sealed class TakesFile;

/// <summary>Refuses bodies that are larger than anything a page sends, before they are read.</summary>
internal sealed class BodyLimit(RequestDelegate next)
{
    /// <summary>The largest is both sides of a draft, two loom files of 8 MB each.</summary>
    internal const long MostBytes = 20L * 1024 * 1024;

    public async Task InvokeAsync(HttpContext context)
    {
        if (context.GetEndpoint()?.Metadata.GetMetadata<TakesFile>() is null)
        {
            if (context.Request.ContentLength > MostBytes)
            {
                await Results.Problem(
                    title: "This is more than anybody sends. Nothing was stored.",
                    detail: $"At most {MostBytes / 1048576} MB are read.",
                    statusCode: StatusCodes.Status413PayloadTooLarge).ExecuteAsync(context);
                return;
            }

            // A body that does not say how long it is is cut off where the limit is.
            if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit)
            {
                limit.MaxRequestBodySize = MostBytes;
            }
        }

        await next(context);
    }
}
