using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Finds the first, simple causes of a failing step: each single fault is put into the model and held against all readings so far.</summary>
public sealed class FirstCause
{
    /// <summary>No more causes are told.</summary>
    public const int Most = 6;

    private readonly Loom loom;
    private readonly TestPlan plan;
    private readonly WireGraph drawn;
    private readonly Dictionary<int, PlanStep> steps;
    private readonly Dictionary<string, Wire> wires;

    /// <summary>What the search may cost: the squares of the nodes of all nets that are solved for it, some seconds' worth. The likeliest suppositions come first.</summary>
    private const double MostWork = 4e8;

    /// <summary>Sets up the search for one loom and the plan it was measured by; the suppositions of a step are made when they are asked for.</summary>
    public FirstCause(Loom loom, TestPlan plan)
    {
        this.loom = loom;
        this.plan = plan;
        drawn = WireGraph.Of(loom, plan.AmbientC, plan.Copper);
        steps = plan.Steps.ToDictionary(s => s.Number);
        wires = loom.Wires.ToDictionary(w => w.Id, StringComparer.Ordinal);
    }

    /// <summary>What the readings of a run say about a failing step of it, as it stands.</summary>
    /// <returns>Empty when the step has no reading that counts.</returns>
    public static ImmutableArray<Cause> Of(BenchRun run, int step, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(run);
        var evidence = run.Evidence();
        return evidence.ContainsKey(step) ? new FirstCause(run.Loom, run.Plan).Rank(step, evidence, cancel) : [];
    }

    /// <summary>Ranks the causes of a failing step.</summary>
    /// <param name="failing">Number of the step that fails.</param>
    /// <param name="readings">The latest reading of each step, passing ones too.</param>
    /// <returns>At most <see cref="Most"/> causes that predict the failing step, the best first: fewest readings against it, then most
    /// failing readings explained, then the likelier kind. Empty when no single fault of the known kinds predicts it.</returns>
    public ImmutableArray<Cause> Rank(int failing, IReadOnlyDictionary<int, Reading> readings, CancellationToken cancel)
    {
        var step = steps[failing];
        var evidence = readings.Where(r => steps.ContainsKey(r.Key)).Select(r => Told(steps[r.Key], r.Value)).ToList();
        var wrong = evidence.Count(e => e.Wrong);
        var left = MostWork;
        return
        [
            .. Suppositions(step, readings[failing])
                .Distinct()
                .OrderByDescending(s => s.Prior)
                .Select(s => (s.Fault, s.Prior, Nets: NetsOf(s.Fault)))
                .TakeWhile(s => (left -= s.Nets.Sum(n => Math.Pow(drawn.Nets[n].Nodes.Length, 2)) + evidence.Count) > 0)
                .Select(s => Weigh(s.Fault, s.Prior, s.Nets, step, evidence, wrong, cancel))
                .OfType<(Cause Cause, double Prior)>()
                .OrderBy(c => c.Cause.Against)
                .ThenByDescending(c => c.Cause.Explains)
                .ThenByDescending(c => c.Prior)
                .Take(Most)
                .Select(c => c.Cause),
        ];
    }

    /// <summary>Numbers of the drawn nets that a fault changes: what lies in no other reads as drawn.</summary>
    private HashSet<int> NetsOf(Fault fault) => [.. fault.Places(loom).Select(drawn.NumberOf).OfType<int>()];

    private Evidence Told(PlanStep step, Reading reading) => new(
        step, reading, drawn.NetOf(step.Black)?.Number ?? -1, step.Red is { } red ? drawn.NetOf(red)?.Number ?? -1 : -1, plan.Judge(step, reading) == Verdict.Fail, Agrees(drawn, step, reading));

    private (Cause Cause, double Prior)? Weigh(Fault fault, double prior, HashSet<int> nets, PlanStep step, List<Evidence> evidence, int wrong, CancellationToken cancel)
    {
        cancel.ThrowIfCancellationRequested();
        var touched = nets.Order().Select(n => drawn.Nets[n]).ToList();
        var built = new BuiltLoom(loom, [fault], touched.SelectMany(n => n.Edges).Select(e => wires[e.Label])).Graph(touched.SelectMany(n => n.Points), plan.AmbientC, plan.Copper);
        var (explains, against, own) = (0, 0, false);
        foreach (var told in evidence)
        {
            if (!(nets.Contains(told.Black) || nets.Contains(told.Red) ? Agrees(built, told.Step, told.Reading) : told.AsDrawn))
            {
                against++;
            }
            else if (told.Wrong)
            {
                explains++;
                own |= told.Step.Number == step.Number;
            }
        }

        return own
            ? (new(fault, Sentences.For(loom, fault, step, explains, wrong), explains, wrong, against, [.. fault.Places(loom).Distinct().Order(NaturalOrder.Comparer)]), prior)
            : null;
    }

    /// <summary>Whether a reading is what a loom with this fault would show, give or take copper and meter.</summary>
    private bool Agrees(WireGraph built, PlanStep step, Reading reading)
    {
        if (Predicted(built, step) is not { } predicted || predicted.Nominal > plan.MeterFor(step).UpToOhms)
        {
            return reading.Ohms is not { } shown || shown >= Limits.ApartOhms;
        }

        if (reading.Ohms is not { } ohms)
        {
            return false;
        }

        var slack = plan.MeterFor(step).Uncertainty(ohms) + 0.02 + (0.1 * predicted.Nominal);
        return ohms >= predicted.Min - slack && ohms <= predicted.Max + slack;
    }

