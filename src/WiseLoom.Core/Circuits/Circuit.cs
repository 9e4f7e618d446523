using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Circuits;

/// <summary>A part between two nodes: i = (V(from) − V(to) − E) / R, from → to.</summary>
/// <param name="Fixed">An ideal part of 0 Ω: it holds its two nodes E apart whatever flows.</param>
/// <param name="Label">What it is.</param>
internal sealed record CircuitBranch(int From, int To, bool Fixed, string Label);

/// <summary>A network of resistances, sources in series with them, and diodes. Its shape never changes; its values may with each question.</summary>
/// <remarks>Nodes that ideal parts join are one unknown with an offset each: an ideal battery is an offset of its voltage, a wire of
/// 0 Ω one of nothing. Where such parts close a ring, their voltages must add up to nothing, else no state exists.</remarks>
internal sealed class Circuit
{
    /// <summary>Every node has this to the reference, siemens: an island has an answer.</summary>
    internal const double Leak = 1e-9;

    private readonly int[] root;
    private readonly int[] unknown;
    private readonly (int Child, int Parent, int Branch, int Sign)[] ideal;
    private readonly int[] rings;
    private readonly Place?[] placeOfBranch;
    private readonly Place?[] placeOfJunction;
    private readonly int[] nodesOf;

    private Circuit(Builder build, int reference)
    {
        Names = [.. build.Names];
        Branches = [.. build.Branches];
        Junctions = [.. build.Junctions];
        Reference = reference;
        (root, ideal, rings) = Merge();
        unknown = new int[Names.Length];
        var number = new Dictionary<int, int> { [root[reference]] = -1 };
        for (var node = 0; node < Names.Length; node++)
        {
            if (!number.TryGetValue(root[node], out unknown[node]))
            {
                number.Add(root[node], unknown[node] = number.Count - 1);
            }
        }

        (int A, int B)[] pairs = [.. Branches.Where(b => !b.Fixed).Select(b => (unknown[b.From], unknown[b.To])), .. Junctions.Select(j => (unknown[j.From], unknown[j.To]))];
        Elimination = Elimination.Of(number.Count - 1, pairs.Where(p => p.A >= 0 && p.B >= 0 && p.A != p.B));
        nodesOf = new int[Elimination.Count];
        foreach (var u in unknown.Where(u => u >= 0))
        {
            nodesOf[u]++;
        }

        var places = new Dictionary<(int, int), Place>();
        placeOfBranch = [.. Branches.Select((b, i) => b.Fixed ? null : PlaceOf(places, b.From, b.To, i))];
        JunctionsInside = new bool[Elimination.Count];
        JunctionReach = Reach(Junctions.SelectMany(j => new[] { j.From, j.To }));
        foreach (var place in JunctionReach)
        {
            JunctionsInside[place] = true;
        }

        placeOfJunction = [.. Junctions.Select((j, i) => PlaceOf(places, j.From, j.To, ~i))];
    }

    internal ImmutableArray<string> Names { get; }

    internal ImmutableArray<CircuitBranch> Branches { get; }

    internal ImmutableArray<Junction> Junctions { get; }

    /// <summary>The node that is 0 V.</summary>
    internal int Reference { get; }

    internal Elimination Elimination { get; }

    /// <summary>Places in the order that the diodes reach.</summary>
    internal int[] JunctionReach { get; }

    /// <summary>By place in the order: whether the diodes reach it.</summary>
    internal bool[] JunctionsInside { get; }

    /// <summary>The unknown that a node belongs to; −1 for the reference's.</summary>
    internal int UnknownOf(int node) => unknown[node];

    /// <summary>The place in the order of removal of the unknown that a node belongs to; −1 for the reference's.</summary>
    internal int PlaceOf(int node) => unknown[node] is >= 0 and var u ? Elimination.PositionOf(u) : -1;

    /// <summary>Places in the order that some nodes reach.</summary>
    internal int[] Reach(IEnumerable<int> nodes) => Elimination.Reach(nodes.Select(UnknownOf).Where(u => u >= 0));

