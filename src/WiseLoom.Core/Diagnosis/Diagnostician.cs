using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Sightings;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Finds what is behind readings of a bare loom: nothing, one fault, or two.</summary>
/// <remarks>Made once for a loom, a temperature and a copper tolerance, and asked for each case; may be asked by several at once.</remarks>
public sealed class Diagnostician
{
    /// <summary>A group with this much needs no further measurement.</summary>
    public const double SureEnough = 0.95;

    /// <summary>No more sightings are taken at once.</summary>
    public const int MostSightings = 400;

    /// <summary>Seconds that a reading of the bare loom costs more while everything is plugged in.</summary>
    private const double Unplugging = 30;

    /// <summary>The most that a supposition has whose place nobody touched.</summary>
    private const double MostUntouched = 0.94;

    /// <summary>No more groups are told, and no more suppositions are compared for them.</summary>
    private const int MostTold = 8, MostCompared = 60;

    private readonly DrawnLoom drawn;
    private readonly Suspects suspects;
    private readonly Priors priors;
    private readonly double ambientC;

    /// <summary>For a loom as it is drawn.</summary>
    /// <param name="ambientC">Temperature of the copper, degrees Celsius.</param>
    /// <param name="copper">How far the copper may be from its drawing: that of the run, not a usual one.</param>
    /// <param name="log">What the shop has found so far: kinds that come often are likelier.</param>
    public Diagnostician(Loom loom, double ambientC, CopperTolerance copper, FaultTally log)
    {
        ArgumentNullException.ThrowIfNull(loom);
        ArgumentNullException.ThrowIfNull(log);
        priors = Priors.Learned(log);
        this.ambientC = ambientC;
        drawn = new(loom, ambientC, copper);
        suspects = new(drawn, priors);
    }

    /// <summary>Ranks what may be wrong by readings alone; the probes stand where the last of them was taken.</summary>
    /// <inheritdoc cref="Find(IReadOnlyList{Observation}, IReadOnlyList{Sighting}, Meter, Hands, CancellationToken)"/>
    public Diagnosed Find(IReadOnlyList<Observation> observations, Meter meter, CancellationToken cancel) => Find(observations, [], meter, Hands.After(observations), cancel);

    /// <summary>Ranks what may be wrong.</summary>
    /// <param name="observations">All readings of the bare loom so far, passing ones too. Points may be any cavities of the loom.</param>
    /// <param name="sightings">What was seen besides, expected things too, without <see cref="Sighting.Problems"/>; at most <see cref="MostSightings"/>.</param>
    /// <param name="meter">What resistances were read with.</param>
    /// <param name="hands">Where the probes stand: what is asked for next is what tells most for the seconds from there.</param>
    /// <exception cref="ArgumentException">A reading is of no point, or of one that the loom does not have; or there are too many sightings.</exception>
    public Diagnosed Find(IReadOnlyList<Observation> observations, IReadOnlyList<Sighting> sightings, Meter meter, Hands hands, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(sightings);
        Check(observations, meter, hands);
        if (sightings.Count > MostSightings)
        {
            throw new ArgumentException($"At most {MostSightings} sightings are held against suppositions at once.", nameof(sightings));
        }

        observations = WithDrops(observations, sightings);
        var witness = sightings.Count == 0 ? null : new Witness(drawn.Loom, ambientC, meter, [.. sightings]);
        var leaning = Lean.Of(drawn, meter, observations);
        var evidence = new Evidence(leaning, meter, observations);
        if (Nonsense.Of(evidence).ToList() is { Count: > 0 } doubts)
        {
            return OnlyDoubts(leaning, evidence, [.. doubts]);
        }

        var ways = new WaysBeside(leaning, evidence);
        var reckoning = new Reckoning(leaning, evidence, suspects, priors, ways);
        var weighed = reckoning.All(cancel);
        weighed = witness is null ? weighed : new SeenReckoning(leaning, evidence, priors, witness, cancel).All(weighed);
        var off = Nonsense.LeadOff(evidence);
        if (off is not null && weighed[0].Faults.Length != 1)
        {
            return OnlyDoubts(leaning, evidence, [off]);
        }

        // One plug that is filled wrongly may open every pair too: then the next measurement tells, and the lead is named beside it.
        var told = Tell(leaning, evidence, ways, weighed, witness, hands, cancel);
        if (told.Next is null && witness is null && reckoning.Doubted(weighed, cancel) is { } doubted)
        {
            weighed = doubted;
            told = Tell(leaning, evidence, ways, weighed, witness, hands, cancel);
        }

        return off is not null ? told with { Doubts = [off] } : witness is null ? Keeping(told, WeighedSoFar.Of(suspects, priors, leaning, evidence, reckoning, weighed)) : told;
    }

