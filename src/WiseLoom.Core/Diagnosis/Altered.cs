using System.Collections.Immutable;
using WiseLoom.Core.Circuits;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>The drawn nets that some faults touch, as they would then be: which places metal joins, and by how much.</summary>
/// <remarks>Everything else of the loom reads as drawn. Parts are solved as they are asked for, each by itself.</remarks>
internal sealed class Altered
{
    private readonly int[] nets;
    private readonly int[] firsts;
    private readonly Dictionary<int, int> filled = [];

    /// <summary>Places along wires that something touches, by name.</summary>
    private readonly Dictionary<string, int> taps = new(StringComparer.Ordinal);

    /// <summary>Of a wire with a poor joint, the part that has it: the wire may be in pieces.</summary>
    private readonly Dictionary<int, int> poor = [];
    private readonly Metal metal;
    private readonly DrawnLoom plan;

    /// <summary>Places of the wires that may not be as drawn.</summary>
    private readonly int[] touched;
    private volatile Dictionary<int, HashSet<int>>? drawnOn;

    /// <param name="plan">The loom as it is drawn.</param>
    /// <param name="faults">What is wrong with it; may be nothing.</param>
    /// <param name="nets">Numbers of the drawn nets that they touch, or more.</param>
    internal Altered(DrawnLoom plan, IReadOnlyList<Fault> faults, IReadOnlySet<int> nets)
    {
        Nets = nets;
        this.plan = plan;
        this.nets = [.. nets];
        firsts = new int[this.nets.Length];
        touched = [.. plan.Touched(faults)];
        var (parts, nodes) = (new List<(int From, int To, Part Part)>(this.nets.Sum(n => plan.SkeletonOf(n).Edges.Length) + (4 * touched.Length) + faults.Count), 0);
        for (var i = 0; i < firsts.Length; i++)
        {
            var skeleton = plan.SkeletonOf(this.nets[i]);
            firsts[i] = nodes;
            foreach (var (from, to, wire) in skeleton.Edges)
            {
                if (!touched.AsSpan().Contains(wire))
                {
                    parts.Add((nodes + from, nodes + to, plan.PartOf(wire)));
                }
            }

            nodes += skeleton.NodeOf.Count;
        }

        if (faults.Count > 0)
        {
            Lay(new BuiltLoom(plan.Loom, faults, touched.Select(w => plan.Loom.Wires[w])), parts, ref nodes);
        }

        metal = new(nodes, parts);
    }

    private Altered(Altered of, int place, double more)
    {
        (Nets, nets, firsts, filled, taps, poor, plan, touched, drawnOn, metal) = (of.Nets, of.nets, of.firsts, of.filled, of.taps, of.poor, of.plan, of.touched, of.drawnOn, of.metal.Resized(place, more));
        Foreseen = of.Foreseen?.Resized(this, p => p.Resized(of.metal, metal, place));
    }

    /// <summary>The same with so many ohms more in one part.</summary>
    internal Altered Resized(int place, double more) => new(this, place, more);

    /// <summary>What readings would be, as far as that was asked; kept here by <see cref="Evidence.Foresee"/>.</summary>
    internal Foreseen? Foreseen { get; set; }

    /// <summary>Wires that are not as drawn, and metal between places.</summary>
    private void Lay(BuiltLoom built, List<(int From, int To, Part Part)> parts, ref int nodes)
    {
        var count = nodes;
        var names = new Dictionary<string, int>(StringComparer.Ordinal);
        int Index(string name)
        {
            if (names.TryGetValue(name, out var known))
            {
                return known;
            }

            if (plan.Graph.NumberOf(name) is { } net && FirstOf(net) is var first and >= 0)
            {
                known = first + plan.SkeletonOf(net).NodeOf[name];
            }
            else
            {
                known = count++;
                if (plan.PointOf(name) is { } point && plan.SpotOf(point) is { Net: < 0 } empty)
                {
                    filled.Add(empty.Node, known);
                }
                else
                {
                    taps.Add(name, known);
                }
            }

            names.Add(name, known);
            return known;
        }

        foreach (var wire in built.Wires)
        {
            var part = plan.PartOf(plan.PlaceOf(wire.Drawn.Id));
            foreach (var piece in wire.Pieces())
            {
                if (piece.AddedOhm > 0)
                {
                    poor[part.Wire] = parts.Count;
                }

                parts.Add((Index(piece.From), Index(piece.To), part with { Mean = (part.Mean * piece.Share) + piece.AddedOhm, Sd = part.Sd * piece.Share }));
            }
        }

        for (var i = 0; i < built.Bridges.Count; i++)
        {
            var (a, b, ohm) = built.Bridges[i];
            parts.Add((Index(a), Index(b), new Part(BridgeAt(i), ohm, 0)));
        }

        nodes = count;
    }

    /// <summary>The part that stands for one of the bridges, in their order.</summary>
    internal static int BridgeAt(int bridge) => -2 - bridge;

    /// <summary>Numbers of the drawn nets it holds.</summary>
    internal IReadOnlySet<int> Nets { get; }

