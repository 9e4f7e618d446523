using System.Collections.Immutable;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Shop;
using WiseLoom.Web.Http;
using WiseLoom.Web.Meters;
using WiseLoom.Web.People;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Faults;

/// <summary>Two sides of a reading beside the plan.</summary>
/// <param name="A">Cavities that one probe touches, joined.</param>
/// <param name="B">Cavities of the other; null for all other circuits, joined by the shorting plug.</param>
/// <param name="Moved">Whether the loom is moved meanwhile.</param>
internal sealed record ProbesRequest(IReadOnlyList<string> A, IReadOnlyList<string>? B, bool Moved = false);

/// <param name="Ohms">Null for over range.</param>
/// <param name="Seen">Number of the last event of the run that its person had seen when it was taken; 0 for none.</param>
internal sealed record ProbeRequest(Guid Key, IReadOnlyList<string> A, IReadOnlyList<string>? B, double? Ohms, bool OverRange, bool FromMeter, DateTimeOffset TakenAt, long Seen, bool Moved = false);

/// <param name="Counts">Whether it weighs in the ranking: not when something was mended after it was taken, or the meter is in doubt.</param>
internal sealed record ProbeStoredView(long LastEvent, bool Counts);

/// <summary>Readings between any places, beside the plan, that tell causes apart.</summary>
internal static class ProbeEndpoints
{
    /// <summary>Readings that are taken while the loom is moved, unless one breaks before.</summary>
    private const int WhileMoved = 8;

    internal static void MapProbes(this RouteGroupBuilder api)
    {
        api.MapPost("/runs/{id:long}/probes/measure", MeasureAsync).WithSummary("Have the run's meter read between any places; it is not stored by this");
        api.MapPost("/runs/{id:long}/probes", KeepAsync).WithSummary("Keep a reading beside the plan: it moves the ranking of causes, and proves no step");
    }

    private static async Task<Results<Ok<MeasuredView>, ProblemHttpResult>> MeasureAsync(long id, ProbesRequest request, RunLedger ledger, MeterQueue meters, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open)
        {
            return Refusal.NotFound("run");
        }

        if (Side(request.A) is not { } a || (request.B is not null && Side(request.B) is null))
        {
            return NoPlace;
        }

        var probe = new ProbeTaken(a, request.B is { } far ? Side(far) : null, null, request.Moved, true, open.Head.Meter.Name, open.Run.LastEvent);
        if (open.Run.Probe(Guid.CreateVersion7(), probe) is var decision && Refusal.Of(decision) is { } refusal)
        {
            return refusal;
        }

        try
        {
            var probes = new StepProbes(probe.B ?? StepProbes.Against(open.Run.Loom, a[0]), a);
            var reading = request.Moved ? await MovedAsync(open, probes, meters, cancel) : await meters.MeasureAsync(open.Head.Meter, open.Run.Loom, probes, cancel);
            return TypedResults.Ok(MeasuredView.Of(reading));
        }
        catch (MeterException e)
        {
            return MeasuredView.None(e);
        }
    }

    private static async Task<Reading> MovedAsync(OpenRun open, StepProbes probes, MeterQueue meters, CancellationToken cancel)
    {
        await meters.MoveAsync(open.Head.Meter, true, cancel);
        try
        {
            var reading = Reading.OverRange;
            for (var i = 0; i < WhileMoved && (i == 0 || !reading.IsOverRange); i++)
            {
                reading = await meters.MeasureAsync(open.Head.Meter, open.Run.Loom, probes, cancel);
            }

            return reading;
        }
        finally
        {
            await meters.MoveAsync(open.Head.Meter, false, CancellationToken.None);
        }
    }

    private static async Task<Results<Ok<ProbeStoredView>, ProblemHttpResult>> KeepAsync(long id, ProbeRequest request, ClaimsPrincipal user, RunLedger ledger, CancellationToken cancel)
    {
        if (await ledger.HeadAsync(id, cancel) is not { } head)
        {
            return Refusal.NotFound("run");
        }

        if (Side(request.A) is not { } a || (request.B is not null && Side(request.B) is null))
        {
            return NoPlace;
        }

        if (request.OverRange == request.Ohms is not null)
        {
            return Refusal.Field("/ohms", "Either a value in ohms, or over range.");
        }

        var probe = new ProbeTaken(a, request.B is { } far ? Side(far) : null, request.Ohms, request.Moved, request.FromMeter, head.Meter.Name, request.Seen);
        var (answer, open) = (await ledger.AskAsync(id, new Ask(request.Key, user.Hand(), request.TakenAt, run => run.Probe(request.Key, probe)), cancel))!.Value;
        return Refusal.Of(answer.Decision) is { } refusal ? refusal : TypedResults.Ok(new ProbeStoredView(open.Run.LastEvent, open.Run.Probes.Exists(p => p.Key == request.Key)));
    }

    private static ProblemHttpResult NoPlace => Refusal.Field("/a", "Each side is a list of cavities, each written CONNECTOR:CAVITY, such as ECU-A:8.");

    private static ImmutableArray<ProbePoint>? Side(IReadOnlyList<string> places)
    {
        var points = places.Select(p => ProbePoint.TryParse(p, out var point) ? point : (ProbePoint?)null).ToList();
        return points.Contains(null) ? null : [.. points.OfType<ProbePoint>().Distinct()];
    }
}
