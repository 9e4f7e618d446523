using System.Collections.Immutable;
using System.Security.Claims;
using WiseLoom.Core.Shop;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Work;

/// <summary>Heavy work that somebody waits for.</summary>
/// <param name="What">What it is, in words.</param>
/// <param name="Before">How many turns come before it; 0 when it runs.</param>
/// <param name="Text">Where it stands, in words.</param>
internal sealed record HeavyWorkView(string What, int Before, string Text);

internal static class WorkEndpoints
{
    internal static void MapWork(this RouteGroupBuilder api) => api.MapGet("/work", Mine).WithSummary("One's own heavy work: what runs, and what waits for its turn");

    private static ImmutableArray<HeavyWorkView> Mine(ClaimsPrincipal user, HeavyQueue queue, TimeProvider clock) =>
        [.. queue.Of(user.Id()).Select(w => new HeavyWorkView(w.Ticket.What, w.Before, Text(w.Ticket, w.Before, clock.GetUtcNow())))];

    private static string Text(HeavyTicket ticket, int before, DateTimeOffset now) => ticket.BegunAt is { } begun
        ? $"{(ticket.Stage is { } stage ? $"{stage}, " : "")}at work for {Say.Duration((now - begun).TotalSeconds)}"
        : before == 1 ? "next in the queue" : $"{before - 1} before it in the queue";
}
