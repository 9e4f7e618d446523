using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>A loom as it is drawn, ready for suppositions: its nets, its wires, how far each may be from its drawing.</summary>
internal sealed class DrawnLoom
{
    private readonly Dictionary<string, int> placeOf;
    private readonly Part[] parts;
    private readonly OhmRange[] ranges;
    private readonly Dictionary<string, ProbePoint> pointOf;
    private readonly Dictionary<ProbePoint, Spot> spotOf = [];
    private readonly ProbePoint[] points;
    private readonly Skeleton[] skeletons;
    private readonly ILookup<string, int> wiresAt;
    private readonly Altered?[] asDrawn;
    private readonly ImmutableArray<Wire>[] wiresOf;

    /// <summary>The same loom with other parts.</summary>
    private DrawnLoom(DrawnLoom of, Part[] parts) =>
        (Loom, Graph, placeOf, ranges, wiresOf, points, pointOf, spotOf, skeletons, wiresAt, this.parts, asDrawn) = (of.Loom, of.Graph, of.placeOf, of.ranges, of.wiresOf, of.points, of.pointOf, of.spotOf, of.skeletons, of.wiresAt, parts, new Altered?[of.skeletons.Length]);

    internal DrawnLoom(Loom loom, double ambientC, CopperTolerance copper)
    {
        Loom = loom;
        Graph = WireGraph.Of(loom, ambientC, copper);
        placeOf = loom.Wires.Select((w, i) => (w.Id, i)).ToDictionary(x => x.Id, x => x.i, StringComparer.Ordinal);
        points = [.. loom.Connectors.SelectMany(c => c.Family.Cavities.Select(x => new ProbePoint(c.Ref, x)))];
        pointOf = points.ToDictionary(p => p.ToString(), StringComparer.Ordinal);
        ranges = [.. loom.Wires.Select(w => WireGraph.EndToEnd(loom, w, ambientC, copper))];
        parts = [.. ranges.Select((r, i) => Spread(i, r))];
        wiresOf = [.. Graph.Nets.Select(n => n.Edges.Select(e => loom.Wires[placeOf[e.Label]]).ToImmutableArray())];
        wiresAt = loom.Wires.SelectMany((w, i) => new[] { (End: w.From.Text, i), (End: w.To.Text, i) }).ToLookup(x => x.End, x => x.i, StringComparer.Ordinal);
        skeletons = [.. Graph.Nets.Select(SkeletonFor)];
        asDrawn = new Altered?[skeletons.Length];
        for (var i = 0; i < points.Length; i++)
        {
            spotOf.Add(points[i], new(-1, i));
        }

        foreach (var skeleton in skeletons)
        {
            foreach (var (point, node) in skeleton.Points)
            {
                spotOf[point] = new(skeleton.Net, node);
            }
        }
    }

    /// <summary>The same loom with parts that lean towards their upper limits.</summary>
    /// <param name="lean">0 for nominal, 1 for the upper limit; null for the usual lean of each part.</param>
    internal DrawnLoom Leaning(double? lean) => new(this, lean is { } so ? [.. parts.Select((p, i) => p with { Mean = ranges[i].Nominal + (so * (ranges[i].Max - ranges[i].Nominal)) })] : parts);

    /// <summary>The same loom with some wires that have more ohms than drawn, or less.</summary>
    /// <param name="more">By a wire's place.</param>
    internal DrawnLoom With(IReadOnlyDictionary<int, double> more)
    {
        Part[] own = [.. parts];
        foreach (var (place, ohms) in more)
        {
            own[place] = own[place] with { Mean = Math.Max(own[place].Mean / 2, own[place].Mean + ohms) };
        }

        return new(this, own);
    }

    internal Loom Loom { get; }

    internal WireGraph Graph { get; }

    /// <summary>The cavity of this name; null for a splice.</summary>
    internal ProbePoint? PointOf(string name) => pointOf.TryGetValue(name, out var point) ? point : null;

    internal ImmutableArray<Wire> WiresOf(int net) => wiresOf[net];

    /// <summary>The nodes and parts of a drawn net, numbered.</summary>
    internal Skeleton SkeletonOf(int net) => skeletons[net];

