using System.Collections.Immutable;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Practice;
using WiseLoom.Core.Runs;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Tests;

/// <summary>A power-up of a simulated machine, check by check, with what the run makes of it.</summary>
internal sealed class PowerUpPlay
{
    private static readonly Hand Tester = new(Guid.CreateVersion7(), "Tester");
    private static readonly System.Collections.Concurrent.ConcurrentDictionary<Loom, TestPlan> Plans = new(ReferenceEqualityComparer.Instance);
    private readonly SimulatedHands hands;

    internal PowerUpPlay(Loom loom, HiddenMachine hidden, BenchFit? fit = null, School school = School.Vehicle)
    {
        Loom = loom;
        Fit = fit ?? BenchFit.AsDrawn;
        Plan = PowerUpPlan.Of(loom, Fit, loom.AmbientC, school);
        Machine = new(loom, Fit, hidden, loom.AmbientC, 7);
        hands = new(Machine, Fit, loom.AmbientC);
        // Nothing measured bare: what is wrong is found with power.
        Run = BenchRun.Begin(loom, Plans.GetOrAdd(loom, l => Bench.Plan(l, Isolation.Neighbours)));
        Happen(Run.BeginPowerUp(Guid.CreateVersion7(), PowerUpTermsOf(Plan)));
    }

    internal Loom Loom { get; }

    internal BenchFit Fit { get; }

    internal PowerUpPlan Plan { get; }

    internal SimulatedMachine Machine { get; }

    internal BenchRun Run { get; private set; }

    /// <summary>The first check that failed; null when none did.</summary>
    internal PowerUpCheck? FirstFailed { get; private set; }

    /// <summary>What was found at it, in words.</summary>
    internal ImmutableArray<string> Findings { get; private set; } = [];

    internal static PowerUpTerms PowerUpTermsOf(PowerUpPlan plan) => PlannedPowerUp.Terms(plan, 20, [.. plan.Stages.Select(s => s.Number)], 60);

    /// <summary>Does the checks up to the first that fails; the rest of its stage too when asked.</summary>
    internal PowerUpPlay Play(bool wholeStage = false)
    {
        foreach (var check in Plan.Checks)
        {
            if (FirstFailed is { } failed && (!wholeStage || check.Stage != failed.Stage))
            {
                break;
            }

            Do(check);
        }

        return this;
    }

    internal JudgedAnswer Do(PowerUpCheck check)
    {
        var found = hands.Do(check);
        var (judged, wrong) = JudgedAnswer.Of(Fit.On(Loom), check, found.Answer);
        wrong.ShouldBeNull($"{check.Id}: {wrong}");
        Happen(Run.Answer(Guid.CreateVersion7(), PlannedPowerUp.Answered(Fit.On(Loom), Loom.AmbientC, check, judged!, found.Besides, string.Join(' ', found.Findings), true, Run.LastEvent)));
        if (!judged!.Passed && FirstFailed is null)
        {
            (FirstFailed, Findings) = (check, found.Findings);
        }

        return judged;
    }

    internal RunDiagnosis Diagnosis() => RunDiagnosis.Of(Run, FaultTally.None, CancellationToken.None);

    internal void Happen(Decision decision)
    {
        var accepted = decision.ShouldBeOfType<Decision.Accepted>(decision.ToString());
        Run = Run.After(new Happened(Run.LastEvent + 1, Guid.CreateVersion7(), Tester, DateTimeOffset.UnixEpoch.AddSeconds(Run.LastEvent), accepted.What));
    }
}
