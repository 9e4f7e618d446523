using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Pinouts;
using WiseLoom.Store;
using WiseLoom.Web.Looms;

namespace WiseLoom.Web.Library;

/// <summary>A pinout with the families of its plugs as a loom file writes them.</summary>
/// <param name="Document">The loom it was taken from; null for a sheet.</param>
internal sealed record SidePinout(Pinout Pinout, JsonArray Families, JsonObject? Document);

/// <summary>The shop's families, synonyms and pinouts, ready for the core.</summary>
internal sealed class ShopLibrary(LibraryStore store, SheetStore sheets, LoomStore looms, LoomLibrary library)
{
    internal async Task<ImmutableDictionary<string, ConnectorFamily>> FamiliesAsync(CancellationToken cancel) =>
        (await store.FamiliesAsync(cancel)).Select(f => FamilyLibrary.Read(Body(f)).Family).OfType<ConnectorFamily>().ToImmutableDictionary(f => f.Id, StringComparer.Ordinal);

    internal async Task<Synonyms> SynonymsAsync(CancellationToken cancel) =>
        new(JsonSerializer.Deserialize<List<List<string>>>((await store.SynonymsAsync(cancel)).Groups)!);

    /// <summary>One side of a comparison or merge; null when it is not there.</summary>
    internal async Task<SidePinout?> PinoutAsync(MergeSide side, CancellationToken cancel)
    {
        if (side.Sheet is { } sheetId)
        {
            if (await sheets.FindAsync(sheetId, cancel) is not { } sheet)
            {
                return null;
            }

            var bodies = (await store.FamiliesAsync(cancel)).Where(f => sheet.Sheet.Connectors.Any(c => c.Family == f.Id)).Select(f => (JsonNode)Body(f));
            return new(sheet.Sheet.AsPinout(await FamiliesAsync(cancel)), new JsonArray([.. bodies]), null);
        }

        if (side.Revision is not { } revision || await library.FindAsync(revision, cancel) is not { } loom || await looms.DocumentAsync(revision, cancel) is not { } text)
        {
            return null;
        }

        var document = LoomDocument.Parse(System.Text.Encoding.UTF8.GetBytes(text))!;
        return new(Pinout.Of(loom, side.Connectors.IsDefaultOrEmpty ? null : side.Connectors), (document["families"] as JsonArray)?.DeepClone().AsArray() ?? [], document);
    }

    internal static JsonObject Body(StoredFamily family) => JsonNode.Parse(family.Body)!.AsObject();
}