    /// <summary>Points that are nodes of it.</summary>
    internal IEnumerable<ProbePoint> Points => nets.SelectMany(n => plan.SkeletonOf(n).Points.Select(p => p.Point)).Concat(Filled);

    /// <summary>Cavities without a wire in the drawing that hold one here.</summary>
    internal IEnumerable<ProbePoint> Filled => filled.Keys.Select(plan.PointAt);

    /// <summary>The same as they are in the drawing.</summary>
    internal IEnumerable<Spot> Spots => nets.SelectMany(n => plan.SkeletonOf(n).Points.Select(p => new Spot(n, p.Node))).Concat(filled.Keys.Select(p => new Spot(-1, p)));

    /// <summary>Its cavities on a piece of metal.</summary>
    internal IEnumerable<Place> PlacesOn(int piece)
    {
        for (var i = 0; i < nets.Length; i++)
        {
            foreach (var (point, node) in plan.SkeletonOf(nets[i]).Points)
            {
                if (metal.PieceOf(firsts[i] + node) == piece)
                {
                    yield return new(point, new(nets[i], node), firsts[i] + node);
                }
            }
        }

        foreach (var (empty, node) in filled)
        {
            if (metal.PieceOf(node) == piece)
            {
                yield return new(plan.PointAt(empty), new(-1, empty), node);
            }
        }
    }

    /// <summary>Whether any two of its nodes have more than one way between them.</summary>
    internal bool HasLoops => metal.HasLoops;

    /// <summary>Whether a reading of its nets is as drawn: the only way between its places passes nothing that is not.</summary>
    internal bool Keeps(Located reading) => reading.HasOneWay && !metal.HasLoops && reading.AsDrawn is { } drawn && !drawn.Passes(touched);

    /// <summary>Its node of a point; negative for a point that it does not hold.</summary>
    internal int Node(Spot spot) => spot.Net < 0 ? filled.GetValueOrDefault(spot.Node, -1) : FirstOf(spot.Net) is var first and >= 0 ? first + spot.Node : -1;

    /// <summary>Nodes of points that are drawn in other nets and that metal joins to some nodes.</summary>
    /// <param name="own">Nets that are left out.</param>
    /// <param name="nodes">Room for <see cref="CountOfPoints"/>.</param>
    /// <returns>How many it fills.</returns>
    internal int Strangers(ReadOnlySpan<int> near, HashSet<int> own, Span<int> nodes)
    {
        var count = 0;
        for (var i = 0; i < near.Length; i++)
        {
            var piece = metal.PieceOf(near[i]);
            foreach (var net in IsOnAny(near[..i], piece) ? [] : DrawnNetsOn(piece))
            {
                var first = FirstOf(net);
                foreach (var (_, node) in own.Contains(net) ? [] : plan.SkeletonOf(net).Points)
                {
                    if (metal.PieceOf(first + node) == piece)
                    {
                        nodes[count++] = first + node;
                    }
                }
            }
        }

        return count;
    }

