using System.Buffers.Text;
using System.Collections.Immutable;
using System.Globalization;
using System.Net;
using System.Security.Claims;
using System.Security.Cryptography;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Shop;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Looms;
using WiseLoom.Web.People;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Handover;

/// <summary>Something that a customer said.</summary>
/// <param name="Old">Whether it was said of an earlier revision of the loom.</param>
internal sealed record ReviewWordView(string Kind, string Name, string Subject, string Words, DateTimeOffset At, bool Old);

/// <param name="Choices">What may be chosen; none for free words.</param>
internal sealed record QuestionView(long Id, string Asks, IReadOnlyList<string> Choices, string AskedBy);

/// <summary>What customers are asked of a job, and what they said.</summary>
/// <param name="OpenUntil">When the link expires; null when none is out.</param>
/// <param name="ChangedSinceGo">Whether a go was said and the loom is another since.</param>
internal sealed record ReviewView(DateTimeOffset? OpenUntil, ImmutableArray<QuestionView> Questions, ImmutableArray<ReviewWordView> Said, bool ChangedSinceGo);

/// <param name="Link">Path of the link; shown now and never again, since only its hash is kept.</param>
internal sealed record ReviewLinkView(string Link);

/// <param name="Choices">At most 8, of at most 200 characters.</param>
internal sealed record AskRequest(Guid Key, string Asks, IReadOnlyList<string> Choices);

/// <summary>Reviews before boxing: the shop's side, and the customer's page behind a link without an account.</summary>
internal static class ReviewEndpoints
{
    /// <summary>A review's page has forms that go nowhere but back, and no script.</summary>
    private const string PagePolicy = "default-src 'none'; style-src 'unsafe-inline'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

    internal static void MapReviews(this RouteGroupBuilder api)
    {
        api.MapGet("/jobs/{id:long}/review", ViewAsync).WithSummary("What the customer is asked, and what they said through a review link");
        api.MapPost("/jobs/{id:long}/review", OpenAsync).RequireAuthorization(Role.Lead).WithSummary("Open a review link, in place of the one that was out; a lead's");
        api.MapDelete("/jobs/{id:long}/review", WithdrawAsync).RequireAuthorization(Role.Lead).WithSummary("Withdraw the review link; a lead's");
        api.MapPost("/jobs/{id:long}/questions", AskAsync).WithSummary("Ask the customer something, with the choices that there are");
    }

    /// <summary>The customer's pages: the link itself is what lets one speak, and no session is there that another site could speak for.</summary>
    internal static void MapCustomersPages(this WebApplication app)
    {
        app.MapGet("/r/{token}", PageAsync).AllowAnonymous().ExcludeFromDescription();
        app.MapPost("/r/{token}", SayAsync).AllowAnonymous().DisableAntiforgery().WithMetadata(new LinkSpeaks()).ExcludeFromDescription();
        app.MapGet("/r/{token}/pack", DraftAsync).AllowAnonymous().ExcludeFromDescription();
    }

    private static async Task<Results<Ok<ReviewView>, ProblemHttpResult>> ViewAsync(long id, JobStore jobs, ReviewStore reviews, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        var said = await reviews.SaidAsync(id, cancel);
        return TypedResults.Ok(new ReviewView(
            (await reviews.OfJobAsync(id, cancel))?.ExpiresAt,
            [.. (await reviews.QuestionsAsync(id, cancel)).Select(q => new QuestionView(q.Id, q.Asks, q.Choices, q.AskedBy))],
            [.. said.Select(s => new ReviewWordView(s.Word.Kind, s.Word.Name, s.Word.Subject, s.Word.Words, s.SaidAt, s.RevisionId != job.RevisionId))],
            said.Exists(s => s.Word.Kind == "go") && said.Where(s => s.Word.Kind == "go").All(s => s.RevisionId != job.RevisionId)));
    }

