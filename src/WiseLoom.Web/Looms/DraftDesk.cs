using System.Collections.Concurrent;

namespace WiseLoom.Web.Looms;

/// <summary>What drafts said last, as this process stored it. Only a cache: a version that is not here is read from the database, and the database decides whether it is still the last.</summary>
internal sealed class DraftDesk
{
    private const int Kept = 32;

    private readonly ConcurrentDictionary<long, (int Version, byte[] File)> desk = new();

    internal byte[]? Find(long draft, int version) => desk.TryGetValue(draft, out var known) && known.Version == version ? known.File : null;

    internal void Keep(long draft, int version, byte[] file)
    {
        if (desk.Count >= Kept && !desk.ContainsKey(draft))
        {
            desk.Clear();
        }

        desk[draft] = (version, file);
    }
}
