using System.Collections.Immutable;
using System.Security.Claims;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Pinouts;
using WiseLoom.Core.Revisions;
using WiseLoom.Store;
using WiseLoom.Web.Book;
using WiseLoom.Web.Http;
using WiseLoom.Web.Library;
using WiseLoom.Web.People;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Merges;

internal sealed record MergeEntry(long Id, string Title, long JobId, string MadeBy, DateTimeOffset MadeAt, int Pairs, bool Made);

/// <summary>A line of one side.</summary>
internal sealed record MergeLine(string Place, string Function, string Role, string Colour)
{
    internal static MergeLine Of(PinoutLine l) => new(l.Place.ToString(), l.Function, PinRoles.Words(l.Role), l.Colour);
}

internal sealed record CandidateView(string Place, string Function, double Score, string Reason);

/// <summary>What is proposed for a line of the left side.</summary>
internal sealed record ProposalView(string Place, string? Proposed, MatchTrust Trust, ImmutableArray<CandidateView> Candidates);

internal sealed record PairView(string Left, string Right);

internal sealed record LonelyView(string Place, LonelyDecision Decision);

/// <summary>Decisions as the page keeps them.</summary>
internal sealed record DecisionsView(ImmutableArray<PairView> Pairs, ImmutableArray<PairView> Apart, ImmutableArray<LonelyView> Left, ImmutableArray<LonelyView> Right, double UsualMm);

/// <summary>One thing to do, and who did it.</summary>
internal sealed record WorkView(string Key, MergeHalf Half, string Kind, string Text, bool Done, string? By);

/// <param name="OnLoom">Whether the left side is a loom, whose wires then move.</param>
internal sealed record MergeView(
    long Id, string Title, long JobId, int Version, string LeftTitle, string RightTitle, bool OnLoom, ImmutableArray<MergeLine> Left, ImmutableArray<MergeLine> Right,
    ImmutableArray<ProposalView> Proposals, DecisionsView Decisions, MergeProgress Progress, ImmutableArray<WorkView> Work, long? DraftId);

internal sealed record NewMergeRequest(string Title, long JobId, string Left, string Right);

internal sealed record TickRequest(Guid Key, string Item, bool Done);

internal static class MergeEndpoints
{
    internal static void MapMerges(this RouteGroupBuilder api)
    {
        api.MapGet("/merges", async (MergeStore store, CancellationToken cancel) => (await store.AllAsync(cancel)).Select(m => new MergeEntry(m.Id, m.Title, m.JobId, m.MadeBy, m.MadeAt, m.Decisions.Pairs.Length, m.DraftId is not null)).ToList()).WithSummary("All merges");
        api.MapPost("/merges", AddAsync).IsHeavy("Beginning the merge").WithSummary("Lay two pinouts side by side");
        api.MapGet("/merges/{id:long}", GetAsync).IsHeavy("Laying both sides together").WithSummary("A merge with its proposals and decisions");
        api.MapPut("/merges/{id:long}/decisions", DecideAsync).IsHeavy("Keeping what was decided").WithSummary("Store what was decided in a merge");
        api.MapPost("/merges/{id:long}/make", MakeAsync).IsHeavy("Making the loom").WithSummary("Make the draft and the work list of a merge");
        api.MapPost("/merges/{id:long}/ticks", TickAsync).IsHeavy("Ticking").WithSummary("Tick a line of a merge's work list");
    }

    private static async Task<Results<Created<MergeView>, ProblemHttpResult>> AddAsync(
        NewMergeRequest request, HttpContext context, ClaimsPrincipal user, JobStore jobs, MergeStore store, ShopLibrary library, CancellationToken cancel)
    {
        var problems = new List<Problem>();
        if (string.IsNullOrWhiteSpace(request.Title) || request.Title.Length > 120 || request.Title.Any(char.IsControl))
        {
            problems.Add(new("/title", "Between 1 and 120 plain characters."));
        }

        if (await jobs.FindAsync(request.JobId, cancel) is null)
        {
            problems.Add(new("/jobId", "There is no such job."));
        }

        var (left, right) = (PinoutChoice.Parse(request.Left), PinoutChoice.Parse(request.Right));
        if (left is null || await library.PinoutAsync(left, cancel) is not { Pinout.Lines.IsEmpty: false })
        {
            problems.Add(new("/left", "Choose a sheet, or plugs of a loom, with at least one line."));
        }

        if (right is null || await library.PinoutAsync(right, cancel) is not { Pinout.Lines.IsEmpty: false })
        {
            problems.Add(new("/right", "Choose a sheet, or plugs of a loom, with at least one line."));
        }

        if (problems.Count > 0)
        {
            return Refusal.Because("This merge cannot be begun like this.", problems);
        }

        var id = await store.AddAsync(request.Title.Trim(), request.JobId, left!, right!, user.Id(), cancel);
        return TypedResults.Created($"/api/merges/{id}", await ViewAsync(id, context, store, library, cancel));
    }

    private static async Task<Results<Ok<MergeView>, ProblemHttpResult>> GetAsync(long id, HttpContext context, MergeStore store, ShopLibrary library, CancellationToken cancel) =>
        await ViewAsync(id, context, store, library, cancel) is { } view ? TypedResults.Ok(view) : Refusal.NotFound("merge");

