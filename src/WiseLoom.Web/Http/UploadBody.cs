using Microsoft.AspNetCore.Http.Features;
using WiseLoom.Core.Looms;

namespace WiseLoom.Web.Http;

/// <summary>A file as the body of a request.</summary>
internal static class UploadBody
{
    /// <summary>What the server is willing to read off the line before it says no, bytes.</summary>
    private const long Patience = 128L * 1024 * 1024;

    /// <summary>The body, or null when it is larger than any loom file; the rest is then read and thrown away, so that the sender gets the answer.</summary>
    internal static async Task<byte[]?> ReadAsync(HttpContext context, CancellationToken cancel)
    {
        if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit)
        {
            limit.MaxRequestBodySize = Patience;
        }

        using var kept = new MemoryStream((int)Math.Clamp(context.Request.ContentLength ?? 0, 0, LoomReader.LargestFile));
        var buffer = new byte[81920];
        long seen = 0;
        int read;
        while ((read = await context.Request.Body.ReadAsync(buffer, cancel)) > 0)
        {
            seen += read;
            if (seen <= LoomReader.LargestFile)
            {
                kept.Write(buffer, 0, read);
            }
        }

        return seen > LoomReader.LargestFile ? null : kept.Capacity == kept.Length ? kept.GetBuffer() : kept.ToArray();
    }

    /// <summary>The answer to a file that is too large.</summary>
    internal static Microsoft.AspNetCore.Http.HttpResults.ProblemHttpResult TooLarge() => Refusal.Because(
        "The file is too large. Nothing was stored.",
        [new("", $"At most {LoomReader.LargestFile / 1048576} MB are read; a loom of 3,000 wires needs about 1 MB.")],
        StatusCodes.Status413PayloadTooLarge);
}