    /// <summary>Where a cavity is in the drawing.</summary>
    internal Spot SpotOf(ProbePoint point) => spotOf.TryGetValue(point, out var at) ? at : Spot.Nowhere;

    /// <summary>The cavity at a place among all of the loom.</summary>
    internal ProbePoint PointAt(int place) => points[place];

    /// <summary>Places in the loom of the wires that some faults may change.</summary>
    internal HashSet<int> Touched(IEnumerable<Fault> faults)
    {
        var touched = new HashSet<int>();
        foreach (var fault in faults)
        {
            // A wire's own fault and metal between two places leave the wires beside them as they are.
            var isOfWires = fault is WireFault or ShortFault;
            foreach (var place in fault.Places(Loom))
            {
                if (placeOf.TryGetValue(place, out var own))
                {
                    touched.Add(own);
                }
                else if (!isOfWires)
                {
                    touched.UnionWith(wiresAt[place]);
                }
            }
        }

        return touched;
    }

    /// <summary>A wire's place in the loom.</summary>
    internal int PlaceOf(string wire) => placeOf[wire];

    /// <summary>A wire as a part of a net.</summary>
    internal Part PartOf(int wire) => parts[wire];

    /// <summary>Ohms of a wire from end to end, by its limits.</summary>
    internal OhmRange RangeOf(int wire) => ranges[wire];

    /// <summary>Number of a point's drawn net; negative for a cavity without a wire.</summary>
    internal int NetOf(ProbePoint point) => SpotOf(point).Net;

    /// <summary>Numbers of the drawn nets that some faults touch.</summary>
    internal HashSet<int> NetsOf(IEnumerable<Fault> faults) => [.. faults.SelectMany(f => f.Places(Loom)).Select(p => Graph.NumberOf(p) ?? (placeOf.TryGetValue(p, out var wire) ? NetOfWire(Loom.Wires[wire]) : null)).OfType<int>()];

    /// <summary>Number of a wire's drawn net.</summary>
    internal int NetOfWire(Wire wire) => Graph.NumberOf(wire.From.Text)!.Value;

    /// <summary>One net as it is drawn; may be asked for by several at once.</summary>
    internal Altered AsDrawn(int net) =>
        asDrawn[net] ?? Interlocked.CompareExchange(ref asDrawn[net], new Altered(this, [], new HashSet<int> { net }), null) ?? asDrawn[net]!;

    private Skeleton SkeletonFor(Net net)
    {
        var names = new Dictionary<string, int>(StringComparer.Ordinal);
        int Node(string name)
        {
            if (!names.TryGetValue(name, out var node))
            {
                names.Add(name, node = names.Count);
            }

            return node;
        }

        (ProbePoint, int)[] points = [.. net.Points.Select(p => (p, Node(p.ToString())))];
        return new(net.Number, names, points, [.. net.Edges.Select(e => Loom.Wires[placeOf[e.Label]]).Select(w => (Node(w.From.Text), Node(w.To.Text), placeOf[w.Id]))]);
    }

    /// <summary>The triangle over the limits with its top at the nominal value: its mean and its spread.</summary>
    private static Part Spread(int wire, OhmRange range)
    {
        var (a, c, b) = (range.Min, range.Nominal, range.Max);
        return new(wire, (a + b + c) / 3, Math.Sqrt(Math.Max(0, ((a * a) + (b * b) + (c * c) - (a * b) - (a * c) - (b * c)) / 18)));
    }

    /// <summary>A drawn net as numbers.</summary>
    /// <param name="Net">Its number.</param>
    /// <param name="NodeOf">Nodes by name: cavities and splices.</param>
    /// <param name="Edges">Its wires, by their place in the loom.</param>
    internal sealed record Skeleton(int Net, Dictionary<string, int> NodeOf, (ProbePoint Point, int Node)[] Points, (int From, int To, int Wire)[] Edges);
}

/// <summary>Where a cavity is in the drawing.</summary>
/// <param name="Net">Number of its net; negative for one without a wire.</param>
/// <param name="Node">Its node in the net; for one without a wire its place among all cavities.</param>
internal readonly record struct Spot(int Net, int Node)
{
    /// <summary>Of a point that the loom does not have.</summary>
    internal static Spot Nowhere { get; } = new(-1, -1);
}
