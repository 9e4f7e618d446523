using System.Buffers.Text;
using System.Collections.Immutable;
using System.Security.Claims;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Store;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Shop;
using WiseLoom.Core.Symptoms;
using WiseLoom.Core.Units;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;
using WiseLoom.Web.Runs;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Handover;

/// <summary>A frozen pack as the page lists it.</summary>
/// <param name="Share">Path of the link, told once, when it is opened; null otherwise.</param>
/// <param name="SharedUntil">When the open link ends; null when none is out.</param>
/// <param name="Hash">SHA-256 of its HTML file as it was signed, hexadecimal.</param>
/// <param name="Against">What was measured or logged since that speaks against it, in words; null while it holds.</param>
internal sealed record PackView(long Id, int Version, string Changes, string SignedBy, DateTimeOffset SignedAt, bool HasPdf, string? Share, DateTimeOffset? SharedUntil, string Hash, string? Against);

/// <summary>The handover page.</summary>
/// <param name="Holds">What stands against release; empty when the lead may sign.</param>
/// <param name="Ready">Whether there is a run with nothing against it.</param>
/// <param name="MaySign">Whether the reader is a lead.</param>
/// <param name="NotProven">What the pack will name as not tested.</param>
/// <param name="PdfNote">Why packs have no PDF here; null when they have.</param>
/// <param name="Contradictions">Sentences of the loom file on what a plug left off does that the drawing contradicts.</param>
/// <param name="Guide">How the guide in the pack does when it is played; null before it was worked out, and for looms without devices.</param>
/// <param name="Packing">Photos of the packed box, the first first.</param>
/// <param name="RunId">The current run; null where there is none.</param>
/// <param name="LastEvent">Number of the run's last event, which a signature must name; 0 without a run.</param>
internal sealed record HandoverView(
    ImmutableArray<HoldView> Holds,
    bool Ready,
    bool MaySign,
    ImmutableArray<string> NotProven,
    string? PdfNote,
    ImmutableArray<string> Contradictions,
    GuidePlay? Guide,
    long? RunId,
    long LastEvent,
    ImmutableArray<PackingPhotoView> Packing,
    ImmutableArray<PackView> Packs);

/// <summary>A photo of the packed box that the next pack shows.</summary>
internal sealed record PackingPhotoView(Guid Key, string TakenBy, DateTimeOffset TakenAt);

/// <param name="Changes">What the customer should know has changed, at most 1000 characters.</param>
/// <param name="Seen">Number of the run's last event that the lead had looked at.</param>
internal sealed record SignRequest(string Changes, long Seen);

internal static class HandoverEndpoints
{
    private const string NoBrowser = "No Chromium is installed at the server, so packs are made as HTML only. The HTML holds everything and prints from any browser.";

    internal static void MapHandover(this RouteGroupBuilder api)
    {
        api.MapGet("/jobs/{id:long}/handover", ViewAsync).IsHeavy("Opening the handover").WithSummary("What stands against release, and the packs that were signed");
        api.MapPost("/jobs/{id:long}/packs", SignAsync).RequireAuthorization(Role.Lead).WithSummary("Sign and freeze a pack; a lead's");
        api.MapGet("/packs/{id:long}/html", async (long id, HttpContext context, PackStore packs, CancellationToken cancel) => await PageAsync(context, await packs.FindAsync(id, cancel), packs, cancel)).ExcludeFromDescription();
        api.MapGet("/packs/{id:long}/pdf", PdfAsync).IsHeavy("Printing a pack").ExcludeFromDescription();
        api.MapGet("/packs/{id:long}/json", async (long id, PackStore packs, CancellationToken cancel) =>
            await packs.JsonAsync(id, cancel) is { } json ? Results.Content(json, "application/json") : Refusal.NotFound("pack")).ExcludeFromDescription();
        api.MapGet("/packs/{id:long}/csv", CsvAsync).ExcludeFromDescription();
        api.MapPost("/packs/{id:long}/share", ShareAsync).RequireAuthorization(Role.Lead).WithSummary("Open a link to a pack, told once; one that was open is withdrawn; a lead's");
        api.MapPost("/packs/{id:long}/share/renew", RenewAsync).RequireAuthorization(Role.Lead).WithSummary("Have the open link to a pack lead there for longer; a lead's");
        api.MapDelete("/packs/{id:long}/share", WithdrawAsync).RequireAuthorization(Role.Lead).WithSummary("Withdraw the link to a pack; a lead's");
    }