    /// <summary>Ranks what may be wrong by readings alone, and goes on from what was found before where only the last of them is new: that is quicker, and hardly ever says anything else.</summary>
    /// <param name="before">What was found by all but the last, by this; null for nothing.</param>
    /// <inheritdoc cref="Find(IReadOnlyList{Observation}, IReadOnlyList{Sighting}, Meter, Hands, CancellationToken)"/>
    public Diagnosed FindOn(Diagnosed? before, IReadOnlyList<Observation> observations, Meter meter, Hands hands, CancellationToken cancel)
    {
        Check(observations, meter, hands);
        return GoneOn(before, observations, meter, hands, cancel) ?? Find(observations, [], meter, hands, cancel);
    }

    /// <summary>What is said of one more reading without looking for anything new; null where that does not do, or nothing would be measured next: before that is said, all is weighed anew.</summary>
    private Diagnosed? GoneOn(Diagnosed? before, IReadOnlyList<Observation> observations, Meter meter, Hands hands, CancellationToken cancel) =>
        before?.SoFar is { } known && known.IsBefore(suspects, observations, meter) && known.With(observations[^1], cancel) is var (now, ways, falling)
        && Tell(now.Leaning, now.Evidence, ways, falling, null, hands, cancel) is { Next: not null } told ? Keeping(told, now) : null;

    /// <summary>What was told, with what is gone on from: it may be kept for hours.</summary>
    private static Diagnosed Keeping(Diagnosed told, WeighedSoFar soFar)
    {
        soFar.Evidence.Forget();
        return told with { SoFar = soFar };
    }

    private void Check(IReadOnlyList<Observation> observations, Meter meter, Hands hands)
    {
        ArgumentNullException.ThrowIfNull(meter);
        ArgumentNullException.ThrowIfNull(hands);
        ArgumentNullException.ThrowIfNull(observations);
        if (observations.FirstOrDefault(o => o.A.IsDefaultOrEmpty || (o.B is { } b && b.IsDefaultOrEmpty)) is not null)
        {
            throw new ArgumentException("Each side of a reading touches one point at least.", nameof(observations));
        }

        if (observations.SelectMany(o => o.A.Concat(o.B ?? [])).Select(p => p.ToString()).FirstOrDefault(p => drawn.PointOf(p) is null) is { } unknown)
        {
            throw new ArgumentException($"This loom has no cavity {unknown}.", nameof(observations));
        }
    }

    private static Diagnosed OnlyDoubts(DrawnLoom leaning, Evidence evidence, ImmutableArray<string> doubts) =>
        new([new(1, [], [], string.Join(' ', doubts))], null, doubts, [.. Unseeable.Of(leaning, evidence)]);

