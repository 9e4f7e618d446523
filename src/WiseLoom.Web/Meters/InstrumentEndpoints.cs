using System.Collections.Immutable;
using System.Globalization;
using System.Security.Claims;
using Microsoft.AspNetCore.Http.HttpResults;
using Npgsql;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Shop;
using WiseLoom.Store;
using WiseLoom.Web.Http;

namespace WiseLoom.Web.Meters;

/// <summary>What a meter is entered as.</summary>
/// <param name="Profile"><c>bench-four-wire</c>, <c>hand-two-wire</c>, or <c>own</c> with figures.</param>
/// <param name="Host">Where on the network it answers; null, without a serial port either, for a meter that is read by eye.</param>
/// <param name="Serial">How it is spoken to at a serial port of the server; only without an address.</param>
/// <param name="Matrix">Whether it closes the way to both places by itself.</param>
/// <param name="Figures">Only with the profile <c>own</c>.</param>
internal sealed record InstrumentRequest(
    string Name, string Profile, string? Host = null, int? Port = null, bool Matrix = false, DateOnly? Calibrated = null, DateOnly? CalibrationDue = null, bool Retired = false, FiguresView? Figures = null, SerialWay? Serial = null);

/// <summary>A meter's figures.</summary>
/// <param name="TouchOhms">How far one touch differs from the next, worst case.</param>
/// <param name="LeadOhms">What the leads add before they are nulled.</param>
internal sealed record FiguresView(bool FourWire, double TouchOhms, double LeadOhms, ImmutableArray<MeterRange> Ranges)
{
    internal static FiguresView Of(Meter meter) => new(meter.FourWire, meter.TouchOhms, meter.LeadOhms, meter.Ranges);
}

/// <summary>A meter of the shop with its past.</summary>
/// <param name="Told">What it can and cannot tell, in a sentence.</param>
/// <param name="Overdue">What is wrong with its calibration, in words; null when nothing is.</param>
/// <param name="LastCheck">What the last check at a bench said; null before the first.</param>
/// <param name="LastCheckPassed">Whether it was right then.</param>
internal sealed record InstrumentView(
    long Id, string Name, string Profile, string? Host, int? Port, bool Matrix, DateOnly? Calibrated, DateOnly? CalibrationDue, bool Retired, FiguresView Figures, string Told, string? Overdue, string? LastCheck, bool? LastCheckPassed, int Version, bool Answers, SerialWay? Serial)
{
    internal static InstrumentView Of(ShopMeter m, LastCheck? check, DateTimeOffset now) => new(
        m.Id, m.Name, m.Profile, m.Host, m.Port, m.Matrix, m.Calibrated, m.CalibrationDue, m.Retired, FiguresView.Of(m.Describe()), Tell(m.Describe()), m.Overdue(now),
        check is null ? null : string.Create(CultureInfo.InvariantCulture, $"{(check.Passed ? "right" : "wrong")} on {check.At.UtcDateTime:yyyy-MM-dd HH:mm} UTC, {check.By}"), check?.Passed, m.Version, m.Answers, m.Serial);

    private static string Tell(Meter m) => $"{(m.FourWire ? "Four leads" : "Two leads")}, steps of {Say.Ohms(m.Ranges[0].ResolutionOhms)}, up to {Say.Ohms(m.UpToOhms)}; a short is known to {Say.Ohms(m.Uncertainty(0))}.";
}

/// <summary>What came of trying a meter.</summary>
/// <param name="Identity">As it names itself; null when it does not answer.</param>
/// <param name="Loom">The loom that a stand-in carries; null for a real meter.</param>
/// <param name="Milliseconds">How long one question took.</param>
/// <param name="Problem">Why it gave no answer, in words; null when it did.</param>
/// <param name="Line">The last line of a meter that sends lines.</param>
/// <param name="Reads">What that line says, in words.</param>
internal sealed record TriedView(string? Identity, string? Loom, double? Milliseconds, string? Problem, string? Line, string? Reads);

/// <summary>The shop's meters: entering, trying and retiring them.</summary>
internal static class InstrumentEndpoints
{
    internal static void MapInstruments(this RouteGroupBuilder api)
    {
        api.MapGet("/instruments", async (MeterStore meters, TimeProvider clock, CancellationToken cancel) => (await meters.WithPastAsync(cancel)).Select(m => InstrumentView.Of(m.Meter, m.Check, clock.GetUtcNow())).ToImmutableArray())
            .WithSummary("The shop's meters, the retired ones too");
        api.MapPost("/instruments", AddAsync).RequireAuthorization(Role.Lead).WithSummary("Enter a meter; a lead's");
        api.MapPut("/instruments/{id:long}", ChangeAsync).RequireAuthorization(Role.Lead).WithSummary("Change a meter; a lead's");
        api.MapPost("/instruments/{id:long}/try", TryAsync).WithSummary("Ask a meter who it is");
    }