    private bool IsOnAny(ReadOnlySpan<int> nodes, int piece)
    {
        foreach (var node in nodes)
        {
            if (metal.PieceOf(node) == piece)
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>How many points of its nets there are.</summary>
    internal int CountOfPoints
    {
        get
        {
            var count = 0;
            foreach (var net in nets)
            {
                count += plan.SkeletonOf(net).Points.Length;
            }

            return count;
        }
    }

    /// <summary>The piece of metal that a node is on.</summary>
    internal int PieceAt(int node) => metal.PieceOf(node);

    /// <summary>The piece of metal that a point is on; negative for a point that it does not hold.</summary>
    internal int PieceOf(ProbePoint point) => Node(point) is var node and >= 0 ? metal.PieceOf(node) : -1;

    /// <summary>Numbers of the drawn nets with a place on the piece of metal that a point is on; none where it does not hold it.</summary>
    internal IReadOnlySet<int> DrawnNetsAt(ProbePoint point) => Node(point) is var node and >= 0 ? DrawnNetsOn(PieceAt(node)) : new HashSet<int>();

    /// <summary>Whether the places of a drawn net are joined as they are in the drawing, and to no others.</summary>
    internal bool IsWhole(int net)
    {
        var first = FirstOf(net);
        var pieces = plan.SkeletonOf(net).Points.Select(p => metal.PieceOf(first + p.Node)).Distinct().ToList();
        return pieces is [] || (pieces is [var piece] && DrawnNetsOn(piece).Count == 1 && !filled.Values.Any(n => metal.PieceOf(n) == piece));
    }

    /// <summary>Numbers of the drawn nets with a place on a piece of metal.</summary>
    internal HashSet<int> DrawnNetsOn(int piece)
    {
        if (drawnOn is null)
        {
            var all = new Dictionary<int, HashSet<int>>();
            for (var i = 0; i < nets.Length; i++)
            {
                foreach (var (_, node) in plan.SkeletonOf(nets[i]).Points)
                {
                    var at = metal.PieceOf(firsts[i] + node);
                    if (!all.TryGetValue(at, out var on))
                    {
                        all.Add(at, on = []);
                    }

                    on.Add(nets[i]);
                }
            }

            drawnOn = all;
        }

        return drawnOn.GetValueOrDefault(piece, []);
    }

    /// <summary>The way from a point to the nearest place on its piece that is drawn in another net: near what it reads against all of them joined. Null where there is none.</summary>
    internal Predicted? NearestStranger(ProbePoint point)
    {
        if (Node(point) is not (var node and >= 0))
        {
            return null;
        }

        var (own, nearest, least) = (plan.NetOf(point), -1, double.PositiveInfinity);
        for (var i = 0; i < nets.Length; i++)
        {
            foreach (var (_, at) in nets[i] == own ? [] : plan.SkeletonOf(nets[i]).Points)
            {
                if (metal.PieceOf(firsts[i] + at) == metal.PieceOf(node) && metal.Ohms(node, firsts[i] + at) is var ohms && ohms < least)
                {
                    (nearest, least) = (firsts[i] + at, ohms);
                }
            }
        }

        return nearest < 0 ? null : Between([node], [nearest]);
    }

    /// <summary>Mean and parts of the resistance between two sets of its points, each joined; null where nothing joins them.</summary>
    internal Predicted? Between(IReadOnlyList<ProbePoint> a, IReadOnlyList<ProbePoint> b) => Between(Nodes(a), Nodes(b));

    /// <summary>The same between two sets of its nodes; null too where one of them is empty.</summary>
    internal Predicted? Between(ReadOnlySpan<int> a, ReadOnlySpan<int> b) => a.IsEmpty || b.IsEmpty ? null : metal.Between(a, b) is { } flow ? new(metal, flow) : null;

    /// <summary>Mean ohms of a wire from end to end, by itself.</summary>
    internal double Whole(Wire wire) => plan.PartOf(plan.PlaceOf(wire.Id)).Mean;

    /// <summary>The piece of metal that a node is on, splices too; negative for one that it does not hold.</summary>
    internal int PieceOf(string node) => Node(node) is var at and >= 0 ? metal.PieceOf(at) : -1;

    /// <summary>Mean ohms between two points of one piece; null where nothing joins them.</summary>
    internal double? Ohms(ProbePoint a, ProbePoint b) => Ohms(Node(a), Node(b));

    /// <summary>Mean ohms between two nodes; null where nothing joins them, or it does not hold one of them.</summary>
    internal double? Ohms(int from, int to) => from >= 0 && to >= 0 && metal.PieceOf(from) == metal.PieceOf(to) ? metal.Ohms(from, to) : null;

    /// <summary>Mean ohms between nodes of one piece while some of its nodes are joined by the fixture.</summary>
    internal Func<int, int, double> WithJoined(int[] nodes) => metal.WithJoined(nodes);

    /// <summary>Whether it is what a prediction is of, so that places of parts are the same.</summary>
    internal bool Makes(Predicted predicted) => predicted.IsOf(metal);

    /// <summary>The place of the part that stands for a wire or a bridge, of a wire in pieces that with its poor joint; negative where there are several, or none.</summary>
    internal int PlaceOf(int part)
    {
        if (poor.TryGetValue(part, out var joint))
        {
            return joint;
        }

        var at = -1;
        for (var i = 0; i < metal.Count; i++)
        {
            if (metal.PartAt(i) is { Mean: > 0 } own && own.Wire == part)
            {
                if (at >= 0)
                {
                    return -1;
                }

                at = i;
            }
        }

        return at;
    }

    private int[] Nodes(IReadOnlyList<ProbePoint> points)
    {
        var nodes = new List<int>(points.Count);
        foreach (var point in points)
        {
            if (Node(point) is var node and >= 0)
            {
                nodes.Add(node);
            }
        }

        return [.. nodes];
    }

    private int Node(ProbePoint point) => Node(plan.SpotOf(point));

    /// <summary>Its node of a name, splices too; negative for one that it does not hold.</summary>
    internal int Node(string name) =>
        plan.Graph.NumberOf(name) is { } net ? FirstOf(net) is var first and >= 0 ? first + plan.SkeletonOf(net).NodeOf[name] : -1
        : plan.PointOf(name) is { } empty ? Node(empty) : taps.GetValueOrDefault(name, -1);

    /// <summary>The first node of a net; negative when it does not hold it.</summary>
    private int FirstOf(int net) => nets.AsSpan().IndexOf(net) is var at and >= 0 ? firsts[at] : -1;
}

/// <summary>A cavity that is a node.</summary>
/// <param name="Spot">Where it is in the drawing.</param>
internal readonly record struct Place(ProbePoint Point, Spot Spot, int Node);

/// <summary>A resistance in a net.</summary>
/// <param name="Wire">Place of the wire in the loom; −1 for the fixture, less for a bridge.</param>
/// <param name="Mean">Ohms.</param>
/// <param name="Sd">Its spread, one standard deviation, ohms.</param>
internal readonly record struct Part(int Wire, double Mean, double Sd);
