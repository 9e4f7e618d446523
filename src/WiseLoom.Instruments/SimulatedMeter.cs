using System.Diagnostics;
using System.Globalization;
using System.Net.Sockets;
using System.Text;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Practice;

namespace WiseLoom.Instruments;

/// <summary>A stand-in for a bench meter with a switch matrix: speaks SCPI on a loopback port and reads a loom with hidden faults.</summary>
/// <param name="linkOhms">Value of the known link in its fixture.</param>
public sealed class SimulatedMeter(Loom loom, SimulatedBench bench, double linkOhms = 1)
{
    private const int LongestLine = 256 * 1024;

    /// <summary>Longer than anybody waits for a meter.</summary>
    private static readonly TimeSpan TooLate = TimeSpan.FromSeconds(8);

    private readonly Fixture fixture = new(loom);
    private readonly Lock one = new();
    private long readings;
    private LineTrouble trouble;
    private int troubled;

    /// <summary>Serves until cancelled.</summary>
    /// <param name="port">0 for any free port.</param>
    /// <param name="listening">Called once with the port in use.</param>
    /// <exception cref="OperationCanceledException">Always, in the end.</exception>
    public Task ServeAsync(int port, Action<int> listening, CancellationToken cancel) => StandInPort.ServeAsync(port, listening, TalkAsync, cancel);

    /// <summary>One talk with it, whatever the lines come over.</summary>
    /// <returns>What it answers to a line; null for nothing.</returns>
    public Func<string, string?> Talk()
    {
        var session = new Session(this);
        return line => line.Length > LongestLine ? session.Refuse() : session.Answer(line.Trim());
    }

    private async Task TalkAsync(TcpClient client, CancellationToken cancel)
    {
        using (client)
        {
            try
            {
                await using var stream = client.GetStream();
                using var reader = new StreamReader(stream, Encoding.ASCII);
                var talk = Talk();
                while (await reader.ReadLineAsync(cancel).ConfigureAwait(false) is { } line)
                {
                    var answer = talk(line);
                    if (answer is not null)
                    {
                        switch (line.StartsWith("MEAS:", StringComparison.OrdinalIgnoreCase) ? NextTrouble() : LineTrouble.None)
                        {
                            case LineTrouble.Drop:
                                return;
                            case LineTrouble.Garbage:
                                answer = "\u0001~ 4.7.1e?";
                                break;
                            case LineTrouble.Late:
                                await Task.Delay(TooLate, cancel).ConfigureAwait(false);
                                break;
                        }

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

    /// <summary>What goes wrong with the next answer, as it was told to.</summary>
    private LineTrouble NextTrouble()
    {
        lock (one)
        {
            return troubled > 0 && troubled-- > 0 ? trouble : LineTrouble.None;
        }
    }

    private sealed class Session(SimulatedMeter meter)
    {
        private readonly Queue<string> errors = [];
        private readonly HashSet<(int Row, int Column)> closed = [];
        private HashSet<string> fitted = [];
        private byte events;
        private long moved = Stopwatch.GetTimestamp();

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
                    return "Wise Loom,bench meter stand-in,0,2";
                case "*ESE" when byte.TryParse(rest, NumberStyles.None, CultureInfo.InvariantCulture, out var mask):
                    events = mask;
                    return null;
                case "*ESE?":
                    return events.ToString(CultureInfo.InvariantCulture);
                case "*CLS":
                    errors.Clear();
                    return null;
                case "*RST" or "ROUT:OPEN:ALL":
                    closed.Clear();
                    return null;
                case "ROUT:CLOS":
                    Close(rest);
                    return null;
                case "MEAS:RES?" or "MEAS:FRES?":
                    return Measure(header == "MEAS:FRES?");
                case "LOOM:NAME?":
                    return meter.Carries;
                case "LOOM:REP?":
                    lock (meter.one)
                    {
                        return Bench.Repair(rest.Trim('"')).ToString(CultureInfo.InvariantCulture);
                    }

                case "SIM:LEAD" or "SIM:SETT" or "SIM:DRIF" or "SIM:DRIF:RATE":
                    Habit(header, rest);
                    return null;
                case "SIM:MOVE" when rest is "ON" or "OFF":
                    lock (meter.one)
                    {
                        Bench.Moved = rest == "ON";
                    }

                    return null;
                case "SIM:FIT":
                    fitted = [.. rest.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)];
                    return null;
                case "SIM:FAUL":
                    Trouble(rest);
                    return null;
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
                moved = Stopwatch.GetTimestamp();
            }
            else
            {
                Illegal();
            }
        }

        private void Habit(string header, string rest)
        {
            var now = meter.Habits;
            if (!double.TryParse(rest, NumberStyles.Float, CultureInfo.InvariantCulture, out var value)
                || (header switch
                {
                    "SIM:LEAD" => now with { LeadOhms = value },
                    "SIM:SETT" => now with { SettleSeconds = value },
                    "SIM:DRIF" => now with { DriftPercent = value },
                    _ => now with { DriftPerHundred = value },
                }) is not { ArePossible: true } then)
            {
                Illegal();
                return;
            }

            meter.Habits = then;
        }

        private void Trouble(string rest)
        {
            var parts = rest.Split(',');
            if (!Enum.TryParse<LineTrouble>(parts[0], ignoreCase: true, out var trouble) || !Enum.IsDefined(trouble) || char.IsAsciiDigit(parts[0][0])
                || !int.TryParse(parts.Length > 1 ? parts[1] : "1", NumberStyles.None, CultureInfo.InvariantCulture, out var times) || times > 1_000_000)
            {
                Illegal();
                return;
            }

            lock (meter.one)
            {
                (meter.trouble, meter.troubled) = (trouble, trouble == LineTrouble.None ? 0 : times);
            }
        }

        private void Illegal() => errors.Enqueue("-224,\"Illegal parameter value\"");

        private string Measure(bool fourWire)
        {
            int[] On(int row) => [.. closed.Where(c => c.Row == row).Select(c => c.Column)];
            var (red, black) = (On(Fixture.RedRow), On(Fixture.BlackRow));
            lock (meter.one)
            {
                meter.readings++;
                return Between(red, black).Ohms is { } ohms
                    ? meter.Habits.Shown(ohms, fourWire, meter.readings, Stopwatch.GetElapsedTime(moved)).ToString("0.000000E+00", CultureInfo.InvariantCulture)
                    : "9.9E+37";
            }
        }

        private Reading Between(int[] red, int[] black)
        {
            if (red.Length == 0 || black.Length == 0)
            {
                return Reading.OverRange;
            }

            if (red.Intersect(black).Any())
            {
                return Bench.Through(0);
            }

            ProbePoint[] Points(int[] columns) => [.. columns.Select(meter.fixture.PointAt).OfType<ProbePoint>()];
            var (points, others) = (Points(red), Points(black));
            return points.Length == 0 && others.Length == 0 ? Bench.Through(meter.LinkOhms)
                : points.Length == 0 || others.Length == 0 ? Reading.OverRange
                : Bench.Measure(points, others, fitted);
        }
    }

    /// <summary>How far it is from a perfect meter.</summary>
    public MeterHabits Habits { get; set; } = MeterHabits.None;

    private SimulatedBench Bench => bench;

    private double LinkOhms => linkOhms;

    /// <summary>The loom it reads, on one line.</summary>
    private string Carries { get; } = loom.Name.ReplaceLineEndings(" ");
}
