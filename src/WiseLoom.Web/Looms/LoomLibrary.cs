using System.Collections.Concurrent;
using System.Text;
using WiseLoom.Core.Looms;
using WiseLoom.Store;

namespace WiseLoom.Web.Looms;

/// <summary>Loom revisions as read; a revision never changes, so what was read once is kept for a while.</summary>
internal sealed class LoomLibrary(LoomStore store)
{
    private const int Kept = 64;

    private readonly ConcurrentDictionary<long, Loom> shelf = new();

    internal async Task<Loom?> FindAsync(long revision, CancellationToken cancel)
    {
        if (shelf.TryGetValue(revision, out var known))
        {
            return known;
        }

        if (await store.DocumentAsync(revision, cancel) is not { } document)
        {
            return null;
        }

        var reading = LoomReader.Read(Encoding.UTF8.GetBytes(document));
        var loom = reading.Loom ?? throw new InvalidOperationException($"Revision {revision} no longer reads: {reading.Problems[0]}");
        if (shelf.Count >= Kept)
        {
            shelf.Clear();
        }

        shelf[revision] = loom;
        return loom;
    }
}
