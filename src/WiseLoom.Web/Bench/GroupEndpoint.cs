using System.Collections.Immutable;
using System.Diagnostics;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Planning.Steps;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Shop;
using WiseLoom.Web.Http;
using WiseLoom.Web.Meters;
using WiseLoom.Web.People;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Bench;

/// <param name="Key">Made by the page, UUIDv7; sending it twice changes nothing.</param>
internal sealed record GroupRequest(Guid Key);

/// <summary>What a fixture proved by groups.</summary>
/// <param name="Proven">How many steps against all other circuits are proven.</param>
/// <param name="Left">How many have to be measured by themselves.</param>
/// <param name="Measurements">How many readings of groups it took.</param>
internal sealed record GroupView(int Proven, int Left, int Measurements, long LastEvent);

/// <summary>Isolation by groups, where a switch matrix joins many circuits on either side.</summary>
internal static class GroupEndpoint
{
    /// <summary>Fewer steps are quicker by themselves.</summary>
    private const int Worth = 4;

    /// <summary>A question takes no longer; what is left then is measured step by step.</summary>
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(20);

    internal static void MapGroups(this RouteGroupBuilder api) =>
        api.MapPost("/runs/{id:long}/groups", ProveAsync).WithSummary("Have the fixture prove steps against all other circuits together, by groups");

    private static async Task<Results<Ok<GroupView>, ProblemHttpResult>> ProveAsync(
        long id, GroupRequest request, ClaimsPrincipal user, RunLedger ledger, MeterQueue meters, TimeProvider clock, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open)
        {
            return Refusal.NotFound("run");
        }

        if (!open.Head.Meter.Matrix)
        {
            return Refusal.Field("/key", $"{open.Head.Meter.Name} has no switch matrix: steps against all others are measured one by one.");
        }

        var (run, nets) = (open.Run, WireGraph.Topology(open.Run.Loom));
        var due = run.Plan.Steps.Where(s => s is IsolationStep { Red: null } && run[s.Number].IsDue).ToList();
        if (due.Count < Worth)
        {
            return TypedResults.Ok(new GroupView(0, due.Count, 0, run.LastEvent));
        }

        // All nets of the loom are in the groups: a step is against every other, whether that has a step to do or not.
        var (points, begun) = (nets.Nets.Select(n => n.Points).ToList(), Stopwatch.GetTimestamp());
        var numbers = nets.Nets.Select((n, i) => (n.Number, i)).ToDictionary(x => x.Number, x => x.i);
        var judge = due[0];
        var taken = 0;
        GroupFinding found;
        try
        {
            found = await GroupIsolation.FindAsync(points.Count, (4 * points.Count) + 64, async (one, other) =>
            {
                ImmutableArray<Core.Looms.ProbePoint> Of(ImmutableArray<int> side) => [.. side.SelectMany(n => points[n])];
                if (Stopwatch.GetElapsedTime(begun) >= Longest)
                {
                    return false;
                }

                taken++;
                return judge.Judge(await meters.MeasureAsync(open.Head.Meter, run.Loom, new(Of(one), Of(other)), cancel), run.Plan.Meter) == Verdict.Pass;
            });
        }
        catch (MeterException e)
        {
            return MeasuredView.None(e);
        }

        ImmutableArray<int> proven = [.. due.Where(s => !found.Suspects.Contains(numbers[nets.NetOf(s.Black)!.Number])).Select(s => s.Number)];
        if (proven.IsEmpty)
        {
            return TypedResults.Ok(new GroupView(0, due.Count, taken, run.LastEvent));
        }

        var asked = await ledger.AskAsync(id, new Ask(request.Key, user.Hand(), clock.GetUtcNow(), now => now.Prove(request.Key, proven, taken, open.Head.Meter.Name, run.LastEvent)), cancel);
        var (answer, after) = asked!.Value;
        return Refusal.Of(answer.Decision) is { } refusal ? refusal : TypedResults.Ok(new GroupView(proven.Length, due.Count - proven.Length, taken, after.Run.LastEvent));
    }
}
