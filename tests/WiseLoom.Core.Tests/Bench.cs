using System.Collections.Immutable;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Sightings;

namespace WiseLoom.Core.Tests;

/// <summary>A run as a test drives it: people ask, what is accepted happens.</summary>
internal sealed class Bench
{
    internal static readonly DateTimeOffset Start = new(2031, 3, 4, 8, 0, 0, TimeSpan.Zero);

    private readonly List<Happened> events = [];

    internal Bench(BenchRun begun) => Run = begun;

    internal Bench(Loom loom, TestPlan plan)
        : this(BenchRun.Begin(loom, plan))
    {
    }

    internal static Hand Mira { get; } = new(new Guid("00000000-0000-4000-8000-000000000001"), "Mira Solstad");

    internal static Hand Tomas { get; } = new(new Guid("00000000-0000-4000-8000-000000000002"), "Tomas Wren");

    internal BenchRun Run { get; private set; }

    internal IReadOnlyList<Happened> Events => events;

    /// <summary>The plan of a loom with the usual tolerance, at its own temperature.</summary>
    internal static TestPlan Plan(Loom loom, Isolation isolation, Meter? meter = null, LoadInHand? load = null) =>
        Known.Plan(loom, isolation, meter ?? Meter.BenchFourWire, load);

    /// <summary>The same plan with its steps down the pinout, the joined ones first: for tests that are about the run, not the order.</summary>
    internal static TestPlan Sorted(TestPlan plan) =>
        plan with { Steps = [.. plan.Steps.OrderBy(s => !s.IsJoined).ThenBy(s => (s.Phase == StepPhase.UnderLoad)).ThenBy(s => s.Black).ThenBy(s => s.RedInWords).Select((s, i) => s with { Number = i + 1 })] };

    /// <summary>A run with the whole plan measured on a loom that hides something.</summary>
    internal static BenchRun Measured(Loom loom, TestPlan plan, params Fault[] hidden) => Over(loom, plan, 11, hidden).Bench.Run;

    /// <summary>The same, with the stand-in at hand.</summary>
    internal static (Bench Bench, SimulatedBench Practice) Over(Loom loom, TestPlan plan, int seed, params Fault[] hidden)
    {
        var (bench, practice) = (new Bench(loom, plan), new SimulatedBench(loom, plan.Meter, hidden, seed));
        foreach (var step in plan.Steps)
        {
            bench.Measure(practice, step);
        }

        return (bench, practice);
    }

    /// <summary>A reading of a step by the stand-in.</summary>
    internal void Measure(SimulatedBench practice, PlanStep step)
    {
        var probes = StepProbes.Of(Run.Loom, Run.Plan, step);
        Take(new(Guid.NewGuid(), step.Number, practice.Measure(probes.Red, probes.Black, probes.Fitted.ToHashSet()).Ohms, true, "m", Start, Run.LastEvent));
    }

    /// <summary>A reading beside the plan, as a diagnosis asks for it.</summary>
    internal Decision Probe(SimulatedBench practice, Measurement next)
    {
        practice.Moved = next.Moved;
        var shown = practice.Measure(next.B ?? StepProbes.Against(Run.Loom, next.A), [next.A]).Ohms;
        practice.Moved = false;
        return Probe(new ProbeTaken([next.A], next.B, shown, next.Moved, true, "m", Run.LastEvent));
    }

    internal Decision Probe(ProbeTaken probe) => Key(key => run => run.Probe(key, probe));

    internal Decision See(Sighting what) => See(new SightingTaken(what, what.Problems(Run.Loom).Any() || what.IsAsDrawn(Run.Loom, Run.Plan.AmbientC, Run.Plan.Meter), Run.LastEvent));

    internal Decision See(SightingTaken seen) => Key(key => run => run.See(key, seen));

    /// <summary>A value that gives a step of this plan the verdict; over range passes where nothing must be joined.</summary>
    internal static double? Showing(TestPlan plan, int step, Verdict verdict)
    {
        var asked = plan.Step(step)!;
        var band = asked.Bands(plan.Meter).Last(b => b.Verdict == verdict);
        return asked.Unit == ReadingUnit.Sight ? Math.Ceiling(band.From) : band.To is { } to ? (band.From + to) / 2 : asked.IsProbed ? null : band.From + 1;
    }

    /// <summary>Asks; what is accepted happens at once.</summary>
    internal Decision Ask(Guid key, Hand by, DateTimeOffset at, Func<BenchRun, Decision> decide)
    {
        var decision = decide(Run);
        if (decision is Decision.Accepted accepted)
        {
            var happened = new Happened(Run.LastEvent + 1, key, by, at, accepted.What);
            events.Add(happened);
            Run = Run.After(happened);
        }

        return decision;
    }

    internal Decision Take(NewReading reading, Hand? by = null) => Ask(reading.Key, by ?? Mira, reading.TakenAt, run => run.Take(reading, by ?? Mira, Start));

    /// <summary>A reading with a verdict, by somebody who has seen all that happened.</summary>
    internal Decision Read(int step, Verdict verdict, Hand? by = null, long? seen = null) =>
        Take(new(Guid.NewGuid(), step, Showing(Run.Plan, step, verdict), false, "Bench meter", Start.AddSeconds(events.Count), seen ?? Run.LastEvent), by);

    /// <summary>Reads every step that a filter lets through as it should be, as far as the meter can tell.</summary>
    internal void ReadAll(Func<PlanStep, bool> which)
    {
        foreach (var step in Run.Plan.Steps.Where(which))
        {
            Read(step.Number, step.Bands(Run.Plan.Meter).Any(b => b.Verdict == Verdict.Pass) ? Verdict.Pass : Verdict.CantTell).ShouldBeOfType<Decision.Accepted>();
        }
    }

    internal Decision Skip(int step, string reason = "no time", bool lead = true) => Key(key => run => run.Skip(key, step, reason, lead));

    internal Decision Accept(string on, string reason = "the customer knows", bool lead = true, long? seen = null, params int[] steps) =>
        Key(key => run => run.Accept(key, on, [.. steps], reason, seen ?? run.LastEvent, lead));

    internal Decision Log(int step) => Key(key => run => run.LogFault(key, step, "reads wrong", []));

    internal Decision Cause(int fault, string words) => Key(key => run => run.NameCause(key, fault, new([], words)));

    internal Decision Fix(int fault, params string[] places) => Key(key => run => run.Mend(key, fault, new("re-crimp", [.. places], 5, null, null, [])));

    internal Decision Sign(long? stated = null, int version = 1) => Key(key => run => run.Sign(key, version, stated ?? run.LastEvent));

    internal Decision Check(CheckKind kind, bool passes) =>
        Key(key => run => run.Check(key, kind, kind == CheckKind.Range ? passes ? null : 5.0 : (kind == CheckKind.KnownLink ? 1 : 0) + (passes ? 0 : 0.4), 1, true, "Bench meter"));

    internal Bench CheckAll()
    {
        foreach (var kind in MeterCheck.All)
        {
            Check(kind, true);
        }

        return this;
    }

    internal Decision PutAside() => Key(key => run => run.PutAside(key));

    /// <summary>Measures every step with a verdict.</summary>
    internal Bench All(Verdict verdict)
    {
        foreach (var step in Run.Plan.Steps)
        {
            Read(step.Number, verdict);
        }

        return this;
    }

    internal ImmutableArray<RecordedStep> Record() => RunRecord.Of(Run, events);

    private Decision Key(Func<Guid, Func<BenchRun, Decision>> ask)
    {
        var key = Guid.NewGuid();
        return Ask(key, Mira, Start.AddSeconds(events.Count), ask(key));
    }
}
