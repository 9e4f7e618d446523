using System.Collections.Concurrent;
using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>What the readings say: all suppositions that they leave, the likeliest first.</summary>
/// <remarks>Bayes over nothing, single faults, and two at once where no single one explains all. See docs/formulas.md.</remarks>
internal sealed class Reckoning
{
    /// <summary>Of the singles that explain something, so many are the first of two.</summary>
    private const int Firsts = 10;

    /// <summary>So many of them of one kind in the same nets, and the best between wires along the way: what spoils a bridge at a contact may leave that.</summary>
    private const int FirstsAlike = 2;

    /// <summary>So many bridges between nets that these leave out are firsts too: what they alone would read may be spoilt by the second.</summary>
    private const int FirstBridges = 3;

    /// <summary>For each of them so many are tried as the second: the best; of each kind some that could be behind what the first leaves, however little they explain alone; some
    /// bridges between any nets that these leave out, because a first may spoil what a bridge alone explains; and the next best.</summary>
    private const int Seconds = 44, SecondsBest = 16, SecondsLeft = 4, SecondsBridges = 16, SecondsAlike = 1;

    /// <summary>So many of the best are refined, unless they are this far behind.</summary>
    private const int ToRefine = 20;

    private const double WorthRefining = 30;

    /// <summary>A single that explains less is not taken for one of two.</summary>
    private const double WorthASecond = 12;

    /// <summary>Suppositions of two that are weighed at most.</summary>
    private const int MostPairs = 160;

    /// <summary>Bridges between the same two nets that are weighed at most.</summary>
    private const int MostBridges = 16;

    /// <summary>And so many at the likeliest places.</summary>
    private const int MostLikely = 8;

    /// <summary>So many pairs of wires that a bridge lies between are weighed while causes are looked for.</summary>
    private const int FewAlong = 6;

    /// <summary>Where a bridge may lie between more pairs of nets than this, so many cavities of each, how well they fit and how likely they are before, and pairs of wires: these stand for the others until it is known which nets it joins.</summary>
    private const int ManyBridged = 24, OfManyFitting = 3, OfManyLikely = 1, OfManyAlong = 1;

    /// <summary>Share of what opens a wire that opens the other wire of its contact too: one crimp holds both.</summary>
    private const double OpensBoth = 0.05;

    /// <summary>So many readings that the drawing denies are much to be explained by contacts that stand elsewhere.</summary>
    private const int Many = 32;

    private readonly DrawnLoom drawn;
    private readonly Evidence evidence;
    private readonly Suspects suspects;
    private readonly Weighing weighing;
    private readonly AlongTheWay along;
    private readonly Placing placing;
    private readonly Priors priors;
    private readonly Dictionary<string, Weighed> singles;

    /// <summary>Of readings that the drawing denies, the most that contacts that stand elsewhere explain by themselves.</summary>
    private int explained;
    private readonly ConcurrentDictionary<Weighed, string> likeness = new(ReferenceEqualityComparer.Instance);
    private readonly ConcurrentDictionary<string, Lazy<List<Supposition>>> candidates = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<(int A, int B, bool IsOfMany), Lazy<(List<Supposition> Cavities, List<Supposition> Along)>> bridges = [];

    /// <param name="known">Single faults that were weighed by all readings but the last; null for none.</param>
    internal Reckoning(DrawnLoom drawn, Evidence evidence, Suspects suspects, Priors priors, WaysBeside ways, IReadOnlyDictionary<string, Weighed>? known = null)
    {
        (this.drawn, this.evidence, this.suspects, this.priors) = (drawn, evidence, suspects, priors);
        singles = new(known ?? ImmutableDictionary<string, Weighed>.Empty, StringComparer.Ordinal);
        weighing = new(drawn, evidence);
        along = ways.Of([]);
        placing = new(ways, suspects, priors, weighing, singles);
    }

    /// <summary>Weighs all that may be.</summary>
    /// <returns>Falling by score; nothing wrong is among them.</returns>
    internal List<Weighed> All(CancellationToken cancel)
    {
        var all = Singles(cancel);
        return Left(all[0]).IsEmpty ? placing.Told(Refined([.. all, .. Beside(all), .. BothWires(all[0])], cancel), falling => Refined(falling, cancel), cancel) : placing.Of(Refined([.. all, .. Pairs(all, cancel)], cancel), falling => Refined(falling, cancel), cancel);
    }

    /// <inheritdoc cref="Placing.Doubted"/>
    internal List<Weighed>? Doubted(List<Weighed> falling, CancellationToken cancel) => placing.Doubted(falling, all => Refined(all, cancel), cancel);

