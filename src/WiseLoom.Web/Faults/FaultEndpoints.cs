using System.Collections.Immutable;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;
using WiseLoom.Core.Shop;
using WiseLoom.Store;
using WiseLoom.Web.Bench;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Faults;

/// <summary>A supposed cause as the page shows it.</summary>
internal sealed record CauseView(Fault Fault, string Title, string Sentence, int Explains, int Of, int Against, ImmutableArray<string> Places);

/// <summary>A retest and where it stands.</summary>
internal sealed record RetestView(int Step, string Black, string? Red, StepState State);

/// <summary>A logged fault as the page shows it.</summary>
/// <param name="Suggested">What the readings say now, the best first.</param>
internal sealed record FaultView(
    long Id,
    int Number,
    int Step,
    string Black,
    string? Red,
    string Seen,
    FaultState State,
    string Title,
    string LoggedBy,
    DateTimeOffset LoggedAt,
    ImmutableArray<CauseView> Suggested,
    CauseFound? Cause,
    FixDone? Fix,
    string? FixedBy,
    ImmutableArray<RetestView> Retests);

internal sealed record HoldView(string Kind, string Text, ImmutableArray<int> Steps, int? Fault);

/// <param name="Practice">Whether the run's meter is on the network, so that "repair this" can be asked of it.</param>
internal sealed record FaultsView(long? RunId, bool Practice, ImmutableArray<FaultView> Faults, ImmutableArray<HoldView> Holds, ImmutableArray<string> Works);

internal sealed record LogRequest(Guid Key, int Step, string Seen);

internal sealed record CauseRequest(Guid Key, Fault? Fault, string Words);

internal sealed record FixRequest(Guid Key, string Did, IReadOnlyList<string> Places, double? Minutes, string? Parts, string? Note);

internal sealed record RepairRequest(IReadOnlyList<string> Places);

internal sealed record RepairView(int Repaired);

internal static class FaultEndpoints
{
    internal static void MapFaults(this RouteGroupBuilder api)
    {
        api.MapGet("/jobs/{id:long}/faults", ListAsync);
        api.MapGet("/runs/{id:long}/steps/{step:int}/causes", CausesAsync);
        api.MapPost("/runs/{id:long}/faults", LogAsync);
        api.MapPost("/faults/{id:long}/cause", CauseAsync);
        api.MapPost("/faults/{id:long}/fix", FixAsync);
        api.MapPost("/faults/{id:long}/repair", RepairAsync);
    }

    private static async Task<Results<Ok<FaultsView>, ProblemHttpResult>> ListAsync(long id, JobStore jobs, BenchLibrary library, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        if (job.RunId is not { } run || await library.FindAsync(run, cancel) is not { } bench || bench.Run.RevisionId != job.RevisionId)
        {
            return TypedResults.Ok(new FaultsView(null, false, [], [], FixWork.All));
        }

        return TypedResults.Ok(new FaultsView(
            bench.Run.Id,
            bench.Run.Meter.Host is not null,
            [.. bench.Faults.Select(f => View(f, bench))],
            [.. bench.Holds.Select(h => new HoldView(h.Kind, h.Text, h.Steps, h.Fault))],
            FixWork.All));
    }

    private static async Task<Results<Ok<ImmutableArray<CauseView>>, ProblemHttpResult>> CausesAsync(long id, int step, BenchLibrary library, CancellationToken cancel) =>
        await library.FindAsync(id, cancel) is { } bench && bench.Step(step) is not null
            ? TypedResults.Ok<ImmutableArray<CauseView>>([.. Rank(bench, step).Select(c => View(c, bench))])
            : Refusal.NotFound("step");

    private static async Task<Results<Ok<FaultView>, ProblemHttpResult>> LogAsync(
        long id, LogRequest request, ClaimsPrincipal user, FaultStore faults, BenchLibrary library, CancellationToken cancel)
    {
        if (await library.FindAsync(id, cancel) is not { } bench || bench.Step(request.Step) is null)
        {
            return Refusal.NotFound("step");
        }

        if (bench.State[request.Step] != StepState.Fail)
        {
            return Refusal.Conflict($"Step {request.Step} does not fail: a fault is logged from a failing step.");
        }

        var seen = request.Seen.Trim();
        if (seen.Length is 0 or > 1000)
        {
            return Refusal.Field("/seen", "Say what was seen, in 1 to 1000 characters.");
        }

        var reading = bench.Readings.LastOrDefault(r => r.Step == request.Step);
        var fault = await faults.AddAsync(id, request.Key, request.Step, seen, reading?.Key, Rank(bench, request.Step), user.Id(), cancel);
        return await FoundAsync(fault, id, library, cancel);
    }

    private static async Task<Results<Ok<FaultView>, ProblemHttpResult>> CauseAsync(
        long id, CauseRequest request, ClaimsPrincipal user, FaultStore faults, BenchLibrary library, CancellationToken cancel)
    {
        if (await faults.RunOfAsync(id, cancel) is not { } run)
        {
            return Refusal.NotFound("fault");
        }

        var words = request.Words.Trim();
        if (words.Length is 0 or > 400)
        {
            return Refusal.Field("/words", "Say what it turned out to be, in 1 to 400 characters.");
        }

        await faults.AddCauseAsync(id, request.Key, new(request.Fault, words), user.Id(), cancel);
        return await FoundAsync(id, run, library, cancel);
    }

