using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Runs;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;
using WiseLoom.Web.Runs;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Bench;

/// <summary>A photo that is stored now, or was before.</summary>
internal sealed record PhotoStoredView(Guid Key, StandingView Standing, long LastEvent);

/// <summary>A photo of a check of a power-up that is stored now, or was before.</summary>
internal sealed record CheckPhotoStoredView(Guid Key, long LastEvent);

/// <summary>Photos of what a step looks at.</summary>
internal static class PhotoEndpoints
{
    /// <summary>Longer side of the smaller size, pixels.</summary>
    private const int SmallSide = 320;

    internal static void MapPhotos(this RouteGroupBuilder api)
    {
        api.MapPost("/runs/{id:long}/steps/{step:int}/photos/{key:guid}", KeepOfStepAsync).Accepts<object>("application/octet-stream").WithMetadata(new TakesFile()).IsHeavy("Reading a photo").WithSummary("Keep a photo at a step: JPEG, PNG or WebP; it is written anew without what the camera wrote beside it");
        api.MapPost("/runs/{id:long}/photos/{key:guid}", KeepOfCheckAsync).Accepts<object>("application/octet-stream").WithMetadata(new TakesFile()).IsHeavy("Reading a photo").WithSummary("Keep a photo at a check of the power-up, as at a step");
        api.MapGet("/runs/{id:long}/photos/{key:guid}", FindAsync).Produces(200, contentType: "image/jpeg").WithSummary("A photo of a run; small=true for the small one");
    }

    /// <param name="seen">Number of the last event that its person had seen.</param>
    private static async Task<Results<Ok<PhotoStoredView>, ProblemHttpResult>> KeepOfStepAsync(
        long id, int step, Guid key, HttpContext context, ClaimsPrincipal user, RunLedger ledger, PhotoStore photos, TimeProvider clock, CancellationToken cancel)
    {
        var (kept, refused) = await KeepAsync(id, key, context, user, ledger, photos, clock, run => run.Photograph(key, step), cancel);
        return kept is { } after ? TypedResults.Ok(new PhotoStoredView(key, StandingView.Of(step, after.Run), after.Run.LastEvent)) : refused!;
    }

    /// <param name="check">Id of the check.</param>
    private static async Task<Results<Ok<CheckPhotoStoredView>, ProblemHttpResult>> KeepOfCheckAsync(
        long id, Guid key, string check, HttpContext context, ClaimsPrincipal user, RunLedger ledger, PhotoStore photos, TimeProvider clock, CancellationToken cancel)
    {
        var (kept, refused) = await KeepAsync(id, key, context, user, ledger, photos, clock, run => run.PhotographCheck(key, check), cancel);
        return kept is { } after ? TypedResults.Ok(new CheckPhotoStoredView(key, after.Run.LastEvent)) : refused!;
    }

    private static async Task<(OpenRun? Kept, ProblemHttpResult? Refused)> KeepAsync(
        long id, Guid key, HttpContext context, ClaimsPrincipal user, RunLedger ledger, PhotoStore photos, TimeProvider clock, Func<BenchRun, Decision> decide, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open)
        {
            return (null, Refusal.NotFound("run"));
        }

        if (Refusal.Of(decide(open.Run)) is { } refused)
        {
            return (null, refused);
        }

        var (photo, unread) = await PhotoBody.ReadAsync(context, SmallSide, cancel);
        if (unread is not null)
        {
            return (null, unread);
        }

        // The picture first: an event never names a photo that is not there.
        await photos.KeepAsync(key, id, photo!, cancel);
        var asked = await ledger.AskAsync(id, new Ask(key, user.Hand(), clock.GetUtcNow(), decide), cancel);
        var (answer, after) = asked!.Value;
        return Refusal.Of(answer.Decision) is { } refusal ? (null, refusal) : (after, null);
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> FindAsync(long id, Guid key, PhotoStore photos, CancellationToken cancel, bool small = false) =>
        await photos.FindAsync(key, id, small, cancel) is { } picture ? TypedResults.Bytes(picture, "image/jpeg") : Refusal.NotFound("photo");
}
