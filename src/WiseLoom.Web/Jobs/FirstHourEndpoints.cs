using System.Collections.Immutable;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Jobs;

/// <summary>A line of the list.</summary>
/// <param name="To">The page where it is done.</param>
/// <param name="Hint">What to do there, in a sentence.</param>
/// <param name="IsLeads">Whether only a lead can do it.</param>
internal sealed record FirstHourStep(string Title, string Hint, string To, bool IsDone, bool IsLeads);

/// <summary>The list of a new shop's first page.</summary>
/// <param name="Shown">Whether it is shown: something is left to do, and nobody put it away.</param>
/// <param name="Practice">Where the practice shop is; null where none is set up beside this one.</param>
internal sealed record FirstHourView(bool Shown, ImmutableArray<FirstHourStep> Steps, string? Practice);

/// <summary>What is asked of the list.</summary>
/// <param name="PutAway">True: it is not shown again.</param>
internal sealed record FirstHourRequest(bool PutAway);

/// <summary>What a new shop does in its first hour, each line ticked by what is there.</summary>
internal static class FirstHourEndpoints
{
    internal static void MapFirstHour(this RouteGroupBuilder api)
    {
        api.MapGet("/first-hour", ShowAsync).WithSummary("What a new shop does first, and how far it has come");
        api.MapPut("/first-hour", PutAwayAsync).WithSummary("Put that list away for good");
    }

    private static async Task<FirstHourView> ShowAsync(FirstHourStore store, IConfiguration configuration, CancellationToken cancel)
    {
        var now = await store.LookAsync(cancel);
        var job = now.Loom is { } id ? $"/jobs/{id}" : null;
        ImmutableArray<FirstHourStep> steps =
        [
            new("Make accounts", "One for each who measures, so that each reading has its name.", "/people", now.Accounts, true),
            new("Say which meter you have", "Its steps and ranges say what a reading can tell.", "/instruments", now.Meter, true),
            new("Bring in your first loom", "A spreadsheet as you have it, pasted rows, or a cable by three fields.", "/jobs/new", now.Loom is not null, false),
            new("Measure it", "The plan says where the probes go, and each reading gets its verdict.", job is null ? "/jobs/new" : $"{job}/bench", now.Measured, false),
            new("Hand it over", "A pack of papers, signed when nothing stands against it.", job is null ? "/jobs/new" : $"{job}/handover", now.HandedOver, false),
        ];
        return new(!now.PutAway && steps.Any(s => !s.IsDone), steps, configuration["WISELOOM_PRACTICE"] is { Length: > 0 } address ? address : null);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> PutAwayAsync(FirstHourRequest request, ClaimsPrincipal user, FirstHourStore store, CancellationToken cancel)
    {
        if (!request.PutAway)
        {
            return Refusal.Field("/putAway", "The list is put away for good; it does not come back.");
        }

        await store.PutAwayAsync(user.Id(), cancel);
        return TypedResults.NoContent();
    }
}
