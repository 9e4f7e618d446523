using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Planning.Steps;

namespace WiseLoom.Core.Runs;

/// <summary>A reading as a client sends it.</summary>
/// <param name="Shown">What the meter showed, in the unit of the step; null for over range.</param>
/// <param name="Seen">Number of the last event that its person had seen when it was taken.</param>
public sealed record NewReading(Guid Key, int Step, double? Shown, bool FromMeter, string Meter, DateTimeOffset TakenAt, long Seen)
{
    /// <summary>Where it was taken, when not at this bench with the run's meter; null otherwise.</summary>
    public string? Elsewhere { get; init; }

    /// <summary>How the loom was moved meanwhile; null when it lay still.</summary>
    public Moved? Moved { get; init; }
}

/// <content>What may happen to a run, and what may not.</content>
public sealed partial class BenchRun
{
    /// <summary>Shortest and longest reason for a skip, in characters.</summary>
    private const int ShortestReason = 3, LongestReason = 400, LongestWords = 1000, MostPlaces = 200, MostPhotos = 12, MostPhotosOfRun = 400, MostJoined = 400, MostProbes = 2000, MostSightings = 200, MostMinutes = 10_000, MostProposals = 100;

    /// <summary>Whether a reading can be taken, and what it says.</summary>
    /// <param name="by">Who took it.</param>
    /// <param name="now">The server's time; a reading may come a year late, and from a clock that is a day fast.</param>
    public Decision Take(NewReading reading, Hand by, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(reading);
        ArgumentNullException.ThrowIfNull(by);
        if (Before(reading.Key, ReadingTaken.Of(reading.Step, reading.Shown)) is { } before)
        {
            return before;
        }

        if (Plan.Step(reading.Step) is not { } step)
        {
            return NoStep();
        }

        if (reading.TakenAt > now.AddHours(24) || reading.TakenAt < now.AddYears(-1))
        {
            return new Decision.Wrong("/takenAt", "The time lies in the future or more than a year back: check the clock.");
        }

        if (reading.Moved is { IsPossible: false })
        {
            return new Decision.Wrong("/moved", "A loom is moved for 0 to 600 s, with up to 100,000 breaks, and the hand is at a place of at most 80 characters.");
        }

        if (reading.Seen < 0 || reading.Seen > LastEvent)
        {
            return new Decision.Wrong("/seen", $"This run has {LastEvent} events; say which of them had been seen, 0 for none.");
        }

        Reading said;
        try
        {
            said = step.ReadingOf(reading.Shown);
        }
        catch (ArgumentOutOfRangeException e)
        {
            return new Decision.Wrong($"/{step.Unit.Field()}", e.Message.Split(" (Parameter")[0]);
        }

        var verdict = Plan.Judge(step, said);
        var taken = new ReadingTaken(reading.Step, said, verdict, reading.FromMeter, reading.Meter, reading.Seen, Bearing.Stands) { Elsewhere = reading.Elsewhere, Moved = reading.Moved };
        if (taken.IsOfItsMeter && Care.Doubts(reading.Seen))
        {
            taken = taken with { Bearing = Bearing.Doubtful };
        }

        return new Decision.Accepted(taken with { Bearing = this[reading.Step].BearingOf(new(LastEvent + 1, reading.Key, by, reading.TakenAt, taken)) });
    }

    /// <summary>Whether steps that a fixture has proven together can be noted: each against all other circuits, and still to do.</summary>
    /// <param name="measurements">How many readings of groups it took; at least 1.</param>
    /// <param name="seen">Number of the last event when the first of them was taken: what was mended since is not proven by them.</param>
    public Decision Prove(Guid key, ImmutableArray<int> proven, int measurements, string meter, long seen)
    {
        var group = new GroupProven(proven, measurements, meter);
        if (Before(key, group.Fingerprint()) is { } before)
        {
            return before;
        }

        return proven.IsEmpty || proven.Any(s => Plan.Step(s) is not IsolationStep { Red: null }) ? new Decision.Wrong("/steps", "A fixture proves steps against all other circuits together.")
            : Care.IsOut || Care.IsSuspect || Care.DriftedAt > seen ? new Decision.Conflict("The meter failed a check: check it until all three checks pass, then measure the groups again.")
            : proven.FirstOrDefault(s => !this[s].IsDue || this[s].AgainAt > seen) is var done and > 0 ? new Decision.Conflict($"Step {done} was dealt with in the meantime. Measure the groups again.")
            : new Decision.Accepted(group);
    }