    private static Diagnosed Tell(DrawnLoom leaning, Evidence evidence, WaysBeside ways, List<Weighed> weighed, Witness? witness, Hands hands, CancellationToken cancel)
    {
        var alike = new Alike(leaning, evidence, ways);
        var groups = Grouped(weighed, alike, cancel);
        var sentences = new Explaining(leaning, evidence, ways, witness);
        // What stands in a cavity that nobody touched is never certain: the cavity is touched first.
        double Told(List<Weighed> members, double share) => members[0].Faults.OfType<MisplacedFault>().Any(f => evidence.IsUntouched(f.Target)) ? Math.Min(share, MostUntouched) : Math.Min(1, share);
        ImmutableArray<Finding> ranking = [.. groups.Take(MostTold).ToList().Each(g => new Finding(
            Told(g.Members, g.Share),
            g.Members[0].Faults,
            [.. alike.InOtherWords(g.Members[0].Faults), .. g.Members.Skip(1).SelectMany(m => alike.InOtherWords(m.Faults).Prepend(m.Faults))],
            sentences.Of(g.Members[0]) + sentences.Others(g.Members[0].Faults, g.Members.Skip(1).Select(m => m.Faults))), cancel)];
        var told = new Diagnosed(ranking, null, [], [.. Unseeable.Of(leaning, evidence)]);
        var next = told.IsSure ? default : new NextMeasurement(leaning, evidence, hands, cancel).Of([.. groups.Select(g => (g.Members[0], g.Share))], witness is null ? 0 : Unplugging);
        var look = told.IsSure && witness is null && groups[0].Members.Count == 1 ? default : new NextLook(leaning, evidence, witness).Of(groups, cancel);
        if (next.Measurement is null)
        {
            // Nothing more will tell them apart: then the group holds all places of a bridge that read the same.
            var (first, along) = (groups[0].Members[0], alike.Along(groups[0].Members[0], cancel));
            told = told with { Ranking = ranking.SetItem(0, ranking[0] with { Alike = [.. ranking[0].Alike, .. along], Sentence = sentences.Of(first) + sentences.Others(first.Faults, groups[0].Members.Skip(1).Select(m => m.Faults).Concat(along)) }) };
        }

        return look.Rate > next.Rate ? told with { Look = look.Look } : told with { Next = next.Measurement };
    }

    /// <summary>Gathers readings that are not as drawn into as few cases as explain them, each with a ranking of its own.</summary>
    /// <returns>At most <see cref="Gathering.MostCases"/>, each with its own odd readings and all that are as drawn; empty when all are.</returns>
    /// <inheritdoc cref="Find(IReadOnlyList{Observation}, IReadOnlyList{Sighting}, Meter, Hands, CancellationToken)"/>
    public ImmutableArray<GatheredCase> Gather(IReadOnlyList<Observation> observations, Meter meter, Hands hands, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(observations);
        ArgumentNullException.ThrowIfNull(meter);
        var leaning = Lean.Of(drawn, meter, observations);
        var evidence = new Evidence(leaning, meter, observations);
        var odd = evidence.Unexplained(null).ToList();
        if (odd.Count == 0)
        {
            return [];
        }

        if (Nonsense.Of(evidence).Any() || Nonsense.LeadOff(evidence) is not null)
        {
            return [new([.. odd], Find(observations, [], meter, hands, cancel))];
        }

        var gathered = Gathering.Of(evidence, leaning, odd, new Reckoning(leaning, evidence, suspects, priors, new(leaning, evidence)).Singles(cancel));
        return [.. gathered.Select(own => new GatheredCase([.. own], Find([.. observations.Where(o => !odd.Contains(o) || own.Contains(o))], [], meter, hands, cancel)))];
    }

    /// <summary>The same where only the last reading is new: what was one case before stays one as long as its likeliest cause explains all.</summary>
    /// <param name="before">What was gathered of all but the last, by this; empty for nothing.</param>
    /// <inheritdoc cref="Gather(IReadOnlyList{Observation}, Meter, Hands, CancellationToken)"/>
    public ImmutableArray<GatheredCase> GatherOn(ImmutableArray<GatheredCase> before, IReadOnlyList<Observation> observations, Meter meter, Hands hands, CancellationToken cancel)
    {
        Check(observations, meter, hands);
        if (before is not [var only] || GoneOn(only.Says, observations, meter, hands, cancel) is not { SoFar.Evidence: { } evidence } told)
        {
            return Gather(observations, meter, hands, cancel);
        }

        var odd = evidence.Unexplained(null).ToHashSet<Observation>(ReferenceEqualityComparer.Instance);
        return [new([.. observations.Where((_, i) => odd.Contains(evidence.All[i]))], told)];
    }

