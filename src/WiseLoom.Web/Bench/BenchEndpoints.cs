using System.Collections.Immutable;
using System.Diagnostics.CodeAnalysis;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Shop;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Looms;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Bench;

/// <param name="CarryOver">Whether what an earlier revision's run proved, and the rework did not touch, counts as proven.</param>
/// <param name="LampWatts">Power of the lamp for tests under load; null when it is none.</param>
/// <param name="ResistorOhms">The resistor for them; null when it is none.</param>
internal sealed record StartRequest(long MeterId, Isolation Isolation, bool CarryOver, double? LampWatts = null, double? ResistorOhms = null);

/// <summary>A reading as the page sends it: a number in the unit of its step, or <paramref name="OverRange"/> is true.</summary>
/// <param name="Key">Made by the page, UUIDv7; sending it twice changes nothing.</param>
/// <param name="Ohms">For all steps but those under load.</param>
/// <param name="Volts">The drop, for a step under load.</param>
internal sealed record ReadingRequest(Guid Key, int Step, double? Ohms, bool OverRange, bool FromMeter, DateTimeOffset TakenAt, double? Volts = null);

internal sealed record ReadingsRequest(IReadOnlyList<ReadingRequest> Readings);

/// <summary>A reading that is stored now, or was before.</summary>
internal sealed record StoredView(Guid Key, int Step, StepState State, ReadingView Reading);

/// <summary>A reading that can never be stored, and why.</summary>
internal sealed record RefusedView(Guid Key, string Message);

internal sealed record ReadingsAnswer(ImmutableArray<StoredView> Stored, ImmutableArray<RefusedView> Refused, ProgressView Progress);

internal sealed record MeasureRequest(int Step);

internal sealed record MeasuredView(double? Ohms, bool OverRange);

internal sealed record SkipRequest(Guid Key, int Step, string Reason);

internal sealed record PositionRequest(int Step);

/// <summary>One part of what a step should read.</summary>
internal sealed record PartView(string Wire, string From, string To, string Section, double LengthMm, string Own, string Share, string Adds);

/// <param name="LoadTest">How to test the pair under load, where this meter would miss a poor joint; null where it need not be.</param>
internal sealed record ReasonView(string Sentence, ImmutableArray<PartView> Parts, string? LoadTest);

internal static class BenchEndpoints
{
    private const int LargestBatch = 500;

    internal static void MapBench(this RouteGroupBuilder api)
    {
        api.MapGet("/jobs/{id:long}/bench", BenchAsync);
        api.MapPost("/jobs/{id:long}/runs", StartAsync);
        api.MapGet("/jobs/{id:long}/plan", PlanAsync);
        api.MapPost("/runs/{id:long}/readings", TakeAsync);
        api.MapPost("/runs/{id:long}/measure", MeasureAsync);
        api.MapPost("/runs/{id:long}/skips", SkipAsync);
        api.MapPut("/runs/{id:long}/position", StandAsync);
        api.MapGet("/runs/{id:long}/steps/{step:int}/reason", ReasonAsync);
    }

    private static async Task<Results<Ok<BenchView>, ProblemHttpResult>> BenchAsync(
        long id, ClaimsPrincipal user, JobStore jobs, BenchLibrary library, RunStore runs, MeterStore meters, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        var bench = job.RunId is { } run ? await library.FindAsync(run, cancel) : null;
        var current = bench is not null && bench.Run.RevisionId == job.RevisionId
            ? RunView.Of(bench, await runs.PositionAsync(bench.Run.Id, user.Id(), cancel))
            : null;
        return TypedResults.Ok(new BenchView(current, [.. (await meters.AllAsync(cancel)).Select(MeterView.Of)], Care.BeforeBench, Care.BeforeLoad));
    }

    private static async Task<Results<Created<RunView>, ProblemHttpResult>> StartAsync(
        long id, StartRequest request, ClaimsPrincipal user, JobStore jobs, LoomLibrary looms, RunStore runs, MeterStore meters, BenchLibrary library, CarryOver carry, LimitStore limits, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        if (job.RevisionId is not { } revision || await looms.FindAsync(revision, cancel) is not { } loom)
        {
            return Refusal.Conflict("This job has no loom yet. Import its loom file first.");
        }

        if (await meters.FindAsync(request.MeterId, cancel) is not { } meter)
        {
            return Refusal.Field("/meterId", "The shop has no meter with this number.");
        }

        if (!TryLoad(loom, request.LampWatts, request.ResistorOhms, out var load, out var wrong))
        {
            return wrong;
        }

        var plan = Planner.Plan(loom, meter.Describe(), request.Isolation, load: load, copper: (await limits.LatestAsync(cancel)).Limits.Copper);
        if (plan.Steps.IsEmpty)
        {
            return Refusal.Conflict("This loom has no wire between two places that a probe can touch: there is nothing to measure.");
        }

        var proof = request.CarryOver ? await carry.ForAsync(id, revision, loom, plan, cancel) : null;
        var run = await runs.StartAsync(id, revision, meter.Id, plan, user.Id(), cancel);
        if (proof is not null)
        {
            await runs.CarryAsync(run, proof.Steps, cancel);
        }

        return TypedResults.Created($"/api/jobs/{id}/bench", RunView.Of((await library.FindAsync(run, cancel))!, 0));
    }

