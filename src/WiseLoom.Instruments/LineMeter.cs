using System.Diagnostics;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Shop;

namespace WiseLoom.Instruments;

/// <summary>A meter that sends a line for each value, by itself or when it is asked. Hands hold its probes.</summary>
/// <param name="way">Where it is reached.</param>
/// <param name="lines">How its lines are read.</param>
/// <param name="meter">What it can tell: its noise says when it is steady.</param>
/// <param name="patience">How long a reading may take; 5 s when null.</param>
public sealed class LineMeter(InstrumentWay way, LinePattern lines, Meter meter, TimeSpan? patience = null) : IBenchMeter
{
    /// <summary>How long a meter that sends by itself must be steady; one that is asked says the same twice.</summary>
    private static readonly TimeSpan Steady = TimeSpan.FromMilliseconds(250);

    private readonly TimeSpan longest = patience ?? TimeSpan.FromSeconds(5);

    /// <inheritdoc/>
    public async Task<Reading> MeasureAsync(Loom loom, StepProbes probes, CancellationToken cancel) => (await ReadAsync(cancel).ConfigureAwait(false)).Reading;

    /// <inheritdoc/>
    public async Task<Reading> CheckAsync(Loom loom, CheckKind check, CancellationToken cancel) => (await ReadAsync(cancel).ConfigureAwait(false)).Reading;

    /// <summary>Waits until what it sends is steady.</summary>
    /// <returns>The reading, and the line that said it.</returns>
    /// <exception cref="MeterException">No line comes, none can be read, or the value does not come to rest in time.</exception>
    public async Task<(Reading Reading, string Line)> ReadAsync(CancellationToken cancel)
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        limit.CancelAfter(longest);
        LineReading? last = null;
        try
        {
            var (stream, closes) = await way.OpenAsync(limit.Token).ConfigureAwait(false);
            using var _ = closes;
            using var answers = new AnswerLines(stream, way.Where);
            var asked = lines.Ask.Length > 0;
            var steady = new SteadyReading(meter, asked ? TimeSpan.FromTicks(1) : Steady, null, touchIsSure: true);
            var begun = Stopwatch.GetTimestamp();
            if (!asked)
            {
                // Of the first line the beginning may be missing.
                await answers.NextAsync(limit.Token).ConfigureAwait(false);
            }

            while (true)
            {
                if (asked)
                {
                    await way.SendAsync(stream, [lines.Ask], limit.Token).ConfigureAwait(false);
                }

                var line = await NextAsync(answers, limit.Token).ConfigureAwait(false);
                last = lines.Read(line);
                if (last.Reading is { } shown && steady.Look(Stopwatch.GetElapsedTime(begun), shown) is { } reading)
                {
                    return (reading, line);
                }
            }
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            throw new MeterException(last switch
            {
                null => $"No line came from {way.Where} within {longest.TotalSeconds:0.#} s. Is the meter on, and does it send?",
                { Wrong: { } wrong } => $"The meter at {way.Where} sends what cannot be read: {wrong}",
                _ => $"What the meter at {way.Where} shows did not come to rest within {longest.TotalSeconds:0.#} s. Hold the probes still and take it again.",
            });
        }
        catch (Exception e) when (e is IOException or ObjectDisposedException or InvalidOperationException or System.Net.Sockets.SocketException)
        {
            throw new MeterException($"The port {way.Where} went away. Is the meter’s cable plugged in at the server?", e);
        }
    }

    /// <inheritdoc/>
    public async Task<string> IdentityAsync(CancellationToken cancel) => LinePattern.Shown((await ReadAsync(cancel).ConfigureAwait(false)).Line);

    /// <inheritdoc/>
    public Task<string?> LoomAsync(CancellationToken cancel) => Task.FromResult<string?>(null);

    /// <inheritdoc/>
    public Task MoveAsync(bool moved, CancellationToken cancel) => Task.CompletedTask;

    /// <inheritdoc/>
    public Task<int> RepairAsync(string place, CancellationToken cancel) => throw new MeterException("This meter is not a practice stand-in: repair the loom itself.");

    private static async Task<string> NextAsync(AnswerLines answers, CancellationToken cancel)
    {
        while (true)
        {
            if (await answers.NextAsync(cancel).ConfigureAwait(false) is { } line && !string.IsNullOrWhiteSpace(line))
            {
                return line;
            }
        }
    }
}
