using System.Collections.Immutable;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Shop;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Library;

/// <summary>The shop's limits, who set them and when.</summary>
/// <param name="Usual">What they are while nobody has changed them.</param>
/// <param name="PackSections">Sections that a pack has, in their order.</param>
internal sealed record LimitsView(ShopLimits Limits, ShopLimits Usual, ImmutableArray<PackSection> PackSections, int Version, string? ChangedBy, DateTimeOffset? ChangedAt)
{
    internal static LimitsView Of(StoredLimits stored) => new(stored.Limits, ShopLimits.Usual, PackSection.All, stored.Version, stored.ChangedBy, stored.ChangedAt);
}

internal static class LimitEndpoints
{
    internal static void MapLimits(this RouteGroupBuilder api)
    {
        api.MapGet("/limits", async (HttpContext context, LimitStore store, CancellationToken cancel) => Told(context, await store.LatestAsync(cancel))).WithSummary("The shop's limits");
        api.MapPut("/limits", PutAsync).RequireAuthorization(Role.Lead).WithSummary("Change the shop's limits; a lead's");
    }

    private static LimitsView Told(HttpContext context, StoredLimits stored)
    {
        EntityVersion.Tell(context, stored.Version);
        return LimitsView.Of(stored);
    }

    private static async Task<Results<Ok<LimitsView>, ProblemHttpResult>> PutAsync(
        ShopLimits limits, HttpContext context, ClaimsPrincipal user, LimitStore store, InstrumentNetworks networks, CancellationToken cancel)
    {
        if (EntityVersion.Asked(context) is not { } version)
        {
            return EntityVersion.Missing("limits");
        }

        if (limits.Problems() is { IsEmpty: false } problems)
        {
            return Refusal.Because("These limits cannot be taken as they are.", problems);
        }

        foreach (var (controller, i) in limits.PowerUp.Controllers.Select((c, i) => (c, i)))
        {
            if ((await networks.FindAsync(controller.Host, controller.Port, cancel)).Wrong is { } wrong)
            {
                return Refusal.Field($"/powerUp/controllers/{i}/host", wrong);
            }
        }

        return await store.ChangeAsync(version, limits, user.Id(), cancel)
            ? TypedResults.Ok(Told(context, await store.LatestAsync(cancel)))
            : EntityVersion.Overtaken("list of limits", LimitsView.Of(await store.LatestAsync(cancel)));
    }
}
