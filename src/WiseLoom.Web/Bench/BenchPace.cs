using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;
using WiseLoom.Store;

namespace WiseLoom.Web.Bench;

/// <summary>What a person's hands need with a meter, from their latest runs with it.</summary>
internal sealed class BenchPace(RunStore runs)
{
    internal async Task<LearnedCost> OfAsync(Guid person, long meter, CancellationToken cancel)
    {
        var timed = new List<IReadOnlyList<TimedStep>>();
        foreach (var run in (await runs.TimesAsync(person, meter, cancel)).GroupBy(t => t.PlanHash))
        {
            if (await runs.PlanAsync(run.Key, cancel) is { } plan)
            {
                timed.AddRange(run.GroupBy(t => t.Run).Select(r => r.Where(t => plan.Step(t.Step) is not null).Select(t => new TimedStep(plan.Step(t.Step)!.Probes, t.At)).ToList()));
            }
        }

        return LearnedCost.From(timed, TouchCost.Usual);
    }
}
