using System.Collections.Immutable;
using System.Security.Claims;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Library;

/// <summary>A family with both its faces.</summary>
/// <param name="Body">The family as a loom file writes it.</param>
internal sealed record FamilyView(
    string Id, string Title, HousingKind Kind, int Cavities, bool Sealed, string? Keying, int Version, JsonElement Body, FaceLayout MatingFace, FaceLayout WireSide)
{
    internal static FamilyView? Of(StoredFamily stored) => FamilyLibrary.Read(ShopLibrary.Body(stored)).Family is { } f
        ? new(f.Id, f.Title, f.Kind, f.Cavities.Length, f.Sealed, f.Keying, stored.Version, JsonSerializer.Deserialize<JsonElement>(stored.Body), FaceLayout.Of(f, FaceSide.MatingFace), FaceLayout.Of(f, FaceSide.WireSide))
        : null;
}

/// <summary>The rows that a pattern gives.</summary>
internal sealed record PatternView(ImmutableArray<ImmutableArray<string?>> Rows);

/// <summary>Words that lead to a cavity of a family, which is given by id of the library or as a loom file writes it.</summary>
internal sealed record FindRequest(string? FamilyId, JsonElement? Family, FaceSide Side, string Words);

internal sealed record SynonymsView(ImmutableArray<ImmutableArray<string>> Groups, int Version);

internal sealed record SynonymsRequest(ImmutableArray<ImmutableArray<string>> Groups);

/// <summary>A wire colour: its code, its name, what it looks like.</summary>
internal sealed record PaletteView(string Code, string Name, string Hex);

/// <summary>What a loom file may say, for pages to complete from.</summary>
/// <param name="DeviceKinds">Kinds of device.</param>
/// <param name="WireRoles">What a wire may be for.</param>
/// <param name="Sections">Usual sections of a wire, mm².</param>
/// <param name="BoxKinds">Why a thing stands on the packing list.</param>
internal sealed record VocabularyView(ImmutableArray<string> DeviceKinds, ImmutableArray<string> WireRoles, ImmutableArray<double> Sections, ImmutableArray<string> BoxKinds);

internal static class LibraryEndpoints
{
    private const int MostGroups = 500;

    internal static void MapLibrary(this RouteGroupBuilder api)
    {
        api.MapGet("/families", FamiliesAsync).WithSummary("Connector families of the shop");
        api.MapGet("/families/{id}", FamilyAsync).WithSummary("A connector family");
        api.MapPut("/families/{id}", PutFamilyAsync).WithSummary("Add or change a connector family");
        api.MapPost("/faces/pattern", Pattern).WithMetadata(new ChangesNothing()).WithSummary("Number a face by a pattern");
        api.MapPost("/faces/draw", Draw).WithMetadata(new ChangesNothing()).WithSummary("Draw a face");
        api.MapPost("/faces/find", FindAsync).WithMetadata(new ChangesNothing()).WithSummary("Which cavity a place in a face is");
        api.MapGet("/device-types", async (LibraryStore store, CancellationToken cancel) => (await store.DeviceTypesAsync(cancel)).Select(t => JsonSerializer.Deserialize<JsonElement>(t)).ToList()).WithSummary("Device types of the shop");
        api.MapGet("/vocabulary", () => new VocabularyView(DeviceKinds.Names, [.. Enum.GetValues<WireRole>().Select(r => r.ToString().ToLowerInvariant())], [.. Copper.Sections], [.. Enum.GetValues<BoxKind>().Select(k => k.ToString().ToLowerInvariant())])).WithSummary("The words and figures that a loom file may use");
        api.MapGet("/colours", () => WireColour.Palette.Select(c => new PaletteView(c.Code, c.Name, c.Hex)).ToList()).WithSummary("Wire colours");
        api.MapGet("/synonyms", SynonymsAsync).WithSummary("Phrases that mean the same");
        api.MapPut("/synonyms", PutSynonymsAsync).WithSummary("Change the phrases that mean the same");
    }

    private static async Task<IEnumerable<FamilyView>> FamiliesAsync(LibraryStore store, CancellationToken cancel) =>
        (await store.FamiliesAsync(cancel)).Select(FamilyView.Of).OfType<FamilyView>().OrderBy(f => f.Cavities).ThenBy(f => f.Title, NaturalOrder.Comparer);

    private static async Task<Results<Ok<FamilyView>, ProblemHttpResult>> FamilyAsync(string id, HttpContext context, LibraryStore store, CancellationToken cancel)
    {
        if (await store.FamilyAsync(id, cancel) is not { } stored)
        {
            return Refusal.NotFound("family");
        }

        EntityVersion.Tell(context, stored.Version);
        return TypedResults.Ok(FamilyView.Of(stored)!);
    }

