using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Electrical;

/// <summary>What a pair reads with the devices plugged in and without power.</summary>
/// <param name="Ohm">Red probe on <paramref name="A"/>; null for over range.</param>
/// <param name="Reversed">Red probe on <paramref name="B"/>; null for over range. Differs only where a diode lies in the way.</param>
/// <param name="ThroughDiode">Whether a diode decides, so that the reading holds for a test current of <see cref="FittedTable.TestAmps"/> only.</param>
public sealed record FittedPair(ProbePoint A, ProbePoint B, OhmRange? Ohm, OhmRange? Reversed, bool ThroughDiode);

/// <summary>What the pairs of a loom read through its devices: the second table, for the one-end test.</summary>
/// <remarks>
/// The graph is that of the bare loom with each device as it is without power; controllers are unplugged, batteries disconnected, keys
/// off, no condition holds unless it is given. Limits are exact as in the bare table (Rayleigh): every part at its least, every part
/// at its most; a potentiometer's wiper at each end of its travel and in its place of rest. A pair that a diode can conduct between is
/// solved with a meter's test current of 1 mA in either direction; above 3 V the meter shows over range.
/// </remarks>
public sealed class FittedTable
{
    /// <summary>What a meter of resistance sends through a diode, amperes.</summary>
    public const double TestAmps = 1e-3;

    /// <summary>The most a meter puts on its probes, volts; beyond it shows over range.</summary>
    public const double MostTestVolts = 3;

    /// <summary>A diode with less than this across it carries nothing that a meter would notice, volts.</summary>
    private const double BlocksUpTo = 0.3;

    private readonly ImmutableArray<WireGraph> graphs;
    private readonly ImmutableArray<FittedPart> diodes;
    private readonly WireGraph whole;
    private readonly Dictionary<(int Net, Corner Corner), FittedCircuit> circuits = [];
    private readonly Dictionary<int, DiodeWays> ways = [];
    private readonly Dictionary<int, Place[][]> placesOf = [];
    private readonly Dictionary<int, Dictionary<string, List<ImmutableArray<string>>>> endsOutside = [];
    private readonly Lock gate = new();

    private FittedTable(Loom loom, double ambientC, ImmutableArray<WireGraph> graphs, ImmutableArray<FittedPart> diodes, WireGraph whole, ImmutableArray<string> leftOut) =>
        (Loom, AmbientC, this.graphs, this.diodes, this.whole, LeftOut) = (loom, ambientC, graphs, diodes, whole, leftOut);

    /// <summary>The loom whose devices are fitted.</summary>
    public Loom Loom { get; }

    /// <summary>The temperature the limits hold for, degrees Celsius.</summary>
    public double AmbientC { get; }

    /// <summary>Refs of devices that take no part, each for the reason its kind gives.</summary>
    public ImmutableArray<string> LeftOut { get; }

    /// <summary>Nets with at least one probe point: joined by metal, by devices, or by a diode in its direction.</summary>
    public IEnumerable<Net> Nets => whole.Nets.Where(n => n.Points.Length > 0);

    /// <summary>Computes the table; each net is solved when it is first asked for.</summary>
    /// <param name="ambientC">Degrees Celsius.</param>
    /// <param name="tolerance">How far copper and temperature may be from what is drawn and said.</param>
    /// <param name="conditions">Conditions that hold, such as "no oil pressure" of an engine at rest.</param>
    /// <param name="without">Refs of devices that are not plugged in.</param>
    public static FittedTable For(
        Loom loom, double ambientC, CopperTolerance tolerance, IReadOnlySet<string> conditions, IReadOnlySet<string> without)
    {
        ImmutableArray<FittedPart> At(WiperSetting wiper) => [.. FittedParts.Of(loom, new(ambientC, tolerance.AmbientK, conditions, wiper), without)];
        var rest = At(WiperSetting.Rest);
        ImmutableArray<FittedPart> diodes = [.. rest.Where(p => p.Diode is not null)];
        var settings = loom.Devices.Any(d => d.Model is PotModel) ? new[] { rest, At(WiperSetting.Least), At(WiperSetting.Most) } : [rest];
        var part = rest.Select(p => p.Label).ToHashSet(StringComparer.Ordinal);
        return new(
            loom, ambientC,
            [.. settings.Select(parts => Graph(loom, ambientC, parts, false, tolerance))],
            diodes,
            diodes.IsEmpty ? Graph(loom, ambientC, rest, false, tolerance) : Graph(loom, ambientC, rest, true, tolerance),
            [.. loom.Devices.Where(d => !part.Contains(d.Ref)).Select(d => d.Ref)]);
    }

