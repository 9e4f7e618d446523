using Microsoft.Extensions.Caching.Memory;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;

namespace WiseLoom.Web.Handover;

/// <summary>What is computed for customers, kept by revision as long as it is asked for; only a cache.</summary>
internal sealed class PaperShelf : IDisposable
{
    /// <summary>Wires of all looms whose papers are kept.</summary>
    private const int Most = 6_000;

    private readonly MemoryCache known = new(new MemoryCacheOptions { SizeLimit = Most });

    /// <summary>Of a revision at its own temperature; made once, whoever asks at the same moment.</summary>
    internal Task<CustomerPapers?> OfAsync(long revision, Loom loom) => known.GetOrCreate(revision, entry =>
    {
        entry.Size = loom.Wires.Length + 1;
        return new Lazy<Task<CustomerPapers?>>(() => Task.Run(() => CustomerPapers.Of(loom, loom.AmbientC)));
    })!.Value;

    public void Dispose() => known.Dispose();
}