    /// <summary>The same with what was seen besides: it goes with the first case whose likeliest cause shows it, else it is a case of its own.</summary>
    /// <inheritdoc cref="Find(IReadOnlyList{Observation}, IReadOnlyList{Sighting}, Meter, Hands, CancellationToken)"/>
    public ImmutableArray<GatheredCase> Gather(IReadOnlyList<Observation> observations, IReadOnlyList<Sighting> sightings, Meter meter, Hands hands, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(sightings);
        observations = WithDrops(observations, sightings);
        sightings = [.. sightings.Where(s => s is not DropSeen)];
        var cases = Gather(observations, meter, hands, cancel);
        var odd = sightings.Count == 0 ? [] : new Witness(drawn.Loom, ambientC, meter, [.. sightings]).Odd;
        if (odd.IsEmpty)
        {
            return cases;
        }

        var (left, expected, gathered) = (odd.ToList(), sightings.Except(odd).ToList(), new List<GatheredCase>());
        foreach (var one in cases)
        {
            var supposed = new Witness(drawn.Loom, ambientC, meter, odd).With(one.Says.Ranking[0].Faults);
            var own = left.FindAll(s => s.Fits(supposed));
            left.RemoveAll(own.Contains);
            gathered.Add(own.Count == 0 ? one : one with { OddSightings = [.. own], Says = Find(Without(cases, one), [.. own, .. expected], meter, hands, cancel) });
        }

        return left.Count == 0 ? [.. gathered] : [.. gathered, new GatheredCase([], Find(Without(cases, null), [.. left, .. expected], meter, hands, cancel)) { OddSightings = [.. left] }];

        // All readings but the odd ones of other cases.
        List<Observation> Without(ImmutableArray<GatheredCase> all, GatheredCase? but)
        {
            var others = all.Where(c => c != but).SelectMany(c => c.Odd).ToHashSet<Observation>(ReferenceEqualityComparer.Instance);
            return [.. observations.Where(o => !others.Contains(o))];
        }
    }

    /// <summary>Whether a meter could see each of some faults at all: without it, some pair of points would read otherwise.</summary>
    public bool CanShow(IReadOnlyList<Fault> faults, Meter meter)
    {
        ArgumentNullException.ThrowIfNull(faults);
        var own = drawn.Leaning(null);
        var unread = new Evidence(own, meter, []);
        var (nets, alike) = (own.NetsOf(faults), new Alike(own, unread, new(own, unread)));
        var all = new Altered(own, faults, nets);
        return faults.All(f => f is not (IntermittentFault or DeviceFault or BackedOutFault or KeyTerminalFault) && !alike.Same(all, new Altered(own, [.. faults.Where(o => !ReferenceEquals(o, f))], nets)));
    }

    /// <summary>Load tests are resistances too, by a meter of their own.</summary>
    private static IReadOnlyList<Observation> WithDrops(IReadOnlyList<Observation> observations, IReadOnlyList<Sighting> sightings) =>
        [.. observations, .. sightings.OfType<DropSeen>().Select(d => Observation.Of(d.A, d.B, d.Ohm) with { With = DropSeen.MeterAt(d.Amps) })];

    private static List<(List<Weighed> Members, double Share)> Grouped(List<Weighed> falling, Alike alike, CancellationToken cancel)
    {
        var top = falling[0].Score;
        var total = falling.Sum(w => Math.Exp(w.Score - top));
        var groups = new List<(List<Weighed> Members, double Share)>();
        for (var left = falling.Take(MostCompared).Where(w => w.Score > top - 18).ToList(); left.Count > 0;)
        {
            var of = left[0];
            var members = left.Zip(left.Each(w => ReferenceEquals(w, of) || alike.Are(of, w), cancel)).Where(x => x.Second).Select(x => x.First).ToList();
            groups.Add((members, members.Sum(w => Math.Exp(w.Score - top) / total)));
            left = [.. left.Where(w => !members.Contains(w))];
        }

        groups = [.. groups.OrderByDescending(g => g.Share)];
        var told = Calibration.Told(groups.ConvertAll(g => g.Share), groups[0].Members[0].Faults.Length);
        return [.. groups.Zip(told, (g, share) => (g.Members, share))];
    }
}
