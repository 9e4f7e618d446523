using Microsoft.Extensions.Caching.Memory;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Web.States;

/// <summary>Looms put together with their devices, ready to be asked; only a cache.</summary>
internal sealed class StateLibrary : IDisposable
{
    /// <summary>Wires of all looms that are kept.</summary>
    private const int Most = 24_000;

    private readonly MemoryCache shelf = new(new MemoryCacheOptions { SizeLimit = Most });

    internal LoomStates Of(long revision, Loom loom) => shelf.GetOrCreate(revision, entry =>
    {
        entry.Size = loom.Wires.Length + 1;
        return LoomStates.For(loom, loom.AmbientC);
    })!;

    public void Dispose() => shelf.Dispose();
}
