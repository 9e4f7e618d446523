using System.Collections.Immutable;
using System.Security.Claims;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Intake;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Revisions;
using WiseLoom.Core.Shop;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Looms;

/// <summary>A draft with everything that is wrong with it.</summary>
/// <param name="Document">The loom file as it stands, problems and all.</param>
internal sealed record DraftView(
    long Id, long JobId, long? BaseRevisionId, int Version, string ChangedBy, DateTimeOffset ChangedAt, string? Closed, JsonElement Document, ImmutableArray<Problem> Problems, ImmutableArray<Problem> Warnings,
    ImmutableArray<EndOfferView> Offers);

/// <summary>What came of storing a draft: its new version and what is wrong now.</summary>
/// <param name="Offers">What can be added so that ends of wires are there.</param>
internal sealed record DraftStored(int Version, ImmutableArray<Problem> Problems, ImmutableArray<Problem> Warnings, ImmutableArray<EndOfferView> Offers);

/// <summary>A connector, or a pin, that a draft lacks.</summary>
/// <param name="Words">What would be added.</param>
/// <param name="Connector">A row of connectors, new or in place of the one with its ref; null for none.</param>
/// <param name="Family">A row of families, new or in place of the one with its id.</param>
internal sealed record EndOfferView(string Words, JsonElement? Connector, JsonElement Family)
{
    internal static ImmutableArray<EndOfferView> Of(ReadOnlyMemory<byte> file, ImmutableArray<Problem> problems) =>
        EndOffers.MayHelp(problems) && LoomDocument.Parse(file) is { } draft
            ? [.. EndOffers.Of(draft, problems).Select(o => new EndOfferView(o.Words, o.Connector is { } connector ? JsonSerializer.SerializeToElement(connector) : null, JsonSerializer.SerializeToElement(o.Family)))]
            : [];
}

/// <summary>Rows that say something else now; everything else stays.</summary>
internal sealed record RowEditsRequest(ImmutableArray<RowEdit> Rows);

/// <summary>How a draft is begun.</summary>
/// <param name="FromRevision">The revision to begin from; null for the job's newest, or an empty loom when it has none.</param>
/// <param name="Document">A loom file to begin with instead.</param>
internal sealed record OpenDraftRequest(long? FromRevision, JsonElement? Document);

/// <param name="Newest">The job's newest revision by now, which a release must name; 0 for none.</param>
internal sealed record DraftsView(DraftView? Open, long? PutAway, long Newest);

/// <summary>What a person changed, and what it was changed from.</summary>
internal sealed record ReconcileRequest(JsonElement Start, JsonElement Mine);

/// <summary>Two people's changes laid together.</summary>
/// <param name="Now">What the draft says now, by the other one.</param>
/// <param name="Together">Both people's changes; the asker's where both changed the same.</param>
internal sealed record ReconcileView(int Version, string ChangedBy, JsonElement Now, JsonElement Together, ImmutableArray<LoomChange> Theirs, ImmutableArray<LoomChange> Mine, ImmutableArray<Clash> Clashes);

/// <summary>The draft's stem, with each connector's title.</summary>
internal sealed record DraftStemView(StemView Stem, ImmutableArray<TagTitleView> Titles);

internal sealed record TagTitleView(string Ref, string Title);

internal sealed record ReleasedView(long RevisionId, string Revision);

internal static class DraftEndpoints
{
    internal static void MapDrafts(this RouteGroupBuilder api)
    {
        api.MapGet("/jobs/{id:long}/draft", OfJobAsync).IsHeavy("Opening the draft").WithSummary("The open draft of a job, and the one that was put away last");
        api.MapPost("/jobs/{id:long}/draft", OpenAsync).IsHeavy("Beginning a draft").WithSummary("Open a draft: of a revision, of a file, or empty");
        api.MapPut("/drafts/{id:long}", WriteAsync).Accepts<JsonElement>("application/json").WithMetadata(new TakesFile()).IsHeavy("Keeping the draft").WithSummary("Store what a draft says now");
        api.MapPatch("/drafts/{id:long}", EditAsync).IsHeavy("Keeping the draft").WithSummary("Change some rows of a draft");
        api.MapGet("/drafts/{id:long}/stem", StemAsync).IsHeavy("Drawing the stem").WithSummary("The trunk of a draft to scale");
        api.MapGet("/drafts/{id:long}/plugs", PlugsAsync).IsHeavy("Drawing plugs").WithSummary("Some connectors of a draft with their faces");
        api.MapPost("/drafts/{id:long}/reconcile", ReconcileAsync).WithMetadata(new ChangesNothing()).IsHeavy("Laying changes together").WithSummary("Lay two people's changes of one draft together");
        api.MapPost("/drafts/{id:long}/release", ReleaseAsync).IsHeavy("Releasing the draft").WithSummary("Make a draft the job's newest revision");
        api.MapDelete("/drafts/{id:long}", async (long id, ClaimsPrincipal user, DraftStore store, CancellationToken cancel) => await PutAwayAsync(id, true, user, store, cancel)).WithSummary("Put a draft away");
        api.MapPost("/drafts/{id:long}/reopen", async (long id, ClaimsPrincipal user, DraftStore store, CancellationToken cancel) => await PutAwayAsync(id, false, user, store, cancel)).WithSummary("Take a draft out again");
    }

