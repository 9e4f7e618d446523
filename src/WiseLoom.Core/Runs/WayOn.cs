using System.Collections.Immutable;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Runs;

/// <summary>A step on the way on.</summary>
/// <param name="Turned">Whether its probes are exchanged, so that one that stays keeps its colour.</param>
public readonly record struct WayStep(int Step, bool Turned);

/// <summary>What is still to do in a run, in an order that takes little time from where the probes stand.</summary>
/// <param name="Steps">Retests first; then the loom alone, under load, with devices plugged in, samples, and what an eye goes through.</param>
/// <param name="Waiting">Steps that wait for a connector that is not at hand.</param>
/// <param name="Theirs">Steps at connectors that somebody else took.</param>
/// <param name="Seconds">For <paramref name="Steps"/>.</param>
public sealed record WayOn(ImmutableArray<WayStep> Steps, ImmutableArray<int> Waiting, ImmutableArray<int> Theirs, double Seconds)
{
    /// <summary>Plans again. No proof is lost by it: steps that were dealt with are left out, all others are there or wait.</summary>
    /// <param name="stand">Where the probes are; null for nowhere, from where the plan's own order holds.</param>
    /// <param name="away">Refs of connectors that are not at hand.</param>
    public static WayOn From(BenchRun run, ProbePair? stand, IReadOnlySet<string> away) => From(run, stand, away, PlanShare.None, Guid.Empty);

    /// <summary>The same for one of several people who share the plan.</summary>
    /// <param name="share">Who does which connectors.</param>
    /// <param name="person">Whose way it is.</param>
    public static WayOn From(BenchRun run, ProbePair? stand, IReadOnlySet<string> away, PlanShare share, Guid person)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(away);
        ArgumentNullException.ThrowIfNull(share);
        bool IsAway(ProbePoint? place) => place is { } point && away.Contains(point.Connector);
        var all = run.Plan.Steps.Where(s => run[s.Number].IsDue).ToList();
        var due = all.Where(s => share.IsFor(s, person)).ToList();
        var near = due.Where(s => !IsAway(s.Black) && !IsAway(s.Red)).ToList();
        var cost = run.Plan.Cost;
        var (way, seconds, before) = (ImmutableArray.CreateBuilder<WayStep>(), 0.0, StepPhase.Bare);
        foreach (var part in near.GroupBy(s => (s.Phase, IsFresh: run[s.Number].State != StepState.Retest)).OrderBy(g => g.Key))
        {
            var steps = part.ToList();
            if (!steps[0].IsProbed)
            {
                way.AddRange(steps.Select(s => new WayStep(s.Number, false)));
                seconds += steps.Sum(s => s.Seconds);
                continue;
            }

            seconds += part.Key.Phase != before ? cost.Refit : 0;
            before = part.Key.Phase;
            foreach (var step in stand is null && due.Count == near.Count && due.Count == all.Count ? steps : FixedOrder.Places(steps.ConvertAll(s => s.Probes), stand, cost).Select(i => steps[i]))
            {
                var turned = step.MayTurn && stand is { } at && step.Probes.Turned.Keeps(at) > step.Probes.Keeps(at);
                var probes = turned ? step.Probes.Turned : step.Probes;
                way.Add(new(step.Number, turned));
                seconds += cost.Between(stand, probes);
                stand = probes;
            }
        }

        return new(way.ToImmutable(), [.. due.Except(near).Select(s => s.Number)], [.. all.Except(due).Select(s => s.Number)], seconds);
    }
}
