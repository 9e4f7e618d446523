using Microsoft.Extensions.Caching.Memory;
using WiseLoom.Core.Shop;
using WiseLoom.Store;

namespace WiseLoom.Web.People;

/// <summary>Notes who asks for what is not within their rights: the same of one person once a minute, so that nobody fills the list.</summary>
internal sealed class RefusedRights(AuditStore audit, TimeProvider clock) : IDisposable
{
    private const int Most = 2000;

    private static readonly TimeSpan Again = TimeSpan.FromMinutes(1);

    private readonly MemoryCache noted = new(new MemoryCacheOptions { SizeLimit = Most });

    internal async Task NoteAsync(HttpContext context)
    {
        var (person, endpoint) = (context.User.Id(), context.GetEndpoint()?.DisplayName ?? "");
        if (!noted.TryGetValue((person, endpoint), out _))
        {
            noted.Set((person, endpoint), true, new MemoryCacheEntryOptions { Size = 1, AbsoluteExpirationRelativeToNow = Again });
            await audit.AddAsync(new(AuditEvent.RightRefused, clock.GetUtcNow(), person, person, context.Address(), $"{context.Request.Method} {context.Request.Path}"), context.RequestAborted);
        }
    }

    public void Dispose() => noted.Dispose();
}
