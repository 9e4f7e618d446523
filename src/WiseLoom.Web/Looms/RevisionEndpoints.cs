using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Revisions;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Runs;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Looms;

/// <summary>A revision as the page lists it.</summary>
/// <param name="State"><c>released</c> or <c>superseded</c>.</param>
/// <param name="From">Name of the revision it was reworked from; null when it was brought in as a file.</param>
/// <param name="Bench">How far its own run came, in words.</param>
internal sealed record RevisionView(long Id, string Name, string Revision, string State, string By, DateTimeOffset At, string? From, string Bench);

/// <param name="Changes">The first of them.</param>
/// <param name="Count">How many there are.</param>
internal sealed record ChangesView(string Before, string After, ImmutableArray<LoomChange> Changes, int Count);

internal static class RevisionEndpoints
{
    private const int MostChanges = 2000;

    internal static void MapRevisions(this RouteGroupBuilder api)
    {
        api.MapGet("/jobs/{id:long}/revisions", ListAsync).WithSummary("Revisions of a job, the newest first");
        api.MapGet("/revisions/{id:long}/changes", ChangesAsync).IsHeavy("Comparing revisions").WithSummary("What differs between two revisions, in sentences");
        api.MapGet("/revisions/{id:long}/tables.xlsx", async (long id, LoomStore store, CancellationToken cancel) =>
            await FileAsync(id, store, "xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", d => Workbook.Write(LoomTableWriter.Tables(d)), cancel)).IsHeavy("Writing the tables").ExcludeFromDescription();
        api.MapGet("/revisions/{id:long}/tables.zip", async (long id, LoomStore store, CancellationToken cancel) =>
            await FileAsync(id, store, "zip", "application/zip", d => LoomTableWriter.CsvSet(LoomTableWriter.Tables(d)), cancel)).IsHeavy("Writing the tables").ExcludeFromDescription();
        api.MapGet("/revisions/{id:long}/stem.svg", StemAsync).IsHeavy("Drawing the stem").ExcludeFromDescription();
        api.MapGet("/revisions/{id:long}/faces/{connector}.svg", FaceAsync).IsHeavy("Drawing a face").ExcludeFromDescription();
    }

    private static async Task<Results<Ok<List<RevisionView>>, ProblemHttpResult>> ListAsync(long id, JobStore jobs, LoomStore store, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is null)
        {
            return Refusal.NotFound("job");
        }

        var entries = await store.OfJobAsync(id, cancel);
        var views = new List<RevisionView>();
        foreach (var e in entries)
        {
            var words = e.Run is not { } run ? "not measured" : string.Create(CultureInfo.InvariantCulture, $"{run.Done} of {run.Steps} steps done{(run.Pack is null ? "" : run.IsOverturned ? ", signed, no longer holds" : ", signed")}");
            views.Add(new(e.Id, e.Name, e.Revision, e == entries[0] ? "released" : "superseded", e.By, e.At, entries.Find(o => o.Id == e.BaseRevisionId)?.Revision, words));
        }

        return TypedResults.Ok(views);
    }

    private static async Task<Results<Ok<ChangesView>, ProblemHttpResult>> ChangesAsync(long id, long since, LoomStore store, CancellationToken cancel)
    {
        if (await store.EntryAsync(id, cancel) is not { } after || await store.EntryAsync(since, cancel) is not { } before)
        {
            return Refusal.NotFound("revision");
        }

        var (old, now) = (JsonNode.Parse((await store.DocumentAsync(since, cancel))!)!.AsObject(), JsonNode.Parse((await store.DocumentAsync(id, cancel))!)!.AsObject());
        var changes = LoomDifference.Between(old, now, cancel);
        return TypedResults.Ok(new ChangesView($"{before.Name} {before.Revision}", $"{after.Name} {after.Revision}", [.. changes.Take(MostChanges)], changes.Length));
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> FileAsync(long id, LoomStore store, string ending, string type, Func<JsonObject, byte[]> write, CancellationToken cancel) =>
        await store.EntryAsync(id, cancel) is { } entry && await store.DocumentAsync(id, cancel) is { } document
            ? TypedResults.File(write(JsonNode.Parse(document)!.AsObject()), type, $"{entry.Name} {entry.Revision}.{ending}")
            : Refusal.NotFound("loom");

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> FaceAsync(long id, string connector, string? side, LoomLibrary library, CancellationToken cancel) =>
        await library.FindAsync(id, cancel) is { } loom && loom.FindConnector(connector) is not null
            ? Svg(LoomDrawings.Face(loom, connector, side == "wire" ? FaceSide.WireSide : FaceSide.MatingFace), $"{connector} {(side == "wire" ? "wire side" : "mating face")}")
            : Refusal.NotFound("connector");

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> StemAsync(long id, LoomLibrary library, CancellationToken cancel) =>
        await library.FindAsync(id, cancel) is { } loom ? Svg(LoomDrawings.Stem(loom), $"{loom.Name} {loom.Revision} stem") : Refusal.NotFound("loom");

    private static FileContentHttpResult Svg(string svg, string name) => TypedResults.File(Encoding.UTF8.GetBytes(svg), "image/svg+xml", $"{name}.svg");
}
