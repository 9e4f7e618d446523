using System.Collections.Immutable;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Shop;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Meters;
using WiseLoom.Web.People;
using WiseLoom.Web.Runs;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Bench;

/// <summary>A reading as the page sends it: a number in the unit of its step, or <paramref name="OverRange"/> is true.</summary>
/// <param name="Key">Made by the page, UUIDv7; sending it twice changes nothing.</param>
/// <param name="Ohms">For resistances.</param>
/// <param name="Seen">Number of the last event of the run that its person had seen when it was taken; 0 for none. A reading that was taken before its person could know of a fix does not prove it.</param>
/// <param name="Volts">The drop, for a step under load and for a diode.</param>
/// <param name="Newtons">What a crimp sample held.</param>
/// <param name="AsItShould">What an eye found: whether all is as it should be.</param>
/// <param name="Moved">How the loom was moved meanwhile, as the trace told it; null when it lay still.</param>
internal sealed record ReadingRequest(Guid Key, int Step, double? Ohms, bool OverRange, bool FromMeter, DateTimeOffset TakenAt, long Seen, double? Volts = null, Moved? Moved = null, double? Newtons = null, bool? AsItShould = null)
{
    /// <summary>What was shown in a unit; null when nothing was.</summary>
    internal double? In(ReadingUnit unit) => unit switch { ReadingUnit.Volt => Volts, ReadingUnit.Newton => Newtons, ReadingUnit.Sight => AsItShould is { } good ? good ? 1 : 0 : null, _ => Ohms };
}

/// <param name="TakenBy">Whose readings these are; they are only taken from that person's own session.</param>
internal sealed record ReadingsRequest(Guid TakenBy, IReadOnlyList<ReadingRequest> Readings);

/// <summary>A reading that is stored now, or was before.</summary>
/// <param name="Bearing">What it counts for.</param>
/// <param name="Standing">Where its step stands by now.</param>
internal sealed record StoredView(Guid Key, ReadingView Reading, Bearing Bearing, StandingView Standing);

/// <summary>A reading that can never be stored, and why.</summary>
internal sealed record RefusedView(Guid Key, string Message);

/// <param name="LastEvent">Number of the run's last event by now.</param>
internal sealed record ReadingsAnswer(ImmutableArray<StoredView> Stored, ImmutableArray<RefusedView> Refused, ProgressView Progress, long LastEvent);

internal sealed record MeasureRequest(int Step);

internal sealed record SkipRequest(Guid Key, int Step, string Reason);

/// <summary>Where a person stands: at a step of the bench, or at a check of the power-up, never both.</summary>
internal sealed record PositionRequest(int? Step = null, string? Check = null);

/// <summary>Taking readings, leaving steps out, and what changed meanwhile.</summary>
internal static class ReadingEndpoints
{
    private const int LargestBatch = 500;

    internal static void MapReadings(this RouteGroupBuilder api)
    {
        api.MapPost("/runs/{id:long}/readings", TakeAsync).WithSummary("Store readings; each is answered as stored or refused");
        api.MapPost("/runs/{id:long}/measure", MeasureAsync).WithSummary("Have the run's meter take one reading; it is not stored by this");
        api.MapPost("/runs/{id:long}/skips", SkipAsync).WithSummary("Leave a step out, with a reason");
        api.MapGet("/runs/{id:long}/since/{number:long}", SinceAsync).WithSummary("What has changed in a run since one of its events");
        api.MapGet("/runs/{id:long}/steps/{step:int}/reason", ReasonAsync).IsHeavy("Working out the limits").WithSummary("How the limits of a step came about");
    }

    private static async Task<Results<Ok<ReadingsAnswer>, ProblemHttpResult>> TakeAsync(
        long id, ReadingsRequest request, ClaimsPrincipal user, RunLedger ledger, TimeProvider clock, CancellationToken cancel)
    {
        if (request.TakenBy != user.Id())
        {
            return Refusal.Conflict("These readings were taken by somebody else than who is signed in. They are stored when that person signs in.", "urn:wise-loom:other-person");
        }

        if (request.Readings.Count is 0 or > LargestBatch)
        {
            return Refusal.Field("/readings", $"Between 1 and {LargestBatch} readings come at a time.");
        }

        if (await ledger.HeadAsync(id, cancel) is not { } head)
        {
            return Refusal.NotFound("run");
        }

        var (by, now, meter) = (user.Hand(), clock.GetUtcNow(), head.Meter.Name);
        var answered = (await ledger.AskAsync(id, [.. request.Readings.Select(r => new Ask(r.Key, by, r.TakenAt, run => Take(r, run, by, meter, now)))], cancel))!.Value;
        var stored = ImmutableArray.CreateBuilder<StoredView>();
        var refused = ImmutableArray.CreateBuilder<RefusedView>();
        foreach (var (reading, answer) in request.Readings.Zip(answered.Answers))
        {
            if (Refusal.Words(answer.Decision) is { } words)
            {
                refused.Add(new(reading.Key, words));
            }
            else
            {
                stored.Add(await StoredAsync(id, answer, answered.Open.Run, ledger, cancel));
            }
        }

        var last = stored.Count > 0 ? stored[^1].Standing.Step : 0;
        return TypedResults.Ok(new ReadingsAnswer(stored.ToImmutable(), refused.ToImmutable(), ProgressView.Of(answered.Open.Run, last), answered.Open.Run.LastEvent));
    }

