using System.Runtime;

namespace WiseLoom.Web.Work;

/// <summary>Gives memory back to the machine once heavy work is over: the collector by itself does so only while it has more to do.</summary>
internal sealed class MemoryReturn(HeavyQueue queue, TimeProvider clock) : BackgroundService
{
    /// <summary>Below this nothing is given back: the caches and the next piece of work need it, bytes.</summary>
    private const long Kept = 512L * 1024 * 1024;

    private static readonly TimeSpan Every = TimeSpan.FromSeconds(10);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Every, clock);
        try
        {
            while (await timer.WaitForNextTickAsync(stoppingToken))
            {
                if (queue.IsIdle && GC.GetGCMemoryInfo(GCKind.Any).TotalCommittedBytes > Kept)
                {
                    GCSettings.LargeObjectHeapCompactionMode = GCLargeObjectHeapCompactionMode.CompactOnce;
                    GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive, blocking: true, compacting: true);
                }
            }
        }
        catch (OperationCanceledException)
        {
            // The process ends.
        }
    }
}
