using System.Globalization;
using System.Net.Sockets;
using System.Text;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Shop;

namespace WiseLoom.Instruments;

/// <summary>A meter with a switch matrix that speaks SCPI over TCP. One connection for each reading: a meter that was switched off
/// in between is simply asked again.</summary>
public sealed class ScpiMeter(string host, int port, bool fourWire) : IBenchMeter
{
    /// <summary>SCPI's word for "beyond the scale" (SCPI-99, 7.2.1.5: 9.9E37).</summary>
    private const double Infinity = 9.9e37;

    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(5);

    /// <inheritdoc/>
    public async Task<Reading> MeasureAsync(Loom loom, StepProbes probes, CancellationToken cancel)
    {
        var list = new Fixture(loom).ChannelList(probes.Red, probes.Black);
        var answer = await AskAsync(["ROUT:OPEN:ALL", $"ROUT:CLOS {list}"], fourWire ? "MEAS:FRES?" : "MEAS:RES?", cancel).ConfigureAwait(false);
        if (!double.TryParse(answer, NumberStyles.Float, CultureInfo.InvariantCulture, out var ohms) || double.IsNaN(ohms))
        {
            throw new MeterException($"The meter answered '{Shown(answer)}', which is not a number.");
        }

        return ohms >= Infinity * 0.99 ? Reading.OverRange : new Reading(ohms);
    }

    /// <inheritdoc/>
    public async Task<int> RepairAsync(string place, CancellationToken cancel)
    {
        var answer = await AskAsync([], $"LOOM:REP? \"{place.Replace("\"", "", StringComparison.Ordinal).ReplaceLineEndings("")}\"", cancel).ConfigureAwait(false);
        return int.TryParse(answer, NumberStyles.Integer, CultureInfo.InvariantCulture, out var count)
            ? count
            : throw new MeterException("This meter is not a practice stand-in: repair the loom itself.");
    }

    /// <inheritdoc/>
    public async Task<string?> LoomAsync(CancellationToken cancel)
    {
        var (answer, error) = await ExchangeAsync([], "LOOM:NAME?", cancel).ConfigureAwait(false);
        return error.StartsWith('0') && answer.Length > 0 ? answer : null;
    }

    private async Task<string> AskAsync(string[] commands, string query, CancellationToken cancel)
    {
        var (answer, error) = await ExchangeAsync(commands, query, cancel).ConfigureAwait(false);
        return error.StartsWith('0') ? answer : throw new MeterException($"The meter reports: {Shown(error)}.");
    }

    /// <summary>Sends commands and a question; gives the answer and what the error queue then holds.</summary>
    private async Task<(string Answer, string Error)> ExchangeAsync(string[] commands, string query, CancellationToken cancel)
    {
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        patience.CancelAfter(Patience);
        try
        {
            using var client = new TcpClient { NoDelay = true };
            await client.ConnectAsync(host, port, patience.Token).ConfigureAwait(false);
            await using var stream = client.GetStream();
            using var reader = new StreamReader(stream, Encoding.UTF8);
            var text = string.Concat(commands.Append(query).Append("SYST:ERR?").Select(c => c + "\n"));
            await stream.WriteAsync(Encoding.ASCII.GetBytes(text), patience.Token).ConfigureAwait(false);
            var answer = await reader.ReadLineAsync(patience.Token).ConfigureAwait(false);
            var error = await reader.ReadLineAsync(patience.Token).ConfigureAwait(false);
            if (answer is null || error is null)
            {
                throw new MeterException($"The meter at {host}:{port} hung up before it answered.");
            }

            return (answer, error);
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            throw new MeterException($"The meter at {host}:{port} did not answer within {Patience.TotalSeconds:0} s. Is it on and plugged in?");
        }
        catch (Exception e) when (e is SocketException or IOException)
        {
            throw new MeterException($"The meter at {host}:{port} cannot be reached. Is it on and plugged in?", e);
        }
    }

    private static string Shown(string answer) => answer.Length > 80 ? answer[..80] + "…" : answer;
}
