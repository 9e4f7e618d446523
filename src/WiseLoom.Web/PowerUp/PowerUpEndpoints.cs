using System.Collections.Immutable;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Shop;
using WiseLoom.Core.States;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;
using WiseLoom.Web.Runs;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.PowerUp;

/// <param name="School">Where it is done.</param>
/// <param name="Fitted">By ref of the device: what is at its plug, where that is not what the file says.</param>
internal sealed record BeginPowerUpRequest(Guid Key, string School, ImmutableSortedDictionary<string, Fitting> Fitted);

/// <param name="Check">Its id.</param>
/// <param name="Answer">What was seen; null for what the controller's line, or the engine behind a stand-in, says.</param>
/// <param name="Controller">Which controller is asked, by its name; null when none is.</param>
/// <param name="CautionsSeen">Whether the card's cautions were shown and read.</param>
/// <param name="Seen">Number of the last event that its person had seen.</param>
internal sealed record CheckAnswerRequest(Guid Key, string Check, Answer? Answer, string? Controller, string? Note, bool CautionsSeen, DateTimeOffset TakenAt, long Seen);

/// <param name="Standing">Where the check stands now.</param>
/// <param name="Counts">Whether it stands by this answer: not when something was mended before its person could know.</param>
internal sealed record CheckAnsweredView(CheckState Standing, string Said, bool Passed, string? Note, bool Counts, long LastEvent);

/// <param name="NotDone">Whether it was not done at all.</param>
/// <param name="Word">By whose word it was not done.</param>
internal sealed record PassStageRequest(Guid Key, int Stage, bool NotDone, string Reason, string Word);

/// <param name="State">Where the stage stands now.</param>
internal sealed record StagePassedView(StageState State, long LastEvent);

/// <summary>The power-up of a job's loom: its stages, what is answered, what is let pass.</summary>
internal static class PowerUpEndpoints
{
    internal static void MapPowerUp(this RouteGroupBuilder api)
    {
        api.MapGet("/jobs/{id:long}/power-up", ViewAsync).IsHeavy("Planning the power-up").WithSummary("The stages of a power-up, with what each check should show on this bench and where it stands");
        api.MapPost("/jobs/{id:long}/power-up", BeginAsync).IsHeavy("Planning the power-up").WithSummary("Begin a power-up, or say what is fitted now: what was answered stands where nothing else is expected");
        api.MapPost("/jobs/{id:long}/power-up/answers", AnswerAsync).WithSummary("Answer a check: what was seen, or what the controller says; once stored it stays");
        api.MapPost("/jobs/{id:long}/power-up/stages", PassAsync).WithSummary("Let a stage pass with a reason, or say by whose word it was not done: a lead decides, a technician proposes");
        api.MapGet("/jobs/{id:long}/power-up/minimum", MinimumAsync).IsHeavy("Searching the minimum to run").WithSummary("The fewest outside places to feed and to ground so that the engine runs");
    }

    /// <summary>The job's run with its plan; a refusal when there is none.</summary>
    internal static async Task<(OpenRun Open, PowerUpPlan Plan, PowerUpTemplate Template)?> PlannedAsync(long id, JobStore jobs, RunLedger ledger, LimitStore limits, PowerUpPlans plans, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job || await ledger.CurrentAsync(job, cancel) is not { } open || PowerUpPlan.Refused(open.Run.Loom, BenchFit.AsDrawn) is not null)
        {
            return null;
        }

