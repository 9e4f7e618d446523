using System.Collections.Immutable;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Sightings;
using WiseLoom.Core.States;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;
using WiseLoom.Web.Runs;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Faults;

/// <param name="What">What was seen, by its kind.</param>
/// <param name="Seen">Number of the last event of the run that its person had seen then; 0 for none.</param>
internal sealed record SightingRequest(Guid Key, Sighting What, DateTimeOffset TakenAt, long Seen);

/// <param name="Counts">Whether it weighs in the ranking: not when something was mended after it was seen.</param>
internal sealed record SightingStoredView(long LastEvent, bool Counts);

/// <summary>What a sighting can be of, in a loom.</summary>
/// <param name="Conditions">Conditions that hold and outputs that are driven, by the names that the loom knows.</param>
/// <param name="Functions">What the loom is for; empty for a loom that is too large to be worked out.</param>
/// <param name="Devices">Refs.</param>
internal sealed record SightingChoicesView(ImmutableArray<KeyPosition> Positions, ImmutableArray<string> Conditions, ImmutableArray<string> Functions, ImmutableArray<string> Devices);

/// <summary>What is seen beside resistances of the bare loom: with the key on, of a part by itself, under load, with the eye.</summary>
internal static class SightingEndpoints
{
    internal static void MapSightings(this RouteGroupBuilder api)
    {
        api.MapGet("/runs/{id:long}/sightings/choices", ChoicesAsync).IsHeavy("Working out the state").WithSummary("What a sighting can be of, by the names that this loom knows");
        api.MapPost("/runs/{id:long}/sightings", KeepAsync).IsHeavy("Holding it against the drawing").WithSummary("Keep something that was seen: it moves the ranking of causes, and proves no step");
    }

    private static async Task<Results<Ok<SightingChoicesView>, ProblemHttpResult>> ChoicesAsync(long id, RunLedger ledger, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { Run.Loom: var loom })
        {
            return Refusal.NotFound("run");
        }

        ImmutableArray<string> devices = [.. loom.Devices.Select(d => d.Ref)];
        if (Core.Electrical.WorkLimit.TooManyWires(loom, Core.Electrical.WorkLimit.MostPowered) is not null)
        {
            return TypedResults.Ok(new SightingChoicesView([], [], [], devices));
        }

        var states = LoomStates.For(loom, loom.AmbientC);
        var functions = states.At(Situation.At(KeyPosition.On), withProbes: false).Functions;
        return TypedResults.Ok(new SightingChoicesView(KeyPositions.All, [.. states.Conditions.Concat(states.Outputs).Distinct(StringComparer.Ordinal)], [.. functions.Select(f => f.Name).Distinct(StringComparer.Ordinal)], devices));
    }

    private static async Task<Results<Ok<SightingStoredView>, ProblemHttpResult>> KeepAsync(long id, SightingRequest request, ClaimsPrincipal user, RunLedger ledger, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } before)
        {
            return Refusal.NotFound("run");
        }

        if (request.What.Problems(before.Run.Loom).FirstOrDefault() is { } wrong)
        {
            return Refusal.Field($"/what{wrong.At}", wrong.Message);
        }

        // Held against the drawing before it is this run's turn: nobody's reading waits for it.
        var seen = new SightingTaken(request.What, request.What.IsAsDrawn(before.Run.Loom, before.Run.Plan.AmbientC, before.Run.Plan.Meter), request.Seen);
        var (answer, open) = (await ledger.AskAsync(id, new Ask(request.Key, user.Hand(), request.TakenAt, run => run.See(request.Key, seen)), cancel))!.Value;
        return Refusal.Of(answer.Decision) is { } refusal ? refusal : TypedResults.Ok(new SightingStoredView(open.Run.LastEvent, open.Run.Sightings.Exists(s => s.Key == request.Key)));
    }
}
