using System.Collections.Concurrent;
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Threading.Channels;
using Npgsql;
using WiseLoom.Store;

namespace WiseLoom.Web.Live;

/// <summary>What has changed about a job.</summary>
/// <param name="Run">The run that got events; null when it is something else, or not known: look at everything again.</param>
/// <param name="LastEvent">Number of that run's last event; 0 when it got none.</param>
/// <param name="People">Whether somebody came to that run, went on in it, or took connectors.</param>
internal sealed record JobChange(long? Run, long LastEvent, bool People = false);

/// <summary>Tells when the database says that a job has changed, whichever process changed it.</summary>
internal sealed partial class JobChanges(NpgsqlDataSource source, ILogger<JobChanges> log) : BackgroundService
{
    private static readonly TimeSpan BeforeNextTry = TimeSpan.FromSeconds(1);

    private readonly ConcurrentDictionary<Guid, Listener> listeners = new();

    /// <summary>Each change of a job, and one for everything at once; changes that come while nobody reads count as one.</summary>
    internal async IAsyncEnumerable<JobChange> OfAsync(long job, [EnumeratorCancellation] CancellationToken cancel)
    {
        var (me, listener) = (Guid.NewGuid(), new Listener(job));
        listeners[me] = listener;
        listener.Tell(new(null, 0));
        try
        {
            await foreach (var pulse in listener.Pulses.ReadAllAsync(cancel))
            {
                if (listener.Take() is { } change)
                {
                    yield return change;
                }
            }
        }
        finally
        {
            listeners.TryRemove(me, out _);
        }
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                await ListenAsync(stoppingToken);
            }
            catch (OperationCanceledException)
            {
                return;
            }
            catch (NpgsqlException e)
            {
                Lost(log, e);
                await Task.Delay(BeforeNextTry, stoppingToken);
            }
        }
    }

    private async Task ListenAsync(CancellationToken cancel)
    {
        await using var connection = await source.OpenConnectionAsync(cancel);
        connection.Notification += (_, told) =>
        {
            var parts = told.Payload.Split(' ');
            if (long.TryParse(parts[0], NumberStyles.None, CultureInfo.InvariantCulture, out var job))
            {
                var run = parts.Length == 3 && long.TryParse(parts[1], NumberStyles.None, CultureInfo.InvariantCulture, out var r) ? r : (long?)null;
                Tell(job, new(run, run is not null && long.TryParse(parts[2], NumberStyles.None, CultureInfo.InvariantCulture, out var last) ? last : 0, parts is [_, _, "people"]));
            }
        };
        await using (var listen = new NpgsqlCommand($"listen {Database.JobChannel}", connection))
        {
            await listen.ExecuteNonQueryAsync(cancel);
        }

        // What happened while nobody listened is not known: every page looks again.
        Tell(null, new(null, 0));
        while (true)
        {
            await connection.WaitAsync(cancel);
        }
    }

    private void Tell(long? job, JobChange change)
    {
        foreach (var listener in listeners.Values)
        {
            if (job is null || listener.Job == job)
            {
                listener.Tell(change);
            }
        }
    }

    [LoggerMessage(LogLevel.Warning, "The database does not answer; listening again soon.")]
    private static partial void Lost(ILogger log, Exception e);

    /// <summary>Somebody who listens to a job, and what they have not been told yet.</summary>
    private sealed class Listener(long job)
    {
        private readonly Channel<bool> pulses = Channel.CreateBounded<bool>(new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropWrite });
        private readonly Lock gate = new();
        private JobChange? untold;

        internal long Job { get; } = job;

        internal ChannelReader<bool> Pulses => pulses.Reader;

        /// <summary>Two changes of one run are its later one; any other two are a reason to look at everything.</summary>
        internal void Tell(JobChange change)
        {
            lock (gate)
            {
                untold = untold is null ? change
                    : untold.Run == change.Run ? new(change.Run, Math.Max(untold.LastEvent, change.LastEvent), untold.People || change.People)
                    : new(null, 0, true);
            }

            pulses.Writer.TryWrite(true);
        }

        internal JobChange? Take()
        {
            lock (gate)
            {
                var told = untold;
                untold = null;
                return told;
            }
        }
    }
}