    /// <summary>Weighs what was left once more, with one more reading; nothing new is looked for.</summary>
    /// <param name="left">Falling by score, by all readings but the last.</param>
    /// <returns>Falling by score; null where the likeliest does not explain all.</returns>
    internal List<Weighed>? Again(IReadOnlyList<Weighed> left, CancellationToken cancel)
    {
        var last = evidence.Locate(evidence.All[^1]);
        var falling = Refined([.. left.Each(w => weighing.Again(w, last), cancel)], cancel);
        if (!Left(falling[0]).IsEmpty)
        {
            return null;
        }

        falling = placing.Again(falling, all => Refined(all, cancel), cancel);
        return Left(falling[0]).IsEmpty ? falling : null;
    }

    /// <summary>Single faults that suppositions are made of.</summary>
    internal IReadOnlyDictionary<string, Weighed> SinglesOf(IEnumerable<Weighed> some) =>
        some.SelectMany(w => w.Faults).Select(FaultKeys.Of).Distinct().Where(singles.ContainsKey).ToDictionary(k => k, k => singles[k], StringComparer.Ordinal);

    /// <summary>Nothing, and each single fault that touches what is not as drawn.</summary>
    /// <returns>Falling by score.</returns>
    internal List<Weighed> Singles(CancellationToken cancel)
    {
        var all = new List<Weighed> { new([], Math.Log(priors.Nothing), 0, new Altered(drawn, [], new HashSet<int>())) };
        var open = Left(null);

        Prepare(open, cancel);
        var some = Candidates(open);
        WeighSingles(some, cancel);
        return Refined([.. all, .. some.Select(Single)], cancel);
    }

    /// <summary>Where a contact that holds two wires would stand in a cavity that nobody touched, both wires may be open instead: neither alone shows.</summary>
    private IEnumerable<Weighed> BothWires(Weighed best) =>
        best.Faults is [MisplacedFault astray] && evidence.IsUntouched(astray.Target) && drawn.Loom.WiresAt(new(astray.Connector, astray.From)).ToList() is [var one, var other]
            ? [weighing.Weigh(new([new OpenFault(one.Id), new OpenFault(other.Id)], suspects.LogOpen + Math.Log(OpensBoth)))]
            : [];

    /// <summary>Two that have nothing to do with each other may look like one that explains both.</summary>
    private IEnumerable<Weighed> Beside(List<Weighed> falling)
    {
        var best = falling.Where(s => s.Faults.Length == 1 && s.Gain > WorthASecond).Take(Firsts * 2).ToList();
        return from one in best
               from other in best
               where string.CompareOrdinal(FaultKeys.Of(one.Faults[0]), FaultKeys.Of(other.Faults[0])) < 0 && !one.Nets.Overlaps(other.Nets)
               select Together(one, other);
    }

    /// <summary>What a supposition leaves; null for the loom as drawn.</summary>
    private Unexplained Left(Weighed? by) => Unexplained.Of(drawn, evidence, suspects, by);

    private Weighed Together(Weighed one, Weighed other)
    {
        ImmutableArray<Fault> both = [one.Faults[0], other.Faults[0]];
        return new(both, one.Score + other.Score + priors.LogSecond, one.Gain + other.Gain, new Laid(drawn, both)) { Law = one.Law + other.Law };
    }

    /// <summary>Falling by score, the sizes of the best fitted once more. What is as likely stays in the order of the drawing.</summary>
    private List<Weighed> Refined(List<Weighed> all, CancellationToken cancel)
    {
        static List<Weighed> Falling(IEnumerable<Weighed> all) => [.. all.OrderByDescending(w => Math.Round(w.Score, 2))];
        all = Falling(all);
        var first = weighing.Refine(all[0]);
        var worth = all.Skip(1).Take(ToRefine - 1).TakeWhile(w => w.Score > first.Score - WorthRefining).ToList();
        return Falling([first, .. worth.Each(weighing.Refine, cancel), .. all.Skip(1 + worth.Count)]);
    }

    /// <summary>All that may be behind what is unexplained; of bridges between two nets those that fit best between the nets as drawn. Kept: many suppositions leave the same.</summary>
    private List<Supposition> Candidates(Unexplained open) => candidates.GetOrAdd(open.Key, _ => new(() =>
    {
        var others = suspects.Of(open.Apart, open.Off, open.Broken).DistinctBy(s => s.Key);
        var bridged = open.Bridged.Select(nets => BridgesOf(nets, open.Bridged.Count > ManyBridged)).ToList();
        return [.. others, .. bridged.SelectMany(b => b.Cavities), .. bridged.SelectMany(b => b.Along)];
    })).Value;