    /// <summary>What the step would read; null for nothing but air between the probes.</summary>
    private OhmRange? Predicted(WireGraph built, PlanStep step)
    {
        if (built.NetOf(step.Black) is not { } net)
        {
            return null;
        }

        if (step.Red is { } red)
        {
            return built.NetOf(red)?.Number == net.Number ? net.Between(step.Black, red) : null;
        }

        var own = drawn.NetOf(step.Black)?.Number;
        var strangers = net.Points.Where(p => drawn.NetOf(p) is { } home && home.Number != own).ToList();
        return strangers.Count == 0 ? null : strangers.Select(p => net.Between(step.Black, p)).MinBy(r => r.Nominal);
    }

    private IEnumerable<(Fault Fault, double Prior)> Suppositions(PlanStep step, Reading reading)
    {
        if (!step.IsJoined)
        {
            return Bridges(step, reading).Concat(WrongPlaces(step));
        }

        return reading.IsOverRange || reading.Ohms >= Limits.ApartOhms
            ? OpenWires(step).Concat(WrongPlaces(step))
            : TooMuch(step, reading).Concat(WrongPlaces(step));
    }

    private IEnumerable<(Fault, double)> OpenWires(PlanStep step) => Between(step).Select(c => ((Fault)new OpenFault(c.Label), 0.40));

    private IEnumerable<(Fault, double)> TooMuch(PlanStep step, Reading reading)
    {
        var excess = (reading.Ohms ?? 0) - (step.Explained?.Nominal ?? 0);
        return excess > 0
            ? Between(step).Where(c => c.Share > 0.05).Select(c => ((Fault)new ResistiveFault(c.Label, Math.Round(excess / (c.Share * c.Share), 3)), 0.30 * c.Share))
            : [];
    }

    private ImmutableArray<Contribution> Between(PlanStep step) =>
        step.Red is { } red && drawn.NetOf(step.Black) is { } net && drawn.NetOf(red)?.Number == net.Number ? net.Explain(step.Black, red) : [];

    /// <summary>Metal between two cavities that stand beside each other, wherever the circuits that touch come together in a face.
    /// The bridge has what the reading leaves after the copper on both sides of it.</summary>
    private IEnumerable<(Fault, double)> Bridges(PlanStep step, Reading reading)
    {
        if (reading.Ohms is not { } ohms || drawn.NetOf(step.Black) is not { } own)
        {
            yield break;
        }

        var far = step.Red is { } red ? drawn.NetOf(red) : null;
        var slack = plan.MeterFor(step).Uncertainty(ohms) + (0.1 * ohms);
        foreach (var (point, neighbour) in own.Points.SelectMany(p => Neighbours(p).Select(n => (p, n))))
        {
            if (drawn.NetOf(neighbour) is not { } other || other.Number == own.Number || (far is not null && other.Number != far.Number))
            {
                continue;
            }

            var copper = own.Between(step.Black, point, Corner.Nominal) + (step.Red is { } end && far is not null ? far.Between(neighbour, end, Corner.Nominal) : 0);
            if (copper <= ohms + slack)
            {
                yield return (new ShortFault(point.ToString(), neighbour.ToString(), Math.Max(0, Math.Round(ohms - copper, 3))), 0.30);
            }
        }
    }

    /// <summary>Contacts at either probe that stand in another cavity: exchanged with one, or moved to an empty one.</summary>
    private IEnumerable<(Fault, double)> WrongPlaces(PlanStep step)
    {
        var own = drawn.NetOf(step.Black);
        var points = (step.IsJoined ? own?.Points ?? [] : [step.Black])
            .Where(p => step.Red is null || p == step.Black || p == step.Red || step.IsJoined)
            .Append(step.Red ?? step.Black)
            .Distinct();
        foreach (var point in points)
        {
            var connector = loom.Connector(point.Connector);
            var beside = Neighbours(point).Select(p => p.Cavity).ToHashSet(StringComparer.Ordinal);
            foreach (var cavity in connector.Family.Cavities.Where(c => c != point.Cavity))
            {
                var near = beside.Contains(cavity) ? 0.20 : 0.05;
                if (drawn.NodeOf(new(connector.Ref, cavity)) >= 0)
                {
                    yield return (SwapFault.Of(connector.Ref, point.Cavity, cavity), near);
                }
                else if (beside.Contains(cavity))
                {
                    yield return (new MisplacedFault(connector.Ref, point.Cavity, cavity), near);
                }
            }
        }
    }

    private IEnumerable<ProbePoint> Neighbours(ProbePoint point) =>
        from pair in FaceLayout.Neighbours(loom.Connector(point.Connector).Family)
        where pair.A == point.Cavity || pair.B == point.Cavity
        select new ProbePoint(point.Connector, pair.A == point.Cavity ? pair.B : pair.A);

    /// <summary>A step with its reading.</summary>
    /// <param name="Black">Number of the drawn net of its black place; −1 for none.</param>
    /// <param name="Red">The same of its red place.</param>
    /// <param name="Wrong">Whether the reading fails.</param>
    /// <param name="AsDrawn">Whether the loom as drawn would show it.</param>
    private sealed record Evidence(PlanStep Step, Reading Reading, int Black, int Red, bool Wrong, bool AsDrawn);
}
