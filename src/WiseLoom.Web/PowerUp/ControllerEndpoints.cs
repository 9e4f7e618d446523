using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Runs;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Live;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.PowerUp;

/// <param name="Check">The check that drives it: its cautions must have been seen, and its stage be open.</param>
/// <param name="CautionsSeen">Whether they were.</param>
/// <param name="Times">1 to 20.</param>
/// <param name="OnMs">1 to 1,000.</param>
/// <param name="OffMs">0 to 1,000.</param>
internal sealed record DriveRequest(string Controller, string Check, bool CautionsSeen, int Times, int OnMs, int OffMs);

/// <param name="Amps">What it drew; null when the controller does not say.</param>
internal sealed record DrivenView(int Times, double? Amps);

/// <param name="Controller">Its name.</param>
internal sealed record ControllerNamed(string Controller);

/// <summary>A stored code.</summary>
/// <param name="Reason">Why it has to be there; null when it has to be explained.</param>
internal sealed record CodeView(string Code, string Text, string? Reason);

/// <summary>Codes that are stored, and those that should be and are not.</summary>
internal sealed record CodesView(ImmutableArray<CodeView> Codes, ImmutableArray<CodeView> Missing);

/// <summary>One trigger's edges.</summary>
/// <param name="EdgesUs">Microseconds from the begin of the log.</param>
/// <param name="Gaps">Numbers of the edges that end a long gap.</param>
/// <param name="Odd">Numbers of edges that are lost before or too many.</param>
internal sealed record TriggerView(string Device, string Title, string Wheel, ImmutableArray<double> EdgesUs, double Rpm, ImmutableArray<int> Gaps, ImmutableArray<int> Odd, ImmutableArray<string> Findings);

/// <summary>A log of all triggers, judged.</summary>
/// <param name="Sync">What cam and crank say together; empty when they agree, null without both.</param>
/// <param name="Cylinders">Slow places in two turns; null when they cannot be told.</param>
internal sealed record TriggerLogView(double Ms, ImmutableArray<TriggerView> Triggers, ImmutableArray<string>? Sync, int? Cylinders);

/// <summary>A controller over its line: live values, codes, settings, outputs, logs.</summary>
internal static class ControllerEndpoints
{
    private const int MostTimes = 20, MostMs = 1000, PerSecond = 20;

    internal static void MapController(this RouteGroupBuilder api)
    {
        api.MapGet("/jobs/{id:long}/power-up/live", LiveAsync).WithMetadata(new StreamsEvents()).ExcludeFromDescription();
        api.MapGet("/jobs/{id:long}/power-up/codes", CodesAsync).WithSummary("Codes that a controller stores, each with the reason why it has to be there");
        api.MapGet("/jobs/{id:long}/power-up/settings", SettingsAsync).WithSummary("The settings sheet, beside what a controller has");
        api.MapGet("/jobs/{id:long}/power-up/log", LogAsync).WithSummary("A log of the triggers, judged");
        api.MapPost("/jobs/{id:long}/power-up/drive", DriveAsync).WithSummary("Drive an output for a check: it is off again when this answers, and when the caller hangs up");
        api.MapPost("/jobs/{id:long}/power-up/stop", StopAsync).WithSummary("Switch off whatever is driven");
        api.MapPost("/jobs/{id:long}/power-up/put", PutAsync).WithSummary("Turn the key of a simulated engine to where a check needs it; a real one is turned by hand");
    }

    private static async Task<Results<ServerSentEventsResult<ImmutableArray<LiveValue>>, ProblemHttpResult>> LiveAsync(
        long id, string controller, ClaimsPrincipal user, JobStore jobs, LimitStore limits, InstrumentNetworks networks, PageStreams streams, HttpContext context, CancellationToken cancel) =>
        await jobs.FindAsync(id, cancel) is null ? Refusal.NotFound("job")
        : await ControllerDesk.FindAsync(networks, (await limits.LatestAsync(cancel)).Limits.PowerUp, controller, cancel) is not { } line ? Refusal.NotFound("controller")
        : streams.Open(user, context, "live", end => FollowAsync(line, end));

