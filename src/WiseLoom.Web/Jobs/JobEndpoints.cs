using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Shop;
using WiseLoom.Core.Units;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Jobs;

/// <summary>A job as the list and the page's head show it.</summary>
internal sealed record JobView(
    long Id,
    string Customer,
    string Machine,
    string? Loom,
    string? Revision,
    long? RevisionId,
    long? RunId,
    Stage Stage,
    string StageText,
    string HeldBy,
    Guid? AssignedId,
    string? Assigned,
    string? WaitingFor,
    DateOnly? Promised,
    bool Late,
    string Language,
    int Version);

/// <summary>A page of jobs.</summary>
/// <param name="Next">Cursor of the next page; null at the end.</param>
internal sealed record JobPage(IReadOnlyList<JobView> Jobs, long? Next);

/// <summary>What can be said about a job by hand.</summary>
/// <param name="Language">Code of the language of its papers for the customer; null for as it is, English at first.</param>
internal sealed record JobRequest(string Customer, string Machine, DateOnly? Promised, Guid? AssignedId, string? WaitingFor, string? Language = null);

/// <summary>A language that papers for customers can be made in.</summary>
internal sealed record LanguageView(string Code, string Title);

internal static class JobEndpoints
{
    private const int PageSize = 50;

    internal static void MapJobs(this RouteGroupBuilder api)
    {
        api.MapGet("/jobs", ListAsync).WithSummary("Jobs, the newest first, page by page");
        api.MapGet("/languages", () => Language.All.Select(l => new LanguageView(l.Code, l.Title)).ToList()).WithSummary("Languages that papers for customers can be made in");
        api.MapGet("/jobs/{id:long}", GetAsync).WithSummary("A job");
        api.MapPost("/jobs", AddAsync).WithSummary("Make a job");
        api.MapPut("/jobs/{id:long}", ChangeAsync).WithSummary("Change what is said about a job");
    }

    private static async Task<JobPage> ListAsync(long? before, JobStore jobs, TimeProvider clock, CancellationToken cancel)
    {
        var rows = await jobs.ListAsync(before, PageSize + 1, cancel);
        var views = rows.Take(PageSize).Select(j => View(j, clock)).ToList();
        return new(views, rows.Count > PageSize ? views[^1].Id : null);
    }

    private static async Task<Results<Ok<JobView>, ProblemHttpResult>> GetAsync(
        long id, HttpContext context, JobStore jobs, TimeProvider clock, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        EntityVersion.Tell(context, job.Version);
        return TypedResults.Ok(View(job, clock));
    }

    private static async Task<Results<Created<JobView>, ProblemHttpResult>> AddAsync(
        JobRequest request, ClaimsPrincipal user, JobStore jobs, PeopleStore people, TimeProvider clock, CancellationToken cancel)
    {
        if (await CheckAsync(request, null, people, cancel) is { } refusal)
        {
            return refusal;
        }

        var id = await jobs.AddAsync(Fields(request), user.Id(), cancel);
        return TypedResults.Created($"/api/jobs/{id}", View((await jobs.FindAsync(id, cancel))!, clock));
    }

    private static async Task<Results<Ok<JobView>, ProblemHttpResult>> ChangeAsync(
        long id, JobRequest request, HttpContext context, JobStore jobs, PeopleStore people, TimeProvider clock, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        if (EntityVersion.Asked(context) is not { } version)
        {
            return EntityVersion.Missing("job");
        }

        if (await CheckAsync(request, job.Assigned, people, cancel) is { } refusal)
        {
            return refusal;
        }

        if (version != job.Version || !await jobs.UpdateAsync(id, version, Fields(request), cancel))
        {
            return EntityVersion.Overtaken("job", View((await jobs.FindAsync(id, cancel))!, clock));
        }

        var changed = (await jobs.FindAsync(id, cancel))!;
        EntityVersion.Tell(context, changed.Version);
        return TypedResults.Ok(View(changed, clock));
    }

    private static async Task<ProblemHttpResult?> CheckAsync(JobRequest request, Guid? had, PeopleStore people, CancellationToken cancel)
    {
        var problems = new List<Problem>();
        void Text(string at, string? text, int most, bool required)
        {
            if (required && string.IsNullOrWhiteSpace(text))
            {
                problems.Add(new(at, "Missing."));
            }
            else if (text is not null && (text.Length > most || text.Any(char.IsControl)))
            {
                problems.Add(new(at, $"At most {most} plain characters."));
            }
        }

        Text("/customer", request.Customer, 120, true);
        Text("/machine", request.Machine, 120, true);
        Text("/waitingFor", request.WaitingFor, 200, false);
        if (request.Language is { } language && Language.All.All(l => l.Code != language))
        {
            problems.Add(new("/language", $"Write one of {string.Join(", ", Language.All.Select(l => l.Code))}."));
        }

        if (request.AssignedId is { } id && id != had && await people.FindAsync(id, cancel) is not { MayWork: true })
        {
            problems.Add(new("/assignedId", "Nobody of the shop to whom work can be given has this number."));
        }

        return problems.Count > 0 ? Refusal.Because("The job cannot be stored like this.", problems) : null;
    }

    private static JobFields Fields(JobRequest r) =>
        new(r.Customer.Trim(), r.Machine.Trim(), r.Promised, r.AssignedId, string.IsNullOrWhiteSpace(r.WaitingFor) ? null : r.WaitingFor.Trim(), r.Language);

    private static JobView View(Job job, TimeProvider clock)
    {
        var stage = JobStage.Of(job.RevisionId is not null, job.Run, job.WaitingFor);
        return new(
            job.Id,
            job.Customer,
            job.Machine,
            job.LoomName,
            job.Revision,
            job.RevisionId,
            job.RunId,
            stage.Stage,
            stage.Text,
            stage.HeldBy,
            job.Assigned,
            job.AssignedName,
            job.WaitingFor,
            job.Promised,
            job.Promised < DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime) && stage.Stage != Stage.Released,
            job.Language,
            job.Version);
    }
}
