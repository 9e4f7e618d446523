using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Revisions;
using WiseLoom.Core.Runs;
using WiseLoom.Store;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Bench;

/// <summary>What a new run would take over.</summary>
/// <param name="From">Which run it comes from, in words.</param>
internal sealed record CarryView(string From, int Steps, ImmutableArray<string> Reasons);

/// <summary>Proof of an earlier revision that still holds, ready to be stored with a new run.</summary>
internal sealed record CarriedOver(string From, IReadOnlyList<ProofCarried> Steps, ImmutableArray<string> Reasons);

/// <summary>Looks for an earlier revision's run and works out what of it still holds.</summary>
internal sealed class CarryOver(LoomStore looms, RunLedger ledger)
{
    /// <summary>A plan that leaves to an earlier revision's run what still holds of it.</summary>
    /// <returns>The proof is null when no earlier revision of the job has a run.</returns>
    internal async Task<(TestPlan Plan, CarriedOver? Proof)> PlanAsync(long job, long revision, Loom loom, PlanTerms terms, CancellationToken cancel)
    {
        var earlier = (await looms.OfJobAsync(job, cancel)).Find(v => v.Id < revision && v.RunId is not null);
        if (earlier?.RunId is not { } runId || await ledger.FindAsync(runId, cancel) is not { } before)
        {
            return (Plan(loom, terms, cancel), null);
        }

        var plan = Plan(loom, terms with { Proven = CarriedProof.Pairs(before.Run, loom, terms) }, cancel);
        var proof = CarriedProof.Of(before.Run, loom, plan);
        return (plan, new(
            $"revision {earlier.Revision}, measured with {before.Head.Meter.Name}",
            [.. proof.Steps.Select(s => before.Run[s.FromStep].By switch
            {
                { What: ReadingTaken taken } by => new ProofCarried(s.Step, runId, s.FromStep, Words(earlier.Revision, s.FromStep, by, taken.Reading.InWords())),
                { What: GroupProven group } by => new ProofCarried(s.Step, runId, s.FromStep, Words(earlier.Revision, s.FromStep, by, group.InWords())),
                { What: ProofCarried already } => already with { Step = s.Step },
                _ => throw new InvalidOperationException($"Step {s.FromStep} of run {runId} passes without a reading."),
            })],
            proof.Reasons));
    }

    /// <summary>A plan, as long as its caller waits, and no longer than a page does: then the best so far.</summary>
    internal static TestPlan Plan(Loom loom, PlanTerms terms, CancellationToken cancel)
    {
        using var enough = new CancellationTokenSource(PlanPatience.Longest);
        return Planner.Plan(loom, terms, new(cancel, enough.Token));
    }

    private static string Words(string revision, int step, Happened by, string how) => string.Create(
        CultureInfo.InvariantCulture,
        $"carried over from revision {revision}, step {step}: {how}, {by.By.Name}, {by.At.UtcDateTime:yyyy-MM-dd HH:mm} UTC");
}