        var template = (await limits.LatestAsync(cancel)).Limits.PowerUp;
        var loom = open.Run.Loom;
        return (open, open.Run.PowerUp is { } record ? plans.Of(open.Head.RevisionId, loom, record.Terms) : plans.Of(open.Head.RevisionId, loom, BenchFit.AsDrawn, loom.AmbientC, BenchFile.FindSchool(template.School) ?? School.Bench), template);
    }

    private static async Task<Results<Ok<PowerUpView>, ProblemHttpResult>> ViewAsync(long id, JobStore jobs, RunLedger ledger, LimitStore limits, PowerUpPlans plans, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        if (await PlannedAsync(id, jobs, ledger, limits, plans, cancel) is { } planned)
        {
            return TypedResults.Ok(PowerUpView.Of(planned.Open, planned.Plan, planned.Template));
        }

        var template = (await limits.LatestAsync(cancel)).Limits.PowerUp;
        return TypedResults.Ok(PowerUpView.None(
            await ledger.CurrentAsync(job, cancel) is { } open ? PowerUpPlan.Refused(open.Run.Loom, BenchFit.AsDrawn) ?? "" : "This loom has not been on the bench: a loom is measured bare before it has power.", template));
    }

    private static async Task<Results<Ok<PowerUpView>, ProblemHttpResult>> BeginAsync(
        long id, BeginPowerUpRequest request, ClaimsPrincipal user, JobStore jobs, RunLedger ledger, LimitStore limits, PowerUpPlans plans, TimeProvider clock, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job || await ledger.CurrentAsync(job, cancel) is not { } open)
        {
            return Refusal.NotFound("job with a run");
        }

        if (BenchFile.FindSchool(request.School) is not { } school)
        {
            return Refusal.Field("/school", $"Write one of {string.Join(", ", BenchFile.Schools)}.");
        }

        var fit = new BenchFit(request.Fitted);
        var loom = open.Run.Loom;
        if (fit.Problems(loom) is { IsEmpty: false } problems)
        {
            return Refusal.Because("This bench cannot be as it is said.", problems);
        }

        if (WorkLimit.TooManyWires(loom, WorkLimit.MostPowered) is { } large)
        {
            return Refusal.TooLarge(large);
        }

        var template = (await limits.LatestAsync(cancel)).Limits.PowerUp;
        var plan = plans.Of(open.Head.RevisionId, loom, fit, loom.AmbientC, school);
        // What the shop asks for stays asked for, whatever is fitted and wherever it is done.
        School?[] schools = [template.Required.IsEmpty ? null : BenchFile.FindSchool(template.School), BenchFile.FindSchool(open.Run.PowerUp?.Terms.AskedSchool ?? "")];
        var required = template.Required.Concat(open.Run.PowerUp?.Terms.Required ?? []).Distinct().Order().ToImmutableArray();
        var terms = PlannedPowerUp.Terms(plan, loom.AmbientC, required, template.SecondsDry, schools.Max());
        var (answer, after) = (await ledger.AskAsync(open.Head.Id, new Ask(request.Key, user.Hand(), clock.GetUtcNow(), run => run.BeginPowerUp(request.Key, terms)), cancel))!.Value;
        return Refusal.Of(answer.Decision) is { } refusal ? refusal : TypedResults.Ok(PowerUpView.Of(after, plans.Of(open.Head.RevisionId, loom, after.Run.PowerUp!.Terms), template));
    }

    private static async Task<Results<Ok<CheckAnsweredView>, ProblemHttpResult>> AnswerAsync(
        long id, CheckAnswerRequest request, ClaimsPrincipal user, JobStore jobs, RunLedger ledger, LimitStore limits, PowerUpPlans plans, InstrumentNetworks networks, TimeProvider clock, CancellationToken cancel)
    {
        if (await PlannedAsync(id, jobs, ledger, limits, plans, cancel) is not { } planned)
        {
            return Refusal.NotFound("power-up");
        }

        if (planned.Plan.Checks.FirstOrDefault(c => c.Id == request.Check) is not { } check)
        {
            return Refusal.Field("/check", "This power-up has no such check; what is fitted may have changed meanwhile.");
        }

        if (request.TakenAt > clock.GetUtcNow().AddHours(24) || request.TakenAt < clock.GetUtcNow().AddYears(-1))
        {
            return Refusal.Field("/takenAt", "The time lies in the future or more than a year back: check the clock.");
        }

        // Whoever asks the controller has a part driven: never for a stage that is locked, whatever comes of the answer.
        if (request.Answer is null && Locked(planned.Open.Run, check) is { } locked)
        {
            return Refusal.Conflict(locked);
        }

        var (run, loom) = (planned.Open.Run, planned.Plan.Fit.On(planned.Open.Run.Loom));
        var (given, findings, besides) = (request.Answer, request.Note, ImmutableArray<Core.Sightings.Sighting>.Empty);
        if (given is null)
        {
            var said = await ControllerDesk.DoAsync(networks, planned.Template, request.Controller, run.Loom, planned.Plan, loom.AmbientC, check, cancel);
            if (said.Wrong is { } trouble)
            {
                return Refusal.Conflict(trouble, "urn:wise-loom:controller");
            }

            (given, besides) = (said.Answer!, said.Besides);
            findings = string.Join(' ', said.Findings.Concat(request.Note is { Length: > 0 } note ? [note] : []));
        }

        var (judged, wrong) = JudgedAnswer.Of(loom, check, given);
        if (judged is null)
        {
            return Refusal.Field("/answer", wrong!);
        }

        var answered = PlannedPowerUp.Answered(loom, run.Loom.AmbientC, check, judged, besides, findings, request.CautionsSeen, request.Seen);
        var (answer, after) = (await ledger.AskAsync(planned.Open.Head.Id, new Ask(request.Key, user.Hand(), request.TakenAt, r => r.Answer(request.Key, answered)), cancel))!.Value;
        if (Refusal.Of(answer.Decision) is { } refusal)
        {
            return refusal;
        }

        var stands = after.Run.PowerUp![check.Id];
        return TypedResults.Ok(new CheckAnsweredView(stands.State, judged.Said, judged.Passed, answered.Note, stands.Answer?.Key == request.Key, after.Run.LastEvent));
    }

    private static async Task<Results<Ok<StagePassedView>, ProblemHttpResult>> PassAsync(long id, PassStageRequest request, ClaimsPrincipal user, JobStore jobs, RunLedger ledger, TimeProvider clock, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job || await ledger.CurrentAsync(job, cancel) is not { } open)
        {
            return Refusal.NotFound("job with a run");
        }

        var pass = new StagePassed(request.Stage, request.NotDone, request.Reason, request.Word);
        var lead = user.IsInRole(Role.Lead);
        var (answer, after) = (await ledger.AskAsync(open.Head.Id, new Ask(request.Key, user.Hand(), clock.GetUtcNow(), run => run.PassStage(request.Key, pass, lead)), cancel))!.Value;
        return Refusal.Of(answer.Decision) is { } refusal ? refusal : TypedResults.Ok(new StagePassedView(after.Run.PowerUp!.StateOf(request.Stage), after.Run.LastEvent));
    }

    /// <summary>Why nothing is driven for a check: its stage is locked. Null when it is open.</summary>
    internal static string? Locked(BenchRun run, PowerUpCheck check) => run.PowerUp?.StateOf(check.Stage) is StageState.Open or StageState.Passed or StageState.Waived ? null
        : $"Stage {check.Stage} is locked: nothing is driven before the stages before it have passed, or a lead let them pass.";

    private static async Task<Results<Ok<MinimumView>, ProblemHttpResult>> MinimumAsync(long id, JobStore jobs, RunLedger ledger, LimitStore limits, PowerUpPlans plans, CancellationToken cancel) =>
        await PlannedAsync(id, jobs, ledger, limits, plans, cancel) is { } planned
            ? TypedResults.Ok(MinimumView.Of(plans.Minimum(planned.Open.Head.RevisionId, planned.Open.Run.Loom, planned.Plan.Fit)))
            : Refusal.NotFound("power-up");
}
