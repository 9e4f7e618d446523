using System.Runtime.ExceptionServices;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Work on the items of a list on all cores.</summary>
/// <remarks>
/// Items are handed out one by one as cores come free: some take a hundred times as long as others. Whoever asks works along, and waits at the end only for what another core has
/// begun: there are dozens of such lists in a ranking, some within others, and none of them waits for a thread to come.
/// </remarks>
internal static class SideBySide
{
    /// <summary>What comes of each, in their order.</summary>
    /// <param name="of">May be asked by several at once. What it throws first is thrown.</param>
    /// <exception cref="OperationCanceledException">It was given up.</exception>
    internal static TOut[] Each<TIn, TOut>(this IReadOnlyList<TIn> items, Func<TIn, TOut> of, CancellationToken cancel)
    {
        var work = new Work<TIn, TOut>(items, of, cancel);
        for (var helpers = Math.Min(Environment.ProcessorCount, items.Count) - 1; helpers > 0; helpers--)
        {
            ThreadPool.UnsafeQueueUserWorkItem(work, preferLocal: true);
        }

        work.Execute();
        return work.Done();
    }

    private sealed class Work<TIn, TOut>(IReadOnlyList<TIn> items, Func<TIn, TOut> of, CancellationToken cancel) : IThreadPoolWorkItem
    {
        private readonly TOut[] results = new TOut[items.Count];
        private readonly TaskCompletionSource all = new();
        private ExceptionDispatchInfo? failed;
        private int taken, done;

        public void Execute()
        {
            for (var at = Interlocked.Increment(ref taken) - 1; at < results.Length; at = Interlocked.Increment(ref taken) - 1)
            {
                Take(at);
                if (Interlocked.Increment(ref done) == results.Length)
                {
                    all.SetResult();
                }
            }
        }

        internal TOut[] Done()
        {
            if (results.Length > 0)
            {
                all.Task.Wait(CancellationToken.None);
            }

            failed?.Throw();
            return results;
        }

        private void Take(int at)
        {
            if (failed is not null)
            {
                return;
            }

            try
            {
                cancel.ThrowIfCancellationRequested();
                results[at] = of(items[at]);
            }
#pragma warning disable CA1031 // Whatever it is, it is thrown where the work was asked for.
            catch (Exception e)
#pragma warning restore CA1031
            {
                Interlocked.CompareExchange(ref failed, ExceptionDispatchInfo.Capture(e), null);
            }
        }
    }
}
