using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Store;

namespace WiseLoom.Web.Http;

/// <summary>A photo as the body of a request.</summary>
internal static class PhotoBody
{
    /// <summary>The photo, written anew; or why it is not taken.</summary>
    /// <param name="smallSide">Longer side of the smaller of its two sizes, pixels.</param>
    internal static async Task<(KeptPhoto? Photo, ProblemHttpResult? Refused)> ReadAsync(HttpContext context, int smallSide, CancellationToken cancel) =>
        await UploadBody.ReadAsync(context, cancel) is not { } bytes ? (null, Refusal.Because("This photo is too large. Nothing was stored.", [new("", "At most 8 MB are read. Take it at a smaller size.")], StatusCodes.Status413PayloadTooLarge))
            : PhotoPress.Make(bytes, smallSide, out var wrong) is { } photo ? (photo, null)
            : (null, Refusal.Because("This photo cannot be taken. Nothing was stored.", [new("", wrong!)]));
}
