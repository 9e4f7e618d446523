using System.Collections.Immutable;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Looms;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.States;

/// <summary>What a wire carries at its worst, in words.</summary>
internal sealed record WireLoadView(string Wire, string? Circuit, string Section, KeyPosition Worst, string Amps, double AmpsNumber, string Drop, string DropShare, string MayCarry, int Bundle, RiseClass Rise, string RiseText, bool Flagged);

internal sealed record CableView(ImmutableArray<WireLoadView> Wires, ImmutableArray<CableFlag> Flags, string Limits);

/// <summary>One reading of the one-end test, in words.</summary>
internal sealed record OneEndView(string Red, string Black, string Reads, string? Reversed, ImmutableArray<string> Devices, ImmutableArray<string> Wires, string Notices);

internal sealed record OneEndTestView(ImmutableArray<string> Plugs, ImmutableArray<OneEndView> Readings, ImmutableArray<string> Alone, ImmutableArray<string> LeftOut, double AmbientC);

internal static class StateEndpoints
{
    /// <summary>More conditions than any loom has; a request with more is refused.</summary>
    private const int MostConditions = 200;

    internal static void MapStates(this RouteGroupBuilder api)
    {
        api.MapGet("/revisions/{id:long}/state", StateAsync).IsHeavy("Working out the state").WithSummary("What a loom shows in a key position");
        api.MapGet("/revisions/{id:long}/explanation", ExplanationAsync).IsHeavy("Explaining the point").WithSummary("What a point shows, and why");
        api.MapGet("/revisions/{id:long}/cable", CableAsync).IsHeavy("Checking cable and fuses").WithSummary("What each wire carries and loses, and whether its fuse protects it");
        api.MapGet("/revisions/{id:long}/one-end", OneEndAsync).IsHeavy("Working out the one-end test").WithSummary("What can be read from one plug with everything fitted");
    }

    private static async Task<Results<Ok<StateView>, ProblemHttpResult>> StateAsync(
        long id, string? key, string[]? set, LoomLibrary looms, StateLibrary library, CancellationToken cancel)
    {
        if (await looms.FindAsync(id, cancel) is not { } loom)
        {
            return Refusal.NotFound("loom");
        }

        if (Asked(key, set) is not { } situation)
        {
            return Wrong();
        }

        if (WorkLimit.TooManyWires(loom, WorkLimit.MostPowered) is { } tooLarge)
        {
            return Refusal.TooLarge(tooLarge);
        }

        var states = library.Of(id, loom);
        return TypedResults.Ok(StateView.Of(states, states.At(situation, withProbes: false)));
    }

    private static async Task<Results<Ok<ExplanationView>, ProblemHttpResult>> ExplanationAsync(
        long id, string point, string? key, string[]? set, LoomLibrary looms, StateLibrary library, CancellationToken cancel)
    {
        if (await looms.FindAsync(id, cancel) is not { } loom)
        {
            return Refusal.NotFound("loom");
        }

        if (Asked(key, set) is not { } situation)
        {
            return Wrong();
        }

        if (!ProbePoint.TryParse(point, out var asked) || !loom.WiresAt(asked).Any())
        {
            return Refusal.Field("/point", $"'{point}' is no cavity with a wire; write CONNECTOR:CAVITY.");
        }

        if (WorkLimit.TooManyWires(loom, WorkLimit.MostPowered) is { } tooLarge)
        {
            return Refusal.TooLarge(tooLarge);
        }

        var states = library.Of(id, loom);
        return TypedResults.Ok(ExplanationView.Of(states.Explain(situation, asked), states.At(situation, withProbes: false).SupplyVolts));
    }