    /// <summary>Bridges that may be behind what is unexplained, side by side: what asks for them later waits for nobody.</summary>
    private void Prepare(Unexplained open, CancellationToken cancel) => _ = open.Bridged.ToList().Each(nets => BridgesOf(nets, open.Bridged.Count > ManyBridged), cancel);

    private (List<Supposition> Cavities, List<Supposition> Along) BridgesOf((int A, int B) nets, bool isOfMany) =>
        bridges.GetOrAdd((nets.A, nets.B, isOfMany), _ => new(() => isOfMany ? Bridges(nets, OfManyFitting, OfManyLikely, OfManyAlong) : Bridges(nets, MostBridges, MostLikely, FewAlong))).Value;

    /// <summary>Bridges between two nets: between cavities, and between wires where the readings can say how far along.</summary>
    private (List<Supposition> Cavities, List<Supposition> Along) Bridges((int A, int B) nets, int mostFitting, int mostLikely, int mostAlong)
    {
        var between = suspects.Between(nets.A, nets.B).ToList();
        if (between.Count > mostFitting)
        {
            // Another fault may spoil the fit: the likeliest places are weighed whatever it says.
            var fit = new BridgeFit(drawn, evidence, nets.A, nets.B);
            var fitting = between.OrderByDescending(s => s.LogPrior + fit.Of(s.A, s.B)).Take(mostFitting);
            between = [.. fitting.Union(between.OrderByDescending(s => s.LogPrior).Take(mostLikely))];
        }

        return (between.ConvertAll(b => Suspects.Bridge(b.A, b.B, b.LogPrior)), [.. along.Between(nets.A, nets.B, mostAlong).Select(x => new Supposition([x.Fault with { Ohm = double.NaN }], suspects.LogAlong + x.LogWidth))]);
    }

    /// <summary>One that was weighed.</summary>
    private Weighed Single(Supposition supposed) => singles[supposed.Key];

    /// <summary>Weighs those that were not yet.</summary>
    private void WeighSingles(IEnumerable<Supposition> some, CancellationToken cancel)
    {
        var anew = some.Where(s => !singles.ContainsKey(s.Key)).DistinctBy(s => s.Key).ToList().Each(s => (Single: s, Denials: weighing.Denied(s)), cancel);
        explained = Math.Max(explained, anew.Max(s => -s.Denials?.More) ?? 0);
        foreach (var (key, weighed) in anew.Each(s => (s.Single.Key, s.Denials is { } denials ? weighing.WeighMoved(s.Single, denials, IsBehind(-denials.More, explained, Many)) : weighing.Weigh(s.Single)), cancel))
        {
            // Of thousands that would be much to keep.
            weighed.Laid.Forget();
            singles.Add(key, weighed);
        }
    }

    /// <summary>Where one explains much, what explains less than a quarter of that is no single fault, and of two not the first.</summary>
    private static bool IsBehind(double explained, double best, double much) => best > much && explained < best / 4;

