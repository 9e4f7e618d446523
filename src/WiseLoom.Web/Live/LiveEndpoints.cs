using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Live;

internal static class LiveEndpoints
{
    /// <summary>So many pages of one person are told at once; more are a fault of a page.</summary>
    private const int MostForEach = 30;

    internal static void MapLive(this RouteGroupBuilder api) => api.MapGet("/jobs/{id:long}/events", FollowAsync).ExcludeFromDescription();

    private static async Task<Results<ServerSentEventsResult<JobChange>, ProblemHttpResult>> FollowAsync(
        long id, ClaimsPrincipal user, JobStore jobs, JobChanges bell, IHostApplicationLifetime life, HttpContext context, CancellationToken cancel) =>
        await jobs.FindAsync(id, cancel) is null ? Refusal.NotFound("job")
        : bell.PagesOf(user.Id()) >= MostForEach ? TypedResults.Problem(title: $"{MostForEach} of your pages follow jobs already. Close some.", statusCode: StatusCodes.Status429TooManyRequests)
        : TypedResults.ServerSentEvents(ChangesAsync(id, user.Id(), bell, life.ApplicationStopping, context.RequestAborted));

    private static async IAsyncEnumerable<SseItem<JobChange>> ChangesAsync(long id, Guid person, JobChanges bell, CancellationToken stopping, [EnumeratorCancellation] CancellationToken cancel)
    {
        using var either = CancellationTokenSource.CreateLinkedTokenSource(stopping, cancel);
        var rings = bell.OfAsync(id, person, either.Token).GetAsyncEnumerator(either.Token);
        await using (rings)
        {
            while (await MoveAsync(rings))
            {
                yield return new SseItem<JobChange>(rings.Current, "changed");
            }
        }
    }

    private static async Task<bool> MoveAsync(IAsyncEnumerator<JobChange> rings)
    {
        try
        {
            return await rings.MoveNextAsync();
        }
        catch (OperationCanceledException)
        {
            return false;
        }
    }
}
