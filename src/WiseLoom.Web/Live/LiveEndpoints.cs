using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using Npgsql;
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
        long id, ClaimsPrincipal user, JobStore jobs, JobChanges bell, Sessions sessions, IHostApplicationLifetime life, HttpContext context, CancellationToken cancel) =>
        await jobs.FindAsync(id, cancel) is null ? Refusal.NotFound("job")
        : bell.PagesOf(user.Id()) >= MostForEach ? TypedResults.Problem(title: $"{MostForEach} of your pages follow jobs already. Close some.", statusCode: StatusCodes.Status429TooManyRequests)
        : TypedResults.ServerSentEvents(ChangesAsync(id, user.Id(), user.Session(), bell, sessions, life.ApplicationStopping, context.RequestAborted));

    private static async IAsyncEnumerable<SseItem<JobChange>> ChangesAsync(
        long id, Guid person, Guid session, JobChanges bell, Sessions sessions, CancellationToken stopping, [EnumeratorCancellation] CancellationToken cancel)
    {
        using var either = CancellationTokenSource.CreateLinkedTokenSource(stopping, cancel);
        var watch = EndWithAsync(session, sessions, either);
        var rings = bell.OfAsync(id, person, either.Token).GetAsyncEnumerator(either.Token);
        try
        {
            while (await MoveAsync(rings))
            {
                yield return new SseItem<JobChange>(rings.Current, "changed");
            }
        }
        finally
        {
            await rings.DisposeAsync();
            await either.CancelAsync();
            await watch;
        }
    }

    /// <summary>Nobody is told anything once the session has ended, whichever process ended it.</summary>
    private static async Task EndWithAsync(Guid session, Sessions sessions, CancellationTokenSource follow)
    {
        using var timer = new PeriodicTimer(Sessions.Trusted);
        try
        {
            while (await timer.WaitForNextTickAsync(follow.Token))
            {
                if (!await HoldsAsync(session, sessions, follow.Token))
                {
                    await follow.CancelAsync();
                }
            }
        }
        catch (OperationCanceledException)
        {
            // The page has gone, or its session.
        }
    }

    private static async Task<bool> HoldsAsync(Guid session, Sessions sessions, CancellationToken cancel)
    {
        try
        {
            return await sessions.HolderAsync(session, cancel) is not null;
        }
        catch (NpgsqlException)
        {
            // A database that is away tells nothing either.
            return true;
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