    /// <summary>Devices of a loom that a meter of resistance finds when they are plugged in, in file order.</summary>
    public static ImmutableArray<Device> Found(Loom loom)
    {
        ArgumentNullException.ThrowIfNull(loom);
        var parts = FittedParts.Of(loom, new(loom.AmbientC, 0, new HashSet<string>(), WiperSetting.Rest), new HashSet<string>()).Select(p => p.Label).ToHashSet(StringComparer.Ordinal);
        return [.. loom.Devices.Where(d => parts.Contains(d.Ref))];
    }

    /// <summary>What a pair reads; null on both sides when nothing leads from one to the other.</summary>
    public FittedPair Between(ProbePoint a, ProbePoint b) => whole.NetOf(a) is { } net && whole.NetOf(b)?.Number == net.Number
        ? Between(net, (a, PlaceOf(a)), (b, PlaceOf(b)))
        : new(a, b, null, null, false);

    /// <summary>All pairs that read something in at least one direction, net by net, each pair once.</summary>
    public IEnumerable<FittedPair> Pairs() => Nets.SelectMany(net => Enumerable.Range(0, net.Points.Length).SelectMany(i => PairsFrom(net, i)));

    /// <summary>Those of a point with the points that stand after it in its net; may be asked for several points at once.</summary>
    /// <param name="net">One of <see cref="Nets"/>.</param>
    /// <param name="point">Its place in <see cref="Net.Points"/>.</param>
    public IEnumerable<FittedPair> PairsFrom(Net net, int point)
    {
        ArgumentNullException.ThrowIfNull(net);
        var places = PlacesOf(net);
        for (var other = point + 1; other < net.Points.Length; other++)
        {
            var pair = Between(net, (net.Points[point], places[point]), (net.Points[other], places[other]));
            if (pair.Ohm is not null || pair.Reversed is not null)
            {
                yield return pair;
            }
        }
    }

    /// <summary>What makes up a reading between two points: wires and devices with their shares; empty when a diode decides or nothing joins them.</summary>
    public ImmutableArray<Contribution> Explain(ProbePoint a, ProbePoint b) =>
        graphs[0].NetOf(a) is { } net && graphs[0].NetOf(b)?.Number == net.Number ? net.Explain(a, b) : [];

    private static WireGraph Graph(Loom loom, double ambientC, ImmutableArray<FittedPart> parts, bool withDiodes, CopperTolerance tolerance)
    {
        var build = WireGraph.Begin(loom, ambientC, tolerance);
        foreach (var part in parts.Where(p => withDiodes || p.Diode is null))
        {
            build.Edge(part.From, part.To, part.Diode is null ? part.Ohm : OhmRange.Exactly(1), part.Label);
        }

        return build.Done();
    }

    private FittedPair Between(Net net, (ProbePoint Point, Place[] In) a, (ProbePoint Point, Place[] In) b)
    {
        var straight = Straight(a.In, b.In);
        var decides = !diodes.IsEmpty && a.Point != b.Point
            && (straight is not { } ohm || WaysAround(a.In[0].Net, net).CarryBetween(a.In[0].Local, b.In[0].Local, ohm.Nominal, TestAmps, BlocksUpTo));
        return decides ? new(a.Point, b.Point, Sent(a.Point, b.Point, net), Sent(b.Point, a.Point, net), true) : new(a.Point, b.Point, straight, straight, false);
    }

    private static OhmRange? Straight(Place[] a, Place[] b)
    {
        OhmRange? hull = null;
        for (var graph = 0; graph < a.Length; graph++)
        {
            if (a[graph].Net != b[graph].Net)
            {
                return null;
            }

            var ohm = a[graph].Net.BetweenPlaces(a[graph].Local, b[graph].Local);
            hull = hull is { } so ? new OhmRange(Math.Min(so.Min, ohm.Min), so.Nominal, Math.Max(so.Max, ohm.Max)) : ohm;
        }

        return hull;
    }

    /// <summary>Where the points of a net lie in each of the graphs without diodes.</summary>
    private Place[][] PlacesOf(Net net)
    {
        lock (gate)
        {
            if (!placesOf.TryGetValue(net.Number, out var known))
            {
                placesOf.Add(net.Number, known = [.. net.Points.Select(PlaceOf)]);
            }

            return known;
        }
    }

    private Place[] PlaceOf(ProbePoint point) => [.. graphs.Select(g => g.NetOf(point)!).Select(net => new Place(net, net.Local(point)))];

