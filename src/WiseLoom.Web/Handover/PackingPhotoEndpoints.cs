using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Handover;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Handover;

/// <summary>Photos of a job's packed box, which its pack shows beside what is in it.</summary>
internal static class PackingPhotoEndpoints
{
    internal static void MapPackingPhotos(this RouteGroupBuilder api)
    {
        api.MapPost("/jobs/{id:long}/packing-photos/{key:guid}", KeepAsync).Accepts<object>("application/octet-stream").WithMetadata(new TakesFile()).IsHeavy("Reading a photo").WithSummary("Keep a photo of the packed box: JPEG, PNG or WebP; it is written anew without what the camera wrote beside it");
        api.MapGet("/jobs/{id:long}/packing-photos/{key:guid}", FindAsync).Produces(200, contentType: "image/jpeg").WithSummary("A photo of the packed box; small=true as a pack shows it");
        api.MapDelete("/jobs/{id:long}/packing-photos/{key:guid}", TakeOutAsync).WithSummary("Take a photo of the packed box out of the packs to come");
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> KeepAsync(
        long id, Guid key, HttpContext context, ClaimsPrincipal user, JobStore jobs, PackingPhotoStore photos, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is null)
        {
            return Refusal.NotFound("job");
        }

        // What would not be kept is not read.
        if (Refused(await photos.RoomAsync(id, key, cancel)) is { } before)
        {
            return before;
        }

        var (photo, refused) = await PhotoBody.ReadAsync(context, PackingPhotos.Side, cancel);
        if (refused is not null)
        {
            return refused;
        }

        return Refused(await photos.KeepAsync(id, key, photo!, user.Id(), cancel)) is { } after ? after : TypedResults.NoContent();
    }

    private static ProblemHttpResult? Refused(PackingStored stored) => stored switch
    {
        PackingStored.Full => Refusal.Conflict($"A pack shows at most {PackingPhotos.Most} photos of its box. Take one out first. Nothing was stored."),
        PackingStored.TooMany => Refusal.Conflict($"A job keeps at most {PackingPhotos.MostKept} photos of its box, those that were taken out among them. Nothing was stored."),
        PackingStored.KeyUsed => Refusal.Conflict("This key was used for another photo already. Nothing was stored."),
        _ => null,
    };

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> FindAsync(long id, Guid key, PackingPhotoStore photos, CancellationToken cancel, bool small = false) =>
        await photos.FindAsync(id, key, small, cancel) is { } picture ? TypedResults.Bytes(picture, "image/jpeg") : Refusal.NotFound("photo");

    private static async Task<Results<NoContent, ProblemHttpResult>> TakeOutAsync(long id, Guid key, ClaimsPrincipal user, PackingPhotoStore photos, CancellationToken cancel) =>
        await photos.TakeOutAsync(id, key, user.Id(), cancel) ? TypedResults.NoContent() : Refusal.NotFound("photo");
}