    private static async Task<Results<Ok<DraftsView>, ProblemHttpResult>> OfJobAsync(long id, JobStore jobs, DraftStore store, CancellationToken cancel) =>
        await jobs.FindAsync(id, cancel) is not { } job
            ? Refusal.NotFound("job")
            : TypedResults.Ok(new DraftsView(
                await store.OpenOfAsync(id, cancel) is { } open ? View(open) : null,
                (await store.PutAwayOfAsync(id, cancel))?.Id,
                job.RevisionId ?? 0));

    private static async Task<Results<Ok<DraftView>, ProblemHttpResult>> OpenAsync(
        long id, OpenDraftRequest request, ClaimsPrincipal user, JobStore jobs, LoomStore looms, DraftStore store, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        var from = request.FromRevision ?? job.RevisionId;
        string? document;
        if (request.Document is { } given)
        {
            document = Text(given);
            if (document is null)
            {
                return Refusal.Field("/document", "A loom file is one JSON object, at most 8 MB, that can be stored.");
            }
        }
        else
        {
            document = from is { } revision && await looms.DocumentAsync(revision, cancel) is { } text
                ? Next(text, await looms.OfJobAsync(id, cancel))
                : LoomDocument.Empty(job.Machine).ToJsonString();
        }

        if (from is { } known && (await looms.EntryAsync(known, cancel))?.JobId != id)
        {
            return Refusal.NotFound("revision of this job");
        }

        return await store.OpenAsync(id, from, document, user.Id(), cancel) is { } draft
            ? TypedResults.Ok(View((await store.FindAsync(draft, cancel))!))
            : Refusal.Conflict("This job has an open draft already. Go on with it, release it, or put it away first.");
    }

    private static async Task<Results<Ok<DraftStored>, ProblemHttpResult>> WriteAsync(long id, HttpContext context, ClaimsPrincipal user, DraftStore store, DraftCache desk, CancellationToken cancel)
    {
        if (EntityVersion.Asked(context) is not { } version)
        {
            return EntityVersion.Missing("draft");
        }

        if (await UploadBody.ReadAsync(context, cancel) is not { } bytes)
        {
            return UploadBody.TooLarge();
        }

        if (bytes.AsSpan().StartsWith(Encoding.UTF8.Preamble))
        {
            bytes = bytes[Encoding.UTF8.Preamble.Length..];
        }

        return JsonSize.TooMuch(bytes) is { } tooMuch
            ? Refusal.Because("This draft was not kept.", [tooMuch])
            : await KeepAsync(id, version, bytes, context, user.Id(), store, desk, cancel);
    }

    /// <summary>Changes some rows of a draft: what typing into a cell sends.</summary>
    private static async Task<Results<Ok<DraftStored>, ProblemHttpResult>> EditAsync(
        long id, RowEditsRequest request, HttpContext context, ClaimsPrincipal user, DraftStore store, DraftCache desk, CancellationToken cancel)
    {
        if (EntityVersion.Asked(context) is not { } version)
        {
            return EntityVersion.Missing("draft");
        }

        var known = desk.Find(id, version);
        var file = known?.File;
        if (file is null)
        {
            if (await store.FindAsync(id, cancel) is not { Closed: null } draft || draft.Version != version)
            {
                return await RefusedAsync(id, store, cancel);
            }

            file = Encoding.UTF8.GetBytes(draft.Document);
        }

        if (RowEdits.Apply(file, request.Rows) is not { } bytes)
        {
            return Refusal.Field("/rows", "Each row is one of the draft’s lists and stands there already; send the whole file to add or remove rows.");
        }

        return bytes.Length > LoomReader.LargestFile ? UploadBody.TooLarge()
            : Followed(known?.Check, request.Rows) is { } check ? await StoreAsync(id, version, bytes, () => check, context, user.Id(), store, desk, cancel)
            : await KeepAsync(id, version, bytes, context, user.Id(), store, desk, cancel);
    }

