using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Store;
using WiseLoom.Web.Http;

namespace WiseLoom.Web.Live;

internal static class LiveEndpoints
{
    internal static void MapLive(this RouteGroupBuilder api) => api.MapGet("/jobs/{id:long}/events", FollowAsync).WithMetadata(new StreamsEvents()).ExcludeFromDescription();

    private static async Task<Results<ServerSentEventsResult<JobChange>, ProblemHttpResult>> FollowAsync(
        long id, ClaimsPrincipal user, JobStore jobs, JobChanges changes, PageStreams streams, HttpContext context, CancellationToken cancel) =>
        await jobs.FindAsync(id, cancel) is null ? Refusal.NotFound("job") : streams.Open(user, context, "changed", end => changes.OfAsync(id, end));
}