    /// <summary>Packs that a link opens without an account.</summary>
    internal static void MapSharedPacks(this WebApplication app)
    {
        app.MapGet("/p/{token}", async (string token, HttpContext context, PackStore packs, CancellationToken cancel) =>
            await PageAsync(context, await packs.BySharedTokenAsync(token, cancel), packs, cancel)).AllowAnonymous().ExcludeFromDescription();
        app.MapGet("/p/{token}/pdf", async (string token, PackStore packs, CancellationToken cancel) =>
            await packs.BySharedTokenAsync(token, cancel) is { } pack ? Pdf(await packs.PdfAsync(pack.Id, cancel), pack.Id) : Refusal.NotFound("pack")).AllowAnonymous().ExcludeFromDescription();
    }

    private static async Task<Results<Ok<HandoverView>, ProblemHttpResult>> ViewAsync(
        long id, ClaimsPrincipal user, JobStore jobs, RunLedger ledger, PackStore packs, PdfPrinter printer, PaperShelf shelf, PackingPhotoStore packing, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        var current = await ledger.CurrentAsync(job, cancel);
        ImmutableArray<HoldView> holds = current is null
            ? [new("not-tested", job.RevisionId is null ? "The job has no loom yet." : "This revision of the loom has not been on the bench.", [], null, null, null)]
            : HoldView.Of(current.Run);
        // Worked out beside the page; the first look at a revision does not wait for it.
        var papers = current is null ? null : shelf.Soon(current.Head.RevisionId, current.Run.Loom, Language.Of(job.Language));
        return TypedResults.Ok(new HandoverView(
            holds,
            holds.IsEmpty,
            user.IsInRole(Role.Lead),
            current is null ? [] : PackModel.NotProven(current.Run, await ledger.RecordAsync(current, cancel)),
            printer.CanPrint ? null : NoBrowser,
            papers?.LeftOff.Where(l => l.Contradicts is not null).Select(l => $"{l.Connector}, ‘{current!.Run.Loom.Connector(l.Connector).IfLeftOff}’: {l.Contradicts}").ToImmutableArray() ?? [],
            papers?.Played,
            current?.Head.Id,
            current?.Run.LastEvent ?? 0,
            [.. (await packing.OfJobAsync(id, cancel)).Select(p => new PackingPhotoView(p.Key, p.TakenBy, p.TakenAt))],
            [.. (await packs.OfJobAsync(id, cancel)).Select(View)]));
    }

    private static async Task<Results<Created<PackView>, ProblemHttpResult>> SignAsync(
        long id, SignRequest request, ClaimsPrincipal user, JobStore jobs, RunLedger ledger, PackStore packs, PackMaker maker, TimeProvider clock, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        if (request.Changes.Length > 1000)
        {
            return Refusal.Field("/changes", "At most 1000 characters.");
        }

        if (await ledger.CurrentAsync(job, cancel) is not { } open)
        {
            return Refusal.Conflict("This revision of the loom has not been on the bench.");
        }

        var holds = string.Join(' ', open.Run.Holds.Select(h => h.Text));
        if (request.Seen != open.Run.LastEvent)
        {
            return Refusal.Conflict($"Something happened in this run since you looked. Nothing was signed. {(holds.Length > 0 ? $"Now it cannot be released: {holds}" : "Look at what is new, then sign.")}");
        }

        if (holds.Length > 0)
        {
            return Refusal.Conflict($"The loom cannot be released yet. {holds}");
        }

        return await maker.MakeAsync(job, open, request.Changes.Trim(), user.Hand(), clock.GetUtcNow(), cancel) is { } pack
            ? TypedResults.Created($"/api/packs/{pack}/html", View((await packs.FindAsync(pack, cancel))!))
            : Refusal.Conflict("Something happened while the pack was being printed: a reading, a fault, a newer loom, or another signature. Nothing was signed. Look at what is new, then sign again.");
    }