    /// <summary>Two at once: each of the best singles, with whatever would explain what it leaves.</summary>
    private List<Weighed> Pairs(List<Weighed> singlesFalling, CancellationToken cancel)
    {
        var firsts = singlesFalling.Where(s => s.Faults.Length == 1).Take(Firsts * 4).GroupBy(Likeness).SelectMany(g => g.Take(FirstsAlike).Union(g.Where(s => s.Faults is [ShortFault { AlongMm: not null }]).Take(1))).OrderByDescending(s => s.Score).Take(Firsts).ToList();
        var are = firsts.Select(Likeness).ToHashSet(StringComparer.Ordinal);
        firsts.AddRange(singlesFalling.Where(s => s.Faults is [ShortFault]).DistinctBy(Likeness).Where(s => !are.Contains(Likeness(s))).Take(FirstBridges));
        firsts.RemoveAll(f => IsBehind(f.Gain, firsts[0].Gain, -Evidence.Impossible * Many));
        var tried = firsts.Each(f => (First: f, Seconds: Behind(f)), cancel);
        WeighSingles(tried.SelectMany(s => s.Seconds.Select(o => o.Other)), cancel);
        var seen = new HashSet<string>(StringComparer.Ordinal);

        // The likelier a first, the more are tried beside it; none is left without any.
        var among = tried.Each(s => Among(s.Seconds).ToList(), cancel);
        var pairs = tried.SelectMany((s, f) => among[f].Select((o, k) => (s.First, Other: o, Turn: (k + 1) * (f + 2)))).OrderBy(p => p.Turn).Select(p => (p.First, p.Other)).Where(p => IsNew(p.First, p.Other)).Take(MostPairs).ToList();
        var apart = pairs.Where(p => !AreClose(p)).Select(p => (First: p.First, Second: Single(p.Other))).Where(p => p.Second.Gain > 0).Select(p => Together(p.First, p.Second));
        var close = pairs.FindAll(AreClose).Each(p => weighing.Lay(Both(p.First, p.Other)), cancel);
        List<Weighed> found = [.. apart];

        // Those that fewest readings deny are weighed first; where the best explains all, no other is.
        foreach (var some in close.GroupBy(l => l.Denials.More).OrderBy(g => g.Key))
        {
            found.AddRange(some.ToList().Each(weighing.WeighLaid, cancel));
            if (Left(found.MaxBy(w => w.Score)).IsEmpty)
            {
                break;
            }
        }

        // A bridge that follows its contact may come to where another pair has it.
        return [.. found.DistinctBy(FaultKeys.Of)];

        // All that may be behind what a first leaves, each with how much of it.
        List<(Supposition Other, double Left)> Behind(Weighed first)
        {
            var (left, open) = (new LeftOver(drawn, evidence, first), Left(first));
            Prepare(open, cancel);
            return Candidates(open).ConvertAll(o => (o, left.Of(o.Faults[0])));
        }

        IEnumerable<Supposition> Among(List<(Supposition Other, double Left)> all)
        {
            var told = all.ConvertAll(o => (o.Other, o.Left, Alone: Single(o.Other)));
            var ordered = told.OrderByDescending(t => t.Other.Faults[0] is ResistiveFault ? t.Left : 0).ThenByDescending(t => t.Alone.Score).ToList();
            var falling = ordered.ConvertAll(t => t.Other);
            var behind = told.Where(t => t.Left > 0).GroupBy(t => t.Other.Faults[0].GetType()).SelectMany(g => g.OrderByDescending(t => t.Left).ThenByDescending(t => t.Alone.Score).Take(SecondsLeft)).Select(t => t.Other);
            var best = falling.Take(SecondsBest).Union(behind).ToList();
            var are = best.Where(o => o.Faults[0] is ShortFault).Select(o => Likeness(Single(o))).ToHashSet(StringComparer.Ordinal);

            // Between any two nets the likeliest place and what fits best alone, of all nets the former first.
            var bridges = ordered.Where(t => t.Other.Faults[0] is ShortFault).GroupBy(t => Likeness(t.Alone), t => t.Other).Where(g => !are.Contains(g.Key))
                .SelectMany(g => g.Take(SecondsAlike).Prepend(g.MaxBy(o => o.LogPrior)!).Distinct().Select((o, turn) => (o, turn))).OrderBy(x => x.turn).Select(x => x.o).Take(SecondsBridges);
            return [.. best.Union(bridges).Union(falling).Take(Seconds)];
        }

        bool AreClose((Weighed First, Supposition Other) pair) => Single(pair.Other).Nets.Overlaps(pair.First.Nets);

        bool IsNew(Weighed first, Supposition supposed)
        {
            var (one, other) = (FaultKeys.Of(first.Faults[0]), supposed.Key);
            return one != other && seen.Add(string.CompareOrdinal(one, other) < 0 ? $"{one}|{other}" : $"{other}|{one}");
        }
    }

    /// <summary>Kind and nets of a single.</summary>
    private string Likeness(Weighed single) => likeness.GetOrAdd(single, s => $"{s.Faults[0].GetType().Name} {string.Join(' ', s.Nets.Order())}");

    /// <summary>A single with a second one near it: sizes are fitted anew, because one fault hides part of the other.</summary>
    private Supposition Both(Weighed first, Supposition other) =>
        new([Following(FaultKeys.Unsized(first.Faults[0]), other.Faults[0]), other.Faults[0]], first.LogPrior + other.LogPrior + priors.LogSecond);

    /// <summary>A bridge goes with the contacts that it was seen at when these stand elsewhere; where it lies then is sought when it is placed.</summary>
    private Fault Following(Fault fault, Fault other)
    {
        if (fault is not ShortFault { AlongMm: null } bridge || other is not CavityFault astray)
        {
            return fault;
        }

        var moved = astray.Moved(drawn.Loom);
        string Of(string place) => ProbePoint.Parse(place) is var p && p.Connector == astray.Connector && moved.TryGetValue(p.Cavity, out var now) ? new ProbePoint(p.Connector, now).ToString() : place;
        return bridge with { A = Of(bridge.A), B = Of(bridge.B) };
    }
}
