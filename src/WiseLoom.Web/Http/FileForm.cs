using Microsoft.AspNetCore.Http.Features;
using WiseLoom.Core.Looms;

namespace WiseLoom.Web.Http;

/// <summary>A file, and what its sender says of it.</summary>
/// <param name="File">Null when it is larger than any file that is read.</param>
/// <param name="Said">JSON; null for nothing.</param>
internal sealed record SentFile(byte[]? File, string? Said);

/// <summary>A request that brings a file: the file as its body, or a form with the parts <c>said</c> (JSON) and <c>file</c>.</summary>
internal static class FileForm
{
    /// <summary>The longest text that says something of a file.</summary>
    internal const int LongestSaid = 500_000;

    private static readonly FormOptions Limits = new()
    {
        ValueCountLimit = 2,
        KeyLengthLimit = 40,
        ValueLengthLimit = LongestSaid,
        MultipartHeadersCountLimit = 4,
        MultipartBodyLengthLimit = LoomReader.LargestFile,
        MemoryBufferThreshold = LoomReader.LargestFile,
    };

    /// <summary>The file and what is said; null for a form that cannot be read.</summary>
    internal static async Task<SentFile?> ReadAsync(HttpContext context, CancellationToken cancel)
    {
        if (!context.Request.HasFormContentType)
        {
            return new(await UploadBody.ReadAsync(context, cancel), null);
        }

        if (context.Request.ContentLength > LoomReader.LargestFile + LongestSaid)
        {
            return new(await UploadBody.ReadAsync(context, cancel), null);
        }

        try
        {
            if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit)
            {
                limit.MaxRequestBodySize = LoomReader.LargestFile + LongestSaid + 10_000;
            }

            context.Features.Set<IFormFeature>(new FormFeature(context.Request, Limits));
            var form = await context.Request.ReadFormAsync(Limits, cancel);
            if (form.Files is not [{ Name: "file" } file] || form.Keys.Any(k => k != "said") || !RequestBorder.IsText(form["said"].ToString()))
            {
                return null;
            }

            using var kept = new MemoryStream((int)file.Length);
            await file.CopyToAsync(kept, cancel);
            return new(kept.ToArray(), form["said"].ToString());
        }
        catch (InvalidDataException e) when (e.Message.Contains("length limit", StringComparison.OrdinalIgnoreCase))
        {
            return new(null, null);
        }
        catch (Exception e) when (e is InvalidDataException or BadHttpRequestException or IOException or InvalidOperationException)
        {
            return null;
        }
    }

    /// <summary>The answer to a form that is none.</summary>
    internal static Microsoft.AspNetCore.Http.HttpResults.ProblemHttpResult NoForm() =>
        Refusal.Field("", $"The file itself is needed as the body, or a form with one part ‘file’ and one part ‘said’ of at most {LongestSaid} signs.");
}
