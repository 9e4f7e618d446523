using System.Net.Sockets;
using System.Text;
using WiseLoom.Core.Shop;

namespace WiseLoom.Instruments;

/// <summary>A line to an instrument that speaks SCPI over TCP. One connection for each question: an instrument that was switched off in between is simply
/// asked again, and nothing of an answer that came too late is ever taken for the next.</summary>
/// <param name="host">Name or address.</param>
/// <param name="port">1 to 65535.</param>
/// <param name="patience">How long a whole question may take; 5 s when null.</param>
public sealed class ScpiLine(string host, int port, TimeSpan? patience = null)
{
    /// <summary>Most entries that are taken from an instrument's error queue for one question.</summary>
    private const int MostErrors = 10;

    /// <summary>Longest answer, characters.</summary>
    private const int LongestAnswer = 4096;

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
            using var client = new TcpClient { NoDelay = true };
            await client.ConnectAsync(host, port, limit.Token).ConfigureAwait(false);
            await using var stream = client.GetStream();
            using var reader = new StreamReader(stream, Encoding.UTF8, false, 512);
            await SendAsync(stream, ["*CLS", .. commands, query, "SYST:ERR?"], limit.Token).ConfigureAwait(false);
            var answer = await LineAsync(reader, limit.Token).ConfigureAwait(false);
            var errors = new List<string>();
            for (var error = await LineAsync(reader, limit.Token).ConfigureAwait(false); !IsNone(error); error = await LineAsync(reader, limit.Token).ConfigureAwait(false))
            {
                errors.Add(error);
                if (errors.Count == MostErrors)
                {
                    break;
                }

                await SendAsync(stream, ["SYST:ERR?"], limit.Token).ConfigureAwait(false);
            }

            return (answer, errors);
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            throw new MeterException($"The meter at {host}:{port} did not answer within {longest.TotalSeconds:0.#} s. Is it on and plugged in?");
        }
        catch (Exception e) when (e is SocketException or IOException)
        {
            throw new MeterException($"The meter at {host}:{port} cannot be reached. Is it on and plugged in?", e);
        }
    }

    /// <summary>An answer as a person may be shown it: on one line, cut where it is long, without characters that no screen shows.</summary>
    internal static string Shown(string answer)
    {
        var plain = string.Concat(answer.Take(80).Select(c => char.IsControl(c) ? '·' : c));
        return answer.Length > 80 ? plain + "…" : plain;
    }

    private static bool IsNone(string error) => error.TrimStart('+').StartsWith("0,", StringComparison.Ordinal) || error.Trim() is "0" or "+0";

    private static Task SendAsync(NetworkStream stream, string[] lines, CancellationToken cancel) =>
        stream.WriteAsync(Encoding.ASCII.GetBytes(string.Concat(lines.Select(l => l + "\n"))), cancel).AsTask();

    private async Task<string> LineAsync(StreamReader reader, CancellationToken cancel)
    {
        var line = new StringBuilder();
        var one = new char[1];
        while (await reader.ReadAsync(one.AsMemory(), cancel).ConfigureAwait(false) == 1)
        {
            if (one[0] == '\n')
            {
                return line.ToString().TrimEnd('\r');
            }

            if (line.Append(one[0]).Length > LongestAnswer)
            {
                throw new MeterException($"What answers at {host}:{port} does not end its line: it is no meter.");
            }
        }

        throw new MeterException($"The meter at {host}:{port} hung up before it answered.");
    }
}
