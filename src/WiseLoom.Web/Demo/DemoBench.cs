using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Practice;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Shop;
using WiseLoom.Core.States;
using WiseLoom.Store;
using WiseLoom.Web.Handover;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Demo;

/// <summary>Plays a run at the bench: asks the run like anybody else, and so leaves a record that anybody could have left.</summary>
internal sealed class DemoBench(RunStore runs, RunLedger ledger, JobStore jobs, PackMaker packs, TimeProvider clock)
{
    private const int MostProbes = 8;

    internal async Task PlayAsync(long job, long revision, Loom loom, ShopMeter meter, DemoRun script, Hand technician, Hand lead, CancellationToken cancel)
    {
        var plan = Planner.Plan(loom, PlanTerms.Usual(meter.Describe(), script.Isolation, loom.AmbientC, CopperTolerance.Usual) with { Beyond = Beyond.Nothing with { Looks = script.Looks } });
        var id = await runs.StartAsync(new(job, revision, meter.Id, plan, technician, clock.GetUtcNow(), null, [], BenchRun.Begin(loom, plan).Summary()), cancel)
            ?? throw new InvalidOperationException($"The demo's run of job {job} could not be started.");
        var practice = new SimulatedBench(loom, meter.Describe(), script.Faults, script.Seed);
        var open = (await ledger.FindAsync(id, cancel))!;
        open = await MeasureAsync(open, practice, plan.Steps.Take(script.Steps ?? int.MaxValue), technician, cancel);
        while (plan.Steps.FirstOrDefault(s => open.Run[s.Number].State == StepState.Fail) is { } failing)
        {
            open = await LogAsync(open, failing, technician, cancel);
            if (!script.Mend)
            {
                return;
            }

            open = await MendAsync(await ProbeAsync(open, failing.Number, practice, technician, cancel), open.Run.Faults[^1].Number, practice, technician, cancel);
        }

        foreach (var seen in script.Seen)
        {
            var key = Guid.CreateVersion7();
            var taken = new SightingTaken(seen, seen.IsAsDrawn(loom, plan.AmbientC, plan.Meter), open.Run.LastEvent);
            open = await DoneAsync(open, [new(key, technician, clock.GetUtcNow(), run => run.See(key, taken))], cancel);
        }

        if (script.PowerUp is { } power)
        {
            open = await PowerUpAsync(open, power, technician, cancel);
        }

        if (script.Sign)
        {
            await packs.MakeAsync((await jobs.FindAsync(job, cancel))!, open, "", lead, clock.GetUtcNow(), cancel);
        }
    }

    /// <summary>Powers the loom up on a sound machine, as far as the script says.</summary>
    private async Task<OpenRun> PowerUpAsync(OpenRun open, DemoPowerUp script, Hand by, CancellationToken cancel)
    {
        var loom = open.Run.Loom;
        var plan = PowerUpPlan.Of(loom, BenchFit.AsDrawn, loom.AmbientC, BenchFile.FindSchool(script.School) ?? School.Bench);
        var hands = new SimulatedHands(new(loom, plan.Fit, HiddenMachine.Nothing, loom.AmbientC, 1), plan.Fit, loom.AmbientC);
        var begin = Guid.CreateVersion7();
        open = await DoneAsync(open, [new(begin, by, clock.GetUtcNow(), run => run.BeginPowerUp(begin, PlannedPowerUp.Terms(plan, loom.AmbientC, [], PowerUpTemplate.Usual.SecondsDry)))], cancel);
        foreach (var check in plan.Checks.Where(c => c.Stage <= script.Stages))
        {
            var (found, key) = (hands.Do(check), Guid.CreateVersion7());
            var answered = PlannedPowerUp.Answered(loom, loom.AmbientC, check, JudgedAnswer.Of(loom, check, found.Answer).Judged!, found.Besides, string.Join(' ', found.Findings), true, open.Run.LastEvent);
            open = await DoneAsync(open, [new(key, by, clock.GetUtcNow(), run => run.Answer(key, answered))], cancel);
        }

        return open;
    }

    /// <summary>Checks the meter when that is due, and measures.</summary>
    private async Task<OpenRun> MeasureAsync(OpenRun open, SimulatedBench practice, IEnumerable<PlanStep> steps, Hand by, CancellationToken cancel)
    {
        foreach (var some in steps.Chunk(MeterCare.Every))
        {
            open = await ReadAsync(await CheckAsync(open, practice, by, cancel), practice, some, by, cancel);
        }

        return await CheckAsync(open, practice, by, cancel);
    }

