using System.Diagnostics.CodeAnalysis;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Runs;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Looms;
using WiseLoom.Web.Meters;
using WiseLoom.Web.People;
using WiseLoom.Web.Runs;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Bench;

/// <param name="CarryOver">Whether what an earlier revision's run proved, and the rework did not touch, counts as proven.</param>
/// <param name="LampWatts">Power of the lamp for tests under load; null when it is none.</param>
/// <param name="ResistorOhms">The resistor for them; null when it is none.</param>
/// <param name="Fitted">Refs of devices that are plugged in for the readings through them.</param>
/// <param name="Pulls">Whether crimp samples are pulled, as the shop's table says.</param>
/// <param name="Looks">Whether connectors, rings and pairs are looked at.</param>
/// <param name="SetAside">The job's current run, which this one takes the place of; null when the job has none.</param>
internal sealed record StartRequest(long MeterId, Isolation Isolation, bool CarryOver, double? LampWatts = null, double? ResistorOhms = null, long? SetAside = null, IReadOnlyList<string>? Fitted = null, bool Pulls = false, bool Looks = false);

/// <summary>A run that was started; the bench tells all of it.</summary>
/// <param name="Steps">How many it has.</param>
/// <param name="LastEvent">Number of its last event: of the last step whose proof it carried over.</param>
internal sealed record StartedView(long Id, int Steps, long LastEvent);

/// <summary>Starting a run, and what it would be.</summary>
internal static class StartEndpoints
{
    internal static void MapStart(this RouteGroupBuilder api)
    {
        api.MapGet("/jobs/{id:long}/bench", BenchAsync).IsHeavy("Opening the bench").WithSummary("The bench of a job: its current run with every step, the meters, the cautions");
        api.MapPost("/jobs/{id:long}/runs", StartAsync).IsHeavy("Making the plan").WithSummary("Start a run, in place of the current one where there is one");
        api.MapGet("/jobs/{id:long}/plan", PlanAsync).IsHeavy("Making the plan").WithSummary("What a run started now would be");
    }

    private static async Task<Results<Ok<BenchView>, ProblemHttpResult>> BenchAsync(
        long id, ClaimsPrincipal user, JobStore jobs, RunLedger ledger, RunStore runs, PresenceStore presence, MeterStore meters, TimeProvider clock, CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        var run = await ledger.CurrentAsync(job, cancel) is { } open ? RunView.Of(open, await presence.PositionAsync(open.Head.Id, user.Id(), cancel), now) : null;
        var current = await runs.CurrentOfAsync(id, cancel);
        return TypedResults.Ok(new BenchView(run, current is null ? null : StandingRunView.Of(current), [.. (await meters.AllAsync(cancel)).Select(m => MeterView.Of(m, now))], Care.BeforeBench, Care.BeforeLoad));
    }

    private static async Task<Results<Created<StartedView>, ProblemHttpResult>> StartAsync(
        long id, StartRequest request, HttpContext context, ClaimsPrincipal user, JobStore jobs, LoomLibrary looms, RunStore runs, RunLedger ledger, MeterStore meters, CarryOver carry, BenchPace pace, LimitStore limits, TimeProvider clock, CancellationToken cancel)
    {
        if (await jobs.FindAsync(id, cancel) is not { } job)
        {
            return Refusal.NotFound("job");
        }

        if (job.RevisionId is not { } revision || await looms.FindAsync(revision, cancel) is not { } loom)
        {
            return Refusal.Conflict("This job has no loom yet. Import its loom file first.");
        }

        if (await meters.FindAsync(request.MeterId, cancel) is not { Retired: false } meter)
        {
            return Refusal.Field("/meterId", "The shop has no meter with this number.");
        }

        if (!TryLoad(loom, request.LampWatts, request.ResistorOhms, out var load, out var wrong))
        {
            return wrong;
        }

        var shop = (await limits.LatestAsync(cancel)).Limits;
        if (!TryBeyond(loom, request.Fitted, request.Pulls ? shop.Pulls : null, request.Looks, out var beyond, out wrong))
        {
            return wrong;
        }

        if (await runs.CountAsync(id, cancel) >= RunStore.MostOfJob)
        {
            return Refusal.Conflict($"This job has {RunStore.MostOfJob} runs; more are not kept. Measure on in the current one.");
        }

        if (await runs.CurrentOfAsync(id, cancel) is var current && current?.Id != request.SetAside)
        {
            return Refusal.Conflict(current is null
                ? "The run to be set aside is not this job’s current one any more. Look at the bench again."
                : $"{StandingRunView.Of(current).Text} Starting another sets it aside: say so by naming it in setAside.");
        }

        context.IsAt("ordering the steps");
        var terms = PlanTerms.Usual(meter.Describe(), request.Isolation, loom.AmbientC, shop.Copper) with { Load = load, Beyond = beyond, Cost = (await pace.OfAsync(user.Id(), meter.Id, cancel)).Cost };
        var (plan, proof) = request.CarryOver ? await carry.PlanAsync(id, revision, loom, terms, cancel) : (CarryOver.Plan(loom, terms, cancel), null);
        if (plan.Steps.IsEmpty)
        {
            return Refusal.Conflict("This loom has no wire between two places that a probe can touch: there is nothing to measure.");
        }

        context.IsAt("keeping the plan");
        plan = shop.Bench.On(plan, request.Pulls, request.Looks);
        var (now, by) = (clock.GetUtcNow(), user.Hand());
        var events = (proof?.Steps ?? []).Select((c, i) => new Happened(i + 1, Guid.CreateVersion7(), by, now, c)).ToList();
        if (PlannedPowerUp.Asked(loom, shop.PowerUp) is { } asked)
        {
            events.Add(new(events.Count + 1, Guid.CreateVersion7(), by, now, new PowerUpBegun(asked)));
        }

        // What the current run leaves is worked out as it stands now; if anything is added to it before it is set aside, nothing is started.
        var old = current is null ? null : await ledger.FindAsync(current.Id, cancel);
        var inherited = old is null ? null : Inheritance.Of(old.Run, old.Head.Id, old.Head.Meter.Id);
        var begun = BenchRun.Begin(loom, plan, inherited, meter.Id).After(events);
        Replaced? replaces = old is null ? null : new(old.Head.Id, old.Run.LastEvent);
        return await runs.StartAsync(new(id, revision, meter.Id, plan, by, now, replaces, events, begun.Summary()), cancel) is { } run
            ? TypedResults.Created($"/api/jobs/{id}/bench", new StartedView(run, plan.Steps.Length, begun.LastEvent))
            : Refusal.Conflict("Somebody else started a run or brought in a loom at the same moment. Look at the bench again.");
    }

