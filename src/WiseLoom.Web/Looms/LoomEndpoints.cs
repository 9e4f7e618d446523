using System.Collections.Immutable;
using System.Security.Claims;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Intake;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Revisions;
using WiseLoom.Core.Shop;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Looms;

/// <summary>What came of an import.</summary>
/// <param name="RevisionId">The new revision; null when it became a draft.</param>
/// <param name="DraftId">The draft that it became; null when it is a revision.</param>
internal sealed record ImportView(long? RevisionId, long? DraftId, string Name, string Revision, int Connectors, int Wires, IReadOnlyList<Problem> Warnings);

/// <summary>A revision of a loom that can be copied.</summary>
internal sealed record LoomChoice(long Id, long JobId, string Name, string Revision);

/// <summary>How many changes there are in a list of a loom file.</summary>
internal sealed record ListCount(string List, int Count);

/// <summary>What taking a file in would do; nothing is stored by it.</summary>
/// <param name="Kind">What the file is, in words.</param>
/// <param name="Document">The loom file as it would be; null when the file cannot be read.</param>
/// <param name="Changes">The first of what would change against the job's loom as it is now.</param>
/// <param name="ChangeCounts">How many changes there are in each list.</param>
/// <param name="After">The job's newest revision, which an import must name; 0 when it has none.</param>
/// <param name="Revision">The name of the revision in the file; null when it cannot be read.</param>
/// <param name="FreeName">A name that is free; null when the file's own is.</param>
/// <param name="Intake">How a stranger's tables were understood; null for files of our own shapes.</param>
/// <param name="OnlyDraft">Why it can only become a draft when this person brings it in; null when it becomes a revision.</param>
internal sealed record ImportPreview(
    string Kind, JsonElement? Document, ImmutableArray<LoomChange> Changes, ImmutableArray<ListCount> ChangeCounts, ImmutableArray<Problem> Problems, ImmutableArray<Problem> Warnings,
    long After, string? Revision, string? FreeName, string? OnlyDraft, IntakeView? Intake);

internal static class LoomEndpoints
{
    private const int MostChanges = 500;

    internal static void MapLooms(this RouteGroupBuilder api)
    {
        api.MapGet("/looms", async (LoomStore store, CancellationToken cancel) => (await store.AllAsync(cancel)).ConvertAll(r => new LoomChoice(r.Id, r.JobId, r.Name, r.Revision))).WithSummary("Looms of the shop with all their revisions, the newest first; at most 500");
        api.MapGet("/revisions/{id:long}/loom", ViewAsync).IsHeavy("Opening the loom").WithSummary("A revision of a loom, drawn and with what each pin should read");
        api.MapGet("/revisions/{id:long}/file", FileAsync).WithSummary("A revision as the loom file it came from");
        api.MapPost("/jobs/{id:long}/import", PreviewAsync).WithMetadata(new ChangesNothing()).Accepts<object>("application/octet-stream", "multipart/form-data").WithMetadata(new TakesFile()).IsHeavy("Reading the file").WithSummary("What taking a file in would do; nothing is stored");
        api.MapPost("/jobs/{id:long}/cable", CableAsync).WithMetadata(new ChangesNothing()).WithSummary("A cable with two plugs as a loom that could be taken; nothing is stored");
        api.MapPost("/jobs/{id:long}/copy", CopyAsync).WithMetadata(new ChangesNothing()).IsHeavy("Copying the loom").WithSummary("A copy of another loom that could be taken; nothing is stored");
        api.MapPost("/jobs/{id:long}/loom", ImportAsync).Accepts<object>("application/json").WithMetadata(new TakesFile()).IsHeavy("Taking the loom in").WithSummary("Take a loom file in as the job's newest revision, or as a draft");
    }

    private static async Task<Results<Ok<LoomView>, ProblemHttpResult>> ViewAsync(long id, LoomLibrary library, LimitStore limits, CancellationToken cancel) =>
        await library.FindAsync(id, cancel) is { } loom ? TypedResults.Ok(LoomView.Of(id, loom, (await limits.LatestAsync(cancel)).Limits.Copper)) : Refusal.NotFound("loom");