    private DiodeWays WaysAround(Net straight, Net net)
    {
        lock (gate)
        {
            if (!ways.TryGetValue(straight.Number, out var known))
            {
                ways.Add(straight.Number, known = new(straight, EndsOutside(net).GetValueOrDefault(MetalOf(straight), []), BlocksUpTo / TestAmps));
            }

            return known;
        }
    }

    /// <summary>By net of metal and devices: its ways around through diodes, each by the nodes at which it leaves. A diode behind which nothing leads back is none.</summary>
    private Dictionary<string, List<ImmutableArray<string>>> EndsOutside(Net net)
    {
        if (!endsOutside.TryGetValue(net.Number, out var found))
        {
            List<FittedPart> inside = [.. diodes.Where(d => whole.IndexOf(d.From) is >= 0 and var node && net.Contains(node))];
            var ends = inside.ConvertAll(d => (From: MetalOf(d.From), To: MetalOf(d.To)));
            var near = ends.SelectMany((e, i) => new[] { (At: e.From, Next: e.To, By: i), (At: e.To, Next: e.From, By: i) }).ToLookup(x => x.At, x => (x.Next, x.By), StringComparer.Ordinal);
            endsOutside.Add(net.Number, found = new(StringComparer.Ordinal));
            foreach (var metal in near.Select(g => g.Key))
            {
                found.Add(metal, [.. LeavingAt(metal, inside, ends, near)]);
            }
        }

        return found;
    }

    /// <summary>The ways that leave one net of metal and devices: a diode with both ends in it is one; those behind which the same other nets lie are one together.</summary>
    private static IEnumerable<ImmutableArray<string>> LeavingAt(string metal, List<FittedPart> inside, List<(string From, string To)> ends, ILookup<string, (string Next, int By)> near)
    {
        var reached = new HashSet<string>(StringComparer.Ordinal) { metal };
        foreach (var (first, diode) in near[metal].ToList())
        {
            if (first == metal)
            {
                // Found from both of its ends.
                if (reached.Add($"diode {diode}"))
                {
                    yield return [inside[diode].From, inside[diode].To];
                }
            }
            else if (reached.Add(first))
            {
                var (leaves, open) = (new List<string>(), new Stack<string>([first]));
                while (open.TryPop(out var at))
                {
                    foreach (var (next, by) in near[at])
                    {
                        if (next == metal)
                        {
                            leaves.Add(ends[by].From == metal ? inside[by].From : inside[by].To);
                        }
                        else if (reached.Add(next))
                        {
                            open.Push(next);
                        }
                    }
                }

                if (leaves.Distinct(StringComparer.Ordinal).ToImmutableArray() is { Length: > 1 } way)
                {
                    yield return way;
                }
            }
        }
    }

    /// <summary>What a node is one with but for diodes: its net, or itself.</summary>
    private string MetalOf(string node) => graphs[0].NumberOf(node) is { } number ? NameOf(number) : node;

    private static string MetalOf(Net net) => NameOf(net.Number);

    private static string NameOf(int net) => string.Create(CultureInfo.InvariantCulture, $"net {net}");

    /// <summary>The reading with the test current going in at one point and out at the other.</summary>
    private OhmRange? Sent(ProbePoint red, ProbePoint black, Net net)
    {
        double? At(Corner corner)
        {
            var circuit = CircuitAt(net, corner);
            return circuit.VoltsBetween(red, black, TestAmps) is var volts && volts <= MostTestVolts ? Math.Max(0, volts / TestAmps) : null;
        }

        return At(Corner.Nominal) is { } nominal ? new OhmRange(At(Corner.Min) ?? nominal, nominal, At(Corner.Max) ?? double.PositiveInfinity) : null;
    }

    private FittedCircuit CircuitAt(Net net, Corner corner)
    {
        lock (gate)
        {
            if (!circuits.TryGetValue((net.Number, corner), out var known))
            {
                bool IsInside(string node) => whole.IndexOf(node) is >= 0 and var at && net.Contains(at);
                circuits.Add((net.Number, corner), known = new(
                    graphs[0].Edges.Select(e => (From: graphs[0].Nodes[e.From], To: graphs[0].Nodes[e.To], Ohms: e.Ohm.At(corner), e.Label)).Where(e => IsInside(e.From)),
                    diodes.Where(d => IsInside(d.From))));
            }

            return known;
        }
    }

    /// <summary>A point in a graph: its net, and its place among the net's nodes.</summary>
    private readonly record struct Place(Net Net, int Local);
}