    /// <summary>What a run started now would be: how long, what its meter cannot see, and what it would carry over.</summary>
    private static async Task<Results<Ok<PlanView>, ProblemHttpResult>> PlanAsync(
        long id, long meterId, string isolation, double? lampWatts, double? resistorOhms, string[]? fitted, bool? pulls, bool? looks, ClaimsPrincipal user, JobStore jobs, LoomLibrary looms, MeterStore meters, MeterQueue queue, CarryOver carry, BenchPace pace, LimitStore limits, CancellationToken cancel)
    {
        if (!Enum.TryParse<Isolation>(isolation, ignoreCase: true, out var way))
        {
            return Refusal.Field("/isolation", "Write thorough or neighbours.");
        }

        if (await jobs.FindAsync(id, cancel) is not { RevisionId: { } revision } || await looms.FindAsync(revision, cancel) is not { } loom || await meters.FindAsync(meterId, cancel) is not { } meter)
        {
            return Refusal.NotFound("job with a loom, or meter");
        }

        if (!TryLoad(loom, lampWatts, resistorOhms, out var load, out var wrong))
        {
            return wrong;
        }

        var shop = (await limits.LatestAsync(cancel)).Limits;
        if (!TryBeyond(loom, fitted, pulls == true ? shop.Pulls : null, looks == true, out var beyond, out wrong))
        {
            return wrong;
        }

        var hands = await pace.OfAsync(user.Id(), meter.Id, cancel);
        var terms = PlanTerms.Usual(meter.Describe(), way, loom.AmbientC, shop.Copper) with { Load = load, Beyond = beyond, Cost = hands.Cost };
        var (plan, proof) = await carry.PlanAsync(id, revision, loom, terms, cancel);
        return TypedResults.Ok(PlanView.Of(plan, hands, proof) with { Devices = [.. FittedTable.Found(loom).Select(d => new PluggableView(d.Ref, d.Title))], Against = await queue.AgainstAsync(meter, loom, cancel) });
    }

    /// <summary>What is asked for beside the bare loom, once it is known that the loom is not too large for it.</summary>
    private static bool TryBeyond(Loom loom, IReadOnlyList<string>? fitted, PullTable? pulls, bool looks, [NotNullWhen(true)] out Beyond? beyond, [NotNullWhen(false)] out ProblemHttpResult? wrong)
    {
        var all = loom.Devices.Select(d => d.Ref).ToHashSet(StringComparer.Ordinal);
        var unknown = fitted?.FirstOrDefault(f => !all.Contains(f));
        wrong = unknown is not null ? Refusal.Field("/fitted", $"This loom has no device '{unknown}'.")
            : WorkLimit.TooLargeNet(WireGraph.Topology(loom).Nets, "Wires join") is { } tooLarge ? Refusal.TooLarge(tooLarge)
            : fitted is { Count: > 0 } && Together(loom, fitted) is { } tooLargeTogether ? Refusal.TooLarge(tooLargeTogether)
            : null;
        beyond = wrong is null ? new Beyond([.. (fitted ?? []).Distinct(StringComparer.Ordinal)], pulls, looks) : null;
        return beyond is not null;
    }

    private static string? Together(Loom loom, IReadOnlyList<string> fitted)
    {
        var without = loom.Devices.Select(d => d.Ref).Except(fitted, StringComparer.Ordinal).ToHashSet(StringComparer.Ordinal);
        return WorkLimit.TooLargeNet(FittedTable.For(loom, loom.AmbientC, CopperTolerance.Usual, new HashSet<string>(), without).Nets, "Wires and devices join");
    }

    /// <summary>What load tests are to be made with.</summary>
    private static bool TryLoad(Loom loom, double? lampWatts, double? resistorOhms, out LoadInHand? load, [NotNullWhen(false)] out ProblemHttpResult? wrong)
    {
        (load, wrong) = (null, (lampWatts, resistorOhms) switch
        {
            (not null, not null) => Refusal.Field("/resistorOhms", "Either a lamp or a resistor, not both."),
            ({ } watts, _) when !(watts is >= 2 and <= 100) => Refusal.Field("/lampWatts", "A lamp for load tests has 2 to 100 W."),
            (_, { } ohms) when !(ohms is >= 1 and <= 1000) => Refusal.Field("/resistorOhms", "A resistor for load tests has 1 to 1,000 Ω."),
            _ => null,
        });
        if (wrong is null)
        {
            load = lampWatts is { } watts ? LoadInHand.Lamp(watts, loom.SupplyVolts) : resistorOhms is { } ohms ? LoadInHand.Resistor(ohms) : null;
        }

        return wrong is null;
    }
}
