using Microsoft.Extensions.Caching.Memory;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Units;

namespace WiseLoom.Web.Handover;

/// <summary>What is computed for customers, kept by revision as long as it is asked for; only a cache.</summary>
internal sealed class PaperShelf : IDisposable
{
    /// <summary>Wires of all looms whose papers are kept.</summary>
    private const int Most = 6_000;

    private readonly SemaphoreSlim one = new(1);
    private readonly MemoryCache known = new(new MemoryCacheOptions { SizeLimit = Most });

    /// <summary>Of a revision at its own temperature, in a language; made once, whoever asks at the same moment.</summary>
    internal Task<PackPapers?> OfAsync(long revision, Loom loom, Language language) => known.GetOrCreate((revision, language.Code), entry =>
    {
        entry.Size = loom.Wires.Length + 1;
        return new Lazy<Task<PackPapers?>>(() => Task.Run(() =>
        {
            using var spoken = Words.In(language);
            return PackPapers.Of(loom, loom.AmbientC);
        }));
    })!.Value;

    /// <summary>A draft as it stands; laid out once, whoever asks, and one at a time.</summary>
    /// <param name="key">The run and its last event.</param>
    internal async Task<string> DraftAsync(string key, Loom loom, Func<Task<string>> make)
    {
        await one.WaitAsync();
        try
        {
            return (await known.GetOrCreateAsync(key, entry =>
            {
                entry.Size = loom.Wires.Length + 1;
                return make();
            }))!;
        }
        finally
        {
            one.Release();
        }
    }

    public void Dispose()
    {
        known.Dispose();
        one.Dispose();
    }
}
