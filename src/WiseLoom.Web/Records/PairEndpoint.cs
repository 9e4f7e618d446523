using System.Collections.Immutable;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Runs;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Records;

/// <summary>One reading of a pair.</summary>
/// <param name="Mine">Whether it is of this job's loom; otherwise of another loom of the same name.</param>
/// <param name="Ohm">Null for over range.</param>
/// <param name="Counts">Whether its step stood by it when it came.</param>
/// <param name="Least">What passed then, ohms.</param>
/// <param name="Most">What passed then, ohms.</param>
internal sealed record PairLifeReadingView(
    bool Mine, long Job, string Machine, string Revision, long Run, DateTimeOffset At, string By, string Meter, double AmbientC, double? Ohm, string Text, Verdict Verdict, bool Counts, double Least, double Most, string LimitsText);

/// <summary>Resistance of a pair over this loom's life, and over all looms of the same name.</summary>
/// <param name="Words">What they come to, in a sentence.</param>
/// <param name="Readings">From the oldest.</param>
internal sealed record PairLifeView(string A, string B, string Words, ImmutableArray<PairLifeReadingView> Readings);

/// <summary>What the shop has ever read between two places.</summary>
internal static class PairEndpoint
{
    internal static void MapPairs(this RouteGroupBuilder api) =>
        api.MapGet("/jobs/{id:long}/pair", PairAsync).IsHeavy("Looking through the runs").WithSummary("Readings of a pair over this loom's life and over all looms of the same name");

    private static async Task<Results<Ok<PairLifeView>, ProblemHttpResult>> PairAsync(long id, string a, string b, JobStore jobs, PairStore pairs, CancellationToken cancel)
    {
        if (!ProbePoint.TryParse(a, out var one) || !ProbePoint.TryParse(b, out var two))
        {
            return Refusal.Field("/a", "A pair is two places, each written CONNECTOR:CAVITY, such as ECU-A:8.");
        }

        if (await jobs.FindAsync(id, cancel) is null)
        {
            return Refusal.NotFound("job");
        }

        var readings = (await pairs.OfAsync(id, one, two, cancel)).OrderBy(r => r.Event.At).ThenBy(r => r.Event.Number).ToList();
        var counting = readings.FindAll(r => r.Event.What is ReadingTaken { Bearing: Bearing.Stands, Reading.Ohms: not null }).ConvertAll(r => ((ReadingTaken)r.Event.What).Reading.Ohms!.Value);
        return TypedResults.Ok(new PairLifeView(one.ToString(), two.ToString(), Sum(counting, readings), [.. readings.Select(r => View(r, id))]));
    }

    private static PairLifeReadingView View(PairReading r, long job)
    {
        var taken = (ReadingTaken)r.Event.What;
        return new(
            r.Job == job, r.Job, r.Machine, r.Revision, r.Run, r.Event.At, r.Event.By.Name, r.Meter, r.AmbientC, taken.Reading.Ohms, taken.Reading.InWords(), taken.Verdict, taken.Bearing == Bearing.Stands,
            r.Step.Limits.Least, r.Step.Limits.Most, r.Step.Passes());
    }

    private static string Sum(List<double> counting, List<PairReading> all)
    {
        if (counting.Count == 0)
        {
            return all.Count == 0 ? "No run of a loom of this name has a step between these two places." : "No reading that counted showed a value.";
        }

        counting.Sort();
        var looms = all.Select(r => r.Job).Distinct().Count();
        return $"{counting.Count} {(counting.Count == 1 ? "reading" : "readings")} that counted, of {looms} {(looms == 1 ? "loom" : "looms")}: from {Say.Ohms(counting[0])} to {Say.Ohms(counting[^1])}, the middle one {Say.Ohms(counting[counting.Count / 2])}.";
    }
}
