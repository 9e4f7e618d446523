using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Sightings;
using WiseLoom.Core.States;

namespace WiseLoom.Core.PowerUp;

/// <summary>What a controller said over its line, as far as a check asks for it.</summary>
/// <param name="Identity">Who it is; null when it did not answer.</param>
/// <param name="Volts">Raw volts at its pins, by cavity.</param>
/// <param name="Values">Values by name of the channel, in the controller's own units; by its own tables.</param>
public sealed record ControllerReport(
    string? Identity,
    ImmutableDictionary<string, ControllerSetting> Settings,
    ImmutableDictionary<string, double> Volts,
    ImmutableDictionary<string, double> Values,
    ImmutableArray<string> Codes,
    TriggerLog? Log)
{
    /// <summary>Temperatures of a cold engine lie this near to each other and to the air, kelvin.</summary>
    private const double FewK = 5;

    /// <summary>A controller that did not answer.</summary>
    public static ControllerReport Silent { get; } = new(null, ImmutableDictionary<string, ControllerSetting>.Empty, ImmutableDictionary<string, double>.Empty, ImmutableDictionary<string, double>.Empty, [], null);

    /// <summary>Answers a check by it.</summary>
    /// <param name="loom">The loom as its file says.</param>
    /// <param name="fit">What is fitted.</param>
    /// <returns>The answer, and what was found, in words; null when the report says nothing of it.</returns>
    public (Answer Answer, ImmutableArray<string> Findings, ImmutableArray<Sighting> Besides)? For(Loom loom, BenchFit fit, double ambientC, PowerUpCheck check)
    {
        ArgumentNullException.ThrowIfNull(loom);
        ArgumentNullException.ThrowIfNull(fit);
        ArgumentNullException.ThrowIfNull(check);
        static (Answer, ImmutableArray<string>, ImmutableArray<Sighting>)? So(ImmutableArray<string> findings, params ImmutableArray<Sighting> besides) =>
            (new SeenAnswer(findings.IsEmpty ? Outcome.AsSaid : Outcome.NotAsSaid), findings, besides);
        switch (check.Asks)
        {
            case Asked.Identity:
                return (new SeenAnswer(Identity is null ? Outcome.StaysSilent : Outcome.Answers), Identity is { } name ? [$"It says: {name}"] : [], []);
            case Asked.Settings when Identity is not null:
                return So([.. SettingsSheet.Of(loom).Against(check.Device ?? "", Settings).Select(d => d.InWords())]);
            case Asked.Live when Volts.TryGetValue(check.At[0].ToString(), out var volts):
                return (new MeasuredAnswer(volts), Shown(check), []);
            case Asked.Temperatures when Identity is not null:
                return So([.. Temperatures(loom, fit, ambientC)]);
            case Asked.Codes when Identity is not null:
                return So([.. Unexpected(loom, fit, ambientC)]);
            case Asked.Log when Log is not null && loom.Devices.FirstOrDefault(d => d.Ref == check.Trigger) is { } device:
                var judged = TriggerJudge.Of(device, Log.Edges.GetValueOrDefault(device.Ref, []), Log.Ms);
                return So(judged.Findings, device.Trigger is { Kind: TriggerKind.Inductive } && judged.Reversed is { } reversed ? [new PolaritySeen(device.Ref, reversed)] : []);
            case Asked.Sync when Log is not null && Wheels(loom) is { } wheels:
                return So(TriggerJudge.Sync(wheels.Crank, Log.Edges.GetValueOrDefault(wheels.Crank.Ref, []), wheels.Cam, Log.Edges.GetValueOrDefault(wheels.Cam.Ref, [])).Findings);
            case Asked.Compressions when Log is not null && loom.Devices.FirstOrDefault(d => d.Trigger is { PerTurn: 1, Missing: > 0 }) is { } crank:
                return So([.. Slowing(loom, crank, Log.Edges.GetValueOrDefault(crank.Ref, []), Log.Ms)]);
            default:
                return null;
        }
    }

    /// <summary>The crank's wheel and the cam's; null without both.</summary>
    private static (Device Crank, Device Cam)? Wheels(Loom loom) =>
        loom.Devices.FirstOrDefault(d => d.Trigger is { PerTurn: 1 }) is { } crank && loom.Devices.FirstOrDefault(d => d.Trigger is { PerTurn: 0.5 }) is { } cam ? (crank, cam) : null;

    private ImmutableArray<string> Shown(PowerUpCheck check) =>
        check.Shows is { } shows && Values.TryGetValue(shows.Channel, out var value)
            ? [string.Create(CultureInfo.InvariantCulture, $"‘{shows.Channel}’ shows {value:0.##} {shows.Unit}{(shows.Value is { } due && !due.Holds(value) && check.Expect is VoltsExpected volts && Volts.TryGetValue(check.At[0].ToString(), out var raw) && volts.Volts.Holds(raw) ? $" where {due.Min:0.#} to {due.Max:0.#} are due, although the volts are right: its table in the controller is another" : "")}")]
            : [];

    private IEnumerable<string> Temperatures(Loom loom, BenchFit fit, double ambientC)
    {
        var fitted = fit.On(loom).Devices.Select(d => d.Ref).ToHashSet(StringComparer.Ordinal);
        var read = Channel.Of(loom).Where(c => c.Sensor?.Model is NtcModel && fitted.Contains(c.Sensor.Ref)).Select(c => (c.Name, Has: Values.TryGetValue(c.Name, out var v) ? (double?)v : null)).ToList();
        foreach (var (name, has) in read)
        {
            if (has is null)
            {
                yield return $"‘{name}’ shows no temperature.";
            }
            else if (Math.Abs(has.Value - ambientC) > FewK)
            {
                yield return string.Create(CultureInfo.InvariantCulture, $"‘{name}’ shows {has:0.#} °C; the air has {ambientC:0.#} °C.");
            }
        }

        var known = read.Where(r => r.Has is not null).ToList();
        if (known.Count > 1 && known.Max(r => r.Has!.Value) - known.Min(r => r.Has!.Value) > FewK)
        {
            yield return string.Create(CultureInfo.InvariantCulture, $"‘{known.MaxBy(r => r.Has)!.Name}’ and ‘{known.MinBy(r => r.Has)!.Name}’ lie {known.Max(r => r.Has!.Value) - known.Min(r => r.Has!.Value):0.#} K apart.");
        }
    }

    private IEnumerable<string> Unexpected(Loom loom, BenchFit fit, double ambientC)
    {
        var expected = ExpectedCodes.Of(new PowerUpBench(loom, fit, ambientC, School.Bench));
        foreach (var code in Codes.Where(c => expected.All(e => e.Code.Code != c)))
        {
            yield return $"{code} has to be explained.";
        }

        foreach (var missing in expected.Where(e => !Codes.Contains(e.Code.Code)))
        {
            yield return $"{missing.Code.Code} is not stored, although {missing.Reason}.";
        }
    }

    private static IEnumerable<string> Slowing(Loom loom, Device crank, IReadOnlyList<double> edges, double ms)
    {
        var judged = TriggerJudge.Of(crank, edges, ms);
        var slow = Compressions.Of(crank.Trigger!, edges, judged.Gaps);
        var due = SettingsSheet.Of(loom).Rows.FirstOrDefault(r => r.Setting.Name == "cylinders")?.Setting.Number;
        if (slow.Cylinders == 0)
        {
            yield return "The log has no two whole turns: the crank’s signal comes first.";
        }
        else if (due is { } cylinders && slow.Cylinders != (int)cylinders)
        {
            yield return $"The crank slows {slow.Cylinders} times in two turns; {cylinders:0} are due.";
        }
        else if (slow.WeakOnes is [_, ..] weak)
        {
            yield return $"{(weak.Length == 1 ? "One compression is" : $"{weak.Length} compressions are")} weak: number {string.Join(", ", weak)} after the gap.";
        }
    }
}
