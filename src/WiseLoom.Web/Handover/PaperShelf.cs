using Microsoft.Extensions.Caching.Memory;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Units;

namespace WiseLoom.Web.Handover;

/// <summary>What is computed for customers, kept by revision as long as it is asked for; only a cache.</summary>
internal sealed class PaperShelf : IDisposable
{
    /// <summary>Wires of all looms whose papers are kept.</summary>
    private const int Most = 6_000;

    private readonly SemaphoreSlim one = new(1);
    private readonly MemoryCache known = new(new MemoryCacheOptions { SizeLimit = Most });

    /// <summary>Of a revision at its own temperature, in a language; made once, whoever asks at the same moment, and stopped when nobody waits any more.</summary>
    internal async Task<PackPapers?> OfAsync(long revision, Loom loom, Language language, CancellationToken cancel)
    {
        var key = (revision, language.Code);
        while (true)
        {
            var work = known.GetOrCreate(key, entry =>
            {
                entry.Size = loom.Wires.Length + 1;
                return new Lazy<PaperWork>(() => new(loom, language));
            })!.Value;
            if (!work.TryJoin())
            {
                // Its last reader has just gone: it is begun anew.
                known.Remove(key);
                continue;
            }

            try
            {
                return await work.Papers.WaitAsync(cancel);
            }
            finally
            {
                if (work.Leave())
                {
                    known.Remove(key);
                }
            }
        }
    }

    /// <summary>The same for a page that asks again: it is worked on for a minute, and told when it is there.</summary>
    /// <returns>Null while it is not there yet.</returns>
    internal PackPapers? Soon(long revision, Loom loom, Language language)
    {
        var minute = new CancellationTokenSource(TimeSpan.FromMinutes(1));
        var papers = OfAsync(revision, loom, language, minute.Token);
        _ = papers.ContinueWith(_ => minute.Dispose(), CancellationToken.None, TaskContinuationOptions.None, TaskScheduler.Default);
        return papers.IsCompletedSuccessfully ? papers.GetAwaiter().GetResult() : null;
    }

    /// <summary>A draft as it stands; laid out once, whoever asks, and one at a time.</summary>
    /// <param name="key">The run and its last event.</param>
    internal async Task<string> DraftAsync(string key, Loom loom, Func<Task<string>> make)
    {
        await one.WaitAsync();
        try
        {
            return (await known.GetOrCreateAsync(key, entry =>
            {
                entry.Size = loom.Wires.Length + 1;
                return make();
            }))!;
        }
        finally
        {
            one.Release();
        }
    }

    public void Dispose()
    {
        known.Dispose();
        one.Dispose();
    }

    /// <summary>Papers on their way, with how many wait for them.</summary>
    [System.Diagnostics.CodeAnalysis.SuppressMessage("Reliability", "CA1001", Justification = "A source without a timer holds nothing; it goes with the cache's entry.")]
    private sealed class PaperWork
    {
        private readonly CancellationTokenSource stop = new();
        private readonly Lock gate = new();
        private int waiting;

        internal PaperWork(Loom loom, Language language) => Papers = Task.Run(
            () =>
            {
                using var spoken = Words.In(language);
                return PackPapers.Of(loom, loom.AmbientC, stop.Token);
            },
            stop.Token);

        internal Task<PackPapers?> Papers { get; }

        /// <summary>One more waits; false when it was stopped already.</summary>
        internal bool TryJoin()
        {
            lock (gate)
            {
                waiting++;
                return !stop.IsCancellationRequested;
            }
        }

        /// <summary>One waits no more; true when that was the last one and the work is stopped.</summary>
        internal bool Leave()
        {
            lock (gate)
            {
                if (--waiting > 0 || Papers.IsCompletedSuccessfully)
                {
                    return false;
                }

                stop.Cancel();
                return true;
            }
        }
    }
}