    /// <summary>Offsets of the nodes from their unknowns.</summary>
    /// <returns>Null with the branch where ideal sources contradict each other.</returns>
    internal (double[]? Offset, int Conflict) Offsets(double[] emf)
    {
        var offset = new double[Names.Length];
        foreach (var (child, parent, branch, sign) in ideal)
        {
            offset[child] = offset[parent] + (sign * emf[branch]);
        }

        foreach (var branch in rings)
        {
            var b = Branches[branch];
            if (!(Math.Abs(offset[b.From] - offset[b.To] - emf[branch]) < 1e-9))
            {
                return (null, branch);
            }
        }

        return (offset, -1);
    }

    /// <summary>Forms a value of the network anew from the parts that make it up, so that nothing is left of what a part was before.</summary>
    /// <param name="part">A branch, or a diode as its complement (<c>~j</c>).</param>
    /// <param name="siemensOf">Siemens of a part named so.</param>
    internal void Restamp(int part, Func<int, double> siemensOf, Factor factor, bool[] dirty)
    {
        var place = part >= 0 ? placeOfBranch[part] : placeOfJunction[~part];
        if (place is { Parts: { } parts })
        {
            var sum = place.Leaks * Leak;
            foreach (var other in parts)
            {
                sum += siemensOf(other);
            }

            (place.Slot >= 0 ? factor.BaseBetween : factor.BaseLeak)[place.Slot >= 0 ? place.Slot : place.Position] = sum;
            dirty[place.Position] = true;
        }
    }

    /// <summary>How many nodes an unknown stands for: each has its own leak.</summary>
    internal int NodesOf(int unknownNode) => nodesOf[unknownNode];

    /// <summary>Currents in ideal branches: what flows out of each node by the other parts must come in by them.</summary>
    /// <param name="outflow">By node: amperes that leave it through all parts that are not ideal.</param>
    internal void FillIdeal(double[] outflow, double[] amps)
    {
        if (ideal.Length == 0)
        {
            return;
        }

        if (rings.Length == 0)
        {
            // From the leaves of each tree inwards.
            var due = (double[])outflow.Clone();
            foreach (var (child, parent, branch, sign) in ideal.Reverse())
            {
                // Positive sign: the branch runs from child to parent.
                amps[branch] = sign > 0 ? -due[child] : due[child];
                due[parent] += due[child];
            }

            return;
        }

        // With rings the split is not decided by the voltages; it is what equal small resistances would give.
        foreach (var group in ideal.Select(i => root[i.Child]).Distinct())
        {
            int[] nodes = [.. Enumerable.Range(0, Names.Length).Where(n => root[n] == group)];
            var place = nodes.Select((n, i) => (n, i)).ToDictionary(x => x.n, x => x.i);
            int[] inside = [.. Enumerable.Range(0, Branches.Length).Where(b => Branches[b].Fixed && Branches[b].From != Branches[b].To && root[Branches[b].From] == group)];
            var solution = NetSolution.Of(nodes.Length, [.. inside.Select(b => (place[Branches[b].From], place[Branches[b].To], 1.0))]);
            double At(int node) => -nodes.Sum(n => solution.Transfer(place[node], place[n]) * outflow[n]);
            foreach (var b in inside)
            {
                amps[b] = At(Branches[b].From) - At(Branches[b].To);
            }
        }
    }

    /// <summary>Whether ideal parts close a ring, so that nobody can say how a current divides in it.</summary>
    internal IEnumerable<string> RingLabels => rings.Select(b => Branches[b].Label);

    /// <summary>The value of the network that a part has a share in; null for a part within one unknown.</summary>
    private Place? PlaceOf(Dictionary<(int, int), Place> places, int from, int to, int part)
    {
        var (a, b) = (Math.Min(unknown[from], unknown[to]), Math.Max(unknown[from], unknown[to]));
        if (a == b)
        {
            return null;
        }

        if (!places.TryGetValue((a, b), out var place))
        {
            places.Add((a, b), place = a < 0
                ? new(-1, Elimination.PositionOf(b), nodesOf[b], [])
                : new(Elimination.SlotOf(a, b), Elimination.PositionOfSlot(a, b), 0, []));
        }

        place.Parts.Add(part);
        return place;
    }

