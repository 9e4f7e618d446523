using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;

namespace WiseLoom.Web.Live;

internal static class LiveEndpoints
{
    internal static void MapLive(this RouteGroupBuilder api) => api.MapGet("/jobs/{id:long}/events", (long id, JobChanges bell, IHostApplicationLifetime life, HttpContext context) =>
        TypedResults.ServerSentEvents(ChangesAsync(id, bell, life.ApplicationStopping, context.RequestAborted))).ExcludeFromDescription();

    private static async IAsyncEnumerable<SseItem<JobChange>> ChangesAsync(long id, JobChanges bell, CancellationToken stopping, [EnumeratorCancellation] CancellationToken cancel)
    {
        using var either = CancellationTokenSource.CreateLinkedTokenSource(stopping, cancel);
        var rings = bell.OfAsync(id, either.Token).GetAsyncEnumerator(either.Token);
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
