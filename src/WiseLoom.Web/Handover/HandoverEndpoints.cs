using System.Buffers.Text;
using System.Collections.Immutable;
using System.Security.Claims;
using System.Security.Cryptography;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Store;
using WiseLoom.Web.Bench;
using WiseLoom.Web.Faults;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Handover;

/// <summary>A frozen pack as the page lists it.</summary>
/// <param name="Share">Path of its open link; null when none is out.</param>
internal sealed record PackView(long Id, int Version, string Changes, string SignedBy, DateTimeOffset SignedAt, bool HasPdf, string? Share);

/// <summary>The handover page.</summary>
/// <param name="Holds">What stands against release; empty when the lead may sign.</param>
/// <param name="Ready">Whether there is a run with nothing against it.</param>
/// <param name="MaySign">Whether the reader is a lead.</param>
/// <param name="NotProven">What the pack will name as not tested.</param>
/// <param name="PdfNote">Why packs have no PDF here; null when they have.</param>
internal sealed record HandoverView(
    ImmutableArray<HoldView> Holds,
    bool Ready,
    bool MaySign,
    ImmutableArray<string> NotProven,
    string? PdfNote,
    ImmutableArray<PackView> Packs);

internal sealed record SignRequest(string Changes);

internal static class HandoverEndpoints
{
    private const string NoBrowser = "No Chromium is installed at the server, so packs are made as HTML only. The HTML holds everything and prints from any browser.";

    internal static void MapHandover(this RouteGroupBuilder api)
    {
        api.MapGet("/jobs/{id:long}/handover", ViewAsync);
        api.MapPost("/jobs/{id:long}/packs", SignAsync).RequireAuthorization(Role.Lead);
        api.MapGet("/packs/{id:long}/html", async (long id, HttpContext context, PackStore packs, CancellationToken cancel) => Page(context, await packs.HtmlAsync(id, cancel))).ExcludeFromDescription();
        api.MapGet("/packs/{id:long}/pdf", async (long id, PackStore packs, CancellationToken cancel) => Pdf(await packs.PdfAsync(id, cancel), id)).ExcludeFromDescription();
        api.MapGet("/packs/{id:long}/json", async (long id, PackStore packs, CancellationToken cancel) =>
            await packs.JsonAsync(id, cancel) is { } json ? Results.Content(json, "application/json") : Refusal.NotFound("pack")).ExcludeFromDescription();
        api.MapPost("/packs/{id:long}/share", ShareAsync);
        api.MapDelete("/packs/{id:long}/share", WithdrawAsync);
    }

    /// <summary>Packs that a link opens without an account.</summary>
    internal static void MapSharedPacks(this WebApplication app)
    {
        app.MapGet("/p/{token}", async (string token, HttpContext context, PackStore packs, CancellationToken cancel) =>
            Page(context, await packs.BySharedTokenAsync(token, cancel) is { } pack ? await packs.HtmlAsync(pack.Id, cancel) : null)).AllowAnonymous().ExcludeFromDescription();
        app.MapGet("/p/{token}/pdf", async (string token, PackStore packs, CancellationToken cancel) =>
            await packs.BySharedTokenAsync(token, cancel) is { } pack ? Pdf(await packs.PdfAsync(pack.Id, cancel), pack.Id) : Refusal.NotFound("pack")).AllowAnonymous().ExcludeFromDescription();
    }

    private static async Task<Results<Ok<HandoverView>, ProblemHttpResult>> ViewAsync(
        long id, ClaimsPrincipal user, JobStore jobs, BenchLibrary library, PackStore packs, PdfPrinter printer, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        var bench = job.RunId is { } run ? await library.FindAsync(run, cancel) : null;
        var current = bench?.Run.RevisionId == job.RevisionId ? bench : null;
        ImmutableArray<HoldView> holds = current is null
            ? [new("not-tested", job.RevisionId is null ? "The job has no loom yet." : "This revision of the loom has not been on the bench.", [], null)]
            : [.. current.Holds.Select(h => new HoldView(h.Kind, h.Text, h.Steps, h.Fault))];
        return TypedResults.Ok(new HandoverView(
            holds,
            holds.IsEmpty,
            user.IsInRole(Role.Lead),
            current is null ? [] : Core.Handover.PackModel.NotProven(current.State, current.Record()),
            printer.CanPrint ? null : NoBrowser,
            [.. (await packs.OfJobAsync(id, cancel)).Select(View)]));
    }

    private static async Task<Results<Created<PackView>, ProblemHttpResult>> SignAsync(
        long id, SignRequest request, ClaimsPrincipal user, JobStore jobs, BenchLibrary library, PackStore packs, PackMaker maker, TimeProvider clock, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        if (request.Changes.Length > 1000)
        {
            return Refusal.Field("/changes", "At most 1000 characters.");
        }

        if (job.RunId is not { } run || await library.FindAsync(run, cancel) is not { } bench || bench.Run.RevisionId != job.RevisionId)
        {
            return Refusal.Conflict("This revision of the loom has not been on the bench.");
        }

        if (!bench.Holds.IsEmpty)
        {
            return Refusal.Because("The loom cannot be released yet.", bench.Holds.Select(h => new Core.Looms.Problem("", h.Text)), StatusCodes.Status409Conflict);
        }

        var made = await maker.MakeAsync(job, bench, request.Changes.Trim(), user.Id(), user.Name(), clock.GetUtcNow(), cancel);
        return made is { } pack
            ? TypedResults.Created($"/api/packs/{pack}/html", View((await packs.FindAsync(pack, cancel))!))
            : Refusal.Conflict("Somebody else signed a pack of this job at the same moment. Look at theirs first.");
    }

    private static async Task<Results<Ok<PackView>, ProblemHttpResult>> ShareAsync(long id, ClaimsPrincipal user, PackStore packs, CancellationToken cancel)
    {
        if (await packs.FindAsync(id, cancel) is not { } pack)
        {
            return Refusal.NotFound("pack");
        }

        if (pack.Share is null)
        {
            await packs.ShareAsync(id, Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(32)), user.Id(), cancel);
        }

        return TypedResults.Ok(View((await packs.FindAsync(id, cancel))!));
    }

    private static async Task<Results<Ok<PackView>, ProblemHttpResult>> WithdrawAsync(long id, PackStore packs, CancellationToken cancel)
    {
        await packs.WithdrawAsync(id, cancel);
        return await packs.FindAsync(id, cancel) is { } pack ? TypedResults.Ok(View(pack)) : Refusal.NotFound("pack");
    }

    private static PackView View(PackEntry pack) =>
        new(pack.Id, pack.Version, pack.Changes, pack.SignedBy, pack.SignedAt, pack.HasPdf, pack.Share is null ? null : $"/p/{pack.Share}");

    private static IResult Page(HttpContext context, string? html)
    {
        if (html is null)
        {
            return Refusal.NotFound("pack");
        }

        context.Response.Headers.ContentSecurityPolicy = SafetyHeaders.PackPolicy;
        context.Response.Headers["X-Robots-Tag"] = "noindex";
        context.Response.Headers.CacheControl = "no-store";
        return Results.Content(html, "text/html; charset=utf-8");
    }

    private static IResult Pdf(byte[]? pdf, long id) => pdf is null
        ? Refusal.NotFound("PDF of this pack")
        : Results.File(pdf, "application/pdf", $"handover-pack-{id}.pdf");
}
