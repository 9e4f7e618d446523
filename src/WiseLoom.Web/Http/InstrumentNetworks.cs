using System.Net;
using System.Net.NetworkInformation;
using System.Net.Sockets;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.AspNetCore.Http;
using Npgsql;

namespace WiseLoom.Web.Http;

/// <summary>Where instruments may answer: in networks that the server's owner names, and never where the application or its database do.</summary>
internal sealed class InstrumentNetworks
{
    private const string Setting = "WISELOOM_INSTRUMENTS";

    /// <summary>Loopback, private and link-local networks.</summary>
    private const string Usual = "127.0.0.0/8,::1/128,10.0.0.0/8,172.16.0.0/12,192.168.0.0/16,169.254.0.0/16,fc00::/7,fe80::/10";

    private readonly List<IPNetwork> networks;
    private readonly IServer server;
    private readonly string databaseHost;
    private readonly int databasePort;

    /// <exception cref="InvalidOperationException">An entry of the setting is no network.</exception>
    public InstrumentNetworks(IConfiguration settings, IServer server)
    {
        this.server = server;
        networks = [.. (settings[Setting] is { Length: > 0 } named ? named : Usual).Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Select(n =>
            IPNetwork.TryParse(n.Contains('/', StringComparison.Ordinal) ? n : $"{n}/{(n.Contains(':', StringComparison.Ordinal) ? 128 : 32)}", out var network)
                ? network : throw new InvalidOperationException($"{Setting}: '{n}' is no address and no network; write such as 192.168.4.0/24, with commas between them."))];
        var database = new NpgsqlConnectionStringBuilder(settings["WISELOOM_DB"]);
        (databaseHost, databasePort) = (database.Host ?? "127.0.0.1", database.Port);
    }

    /// <summary>Why an instrument cannot be asked there, in words, or the address at which it is: what was looked at is what is connected to. The words are the same whether or not anything answers there.</summary>
    internal async Task<(string? Wrong, string Address)> FindAsync(string host, int port, CancellationToken cancel)
    {
        var addresses = await ResolveAsync(host, cancel);
        return addresses.Length == 0 ? (null, host)
            : addresses.Any(a => !networks.Exists(n => n.Contains(Plain(a)))) ? ($"Instruments at {host} are not allowed: the server’s owner names the networks in which they may answer.", host)
            : await IsOwnAsync(addresses, port, cancel) ? ($"Port {port} at {host} is the application’s own, or its database’s: no instrument answers there.", host)
            : (null, addresses[0].ToString());
    }

    private async Task<bool> IsOwnAsync(IPAddress[] addresses, int port, CancellationToken cancel)
    {
        var here = NetworkInterface.GetAllNetworkInterfaces().SelectMany(n => n.GetIPProperties().UnicastAddresses).Select(u => Plain(u.Address)).ToHashSet();
        var isHere = addresses.Any(a => IPAddress.IsLoopback(Plain(a)) || here.Contains(Plain(a)));
        return (isHere && server.Features.Get<IServerAddressesFeature>()?.Addresses.Any(a => BindingAddress.Parse(a).Port == port) == true)
            || (port == databasePort && (isHere || (await ResolveAsync(databaseHost, cancel)).Intersect(addresses).Any()));
    }

    private static IPAddress Plain(IPAddress address) => address.IsIPv4MappedToIPv6 ? address.MapToIPv4() : address;

    /// <summary>All addresses of a name; none for a name that nobody knows: then nothing is reached either.</summary>
    private static async Task<IPAddress[]> ResolveAsync(string host, CancellationToken cancel)
    {
        if (IPAddress.TryParse(host, out var address))
        {
            return [address];
        }

        try
        {
            return await Dns.GetHostAddressesAsync(host, cancel);
        }
        catch (SocketException)
        {
            return [];
        }
    }
}