    private static async Task<Results<Ok<FaultView>, ProblemHttpResult>> FixAsync(
        long id, FixRequest request, ClaimsPrincipal user, FaultStore faults, BenchLibrary library, CancellationToken cancel)
    {
        if (await faults.RunOfAsync(id, cancel) is not { } run || await library.FindAsync(run, cancel) is not { } bench)
        {
            return Refusal.NotFound("fault");
        }

        if (!FixWork.All.Contains(request.Did))
        {
            return Refusal.Field("/did", $"Write one of: {string.Join(", ", FixWork.All)}.");
        }

        if (request.Places.Count is 0 or > 200 || request.Places.FirstOrDefault(p => !IsPlace(bench, p)) is not null)
        {
            return Refusal.Field("/places", "Name the cavities, wires or splices that hands were on, as this loom calls them.");
        }

        if (request.Minutes is < 0 or > 10_000 || request.Parts?.Length > 400 || request.Note?.Length > 1000)
        {
            return Refusal.Field("/minutes", "Minutes lie between 0 and 10,000, parts hold at most 400 and a note 1000 characters.");
        }

        var fault = bench.Faults.Single(f => f.Id == id);
        var retests = Retest.Of(bench.Loom, bench.Run.Plan, [.. request.Places], [fault.Step]);
        await faults.AddFixAsync(id, request.Key, new(request.Did, [.. request.Places], request.Minutes, request.Parts, request.Note, retests), user.Id(), cancel);
        return await FoundAsync(id, run, library, cancel);
    }

    private static async Task<Results<Ok<RepairView>, ProblemHttpResult>> RepairAsync(
        long id, RepairRequest request, FaultStore faults, BenchLibrary library, MeterLine meters, CancellationToken cancel)
    {
        if (await faults.RunOfAsync(id, cancel) is not { } run || await library.FindAsync(run, cancel) is not { } bench)
        {
            return Refusal.NotFound("fault");
        }

        if (request.Places.Count is 0 or > 200 || request.Places.Any(p => !IsPlace(bench, p)))
        {
            return Refusal.Field("/places", "Name the cavities, wires or splices to repair, as this loom calls them.");
        }

        try
        {
            var repaired = 0;
            foreach (var place in request.Places)
            {
                repaired += await meters.RepairAsync(bench.Run.Meter, place, cancel);
            }

            return TypedResults.Ok(new RepairView(repaired));
        }
        catch (MeterException e)
        {
            return TypedResults.Problem(title: "The stand-in could not be asked.", detail: e.Message, statusCode: StatusCodes.Status502BadGateway);
        }
    }

    private static bool IsPlace(BenchNow bench, string place) => Core.Looms.ProbePoint.TryParse(place, out var point)
        ? bench.Loom.FindConnector(point.Connector)?.Family.HasCavity(point.Cavity) == true
        : bench.Loom.Wires.Any(w => w.Id == place) || bench.Loom.Splices.Any(s => s.Ref == place);

    private static async Task<Results<Ok<FaultView>, ProblemHttpResult>> FoundAsync(long fault, long run, BenchLibrary library, CancellationToken cancel)
    {
        var bench = (await library.FindAsync(run, cancel))!;
        return bench.Faults.FirstOrDefault(f => f.Id == fault) is { } found ? TypedResults.Ok(View(found, bench)) : Refusal.NotFound("fault");
    }

    private static ImmutableArray<Cause> Rank(BenchNow bench, int step)
    {
        var evidence = bench.Evidence();
        return evidence.ContainsKey(step) ? new FirstCause(bench.Loom, bench.Run.Plan).Rank(step, evidence) : [];
    }

    private static CauseView View(Cause cause, BenchNow bench) =>
        new(cause.Fault, Sentences.Title(bench.Loom, cause.Fault), cause.Sentence, cause.Explains, cause.Of, cause.Against, cause.Places);

    private static FaultView View(LoggedFault fault, BenchNow bench)
    {
        var step = bench.Step(fault.Step)!;
        var now = fault.Fix is null && bench.State[fault.Step] == StepState.Fail ? Rank(bench, fault.Step) : fault.Ranked;
        return new(
            fault.Id,
            fault.Number,
            fault.Step,
            step.Black.ToString(),
            step.Red?.ToString(),
            fault.Seen,
            fault.State(bench.State),
            fault.Title,
            fault.LoggedBy,
            fault.LoggedAt,
            [.. now.Select(c => View(c, bench))],
            fault.Cause,
            fault.Fix,
            fault.FixedBy,
            [.. (fault.Fix?.Retests ?? []).Select(n => bench.Step(n)!).Select(s => new RetestView(s.Number, s.Black.ToString(), s.Red?.ToString(), bench.State[s.Number]))]);
    }
}
