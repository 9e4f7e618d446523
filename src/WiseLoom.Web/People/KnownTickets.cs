using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.Extensions.Caching.Memory;

namespace WiseLoom.Web.People;

/// <summary>Session cookies that have been opened a moment ago: opening one costs more than all else about a reading. What a cookie says never
/// changes; whether it still holds is asked each time.</summary>
internal sealed class KnownTickets(IDataProtectionProvider protection) : ISecureDataFormat<AuthenticationTicket>, IDisposable
{
    private const int Most = 2000;

    private static readonly TimeSpan Unused = TimeSpan.FromMinutes(2);

    private readonly TicketDataFormat format = new(protection.CreateProtector("WiseLoom.Web.People.Session.v1"));
    private readonly MemoryCache known = new(new MemoryCacheOptions { SizeLimit = Most });

    public string Protect(AuthenticationTicket data) => format.Protect(data);

    public string Protect(AuthenticationTicket data, string? purpose) => format.Protect(data, purpose);

    public AuthenticationTicket? Unprotect(string? protectedText) => Unprotect(protectedText, null);

    public AuthenticationTicket? Unprotect(string? protectedText, string? purpose)
    {
        if (protectedText is null)
        {
            return null;
        }

        if (known.TryGetValue((protectedText, purpose), out AuthenticationTicket? ticket))
        {
            return ticket!.Clone();
        }

        if (format.Unprotect(protectedText, purpose) is not { } opened)
        {
            return null;
        }

        known.Set((protectedText, purpose), opened, new MemoryCacheEntryOptions { Size = 1, SlidingExpiration = Unused });
        return opened.Clone();
    }

    public void Dispose() => known.Dispose();
}