    private static async Task<Results<Ok<ReviewLinkView>, ProblemHttpResult>> OpenAsync(long id, ClaimsPrincipal user, JobStore jobs, ReviewStore reviews, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        if (job.RevisionId is null)
        {
            return Refusal.Conflict("The job has no loom yet: there is no draft to read.");
        }

        var token = Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(32));
        await reviews.OpenAsync(id, token, user.Id(), cancel);
        return TypedResults.Ok(new ReviewLinkView($"/r/{token}"));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> WithdrawAsync(long id, JobStore jobs, ReviewStore reviews, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is null)
        {
            return Refusal.NotFound("job");
        }

        await reviews.WithdrawAsync(id, cancel);
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> AskAsync(long id, AskRequest request, ClaimsPrincipal user, JobStore jobs, ReviewStore reviews, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is null)
        {
            return Refusal.NotFound("job");
        }

        if (request.Key == Guid.Empty)
        {
            return Refusal.Field("/key", "Give each question a key of its own.");
        }

        if (request.Asks.Trim().Length is 0 or > 500)
        {
            return Refusal.Field("/asks", "A question has 1 to 500 characters.");
        }

        if (request.Choices.Count > 8 || request.Choices.Any(c => c.Trim().Length is 0 or > 200))
        {
            return Refusal.Field("/choices", "At most 8 choices, of 1 to 200 characters each; say in each what it changes.");
        }

        if ((await reviews.QuestionsAsync(id, cancel)).Count >= 100)
        {
            return Refusal.Conflict("A job has at most 100 questions.");
        }