    private static Decision Take(ReadingRequest reading, BenchRun run, Hand by, string meter, DateTimeOffset now)
    {
        var unit = run.Plan.Step(reading.Step)?.Unit ?? ReadingUnit.Ohm;
        var shown = Enum.GetValues<ReadingUnit>().Count(u => reading.In(u) is not null);
        string? wrong = reading switch
        {
            { OverRange: true } when shown > 0 => "Either a value or over range, not both.",
            _ when shown > 1 => "One value, in the unit of the step.",
            { OverRange: false } when reading.In(unit) is null => unit switch
            {
                ReadingUnit.Volt => "This step is read as a drop in volts.",
                ReadingUnit.Newton => "A crimp sample is read as a force in newtons.",
                ReadingUnit.Sight => "A look finds all as it should be, or not.",
                _ => "A value in ohms is needed, or over range.",
            },
            _ => null,
        };
        return wrong is not null
            ? new Decision.Wrong($"/{unit.Field()}", wrong)
            : run.Take(new(reading.Key, reading.Step, reading.In(unit), reading.FromMeter, meter, reading.TakenAt, reading.Seen) { Moved = reading.Moved }, by, now);
    }

    private static async Task<StoredView> StoredAsync(long id, Answered answer, BenchRun run, RunLedger ledger, CancellationToken cancel)
    {
        var happened = answer.Event ?? (await ledger.EventAsync(id, ((Decision.Already)answer.Decision).Number, cancel))!;
        var taken = (ReadingTaken)happened.What;
        return new(happened.Key, ReadingView.Of(happened, taken), taken.Bearing, StandingView.Of(taken.Step, run));
    }

    private static async Task<Results<Ok<MeasuredView>, ProblemHttpResult>> MeasureAsync(
        long id, MeasureRequest request, RunLedger ledger, MeterQueue meters, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open)
        {
            return Refusal.NotFound("run");
        }

        if (MeasuredStep.Of(open, request.Step, out var step) is { } wrong)
        {
            return wrong;
        }

        try
        {
            var reading = await meters.MeasureAsync(open.Head.Meter, open.Run.Loom, StepProbes.Of(open.Run.Loom, open.Run.Plan, step!), cancel);
            return TypedResults.Ok(MeasuredView.Of(reading));
        }
        catch (MeterException e)
        {
            return MeasuredView.None(e);
        }
    }

    private static async Task<Results<Ok<ProgressView>, ProblemHttpResult>> SkipAsync(
        long id, SkipRequest request, ClaimsPrincipal user, RunLedger ledger, TimeProvider clock, CancellationToken cancel)
    {
        var lead = user.IsInRole(Role.Lead);
        var asked = await ledger.AskAsync(id, new Ask(request.Key, user.Hand(), clock.GetUtcNow(), run => run.Skip(request.Key, request.Step, request.Reason, lead)), cancel);
        return asked is not { } done ? Refusal.NotFound("run")
            : Refusal.Of(done.Answer.Decision) is { } refusal ? refusal
            : TypedResults.Ok(ProgressView.Of(done.Open.Run, request.Step));
    }

    private static async Task<Results<Ok<ChangesSinceView>, ProblemHttpResult>> SinceAsync(long id, long number, RunLedger ledger, CancellationToken cancel) =>
        await ledger.FindAsync(id, cancel) is { } open ? TypedResults.Ok(ChangesSinceView.Of(open, number)) : Refusal.NotFound("run");

    private static async Task<Results<Ok<ReasonView>, ProblemHttpResult>> ReasonAsync(long id, int step, RunLedger ledger, CancellationToken cancel) =>
        await ledger.FindAsync(id, cancel) is { } open && open.Run.Plan.Step(step) is { } asked
            ? TypedResults.Ok(LimitExplanation.Of(open.Run.Loom, open.Run.Plan, asked))
            : Refusal.NotFound("step");
}