    /// <summary>Whether a reading beside the plan can be kept: between cavities of this loom, up to 400 joined on a side, 2,000 since the last fix.</summary>
    public Decision Probe(Guid key, ProbeTaken probe)
    {
        ArgumentNullException.ThrowIfNull(probe);
        if (Before(key, probe.Fingerprint()) is { } before)
        {
            return before;
        }

        var far = probe.B ?? [];
        return probe.A.IsDefaultOrEmpty || probe.A.Length > MostJoined || far.Length > MostJoined || probe.B is { IsEmpty: true } ? new Decision.Wrong("/a", $"Each side touches 1 to {MostJoined} cavities; leave the other side out for all other circuits.")
            : probe.A.Concat(far).FirstOrDefault(p => Loom.FindConnector(p.Connector)?.Family.Cavities.Contains(p.Cavity) != true) is { Connector: not null } unknown ? new Decision.Wrong("/a", $"This loom has no cavity {unknown}.")
            : probe.A.Intersect(far).Any() ? new Decision.Wrong("/b", "A cavity cannot be under both probes.")
            : probe.Ohm is not (null or (>= -1 and <= 1e12)) ? new Decision.Wrong("/ohms", "A resistance lies between 0 and 1,000,000 MΩ.")
            : probe.Seen < 0 || probe.Seen > LastEvent ? new Decision.Wrong("/seen", $"This run has {LastEvent} events; say which of them had been seen, 0 for none.")
            : Probes.Count >= MostProbes ? new Decision.Conflict($"{MostProbes} readings beside the plan are kept between two fixes; more tell nothing new.")
            : new Decision.Accepted(probe);
    }

    /// <summary>Whether something that was seen can be kept: of this loom, 200 since the last fix.</summary>
    public Decision See(Guid key, SightingTaken seen)
    {
        ArgumentNullException.ThrowIfNull(seen);
        return Before(key, seen.Fingerprint())
            ?? (seen.What.Problems(Loom).FirstOrDefault() is { } wrong ? new Decision.Wrong($"/what{wrong.At}", wrong.Message)
                : seen.Seen < 0 || seen.Seen > LastEvent ? new Decision.Wrong("/seen", $"This run has {LastEvent} events; say which of them had been seen, 0 for none.")
                : Sightings.Count >= MostSightings ? new Decision.Conflict($"{MostSightings} sightings are kept between two fixes; more tell nothing new.")
                : new Decision.Accepted(seen));
    }

    /// <summary>Whether a photo can be added to a step: 12 at each, 400 in a run.</summary>
    public Decision Photograph(Guid key, int step)
    {
        var photo = new PhotoTaken(step);
        return Before(key, photo.Fingerprint())
            ?? (Plan.Step(step) is null ? NoStep()
                : this[step].Photos.Length >= MostPhotos ? new Decision.Conflict($"Step {step} has {MostPhotos} photos; more are not kept.")
                : steps.Sum(s => s.Photos.Length) >= MostPhotosOfRun ? new Decision.Conflict($"This run has {MostPhotosOfRun} photos; more are not kept.")
                : new Decision.Accepted(photo));
    }

    /// <summary>Whether a check of the meter can be noted, and what it says.</summary>
    /// <param name="shown">What the meter showed, ohms; null for over range.</param>
    /// <param name="linkOhms">Value of the shop's known link.</param>
    public Decision Check(Guid key, CheckKind kind, double? shown, double linkOhms, bool fromMeter, string meter)
    {
        var check = new MeterChecked(kind, new(shown), linkOhms, false, fromMeter, meter);
        if (Before(key, check.Fingerprint()) is { } before)
        {
            return before;
        }

        return !Enum.IsDefined(kind) ? new Decision.Wrong("/check", "Write lead-zero, range or known-link.")
            : shown is not (null or (>= -1 and <= 1e12)) ? new Decision.Wrong("/ohms", "A resistance lies between 0 and 1,000,000 MΩ.")
            : new Decision.Accepted(check with { Passed = new MeterCheck(kind, linkOhms).Passes(check.Reading, Plan.Meter) });
    }

    /// <summary>Whether a step can be left out. One that fails cannot: it is measured again, or its fault is logged.</summary>
    /// <param name="isLead">A lead decides; of others, more than the shop lets pass needs a lead's decision before release.</param>
    public Decision Skip(Guid key, int step, string reason, bool isLead)
    {
        ArgumentNullException.ThrowIfNull(reason);
        var words = reason.Trim();
        if (Before(key, new StepSkipped(step, words).Fingerprint()) is { } before)
        {
            return before;
        }

        if (Plan.Step(step) is null)
        {
            return NoStep();
        }

        if (words.Length is < ShortestReason or > LongestReason)
        {
            return new Decision.Wrong("/reason", $"Say why, in {ShortestReason} to {LongestReason} characters: the pack prints it.");
        }

        return this[step].State == StepState.Fail
            ? new Decision.Conflict($"Step {step} fails, so it cannot be left out: measure it again, or log its fault.")
            : this[step] is { State: StepState.Retest, Reading.Verdict: Verdict.Fail }
            ? new Decision.Conflict($"Step {step} failed before it had to be measured again, so it cannot be left out: measure it.")
            : new Decision.Accepted(new StepSkipped(step, words) { ByLead = isLead });
    }

