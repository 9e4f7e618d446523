using System.Collections.Immutable;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Pinouts;

/// <summary>What is done with a line that has no partner.</summary>
public enum LonelyDecision
{
    /// <summary>Left: the wire goes. Right: the cavity is plugged.</summary>
    LeaveOut,

    /// <summary>Left only: the wire stays, its end insulated and labelled.</summary>
    Insulate,

    /// <summary>Right only: a wire to an open tail that the customer may use.</summary>
    OptionTail,

    /// <summary>Right only: a relay that the output switches, with a tail for its load.</summary>
    Relay,
}

/// <summary>Two lines that a person accepted as one function.</summary>
public sealed record MergePair(ProbePoint Left, ProbePoint Right);

/// <summary>A decision for a line without a partner.</summary>
public sealed record Lonely(ProbePoint Place, LonelyDecision Decision);

/// <summary>What a person has decided so far.</summary>
/// <param name="Apart">Pairs that were proposed and refused.</param>
/// <param name="UsualMm">Length given to new wires until somebody measures, millimetres.</param>
public sealed record MergeDecisions(ImmutableArray<MergePair> Pairs, ImmutableArray<MergePair> Apart, ImmutableArray<Lonely> Left, ImmutableArray<Lonely> Right, double UsualMm)
{
    /// <summary>Nothing decided yet; new wires are 1000 mm long.</summary>
    public static MergeDecisions None { get; } = new([], [], [], [], 1000);

    /// <summary>What cannot be: one place in two pairs, a place that is not on its side.</summary>
    public ImmutableArray<Problem> Problems(Pinout left, Pinout right)
    {
        ArgumentNullException.ThrowIfNull(left);
        ArgumentNullException.ThrowIfNull(right);
        var (lefts, rights) = (left.Lines.Select(l => l.Place).ToHashSet(), right.Lines.Select(l => l.Place).ToHashSet());
        var problems = new List<Problem>();
        for (var i = 0; i < Pairs.Length; i++)
        {
            var at = $"/pairs/{i}";
            if (!lefts.Contains(Pairs[i].Left) || !rights.Contains(Pairs[i].Right))
            {
                problems.Add(new(at, $"{Pairs[i].Left} and {Pairs[i].Right} must be lines of the two pinouts."));
            }

            if (Pairs.Take(i).Any(p => p.Left == Pairs[i].Left))
            {
                problems.Add(new(at, $"{Pairs[i].Left} has a partner already."));
            }
        }

        void Check(string side, ImmutableArray<Lonely> list, HashSet<ProbePoint> known, IEnumerable<ProbePoint> paired, Func<LonelyDecision, bool> allowed)
        {
            var taken = paired.ToHashSet();
            for (var i = 0; i < list.Length; i++)
            {
                var (place, decision) = list[i];
                if (!known.Contains(place) || taken.Contains(place) || !allowed(decision) || list.Take(i).Any(l => l.Place == place))
                {
                    problems.Add(new($"/{side}/{i}", $"{place}: one decision of this side for each line that has no partner."));
                }
            }
        }

        Check("left", Left, lefts, Pairs.Select(p => p.Left), d => d is LonelyDecision.LeaveOut or LonelyDecision.Insulate);
        Check("right", Right, rights, Pairs.Select(p => p.Right), d => d is not LonelyDecision.Insulate);
        if (!(UsualMm is > 0 and <= 1e6))
        {
            problems.Add(new("/usualMm", "A length between 0 and 1,000,000 mm."));
        }

        return [.. problems];
    }
}

/// <summary>Which half of the work it is.</summary>
public enum MergeHalf
{
    /// <summary>Like to like: what both sides have.</summary>
    LikeToLike,

    /// <summary>What must be added, insulated or plugged.</summary>
    Added,
}

/// <summary>One thing for hands to do.</summary>
/// <param name="Key">Names it for ticking off; the same as long as the same is to be done.</param>
/// <param name="Kind"><c>move-contact</c>, <c>splice</c>, <c>add-wire</c>, <c>insulate</c>, <c>remove-wire</c>, <c>plug-cavity</c>, <c>add-relay</c>.</param>
public sealed record WorkItem(string Key, MergeHalf Half, string Kind, string Text);

/// <summary>What came of a merge.</summary>
/// <param name="Document">The new loom's file: a draft, since lengths must be measured.</param>
/// <param name="Work">What to do, in the order of the pairs and then of the rest.</param>
public sealed record MergeResult(JsonObject Document, ImmutableArray<WorkItem> Work);

/// <summary>What still needs a decision.</summary>
public sealed record MergeProgress(int LikeDone, int LikeOpen, int LonelyDone, int LonelyOpen)
{
    /// <summary>Counts: lines with a proposal that is neither accepted nor refused are open halves of like to like; other lines without a partner need a decision.</summary>
    public static MergeProgress Of(Pinout left, Pinout right, ImmutableArray<MatchProposal> proposals, MergeDecisions decisions)
    {
        ArgumentNullException.ThrowIfNull(left);
        ArgumentNullException.ThrowIfNull(right);
        ArgumentNullException.ThrowIfNull(decisions);
        var paired = decisions.Pairs.Select(p => p.Left).ToHashSet();
        var used = decisions.Pairs.Select(p => p.Right).ToHashSet();
        var waiting = proposals.Where(p => p.Proposed is { } to && !paired.Contains(p.Place) && !used.Contains(to) && !decisions.Apart.Contains(new(p.Place, to)) && decisions.Left.All(l => l.Place != p.Place)).ToList();
        var lonelyLeft = left.Lines.Where(l => !paired.Contains(l.Place) && waiting.TrueForAll(w => w.Place != l.Place)).Select(l => l.Place).ToList();
        var lonelyRight = right.Lines.Where(l => !used.Contains(l.Place) && waiting.TrueForAll(w => w.Proposed != l.Place)).Select(l => l.Place).ToList();
        var decided = lonelyLeft.Count(p => decisions.Left.Any(l => l.Place == p)) + lonelyRight.Count(p => decisions.Right.Any(l => l.Place == p));
        return new(decisions.Pairs.Length, waiting.Count, decided, lonelyLeft.Count + lonelyRight.Count - decided);
    }
}