    private static async Task<Results<ContentHttpResult, ProblemHttpResult>> FileAsync(long id, LoomStore store, CancellationToken cancel) =>
        await store.DocumentAsync(id, cancel) is { } document ? TypedResults.Content(document, "application/json") : Refusal.NotFound("loom");

    private static async Task<Results<Ok<ImportPreview>, ProblemHttpResult>> PreviewAsync(
        long id, string? name, HttpContext context, ClaimsPrincipal user, JobStore jobs, LoomStore store, DraftStore drafts, IntakeStore papers, LibraryStore families, LimitStore limits, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        if (await PaperUpload.ReadAsync(context, cancel) is var upload && upload.Paper is not { } paper)
        {
            return upload.Refused!;
        }

        // Tables are laid over what a person is working on: the open draft, else the newest revision.
        var text = (await drafts.OpenOfAsync(id, cancel))?.Document ?? (job.RevisionId is { } revision ? await store.DocumentAsync(revision, cancel) : null);
        var now = text is null ? LoomDocument.Empty(job.Machine) : JsonNode.Parse(text)!.AsObject();
        var reading = LoomImport.ReadAny(paper.File, string.IsNullOrWhiteSpace(name) ? "file" : name, now, paper.Said, await ShopPapers.MemoryAsync(papers, families, limits, cancel));
        return TypedResults.Ok(await ShownAsync(job, reading, now, user, store, reading.Intake is { } intake ? IntakeView.Of(intake, Path.GetFileNameWithoutExtension(name ?? "")) : null, cancel));
    }

    /// <summary>A cable with two plugs, or a copy of another loom, as a file that could be taken.</summary>
    private static async Task<Results<Ok<ImportPreview>, ProblemHttpResult>> CableAsync(
        long id, StraightCable cable, ClaimsPrincipal user, JobStore jobs, LoomStore store, LimitStore limits, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        if (cable.Problems() is { IsEmpty: false } problems)
        {
            return Refusal.Because("This is no cable that could be made.", problems);
        }

        var document = cable.Document((await limits.LatestAsync(cancel)).Limits.Papers);
        var reading = LoomReader.Read(LoomDocument.Bytes(document));
        return TypedResults.Ok(await ShownAsync(job, new("a cable", document, reading.Problems, reading.Warnings), await NowAsync(job, store, cancel), user, store, null, cancel));
    }

    /// <param name="revision">What is copied.</param>
    /// <param name="name">The copy's name.</param>
    private static async Task<Results<Ok<ImportPreview>, ProblemHttpResult>> CopyAsync(long id, long revision, string name, ClaimsPrincipal user, JobStore jobs, LoomStore store, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        if (await store.DocumentAsync(revision, cancel) is not { } text)
        {
            return Refusal.NotFound("loom");
        }

        if (string.IsNullOrWhiteSpace(name) || name.Length > 120)
        {
            return Refusal.Field("/name", "A name of 1 to 120 signs is needed.");
        }

        var document = JsonNode.Parse(text)!.AsObject();
        (document["loom"]!.AsObject()["name"], document["loom"]!.AsObject()["revision"]) = (name.Trim(), "A");
        var reading = LoomReader.Read(LoomDocument.Bytes(document));
        return TypedResults.Ok(await ShownAsync(job, new("a copy", document, reading.Problems, reading.Warnings), await NowAsync(job, store, cancel), user, store, null, cancel));
    }

    /// <summary>The job's loom as it is; an empty one where it has none.</summary>
    private static async Task<JsonObject> NowAsync(Job job, LoomStore store, CancellationToken cancel) =>
        job.RevisionId is { } revision && await store.DocumentAsync(revision, cancel) is { } text ? JsonNode.Parse(text)!.AsObject() : LoomDocument.Empty(job.Machine);

