using System.Collections.Immutable;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Bench;

/// <param name="Turned">Whether the card exchanges the probes, so that one that stays keeps its colour.</param>
internal sealed record WayStepView(int Step, bool Turned);

/// <summary>What is still to do, in order.</summary>
/// <param name="Waiting">Steps that wait for a connector that is not at hand.</param>
/// <param name="Theirs">Steps at connectors that somebody else took.</param>
internal sealed record WayView(ImmutableArray<WayStepView> Steps, ImmutableArray<int> Waiting, ImmutableArray<int> Theirs);

/// <summary>The order of what is still to do, from where a person's probes stand.</summary>
internal static class WayEndpoints
{
    private const int MostAway = 200;

    internal static void MapWay(this RouteGroupBuilder api) =>
        api.MapGet("/runs/{id:long}/way", WayAsync).WithSummary("What is still to do in a run, in the order that takes least from where the probes stand");

    /// <param name="from">The step that the probes stand at; 0 for nowhere.</param>
    /// <param name="turned">Whether they are exchanged there.</param>
    /// <param name="away">Refs of connectors that are not at hand.</param>
    private static async Task<Results<Ok<WayView>, ProblemHttpResult>> WayAsync(long id, int from, bool turned, string[] away, ClaimsPrincipal user, RunLedger ledger, PresenceStore presence, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open)
        {
            return Refusal.NotFound("run");
        }

        var run = open.Run;
        if (from != 0 && run.Plan.Step(from) is null)
        {
            return Refusal.Field("/from", $"The plan has steps 1 to {run.Plan.Steps.Length}; write 0 while the probes are nowhere.");
        }

        if (away.Length > MostAway || Array.Find(away, a => run.Loom.FindConnector(a) is null) is not null)
        {
            return Refusal.Field("/away", $"Name up to {MostAway} connectors of this loom, such as {run.Loom.Connectors.FirstOrDefault()?.Ref}.");
        }

        var share = await PeopleOnRun.ShareOfAsync(id, presence, cancel);
        var stand = run.Plan.Step(from)?.Probes;
        var way = WayOn.From(run, turned && stand is { } at ? new ProbePair(at.Red, at.Black) : stand, away.ToHashSet(StringComparer.Ordinal), share, user.Id());
        return TypedResults.Ok(new WayView([.. way.Steps.Select(s => new WayStepView(s.Step, s.Turned))], way.Waiting, way.Theirs));
    }
}