    private Task<OpenRun> CheckAsync(OpenRun open, SimulatedBench practice, Hand by, CancellationToken cancel)
    {
        var link = ShopLimits.Usual.KnownLinkOhms;
        var asks = open.Run.Care.Due(open.Run.Done == open.Run.Plan.Steps.Length).Select(kind =>
        {
            var shown = kind switch { CheckKind.Range => null, CheckKind.LeadZero => practice.Through(0).Ohms, _ => practice.Through(link).Ohms };
            var key = Guid.CreateVersion7();
            return new Ask(key, by, clock.GetUtcNow(), run => run.Check(key, kind, shown, link, true, open.Head.Meter.Name));
        });
        return DoneAsync(open, [.. asks], cancel);
    }

    private async Task<OpenRun> ReadAsync(OpenRun open, SimulatedBench practice, IEnumerable<PlanStep> steps, Hand by, CancellationToken cancel)
    {
        var asks = steps.Select(step =>
        {
            var shown = step.IsProbed && StepProbes.Of(open.Run.Loom, open.Run.Plan, step) is var probes ? practice.Measure(probes.Red, probes.Black).Ohms : 1;
            var now = clock.GetUtcNow();
            var reading = new NewReading(Guid.CreateVersion7(), step.Number, shown, step.IsProbed, open.Head.Meter.Name, now, open.Run.LastEvent);
            return new Ask(reading.Key, by, now, run => run.Take(reading, by, now));
        });
        return await DoneAsync(open, [.. asks], cancel);
    }

    private Task<OpenRun> LogAsync(OpenRun open, PlanStep failing, Hand by, CancellationToken cancel)
    {
        var reading = open.Run[failing.Number].Reading!;
        var seen = $"{failing.Black} to {failing.RedInWords} reads {reading.Reading.InWords()}, should be {failing.Passes()}.";
        var ranked = RunDiagnosis.Of(open.Run, FaultTally.None, cancel).CaseOf(failing.Number)?.Causes ?? [];
        var key = Guid.CreateVersion7();
        return DoneAsync(open, [new(key, by, clock.GetUtcNow(), run => run.LogFault(key, failing.Number, seen, ranked))], cancel);
    }

    /// <summary>Measures what tells most, until nothing would tell more.</summary>
    private async Task<OpenRun> ProbeAsync(OpenRun open, int step, SimulatedBench practice, Hand by, CancellationToken cancel)
    {
        while (RunDiagnosis.Of(open.Run, FaultTally.None, cancel).CaseOf(step)?.Next is { } next && open.Run.Probes.Count < MostProbes)
        {
            var shown = practice.Measure(next.B ?? StepProbes.Against(open.Run.Loom, next.A), [next.A]).Ohms;
            var probe = new ProbeTaken([next.A], next.B, shown, next.Moved, true, open.Head.Meter.Name, open.Run.LastEvent);
            var key = Guid.CreateVersion7();
            open = await DoneAsync(open, [new(key, by, clock.GetUtcNow(), run => run.Probe(key, probe))], cancel);
        }

        return open;
    }

    /// <summary>Goes by the first cause, mends it, and measures again what the fix could have changed.</summary>
    private async Task<OpenRun> MendAsync(OpenRun open, int number, SimulatedBench practice, Hand by, CancellationToken cancel)
    {
        var fault = open.Run.Fault(number)!;
        var cause = RunDiagnosis.Of(open.Run, FaultTally.None, cancel).CaseOf(fault.Step)!.Causes[0];
        if (cause.Places.Sum(practice.Repair) == 0)
        {
            throw new InvalidOperationException($"The demo's fault at step {fault.Step} is not where its first cause says: {cause.Sentence}");
        }

        var (named, mended) = (Guid.CreateVersion7(), Guid.CreateVersion7());
        open = await DoneAsync(
            open,
            [
                new(named, by, clock.GetUtcNow(), run => run.NameCause(named, fault.Number, new(cause.Faults, cause.Title(run.Loom)))),
                new(mended, by, clock.GetUtcNow(), run => run.Mend(mended, fault.Number, new(cause.Faults[0].UsualFix(), cause.Places, 12, null, null, []))),
            ],
            cancel);
        return await MeasureAsync(open, practice, open.Run.Fault(fault.Number)!.Fix!.Retests.Select(n => open.Run.Plan.Step(n)!), by, cancel);
    }

    private async Task<OpenRun> DoneAsync(OpenRun open, IReadOnlyList<Ask> asks, CancellationToken cancel)
    {
        if (asks.Count == 0)
        {
            return open;
        }

        var (answers, after) = (await ledger.AskAsync(open.Head.Id, asks, cancel))!.Value;
        return answers.FirstOrDefault(a => a.Decision is not Decision.Accepted) is { } refused
            ? throw new InvalidOperationException($"The demo was refused: {Http.Refusal.Words(refused.Decision)}")
            : after;
    }
}
