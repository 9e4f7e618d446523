using System.Net;
using System.Net.Sockets;

namespace WiseLoom.Instruments;

/// <summary>A loopback port where a stand-in is reached by whoever calls.</summary>
internal static class StandInPort
{
    /// <summary>Serves until cancelled; each caller is talked to beside the others.</summary>
    /// <param name="port">0 for any free port.</param>
    /// <param name="listening">Called once with the port in use.</param>
    /// <exception cref="OperationCanceledException">Always, in the end.</exception>
    internal static async Task ServeAsync(int port, Action<int> listening, Func<TcpClient, CancellationToken, Task> talk, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(listening);
        using var listener = new TcpListener(IPAddress.Loopback, port);
        listener.Start();
        listening(((IPEndPoint)listener.LocalEndpoint).Port);
        while (true)
        {
            var client = await listener.AcceptTcpClientAsync(cancel).ConfigureAwait(false);
            client.NoDelay = true;
            _ = talk(client, cancel);
        }
    }
}