    /// <summary>The check after a change of single wires; null when the file must be read again.</summary>
    private static LoomCheck? Followed(LoomCheck? check, ImmutableArray<RowEdit> rows) =>
        rows.Aggregate(check, (now, row) => row.List == "wires" ? now?.WithWire(row.Index, row.Row) : null);

    private static async Task<Results<Ok<DraftStored>, ProblemHttpResult>> KeepAsync(
        long id, int version, byte[] bytes, HttpContext context, Guid by, DraftStore store, DraftCache desk, CancellationToken cancel)
    {
        using var text = LoomText.Parse(bytes);
        if (!text.CanBeKept)
        {
            return Refusal.Because("This is no loom file that could be kept. Nothing was stored.", text.Read().Problems);
        }

        return await StoreAsync(id, version, bytes, () => ReadToEnd(text), context, by, store, desk, cancel);
    }

    private static LoomCheck ReadToEnd(LoomText text)
    {
        text.Read();
        return text.Check!;
    }

    /// <summary>Stores and checks at the same time: somebody is typing, and waits for the marks.</summary>
    private static async Task<Results<Ok<DraftStored>, ProblemHttpResult>> StoreAsync(
        long id, int version, byte[] bytes, Func<LoomCheck> read, HttpContext context, Guid by, DraftStore store, DraftCache desk, CancellationToken cancel)
    {
        var storing = Task.Run(() => store.WriteAsync(id, version, bytes, by, cancel), cancel);
        var check = read();
        if (!await storing)
        {
            return await RefusedAsync(id, store, cancel);
        }

        desk.Keep(id, new(version + 1, bytes, check));
        EntityVersion.Tell(context, version + 1);
        return TypedResults.Ok(new DraftStored(version + 1, check.Problems, check.Warnings, EndOfferView.Of(bytes, check.Problems)));
    }

    private static async Task<ProblemHttpResult> RefusedAsync(long id, DraftStore store, CancellationToken cancel) => await store.FindAsync(id, cancel) switch
    {
        null => Refusal.NotFound("draft"),
        { Closed: not null } => Refusal.Conflict("This draft was released or put away in the meantime. Nothing of yours was stored."),
        { } now => EntityVersion.Overtaken("draft", new { now.Version, now.ChangedBy }),
    };

    private static async Task<Results<Ok<DraftStemView>, ProblemHttpResult>> StemAsync(long id, DraftStore store, DraftCache desk, CancellationToken cancel) =>
        await DrawableAsync(id, store, desk, cancel) is { } loom
            ? TypedResults.Ok(new DraftStemView(StemView.Of(loom), [.. loom.Connectors.Select(c => new TagTitleView(c.Ref, c.Title))]))
            : Refusal.NotFound("draft");

    /// <summary>Some connectors as the draft has them, faces and all; nothing is said yet of what they should read.</summary>
    /// <param name="of">Refs, with commas between them.</param>
    private static async Task<Results<Ok<List<ConnectorView>>, ProblemHttpResult>> PlugsAsync(long id, string of, DraftStore store, DraftCache desk, CancellationToken cancel) =>
        await DrawableAsync(id, store, desk, cancel) is { } loom
            ? TypedResults.Ok(WalkStop.Of(loom, loom.AmbientC, CopperTolerance.Usual, withReadings: false, of.Split(',')).Select(ConnectorView.Of).ToList())
            : Refusal.NotFound("draft");

    private static async Task<Loom?> DrawableAsync(long id, DraftStore store, DraftCache desk, CancellationToken cancel) =>
        await store.VersionAsync(id, cancel) is not { } version ? null
        : desk.Find(id, version) is { } known ? known.Check.Drawable
        : await store.FindAsync(id, cancel) is { } draft ? LoomReader.ReadDraft(Encoding.UTF8.GetBytes(draft.Document)).Loom : null;

