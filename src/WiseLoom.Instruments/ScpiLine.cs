using System.Globalization;
using System.Net.Sockets;
using WiseLoom.Core.Shop;

namespace WiseLoom.Instruments;

/// <summary>A line to an instrument that speaks SCPI. It is opened for each question: an instrument that was switched off in between is simply
/// asked again, and nothing of an answer that came too late is ever taken for the next.</summary>
/// <param name="way">Where it is reached.</param>
/// <param name="patience">How long a whole question may take; 5 s when null.</param>
public sealed class ScpiLine(InstrumentWay way, TimeSpan? patience = null)
{
    /// <summary>Most entries that are taken from an instrument's error queue for one question.</summary>
    private const int MostErrors = 10;

    /// <summary>Most late answers that are passed over before a question.</summary>
    private const int MostLate = 20;

    private readonly TimeSpan longest = patience ?? TimeSpan.FromSeconds(5);

    /// <summary>Sends commands and a question.</summary>
    /// <returns>The answer, and what the error queue then holds, emptied up to ten entries. What stood in it before is cleared first: it belongs to somebody else's question.</returns>
    /// <exception cref="MeterException">It cannot be reached, does not answer in time, hangs up, or never stops answering.</exception>
    public async Task<(string Answer, IReadOnlyList<string> Errors)> ExchangeAsync(string[] commands, string query, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(commands);
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        limit.CancelAfter(longest);
        try
        {
            var (stream, closes) = await way.OpenAsync(limit.Token).ConfigureAwait(false);
            using var _ = closes;
            using var lines = new AnswerLines(stream, way.Where);
            if (way.KeepsLateAnswers)
            {
                await PassLateAnswersAsync(stream, lines, limit.Token).ConfigureAwait(false);
            }

            await way.SendAsync(stream, ["*CLS", .. commands, query, "SYST:ERR?"], limit.Token).ConfigureAwait(false);
            var answer = await lines.NextAsync(limit.Token).ConfigureAwait(false);
            var errors = new List<string>();
            for (var error = await lines.NextAsync(limit.Token).ConfigureAwait(false); !IsNone(error); error = await lines.NextAsync(limit.Token).ConfigureAwait(false))
            {
                errors.Add(error);
                if (errors.Count == MostErrors)
                {
                    break;
                }

                await way.SendAsync(stream, ["SYST:ERR?"], limit.Token).ConfigureAwait(false);
            }

            return (answer, errors);
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            throw new MeterException($"The meter at {way.Where} did not answer within {longest.TotalSeconds:0.#} s. Is it on and plugged in?");
        }
        catch (Exception e) when (e is SocketException or IOException or ObjectDisposedException or InvalidOperationException)
        {
            throw new MeterException($"The meter at {way.Where} cannot be reached. Is it on and plugged in?", e);
        }
    }

    /// <summary>Answers come in the order of the questions. So a number that nobody else has set is asked for, and what comes before it belongs to an earlier question.</summary>
    /// <remarks>The number is the mask of standard events (IEEE 488.2, 10.10 and 10.11: *ESE, *ESE?), which nothing here uses.</remarks>
    private async Task PassLateAnswersAsync(Stream stream, AnswerLines lines, CancellationToken cancel)
    {
        var mark = Random.Shared.Next(1, 256).ToString(CultureInfo.InvariantCulture);
        await way.SendAsync(stream, [$"*ESE {mark}", "*ESE?"], cancel).ConfigureAwait(false);
        for (var passed = 0; (await lines.NextAsync(cancel).ConfigureAwait(false)).Trim().TrimStart('+') != mark; passed++)
        {
            if (passed == MostLate)
            {
                throw new MeterException($"What answers at {way.Where} does not answer what it is asked: it speaks no SCPI, or its speed is another.");
            }
        }
    }

    private static bool IsNone(string error) => error.TrimStart('+').StartsWith("0,", StringComparison.Ordinal) || error.Trim() is "0" or "+0";
}
