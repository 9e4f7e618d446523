using Microsoft.Extensions.Caching.Memory;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Runs;
using WiseLoom.Store;

namespace WiseLoom.Web.Runs;

/// <summary>What the readings of runs say; the last of each run is kept, and gone on from when one more event comes. Only a cache.</summary>
internal sealed class DiagnosisCache(FaultLogStore log) : IDisposable
{
    /// <summary>Wires of all looms whose diagnoses are kept.</summary>
    private const int Most = 24_000;

    /// <summary>Whoever asks of one run waits for who asked before, and finds it known; so many runs are worked on at once at most.</summary>
    private readonly SemaphoreSlim[] turns = [.. Enumerable.Range(0, 16).Select(_ => new SemaphoreSlim(1))];

    private readonly MemoryCache known = new(new MemoryCacheOptions { SizeLimit = Most });

    /// <summary>Of a run as it stands.</summary>
    internal async Task<RunDiagnosis> OfAsync(long run, BenchRun stands, CancellationToken cancel)
    {
        var tally = await log.TallyAsync(cancel);
        var turn = turns[run % turns.Length];
        await turn.WaitAsync(cancel);
        try
        {
            var last = known.Get<RunDiagnosis>(run);
            return last?.IsOf(stands, tally) == true ? last : known.Set(run, RunDiagnosis.Of(stands, tally, last, cancel), new MemoryCacheEntryOptions { Size = stands.Loom.Wires.Length + 1 });
        }
        finally
        {
            turn.Release();
        }
    }

    public void Dispose()
    {
        known.Dispose();
        Array.ForEach(turns, t => t.Dispose());
    }
}
