using System.Diagnostics;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Shop;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Meters;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Bench;

/// <param name="Step">The step that the probes go to.</param>
/// <param name="Left">What was read last, where hands hold the probes: it has to be left first. Null when they come from nowhere.</param>
internal sealed record SteadyRequest(int Step, LeftReading? Left = null);

/// <param name="Ohms">Null for over range.</param>
internal sealed record LeftReading(double? Ohms);

/// <param name="Steady">Whether a reading was steady; the values say nothing when it was not.</param>
internal sealed record SteadyView(bool Steady, double? Ohms, bool OverRange);

/// <summary>Readings that are taken without a key: when the meter holds still.</summary>
internal static class HandsFreeEndpoints
{
    /// <summary>How long one question waits for a hand; the page asks again.</summary>
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(15);

    private static readonly TimeSpan Pause = TimeSpan.FromMilliseconds(15);

    internal static void MapHandsFree(this RouteGroupBuilder api) =>
        api.MapPost("/runs/{id:long}/steady", SteadyAsync).WithSummary("Look at the run's meter until a step's reading is steady; it is not stored by this");

    private static async Task<Results<Ok<SteadyView>, ProblemHttpResult>> SteadyAsync(
        long id, SteadyRequest request, RunLedger ledger, MeterQueue meters, LimitStore limits, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open)
        {
            return Refusal.NotFound("run");
        }

        if (MeasuredStep.Of(open, request.Step, out var step) is { } wrong)
        {
            return wrong;
        }

        var steadyFor = TimeSpan.FromSeconds((await limits.LatestAsync(cancel)).Limits.SteadySeconds);

        // A switch matrix closes the way to both places by itself; a hand has to leave what was read last.
        var matrix = open.Head.Meter.Matrix;
        var left = matrix || request.Left is not { } shown ? (Reading?)null : new Reading(shown.Ohms);
        var watch = new SteadyReading(open.Run.Plan.Meter, steadyFor, left, touchIsSure: matrix);
        var (probes, clock) = (StepProbes.Of(open.Run.Loom, open.Run.Plan, step!), Stopwatch.StartNew());
        try
        {
            while (clock.Elapsed < Patience)
            {
                if (watch.Look(clock.Elapsed, await meters.MeasureAsync(open.Head.Meter, open.Run.Loom, probes, cancel)) is { } reading)
                {
                    return TypedResults.Ok(new SteadyView(true, reading.Ohms, reading.IsOverRange));
                }

                await Task.Delay(Pause, cancel);
            }

            return TypedResults.Ok(new SteadyView(false, null, false));
        }
        catch (MeterException e)
        {
            return MeasuredView.None(e);
        }
    }
}
