using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using WiseLoom.Core.Intake;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;
using WiseLoom.Store;

namespace WiseLoom.Web.Looms;

/// <summary>What the shop has learned of strangers' papers, ready for the core.</summary>
internal static class ShopPapers
{
    /// <summary>What the shop has learned, for reading a file.</summary>
    internal static async Task<IntakeMemory> MemoryAsync(IntakeStore store, LibraryStore library, LimitStore limits, CancellationToken cancel) => new(
        [.. (await store.MappingsAsync(cancel)).Select(Read)],
        (await store.ColourWordsAsync(cancel)).ToImmutableSortedDictionary(w => w.Word, w => w.Code, StringComparer.Ordinal),
        [.. (await library.FamiliesAsync(cancel)).Select(f => JsonNode.Parse(f.Body)!.AsObject()).Select(body => (FamilyLibrary.Read(body).Family, Body: body)).Where(f => f.Family is not null).Select(f => new ShopFamily(f.Family!, f.Body))])
    {
        Unknown = (await limits.LatestAsync(cancel)).Limits.Papers,
    };

    /// <summary>The mapping of a number; null for none.</summary>
    internal static async Task<IntakeMapping?> FindAsync(long id, IntakeStore store, CancellationToken cancel) =>
        (await store.MappingsAsync(cancel)).Find(m => m.Id == id) is { } kept ? Read(kept) : null;

    /// <summary>A mapping as it is stored.</summary>
    internal static IntakeMapping Read(StoredMapping kept) => JsonSerializer.Deserialize<IntakeMapping>(kept.Body, CoreJson.Options)! with { Name = kept.Name };
}
