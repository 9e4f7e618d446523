using System.Collections.Immutable;
using System.Globalization;
using System.Security.Claims;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Intake;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Looms;

/// <summary>A mapping that the shop keeps.</summary>
internal sealed record KeptMappingView(long Id, string Name, ImmutableArray<string> Headings, int Columns, string KeptBy, DateTimeOffset KeptAt);

/// <summary>What the shop has learned of strangers' papers.</summary>
internal sealed record IntakeMemoryView(ImmutableArray<KeptMappingView> Mappings, ImmutableArray<StoredColourWord> Colours);

/// <summary>How tables with these headings are read.</summary>
/// <param name="Headings">All of them, in their order.</param>
internal sealed record MappingRequest(string Name, ImmutableArray<string> Headings, ImmutableSortedDictionary<string, MappedColumn> Columns);

/// <summary>What a word for a colour means.</summary>
/// <param name="Code">As the loom file writes it: <c>VT</c>.</param>
internal sealed record ColourWordRequest(string Code);

/// <summary>What the shop keeps of how papers are read: mappings under their headings, words for colours.</summary>
internal static class IntakeEndpoints
{
    internal static void MapIntake(this RouteGroupBuilder api)
    {
        api.MapGet("/intake", ShowAsync).WithSummary("What the shop has learned of strangers' papers");
        api.MapPost("/intake/mappings", KeepAsync).WithSummary("Keep how tables with certain headings are read, in place of the last for the same headings");
        api.MapGet("/intake/mappings/{id:long}/file", FileAsync).WithSummary("A mapping as a file that another shop, or the terminal, can take");
        api.MapDelete("/intake/mappings/{id:long}", ForgetAsync).WithSummary("Forget a mapping");
        api.MapPut("/intake/colours/{word}", SayColourAsync).WithSummary("Say what a word for a colour means");
        api.MapDelete("/intake/colours/{word}", ForgetColourAsync).WithSummary("Forget a word for a colour");
    }

    private static async Task<IntakeMemoryView> ShowAsync(IntakeStore store, CancellationToken cancel) => new(
        [.. (await store.MappingsAsync(cancel)).Select(m => (Kept: m, Mapping: ShopPapers.Read(m)))
            .Select(m => new KeptMappingView(m.Kept.Id, m.Kept.Name, m.Mapping.Headings, m.Mapping.Columns.Count, m.Kept.KeptBy, m.Kept.KeptAt))],
        [.. await store.ColourWordsAsync(cancel)]);

    /// <summary>Keeps it under the name given, or with a number behind it where tables with other headings are called so.</summary>
    private static async Task<Results<Ok<IntakeMemoryView>, ProblemHttpResult>> KeepAsync(MappingRequest request, ClaimsPrincipal user, IntakeStore store, CancellationToken cancel)
    {
        var mapping = new IntakeMapping(request.Columns, request.Name.Trim(), request.Headings);
        if (mapping.Problems() is { IsEmpty: false } problems)
        {
            return Refusal.Because("This mapping cannot be kept as it is.", problems);
        }

        var shape = IntakeMapping.Fingerprint(mapping.Headings);
        var taken = (await store.MappingsAsync(cancel)).Where(m => IntakeMapping.Fingerprint(ShopPapers.Read(m).Headings) != shape).Select(m => m.Name).ToHashSet(StringComparer.Ordinal);
        for (var n = 2; taken.Contains(mapping.Name); n++)
        {
            mapping = mapping with { Name = string.Create(CultureInfo.InvariantCulture, $"{request.Name.Trim()} {n}") };
        }

        var kept = await store.KeepAsync(shape, mapping.Name, JsonSerializer.Serialize(mapping, CoreJson.Options), IntakeMemory.Most, user.Id(), cancel);
        return kept switch
        {
            MappingKept.NameTaken => Refusal.Field("/name", $"Tables with other headings are called ‘{mapping.Name}’ since a moment ago. Another name is needed."),
            MappingKept.Full => Refusal.Conflict($"The shop keeps {IntakeMemory.Most} mappings, and no more. Forget one first."),
            _ => TypedResults.Ok(await ShowAsync(store, cancel)),
        };
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> FileAsync(long id, IntakeStore store, CancellationToken cancel) =>
        await ShopPapers.FindAsync(id, store, cancel) is { } mapping
            ? TypedResults.File(JsonSerializer.SerializeToUtf8Bytes(mapping, CoreJson.Options), "application/json", $"{FileName(mapping.Name)}.json")
            : Refusal.NotFound("mapping");

    private static async Task<Results<NoContent, ProblemHttpResult>> ForgetAsync(long id, IntakeStore store, CancellationToken cancel) =>
        await store.ForgetAsync(id, cancel) ? TypedResults.NoContent() : Refusal.NotFound("mapping");

    private static async Task<Results<NoContent, ProblemHttpResult>> SayColourAsync(string word, ColourWordRequest request, ClaimsPrincipal user, IntakeStore store, CancellationToken cancel) =>
        IntakeMemory.Word(word) is not { } plain ? Refusal.Field("/word", "One word of letters is needed, of at most 30.")
            : !IntakeMemory.IsCode(request.Code) ? Refusal.Field("/code", $"One of these is needed: {string.Join(", ", WireColour.AllCodes)}.")
            : await store.SayColourAsync(plain, request.Code, IntakeMemory.Most, user.Id(), cancel) ? TypedResults.NoContent()
            : Refusal.Conflict($"The shop keeps {IntakeMemory.Most} words for colours, and no more. Forget one first.");

    private static async Task<Results<NoContent, ProblemHttpResult>> ForgetColourAsync(string word, IntakeStore store, CancellationToken cancel) =>
        IntakeMemory.Word(word) is { } plain && await store.ForgetColourAsync(plain, cancel) ? TypedResults.NoContent() : Refusal.NotFound("word");

    private static string FileName(string name)
    {
        var plain = new StringBuilder();
        foreach (var c in name)
        {
            plain.Append(char.IsAsciiLetterOrDigit(c) || c is '-' or '_' ? c : '-');
        }

        return plain.ToString().Trim('-') is { Length: > 0 } some ? some : "mapping";
    }
}