    private static async Task<Results<Ok<MergeView>, ProblemHttpResult>> DecideAsync(
        long id, DecisionsView request, HttpContext context, MergeStore store, ShopLibrary library, CancellationToken cancel)
    {
        if (EntityVersion.Asked(context) is not { } version)
        {
            return EntityVersion.Missing("merge");
        }

        if (await store.FindAsync(id, cancel) is not { } merge || await SidesAsync(merge, library, cancel) is not { } sides)
        {
            return Refusal.NotFound("merge");
        }

        if (Parse(request) is not { } decisions)
        {
            return Refusal.Field("", "Places are written CONNECTOR:CAVITY.");
        }

        if (decisions.Problems(sides.Left.Pinout, sides.Right.Pinout) is { IsEmpty: false } problems)
        {
            return Refusal.Because("These decisions do not go together. Nothing was stored.", problems);
        }

        var taken = await store.DecideAsync(id, version, decisions, cancel);
        var now = await ViewAsync(id, context, store, library, cancel);
        return taken ? TypedResults.Ok(now!) : EntityVersion.Overtaken("merge", now);
    }

    /// <summary>Makes the new loom as a draft of the job, with its work list.</summary>
    private static async Task<Results<Ok<MergeView>, ProblemHttpResult>> MakeAsync(
        long id, HttpContext context, ClaimsPrincipal user, MergeStore store, DraftStore drafts, LoomStore looms, ShopLibrary library, CancellationToken cancel)
    {
        if (await store.FindAsync(id, cancel) is not { } merge || await SidesAsync(merge, library, cancel) is not { } sides)
        {
            return Refusal.NotFound("merge");
        }

        var result = MergeBuilder.Build(sides.Left.Document, sides.Left.Pinout, sides.Left.Families, sides.Right.Pinout, sides.Right.Families, merge.Decisions);
        if (result.Document["loom"] is JsonObject head)
        {
            head["revision"] = RevisionName.After(head["revision"]?.GetValue<string>() ?? "A", [.. (await looms.OfJobAsync(merge.JobId, cancel)).Select(r => r.Revision)]);
        }

        if (await drafts.OpenAsync(merge.JobId, merge.Left.Revision, result.Document.ToJsonString(), user.Id(), cancel) is not { } draft)
        {
            return Refusal.Conflict("The job has an open draft already. Release it or put it away, then make the merged loom.");
        }

        await store.MadeAsync(id, result.Work, draft, cancel);
        return TypedResults.Ok((await ViewAsync(id, context, store, library, cancel))!);
    }

    private static async Task<Results<Ok<MergeView>, ProblemHttpResult>> TickAsync(
        long id, TickRequest request, HttpContext context, ClaimsPrincipal user, MergeStore store, ShopLibrary library, CancellationToken cancel)
    {
        if (await store.FindAsync(id, cancel) is not { } merge)
        {
            return Refusal.NotFound("merge");
        }

        if (request.Key == Guid.Empty || merge.Work.All(w => w.Key != request.Item))
        {
            return Refusal.Field("/item", "The work list has no such item, or the key is missing.");
        }

        await store.TickAsync(id, request.Key, request.Item, request.Done, user.Id(), cancel);
        return TypedResults.Ok((await ViewAsync(id, context, store, library, cancel))!);
    }

    private static async Task<(SidePinout Left, SidePinout Right)?> SidesAsync(StoredMerge merge, ShopLibrary library, CancellationToken cancel) =>
        await library.PinoutAsync(merge.Left, cancel) is { } left && await library.PinoutAsync(merge.Right, cancel) is { } right ? (left, right) : null;

    private static async Task<MergeView?> ViewAsync(long id, HttpContext context, MergeStore store, ShopLibrary library, CancellationToken cancel)
    {
        if (await store.FindAsync(id, cancel) is not { } merge || await SidesAsync(merge, library, cancel) is not { } sides)
        {
            return null;
        }

        EntityVersion.Tell(context, merge.Version);
        var (left, right) = (sides.Left.Pinout, sides.Right.Pinout);
        var proposals = new FunctionMatcher(left.Lines, right.Lines, await library.SynonymsAsync(cancel)).Proposals();
        var ticks = (await store.TicksAsync(id, cancel)).ToDictionary(t => t.Item, StringComparer.Ordinal);
        var d = merge.Decisions;
        return new(
            merge.Id,
            merge.Title,
            merge.JobId,
            merge.Version,
            left.Title,
            right.Title,
            sides.Left.Document is not null,
            [.. left.Lines.Select(MergeLine.Of)],
            [.. right.Lines.Select(MergeLine.Of)],
            [.. proposals.Select(p => new ProposalView(p.Place.ToString(), p.Proposed?.ToString(), p.Trust, [.. p.Candidates.Select(c => new CandidateView(c.Place.ToString(), c.Function, c.Score, c.Reason))]))],
            new([.. d.Pairs.Select(Pair)], [.. d.Apart.Select(Pair)], [.. d.Left.Select(One)], [.. d.Right.Select(One)], d.UsualMm),
            MergeProgress.Of(left, right, proposals, d),
            [.. merge.Work.Select(w => new WorkView(w.Key, w.Half, w.Kind, w.Text, ticks.GetValueOrDefault(w.Key)?.Done ?? false, ticks.GetValueOrDefault(w.Key) is { Done: true } tick ? tick.By : null))],
            merge.DraftId);
    }

    private static PairView Pair(MergePair p) => new(p.Left.ToString(), p.Right.ToString());

    private static LonelyView One(Lonely l) => new(l.Place.ToString(), l.Decision);

    private static MergeDecisions? Parse(DecisionsView view)
    {
        try
        {
            MergePair Both(PairView p) => new(ProbePoint.Parse(p.Left), ProbePoint.Parse(p.Right));
            Lonely Only(LonelyView l) => new(ProbePoint.Parse(l.Place), l.Decision);
            return new([.. view.Pairs.Select(Both)], [.. view.Apart.Select(Both)], [.. view.Left.Select(Only)], [.. view.Right.Select(Only)], view.UsualMm);
        }
        catch (FormatException)
        {
            return null;
        }
    }
}