    /// <summary>What a run started now would be: how long, what its meter cannot see, and what it would carry over.</summary>
    private static async Task<Results<Ok<PlanView>, ProblemHttpResult>> PlanAsync(
        long id, long meterId, string isolation, double? lampWatts, double? resistorOhms, JobStore jobs, LoomLibrary looms, MeterStore meters, CarryOver carry, LimitStore limits, CancellationToken cancel)
    {
        if (!Enum.TryParse<Isolation>(isolation, ignoreCase: true, out var way))
        {
            return Refusal.Field("/isolation", "Write thorough or neighbours.");
        }

        if (await jobs.FindAsync(id, cancel) is not { RevisionId: { } revision } || await looms.FindAsync(revision, cancel) is not { } loom || await meters.FindAsync(meterId, cancel) is not { } meter)
        {
            return Refusal.NotFound("job with a loom, or meter");
        }

        if (!TryLoad(loom, lampWatts, resistorOhms, out var load, out var wrong))
        {
            return wrong;
        }

        var plan = Planner.Plan(loom, meter.Describe(), way, load: load, copper: (await limits.LatestAsync(cancel)).Limits.Copper);
        return TypedResults.Ok(PlanView.Of(plan, await carry.ForAsync(id, revision, loom, plan, cancel)));
    }

    /// <summary>What load tests are to be made with.</summary>
    private static bool TryLoad(Loom loom, double? lampWatts, double? resistorOhms, out LoadInHand? load, [NotNullWhen(false)] out ProblemHttpResult? wrong)
    {
        (load, wrong) = (null, (lampWatts, resistorOhms) switch
        {
            (not null, not null) => Refusal.Field("/resistorOhms", "Either a lamp or a resistor, not both."),
            ({ } watts, _) when !(watts is >= 2 and <= 100) => Refusal.Field("/lampWatts", "A lamp for load tests has 2 to 100 W."),
            (_, { } ohms) when !(ohms is >= 1 and <= 1000) => Refusal.Field("/resistorOhms", "A resistor for load tests has 1 to 1,000 Ω."),
            _ => null,
        });
        if (wrong is null)
        {
            load = lampWatts is { } watts ? LoadInHand.Lamp(watts, loom.SupplyVolts) : resistorOhms is { } ohms ? LoadInHand.Resistor(ohms) : null;
        }

        return wrong is null;
    }

    private static async Task<Results<Ok<ReadingsAnswer>, ProblemHttpResult>> TakeAsync(
        long id, ReadingsRequest request, ClaimsPrincipal user, RunStore runs, BenchLibrary library, TimeProvider clock, CancellationToken cancel)
    {
        if (await runs.FindAsync(id, cancel) is not { } run)
        {
            return Refusal.NotFound("run");
        }

        if (request.Readings.Count is 0 or > LargestBatch)
        {
            return Refusal.Field("/readings", $"Between 1 and {LargestBatch} readings come at a time.");
        }

        var stored = new List<StoredReading>();
        var refused = ImmutableArray.CreateBuilder<RefusedView>();
        foreach (var reading in request.Readings)
        {
            if (Wrong(reading, run.Plan, clock.GetUtcNow()) is { } wrong)
            {
                refused.Add(new(reading.Key, wrong));
                continue;
            }

            var step = run.Plan.Steps[reading.Step - 1];
            var value = reading switch
            {
                { OverRange: true } => Reading.OverRange,
                { Volts: { } volts } => step.Load!.ReadingOf(volts),
                _ => new(reading.Ohms),
            };
            var verdict = Judgement.Of(value, step.Limits, run.Plan.MeterFor(step));
            var row = await runs.AddReadingAsync(id, run.Meter.Id, new(reading.Key, reading.Step, value, verdict, reading.FromMeter, reading.TakenAt), user.Id(), cancel);
            if (row is null)
            {
                refused.Add(new(reading.Key, "Another reading has this key already."));
            }
            else
            {
                stored.Add(row);
            }
        }

        var state = (await library.FindAsync(id, cancel))!.State;
        return TypedResults.Ok(new ReadingsAnswer(
            [.. stored.Select(r => new StoredView(r.Key, r.Step, state[r.Step], ReadingView.Of(r)))],
            refused.ToImmutable(),
            ProgressView.Of(state, stored.Count > 0 ? stored[^1].Step : 0)));
    }

