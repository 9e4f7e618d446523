using System.Text;
using Microsoft.Extensions.Caching.Memory;
using WiseLoom.Core.Looms;
using WiseLoom.Store;

namespace WiseLoom.Web.Looms;

/// <summary>Loom revisions as read; a revision never changes, so what was read once is kept while there is room.</summary>
internal sealed class LoomLibrary(LoomStore store) : IDisposable
{
    /// <summary>Wires of all looms that are kept; one of 24,000 takes some 30 MB.</summary>
    private const int Most = 120_000;

    private readonly MemoryCache shelf = new(new MemoryCacheOptions { SizeLimit = Most });

    internal async Task<Loom?> FindAsync(long revision, CancellationToken cancel)
    {
        if (shelf.TryGetValue(revision, out Loom? known))
        {
            return known;
        }

        if (await store.DocumentAsync(revision, cancel) is not { } document)
        {
            return null;
        }

        var reading = LoomReader.Read(Encoding.UTF8.GetBytes(document));
        var loom = reading.Loom ?? throw new InvalidOperationException($"Revision {revision} no longer reads: {reading.Problems[0]}");
        return shelf.Set(revision, loom, new MemoryCacheEntryOptions { Size = loom.Wires.Length + 1 });
    }

    public void Dispose() => shelf.Dispose();
}
