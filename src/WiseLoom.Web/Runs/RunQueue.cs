using System.Collections.Immutable;
using WiseLoom.Core.Runs;
using WiseLoom.Store;

namespace WiseLoom.Web.Runs;

/// <summary>One run in this process: what is asked of it is decided in turn and stored together, so that many benches at one run wait for
/// one write to the disk and not for one each. Other processes may add to the same run: the number of the last event tells.</summary>
internal sealed class RunQueue(RunHead head, BenchRun begun, RunStore store)
{
    /// <summary>How many events are written at once, at most.</summary>
    private const int MostTogether = 500;

    /// <summary>How often a write may be overtaken by other processes before the caller is told to try again.</summary>
    private const int MostTries = 50;

    private readonly Lock gate = new();
    private readonly Queue<Work> waiting = new();
    private BenchRun run = begun;
    private bool busy;

    internal RunHead Head { get; } = head;

    /// <summary>Asks several things in order; the answers come when what was accepted is durable, whether or not anybody still waits.</summary>
    internal Task<(ImmutableArray<Answered> Answers, BenchRun Run)> AskAsync(IReadOnlyList<Ask> asks)
    {
        var work = new Work(asks);
        bool first;
        lock (gate)
        {
            waiting.Enqueue(work);
            (first, busy) = (!busy, true);
        }

        // Whoever comes while nobody is at it begins; what comes meanwhile goes with the next write.
        if (first)
        {
            _ = DrainAsync();
        }

        return work.Done.Task;
    }

    /// <summary>The run with all that the database has of it by now.</summary>
    internal async Task<BenchRun> CatchUpAsync(CancellationToken cancel)
    {
        var known = Standing();
        return Advance(known.After(await store.EventsAsync(Head.Id, known.LastEvent, cancel)));
    }

    private BenchRun Standing()
    {
        lock (gate)
        {
            return run;
        }
    }

    /// <summary>Goes on to a later state; an earlier one changes nothing.</summary>
    private BenchRun Advance(BenchRun to)
    {
        lock (gate)
        {
            return run = to.LastEvent > run.LastEvent ? to : run;
        }
    }

    private async Task DrainAsync()
    {
        while (Together() is { Count: > 0 } works)
        {
            try
            {
                await StoreAsync(works);
            }
            catch (Exception e)
            {
                // Whether it was stored is not known; the same keys sent again will tell.
                works.ForEach(w => w.Done.TrySetException(e));
            }
        }
    }

    /// <summary>What can be written at once; empty when nothing waits, and then nobody is at it any more.</summary>
    private List<Work> Together()
    {
        lock (gate)
        {
            var works = new List<Work>();
            var events = 0;
            while (waiting.TryPeek(out var next) && (works.Count == 0 || events + next.Asks.Count <= MostTogether))
            {
                works.Add(waiting.Dequeue());
                events += next.Asks.Count;
            }

            busy = works.Count > 0;
            return works;
        }
    }

    private async Task StoreAsync(List<Work> works)
    {
        var taken = new HashSet<Guid>();
        for (var tries = 0; tries < MostTries; tries++)
        {
            var before = Standing();
            var (after, events) = Decide(works, before, taken);
            var came = events.Count == 0 ? Appended.Stored : await store.AppendAsync(Head.Id, before.LastEvent, events, after.Summary(), CancellationToken.None);
            if (came == Appended.Stored)
            {
                // A run that stands still may have been left behind by another process: a refusal must not go by what is old.
                if (events.Count == 0 && (await CatchUpAsync(CancellationToken.None)).LastEvent > before.LastEvent)
                {
                    continue;
                }

                Advance(after);
                works.ForEach(w => w.Done.TrySetResult((w.Answers, after)));
                return;
            }

            if (came == Appended.KeyTaken)
            {
                taken.UnionWith(await store.KeysOfOthersAsync(Head.Id, events.Select(e => e.Key), CancellationToken.None));
            }

            await CatchUpAsync(CancellationToken.None);
        }

        throw new TimeoutException($"Run {Head.Id} was changed by others {MostTries} times before this could be stored.");
    }

    /// <summary>Decides everything that waits, each on the run as the one before left it.</summary>
    private static (BenchRun After, List<Happened> Events) Decide(List<Work> works, BenchRun before, HashSet<Guid> taken)
    {
        var (now, events) = (before, new List<Happened>());
        foreach (var work in works)
        {
            var answers = ImmutableArray.CreateBuilder<Answered>(work.Asks.Count);
            foreach (var ask in work.Asks)
            {
                var decision = taken.Contains(ask.Key) ? BenchRun.KeyTaken : ask.Decide(now);
                Happened? happened = null;
                if (decision is Decision.Accepted accepted)
                {
                    happened = new(now.LastEvent + 1, ask.Key, ask.By, ask.At, accepted.What);
                    now = now.After(happened);
                    events.Add(happened);
                }

                answers.Add(new(decision, happened));
            }

            work.Answers = answers.MoveToImmutable();
        }

        return (now, events);
    }

    private sealed class Work(IReadOnlyList<Ask> asks)
    {
        internal IReadOnlyList<Ask> Asks { get; } = asks;

        internal ImmutableArray<Answered> Answers { get; set; }

        internal TaskCompletionSource<(ImmutableArray<Answered> Answers, BenchRun Run)> Done { get; } = new(TaskCreationOptions.RunContinuationsAsynchronously);
    }
}
