using System.Collections.Immutable;
using Microsoft.Extensions.Caching.Memory;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;
using WiseLoom.Store;
using WiseLoom.Web.Looms;

namespace WiseLoom.Web.Runs;

/// <summary>A run as it stands now.</summary>
internal sealed record OpenRun(RunHead Head, BenchRun Run);

/// <summary>Something that somebody asks of a run.</summary>
/// <param name="Key">Made by the client; the same key is the same question.</param>
/// <param name="At">When it was done, by the clock of whoever did it.</param>
/// <param name="Decide">Whether it can be, as the run stands; may be called more than once.</param>
internal sealed record Ask(Guid Key, Hand By, DateTimeOffset At, Func<BenchRun, Decision> Decide);

/// <summary>The answer.</summary>
/// <param name="Event">What it became; null when it was refused or had happened before.</param>
internal sealed record Answered(Decision Decision, Happened? Event);

/// <summary>The way to every run for everybody who reads or changes one. It keeps runs as they stand, and follows what other processes add.</summary>
internal sealed class RunLedger(RunStore store, MeterStore meters, LoomLibrary looms) : IDisposable
{
    /// <summary>Steps of all runs that are kept, and of all plans; a run of 3,000 steps takes some 3 MB with its plan.</summary>
    private const int MostSteps = 200_000;

    private static readonly TimeSpan Unused = TimeSpan.FromMinutes(30);

    private readonly MemoryCache runs = new(new MemoryCacheOptions { SizeLimit = MostSteps });
    private readonly MemoryCache plans = new(new MemoryCacheOptions { SizeLimit = MostSteps });

    /// <summary>A run with all that is stored of it, and its meter as it is entered now; null when there is none of this number.</summary>
    internal async Task<OpenRun?> FindAsync(long id, CancellationToken cancel) => await QueueAsync(id, cancel) is { } queue
        ? new(queue.Head with { Meter = await meters.FindAsync(queue.Head.Meter.Id, cancel) ?? queue.Head.Meter }, await queue.CatchUpAsync(cancel))
        : null;

    /// <summary>What hardly ever changes about a run, without looking at its events; null when there is none of this number.</summary>
    internal async Task<RunHead?> HeadAsync(long id, CancellationToken cancel) => (await QueueAsync(id, cancel))?.Head;

    /// <summary>The job's current run when it is on a revision; null when there is none.</summary>
    internal async Task<OpenRun?> CurrentAsync(Job job, CancellationToken cancel) => job.RunId is { } run ? await FindAsync(run, cancel) : null;

    /// <summary>Asks several things of a run, in order, and stores what comes of it. What was answered is durable.</summary>
    /// <returns>An answer for each, and the run after them; null when there is no such run.</returns>
    internal async Task<(ImmutableArray<Answered> Answers, OpenRun Open)?> AskAsync(long id, IReadOnlyList<Ask> asks, CancellationToken cancel)
    {
        if (await QueueAsync(id, cancel) is not { } queue)
        {
            return null;
        }

        var (answers, run) = await queue.AskAsync(asks).WaitAsync(cancel);
        return (answers, new(queue.Head, run));
    }

    /// <summary>Asks one thing of a run.</summary>
    internal async Task<(Answered Answer, OpenRun Open)?> AskAsync(long id, Ask ask, CancellationToken cancel) =>
        await AskAsync(id, [ask], cancel) is { } asked ? (asked.Answers[0], asked.Open) : null;

    /// <summary>A run step by step with every reading, up to where it stands.</summary>
    internal async Task<ImmutableArray<RecordedStep>> RecordAsync(OpenRun open, CancellationToken cancel) =>
        RunRecord.Of(open.Run, (await store.EventsAsync(open.Head.Id, 0, cancel)).Where(e => e.Number <= open.Run.LastEvent));

    /// <summary>One event of a run; null when it has none of this number.</summary>
    internal async Task<Happened?> EventAsync(long run, long number, CancellationToken cancel) =>
        (await store.EventsAsync(run, number - 1, cancel)).Find(e => e.Number == number);

    /// <summary>Works out the summaries that an older schema did not keep.</summary>
    internal async Task SummariseAsync(CancellationToken cancel)
    {
        foreach (var head in await store.WithoutSummaryAsync(cancel))
        {
            var run = (await FindAsync(head.Id, cancel))!.Run;
            await store.SummariseAsync(head.Id, run.LastEvent, run.Summary(), cancel);
        }
    }

    public void Dispose()
    {
        runs.Dispose();
        plans.Dispose();
    }

    private async Task<RunQueue?> QueueAsync(long id, CancellationToken cancel)
    {
        if (runs.TryGetValue(id, out RunQueue? known))
        {
            return known;
        }

        if (await store.FindAsync(id, cancel) is not { } head || await looms.FindAsync(head.RevisionId, cancel) is not { } loom)
        {
            return null;
        }

        var plan = await PlanAsync(head.PlanHash, cancel);
        // Faults and failures belong to the loom: what the run before left is this one's. That run is set aside, so nothing of it changes any more.
        var before = await store.BeforeAsync(id, cancel) is { } earlier ? await FindAsync(earlier, cancel) : null;
        var inherited = before is null ? null : Inheritance.Of(before.Run, before.Head.Id, before.Head.Meter.Id);
        return runs.GetOrCreate(id, entry =>
        {
            (entry.Size, entry.SlidingExpiration) = (plan.Steps.Length + 1, Unused);
            return new RunQueue(head, BenchRun.Begin(loom, plan, inherited, head.Meter.Id), store);
        });
    }

    private async Task<TestPlan> PlanAsync(string hash, CancellationToken cancel) => (await plans.GetOrCreateAsync(hash, async entry =>
    {
        var plan = await store.PlanAsync(hash, cancel);
        (entry.Size, entry.SlidingExpiration) = ((plan?.Steps.Length ?? 0) + 1, Unused);
        return plan;
    }))!;
}
