using System.Collections.Immutable;
using System.IO.Ports;

namespace WiseLoom.Web.Meters;

/// <summary>The serial ports at which a meter may be: those that the machine has, and those that the server's owner names. No other file is ever opened.</summary>
internal sealed class SerialPorts(IConfiguration settings)
{
    private const string Setting = "WISELOOM_SERIAL";

    /// <summary>Names that stay the same whichever socket a cable is in.</summary>
    private const string ById = "/dev/serial/by-id";

    private const int Most = 64;

    /// <summary>Their names now, those that stay the same first.</summary>
    internal ImmutableArray<string> Names() =>
    [
        .. (settings[Setting] ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
            .Concat(Directory.Exists(ById) ? Directory.EnumerateFiles(ById).Order(StringComparer.Ordinal) : [])
            .Concat(SerialPort.GetPortNames().Order(StringComparer.Ordinal))
            .Distinct().Take(Most),
    ];
}
