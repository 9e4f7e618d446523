using System.IO.Ports;
using System.Net.Sockets;
using System.Text;
using WiseLoom.Core.Shop;

namespace WiseLoom.Instruments;

/// <summary>Where an instrument is reached. It is opened for each question anew: an instrument that was switched off or pulled out in between is simply asked again.</summary>
public abstract class InstrumentWay
{
    /// <summary>As a person knows the place.</summary>
    public abstract string Where { get; }

    /// <summary>What ends a line that is sent.</summary>
    internal abstract string Ending { get; }

    /// <summary>Whether an answer that came too late may stand in the way of the next.</summary>
    internal abstract bool KeepsLateAnswers { get; }

    /// <summary>Opens it.</summary>
    /// <returns>What is read and written, and what closes it.</returns>
    /// <exception cref="MeterException">It cannot be opened, in words.</exception>
    internal abstract Task<(Stream Stream, IDisposable Closes)> OpenAsync(CancellationToken cancel);

    /// <summary>Sends lines.</summary>
    internal Task SendAsync(Stream stream, string[] lines, CancellationToken cancel) =>
        stream.WriteAsync(Encoding.ASCII.GetBytes(string.Concat(lines.Select(l => l + Ending))), cancel).AsTask();
}

/// <summary>A place on the network.</summary>
/// <param name="host">Name or address.</param>
/// <param name="port">1 to 65535.</param>
public sealed class NetworkWay(string host, int port) : InstrumentWay
{
    /// <inheritdoc/>
    public override string Where => $"{host}:{port}";

    internal override string Ending => "\n";

    internal override bool KeepsLateAnswers => false;

    internal override async Task<(Stream Stream, IDisposable Closes)> OpenAsync(CancellationToken cancel)
    {
        var client = new TcpClient { NoDelay = true };
        try
        {
            await client.ConnectAsync(host, port, cancel).ConfigureAwait(false);
            return (client.GetStream(), client);
        }
        catch
        {
            client.Dispose();
            throw;
        }
    }
}

/// <summary>A serial port of this machine.</summary>
public sealed class SerialPortWay(SerialWay way) : InstrumentWay
{
    /// <inheritdoc/>
    public override string Where => way.Port;

    internal override string Ending => way.Ending;

    internal override bool KeepsLateAnswers => true;

    internal override Task<(Stream Stream, IDisposable Closes)> OpenAsync(CancellationToken cancel)
    {
        var parity = way.Parity switch { SerialParity.Even => Parity.Even, SerialParity.Odd => Parity.Odd, _ => Parity.None };
        var port = new SerialPort(way.Port, way.Baud, parity, way.DataBits, StopBits.One);
        try
        {
            port.Open();
            port.DiscardInBuffer();
            return Task.FromResult<(Stream, IDisposable)>((port.BaseStream, port));
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or InvalidOperationException or ArgumentException)
        {
            port.Dispose();
            throw new MeterException(
                !File.Exists(way.Port) ? $"The port {way.Port} is not there now. Is the meter’s cable plugged in at the server?"
                : e is UnauthorizedAccessException ? $"The port {way.Port} cannot be opened: another program has it, or the server may not use it."
                : $"The port {way.Port} cannot be opened as it is entered.",
                e);
        }
    }
}