    /// <summary>Whether proof of an earlier run can be noted: only before anything else happened to the step.</summary>
    public Decision Carry(Guid key, ProofCarried proof)
    {
        ArgumentNullException.ThrowIfNull(proof);
        return Before(key, proof.Fingerprint())
            ?? (Plan.Step(proof.Step) is null ? NoStep()
                : this[proof.Step].By is not null ? new Decision.Conflict($"Step {proof.Step} has been dealt with.")
                : new Decision.Accepted(proof));
    }

    /// <summary>Whether a fault can be logged: only from a step that fails.</summary>
    /// <param name="words">What was seen.</param>
    /// <param name="ranked">Causes as they are ranked now.</param>
    public Decision LogFault(Guid key, int step, string words, ImmutableArray<Cause> ranked)
    {
        ArgumentNullException.ThrowIfNull(words);
        var seen = words.Trim();
        if (Before(key, new FaultLogged(0, step, seen, null, []).Fingerprint()) is { } before)
        {
            return before;
        }

        if (step != 0 && Plan.Step(step) is null)
        {
            return NoStep();
        }

        if (seen.Length is 0 or > LongestWords)
        {
            return new Decision.Wrong("/seen", $"Say what was seen, in 1 to {LongestWords} characters.");
        }

        if (step == 0)
        {
            var odd = Sightings.Where(s => s.What is SightingTaken { AsDrawn: false }).Select(s => ((SightingTaken)s.What).What.Subject()).ToImmutableArray();
            var failed = FailedChecks;
            return odd.IsEmpty && Probes.IsEmpty && failed.IsEmpty
                ? new Decision.Conflict("Nothing was seen or read beside the plan: a fault is logged from that, from a failed check of the power-up, or from a failing step.")
                : new Decision.Accepted(new FaultLogged(Faults.Count + 1, 0, seen, null, ranked)
                {
                    Sighted = odd,
                    Checks = failed,
                    Places = [.. Probes.Select(p => (ProbeTaken)p.What).SelectMany(p => p.A.Concat(p.B ?? [])).Select(p => p.ToString()).Distinct().Take(MostPlaces)],
                });
        }

        return this[step].State == StepState.Fail
            ? new Decision.Accepted(new FaultLogged(Faults.Count + 1, step, seen, this[step].By?.Key, ranked))
            : new Decision.Conflict($"Step {step} does not fail: a fault is logged from a failing step.");
    }

    /// <summary>Whether a cause can be named.</summary>
    public Decision NameCause(Guid key, int fault, CauseFound cause)
    {
        ArgumentNullException.ThrowIfNull(cause);
        var words = cause.Words.Trim();
        if (Before(key, new CauseNamed(fault, cause with { Words = words }).Fingerprint()) is { } before)
        {
            return before;
        }

        return words.Length is 0 or > LongestReason
            ? new Decision.Wrong("/words", $"Say what it turned out to be, in 1 to {LongestReason} characters.")
            : Fault(fault) is null ? NoFault(fault) : new Decision.Accepted(new CauseNamed(fault, cause with { Words = words }));
    }

    /// <summary>Whether a fix by hand can be noted; the retests are worked out here.</summary>
    /// <param name="done">What was done; its retests are not looked at.</param>
    public Decision Mend(Guid key, int fault, FixDone done)
    {
        ArgumentNullException.ThrowIfNull(done);
        return Before(key, new FixMade(fault, done).Fingerprint())
            ?? (FixWork.ByHand.Contains(done.Did) ? Fix(fault, done) : new Decision.Wrong("/did", $"Write one of: {string.Join(", ", FixWork.ByHand)}."));
    }

    /// <summary>Whether a correction of the drawing can be noted. The metal is as it was: the fault is proven by the run on the new revision.</summary>
    /// <param name="revision">The revision that says what the readings found; it must be stored by now.</param>
    /// <param name="places">Cavities, wires and splices whose drawing changed.</param>
    public Decision CorrectDrawing(Guid key, int fault, string revision, ImmutableArray<string> places)
    {
        var done = new FixDone(FixWork.DrawingCorrected, places, null, null, $"Revision {revision} says what the readings found.", []);
        return Before(key, new FixMade(fault, done).Fingerprint()) ?? Fix(fault, done);
    }

