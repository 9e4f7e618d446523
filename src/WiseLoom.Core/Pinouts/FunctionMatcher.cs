using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Pinouts;

/// <summary>How far a proposed partner can be trusted.</summary>
public enum MatchTrust
{
    /// <summary>Both say the same, no other line on either side does, and the kinds of circuit agree.</summary>
    Sure,

    /// <summary>Clearly nearer than any other; a person should look.</summary>
    Likely,

    /// <summary>Several could be meant, or little agrees; a person must choose.</summary>
    Ask,
}

/// <summary>A line on the other side that may mean the same.</summary>
/// <param name="Score">0 to 1.</param>
/// <param name="Reason">What agrees and what does not, in words.</param>
public sealed record MatchCandidate(ProbePoint Place, string Function, double Score, string Reason);

/// <summary>What is proposed for a line of the left side.</summary>
/// <param name="Proposed">The partner; null when none is near enough. No two lines have the same.</param>
/// <param name="Candidates">At most six, best first.</param>
public sealed record MatchProposal(ProbePoint Place, string Function, ProbePoint? Proposed, MatchTrust Trust, ImmutableArray<MatchCandidate> Candidates);

/// <summary>Finds which lines of two pinouts mean the same function.</summary>
/// <remarks>
/// Functions are compared by their words, the shop's synonyms put in; rare words weigh more (inverse document frequency, Spärck Jones 1972).
/// Different numbers or opposite sides rule a pair out: injector 3 is never injector 5. A proposal is never more than that: a person accepts it.
/// </remarks>
public sealed class FunctionMatcher
{
    private const double LeastScore = 0.30;
    private const double LikelyScore = 0.60;
    private const double LikelyMargin = 0.15;
    private const int MostCandidates = 6;

    private static readonly ImmutableHashSet<(string, string)> Opposites =
    [
        ("left", "right"), ("high", "low"), ("plus", "minus"), ("front", "rear"), ("upper", "lower"), ("inlet", "outlet"), ("upstream", "downstream"), ("open", "closed"),
    ];

    private readonly Side left;
    private readonly Side right;
    private readonly Dictionary<string, double> weights;

    /// <summary>Weighs the words of both sides: those that few lines share count most.</summary>
    public FunctionMatcher(IEnumerable<PinoutLine> left, IEnumerable<PinoutLine> right, Synonyms synonyms)
    {
        this.left = new(left, synonyms);
        this.right = new(right, synonyms);
        var all = this.left.Lines.Concat(this.right.Lines).ToList();
        weights = all.SelectMany(l => l.Sense.Subjects).GroupBy(w => w, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => Math.Log(1 + ((double)all.Count / g.Count())), StringComparer.Ordinal);
    }

    /// <summary>A proposal for each line of the left side that names a function, in its order.</summary>
    public ImmutableArray<MatchProposal> Proposals()
    {
        var scored = left.Lines.Select(l => right.Lines.Select(r => Score(l, r)).Where(c => c.Score >= LeastScore).OrderByDescending(c => c.Score).ThenBy(c => c.Candidate.Place).ToList()).ToList();
        var partner = new Dictionary<int, ProbePoint>();
        var taken = new HashSet<ProbePoint>();

        // Best pairs first: a line that is second best for one is left for the line it is best for.
        foreach (var (index, candidate, _) in scored.SelectMany((list, i) => list.Select(c => (Index: i, c.Candidate, c.Score))).OrderByDescending(c => c.Score).ThenBy(c => c.Index))
        {
            if (!partner.ContainsKey(index) && taken.Add(candidate.Place))
            {
                partner[index] = candidate.Place;
            }
        }

        return [.. left.Lines.Select((line, i) => Proposal(line, scored[i], partner.TryGetValue(i, out var place) ? place : null))];
    }

