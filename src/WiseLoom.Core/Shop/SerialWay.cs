using System.Collections.Immutable;
using System.Text.Json.Serialization;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Shop;

/// <summary>What is sent beside the bits of a sign.</summary>
public enum SerialParity
{
    /// <summary>Nothing.</summary>
    None,

    /// <summary>A bit that makes the ones even.</summary>
    Even,

    /// <summary>A bit that makes the ones odd.</summary>
    Odd,
}

/// <summary>What ends a line that is sent to a meter. A line that comes from it may end in any of these.</summary>
public enum LineEnd
{
    /// <summary>Line feed.</summary>
    Lf,

    /// <summary>Carriage return.</summary>
    Cr,

    /// <summary>Both.</summary>
    CrLf,
}

/// <summary>How a meter at a serial port of the server is spoken to.</summary>
/// <param name="Port">Name of the port, such as <c>/dev/ttyUSB0</c>.</param>
/// <param name="Baud">Signs a second on the line.</param>
/// <param name="DataBits">7 or 8.</param>
/// <param name="Lines">How its lines are read; null for a meter that speaks SCPI.</param>
public sealed record SerialWay(string Port, int Baud = 9600, SerialParity Parity = SerialParity.None, int DataBits = 8, LineEnd LineEnd = LineEnd.Lf, LinePattern? Lines = null)
{
    /// <summary>Speeds that serial ports have.</summary>
    public static ImmutableArray<int> Bauds { get; } = [300, 600, 1200, 2400, 4800, 9600, 19200, 38400, 57600, 115200];

    /// <summary>The signs that end a line that is sent.</summary>
    [JsonIgnore]
    public string Ending => LineEnd switch { LineEnd.Cr => "\r", LineEnd.CrLf => "\r\n", _ => "\n" };

    /// <summary>What of it cannot be.</summary>
    /// <param name="ports">The ports that the server has.</param>
    /// <returns>Empty when all can; places as JSON pointers.</returns>
    public ImmutableArray<Problem> Problems(IReadOnlyCollection<string> ports)
    {
        ArgumentNullException.ThrowIfNull(ports);
        var problems = ImmutableArray.CreateBuilder<Problem>();
        if (string.IsNullOrEmpty(Port) || !ports.Contains(Port))
        {
            problems.Add(new("/port", ports.Count == 0
                ? "This server has no serial port now. Plug the meter’s cable in, or have the server’s owner name the port."
                : $"This server has no such port now. It has: {string.Join(", ", ports.Take(20))}."));
        }

        if (!Bauds.Contains(Baud))
        {
            problems.Add(new("/baud", $"Write one of: {string.Join(", ", Bauds)}."));
        }

        if (DataBits is not (7 or 8))
        {
            problems.Add(new("/dataBits", "A sign has 7 or 8 bits."));
        }

        if (!Enum.IsDefined(Parity))
        {
            problems.Add(new("/parity", "Write none, even or odd."));
        }

        if (!Enum.IsDefined(LineEnd))
        {
            problems.Add(new("/lineEnd", "Write lf, cr or crlf."));
        }

        problems.AddRange(Lines?.Problems().Select(p => p with { At = "/lines" + p.At }) ?? []);
        return problems.ToImmutable();
    }
}
