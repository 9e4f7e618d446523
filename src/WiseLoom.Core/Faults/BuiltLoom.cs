using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Faults;

/// <summary>A loom as it came off the board: the drawing with faults in it.</summary>
public sealed class BuiltLoom
{
    /// <summary>No bridge is an ideal joint, ohms.</summary>
    private const double LeastBridge = 1e-4;

    private readonly Dictionary<string, BuiltWire> wires;
    private readonly List<(string A, string B, double Ohm)> bridges = [];
    private ImmutableArray<Device> devices;

    /// <summary>Puts faults into a loom, in order; a fault that names something the loom does not have changes nothing.</summary>
    public BuiltLoom(Loom loom, IEnumerable<Fault> faults)
        : this(loom, faults, (loom ?? throw new ArgumentNullException(nameof(loom))).Wires)
    {
    }

    /// <summary>The same for some wires of it: the others are left out of its graph.</summary>
    internal BuiltLoom(Loom loom, IEnumerable<Fault> faults, IEnumerable<Wire> some)
    {
        ArgumentNullException.ThrowIfNull(faults);
        Drawn = loom;
        devices = loom.Devices;
        wires = some.ToDictionary(w => w.Id, w => new BuiltWire(loom, w), StringComparer.Ordinal);
        foreach (var fault in faults)
        {
            fault.ApplyTo(this);
        }
    }

    /// <summary>Its wires as they came off the board.</summary>
    internal IEnumerable<BuiltWire> Wires => wires.Values;

    /// <summary>Metal that lies between two places and is not drawn.</summary>
    internal IReadOnlyList<(string A, string B, double Ohm)> Bridges => bridges;

    /// <summary>The loom as it should be.</summary>
    internal Loom Drawn { get; }

    /// <summary>The drawing with its devices as they really are: one that does nothing is not there.</summary>
    public Loom Fitted => devices == Drawn.Devices ? Drawn : Drawn with { Devices = devices };

    /// <summary>What conducts in it, at nominal values, and what is plugged in.</summary>
    /// <param name="ambientC">Temperature of the copper, degrees Celsius.</param>
    public AsBuilt AsBuilt(double ambientC)
    {
        var metal = ImmutableArray.CreateBuilder<Conductor>();
        foreach (var wire in wires.Values)
        {
            var own = WireGraph.EndToEnd(Drawn, wire.Drawn, ambientC, CopperTolerance.Usual).Nominal;
            metal.AddRange(wire.Pieces().Select(p => new Conductor(p.From, p.To, (own * p.Share) + p.AddedOhm, wire.Drawn.Id)));
        }

        metal.AddRange(bridges.Select(b => new Conductor(b.A, b.B, Math.Max(b.Ohm, LeastBridge), $"bridge {b.A} {b.B}")));
        return new(Fitted, metal.ToImmutable());
    }

    /// <summary>The graph that a meter would find.</summary>
    /// <param name="ambientC">Temperature of the copper, degrees Celsius.</param>
    /// <param name="tolerance">How far a wire may be from its drawing.</param>
    /// <param name="copper">The true value of each wire inside its limits, ohms; null to keep the limits.</param>
    public WireGraph Graph(double ambientC, CopperTolerance tolerance, Func<Wire, OhmRange, double>? copper = null) => Graph(Drawn.ProbePoints(), ambientC, tolerance, copper);

    /// <summary>The same with some of its points.</summary>
    internal WireGraph Graph(IEnumerable<ProbePoint> points, double ambientC, CopperTolerance tolerance, Func<Wire, OhmRange, double>? copper = null)
    {
        var build = new WireGraph.Builder();
        foreach (var point in points)
        {
            build.Node(point);
        }

        foreach (var wire in wires.Values)
        {
            var range = WireGraph.EndToEnd(Drawn, wire.Drawn, ambientC, tolerance);
            var own = copper is null ? range : OhmRange.Exactly(copper(wire.Drawn, range));
            foreach (var piece in wire.Pieces())
            {
                build.Edge(piece.From, piece.To, own.Scaled(piece.Share) + OhmRange.Exactly(piece.AddedOhm), wire.Drawn.Id);
            }
        }

        foreach (var (a, b, ohm) in bridges)
        {
            build.Edge(a, b, OhmRange.Exactly(ohm), $"bridge {a} {b}");
        }

        return build.Done();
    }

    /// <summary>A wire by its id; null when the loom has none.</summary>
    internal BuiltWire? Wire(string id) => wires.GetValueOrDefault(id);

    /// <summary>Makes a device other than it is drawn.</summary>
    /// <param name="change">What it becomes; null when nothing of it is left.</param>
    internal void Refit(string device, Func<Device, Device?> change) => devices = [.. devices.Select(d => d.Ref == device ? change(d) : d).OfType<Device>()];

    /// <summary>Lays metal between two places.</summary>
    internal void Bridge(string a, string b, double ohm) => bridges.Add((a, b, ohm));

    /// <summary>Moves contacts of a connector to other cavities, all at once.</summary>
    internal void Move(string connector, IReadOnlyDictionary<string, string> cavities)
    {
        var here = connector + ':';
        string Moved(string end) => end.StartsWith(here, StringComparison.Ordinal) && cavities.TryGetValue(end[here.Length..], out var to) ? here + to : end;
        foreach (var wire in wires.Values)
        {
            wire.From = Moved(wire.From);
            wire.To = Moved(wire.To);
        }
    }
}
