using System.Collections.Concurrent;
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Threading.Channels;
using Npgsql;
using WiseLoom.Store;

namespace WiseLoom.Web.Live;

/// <summary>Rings when the database says that a job has changed, whichever process changed it.</summary>
internal sealed partial class JobBell(NpgsqlDataSource source, ILogger<JobBell> log) : BackgroundService
{
    private static readonly TimeSpan BeforeNextTry = TimeSpan.FromSeconds(1);

    private readonly ConcurrentDictionary<Guid, (long Job, ChannelWriter<bool> Ring)> listeners = new();

    /// <summary>A value for each change of a job, and one at once; changes that come while nobody reads count as one.</summary>
    internal async IAsyncEnumerable<bool> OfAsync(long job, [EnumeratorCancellation] CancellationToken cancel)
    {
        var channel = Channel.CreateBounded<bool>(new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropOldest });
        var me = Guid.NewGuid();
        listeners[me] = (job, channel.Writer);
        channel.Writer.TryWrite(true);
        try
        {
            await foreach (var ring in channel.Reader.ReadAllAsync(cancel))
            {
                yield return ring;
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
            if (long.TryParse(told.Payload, NumberStyles.None, CultureInfo.InvariantCulture, out var job))
            {
                Ring(job);
            }
        };
        await using (var listen = new NpgsqlCommand($"listen {Database.JobChannel}", connection))
        {
            await listen.ExecuteNonQueryAsync(cancel);
        }

        // What happened while nobody listened is not known: every page looks again.
        Ring(null);
        while (true)
        {
            await connection.WaitAsync(cancel);
        }
    }

    private void Ring(long? job)
    {
        foreach (var (of, ring) in listeners.Values)
        {
            if (job is null || of == job)
            {
                ring.TryWrite(true);
            }
        }
    }

    [LoggerMessage(LogLevel.Warning, "The database does not answer; listening again soon.")]
    private static partial void Lost(ILogger log, Exception e);
}
