using System.Globalization;
using System.Net;
using System.Net.Sockets;
using System.Text;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Practice;

namespace WiseLoom.Instruments;

/// <summary>A stand-in for a bench meter with a switch matrix: speaks SCPI on a loopback port and reads a loom with hidden faults.</summary>
public sealed class SimulatedMeter(Loom loom, SimulatedBench bench)
{
    private const int LongestLine = 256 * 1024;

    private readonly Fixture fixture = new(loom);
    private readonly Lock one = new();

    /// <summary>Serves until cancelled.</summary>
    /// <param name="port">0 for any free port.</param>
    /// <param name="listening">Called once with the port in use.</param>
    /// <exception cref="OperationCanceledException">Always, in the end.</exception>
    public async Task ServeAsync(int port, Action<int> listening, CancellationToken cancel)
    {
        using var listener = new TcpListener(IPAddress.Loopback, port);
        listener.Start();
        listening(((IPEndPoint)listener.LocalEndpoint).Port);
        while (true)
        {
            var client = await listener.AcceptTcpClientAsync(cancel).ConfigureAwait(false);
            _ = TalkAsync(client, cancel);
        }
    }

    private async Task TalkAsync(TcpClient client, CancellationToken cancel)
    {
        using (client)
        {
            client.NoDelay = true;
            try
            {
                await using var stream = client.GetStream();
                using var reader = new StreamReader(stream, Encoding.ASCII);
                var session = new Session(this);
                while (await reader.ReadLineAsync(cancel).ConfigureAwait(false) is { } line)
                {
                    var answer = line.Length > LongestLine ? session.Refuse() : session.Answer(line.Trim());
                    if (answer is not null)
                    {
                        await stream.WriteAsync(Encoding.UTF8.GetBytes(answer + "\n"), cancel).ConfigureAwait(false);
                    }
                }
            }
            catch (Exception e) when (e is IOException or SocketException or OperationCanceledException)
            {
                // The other side hung up, or the bench is being closed: nothing is left to tell anybody.
            }
        }
    }

    private sealed class Session(SimulatedMeter meter)
    {
        private readonly Queue<string> errors = [];
        private readonly HashSet<(int Row, ProbePoint Point)> closed = [];

        public string? Refuse()
        {
            errors.Enqueue("-223,\"Too much data\"");
            return null;
        }

        public string? Answer(string line)
        {
            var space = line.IndexOf(' ', StringComparison.Ordinal);
            var header = (space < 0 ? line : line[..space]).ToUpperInvariant();
            var rest = space < 0 ? "" : line[(space + 1)..];
            switch (header)
            {
                case "":
                    return null;
                case "*IDN?":
                    return "Wise Loom,bench meter stand-in,0,1";
                case "*RST" or "ROUT:OPEN:ALL":
                    closed.Clear();
                    return null;
                case "ROUT:CLOS":
                    Close(rest);
                    return null;
                case "MEAS:RES?" or "MEAS:FRES?":
                    return Measure();
                case "LOOM:NAME?":
                    return meter.Carries;
                case "LOOM:REP?":
                    lock (meter.one)
                    {
                        return Bench.Repair(rest.Trim('"')).ToString(CultureInfo.InvariantCulture);
                    }

                case "SYST:ERR?":
                    return errors.TryDequeue(out var error) ? error : "0,\"No error\"";
                default:
                    errors.Enqueue("-113,\"Undefined header\"");
                    return header.EndsWith('?') ? "" : null;
            }
        }

        private SimulatedBench Bench => meter.Bench;

        private void Close(string list)
        {
            if (meter.fixture.Parse(list) is { } channels)
            {
                closed.UnionWith(channels);
            }
            else
            {
                errors.Enqueue("-224,\"Illegal parameter value\"");
            }
        }

        private string Measure()
        {
            ProbePoint[] On(int row) => [.. closed.Where(c => c.Row == row).Select(c => c.Point)];
            var (red, black) = (On(Fixture.RedRow), On(Fixture.BlackRow));
            if (red.Length == 0 || black.Length == 0)
            {
                return "9.9E+37";
            }

            lock (meter.one)
            {
                return Bench.Measure(red, black).Ohms is { } ohms ? ohms.ToString("0.000000E+00", CultureInfo.InvariantCulture) : "9.9E+37";
            }
        }
    }

    private SimulatedBench Bench => bench;

    /// <summary>The loom it reads, on one line.</summary>
    private string Carries { get; } = loom.Name.ReplaceLineEndings(" ");
}