    private static async Task<Results<Ok<ReconcileView>, ProblemHttpResult>> ReconcileAsync(long id, ReconcileRequest request, DraftStore store, CancellationToken cancel)
    {
        if (await store.FindAsync(id, cancel) is not { } draft)
        {
            return Refusal.NotFound("draft");
        }

        if (Object(request.Start) is not { } start || Object(request.Mine) is not { } mine)
        {
            return Refusal.Field("", "Both files are needed, each one JSON object.");
        }

        var theirs = JsonNode.Parse(draft.Document)!.AsObject();
        var both = Reconciliation.Of(start, mine, theirs, cancel);
        return TypedResults.Ok(new ReconcileView(draft.Version, draft.ChangedBy, Element(theirs), Element(both.Together), both.Theirs, both.Mine, both.Clashes));
    }

    /// <param name="after">The job's newest revision as its sender knows it; 0 for none.</param>
    private static async Task<Results<Ok<ReleasedView>, ProblemHttpResult>> ReleaseAsync(
        long id, long after, HttpContext context, ClaimsPrincipal user, JobStore jobs, DraftStore store, CancellationToken cancel)
    {
        if (EntityVersion.Asked(context) is not { } version)
        {
            return EntityVersion.Missing("draft");
        }

        if (await store.FindAsync(id, cancel) is not { } draft)
        {
            return Refusal.NotFound("draft");
        }

        var job = await jobs.FindAsync(draft.JobId, cancel);
        if (job?.PackVersion is { } pack && !user.IsInRole(Role.Lead))
        {
            return Refusal.Forbidden($"Pack {pack} of this job is signed: a lead releases a revision beside it. The draft is kept as it is.");
        }

        if (draft.Version != version)
        {
            return EntityVersion.Overtaken("draft");
        }

        var reading = LoomReader.Read(Encoding.UTF8.GetBytes(draft.Document));
        if (reading.Loom is not { } loom)
        {
            return Refusal.Because("A loom with problems cannot be released. The draft is kept as it is.", reading.Problems);
        }

        if (loom.Wires.IsEmpty)
        {
            return Refusal.Field("/wires", "This draft has no wire yet: there is nothing to release.");
        }

        return await store.ReleaseAsync(draft, after == 0 ? null : after, loom, user.Id(), cancel) switch
        {
            RevisionStored.As stored => TypedResults.Ok(new ReleasedView(stored.Id, loom.Revision)),
            RevisionStored.NameTaken => Refusal.Field("/loom/revision", $"This job has a revision {loom.Revision} already; what was tested under that name must stay what it was. Give the draft another."),
            RevisionStored.Overtaken when (await jobs.FindAsync(draft.JobId, cancel))?.Revision is { } newest => Refusal.Conflict(
                $"Revision {newest} of this job came in since you looked, and this draft does not have its changes. The draft is kept: look at what is new, and release it then."),
            _ => EntityVersion.Overtaken("draft"),
        };
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> PutAwayAsync(long id, bool away, ClaimsPrincipal user, DraftStore store, CancellationToken cancel) =>
        await store.FindAsync(id, cancel) is null ? Refusal.NotFound("draft")
        : await store.PutAwayAsync(id, away, user.Id(), cancel) ? TypedResults.NoContent()
        : Refusal.Conflict(away ? "This draft is not open any more." : "Another draft of this job is open, or this one was released.");

    /// <summary>A revision's file under the name of the next one.</summary>
    private static string Next(string text, List<RevisionEntry> taken)
    {
        var document = JsonNode.Parse(text)!.AsObject();
        if (document["loom"] is JsonObject head)
        {
            head["revision"] = RevisionName.After(head["revision"]?.GetValue<string>() ?? "A", [.. taken.Select(t => t.Revision)]);
        }

        return document.ToJsonString();
    }

    private static DraftView View(Draft draft)
    {
        var bytes = Encoding.UTF8.GetBytes(draft.Document);
        var reading = LoomReader.Read(bytes);
        return new(
            draft.Id, draft.JobId, draft.BaseRevisionId, draft.Version, draft.ChangedBy, draft.ChangedAt, draft.Closed, JsonSerializer.Deserialize<JsonElement>(draft.Document),
            reading.Problems, reading.Warnings, EndOfferView.Of(bytes, reading.Problems));
    }

    /// <summary>A document as it is stored; null when it cannot be.</summary>
    private static string? Text(JsonElement document)
    {
        var text = document.GetRawText();
        return text.Length <= LoomReader.LargestFile && LoomDocument.Parse(Encoding.UTF8.GetBytes(text)) is not null ? text : null;
    }

    private static JsonObject? Object(JsonElement element) => element.ValueKind == JsonValueKind.Object ? JsonObject.Create(element) : null;

    private static JsonElement Element(JsonNode node) => JsonSerializer.SerializeToElement(node);
}
