using System.Collections.Concurrent;
using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using Npgsql;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Live;

/// <summary>Says of an endpoint that it answers with a stream of events.</summary>
internal sealed record StreamsEvents;

/// <summary>The only way to stream events to a page: each stream ends with its session, its caller and the process, and one person has so many at once.</summary>
internal sealed class PageStreams(Sessions sessions, IHostApplicationLifetime life)
{
    /// <summary>Most streams of one person at once, of all kinds together.</summary>
    internal const int MostForEach = 30;

    private readonly ConcurrentDictionary<Guid, int> open = new();

    /// <summary>Streams values as events of one name.</summary>
    /// <param name="follow">The values; its token ends with the session, the caller and the process.</param>
    /// <returns>429 when the person has too many streams already.</returns>
    internal Results<ServerSentEventsResult<T>, ProblemHttpResult> Open<T>(ClaimsPrincipal user, HttpContext context, string name, Func<CancellationToken, IAsyncEnumerable<T>> follow)
    {
        var person = user.Id();
        if (open.AddOrUpdate(person, 1, (_, n) => n + 1) > MostForEach)
        {
            Close(person);
            return TypedResults.Problem(title: $"{MostForEach} of your pages follow jobs already. Close some.", statusCode: StatusCodes.Status429TooManyRequests);
        }

        context.Response.RegisterForDispose(new Closing(this, person));
        return TypedResults.ServerSentEvents(UntilEndAsync(user.Session(), name, follow, context.RequestAborted));
    }

    private async IAsyncEnumerable<SseItem<T>> UntilEndAsync<T>(Guid session, string name, Func<CancellationToken, IAsyncEnumerable<T>> follow, [EnumeratorCancellation] CancellationToken gone)
    {
        using var end = CancellationTokenSource.CreateLinkedTokenSource(life.ApplicationStopping, gone);
        var watch = EndWithAsync(session, end);
        var values = follow(end.Token).GetAsyncEnumerator(end.Token);
        try
        {
            while (await MoveAsync(values))
            {
                yield return new(values.Current, name);
            }
        }
        finally
        {
            await end.CancelAsync();
            await values.DisposeAsync();
            await watch;
        }
    }

    /// <summary>Nobody is told anything once the session has ended, whichever process ended it.</summary>
    private async Task EndWithAsync(Guid session, CancellationTokenSource follow)
    {
        using var timer = new PeriodicTimer(Sessions.Trusted);
        try
        {
            while (await timer.WaitForNextTickAsync(follow.Token))
            {
                if (!await HoldsAsync(session, follow.Token))
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

    private async Task<bool> HoldsAsync(Guid session, CancellationToken cancel)
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

    private static async Task<bool> MoveAsync<T>(IAsyncEnumerator<T> values)
    {
        try
        {
            return await values.MoveNextAsync();
        }
        catch (OperationCanceledException)
        {
            return false;
        }
    }

    private void Close(Guid person)
    {
        // Nobody's last entry stays: what it says is taken away only while it is what was read.
        for (var n = open.GetValueOrDefault(person); n > 0; n = open.GetValueOrDefault(person))
        {
            if (n == 1 ? open.TryRemove(KeyValuePair.Create(person, 1)) : open.TryUpdate(person, n - 1, n))
            {
                return;
            }
        }
    }

    private sealed class Closing(PageStreams streams, Guid person) : IDisposable
    {
        public void Dispose() => streams.Close(person);
    }
}