    /// <summary>The PDF as it was frozen, or the frozen pack printed anew on the paper that is asked for.</summary>
    private static async Task<IResult> PdfAsync(long id, string? paper, PackStore packs, PdfPrinter printer, CancellationToken cancel)
    {
        if (paper is null)
        {
            return Pdf(await packs.PdfAsync(id, cancel), id);
        }

        PackPaper? on = paper switch { "a4" => PackPaper.A4, "letter" => PackPaper.Letter, _ => null };
        if (on is null)
        {
            return Refusal.Field("/paper", "Packs are printed on a4 or letter.");
        }

        return await packs.FindAsync(id, cancel) is { } pack && await packs.HtmlAsync(id, cancel) is { } html
            ? Pdf(await printer.PrintAsync(PackHtml.Warned(html, Against(pack)), $"handover pack {pack.Version}, job {pack.JobId}", on.Value, cancel), id)
            : Refusal.NotFound("pack");
    }

    private static async Task<IResult> CsvAsync(long id, PackStore packs, CancellationToken cancel)
    {
        if (await packs.JsonAsync(id, cancel) is not { } json)
        {
            return Refusal.NotFound("pack");
        }

        using var pack = JsonDocument.Parse(json);
        return Results.File(Encoding.UTF8.GetBytes(PinTable.Of(pack.RootElement)), "text/csv; charset=utf-8", $"handover-pack-{id}-pins.csv");
    }

    private static async Task<Results<Ok<PackView>, ProblemHttpResult>> ShareAsync(long id, ClaimsPrincipal user, PackStore packs, LimitStore limits, CancellationToken cancel)
    {
        if (await packs.FindAsync(id, cancel) is null)
        {
            return Refusal.NotFound("pack");
        }

        var token = Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(32));
        await packs.ShareAsync(id, token, user.Id(), (await limits.LatestAsync(cancel)).Limits.ShareDays, cancel);
        return TypedResults.Ok(View((await packs.FindAsync(id, cancel))!) with { Share = $"/p/{token}" });
    }

    private static async Task<Results<Ok<PackView>, ProblemHttpResult>> RenewAsync(long id, PackStore packs, LimitStore limits, CancellationToken cancel)
    {
        if (await packs.FindAsync(id, cancel) is not { } pack)
        {
            return Refusal.NotFound("pack");
        }

        if (pack.SharedUntil is null)
        {
            return Refusal.Conflict("No link to this pack is open. Make one.");
        }

        await packs.RenewAsync(id, (await limits.LatestAsync(cancel)).Limits.ShareDays, cancel);
        return TypedResults.Ok(View((await packs.FindAsync(id, cancel))!));
    }

    private static async Task<Results<Ok<PackView>, ProblemHttpResult>> WithdrawAsync(long id, PackStore packs, CancellationToken cancel)
    {
        await packs.WithdrawAsync(id, cancel);
        return await packs.FindAsync(id, cancel) is { } pack ? TypedResults.Ok(View(pack)) : Refusal.NotFound("pack");
    }

    private static PackView View(PackEntry pack) =>
        new(pack.Id, pack.Version, pack.Changes, pack.SignedBy, pack.SignedAt, pack.HasPdf, null, pack.SharedUntil, pack.Hash, Against(pack));

    private static string? Against(PackEntry pack) => pack.Run is { } run ? JobStage.AgainstPack(run, pack.Newer) : null;

    private static async Task<IResult> PageAsync(HttpContext context, PackEntry? pack, PackStore packs, CancellationToken cancel)
    {
        if (pack is null || await packs.HtmlAsync(pack.Id, cancel) is not { } html)
        {
            return Refusal.NotFound("pack");
        }

        if (PackStore.Hash(html) != pack.Hash)
        {
            return Refusal.Conflict("This pack is not as it was signed: its hash differs. It is not shown. Whoever keeps the database has to look.");
        }

        context.Response.Headers.ContentSecurityPolicy = SafetyHeaders.PackPolicy;
        return Results.Content(PackHtml.Warned(html, Against(pack)), "text/html; charset=utf-8");
    }

    private static IResult Pdf(byte[]? pdf, long id) => pdf is null
        ? Refusal.NotFound("PDF of this pack")
        : Results.File(pdf, "application/pdf", $"handover-pack-{id}.pdf");
}