    /// <summary>Live values until the controller falls silent: the page is told by the end of its stream, and asks again.</summary>
    private static async IAsyncEnumerable<ImmutableArray<LiveValue>> FollowAsync(IController line, [EnumeratorCancellation] CancellationToken end)
    {
        await using var values = line.WatchAsync(PerSecond, end).GetAsyncEnumerator(end);
        while (true)
        {
            try
            {
                if (!await values.MoveNextAsync())
                {
                    yield break;
                }
            }
            catch (ControllerException)
            {
                yield break;
            }

            yield return values.Current;
        }
    }

    private static async Task<Results<Ok<CodesView>, ProblemHttpResult>> CodesAsync(
        long id, string controller, JobStore jobs, RunLedger ledger, LimitStore limits, PowerUpPlans plans, InstrumentNetworks networks, CancellationToken cancel) =>
        await WithAsync(id, controller, jobs, ledger, limits, plans, networks, async (line, planned) =>
        {
            var stored = await line.CodesAsync(cancel);
            var expected = ExpectedCodes.Of(planned.Open.Run.Loom, planned.Plan.Fit, planned.Open.Run.Loom.AmbientC);
            return new CodesView(
                [.. stored.Select(c => new CodeView(c.Code, c.Text, expected.FirstOrDefault(e => e.Code.Code == c.Code)?.Reason))],
                [.. expected.Where(e => stored.All(c => c.Code != e.Code.Code)).Select(e => new CodeView(e.Code.Code, e.Code.Text, e.Reason))]);
        }, cancel);

    private static async Task<Results<Ok<ImmutableArray<SettingRowView>>, ProblemHttpResult>> SettingsAsync(
        long id, string? controller, JobStore jobs, RunLedger ledger, LimitStore limits, PowerUpPlans plans, InstrumentNetworks networks, CancellationToken cancel)
    {
        if (await PowerUpEndpoints.PlannedAsync(id, jobs, ledger, limits, plans, cancel) is not { } planned)
        {
            return Refusal.NotFound("power-up");
        }

        var sheet = SettingsSheet.Of(planned.Open.Run.Loom);
        ImmutableDictionary<string, ControllerSetting>? reported = null;
        if (await ControllerDesk.FindAsync(networks, planned.Template, controller, cancel) is { } line)
        {
            try
            {
                reported = ControllerDesk.Named(await line.SettingsAsync(cancel));
            }
            catch (ControllerException e)
            {
                return Refusal.Conflict(e.Message, "urn:wise-loom:controller");
            }
        }

        return TypedResults.Ok(sheet.Rows.Select(r => reported?.GetValueOrDefault(r.Setting.Name) is { } has
            ? new SettingRowView(r.Setting.Name, r.Setting.Text, r.Why, has.Text, !has.IsSame(r.Setting)) : new SettingRowView(r.Setting.Name, r.Setting.Text, r.Why, null, false))
            .OrderByDescending(r => r.Differs).ToImmutableArray());
    }

    private static async Task<Results<Ok<TriggerLogView>, ProblemHttpResult>> LogAsync(
        long id, string controller, int ms, JobStore jobs, RunLedger ledger, LimitStore limits, PowerUpPlans plans, InstrumentNetworks networks, CancellationToken cancel) => ms is < 100 or > 10_000
        ? Refusal.Field("/ms", "A log is 100 to 10,000 ms long.")
        : await WithAsync(id, controller, jobs, ledger, limits, plans, networks, async (line, planned) => Judged(planned.Open.Run.Loom, await line.LogAsync(ms, cancel)), cancel);

    private static async Task<Results<Ok<DrivenView>, ProblemHttpResult>> DriveAsync(
        long id, DriveRequest request, JobStore jobs, RunLedger ledger, LimitStore limits, PowerUpPlans plans, InstrumentNetworks networks, HttpContext context, CancellationToken cancel)
    {
        if (request.Times is < 1 or > MostTimes || request.OnMs is < 1 or > MostMs || request.OffMs is < 0 or > MostMs)
        {
            return Refusal.Field("/times", $"An output is driven 1 to {MostTimes} times, each on for 1 to {MostMs:#,0} and off for 0 to {MostMs:#,0} ms.");
        }

        return await WithAsync(id, request.Controller, jobs, ledger, limits, plans, networks, async (line, planned) =>
        {
            if (planned.Plan.Checks.FirstOrDefault(c => c.Id == request.Check) is not { Output: { } output } check)
            {
                throw new ControllerException("Only a check of an output drives one.");
            }

            if (PowerUpEndpoints.Locked(planned.Open.Run, check) is { } locked)
            {
                throw new ControllerException(locked);
            }

            if (!check.Cautions.IsEmpty && !request.CautionsSeen)
            {
                throw new ControllerException("The cautions of this check come first: read them, then drive.");
            }

            if (await line.PracticeAsync(cancel) is { } practice)
            {
                await practice.PutAsync(check, cancel);
            }

            // Whoever hangs up cuts the line, and the controller switches off.
            var driven = await line.DriveAsync(output, request.Times, request.OnMs, request.OffMs, context.RequestAborted);
            return new DrivenView(driven.Times, driven.Amps);
        }, cancel);
    }

