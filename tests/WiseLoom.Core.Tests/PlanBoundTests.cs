using CsCheck;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Tests;

/// <summary>The bound of a plan held against the best proof there is, found by trying everything on small looms.</summary>
public sealed class PlanBoundTests
{
    private static readonly TouchCost Cost = TouchCost.Usual;

    /// <summary>Up to eight places without a ring, in which any tree shows every break.</summary>
    private static readonly Gen<Loom> Small = Gen.Int[0, 7].Array[2, 6].Select(Gen.Int[0, 7].Array[2, 6], (from, to) => Forest(from.Zip(to))).Where(w => w.Length > 0).Select(w => Looms.Of(w));

    [Theory]
    [InlineData(Isolation.Thorough)]
    [InlineData(Isolation.Neighbours)]
    public void No_proof_is_cheaper_than_the_bound_and_the_plan_is_near_the_best(Isolation isolation) => Small.Sample(
        loom =>
        {
            var plan = Bench.Plan(loom, isolation);
            var best = new Exhaustive(loom, isolation).Seconds();

            plan.LowerBoundSeconds.ShouldBeLessThanOrEqualTo(best + 1e-6);
            plan.Seconds.ShouldBeInRange(best - 1e-6, best + Cost.Move + Cost.Touch);
        },
        iter: 150);

    [Fact]
    public void Every_step_costs_what_the_hands_have_to_do() => Small.Sample(
        loom =>
        {
            var stand = (ProbePair?)null;
            foreach (var step in Bench.Plan(loom, Isolation.Thorough).Steps)
            {
                step.Seconds.ShouldBe(Cost.Between(stand, step.Probes), 1e-9);
                stand = step.Probes;
            }
        },
        iter: 60);

    private static string[] Forest(IEnumerable<(int From, int To)> wires)
    {
        var part = Enumerable.Range(0, 8).ToArray();
        var kept = new List<string>();
        foreach (var (from, to) in wires.Where(w => part[w.From] != part[w.To]))
        {
            part.AsSpan().Replace(part[from], part[to]);
            kept.Add($"{Place(from)}-{Place(to)}");
        }

        return [.. kept];
    }

    private static string Place(int number) => $"{"ABC"[number / 3]}:{(number % 3) + 1}";

    /// <summary>Dijkstra over all that can have been proven and all places where the probes can stand.</summary>
    private sealed class Exhaustive
    {
        private readonly ProbePoint[] points;
        private readonly int[] net;
        private readonly HashSet<(int, int)> apart = [];
        private readonly bool isThorough;

        internal Exhaustive(Loom loom, Isolation isolation)
        {
            var graph = WireGraph.Topology(loom);
            isThorough = isolation == Isolation.Thorough;
            points = [.. graph.Nets.SelectMany(n => n.Points)];
            net = [.. points.Select(p => graph.NetOf(p)!.Number)];
            foreach (var connector in isThorough ? [] : loom.Connectors.ToArray())
            {
                foreach (var (a, b) in FaceLayout.Neighbours(connector.Family))
                {
                    if (graph.NetOf(new(connector.Ref, a)) is { } one && graph.NetOf(new(connector.Ref, b)) is { } other && one.Number != other.Number)
                    {
                        apart.Add((Math.Min(one.Number, other.Number), Math.Max(one.Number, other.Number)));
                    }
                }
            }
        }

        internal double Seconds()
        {
            var nets = net.Distinct().Count();
            var edges = points.Length - nets;
            var isolation = isThorough ? nets - 1 : apart.Count;
            var start = (Parts: string.Concat(Enumerable.Range(0, points.Length).Select(i => (char)('a' + i))), Apart: "", A: -2, B: -2);
            var (known, queue) = (new Dictionary<(string, string, int, int), double>(), new PriorityQueue<(string Parts, string Apart, int A, int B), double>());
            queue.Enqueue(start, 0);
            while (queue.TryDequeue(out var at, out var cost))
            {
                if (!known.TryAdd(at, cost))
                {
                    continue;
                }

                if (points.Length - at.Parts.Distinct().Count() == edges && at.Apart.Length == isolation)
                {
                    return cost;
                }

                foreach (var (a, b, parts, more) in Next(at.Parts, at.Apart))
                {
                    ProbePair? stand = at.A == -2 ? null : new(Point(at.A), Point(at.B));
                    queue.Enqueue((parts, more, a, b), cost + Cost.Between(stand, new(Point(a), Point(b))));
                }
            }

            return 0;
        }

        private IEnumerable<(int A, int B, string Parts, string Apart)> Next(string parts, string done)
        {
            for (var i = 0; i < points.Length; i++)
            {
                if (isThorough && !done.Contains((char)net[i]) && done.Length < net.Distinct().Count() - 1)
                {
                    yield return (i, -1, parts, Sorted(done + (char)net[i]));
                }

                for (var j = i + 1; j < points.Length; j++)
                {
                    if (net[i] == net[j] && parts[i] != parts[j])
                    {
                        yield return (i, j, parts.Replace(parts[j], parts[i]), done);
                    }

                    var pair = (Math.Min(net[i], net[j]), Math.Max(net[i], net[j]));
                    var mark = (char)((pair.Item1 * 16) + pair.Item2);
                    if (net[i] != net[j] && apart.Contains(pair) && !done.Contains(mark))
                    {
                        yield return (i, j, parts, Sorted(done + mark));
                    }
                }
            }
        }

        private ProbePoint? Point(int number) => number < 0 ? null : points[number];

        private static string Sorted(string text) => string.Concat(text.Order());
    }
}
