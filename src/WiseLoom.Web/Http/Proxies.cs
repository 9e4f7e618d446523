using Microsoft.AspNetCore.HttpOverrides;

namespace WiseLoom.Web.Http;

/// <summary>Who may say from where a request comes: only proxies that are named.</summary>
internal static class Proxies
{
    private const string Setting = "WISELOOM_PROXIES";

    /// <summary>Takes the caller's address and scheme from the headers of the named proxies, and from nobody else.</summary>
    /// <exception cref="InvalidOperationException">One of them is no address and no network.</exception>
    internal static void AddProxies(this WebApplicationBuilder builder)
    {
        string[] named = builder.Configuration[Setting]?.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries) ?? [];
        builder.Services.Configure<ForwardedHeadersOptions>(o =>
        {
            o.ForwardedHeaders = named.Length == 0 ? ForwardedHeaders.None : ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto;
            o.KnownProxies.Clear();
            o.KnownIPNetworks.Clear();
            foreach (var name in named)
            {
                o.KnownIPNetworks.Add(System.Net.IPNetwork.TryParse(name.Contains('/', StringComparison.Ordinal) ? name : $"{name}/{(name.Contains(':', StringComparison.Ordinal) ? 128 : 32)}", out var network)
                    ? network
                    : throw new InvalidOperationException($"{Setting}: '{name}' is no address and no network; write such as 10.0.0.7 or 10.0.0.0/24, with commas between them."));
            }
        });
    }
}
