using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Revisions;
using WiseLoom.Store;

namespace WiseLoom.Web.Bench;

/// <summary>What a new run would take over.</summary>
/// <param name="From">Which run it comes from, in words.</param>
internal sealed record CarryView(string From, int Steps, ImmutableArray<string> Reasons);

/// <summary>Proof of an earlier revision that still holds, ready to be stored with a new run.</summary>
internal sealed record CarriedOver(string From, IReadOnlyList<StoredCarried> Steps, ImmutableArray<string> Reasons);

/// <summary>Looks for an earlier revision's run and works out what of it still holds.</summary>
internal sealed class CarryOver(LoomStore looms, BenchLibrary library)
{
    /// <summary>Proof for a plan; null when no earlier revision of the job has a run.</summary>
    internal async Task<CarriedOver?> ForAsync(long job, long revision, Loom loom, TestPlan plan, CancellationToken cancel)
    {
        var earlier = (await looms.OfJobAsync(job, cancel)).Find(v => v.Id < revision && v.RunId is not null);
        if (earlier?.RunId is not { } runId || await library.FindAsync(runId, cancel) is not { } before)
        {
            return null;
        }

        var proof = CarriedProof.Of(before.Loom, before.State, loom, plan);
        var readings = before.Readings.GroupBy(r => r.Step).ToDictionary(g => g.Key, g => g.Last());
        var already = before.Carried.ToDictionary(c => c.Step);
        return new(
            $"revision {earlier.Revision}, measured with {before.Run.Meter.Name}",
            [.. proof.Steps.Select(s => readings.TryGetValue(s.FromStep, out var reading)
                ? new StoredCarried(s.Step, runId, s.FromStep, Words(earlier.Revision, s.FromStep, reading))
                : new StoredCarried(s.Step, already[s.FromStep].FromRun, already[s.FromStep].FromStep, already[s.FromStep].Words))],
            proof.Reasons);
    }

    private static string Words(string revision, int step, StoredReading reading) => string.Create(
        CultureInfo.InvariantCulture,
        $"carried over from revision {revision}, step {step}: {Say.Reading(reading.Reading)}, {reading.TakenBy}, {reading.TakenAt.UtcDateTime:yyyy-MM-dd HH:mm} UTC");
}