    private static async Task<ImportPreview> ShownAsync(Job job, ImportReading reading, JsonObject now, ClaimsPrincipal user, LoomStore store, IntakeView? intake, CancellationToken cancel)
    {
        var changes = reading.Document is { } after ? LoomDifference.Between(now, after, cancel) : [];
        return new ImportPreview(
            reading.Kind,
            reading.Document is { } document ? JsonSerializer.SerializeToElement(document) : null,
            [.. changes.Take(MostChanges)],
            [.. changes.CountBy(c => c.List).Select(c => new ListCount(c.Key, c.Value))],
            reading.Problems,
            reading.Warnings,
            job.RevisionId ?? 0,
            Revision(reading.Document),
            Revision(reading.Document) is { } own ? await FreeAsync(job.Id, own, store, cancel) : null,
            OnlyDraft(job, user),
            intake);
    }

    /// <param name="after">The job's newest revision as its sender knows it; 0 for none.</param>
    /// <param name="name">The revision's name, in place of the one in the file.</param>
    private static async Task<Results<Created<ImportView>, ProblemHttpResult>> ImportAsync(
        long id, long after, string? name, HttpContext context, ClaimsPrincipal user, JobStore jobs, LoomStore store, DraftStore drafts, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        if (await UploadBody.ReadAsync(context, cancel) is not { } bytes)
        {
            return UploadBody.TooLarge();
        }

        var reading = LoomReader.Read(Named(bytes, name));
        if (reading.Loom is not { } loom)
        {
            return Refusal.Because("The loom file has problems. Nothing was stored.", reading.Problems);
        }

        ImportView View(long? revision, long? draft) => new(revision, draft, loom.Name, loom.Revision, loom.Connectors.Length, loom.Wires.Length, reading.Warnings);
        var text = Text(Named(bytes, name));
        if (OnlyDraft(job, user) is not null)
        {
            return await drafts.OpenAsync(id, job.RevisionId, text, user.Id(), cancel) is { } draft
                ? TypedResults.Created($"/api/jobs/{id}/draft", View(null, draft))
                : Refusal.Conflict("This job has been released and has an open draft already. Go on with that one, release it, or put it away first.");
        }

        return await store.AddAsync(new(id, after == 0 ? null : after, loom, text, user.Id()), cancel) switch
        {
            RevisionStored.As stored => TypedResults.Created($"/api/revisions/{stored.Id}/loom", View(stored.Id, null)),
            RevisionStored.NameTaken => Refusal.Field(
                "/loom/revision",
                $"This job has a revision {loom.Revision} already; what was tested under that name must stay what it was. {await FreeAsync(id, loom.Revision, store, cancel)} is free."),
            _ => EntityVersion.Overtaken("job’s loom", new { RevisionId = (await jobs.FindAsync(id, cancel))?.RevisionId }),
        };
    }

    /// <summary>Why this person's file can only become a draft; null when it becomes a revision.</summary>
    private static string? OnlyDraft(Job job, ClaimsPrincipal user) => job.PackVersion is { } pack && !user.IsInRole(Role.Lead)
        ? $"Pack {pack} of this job is signed: only a lead brings in a revision beside it. Your file becomes a draft, and the lead releases it."
        : null;

    /// <summary>A name for a revision that the job has not used; null when the one given is free.</summary>
    private static async Task<string?> FreeAsync(long job, string name, LoomStore store, CancellationToken cancel)
    {
        var taken = (await store.OfJobAsync(job, cancel)).ConvertAll(r => r.Revision);
        return taken.Contains(name) ? RevisionName.After(name, taken) : null;
    }

    /// <summary>The file with another name of its revision; as it is when no name is given, or when it is no file that has one.</summary>
    private static byte[] Named(byte[] file, string? name)
    {
        if (string.IsNullOrWhiteSpace(name) || LoomDocument.Parse(file) is not { } document || document["loom"] is not JsonObject head)
        {
            return file;
        }

        head["revision"] = name.Trim();
        return System.Text.Encoding.UTF8.GetBytes(document.ToJsonString());
    }

    private static string? Revision(JsonObject? document) => document?["loom"] is JsonObject head && head["revision"] is JsonValue value && value.TryGetValue<string>(out var name) ? name : null;

    private static string Text(byte[] file) => System.Text.Encoding.UTF8.GetString(file.AsSpan(file.AsSpan().StartsWith(System.Text.Encoding.UTF8.Preamble) ? 3 : 0));
}
