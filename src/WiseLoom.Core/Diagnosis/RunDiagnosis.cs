using System.Collections.Immutable;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Sightings;

namespace WiseLoom.Core.Diagnosis;

/// <summary>What a ranking was after one more reading beside the plan.</summary>
/// <param name="Reading">The reading and who took it; null before the first.</param>
/// <param name="Top">The likeliest, falling.</param>
public sealed record RankedThen(Happened? Reading, ImmutableArray<Cause> Top);

/// <summary>Failing steps of a run that seem to have one reason.</summary>
/// <param name="Steps">Numbers of the steps whose readings are not as drawn, rising.</param>
/// <param name="Causes">What may be behind them, falling; empty when the readings speak of the meter.</param>
/// <param name="Next">What to measure next; null when nothing would tell more, or what is told is sure enough.</param>
/// <param name="Doubts">What speaks of the meter and not of the loom.</param>
/// <param name="Unseeable">What these readings cannot show.</param>
public sealed record RunCase(ImmutableArray<int> Steps, ImmutableArray<Cause> Causes, Measurement? Next, ImmutableArray<string> Doubts, ImmutableArray<string> Unseeable)
{
    internal ImmutableArray<Observation> Odd { get; init; } = [];

    /// <summary>What was seen besides that is not as drawn and has the same reason.</summary>
    public ImmutableArray<Sighting> OddSightings { get; init; } = [];

    /// <summary>Failed checks of the power-up that have the same reason, by id.</summary>
    public ImmutableArray<string> Checks { get; init; } = [];

    /// <summary>What to look at next, where that tells more than a measurement of the bare loom; null otherwise.</summary>
    public Look? Look { get; init; }

    /// <summary>Whether what is told is sure enough: then nothing more is asked for, though something might still tell more.</summary>
    public bool IsSure { get; init; }
}

/// <summary>What the readings of a run say, with the run's own temperature, tolerance and meter.</summary>
public sealed class RunDiagnosis
{
    /// <summary>So many readings beside the plan are told in a history, and so many causes after each.</summary>
    private const int MostHistory = 12, MostTop = 4;

    /// <summary>So many where what was seen with power on has to be held against each: that takes far longer.</summary>
    private const int MostHistorySeen = 4;

    private readonly BenchRun run;
    private readonly FaultTally log;
    private readonly Diagnostician diagnostician;
    private readonly ImmutableArray<GatheredCase> gathered;
    private readonly ImmutableArray<RunObservation> seen;
    private readonly ImmutableArray<RunSighting> sighted;
    private readonly Dictionary<RunCase, ImmutableArray<RankedThen>> histories = new(ReferenceEqualityComparer.Instance);

    /// <summary>How the only case moved before the last reading; null where there are more, or that was not asked.</summary>
    private readonly ImmutableArray<RankedThen>? earlier;

    private RunDiagnosis(BenchRun run, FaultTally log, RunDiagnosis? before, CancellationToken cancel)
    {
        (this.run, this.log) = (run, log);
        before = before is not null && ReferenceEquals(before.run.Plan, run.Plan) && before.log == log && before.run.PowerUp is null && run.PowerUp is null ? before : null;

        // What was seen with power on was seen with what is fitted on the bench.
        diagnostician = before?.diagnostician ?? new(run.PowerUp is { } power ? power.Terms.Fit.On(run.Loom) : run.Loom, run.Plan.AmbientC, run.Plan.Copper, log);
        seen = RunObservations.Of(run);
        sighted = RunSightings.Of(run);
        List<Observation> readings = [.. seen.Select(x => x.Seen)];
        gathered = sighted.IsEmpty ? diagnostician.GatherOn(before?.gathered ?? [], readings, run.Plan.Meter, Hands, cancel) : diagnostician.Gather(readings, [.. sighted.Select(x => x.What)], run.Plan.Meter, Hands, cancel);
        Cases = [.. gathered.Select(Case)];
        earlier = before is not null && Cases.Length == 1 && IsOneProbeAfter(before) ? before.OfTheOnlyCase() : null;
    }

    /// <summary>Of a run as it stands.</summary>
    /// <param name="log">What the shop has found so far.</param>
    /// <param name="before">Of the same run before its last event, to go on from: quicker where that is one more reading beside the plan. Null for none.</param>
    public static RunDiagnosis Of(BenchRun run, FaultTally log, RunDiagnosis? before, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(log);
        return new(run, log, before, cancel);
    }

    /// <inheritdoc cref="Of(BenchRun, FaultTally, RunDiagnosis?, CancellationToken)"/>
    public static RunDiagnosis Of(BenchRun run, FaultTally log, CancellationToken cancel) => Of(run, log, null, cancel);

    /// <summary>Whether it is of a run as it stands, by the same log.</summary>
    public bool IsOf(BenchRun other, FaultTally by)
    {
        ArgumentNullException.ThrowIfNull(other);
        return ReferenceEquals(run.Plan, other.Plan) && run.LastEvent == other.LastEvent && log == by;
    }

    /// <summary>Failing readings gathered into as few cases as explain them, the one with most of them first.</summary>
    public ImmutableArray<RunCase> Cases { get; }

    /// <summary>The case of a failing step, or of what no step shows for 0; null when its reading is as drawn, or says nothing of the loom.</summary>
    public RunCase? CaseOf(int step) => Cases.FirstOrDefault(c => step == 0 ? c.Steps.IsEmpty : c.Steps.Contains(step));

