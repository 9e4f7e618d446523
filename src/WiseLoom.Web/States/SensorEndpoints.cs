using System.Collections.Immutable;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Web.Http;
using WiseLoom.Web.Looms;
using WiseLoom.Web.People;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.States;

/// <summary>A point of a curve.</summary>
internal sealed record CurvePoint(double Celsius, double Ohms, string OhmsText);

/// <summary>The curve of an NTC.</summary>
/// <param name="Wrong">Why there is none; null when there is.</param>
/// <param name="Table">Every 10 K over the fitted range and 20 K beyond, for reading off.</param>
/// <param name="Curve">Finer, for drawing.</param>
internal sealed record NtcView(string? Wrong, double A, double B, double C, double Beta, ImmutableArray<NtcPoint> Points, ImmutableArray<CurvePoint> Table, ImmutableArray<CurvePoint> Curve);

/// <summary>A sensor of a loom.</summary>
/// <param name="Ntc">Its curve; null for a transducer.</param>
/// <param name="Scale">Volts and units; null for an NTC, or when the file does not say.</param>
internal sealed record SensorView(string Ref, string Title, string Kind, ImmutableArray<string> At, NtcView? Ntc, TransducerScale? Scale);

internal sealed record FitRequest(ImmutableArray<NtcPoint> Points);

internal sealed record NtcReadingRequest(ImmutableArray<NtcPoint> Points, double Ohms);

/// <summary>The temperature for a reading.</summary>
internal sealed record NtcReadingView(double? Celsius, string Sentence);

internal sealed record TransducerReadingRequest(TransducerScale Scale, double Volts);

internal sealed record TransducerReadingView(double Units, string Sentence);

internal sealed record SenderRequest(ImmutableArray<SenderPoint> Sender, ImmutableArray<SenderPoint> Gauge);

internal sealed record UnknownRequest(ImmutableArray<PinReading> Readings);

internal sealed record UnknownView(ImmutableArray<SensorGuess> Guesses, string Caution);

internal static class SensorEndpoints
{
    private const int MostPoints = 200;

    internal static void MapSensors(this RouteGroupBuilder api)
    {
        api.MapGet("/revisions/{id:long}/sensors", OfLoomAsync).IsHeavy("Listing sensors").WithSummary("Sensors of a loom with their curves");
        api.MapPost("/sensors/fit", Fit).WithMetadata(new ChangesNothing()).WithSummary("The curve through three temperatures");
        api.MapPost("/sensors/temperature", Temperature).WithMetadata(new ChangesNothing()).WithSummary("The temperature for a resistance");
        api.MapPost("/sensors/units", Units).WithMetadata(new ChangesNothing()).WithSummary("Units for a voltage");
        api.MapPost("/sensors/gauge", Gauge).WithMetadata(new ChangesNothing()).WithSummary("How far a gauge would be off with a sender");
        api.MapPost("/sensors/unknown", Unknown).WithMetadata(new ChangesNothing()).WithSummary("What an unknown sensor may be");
    }

    private static async Task<Results<Ok<List<SensorView>>, ProblemHttpResult>> OfLoomAsync(long id, LoomLibrary looms, CancellationToken cancel) =>
        await looms.FindAsync(id, cancel) is { } loom
            ? TypedResults.Ok(loom.Devices.Where(d => d.Model is NtcModel or TransducerModel).Select(d => new SensorView(
                d.Ref, d.Title, d.Kind, [.. d.Pins.Values.Select(p => p.ToString())], d.Model is NtcModel ntc ? View(ntc.Fit) : null, (d.Model as TransducerModel)?.Scale)).ToList())
            : Refusal.NotFound("loom");

    private static Results<Ok<NtcView>, ProblemHttpResult> Fit(FitRequest request) =>
        TooMany(request.Points.Length) ?? (Results<Ok<NtcView>, ProblemHttpResult>)TypedResults.Ok(View(NtcFit.Through(request.Points)));