    /// <summary>Adds a family (without If-Match) or changes one (with it). Looms keep their own copy, so nothing that was tested changes.</summary>
    private static async Task<Results<Ok<FamilyView>, ProblemHttpResult>> PutFamilyAsync(
        string id, JsonElement? body, HttpContext context, ClaimsPrincipal user, LibraryStore store, CancellationToken cancel)
    {
        if (Read(body, out var json) is { } refusal)
        {
            return refusal;
        }

        if (json!["id"]!.GetValue<string>() != id)
        {
            return Refusal.Field("/id", $"The id is '{json["id"]}', the address says '{id}'.");
        }

        var version = EntityVersion.Asked(context);
        var taken = version is { } known
            ? await store.ChangeFamilyAsync(id, known, json.ToJsonString(), user.Id(), cancel)
            : await store.AddFamilyAsync(id, json.ToJsonString(), user.Id(), cancel);
        var now = await store.FamilyAsync(id, cancel);
        if (!taken)
        {
            return version is null ? Refusal.Conflict($"The shop has a family '{id}' already.") : EntityVersion.Overtaken("family", now is null ? null : FamilyView.Of(now));
        }

        EntityVersion.Tell(context, now!.Version);
        return TypedResults.Ok(FamilyView.Of(now)!);
    }

    private static Results<Ok<PatternView>, ProblemHttpResult> Pattern(FacePattern pattern) => pattern.Problems() is { IsEmpty: false } problems
        ? Refusal.Because("No face can be made like this.", problems)
        : TypedResults.Ok(new PatternView(pattern.Face()));

    /// <summary>Both faces of a family that is not stored yet.</summary>
    private static Results<Ok<FamilyView>, ProblemHttpResult> Draw(JsonElement? body) =>
        Read(body, out var json) is { } refusal ? refusal : TypedResults.Ok(FamilyView.Of(new(json!["id"]!.GetValue<string>(), json.ToJsonString(), 0))!);

    private static async Task<Results<Ok<FaceFinding>, ProblemHttpResult>> FindAsync(FindRequest request, LibraryStore store, CancellationToken cancel)
    {
        var body = request.FamilyId is { } id ? (await store.FamilyAsync(id, cancel) is { } stored ? ShopLibrary.Body(stored) : null) : Object(request.Family);
        return body is not null && FamilyLibrary.Read(body).Family is { } family
            ? TypedResults.Ok(FaceWords.Find(family, request.Side, request.Words.Length <= 200 ? request.Words : request.Words[..200]))
            : Refusal.NotFound("family");
    }

    private static async Task<SynonymsView> SynonymsAsync(LibraryStore store, HttpContext context, CancellationToken cancel)
    {
        var stored = await store.SynonymsAsync(cancel);
        EntityVersion.Tell(context, stored.Version);
        return new(JsonSerializer.Deserialize<ImmutableArray<ImmutableArray<string>>>(stored.Groups), stored.Version);
    }

    private static async Task<Results<Ok<SynonymsView>, ProblemHttpResult>> PutSynonymsAsync(SynonymsRequest request, HttpContext context, LibraryStore store, CancellationToken cancel)
    {
        if (EntityVersion.Asked(context) is not { } version)
        {
            return EntityVersion.Missing("list of synonyms");
        }

        if (request.Groups.Length > MostGroups || request.Groups.Any(g => g.Length is 0 or > 50 || g.Any(p => p.Length is 0 or > 80 || p.Any(char.IsControl))))
        {
            return Refusal.Field("/groups", $"At most {MostGroups} groups of 1 to 50 phrases, each of 1 to 80 characters.");
        }

        return await store.ChangeSynonymsAsync(version, JsonSerializer.Serialize(request.Groups), cancel)
            ? TypedResults.Ok(await SynonymsAsync(store, context, cancel))
            : EntityVersion.Overtaken("list of synonyms", await SynonymsAsync(store, context, cancel));
    }

    private static ProblemHttpResult? Read(JsonElement? body, out JsonObject? json)
    {
        json = Object(body);
        if (json is null || body!.Value.GetRawText().Length > 200_000)
        {
            return Refusal.Field("", "A family is one JSON object, as in a loom file.");
        }

        var problems = FamilyLibrary.Read(json).Problems;
        return problems.IsEmpty ? null : Refusal.Because("This is no family as it stands.", problems);
    }

    private static JsonObject? Object(JsonElement? body) => body is { ValueKind: JsonValueKind.Object } element ? JsonObject.Create(element) : null;
}
