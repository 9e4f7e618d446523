using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Practice;

/// <summary>A loom as it came off the board: the drawing with faults in it.</summary>
public static class AsBuilt
{
    /// <summary>The graph that a meter would find.</summary>
    /// <param name="ambientC">Temperature of the copper, degrees Celsius.</param>
    /// <param name="faults">Applied in order; a fault that names something the loom does not have changes nothing.</param>
    /// <param name="copper">The true value of each wire inside its limits, ohms; null for nominal.</param>
    /// <remarks>Faults of kind device and intermittent do not show on a bare loom at rest.</remarks>
    public static WireGraph Graph(Loom loom, double ambientC, IEnumerable<Fault> faults, Func<Wire, OhmRange, double>? copper = null)
    {
        var wires = loom.Wires.ToDictionary(w => w.Id, w => new BuiltWire(w), StringComparer.Ordinal);
        var bridges = new List<(string A, string B, double Ohm)>();
        foreach (var fault in faults)
        {
            Apply(loom, fault, wires, bridges);
        }

        var build = new WireGraph.Builder();
        foreach (var point in loom.ProbePoints())
        {
            build.Node(point);
        }

        foreach (var wire in loom.Wires.Select(w => wires[w.Id]).Where(w => !w.Open))
        {
            var range = WireGraph.EndToEnd(loom, wire.Drawn, ambientC);
            var added = OhmRange.Exactly(wire.AddedOhm);
            var own = copper is null ? range : OhmRange.Exactly(copper(wire.Drawn, range));
            build.Edge(wire.From, wire.To, own + added, wire.Drawn.Id);
        }

        foreach (var (a, b, ohm) in bridges)
        {
            build.Edge(a, b, OhmRange.Exactly(ohm), $"bridge {a} {b}");
        }

        return build.Done();
    }

    private static void Apply(Loom loom, Fault fault, Dictionary<string, BuiltWire> wires, List<(string A, string B, double Ohm)> bridges)
    {
        var wire = fault.Wire is { } id ? wires.GetValueOrDefault(id) : null;
        switch (fault.Kind)
        {
            case FaultKind.Open or FaultKind.Missing when wire is not null:
                wire.Open = true;
                break;
            case FaultKind.Resistive when wire is not null:
                wire.AddedOhm += fault.Ohm ?? 0;
                break;
            case FaultKind.Short when fault is { A: { } a, B: { } b }:
                bridges.Add((a, b, fault.Ohm ?? 0));
                break;
            case FaultKind.Swap when fault is { Connector: { } connector, Cavities: [var first, var second] }:
                Move(wires, connector, new() { [first] = second, [second] = first });
                break;
            case FaultKind.Misplaced when fault is { Connector: { } connector, From: { } from, To: { } to }:
                Move(wires, connector, new() { [from] = to });
                break;
            case FaultKind.Shift when fault is { Connector: { } connector, Cavities: { } run, By: { } by }:
                Move(wires, connector, Shifted(loom.Connector(connector).Family, run, by));
                break;
            case FaultKind.Mirrored when fault.Connector is { } connector:
                Move(wires, connector, Mirrored(loom.Connector(connector).Family));
                break;
        }
    }

    private static void Move(Dictionary<string, BuiltWire> wires, string connector, Dictionary<string, string> cavities)
    {
        string Moved(string end) => ProbePoint.TryParse(end, out var point) && point.Connector == connector && cavities.TryGetValue(point.Cavity, out var to)
            ? new ProbePoint(connector, to).ToString()
            : end;
        foreach (var wire in wires.Values)
        {
            wire.From = Moved(wire.From);
            wire.To = Moved(wire.To);
        }
    }

    private static Dictionary<string, string> Shifted(ConnectorFamily family, ImmutableArray<string> run, int by)
    {
        var order = family.Cavities;
        return run.Select(c => (From: c, Index: order.IndexOf(c) + by))
            .Where(x => x.Index >= 0 && x.Index < order.Length)
            .ToDictionary(x => x.From, x => order[x.Index], StringComparer.Ordinal);
    }

    private static Dictionary<string, string> Mirrored(ConnectorFamily family) => family.Rows
        .SelectMany(row => row.Zip(row.Reverse()))
        .Where(pair => pair.First is not null && pair.Second is not null)
        .ToDictionary(pair => pair.First!, pair => pair.Second!, StringComparer.Ordinal);

    private sealed class BuiltWire(Wire drawn)
    {
        public Wire Drawn { get; } = drawn;

        public string From { get; set; } = drawn.From.Text;

        public string To { get; set; } = drawn.To.Text;

        public bool Open { get; set; }

        public double AddedOhm { get; set; }
    }
}
