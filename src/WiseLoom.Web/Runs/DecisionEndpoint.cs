using System.Collections.Immutable;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Shop;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Runs;

/// <param name="On">Which hold, by its <c>on</c>.</param>
/// <param name="Steps">Which of its steps; none for all of it.</param>
/// <param name="Reason">The pack prints it.</param>
/// <param name="Seen">Number of the last event that its person had seen.</param>
internal sealed record DecisionRequest(Guid Key, string On, ImmutableArray<int>? Steps, string Reason, long Seen);

/// <param name="Decided">Whether it is let pass by this; a technician's word is a proposal.</param>
/// <param name="Holds">What stands against release now.</param>
internal sealed record DecidedView(bool Decided, long LastEvent, ImmutableArray<HoldView> Holds);

/// <summary>What stands against release and is let pass: a lead decides, a technician proposes.</summary>
internal static class DecisionEndpoint
{
    internal static void MapDecisions(this RouteGroupBuilder api) =>
        api.MapPost("/runs/{id:long}/decisions", DecideAsync).WithSummary("Let something pass that stands against release, with a reason that the pack prints: a lead decides, a technician proposes");

    private static async Task<Results<Ok<DecidedView>, ProblemHttpResult>> DecideAsync(
        long id, DecisionRequest request, ClaimsPrincipal user, RunLedger ledger, TimeProvider clock, CancellationToken cancel)
    {
        var lead = user.IsInRole(Role.Lead);
        var ask = new Ask(request.Key, user.Hand(), clock.GetUtcNow(), run => run.Accept(request.Key, request.On, request.Steps ?? [], request.Reason, request.Seen, lead));
        return await ledger.AskAsync(id, ask, cancel) is not { } done ? Refusal.NotFound("run")
            : Refusal.Of(done.Answer.Decision) is { } refusal ? refusal
            : TypedResults.Ok(new DecidedView(lead, done.Open.Run.LastEvent, HoldView.Of(done.Open.Run)));
    }
}
