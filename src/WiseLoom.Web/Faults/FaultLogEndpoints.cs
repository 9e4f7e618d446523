using System.Collections.Immutable;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Runs;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Runs;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Faults;

/// <summary>A fault of any job.</summary>
/// <param name="Kinds">What it turned out to be, by kind; empty while unknown, or when only words were given.</param>
internal sealed record LogLineView(
    Guid Key, long Job, string Machine, string Customer, string Loom, string Revision, int Number, bool SetAside, string Seen, string LoggedBy, DateTimeOffset LoggedAt, FaultState State, string? Cause, ImmutableArray<string> Kinds, string? Did, string? Parts, double? Minutes, string? Place);

/// <param name="Kinds">All there are, as they may be asked for.</param>
/// <param name="Before">Key of the last line, to ask for older ones; null when there are none.</param>
internal sealed record FaultLogView(ImmutableArray<LogLineView> Lines, ImmutableArray<string> Kinds, Guid? Before);

/// <summary>Faults of all jobs: searched, and counted.</summary>
internal static class FaultLogEndpoints
{
    private const int Page = 50, LongestWords = 200;

    internal static void MapFaultLog(this RouteGroupBuilder api)
    {
        api.MapGet("/faults", SearchAsync).IsHeavy("Searching the fault log").WithSummary("Faults of all jobs, the newest first");
        api.MapGet("/faults/report", ReportAsync).IsHeavy("Counting the fault log").WithSummary("Which faults come back, by kind, family, place and builder, with the minutes they took");
    }

    private static async Task<Results<Ok<FaultLogView>, ProblemHttpResult>> SearchAsync(string? words, string? kind, Guid? before, FaultLogStore log, RunLedger ledger, CancellationToken cancel)
    {
        if (words?.Length > LongestWords)
        {
            return Refusal.Field("/words", $"Search for at most {LongestWords} characters.");
        }

        if (kind is not null && !Fault.Kinds.Contains(kind))
        {
            return Refusal.Field("/kind", $"Write one of: {string.Join(", ", Fault.Kinds)}.");
        }

        var found = await log.SearchAsync(words ?? "", kind, before, Page + 1, cancel);
        var lines = ImmutableArray.CreateBuilder<LogLineView>();
        foreach (var fault in found.Take(Page))
        {
            var run = (await ledger.FindAsync(fault.Run, cancel))!.Run;
            lines.Add(new(
                fault.Key, fault.Job, fault.Machine, fault.Customer, fault.Counted.Loom, fault.Revision, fault.Number, fault.SetAside, fault.Seen, fault.LoggedBy, fault.LoggedAt,
                run.Fault(fault.Number) is { } logged ? run.StateOf(logged) : FaultState.Open,
                fault.Cause?.Words, [.. (fault.Cause?.Faults ?? []).Select(f => f.Kind()).Distinct()], fault.Fix?.Did, fault.Fix?.Parts, fault.Fix?.Minutes, fault.Counted.Place));
        }

        return TypedResults.Ok(new FaultLogView(lines.ToImmutable(), [.. Fault.Kinds], found.Count > Page ? found[Page - 1].Key : null));
    }

    private static async Task<Ok<FaultReport>> ReportAsync(FaultLogStore log, CancellationToken cancel) =>
        TypedResults.Ok(FaultReport.Of((await log.AllAsync(cancel)).ConvertAll(f => f.Counted)));
}
