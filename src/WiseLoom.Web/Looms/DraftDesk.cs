using System.Collections.Concurrent;
using WiseLoom.Core.Looms;

namespace WiseLoom.Web.Looms;

/// <summary>What a draft said at one of its versions, and what was found in it.</summary>
internal sealed record DraftOnDesk(int Version, byte[] File, LoomCheck Check);

/// <summary>What drafts said last, as this process stored it. Only a cache: a version that is not here is read from the database, and the database decides whether it is still the last.</summary>
internal sealed class DraftDesk
{
    private const int Kept = 32;

    private readonly ConcurrentDictionary<long, DraftOnDesk> desk = new();

    internal DraftOnDesk? Find(long draft, int version) => desk.TryGetValue(draft, out var known) && known.Version == version ? known : null;

    internal void Keep(long draft, DraftOnDesk now)
    {
        if (desk.Count >= Kept && !desk.ContainsKey(draft))
        {
            desk.Clear();
        }

        desk[draft] = now;
    }
}
