using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.States;

namespace WiseLoom.Web.States;

/// <summary>What a point shows.</summary>
/// <param name="Level">Its voltage as a share of the supply, 0 to 1.</param>
internal sealed record PointView(string Point, ShownAs Shown, string Text, double Level);

/// <summary>What a wire carries.</summary>
/// <param name="Forward">Whether the current runs from its first end to its second; null when none does.</param>
/// <param name="Shown">What the wire shows: that of its ends.</param>
internal sealed record WireStateView(string Wire, string Amps, double AmpsNumber, string Drop, bool? Forward, ShownAs Shown);

/// <summary>How many points of a connector show what.</summary>
internal sealed record ConnectorStateView(string Connector, int Supply, int FiveVolts, int Ground, int Between, int Floats);

/// <summary>What a loom shows in a key position.</summary>
/// <param name="Conditions">Names of conditions that this loom knows.</param>
/// <param name="Outputs">Names of outputs that can be driven.</param>
internal sealed record StateView(
    KeyPosition Key,
    ImmutableArray<string> Conditions,
    ImmutableArray<string> Outputs,
    string? NoState,
    ImmutableArray<string> Chatters,
    ImmutableArray<string> Notes,
    ImmutableArray<PointView> Points,
    ImmutableArray<WireStateView> Wires,
    ImmutableArray<ConnectorStateView> Connectors,
    ImmutableArray<FunctionState> Functions,
    ImmutableArray<DeviceState> Devices)
{
    /// <summary>Less than this is no current, amperes.</summary>
    private const double LeastAmps = 1e-6;

    internal static StateView Of(LoomStates states, OperatingState state)
    {
        var shown = state.Points.ToDictionary(p => p.Key.ToString(), p => Glance.Of(p.Value, state.SupplyVolts), StringComparer.Ordinal);
        return new(
            state.Situation.Key,
            states.Conditions,
            states.Outputs,
            state.NoState,
            state.Chatters,
            state.Notes,
            [.. state.Points.Select(p => Point(p.Key.ToString(), p.Value, shown[p.Key.ToString()], state.SupplyVolts))],
            [.. states.Loom.Wires.Where(w => state.Wires.ContainsKey(w.Id)).Select(w => Wire(w, state.Wires[w.Id], shown))],
            [.. state.Points.GroupBy(p => p.Key.Connector, StringComparer.Ordinal).Select(g => Connector(g.Key, [.. g.Select(p => shown[p.Key.ToString()])]))],
            state.Functions,
            state.Devices);
    }

    internal static string Text(PointState point) =>
        point.Volts is not { } volts ? "floats"
        : point.Most - point.Least > 0.05 ? $"{Say.Volts(point.Least)} to {Say.Volts(point.Most)}"
        : Say.Volts(volts);

    private static PointView Point(string name, PointState point, ShownAs shown, double supply) =>
        new(name, shown, Text(point), supply > 0 && point.Volts is { } volts ? Math.Clamp(volts / supply, 0, 1) : 0);

    private static WireStateView Wire(Core.Looms.Wire wire, WireState state, Dictionary<string, ShownAs> shown)
    {
        var amps = Math.Abs(state.Amps);
        var end = new[] { wire.From, wire.To }.Where(e => !e.IsSplice).Select(e => shown.GetValueOrDefault(e.Text, ShownAs.Floats)).DefaultIfEmpty(ShownAs.Between).First();
        var text = state.MostAmps - state.LeastAmps > LeastAmps ? $"{Say.Amps(state.LeastAmps)} to {Say.Amps(state.MostAmps)}" : Say.Amps(amps);
        return new(wire.Id, text, amps, Say.Volts(state.DropVolts), amps < LeastAmps ? null : state.Amps > 0, end);
    }

    private static ConnectorStateView Connector(string name, ImmutableArray<ShownAs> points)
    {
        int Count(ShownAs what) => points.Count(p => p == what);
        return new(name, Count(ShownAs.Supply), Count(ShownAs.FiveVolts), Count(ShownAs.Ground), Count(ShownAs.Between), Count(ShownAs.Floats));
    }
}

/// <summary>One answer of a probe.</summary>
/// <param name="Words">What a person sees: <c>12.6 V</c>, <c>burns bright</c>.</param>
/// <param name="Detail">The figure behind it.</param>
internal sealed record AnswerView(string Probe, string Words, string Detail, double Level);

/// <summary>A part on the way of a current.</summary>
internal sealed record PathPartView(string? Wire, string? Device, string Title, string From, string To, string Amps);

/// <summary>What a point shows, how it comes to that, and what it means.</summary>
/// <param name="Stem">Connectors that the current passes, in order: one list to the point, one on from it.</param>
internal sealed record ExplanationView(
    string Point, string Text, ShownAs Shown, ImmutableArray<AnswerView> Answers, ImmutableArray<string> Sentences,
    ImmutableArray<PathPartView> FromSource, ImmutableArray<PathPartView> ToGround, ImmutableArray<ImmutableArray<string>> Stem)
{
    internal static ExplanationView Of(PointExplanation explanation, double supply)
    {
        var state = explanation.State;
        return new(
            explanation.Point.ToString(),
            state is null ? "no state" : StateView.Text(state),
            state is null ? ShownAs.Floats : Glance.Of(state, supply),
            state?.Shows is { } shows ? AnswersOf(shows, supply) : [],
            explanation.Sentences,
            [.. explanation.FromSource.Select(Part)],
            [.. explanation.ToGround.Select(Part)],
            [Connectors(explanation.FromSource), Connectors(explanation.ToGround)]);
    }

    private static ImmutableArray<AnswerView> AnswersOf(ProbeShows shows, double supply)
    {
        double Share(double volts) => supply > 0 ? Math.Clamp(volts / supply, 0, 1) : 0;
        AnswerView Lamp(string where, LampShows lamp) => new(
            where,
            lamp.Flickers ? "flickers" : lamp.Glow switch { Glow.Bright => "burns bright", Glow.Dim => "glows dim", _ => "stays dark" },
            lamp.Flickers ? $"between {Say.Volts(lamp.LeastVolts)} and {Say.Volts(lamp.Volts)} across it" : $"{Say.Volts(lamp.Volts)} across it",
            Share(lamp.Volts));
        return
        [
            new("Meter, 10 MΩ", shows.MeterMost - shows.MeterLeast > 0.1 ? $"swings, {Say.Volts(shows.MeterLeast)} to {Say.Volts(shows.MeterMost)}" : Say.Volts(shows.Meter), $"{Say.Ohms(shows.SourceOhms)} behind it", Share(shows.Meter)),
            Lamp("Lamp to ground, 21 W", shows.LampToGround),
            Lamp("Lamp to supply, 21 W", shows.LampToSupply),
        ];
    }

    private static PathPartView Part(PathPart part) => new(part.Wire, part.Device, part.Title, part.From, part.To, part.Amps > 0 ? Say.Amps(part.Amps) : "");

    private static ImmutableArray<string> Connectors(IEnumerable<PathPart> path)
    {
        var list = ImmutableArray.CreateBuilder<string>();
        foreach (var end in path.SelectMany(p => new[] { p.From, p.To }).Where(e => e.Contains(':', StringComparison.Ordinal)))
        {
            var connector = end[..end.IndexOf(':', StringComparison.Ordinal)];
            if (list.Count == 0 || list[^1] != connector)
            {
                list.Add(connector);
            }
        }

        return list.ToImmutable();
    }
}
