using System.Collections.Immutable;
using System.Security.Claims;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Revisions;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Looms;

/// <summary>What came of an import.</summary>
internal sealed record ImportView(long RevisionId, string Name, string Revision, int Connectors, int Wires, IReadOnlyList<Problem> Warnings);

/// <summary>What taking a file in would do; nothing is stored by it.</summary>
/// <param name="Kind">What the file is, in words.</param>
/// <param name="Document">The loom file as it would be; null when the file cannot be read.</param>
/// <param name="Changes">What would change against the job's loom as it is now.</param>
internal sealed record ImportPreview(string Kind, JsonElement? Document, ImmutableArray<LoomChange> Changes, ImmutableArray<Problem> Problems, ImmutableArray<Problem> Warnings);

internal static class LoomEndpoints
{
    internal static void MapLooms(this RouteGroupBuilder api)
    {
        api.MapGet("/revisions/{id:long}/loom", ViewAsync);
        api.MapGet("/revisions/{id:long}/file", FileAsync);
        api.MapPost("/jobs/{id:long}/import", PreviewAsync).Accepts<object>("application/octet-stream");
        api.MapPost("/jobs/{id:long}/loom", ImportAsync).Accepts<object>("application/json");
    }

    private static async Task<Results<Ok<LoomView>, ProblemHttpResult>> ViewAsync(long id, LoomLibrary library, CancellationToken cancel) =>
        await library.FindAsync(id, cancel) is { } loom ? TypedResults.Ok(LoomView.Of(id, loom)) : Refusal.NotFound("loom");

    private static async Task<Results<ContentHttpResult, ProblemHttpResult>> FileAsync(long id, LoomStore store, CancellationToken cancel) =>
        await store.DocumentAsync(id, cancel) is { } document ? TypedResults.Content(document, "application/json") : Refusal.NotFound("loom");

    private static async Task<Results<Ok<ImportPreview>, ProblemHttpResult>> PreviewAsync(
        long id, string? name, HttpContext context, JobStore jobs, LoomStore store, DraftStore drafts, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        if (await UploadBody.ReadAsync(context, cancel) is not { } bytes)
        {
            return UploadBody.TooLarge();
        }

        // Tables are laid over what a person is working on: the open draft, else the newest revision.
        var text = (await drafts.OpenOfAsync(id, cancel))?.Document ?? (job.RevisionId is { } revision ? await store.DocumentAsync(revision, cancel) : null);
        var now = text is null ? LoomDocument.Empty(job.Machine) : JsonNode.Parse(text)!.AsObject();
        var reading = LoomImport.Read(bytes, string.IsNullOrWhiteSpace(name) ? "file" : name, now);
        return TypedResults.Ok(new ImportPreview(
            reading.Kind,
            reading.Document is { } document ? JsonSerializer.SerializeToElement(document) : null,
            reading.Document is { } after ? LoomDifference.Between(now, after) : [],
            reading.Problems,
            reading.Warnings));
    }

    private static async Task<Results<Created<ImportView>, ProblemHttpResult>> ImportAsync(
        long id, HttpContext context, ClaimsPrincipal user, JobStore jobs, LoomStore store, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is null)
        {
            return Refusal.NotFound("job");
        }

        if (await UploadBody.ReadAsync(context, cancel) is not { } bytes)
        {
            return UploadBody.TooLarge();
        }

        var reading = LoomReader.Read(bytes);
        if (reading.Loom is not { } loom)
        {
            return Refusal.Because("The loom file has problems. Nothing was stored.", reading.Problems);
        }

        var start = bytes.AsSpan().StartsWith(System.Text.Encoding.UTF8.Preamble) ? 3 : 0;
        var revision = await store.AddAsync(id, loom, System.Text.Encoding.UTF8.GetString(bytes.AsSpan(start)), user.Id(), cancel);
        return TypedResults.Created($"/api/revisions/{revision}/loom", new ImportView(revision, loom.Name, loom.Revision, loom.Connectors.Length, loom.Wires.Length, reading.Warnings));
    }
}
