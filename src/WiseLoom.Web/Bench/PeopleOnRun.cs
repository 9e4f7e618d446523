using System.Collections.Immutable;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Runs;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Bench;

/// <summary>Somebody on a run.</summary>
/// <param name="Here">Whether their page has said so within the last minute.</param>
/// <param name="Black">What the probes of their step touch.</param>
/// <param name="Red">Null for all other circuits.</param>
/// <param name="Check">The check of the power-up at which they stand; null while they are at the bench.</param>
/// <param name="Takes">Connectors whose steps they do.</param>
internal sealed record OnRunView(Guid Person, string Name, bool IsMe, bool Here, int Step, string Black, string? Red, string? Check, IReadOnlyList<string> Takes);

/// <param name="Connectors">Those whose steps one does, in place of those one had; none to share nothing.</param>
/// <param name="Over">Whether those that others hold are taken over.</param>
internal sealed record ShareRequest(IReadOnlyList<string> Connectors, bool Over = false);

/// <summary>Several people on one run: where each stands, and who does which connectors.</summary>
internal static class PeopleOnRun
{
    private const int MostConnectors = 2000;

    internal static void MapPeopleOnRun(this RouteGroupBuilder api)
    {
        api.MapGet("/runs/{id:long}/people", PeopleAsync).WithSummary("Who is on a run, where each stands, and which connectors each took");
        api.MapPut("/runs/{id:long}/position", StandAsync).WithSummary("Say where a person stands; said again at least every minute while they are there");
        api.MapPut("/runs/{id:long}/share", ShareAsync).WithSummary("Take the steps at some connectors of a run");
    }

    /// <summary>Who does which connectors of a run.</summary>
    internal static async Task<PlanShare> ShareOfAsync(long run, PresenceStore presence, CancellationToken cancel)
    {
        var holders = new Dictionary<string, Guid>(StringComparer.Ordinal);
        foreach (var person in await presence.OfAsync(run, cancel))
        {
            foreach (var connector in person.Takes)
            {
                holders[connector] = person.Person;
            }
        }

        return new(holders);
    }

    private static async Task<Results<Ok<ImmutableArray<OnRunView>>, ProblemHttpResult>> PeopleAsync(
        long id, ClaimsPrincipal user, RunLedger ledger, PresenceStore presence, TimeProvider clock, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open)
        {
            return Refusal.NotFound("run");
        }

        var gone = clock.GetUtcNow() - PresenceStore.Absent;
        var people = await presence.OfAsync(id, cancel);
        var views =
            from p in people
            let step = open.Run.Plan.Step(p.Step)
            where step is not null
            select new OnRunView(p.Person, p.Name, p.Person == user.Id(), p.SeenAt > gone, p.Step, step.Black.ToString(), step.Red?.ToString(), p.Check, p.Takes);
        return TypedResults.Ok(views.ToImmutableArray());
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> StandAsync(long id, PositionRequest request, ClaimsPrincipal user, RunLedger ledger, PresenceStore presence, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open)
        {
            return Refusal.NotFound("run");
        }

        switch (request)
        {
            case { Check: { } check, Step: null } when open.Run.PowerUp?.Terms.Checks.Any(c => c.Id == check) == true:
                await presence.StandAtCheckAsync(id, user.Id(), check, cancel);
                break;
            case { Check: null, Step: { } step } when open.Run.Plan.Step(step) is not null:
                await presence.StandAtAsync(id, user.Id(), step, cancel);
                break;
            default:
                return Refusal.NotFound("step or check");
        }

        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> ShareAsync(long id, ShareRequest request, ClaimsPrincipal user, RunLedger ledger, PresenceStore presence, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open)
        {
            return Refusal.NotFound("run");
        }

        if (request.Connectors.Count > MostConnectors || request.Connectors.FirstOrDefault(c => open.Run.Loom.FindConnector(c) is null) is not null)
        {
            return Refusal.Field("/connectors", $"Name connectors of this loom, such as {open.Run.Loom.Connectors.FirstOrDefault()?.Ref}.");
        }

        return await presence.TakeAsync(id, user.Id(), [.. request.Connectors.Distinct(StringComparer.Ordinal)], request.Over, cancel) is { } held
            ? Refusal.Conflict($"{held.Name} has taken {held.Connector}. Ask them to let go of it, or take it over.", "urn:wise-loom:taken")
            : TypedResults.NoContent();
    }
}