    /// <summary>How a case's ranking moved with the readings and sightings beside the plan, from before the first of the last 12 on; of 4 where anything was seen with power on. Worked out once.</summary>
    /// <param name="of">One of <see cref="Cases"/>.</param>
    public ImmutableArray<RankedThen> History(RunCase of, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(of);
        lock (histories)
        {
            if (!histories.TryGetValue(of, out var known))
            {
                histories.Add(of, known = Moved(of, cancel));
            }

            return known;
        }
    }

    /// <summary>The probes stand where the last reading that counts was taken.</summary>
    private Hands Hands => new(seen.MaxBy(x => x.Number) is { } last ? Hands.At(last.Seen) : null, run.Plan.Cost);

    private bool IsOneProbeAfter(RunDiagnosis before) =>
        sighted.IsEmpty && before.sighted.IsEmpty && seen.Length == before.seen.Length + 1 && seen[^1].Probe is not null && seen.Zip(before.seen).All(x => x.First.Seen.IsSame(x.Second.Seen));

    /// <summary>How the only case moved, as far as that was asked; before the first reading beside the plan it is as it stands.</summary>
    private ImmutableArray<RankedThen>? OfTheOnlyCase()
    {
        if (Cases is not [var only])
        {
            return null;
        }

        if (run.Probes.IsEmpty)
        {
            return only.Causes.IsEmpty ? null : [new(null, [.. only.Causes.Take(MostTop)])];
        }

        lock (histories)
        {
            return histories.TryGetValue(only, out var known) ? known : null;
        }
    }

    private ImmutableArray<RankedThen> Moved(RunCase of, CancellationToken cancel)
    {
        if (earlier is { } known && !of.Causes.IsEmpty)
        {
            ImmutableArray<RankedThen> whole = [.. known, new(seen[^1].Probe, [.. of.Causes.Take(MostTop)])];
            return whole.Length <= MostHistory + 1 ? whole : [whole[^(MostHistory + 1)] with { Reading = null }, .. whole[^MostHistory..]];
        }

        var others = Cases.Where(c => c != of).SelectMany(c => c.Odd).ToHashSet(ReferenceEqualityComparer.Instance);
        var othersSeen = Cases.Where(c => c != of).SelectMany(c => c.OddSightings).ToHashSet(ReferenceEqualityComparer.Instance);
        var own = seen.Where(x => !others.Contains(x.Seen)).ToList();
        var ownSeen = sighted.Where(x => !othersSeen.Contains(x.What)).ToList();
        var all = own.Where(x => x.Probe is not null).Select(x => x.Probe!).Concat(ownSeen.Where(x => x.Event is not null).Select(x => x.Event!)).OrderBy(e => e.Number).ToList();
        var told = all.TakeLast(ownSeen.Count > 0 ? MostHistorySeen : MostHistory).ToList();
        Diagnosed? found = null;
        RankedThen Then(long upTo, Happened? reading)
        {
            List<Observation> readings = [.. own.Where(x => x.Probe is null || x.Probe.Number <= upTo).Select(x => x.Seen)];
            List<Sighting> sightings = [.. ownSeen.Where(x => x.Event is null || x.Event.Number <= upTo).Select(x => x.What)];
            found = sightings.Count == 0 ? diagnostician.FindOn(found, readings, run.Plan.Meter, Hands, cancel) : diagnostician.Find(readings, sightings, run.Plan.Meter, Hands, cancel);
            return new(reading, [.. found.Ranking.Take(MostTop).Select(Told)]);
        }

        if (all.Count == 0)
        {
            return [];
        }

        // After the last of them the ranking is the case's own; where that speaks of the meter it holds no causes.
        var last = of.Causes.IsEmpty ? Then(told[^1].Number, told[^1]) : new(told[^1], [.. of.Causes.Take(MostTop)]);
        return [Then(told[0].Number - 1, null), .. told.SkipLast(1).Select(e => Then(e.Number, e)), last];
    }

    private RunCase Case(GatheredCase gathered)
    {
        var odd = gathered.Odd.ToHashSet(ReferenceEqualityComparer.Instance);
        var says = gathered.Says;
        var isOfTheMeter = !says.Doubts.IsEmpty && says.Ranking[0].Faults.IsEmpty;
        var steps = seen.Where(x => x.Probe is null && odd.Contains(x.Seen)).Select(x => x.Step).Concat(sighted.Where(x => x.Step > 0 && gathered.OddSightings.Contains(x.What)).Select(x => x.Step));
        return new([.. steps.Distinct()], isOfTheMeter ? [] : [.. says.Ranking.Select(Told)], says.Next, says.Doubts, says.Unseeable) { Odd = gathered.Odd, OddSightings = gathered.OddSightings, Checks = [.. sighted.Where(x => x.Check is not null && gathered.OddSightings.Contains(x.What)).Select(x => x.Check!).Distinct()], Look = says.Look, IsSure = says.IsSure && says.Doubts.IsEmpty };
    }

    private Cause Told(Finding found) =>
        new(found.Faults, found.Probability, found.Sentence, [.. found.Faults.SelectMany(f => f.Places(run.Loom)).Distinct().Order(NaturalOrder.Comparer)]);
}