    private static async Task<Results<Ok<CableView>, ProblemHttpResult>> CableAsync(long id, LoomLibrary looms, StateLibrary library, LimitStore limits, CancellationToken cancel)
    {
        if (await looms.FindAsync(id, cancel) is not { } loom)
        {
            return Refusal.NotFound("loom");
        }

        if (WorkLimit.TooManyWires(loom, WorkLimit.MostChecked) is { } tooLarge)
        {
            return Refusal.TooLarge(tooLarge);
        }

        var states = library.Of(id, loom);
        var shop = (await limits.LatestAsync(cancel)).Limits.Cable;
        // At its worst: every condition that the loom knows, and outputs as the key position has them.
        var report = CableReport.Of(loom, states.InAllPositions([.. states.Conditions], withProbes: false), shop);
        var flagged = report.Flags.Select(f => f.About).ToHashSet(StringComparer.Ordinal);
        return TypedResults.Ok(new CableView(
            [.. loom.Wires.Zip(report.Wires).Select(x => View(x.First, x.Second, flagged))],
            report.Flags,
            FormattableString.Invariant($"A feed may lose {shop.FeedDrop:0.#%} of the supply, a sensor ground {shop.SensorGroundDrop:0.#%}; a fuse carries at most {shop.FuseLoad:0%} of its rating; insulation for {shop.InsulationC:0} °C, {CableLimits.RiseK:0} K of warming at most.")));
    }

    private static WireLoadView View(Wire wire, WireLoad load, HashSet<string> flagged) => new(
        wire.Id, wire.Circuit, wire.Section.ToString(), load.Worst, Say.Amps(load.Amps), load.Amps, Say.Volts(load.DropVolts), FormattableString.Invariant($"{load.DropShare:0.0%}"),
        Say.Amps(load.MayCarry), load.Bundle, load.Rise, FormattableString.Invariant($"{load.RiseK:0} K"), flagged.Contains(wire.Id));

    private static async Task<Results<Ok<OneEndTestView>, ProblemHttpResult>> OneEndAsync(
        long id, string? plugs, string[]? set, string? meter, LoomLibrary looms, LimitStore limits, CancellationToken cancel)
    {
        if (await looms.FindAsync(id, cancel) is not { } loom)
        {
            return Refusal.NotFound("loom");
        }

        ImmutableArray<string> chosen = plugs is { Length: > 0 }
            ? [.. plugs.Split(',')]
            : [.. loom.Devices.Where(d => d.Model is ControllerModel).SelectMany(d => d.Pins.Values).Select(p => p.Connector).Distinct(StringComparer.Ordinal)];
        if (chosen.FirstOrDefault(p => loom.FindConnector(p) is null) is { } unknown)
        {
            return Refusal.Field("/plugs", $"This loom has no connector '{unknown}'.");
        }

        if (meter is not (null or "hand" or "bench"))
        {
            return Refusal.Field("/meter", "Write hand (two leads) or bench (four leads).");
        }

        if (WorkLimit.TooManyWires(loom, WorkLimit.MostChecked) is { } tooMany)
        {
            return Refusal.TooLarge(tooMany);
        }

        var table = FittedTable.For(loom, loom.AmbientC, (await limits.LatestAsync(cancel)).Limits.Copper, (set ?? []).ToHashSet(StringComparer.Ordinal), new HashSet<string>());
        if (WorkLimit.TooLargeNet(table.Nets, "Wires and devices join") is { } tooLarge)
        {
            return Refusal.TooLarge(tooLarge);
        }

        var test = OneEndTest.From(table, chosen, meter == "bench" ? Meter.BenchFourWire : Meter.HandTwoWire, cancel);
        return TypedResults.Ok(new OneEndTestView(chosen, [.. test.Readings.Select(View)], [.. test.Alone.Select(p => p.ToString())], test.LeftOut, table.AmbientC));
    }

    private static OneEndView View(OneEndReading reading) => new(
        reading.Red.ToString(),
        reading.Black.ToString(),
        InWords(reading.Ohm),
        reading.ThroughDiode ? InWords(reading.Reversed) : null,
        reading.Devices,
        reading.Wires,
        reading.NoticedOhms is { } ohms ? $"{Say.Ohms(ohms)} more" : "nothing with this meter");

    private static string InWords(OhmRange? range) => range is { } ohm ? new Limits(ohm.Min, ohm.Max).InWords() : "over range";

    private static Situation? Asked(string? key, string[]? set) =>
        KeyPositions.Find(key ?? "on") is { } position && (set?.Length ?? 0) <= MostConditions ? Situation.At(position, set ?? []) : null;

    private static ProblemHttpResult Wrong() => Refusal.Field("/key", $"The key stands at one of {string.Join(", ", KeyPositions.All.Select(KeyPositions.Word))}, with at most {MostConditions} conditions.");
}
