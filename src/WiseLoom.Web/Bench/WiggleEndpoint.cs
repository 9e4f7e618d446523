using System.Collections.Immutable;
using System.Diagnostics;
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Shop;
using WiseLoom.Web.Http;
using WiseLoom.Web.Live;
using WiseLoom.Web.Meters;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Bench;

/// <param name="Step">The step that the probes are held on.</param>
internal sealed record WiggleRequest(int Step);

/// <summary>One sample of a trace.</summary>
/// <param name="Ms">Since its beginning.</param>
/// <param name="Ohms">Null for over range.</param>
/// <param name="Fails">Whether the pair is not what it must be.</param>
internal readonly record struct WiggleSample(double Ms, double? Ohms, bool Fails);

/// <summary>Some more of a trace, and what all of it comes to.</summary>
/// <param name="Worst">The value that tells most against the step, in ohms; null with <paramref name="WorstOverRange"/>.</param>
/// <param name="Words">Least, greatest and breaks, in words.</param>
/// <param name="Trouble">Why the meter gives no more, in words; null while it does.</param>
internal sealed record WiggleView(
    ImmutableArray<WiggleSample> Samples, double Seconds, int Breaks, bool Broken, double SeesSeconds, double? Worst, bool WorstOverRange, string Words, string? Trouble);

/// <summary>The reading of a step while the loom is flexed, as it goes on.</summary>
internal static class WiggleEndpoint
{
    /// <summary>Nobody flexes a loom for longer at one place.</summary>
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(60);

    private static readonly TimeSpan Batch = TimeSpan.FromMilliseconds(60);

    private static readonly TimeSpan LeastPause = TimeSpan.FromMilliseconds(1);

    internal static void MapWiggle(this RouteGroupBuilder api) =>
        api.MapPost("/runs/{id:long}/wiggle", WiggleAsync).Accepts<WiggleRequest>("application/json").WithMetadata(new StreamsEvents()).ExcludeFromDescription();

    private static async Task<Results<ServerSentEventsResult<WiggleView>, ProblemHttpResult>> WiggleAsync(
        long id, WiggleRequest request, ClaimsPrincipal user, RunLedger ledger, MeterQueue meters, PageStreams streams, HttpContext context, CancellationToken cancel) =>
        await ledger.FindAsync(id, cancel) is not { } open ? Refusal.NotFound("run")
        : MeasuredStep.Of(open, request.Step, out var step) is { } wrong ? wrong
        : streams.Open(user, context, "trace", end => TraceAsync(open, step!, meters, end));

    private static async IAsyncEnumerable<WiggleView> TraceAsync(OpenRun open, PlanStep step, MeterQueue meters, [EnumeratorCancellation] CancellationToken end)
    {
        var (meter, loom, clock) = (open.Head.Meter, open.Run.Loom, Stopwatch.StartNew());
        var (trace, probes) = (new WiggleTrace(r => step.Judge(r, open.Run.Plan.Meter)), StepProbes.Of(loom, open.Run.Plan, step));
        await meters.MoveAsync(meter, true, end);
        try
        {
            string? trouble = null;
            while (clock.Elapsed < Longest && trouble is null && !end.IsCancellationRequested)
            {
                var (samples, begun) = (ImmutableArray.CreateBuilder<WiggleSample>(), clock.Elapsed);
                do
                {
                    if (await SampleAsync(meters, meter, loom, probes, end) is var (reading, why) && reading is not { } shown)
                    {
                        trouble = why;
                        break;
                    }

                    trace.Take(clock.Elapsed, shown);
                    samples.Add(new(Math.Round(clock.Elapsed.TotalMilliseconds, 1), shown.Ohms, trace.IsBroken));
                    await PauseAsync(end);
                }
                while (clock.Elapsed - begun < Batch && !end.IsCancellationRequested);
                if (!end.IsCancellationRequested)
                {
                    yield return View(step, trace, samples.ToImmutable(), clock.Elapsed, trouble);
                }
            }
        }
        finally
        {
            await meters.MoveAsync(meter, false, CancellationToken.None);
        }
    }

    private static async Task<(Reading? Reading, string? Trouble)> SampleAsync(MeterQueue meters, Store.ShopMeter meter, Core.Looms.Loom loom, StepProbes probes, CancellationToken cancel)
    {
        try
        {
            return (await meters.MeasureAsync(meter, loom, probes, cancel), null);
        }
        catch (MeterException e)
        {
            return (null, e.Message);
        }
        catch (OperationCanceledException)
        {
            return (null, "Stopped.");
        }
    }

    /// <summary>Others who wait for the meter come in between.</summary>
    private static async Task PauseAsync(CancellationToken cancel)
    {
        try
        {
            await Task.Delay(LeastPause, cancel);
        }
        catch (OperationCanceledException)
        {
            // The hand was taken away.
        }
    }

    private static WiggleView View(PlanStep step, WiggleTrace trace, ImmutableArray<WiggleSample> samples, TimeSpan elapsed, string? trouble)
    {
        Reading? worst = step.IsJoined ? trace.Max : trace.MinOhms is { } lowest ? new Reading(lowest) : trace.Max;
        var range = trace.MinOhms is { } min ? $"{Say.Ohms(min)} to {trace.Max?.InWords()}" : trace.Samples > 0 ? "over range" : "no reading yet";
        var breaks = trace.Breaks switch { 0 => "no break", 1 => "1 break", var n => $"{n} breaks" };
        var shortest = trace.ShortestBreak is { } least ? string.Create(CultureInfo.InvariantCulture, $", the shortest {least.TotalMilliseconds:0.#} ms") : "";
        return new(samples, Math.Round(elapsed.TotalSeconds, 1), trace.Breaks, trace.IsBroken, Math.Round(trace.Sees.TotalSeconds, 4), worst?.Ohms, worst is { IsOverRange: true }, $"{range}, {breaks}{shortest}", trouble);
    }
}
