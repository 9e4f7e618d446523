using WiseLoom.Core.Handover;
using WiseLoom.Core.Units;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Looms;
using WiseLoom.Web.Runs;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Handover;

/// <summary>Labels for a job's loom, to be printed from the browser at their own size.</summary>
internal static class LabelEndpoints
{
    /// <summary>A label sheet has its style inside and nothing else.</summary>
    private const string SheetPolicy = "default-src 'none'; style-src 'unsafe-inline'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'";

    internal static void MapLabels(this RouteGroupBuilder api)
    {
        api.MapGet("/jobs/{id:long}/labels", SheetAsync).ExcludeFromDescription();
        api.MapGet("/jobs/{id:long}/fuse-card", CardAsync).IsHeavy("Working out the fuse card").ExcludeFromDescription();
    }

    private static async Task<IResult> CardAsync(long id, HttpContext context, JobStore jobs, LoomLibrary looms, PaperShelf shelf, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { RevisionId: { } revision } job || await looms.FindAsync(revision, cancel) is not { } loom)
        {
            return Refusal.NotFound("job with a loom");
        }

        var language = Language.Of(job.Language);
        using var spoken = Words.In(language);
        var papers = await shelf.OfAsync(revision, loom, language, cancel);
        context.Response.Headers.ContentSecurityPolicy = SheetPolicy;
        return Results.Content(FuseCard.Render(loom, papers?.Fuses ?? []), "text/html; charset=utf-8");
    }

    private static async Task<IResult> SheetAsync(long id, string? kind, string? paper, string? which, string? link, HttpContext context, JobStore jobs, LoomLibrary looms, PackStore packs, LimitStore limits, CancellationToken cancel)
    {
        LabelKind? how = (kind ?? "flag") switch { "flag" => LabelKind.Flag, "wrap" => LabelKind.Wrap, "plain" => LabelKind.Plain, _ => null };
        LabelPaper? on = (paper ?? "a4") switch { "a4" => LabelPaper.A4, "letter" => LabelPaper.Letter, "strip" => LabelPaper.Strip, _ => null };
        if (how is null || on is null || which is not (null or "all" or "mistaken"))
        {
            return Refusal.Field(how is null ? "/kind" : on is null ? "/paper" : "/which", how is null ? "Write flag, wrap or plain." : on is null ? "Write a4, letter or strip." : "Write all, or mistaken for those that fit into another’s place.");
        }

        if (await jobs.FindAsync(id, cancel) is not { RevisionId: { } revision } || await looms.FindAsync(revision, cancel) is not { } loom)
        {
            return Refusal.NotFound("job with a loom");
        }

        // The code leads to the pack of the link that is given: links are kept as hashes alone. Without one it holds plain text.
        var token = link is { Length: > 0 } given ? given.Trim().TrimEnd('/').Split('/')[^1] : null;
        if (token is not null && (await packs.BySharedTokenAsync(token, cancel))?.JobId != id)
        {
            return Refusal.Field("/link", "This is no open share link of a pack of this job. Leave it out for codes with plain text.");
        }

        var leads = token is null ? null : $"{context.Request.Scheme}://{context.Request.Host}/p/{token}";
        context.Response.Headers.ContentSecurityPolicy = SheetPolicy;
        var mistaken = which is null ? (await limits.LatestAsync(cancel)).Limits.Pack.Labels == LabelPolicy.Mistaken : which == "mistaken";
        return Results.Content(new LabelSheet(loom, how.Value, on.Value, mistaken, leads).Render(), "text/html; charset=utf-8");
    }
}
