using System.Runtime.InteropServices;

namespace WiseLoom.Cli;

/// <summary>Work that goes on until the terminal or the system asks it to stop; being stopped is its right end.</summary>
internal static class UntilStopped
{
    internal static async Task<int> RunAsync(Func<CancellationToken, Task> work)
    {
        using var stop = new CancellationTokenSource();
        using var interrupt = PosixSignalRegistration.Create(PosixSignal.SIGINT, c => Stop(c, stop));
        using var terminate = PosixSignalRegistration.Create(PosixSignal.SIGTERM, c => Stop(c, stop));
        try
        {
            await work(stop.Token).ConfigureAwait(false);
        }
        catch (OperationCanceledException) when (stop.IsCancellationRequested)
        {
            return 0;
        }

        return 0;
    }

    private static void Stop(PosixSignalContext context, CancellationTokenSource stop)
    {
        context.Cancel = true;
        stop.Cancel();
    }
}
