using System.Collections.Immutable;
using System.Text;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Revisions;

/// <summary>A step of a new run that an earlier revision's run has proven already.</summary>
/// <param name="Step">The new plan's step.</param>
/// <param name="FromStep">The step of the earlier run that passed.</param>
public sealed record CarriedStep(int Step, int FromStep);

/// <summary>Which proof of an earlier revision still holds for a reworked loom.</summary>
/// <param name="Steps">What is carried over.</param>
/// <param name="Reasons">Why the rest must be measured, in words, with counts.</param>
public sealed record CarriedProof(ImmutableArray<CarriedStep> Steps, ImmutableArray<string> Reasons)
{
    /// <summary>Works out what is still proven.</summary>
    /// <param name="run">The run on the loom that was measured.</param>
    /// <param name="now">The reworked loom, with its own plan.</param>
    /// <remarks>
    /// A continuity step holds when its whole net is the same: each wire with its ends, section, length and colour, each splice, and the
    /// families at its ends. A step against one neighbour holds when both nets are the same and not both come to a cavity that was
    /// touched or stands beside one that was; a cavity was touched when a wire that ends in it was added, removed or changed. A step
    /// against all others holds only when nothing at all was changed: any new wire may lie against it. What is read through devices, pulled or looked at is
    /// always done anew.
    /// </remarks>
    public static CarriedProof Of(BenchRun run, Loom now, TestPlan plan)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(now);
        ArgumentNullException.ThrowIfNull(plan);
        var rework = new Rework(run.Loom, now);
        var sameMeter = run.Plan.Meter == plan.Meter && run.Plan.Copper == plan.Copper && run.Plan.AmbientC.Equals(plan.AmbientC);
        var passed = run.Plan.Steps.Where(s => run[s.Number].State == StepState.Pass).ToLookup(s => s.Pair);
        var carried = ImmutableArray.CreateBuilder<CarriedStep>();
        var (changed, never, meter, beyond) = (0, 0, 0, 0);
        foreach (var step in plan.Steps)
        {
            if (step.Phase is not (StepPhase.Bare or StepPhase.UnderLoad))
            {
                beyond++;
            }
            else if (!rework.Spares(step))
            {
                changed++;
            }
            else if (!sameMeter)
            {
                meter++;
            }
            else if (passed[step.Pair].FirstOrDefault(step.AsksTheSameAs) is { } was)
            {
                carried.Add(new(step.Number, was.Number));
            }
            else
            {
                never++;
            }
        }