    private static string? Wrong(ReadingRequest reading, TestPlan plan, DateTimeOffset now) => reading switch
    {
        { Key: var key } when key == Guid.Empty => "A key is needed.",
        { Step: var step } when step < 1 || step > plan.Steps.Length => $"The plan has steps 1 to {plan.Steps.Length}.",
        { OverRange: true } when reading.Ohms is not null || reading.Volts is not null => "Either a value or over range, not both.",
        { OverRange: false, Volts: null } when plan.Steps[reading.Step - 1].Load is not null => "A test under load is read as a drop in volts.",
        { OverRange: false, Ohms: null } when plan.Steps[reading.Step - 1].Load is null => "A value in ohms is needed, or over range.",
        { Ohms: not null, Volts: not null } => "Either ohms or volts, not both.",
        { Volts: { } volts } when !(Math.Abs(volts) <= 60) => "A drop lies between 0 and 60 V.",
        { Ohms: { } ohms } when !double.IsFinite(ohms) || ohms < -1 || ohms > 1e12 => "A resistance lies between 0 and 1,000,000 MΩ.",
        { TakenAt: var at } when at > now.AddHours(24) || at < now.AddYears(-1) => "The time lies in the future or more than a year back: check the clock.",
        _ => null,
    };

    private static async Task<Results<Ok<MeasuredView>, ProblemHttpResult>> MeasureAsync(
        long id, MeasureRequest request, RunStore runs, LoomLibrary looms, MeterLine meters, CancellationToken cancel)
    {
        if (await runs.FindAsync(id, cancel) is not { } run || await looms.FindAsync(run.RevisionId, cancel) is not { } loom)
        {
            return Refusal.NotFound("run");
        }

        if (request.Step < 1 || request.Step > run.Plan.Steps.Length)
        {
            return Refusal.Field("/step", $"The plan has steps 1 to {run.Plan.Steps.Length}.");
        }

        if (run.Plan.Steps[request.Step - 1].Load is not null)
        {
            return Refusal.Field("/step", "A test under load is read by eye: type the drop that the meter shows.");
        }

        try
        {
            var reading = await meters.MeasureAsync(run.Meter, loom, StepProbes.Of(loom, run.Plan.Steps[request.Step - 1]), cancel);
            return TypedResults.Ok(new MeasuredView(reading.Ohms, reading.IsOverRange));
        }
        catch (MeterException e)
        {
            return TypedResults.Problem(title: "No reading from the meter.", detail: e.Message, statusCode: StatusCodes.Status502BadGateway);
        }
    }

    private static async Task<Results<Ok<ProgressView>, ProblemHttpResult>> SkipAsync(
        long id, SkipRequest request, ClaimsPrincipal user, RunStore runs, BenchLibrary library, CancellationToken cancel)
    {
        if (await runs.FindAsync(id, cancel) is not { } run)
        {
            return Refusal.NotFound("run");
        }

        if (request.Step < 1 || request.Step > run.Plan.Steps.Length)
        {
            return Refusal.Field("/step", $"The plan has steps 1 to {run.Plan.Steps.Length}.");
        }

        var reason = request.Reason.Trim();
        if (reason.Length is < 3 or > 400)
        {
            return Refusal.Field("/reason", "Say why, in 3 to 400 characters: the pack prints it.");
        }

        await runs.SkipAsync(id, request.Key, request.Step, reason, user.Id(), cancel);
        return TypedResults.Ok(ProgressView.Of((await library.FindAsync(id, cancel))!.State, request.Step));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> StandAsync(long id, PositionRequest request, ClaimsPrincipal user, RunStore runs, CancellationToken cancel)
    {
        if (await runs.FindAsync(id, cancel) is not { } run || request.Step < 1 || request.Step > run.Plan.Steps.Length)
        {
            return Refusal.NotFound("step");
        }

        await runs.StandAtAsync(id, user.Id(), request.Step, cancel);
        return TypedResults.NoContent();
    }

    private static async Task<Results<Ok<ReasonView>, ProblemHttpResult>> ReasonAsync(long id, int step, BenchLibrary library, CancellationToken cancel)
    {
        if (await library.FindAsync(id, cancel) is not { } bench || bench.Step(step) is not { } asked)
        {
            return Refusal.NotFound("step");
        }

        return TypedResults.Ok(LimitReason.Of(bench.Loom, bench.Run.Plan, asked));
    }
}
