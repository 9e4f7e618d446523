using System.Collections.Immutable;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Runs;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Records;

/// <summary>What became of a file of readings.</summary>
/// <param name="Stored">How many are stored now.</param>
/// <param name="Before">How many were stored already, by this file or one that held the same rows.</param>
/// <param name="NotCounting">How many of those stored now prove nothing: they may be from before a fix, or the meter was not right, or another reading weighs more.</param>
/// <param name="Left">How many rows hold no value: steps that were left out.</param>
/// <param name="Refused">Rows that can never be stored, each with its place and why; after two hundred, the rest is counted.</param>
/// <param name="LastEvent">Number of the run's last event by now.</param>
internal sealed record BroughtInView(int Stored, int Before, int NotCounting, int Left, ImmutableArray<Problem> Refused, long LastEvent);

/// <summary>Bringing in readings that were typed at another bench, or taken by a fixture elsewhere.</summary>
internal static class BringInEndpoint
{
    private const int AtOnce = 500, LongestName = 120;

    internal static void MapBringIn(this RouteGroupBuilder api) =>
        api.MapPost("/runs/{id:long}/bring-in", BringInAsync).Accepts<object>("application/octet-stream").WithMetadata(new TakesFile()).WithSummary("Take readings.csv in: each row is judged by the run's plan, and each refusal named");

    /// <param name="name">The file's name, for the record.</param>
    /// <param name="seen">Number of the run's last event when these were taken, where that is known: without it they prove no fix.</param>
    private static async Task<Results<Ok<BroughtInView>, ProblemHttpResult>> BringInAsync(
        long id, string? name, long? seen, HttpContext context, ClaimsPrincipal user, RunLedger ledger, TimeProvider clock, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open)
        {
            return Refusal.NotFound("run");
        }

        if (name is { Length: > LongestName } || seen < 0 || seen > open.Run.LastEvent)
        {
            return Refusal.Field("/seen", $"This run has {open.Run.LastEvent} events; say which of them had been seen, 0 for none. A file's name has at most {LongestName} characters.");
        }

        if (await UploadBody.ReadAsync(context, cancel) is not { } bytes)
        {
            return UploadBody.TooLarge();
        }

        var problems = new List<Problem>();
        var source = name is { Length: > 0 } ? name : "readings.csv";
        if (CsvText.Read(bytes, "readings", source, problems) is not { } table || ReadingTable.Read(table, open.Run.Loom, open.Run.Plan, problems) is var rows && rows.IsEmpty && problems.Count > 0)
        {
            return Refusal.Because("These readings cannot be taken. Nothing was stored.", problems);
        }

        var (by, now, keys) = (user.Hand(), clock.GetUtcNow(), new ReadingKey(id));
        var left = table.Rows.Length - rows.Length - problems.Count;
        var (stored, before, idle, last) = (0, 0, 0, open.Run.LastEvent);
        foreach (var some in rows.Chunk(AtOnce))
        {
            var asks = some.Select(row =>
            {
                var taken = new NewReading(keys.Of(row.Row), row.Step, row.Shown, false, open.Head.Meter.Name, row.TakenAt ?? now, seen ?? 0) { Elsewhere = row.By.Length > 0 ? $"{source}, by {Short(row.By)}" : source };
                return new Ask(taken.Key, by, taken.TakenAt, run => run.Take(taken, by, now));
            }).ToList();
            var (answers, after) = (await ledger.AskAsync(id, asks, cancel))!.Value;
            last = after.Run.LastEvent;
            foreach (var (row, answer) in some.Zip(answers))
            {
                if (Refusal.Words(answer.Decision) is { } words)
                {
                    problems.Add(new(row.At, words));
                }
                else if (answer.Decision is Decision.Already)
                {
                    before++;
                }
                else
                {
                    stored++;
                    idle += answer.Event?.What is ReadingTaken { Bearing: not Bearing.Stands } ? 1 : 0;
                }
            }
        }

        return TypedResults.Ok(new BroughtInView(stored, before, idle, Math.Max(0, left), ProblemList.Shown(problems), last));
    }

    private static string Short(string by) => by.Length > 60 ? by[..60] + "…" : by;
}