        string[] reasons =
        [
            Say(changed, "touches a circuit or a cavity that was worked on, or stands beside one", "touch circuits or cavities that were worked on, or stand beside one"),
            Say(meter, "was measured with another meter, at another temperature or by other limits of the shop", "were measured with another meter, at another temperature or by other limits of the shop"),
            Say(never, "had not passed before", "had not passed before"),
            Say(beyond, "reads through a device, pulls a sample or looks, which is done anew", "read through devices, pull samples or look, which is done anew"),
        ];
        return new(carried.ToImmutable(), [.. reasons.Where(r => r.Length > 0)]);
    }

    /// <summary>Pairs that a run has proven and that still hold for a reworked loom, for <see cref="PlanTerms.Proven"/>.</summary>
    /// <param name="terms">What the new plan is made for; another meter, temperature or tolerance leaves nothing.</param>
    public static ImmutableArray<ProbePair> Pairs(BenchRun run, Loom now, PlanTerms terms)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(terms);
        if (run.Plan.Meter != terms.Meter || run.Plan.Copper != terms.Copper || !run.Plan.AmbientC.Equals(terms.AmbientC))
        {
            return [];
        }

        var rework = new Rework(run.Loom, now);
        return [.. run.Plan.Steps.Where(s => s.Phase == StepPhase.Bare && (s.Red is not null || terms.Isolation == run.Plan.Isolation) && run[s.Number].State == StepState.Pass && rework.Spares(s)).Select(s => s.Probes)];
    }

    private static string Say(int n, string one, string many) => n switch { 0 => "", 1 => $"1 step {one}.", _ => $"{n} steps {many}." };

    /// <summary>What was changed between two revisions.</summary>
    private sealed class Rework
    {
        private readonly Prints old, fresh;
        private readonly HashSet<int> near;
        private readonly bool allSame;

        internal Rework(Loom before, Loom now)
        {
            (old, fresh) = (new(before), new(now));
            var touched = old.Touched(fresh);
            near = [.. touched.Concat(touched.SelectMany(p => FixReach.Beside(before, p).Concat(FixReach.Beside(now, p)))).Select(fresh.NumberOf).OfType<int>()];
            allSame = touched.Count == 0 && old.Equal(fresh);
        }

        /// <summary>Whether what a step asks could not have been changed.</summary>
        internal bool Spares(PlanStep step) => Points(step).All(p => fresh.Of(p) is { } print && old.Of(p) == print)
            && (step.IsJoined || (step.Red is null ? allSame : !Points(step).All(p => fresh.NumberOf(p) is { } net && near.Contains(net))));
    }

    private static IEnumerable<ProbePoint> Points(PlanStep step) => step.Red is { } red ? [step.Black, red] : [step.Black];

    /// <summary>What each net is made of, as one text.</summary>
    private sealed class Prints
    {
        private readonly WireGraph graph;
        private readonly Dictionary<int, string> prints = [];
        private readonly Dictionary<string, string> wires;
        private readonly Dictionary<string, ProbePoint[]> ends;

        internal Prints(Loom loom)
        {
            graph = WireGraph.Topology(loom);
            var splices = loom.Splices.ToDictionary(s => s.Ref, StringComparer.Ordinal);
            string End(WireEnd end) => end.IsSplice
                ? $"{end.Text} {splices[end.Text].Kind} {splices[end.Text].Leg}"
                : $"{end.Text} {loom.Connector(end.Point.Connector).Family.Id} {loom.Connector(end.Point.Connector).Family.Contact}";
            string Print(Wire w)
            {
                var both = new[] { End(w.From), End(w.To) }.Order(StringComparer.Ordinal);
                return $"{string.Join(" – ", both)} {w.Section.Mm2:R} {w.LengthMm:R} {w.Colour.Text}";
            }

            wires = loom.Wires.ToDictionary(w => w.Id, Print, StringComparer.Ordinal);
            ends = loom.Wires.ToDictionary(w => w.Id, w => new[] { w.From, w.To }.Where(e => !e.IsSplice).Select(e => e.Point).ToArray(), StringComparer.Ordinal);
            foreach (var net in graph.Nets)
            {
                prints[net.Number] = string.Join('\n', net.Edges.Select(e => wires[e.Label]).Order(StringComparer.Ordinal));
            }
        }

        internal int? NumberOf(ProbePoint point) => graph.NetOf(point)?.Number;

        internal string? Of(ProbePoint point) => graph.NetOf(point) is { } net ? prints[net.Number] : null;

        internal bool Equal(Prints other) => prints.Values.Order(StringComparer.Ordinal).SequenceEqual(other.prints.Values.Order(StringComparer.Ordinal));

        /// <summary>Cavities in which a wire was added, removed or changed between the two.</summary>
        internal HashSet<ProbePoint> Touched(Prints other)
        {
            var (mine, theirs) = (wires.Values.ToHashSet(StringComparer.Ordinal), other.wires.Values.ToHashSet(StringComparer.Ordinal));
            return
            [
                .. wires.Where(w => !theirs.Contains(w.Value)).SelectMany(w => ends[w.Key]),
                .. other.wires.Where(w => !mine.Contains(w.Value)).SelectMany(w => other.ends[w.Key]),
            ];
        }
    }
}
