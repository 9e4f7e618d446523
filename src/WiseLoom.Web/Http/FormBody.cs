using Microsoft.AspNetCore.Http.Features;

namespace WiseLoom.Web.Http;

/// <summary>A form that a stranger sends, read within limits.</summary>
internal static class FormBody
{
    /// <summary>No page of ours sends more fields, or a longer name of one.</summary>
    private const int MostFields = 20, LongestName = 40;

    private static readonly FormOptions Limits = new() { ValueCountLimit = MostFields, KeyLengthLimit = LongestName, ValueLengthLimit = 16_000, MultipartBodyLengthLimit = 64_000, MultipartHeadersCountLimit = 4 };

    /// <summary>The fields; null for what is no form, is broken off, has more fields than a page sends, or holds a sign that no text can have.</summary>
    internal static async Task<IFormCollection?> ReadAsync(HttpContext context, CancellationToken cancel)
    {
        try
        {
            context.Features.Set<IFormFeature>(new FormFeature(context.Request, Limits));
            var form = await context.Request.ReadFormAsync(Limits, cancel);
            return form.Files.Count == 0 && form.All(f => RequestBorder.IsText(f.Key) && f.Value.All(RequestBorder.IsText)) ? form : null;
        }
        catch (Exception e) when (e is InvalidDataException or BadHttpRequestException or IOException or InvalidOperationException)
        {
            return null;
        }
    }
}