    private MatchProposal Proposal(Line line, List<(MatchCandidate Candidate, double Score, Line Right)> list, ProbePoint? place)
    {
        var candidates = list.Take(MostCandidates).Select(c => c.Candidate).ToImmutableArray();
        if (place is not { } partner)
        {
            return new(line.Pin.Place, line.Pin.Function, null, MatchTrust.Ask, candidates);
        }

        var chosen = list.Find(c => c.Candidate.Place == partner);
        var next = list.Where(c => c.Candidate.Place != partner).Select(c => c.Score).DefaultIfEmpty(0).Max();
        var alone = left.Count(line.Sense.Key) == 1 && right.Count(chosen.Right.Sense.Key) == 1;
        var trust = !alone ? MatchTrust.Ask
            : line.Sense.Key == chosen.Right.Sense.Key && Agree(line.Pin.Role, chosen.Right.Pin.Role) ? MatchTrust.Sure
            : chosen.Score >= LikelyScore && chosen.Score - next >= LikelyMargin ? MatchTrust.Likely
            : MatchTrust.Ask;
        return new(line.Pin.Place, line.Pin.Function, partner, trust, candidates);
    }

    private (MatchCandidate Candidate, double Score, Line Right) Score(Line a, Line b)
    {
        var shared = a.Sense.Subjects.Intersect(b.Sense.Subjects);
        var whole = a.Sense.Subjects.Union(b.Sense.Subjects);
        if (shared.IsEmpty || Ruled(a.Sense, b.Sense))
        {
            return (new(b.Pin.Place, b.Pin.Function, 0, ""), 0, b);
        }

        var score = shared.Sum(w => weights[w]) / whole.Sum(w => weights[w]);
        var notes = new List<string>();
        if (!a.Sense.Numbers.SequenceEqual(b.Sense.Numbers))
        {
            score *= 0.8;
            notes.Add("only one of them has a number");
        }

        if (!a.Sense.Sides.SetEquals(b.Sense.Sides))
        {
            score *= 0.85;
            notes.Add($"{string.Join(", ", a.Sense.Sides.SymmetricExcept(b.Sense.Sides))} stands on one side only");
        }

        if (!Agree(a.Pin.Role, b.Pin.Role))
        {
            score *= 0.4;
            notes.Add($"{PinRoles.Words(a.Pin.Role)} here, {PinRoles.Words(b.Pin.Role)} there");
        }

        var missing = whole.Except(shared).Where(w => !w.StartsWith('=')).ToList();
        if (missing.Count > 0)
        {
            notes.Add($"not on both: {string.Join(", ", missing)}");
        }

        return (new(b.Pin.Place, b.Pin.Function, Math.Round(score, 3), notes.Count == 0 ? "same words" : string.Join("; ", notes)), score, b);
    }

    private static bool Ruled(FunctionSense a, FunctionSense b) =>
        (!a.Numbers.IsEmpty && !b.Numbers.IsEmpty && !a.Numbers.SequenceEqual(b.Numbers))
        || a.Sides.Any(x => b.Sides.Any(y => Opposites.Contains((x, y)) || Opposites.Contains((y, x)) || (x.Length == 1 && y.Length == 1 && x != y && !a.Sides.Contains(y))));

    /// <summary>Whether two kinds of circuit can be one: what one does not know does not speak against it.</summary>
    private static bool Agree(PinRole a, PinRole b) => a == b || a == PinRole.Unknown || b == PinRole.Unknown
        || (a, b) is (PinRole.Ground, PinRole.SensorGround) or (PinRole.SensorGround, PinRole.Ground)
            or (PinRole.Input, PinRole.Output) or (PinRole.Output, PinRole.Input) // seen from either end of one wire
            or (PinRole.Feed, PinRole.Output) or (PinRole.Output, PinRole.Feed);

    private sealed record Line(PinoutLine Pin, FunctionSense Sense);

    private sealed class Side
    {
        private readonly Dictionary<string, int> counts;

        internal Side(IEnumerable<PinoutLine> lines, Synonyms synonyms)
        {
            Lines = [.. lines.Where(l => l.Function.Length > 0 && l.Role != PinRole.Unused).Select(l => new Line(l, FunctionWords.Sense(l.Function, synonyms)))];
            counts = Lines.GroupBy(l => l.Sense.Key, StringComparer.Ordinal).ToDictionary(g => g.Key, g => g.Count(), StringComparer.Ordinal);
        }

        internal List<Line> Lines { get; }

        internal int Count(string key) => counts.GetValueOrDefault(key);
    }
}