    private static async Task<Results<Ok<ControllerNamed>, ProblemHttpResult>> StopAsync(long id, ControllerNamed request, JobStore jobs, RunLedger ledger, LimitStore limits, PowerUpPlans plans, InstrumentNetworks networks, CancellationToken cancel) =>
        await WithAsync(id, request.Controller, jobs, ledger, limits, plans, networks, async (line, _) =>
        {
            await line.StopAsync(cancel);
            return request;
        }, cancel);

    private static async Task<Results<Ok<ControllerNamed>, ProblemHttpResult>> PutAsync(long id, string check, ControllerNamed request, JobStore jobs, RunLedger ledger, LimitStore limits, PowerUpPlans plans, InstrumentNetworks networks, CancellationToken cancel) =>
        await WithAsync(id, request.Controller, jobs, ledger, limits, plans, networks, async (line, planned) =>
        {
            var put = planned.Plan.Checks.FirstOrDefault(c => c.Id == check) ?? throw new ControllerException("This power-up has no such check.");
            if (put.Output is not null && PowerUpEndpoints.Locked(planned.Open.Run, put) is { } locked)
            {
                throw new ControllerException(locked);
            }

            if (await line.PracticeAsync(cancel) is { } practice)
            {
                await practice.PutAsync(put, cancel);
            }

            return request;
        }, cancel);

    private static async Task<Results<Ok<T>, ProblemHttpResult>> WithAsync<T>(
        long id, string? controller, JobStore jobs, RunLedger ledger, LimitStore limits, PowerUpPlans plans, InstrumentNetworks networks, Func<IController, (OpenRun Open, PowerUpPlan Plan, PowerUpTemplate Template), Task<T>> ask, CancellationToken cancel)
    {
        if (await PowerUpEndpoints.PlannedAsync(id, jobs, ledger, limits, plans, cancel) is not { } planned)
        {
            return Refusal.NotFound("power-up");
        }

        if (await ControllerDesk.FindAsync(networks, planned.Template, controller, cancel) is not { } line)
        {
            return Refusal.Field("/controller", "The shop has no controller of this name.");
        }

        try
        {
            return TypedResults.Ok(await ask(line, planned));
        }
        catch (ControllerException e)
        {
            return Refusal.Conflict(e.Message, "urn:wise-loom:controller");
        }
    }

    private static TriggerLogView Judged(Loom loom, TriggerLog log)
    {
        var wheels = loom.Devices.Where(d => d.Trigger is not null).ToList();
        ImmutableArray<double> Edges(Device d) => log.Edges.GetValueOrDefault(d.Ref, []);
        var views = wheels.ConvertAll(d => (Device: d, Judged: TriggerJudge.Of(d, Edges(d), log.Ms)));
        var (crank, cam) = (wheels.Find(d => d.Trigger is { PerTurn: 1, Missing: > 0 }), wheels.Find(d => d.Trigger is { PerTurn: 0.5 }));
        return new(
            log.Ms,
            [.. views.Select(v => new TriggerView(v.Device.Ref, v.Device.Title, v.Device.Trigger!.InWords(), Edges(v.Device), v.Judged.Rpm, v.Judged.Gaps, v.Judged.Odd, v.Judged.Findings))],
            crank is not null && cam is not null ? TriggerJudge.Sync(crank, Edges(crank), cam, Edges(cam)).Findings : null,
            crank is not null && Compressions.Of(crank.Trigger!, Edges(crank), views.First(v => v.Device == crank).Judged.Gaps).Cylinders is > 0 and var cylinders ? cylinders : null);
    }
}