    private (int[] Root, (int Child, int Parent, int Branch, int Sign)[] Ideal, int[] Rings) Merge()
    {
        var near = new Dictionary<int, List<(int Other, int Branch, int Sign)>>();
        for (var i = 0; i < Branches.Length; i++)
        {
            var b = Branches[i];
            if (b.Fixed)
            {
                Add(near, b.From, (b.To, i, 1));
                Add(near, b.To, (b.From, i, -1));
            }
        }

        var found = Enumerable.Repeat(-1, Names.Length).ToArray();
        var tree = new List<(int, int, int, int)>();
        var used = new HashSet<int>();
        void From(int top)
        {
            var queue = new Queue<int>([top]);
            found[top] = top;
            while (queue.TryDequeue(out var node))
            {
                foreach (var (other, branch, sign) in near.GetValueOrDefault(node) ?? [])
                {
                    if (found[other] < 0)
                    {
                        found[other] = top;
                        used.Add(branch);
                        // Seen from the child: a branch that runs from it to its parent lifts it by E.
                        tree.Add((other, node, branch, -sign));
                        queue.Enqueue(other);
                    }
                }
            }
        }

        From(Reference);
        for (var node = 0; node < Names.Length; node++)
        {
            if (found[node] < 0)
            {
                From(node);
            }
        }

        return (found, [.. tree], [.. Enumerable.Range(0, Branches.Length).Where(i => Branches[i].Fixed && !used.Contains(i))]);
    }

    private static void Add(Dictionary<int, List<(int, int, int)>> near, int node, (int, int, int) edge)
    {
        if (!near.TryGetValue(node, out var list))
        {
            near.Add(node, list = []);
        }

        list.Add(edge);
    }

    /// <summary>One value of the network and the parts that make it up.</summary>
    /// <param name="Slot">−1 for a leak to the reference.</param>
    /// <param name="Position">The node that keeps it, by its place in the order.</param>
    /// <param name="Leaks">How many nodes' own leaks are in it.</param>
    private sealed record Place(int Slot, int Position, int Leaks, List<int> Parts);

    /// <summary>Collects the parts of a circuit.</summary>
    internal sealed class Builder
    {
        private readonly Dictionary<string, int> indexOf = new(StringComparer.Ordinal);

        internal List<string> Names { get; } = [];

        internal List<CircuitBranch> Branches { get; } = [];

        internal List<Junction> Junctions { get; } = [];

        /// <summary>The node of a name; made when it is new.</summary>
        internal int Node(string name)
        {
            if (!indexOf.TryGetValue(name, out var index))
            {
                indexOf.Add(name, index = Names.Count);
                Names.Add(name);
            }

            return index;
        }

        /// <summary>The node of a name, or −1.</summary>
        internal int Find(string name) => indexOf.GetValueOrDefault(name, -1);

        /// <summary>Adds a part; its values come with each question.</summary>
        internal int Branch(int from, int to, string label, bool ideal = false)
        {
            Branches.Add(new(from, to, ideal, label));
            return Branches.Count - 1;
        }

        internal void Junction(int anode, int cathode, DiodeModel model, string label) => Junctions.Add(new(anode, cathode, model, label));

        internal Circuit Done(int reference) => new(this, reference);
    }
}

/// <summary>Something held to a node from outside: a meter or a lamp, to the reference or to another node.</summary>
/// <param name="To">The other side's node; null for the reference.</param>
/// <param name="Amps">A current fed in at <paramref name="Node"/> (and taken out at <paramref name="To"/>), as a meter of resistance does.</param>
internal sealed record Probe(int Node, double Siemens, int? To = null, double Amps = 0);
