using WiseLoom.Core.Practice;

namespace WiseLoom.Web.Faults;

/// <summary>While nobody asks yet, what finds causes is compiled: else the first who asks after a start waits seconds for it.</summary>
internal sealed class WarmStart : BackgroundService
{
    protected override Task ExecuteAsync(CancellationToken stoppingToken) => Task.Run(
        () =>
        {
            try
            {
                WarmUp.Diagnosis(stoppingToken);
            }
            catch (Exception) when (stoppingToken.IsCancellationRequested)
            {
                // The server is stopped before it was warm.
            }
        },
        stoppingToken);
}
