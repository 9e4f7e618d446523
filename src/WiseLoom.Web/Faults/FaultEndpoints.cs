using System.Collections.Immutable;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Shop;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Meters;
using WiseLoom.Web.People;
using WiseLoom.Web.Runs;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Faults;

internal sealed record LogRequest(Guid Key, int Step, string Seen);

internal sealed record CauseRequest(Guid Key, IReadOnlyList<Fault> Faults, string Words);

internal sealed record FixRequest(Guid Key, string Did, IReadOnlyList<string> Places, double? Minutes, string? Parts, string? Note);

internal sealed record RepairRequest(IReadOnlyList<string> Places);

internal sealed record RepairView(int Repaired);

internal static class FaultEndpoints
{
    internal static void MapFaults(this RouteGroupBuilder api)
    {
        api.MapGet("/jobs/{id:long}/faults", ListAsync).IsHeavy("Ranking causes").WithSummary("The faults of a job's current run, and what holds the loom");
        api.MapGet("/runs/{id:long}/steps/{step:int}/causes", CausesAsync).IsHeavy("Ranking causes").WithSummary("What would explain a failing step, the best first");
        api.MapPost("/runs/{id:long}/faults", LogAsync).IsHeavy("Ranking causes").WithSummary("Log a fault from a failing step");
        api.MapPost("/runs/{id:long}/faults/{fault:int}/cause", CauseAsync).IsHeavy("Keeping the cause").WithSummary("Say what a fault turned out to be");
        api.MapPost("/runs/{id:long}/faults/{fault:int}/fix", FixAsync).IsHeavy("Keeping the fix").WithSummary("Say what was done about a fault");
        api.MapPost("/runs/{id:long}/repair", RepairAsync).WithSummary("In practice: have the stand-in put right what is wrong at some places");
    }

    private static async Task<Results<Ok<FaultsView>, ProblemHttpResult>> ListAsync(long id, JobStore jobs, RunLedger ledger, DiagnosisCache diagnoses, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        return TypedResults.Ok(await ledger.CurrentAsync(job, cancel) is { } open ? FaultsView.Of(open, await diagnoses.OfAsync(open.Head.Id, open.Run, cancel), cancel) : new FaultsView(null, false, 0, [], 0, [], [], FixWork.ByHand));
    }

    private static async Task<Results<Ok<ImmutableArray<CauseView>>, ProblemHttpResult>> CausesAsync(long id, int step, RunLedger ledger, DiagnosisCache diagnoses, CancellationToken cancel) =>
        await ledger.FindAsync(id, cancel) is { Run: { } run } && run.Plan.Step(step) is not null
            ? TypedResults.Ok<ImmutableArray<CauseView>>([.. ((await diagnoses.OfAsync(id, run, cancel)).CaseOf(step)?.Causes ?? []).Select(c => CauseView.Of(c, run))])
            : Refusal.NotFound("step");

    private static async Task<Results<Ok<FaultView>, ProblemHttpResult>> LogAsync(
        long id, LogRequest request, ClaimsPrincipal user, RunLedger ledger, DiagnosisCache diagnoses, TimeProvider clock, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open)
        {
            return Refusal.NotFound("run");
        }

        // Ranked before it is this run's turn: nobody's reading waits for it.
        var ranked = request.Step != 0 && open.Run.Plan.Step(request.Step) is null ? [] : (await diagnoses.OfAsync(id, open.Run, cancel)).CaseOf(request.Step)?.Causes ?? [];
        return await AnswerAsync(id, new(request.Key, user.Hand(), clock.GetUtcNow(), run => run.LogFault(request.Key, request.Step, request.Seen, ranked)), null, ledger, cancel);
    }

    private static Task<Results<Ok<FaultView>, ProblemHttpResult>> CauseAsync(
        long id, int fault, CauseRequest request, ClaimsPrincipal user, RunLedger ledger, TimeProvider clock, CancellationToken cancel) =>
        AnswerAsync(id, new(request.Key, user.Hand(), clock.GetUtcNow(), run => run.NameCause(request.Key, fault, new([.. request.Faults], request.Words))), fault, ledger, cancel);

    private static Task<Results<Ok<FaultView>, ProblemHttpResult>> FixAsync(
        long id, int fault, FixRequest request, ClaimsPrincipal user, RunLedger ledger, TimeProvider clock, CancellationToken cancel) =>
        AnswerAsync(
            id,
            new(request.Key, user.Hand(), clock.GetUtcNow(), run => run.Mend(request.Key, fault, new(request.Did, [.. request.Places], request.Minutes, request.Parts, request.Note, []))),
            fault,
            ledger,
            cancel);

    private static async Task<Results<Ok<RepairView>, ProblemHttpResult>> RepairAsync(
        long id, RepairRequest request, RunLedger ledger, MeterQueue meters, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open)
        {
            return Refusal.NotFound("run");
        }

        if (request.Places.Count is 0 or > 200 || request.Places.Any(p => !open.Run.IsPlace(p)))
        {
            return Refusal.Field("/places", "Name the cavities, wires or splices to repair, as this loom calls them.");
        }

        try
        {
            var repaired = 0;
            foreach (var place in request.Places)
            {
                repaired += await meters.RepairAsync(open.Head.Meter, place, cancel);
            }

            return TypedResults.Ok(new RepairView(repaired));
        }
        catch (MeterException e)
        {
            return TypedResults.Problem(title: "The stand-in could not be asked.", detail: e.Message, statusCode: StatusCodes.Status503ServiceUnavailable);
        }
    }

    /// <summary>Asks a run about one of its faults and answers with the fault as it stands then.</summary>
    /// <param name="fault">Its number; null for the one that is logged by this.</param>
    private static async Task<Results<Ok<FaultView>, ProblemHttpResult>> AnswerAsync(long id, Ask ask, int? fault, RunLedger ledger, CancellationToken cancel)
    {
        if (await ledger.AskAsync(id, ask, cancel) is not { } done || (fault is { } asked && done.Open.Run.Fault(asked) is null))
        {
            return Refusal.NotFound(fault is null ? "run" : "fault");
        }

        if (Refusal.Of(done.Answer.Decision) is { } refusal)
        {
            return refusal;
        }

        var number = fault ?? await NumberAsync(id, done.Answer, ledger, cancel);
        return TypedResults.Ok(FaultView.Of(done.Open.Run.Fault(number)!, done.Open.Run, null));
    }

    private static async Task<int> NumberAsync(long id, Answered answer, RunLedger ledger, CancellationToken cancel) =>
        ((FaultLogged)(answer.Event ?? (await ledger.EventAsync(id, ((Decision.Already)answer.Decision).Number, cancel))!).What).Fault;
}
