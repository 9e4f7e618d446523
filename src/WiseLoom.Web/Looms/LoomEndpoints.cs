using System.Security.Claims;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Looms;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Looms;

/// <summary>What came of an import.</summary>
internal sealed record ImportView(long RevisionId, string Name, string Revision, int Connectors, int Wires, IReadOnlyList<Problem> Warnings);

internal static class LoomEndpoints
{
    /// <summary>What the server is willing to read off the line before it says no, bytes.</summary>
    private const long Patience = 128L * 1024 * 1024;

    internal static void MapLooms(this RouteGroupBuilder api)
    {
        api.MapGet("/revisions/{id:long}/loom", ViewAsync);
        api.MapGet("/revisions/{id:long}/file", FileAsync);
        api.MapPost("/jobs/{id:long}/loom", ImportAsync).Accepts<object>("application/json");
    }

    private static async Task<Results<Ok<LoomView>, ProblemHttpResult>> ViewAsync(long id, LoomLibrary library, CancellationToken cancel) =>
        await library.FindAsync(id, cancel) is { } loom ? TypedResults.Ok(LoomView.Of(id, loom)) : Refusal.NotFound("loom");

    private static async Task<Results<ContentHttpResult, ProblemHttpResult>> FileAsync(long id, LoomStore store, CancellationToken cancel) =>
        await store.DocumentAsync(id, cancel) is { } document ? TypedResults.Content(document, "application/json") : Refusal.NotFound("loom");

    private static async Task<Results<Created<ImportView>, ProblemHttpResult>> ImportAsync(
        long id, HttpContext context, ClaimsPrincipal user, JobStore jobs, LoomStore store, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is null)
        {
            return Refusal.NotFound("job");
        }

        if (await ReadBodyAsync(context, cancel) is not { } bytes)
        {
            return Refusal.Because(
                "The file is too large. Nothing was stored.",
                [new("", $"At most {LoomReader.LargestFile / 1048576} MB are read; a loom of 3,000 wires needs about 1 MB.")],
                StatusCodes.Status413PayloadTooLarge);
        }

        var reading = LoomReader.Read(bytes);
        if (reading.Loom is not { } loom)
        {
            return Refusal.Because("The loom file has problems. Nothing was stored.", reading.Problems);
        }

        var start = bytes.Span.StartsWith(System.Text.Encoding.UTF8.Preamble) ? 3 : 0;
        var revision = await store.AddAsync(id, loom, System.Text.Encoding.UTF8.GetString(bytes.Span[start..]), user.Id(), cancel);
        return TypedResults.Created($"/api/revisions/{revision}/loom", new ImportView(revision, loom.Name, loom.Revision, loom.Connectors.Length, loom.Wires.Length, reading.Warnings));
    }

    /// <summary>The body, or null when it is larger than any loom file; the rest is then read and thrown away, so that the sender gets the answer.</summary>
    private static async Task<ReadOnlyMemory<byte>?> ReadBodyAsync(HttpContext context, CancellationToken cancel)
    {
        if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit)
        {
            limit.MaxRequestBodySize = Patience;
        }

        using var kept = new MemoryStream();
        var buffer = new byte[81920];
        long seen = 0;
        int read;
        while ((read = await context.Request.Body.ReadAsync(buffer, cancel)) > 0)
        {
            seen += read;
            if (seen <= LoomReader.LargestFile)
            {
                kept.Write(buffer, 0, read);
            }
        }

        return seen <= LoomReader.LargestFile ? kept.ToArray().AsMemory() : default(ReadOnlyMemory<byte>?);
    }
}