    private Decision Fix(int fault, FixDone done)
    {
        if (done.Places.Length is 0 or > MostPlaces || done.Places.Any(p => !IsPlace(p)))
        {
            return new Decision.Wrong("/places", "Name the cavities, wires or splices that hands were on, as this loom calls them.");
        }

        if (done.Minutes is < 0 or > MostMinutes || done.Parts?.Length > LongestReason || done.Note?.Length > LongestWords)
        {
            return new Decision.Wrong("/minutes", $"Minutes lie between 0 and 10,000, parts hold at most {LongestReason} and a note {LongestWords} characters.");
        }

        return Fault(fault) is { } logged
            ? new Decision.Accepted(new FixMade(fault, done with { Retests = Retest.Of(Loom, Plan, [.. done.Places, .. logged.Places], logged.ShownBy) }))
            : NoFault(fault);
    }

    /// <summary>Whether something that stands against release can be let pass by a lead, or proposed to be by anybody else.</summary>
    /// <param name="on">Which hold, as <see cref="Hold.On"/> names it.</param>
    /// <param name="chosen">Which of its steps; empty for all of it.</param>
    /// <param name="reason">The pack prints it.</param>
    /// <param name="seen">Number of the last event that its person had seen: what came later is not let pass.</param>
    public Decision Accept(Guid key, string on, ImmutableArray<int> chosen, string reason, long seen, bool isLead)
    {
        ArgumentNullException.ThrowIfNull(on);
        ArgumentNullException.ThrowIfNull(reason);
        var words = reason.Trim();
        var asked = new HoldAccepted(on, [.. chosen.Distinct().Order()], words, "", isLead, seen);
        if (Before(key, asked.Fingerprint()) is { } before)
        {
            return before;
        }

        if (words.Length is < ShortestReason or > LongestReason)
        {
            return new Decision.Wrong("/reason", $"Say why, in {ShortestReason} to {LongestReason} characters: the pack prints it.");
        }

        if (seen < 0 || seen > LastEvent)
        {
            return new Decision.Wrong("/seen", $"This run has {LastEvent} events; say which of them had been seen, 0 for none.");
        }

        return Holds.FirstOrDefault(h => h.On is not null && h.On == on) is not { } hold ? new Decision.Conflict("Nothing of this kind stands against release that could be let pass. Look at it again.")
            : asked.Steps.Any(s => !hold.Steps.Contains(s)) ? new Decision.Wrong("/steps", "Name steps of what stands against release, or none for all of it.")
            : hold.Since > seen ? new Decision.Conflict("Something came since you looked. Nothing was decided: look at it again.")
            : !isLead && Proposed.Count >= MostProposals ? new Decision.Conflict($"{MostProposals} proposals wait for a lead; more are not kept.")
            : new Decision.Accepted(asked with { What = hold.Text });
    }

    /// <summary>Whether a pack can be signed.</summary>
    /// <param name="stated">Number of the last event that the pack was made from.</param>
    public Decision Sign(Guid key, int version, long stated)
    {
        if (Before(key, new PackSigned(version).Fingerprint()) is { } before)
        {
            return before;
        }

        if (stated != LastEvent)
        {
            return new Decision.Conflict("Something happened in this run while the pack was being printed, so it was not signed. Look at what is new, then sign again.");
        }

        return Holds is [var hold, ..] ? new Decision.Conflict($"The loom cannot be released yet. {hold.Text}") : new Decision.Accepted(new PackSigned(version));
    }

    /// <summary>Whether another run can take its place.</summary>
    public Decision PutAside(Guid key) => Before(key, new RunSetAside().Fingerprint()) ?? new Decision.Accepted(new RunSetAside());

    /// <summary>Whether this loom calls something by that name: a cavity such as <c>ECU:17</c>, a wire's id, a splice's ref.</summary>
    public bool IsPlace(string place) => Loom.HasPlace(place);

    /// <summary>A fault by its number; null when the run has none.</summary>
    public LoggedFault? Fault(int number) => Faults.Find(f => f.Number == number);

    /// <summary>What is decided already, whatever is asked: by an earlier use of the key, or because the run was set aside.</summary>
    private Decision? Before(Guid key, string fingerprint)
    {
        if (key == Guid.Empty)
        {
            return new Decision.Wrong("/key", "A key is needed: a UUID of your own making, the same when it is sent again.");
        }

        if (keys.TryGetValue(key, out var used))
        {
            return used.Fingerprint == fingerprint ? new Decision.Already(used.Number) : KeyTaken;
        }

        return SetAside is { } aside
            ? new Decision.Conflict($"This run was set aside by {aside.By.Name}, {aside.At.UtcDateTime:yyyy-MM-dd HH:mm} UTC; another run took its place. Nothing more is stored in it.")
            : null;
    }

    /// <summary>The key stands for something else already, here or in another run.</summary>
    public static Decision KeyTaken { get; } = new Decision.Conflict("This key was used for something else already. Nothing was stored; send it with a key of its own.");

    private Decision.Wrong NoStep() => new("/step", $"The plan has steps 1 to {Plan.Steps.Length}.");

    private static Decision.Wrong NoFault(int fault) => new("/fault", $"This run has no fault {fault}.");
}