    private static Results<Ok<NtcReadingView>, ProblemHttpResult> Temperature(NtcReadingRequest request)
    {
        if (TooMany(request.Points.Length) is { } refused)
        {
            return refused;
        }

        if (!(request.Ohms > 0))
        {
            return Refusal.Field("/ohms", "A reading above 0 Ω is needed.");
        }

        var fit = NtcFit.Through(request.Points);
        if (fit.Wrong is { } wrong)
        {
            return TypedResults.Ok(new NtcReadingView(null, wrong));
        }

        var celsius = fit.CelsiusAt(request.Ohms);
        var outside = request.Ohms > fit.Points[0].Ohms || request.Ohms < fit.Points[^1].Ohms;
        return TypedResults.Ok(new NtcReadingView(celsius, FormattableString.Invariant($"{Say.Ohms(request.Ohms)} is {celsius:0.0} °C.{(outside ? " This lies outside the fitted points, where a curve is a guess." : "")}")));
    }

    private static Results<Ok<TransducerReadingView>, ProblemHttpResult> Units(TransducerReadingRequest request)
    {
        if (request.Scale.Wrong() is { } wrong)
        {
            return Refusal.Field(wrong.At, wrong.Message);
        }

        if (!(Math.Abs(request.Volts) <= 1e6))
        {
            return Refusal.Field("/volts", "A voltage lies between -1,000,000 and 1,000,000 V.");
        }

        var units = request.Scale.UnitsAt(request.Volts);
        var (low, high) = (Math.Min(request.Scale.LowVolts, request.Scale.HighVolts), Math.Max(request.Scale.LowVolts, request.Scale.HighVolts));
        var outside = request.Volts < low || request.Volts > high;
        return TypedResults.Ok(new TransducerReadingView(units, FormattableString.Invariant($"{Say.Volts(request.Volts)} is {units:0.##} {request.Scale.Unit}.{(outside ? " This lies outside its two points: look for a broken wire or a missing ground first." : "")}")));
    }

    private static Results<Ok<SenderAndGauge>, ProblemHttpResult> Gauge(SenderRequest request)
    {
        if (TooMany(Math.Max(request.Sender.Length, request.Gauge.Length)) is { } refused)
        {
            return refused;
        }

        var (pair, wrong) = SenderAndGauge.Of(request.Sender, request.Gauge);
        return pair is null ? Refusal.Field("/sender", wrong!) : TypedResults.Ok(pair);
    }

    private static Results<Ok<UnknownView>, ProblemHttpResult> Unknown(UnknownRequest request) =>
        TooMany(request.Readings.Length) ?? (Results<Ok<UnknownView>, ProblemHttpResult>)TypedResults.Ok(new UnknownView(UnknownSensor.Advise(request.Readings), UnknownSensor.Caution));

    private static ProblemHttpResult? TooMany(int count) => count > MostPoints ? Refusal.Field("", $"At most {MostPoints} points are taken.") : null;

    private static NtcView View(NtcFit fit)
    {
        if (fit.Wrong is not null)
        {
            return new(fit.Wrong, 0, 0, 0, 0, fit.Points, [], []);
        }

        var (low, high) = (fit.Points[0].Celsius, fit.Points[^1].Celsius);
        ImmutableArray<CurvePoint> From(double start, double end, double step) =>
        [
            .. Enumerable.Range(0, (int)Math.Floor((end - start) / step) + 1).Select(i => start + (i * step))
                .Select(c => (Celsius: c, Ohms: fit.OhmsAt(c))).Where(x => !double.IsNaN(x.Ohms))
                .Select(x => new CurvePoint(x.Celsius, x.Ohms, Say.Ohms(x.Ohms))),
        ];
        return new(null, fit.A, fit.B, fit.C, fit.Beta, fit.Points,
            From((Math.Floor(low / 10) * 10) - 20, (Math.Ceiling(high / 10) * 10) + 20, 10),
            From(low - 20, high + 20, (high - low + 40) / 80));
    }
}
