using System.Collections.Immutable;
using System.Globalization;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Shop;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Meters;
using WiseLoom.Web.People;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Bench;

/// <summary>A check of the run's meter as the page asks for it.</summary>
/// <param name="Do">What hands do.</param>
/// <param name="Must">What the meter must show.</param>
/// <param name="Due">Whether it is asked for now.</param>
/// <param name="Stands"><c>open</c> before the first try, <c>good</c>, <c>once</c> when it failed once and has to be repeated, <c>out</c>.</param>
/// <param name="Last">What the last try said, who made it and when; null before the first.</param>
internal sealed record CareCheckView(CheckKind Check, string Title, string Do, string Must, bool Due, string Stands, string? Last);

/// <summary>Whether the run's meter can be believed.</summary>
/// <param name="Note">Why it should be checked now, in words; null while it need not be.</param>
/// <param name="ByItself">Whether the instrument can make the checks without hands.</param>
internal sealed record CareView(string? Note, bool ByItself, ImmutableArray<CareCheckView> Checks, int Since)
{
    internal static CareView Of(OpenRun open, double linkOhms)
    {
        var (run, care) = (open.Run, open.Run.Care);
        var due = care.Due(IsOver(run));
        return new(
            NoteOf(run),
            open.Head.Meter.Matrix,
            [
                .. MeterCheck.All.Select(kind =>
                {
                    var (check, stands) = (new MeterCheck(kind, linkOhms), care[kind]);
                    return new CareCheckView(
                        kind, check.Title, check.Do, check.Must(run.Plan.Meter), due.Contains(kind), Standing(care, stands),
                        stands.Last is { What: MeterChecked last } told ? string.Create(CultureInfo.InvariantCulture, $"{last.Reading.InWords()}, {told.By.Name}, {told.At.UtcDateTime:HH:mm} UTC") : null);
                }),
            ],
            care.Since);
    }

    internal static string? NoteOf(BenchRun run)
    {
        var care = run.Care;
        return care.Due(IsOver(run)).IsEmpty ? null
            : care.IsOut ? "The meter is not right. What was read with it since it last was is asked for again; check it until all three checks pass."
            : care.IsSuspect ? "A check of the meter failed once. It may have been a bad touch: repeat it."
            : care.Checks.Any(c => c.GoodAt == 0) ? "Check the meter: not every check has been made in this run."
            : care.Since >= MeterCare.Every ? string.Create(CultureInfo.InvariantCulture, $"Check the meter: {care.Since} readings since it was last checked.")
            : "Check the meter once more: all is measured.";
    }

    private static string Standing(MeterCare care, CheckStanding stands) => stands.Suspect ? "once"
        : stands.GoodAt < care.DriftedAt ? "out"
        : stands.GoodAt == 0 ? "open" : "good";

    private static bool IsOver(BenchRun run) => run.Done == run.Plan.Steps.Length;
}

/// <param name="Key">Made by the page, UUIDv7; sending it twice changes nothing.</param>
/// <param name="Ohms">What the meter showed; null with <paramref name="OverRange"/>, or when the instrument makes the check.</param>
/// <param name="ByInstrument">Whether the run's meter makes the check itself.</param>
internal sealed record CareRequest(Guid Key, CheckKind Check, double? Ohms = null, bool OverRange = false, bool ByInstrument = false);

/// <param name="Passed">Whether the meter was right.</param>
internal sealed record CareAnswer(bool Passed, string Text, CareView Care, ProgressView Progress, long LastEvent);

/// <summary>Holding a run's meter against something that is known.</summary>
internal static class CareEndpoints
{
    internal static void MapCare(this RouteGroupBuilder api)
    {
        api.MapGet("/runs/{id:long}/care", LookAsync).WithSummary("The checks of a run's meter: what is done, what it must show, which are due");
        api.MapPost("/runs/{id:long}/care", CheckAsync).WithSummary("Note a check of the run's meter, or have the instrument make it");
    }

    private static async Task<Results<Ok<CareView>, ProblemHttpResult>> LookAsync(long id, RunLedger ledger, LimitStore limits, CancellationToken cancel) =>
        await ledger.FindAsync(id, cancel) is { } open ? TypedResults.Ok(CareView.Of(open, await LinkAsync(limits, cancel))) : Refusal.NotFound("run");

    private static async Task<Results<Ok<CareAnswer>, ProblemHttpResult>> CheckAsync(
        long id, CareRequest request, ClaimsPrincipal user, RunLedger ledger, LimitStore limits, MeterQueue meters, TimeProvider clock, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open)
        {
            return Refusal.NotFound("run");
        }

        var valued = request.Ohms is not null;
        if (request.ByInstrument ? valued || request.OverRange : valued == request.OverRange)
        {
            return Refusal.Field("/ohms", "Either what the meter showed, or over range, or the instrument makes the check: one of the three.");
        }

        var link = await LinkAsync(limits, cancel);
        var shown = request.Ohms;
        if (request.ByInstrument)
        {
            if (!open.Head.Meter.Matrix)
            {
                return Refusal.Field("/byInstrument", $"{open.Head.Meter.Name} has no switch matrix: make the check by hand and send what it shows.");
            }

            try
            {
                shown = (await meters.CheckAsync(open.Head.Meter, open.Run.Loom, request.Check, cancel)).Ohms;
            }
            catch (MeterException e)
            {
                return MeasuredView.None(e);
            }
        }

        var asked = await ledger.AskAsync(
            id,
            new Ask(request.Key, user.Hand(), clock.GetUtcNow(), run => run.Check(request.Key, request.Check, shown, link, request.ByInstrument, open.Head.Meter.Name)),
            cancel);
        var (answer, now) = asked!.Value;
        if (Refusal.Of(answer.Decision) is { } refusal)
        {
            return refusal;
        }

        var told = answer.Event ?? (await ledger.EventAsync(id, ((Decision.Already)answer.Decision).Number, cancel))!;
        var check = (MeterChecked)told.What;
        return TypedResults.Ok(new CareAnswer(check.Passed, check.Reading.InWords(), CareView.Of(now, link), ProgressView.Of(now.Run, 0), now.Run.LastEvent));
    }

    private static async Task<double> LinkAsync(LimitStore limits, CancellationToken cancel) => (await limits.LatestAsync(cancel)).Limits.KnownLinkOhms;
}
