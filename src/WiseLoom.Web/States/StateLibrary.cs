using System.Collections.Concurrent;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Web.States;

/// <summary>Looms put together with their devices, ready to be asked; only a cache.</summary>
internal sealed class StateLibrary
{
    private const int Kept = 16;

    private readonly ConcurrentDictionary<long, LoomStates> shelf = new();

    internal LoomStates Of(long revision, Loom loom)
    {
        if (shelf.Count >= Kept && !shelf.ContainsKey(revision))
        {
            shelf.Clear();
        }

        return shelf.GetOrAdd(revision, _ => LoomStates.For(loom));
    }
}
