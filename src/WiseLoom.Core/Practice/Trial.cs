using System.Collections.Immutable;
using System.Diagnostics;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Practice;

/// <summary>How one case went.</summary>
/// <param name="Hidden">What was wrong; empty for a sound loom.</param>
/// <param name="IsSeeable">Whether this meter, and this plan, could have seen all of it.</param>
/// <param name="FirstProbability">Of the group that was first at the end.</param>
/// <param name="Found">Whether what was wrong, or its group, was first at the end.</param>
/// <param name="Extra">How many measurements were taken after the plan.</param>
/// <param name="Milliseconds">Of each ranking, the first one too.</param>
/// <param name="Answers">Each answer on the way: what it was given, and whether it was right.</param>
public sealed record TrialCase(IReadOnlyList<Fault> Hidden, bool IsSeeable, double FirstProbability, bool Found, int Extra, ImmutableArray<double> Milliseconds, string Sentence, ImmutableArray<(double Given, bool IsRight)> Answers);

/// <summary>Plays hidden faults against the diagnosis: a whole plan is measured, then what it asks for, until it is sure.</summary>
public sealed class Trial
{
    /// <summary>After so many extra measurements a case is over.</summary>
    public const int MostExtra = 16;

    private readonly Loom loom;
    private readonly TestPlan plan;
    private readonly Diagnostician diagnostician;

    /// <summary>On a loom, with a plan whose readings are taken first.</summary>
    public Trial(Loom loom, TestPlan plan)
    {
        ArgumentNullException.ThrowIfNull(plan);
        (this.loom, this.plan) = (loom, plan);
        diagnostician = new(loom, plan.AmbientC, plan.Copper, FaultTally.None);
    }

    /// <summary>Plays one case.</summary>
    /// <param name="hidden">What is wrong.</param>
    /// <param name="seed">Of copper, contacts and the meter's error.</param>
    public TrialCase Play(IReadOnlyList<Fault> hidden, int seed, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(hidden);
        var bench = new SimulatedBench(loom, plan.Meter, hidden, seed);
        var readings = Planned(bench);
        var isSeeable = diagnostician.CanShow(hidden, plan.Meter) && (!hidden.OfType<ShortFault>().Any(f => f.AlongMm is not null) || Differ(readings, Planned(new(loom, plan.Meter, [], seed))));
        var milliseconds = ImmutableArray.CreateBuilder<double>();
        Diagnosed? found = null;
        var answers = ImmutableArray.CreateBuilder<(double, bool)>();
        for (var extra = 0; ; extra++)
        {
            var begun = Stopwatch.GetTimestamp();
            found = diagnostician.FindOn(found, readings, plan.Meter, Hands.After(readings), cancel);
            milliseconds.Add(Stopwatch.GetElapsedTime(begun).TotalMilliseconds);
            answers.Add((found.Ranking[0].Probability, IsOf(found.Ranking[0], hidden)));
            if (found.Next is not { } next || extra == MostExtra)
            {
                return new(hidden, isSeeable, found.Ranking[0].Probability, answers[^1].Item2, extra, milliseconds.ToImmutable(), found.Ranking[0].Sentence, answers.ToImmutable());
            }

            readings.Add(Measured(bench, next));
        }
    }

    private List<Observation> Planned(SimulatedBench bench) =>
    [
        .. plan.Steps.Where(s => s.Phase == StepPhase.Bare).Select(s =>
        {
            var probes = StepProbes.Of(loom, plan, s);
            return Observation.Of(s.Black, s.Red, bench.Measure(probes.Red, probes.Black).Ohms);
        }),
    ];

    /// <summary>Whether any reading of the plan shows that something is wrong: a bridge between circuits that the plan does not hold against each other shows nowhere.</summary>
    private bool Differ(List<Observation> of, List<Observation> sound) => of.Zip(sound).Any(r =>
        Evidence.IsJoined(r.First) != Evidence.IsJoined(r.Second) || (r.First.Ohm is { } a && r.Second.Ohm is { } b && Evidence.IsJoined(r.First) && Math.Abs(a - b) > 2 * plan.Meter.Uncertainty(a)));

    private Observation Measured(SimulatedBench bench, Measurement next)
    {
        bench.Moved = next.Moved;
        var far = next.B ?? StepProbes.Against(loom, next.A);
        var seen = new Observation([next.A], next.B, bench.Measure(far, [next.A]).Ohms, next.Moved);
        bench.Moved = false;
        return seen;
    }

    /// <summary>Whether a group holds what was hidden: the same wires and cavities, whatever the end or the ohms.</summary>
    public static bool IsOf(Finding finding, IReadOnlyList<Fault> hidden)
    {
        ArgumentNullException.ThrowIfNull(finding);
        var truth = Keys(hidden);
        return finding.Alike.Prepend(finding.Faults).Any(one => Keys(one).SetEquals(truth));
    }

    private static HashSet<string> Keys(IEnumerable<Fault> faults) => [.. faults.Select(f => f switch
    {
        OpenFault open => $"open {open.Wire}",
        MissingFault missing => $"open {missing.Wire}",
        ResistiveFault poor => $"poor {poor.Wire}",
        IntermittentFault loose => $"loose {loose.Wire}",
        ShortFault bridge => $"{(bridge.AlongMm is null ? "bridge" : "along")} {string.Join(' ', new[] { bridge.A, bridge.B }.Order(StringComparer.Ordinal))}",
        SwapFault swap => $"swap {swap.Connector} {string.Join(' ', swap.Cavities.Order(StringComparer.Ordinal))}",
        ShiftFault shift => $"shift {shift.Connector} {shift.By} {string.Join(' ', shift.Cavities)}",
        _ => f.ToString(),
    })];
}