        await reviews.AskAsync(id, request.Key, request.Asks.Trim(), [.. request.Choices.Select(c => c.Trim())], user.Id(), cancel);
        return TypedResults.NoContent();
    }

    private static async Task<IResult> PageAsync(string token, HttpContext context, ReviewStore reviews, JobStore jobs, LoomLibrary looms, CancellationToken cancel) =>
        await FindAsync(token, reviews, jobs, looms, cancel) is { } found ? await ShownAsync(context, token, found, reviews, [], HttpStatusCode.OK, cancel) : Gone(context);

    private static async Task<IResult> SayAsync(string token, HttpContext context, ReviewStore reviews, JobStore jobs, LoomLibrary looms, CancellationToken cancel)
    {
        if (await FindAsync(token, reviews, jobs, looms, cancel) is not { } found)
        {
            return Gone(context);
        }

        if (!context.Request.HasFormContentType || context.Request.ContentLength is null or > 20_000)
        {
            return await ShownAsync(context, token, found, reviews, ["This was not understood, or is too long.", "Nothing was kept."], HttpStatusCode.BadRequest, cancel);
        }

        if (await FormBody.ReadAsync(context, cancel) is not { } form)
        {
            return await ShownAsync(context, token, found, reviews, ["This was not understood: it is no form as this page sends it.", "Nothing was kept."], HttpStatusCode.BadRequest, cancel);
        }

        string Field(string name) => form[name].ToString().ReplaceLineEndings("\n").Trim();
        var words = Field("words");
        var word = new ReviewWord(Field("kind"), Field("name"), Field("subject"), Field("choice") is { Length: > 0 } choice ? words.Length > 0 ? $"{choice}. {words}" : choice : words);
        var questions = (await reviews.QuestionsAsync(found.Job.Id, cancel)).Select(q => q.Id.ToString(CultureInfo.InvariantCulture)).ToList();
        if ((Guid.TryParse(form["key"], out var key) && key != Guid.Empty ? word.Wrong(questions, [.. found.Loom.Connectors.Select(c => c.Ref)]) : "The page is too old: open it again.") is { } wrong)
        {
            return await ShownAsync(context, token, found, reviews, [wrong, "Nothing was kept."], HttpStatusCode.UnprocessableEntity, cancel);
        }

        return await reviews.SayAsync(found.Review.Id, key, word, found.Job.RevisionId!.Value, cancel) switch
        {
            WordStored.Closed => Gone(context),
            WordStored.KeyUsed => await ShownAsync(context, token, found, reviews, ["This page has said something else already: open it again, and say it then."], HttpStatusCode.Conflict, cancel),
            WordStored.TooMuch => await ShownAsync(context, token, found, reviews, ["That is very much at once. Wait a minute, then say it again.", "Nothing was kept."], HttpStatusCode.TooManyRequests, cancel),
            _ => Results.Redirect($"/r/{token}?said={word.Kind}"),
        };
    }

    private static async Task<IResult> DraftAsync(string token, HttpContext context, ReviewStore reviews, JobStore jobs, LoomLibrary looms, RunLedger ledger, PaperShelf shelf, PackDrafter drafter, TimeProvider clock, CancellationToken cancel)
    {
        if (await FindAsync(token, reviews, jobs, looms, cancel) is not { } found)
        {
            return Gone(context);
        }

        if (await ledger.CurrentAsync(found.Job, cancel) is not { } open)
        {
            return Results.Content(Plain("This loom has not been on the bench yet: its draft is there when it is."), "text/html; charset=utf-8");
        }

        var html = await shelf.DraftAsync(await drafter.StandsAtAsync(found.Job, open, cancel), open.Run.Loom, async () =>
            PackHtml.Render(await drafter.DraftAsync(found.Job, open, "", "nobody yet: this is a draft", clock.GetUtcNow(), CancellationToken.None), open.Run.Loom));
        Guard(context, SafetyHeaders.PackPolicy);
        return Results.Content(html, "text/html; charset=utf-8");
    }

    private sealed record Found(Review Review, Job Job, Loom Loom);

    private static async Task<Found?> FindAsync(string token, ReviewStore reviews, JobStore jobs, LoomLibrary looms, CancellationToken cancel) =>
        token.Length == 43 && await reviews.ByTokenAsync(token, cancel) is { } review && await jobs.FindAsync(review.JobId, cancel) is { RevisionId: { } revision } job && await looms.FindAsync(revision, cancel) is { } loom
            ? new(review, job, loom) : null;

    private static async Task<IResult> ShownAsync(HttpContext context, string token, Found found, ReviewStore reviews, ImmutableArray<string> told, HttpStatusCode status, CancellationToken cancel)
    {
        var said = await reviews.SaidAsync(found.Job.Id, cancel);
        ReviewLine Line(ReviewSaid s) => new(s.Word.Name, s.Word.Subject, s.Word.Words, s.SaidAt, s.RevisionId != found.Job.RevisionId);
        ImmutableArray<string> kept = context.Request.Query["said"].ToString() switch { "go" => ["Your go is kept. Thank you."], "answer" => ["Your answer is kept. Thank you."], "comment" => ["Your comment is kept. Thank you."], _ => [] };
        Guard(context, PagePolicy);
        return Results.Content(
            ReviewHtml.Render(
                found.Loom, found.Job.Machine, $"/r/{token}",
                [.. (await reviews.QuestionsAsync(found.Job.Id, cancel)).Select(q => new ReviewQuestion(q.Id, q.Asks, [.. q.Choices], [.. said.Where(s => s.Word.Kind == "answer" && s.Word.Subject == q.Id.ToString(CultureInfo.InvariantCulture)).Select(Line)]))],
                [.. said.Where(s => s.Word.Kind == "comment").Select(Line)], [.. said.Where(s => s.Word.Kind == "go").Select(Line)], told.IsEmpty ? kept : told, Language.Of(found.Job.Language)),
            "text/html; charset=utf-8", statusCode: (int)status);
    }

    private static IResult Gone(HttpContext context)
    {
        Guard(context, PagePolicy);
        return Results.Content(Plain("This link leads nowhere: it was withdrawn, it has expired, or it was copied wrong. Ask the shop for another."), "text/html; charset=utf-8", statusCode: StatusCodes.Status404NotFound);
    }

    private static void Guard(HttpContext context, string policy)
    {
        context.Response.Headers.ContentSecurityPolicy = policy;
        context.Response.Headers.CacheControl = "no-store";
        context.Response.Headers["X-Robots-Tag"] = "noindex";
    }

    private static string Plain(string words) => $"<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" content=\"width=device-width\"><title>Review</title></head><body><p>{WebUtility.HtmlEncode(words)}</p></body></html>";
}
