using Microsoft.Extensions.Caching.Memory;
using WiseLoom.Core.Looms;

namespace WiseLoom.Web.Looms;

/// <summary>What a draft said at one of its versions, and what was found in it.</summary>
internal sealed record CachedDraft(int Version, byte[] File, LoomCheck Check);

/// <summary>What drafts said last, as this process stored it. Only a cache: a version that is not here is read from the database, and the database decides whether it is still the last.</summary>
internal sealed class DraftCache : IDisposable
{
    /// <summary>Bytes of all files that are kept; what was read of one takes some twenty times as much.</summary>
    private const long Most = 12L * 1024 * 1024;

    private readonly MemoryCache drafts = new(new MemoryCacheOptions { SizeLimit = Most });

    internal CachedDraft? Find(long draft, int version) => drafts.TryGetValue(draft, out CachedDraft? known) && known!.Version == version ? known : null;

    internal void Keep(long draft, CachedDraft now) => drafts.Set(draft, now, new MemoryCacheEntryOptions { Size = now.File.Length });

    public void Dispose() => drafts.Dispose();
}