    private static async Task<Results<Created<InstrumentView>, ProblemHttpResult>> AddAsync(InstrumentRequest request, MeterStore meters, InstrumentNetworks networks, SerialPorts ports, TimeProvider clock, CancellationToken cancel)
    {
        if (await ProblemsAsync(request, null, networks, ports, cancel) is { IsEmpty: false } problems)
        {
            return Refusal.Because("This meter cannot be entered as it is.", problems);
        }

        return await meters.AddAsync(Filled(request, 0, 1), cancel) is { } id
            ? TypedResults.Created($"/api/instruments/{id}", InstrumentView.Of((await meters.FindAsync(id, cancel))!, null, clock.GetUtcNow()))
            : Taken();
    }

    private static async Task<Results<Ok<InstrumentView>, ProblemHttpResult>> ChangeAsync(
        long id, InstrumentRequest request, HttpContext context, MeterStore meters, InstrumentNetworks networks, SerialPorts ports, TimeProvider clock, CancellationToken cancel)
    {
        if (EntityVersion.Asked(context) is not { } version)
        {
            return EntityVersion.Missing("meter");
        }

        if (await meters.FindAsync(id, cancel) is not { } before)
        {
            return Refusal.NotFound("meter");
        }

        if (await ProblemsAsync(request, before.Serial?.Port, networks, ports, cancel) is { IsEmpty: false } problems)
        {
            return Refusal.Because("This meter cannot be kept as it is.", problems);
        }

        try
        {
            var changed = await meters.ChangeAsync(Filled(request, id, version), cancel);
            var (meter, check) = (await meters.WithPastAsync(cancel)).Find(m => m.Meter.Id == id);
            var view = InstrumentView.Of(meter, check, clock.GetUtcNow());
            return changed ? TypedResults.Ok(view) : EntityVersion.Overtaken("meter", view);
        }
        catch (PostgresException e) when (e.SqlState == PostgresErrorCodes.UniqueViolation)
        {
            return Taken();
        }
    }

    private static async Task<Results<Ok<TriedView>, ProblemHttpResult>> TryAsync(long id, ClaimsPrincipal user, MeterStore meters, MeterQueue queue, CancellationToken cancel)
    {
        if (await meters.FindAsync(id, cancel) is not { } meter)
        {
            return Refusal.NotFound("meter");
        }

        try
        {
            return TypedResults.Ok(await queue.TryAsync(meter, cancel));
        }
        catch (MeterException e)
        {
            // What answers at an address is for who may name one; to others closed, hung up and flooding are one. A port of the server hides nothing.
            return TypedResults.Ok(new TriedView(null, null, null, user.IsInRole(Role.Lead) || meter.Serial is not null ? e.Message : $"{meter.Name} does not answer as a meter does. A lead is told more.", null, null));
        }
    }

    private static async Task<ImmutableArray<Problem>> ProblemsAsync(InstrumentRequest request, string? had, InstrumentNetworks networks, SerialPorts ports, CancellationToken cancel)
    {
        var problems = Problems(request, had, ports);
        return problems.IsEmpty && request is { Host: { } host, Port: { } port } && (await networks.FindAsync(host, port, cancel)).Wrong is { } wrong ? [new("/host", wrong)] : problems;
    }

    private static ImmutableArray<Problem> Problems(InstrumentRequest request, string? had, SerialPorts ports)
    {
        var problems = ImmutableArray.CreateBuilder<Problem>();
        if (request.Name.Trim().Length is 0 or > 80)
        {
            problems.Add(new("/name", "A meter's name has 1 to 80 characters."));
        }

        if (!MeterRules.Profiles.Contains(request.Profile))
        {
            problems.Add(new("/profile", $"Write one of: {string.Join(", ", MeterRules.Profiles)}."));
        }
        else if (request.Profile == "own" != request.Figures is not null)
        {
            problems.Add(new("/figures", "Figures come with the profile own, and only with it."));
        }

        if (request is { Calibrated: { } on, CalibrationDue: { } due } && due < on)
        {
            problems.Add(new("/calibrationDue", "The next calibration comes after the last one."));
        }

        problems.AddRange(MeterRules.OfAddress(request.Host, request.Port, request.Serial, request.Matrix));
        // A port that was pulled out stands in the way of nothing else about its meter.
        problems.AddRange(request.Serial?.Problems([.. ports.Names(), .. had is null ? [] : new[] { had }]).Select(p => p with { At = "/serial" + p.At }) ?? []);
        if (request.Figures is { } figures)
        {
            problems.AddRange(MeterRules.OfFigures(Described(figures, request.Name)));
        }

        return problems.ToImmutable();
    }

    private static ShopMeter Filled(InstrumentRequest r, long id, int version) => new(id, r.Name.Trim(), r.Profile, r.Host, r.Port)
    {
        Figures = r.Figures is { } figures ? Described(figures, r.Name.Trim()) : null,
        Serial = r.Serial,
        Matrix = r.Matrix,
        Calibrated = r.Calibrated,
        CalibrationDue = r.CalibrationDue,
        Retired = r.Retired,
        Version = version,
    };

    private static Meter Described(FiguresView f, string name) => new(name, f.Ranges, f.FourWire, f.TouchOhms, f.LeadOhms);

    private static ProblemHttpResult Taken() => Refusal.Because("This meter cannot be entered as it is.", [new("/name", "The shop has a meter of that name already, perhaps a retired one.")], StatusCodes.Status409Conflict);
}
