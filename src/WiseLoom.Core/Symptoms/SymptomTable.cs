using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Symptoms;

/// <summary>From what a person sees to what may be behind it, for one loom.</summary>
/// <param name="Symptoms">The widest first: nothing at all, no crank, no start, rough running, then one thing each.</param>
/// <param name="Unseen">Breaks that nobody notices without a meter.</param>
public sealed record SymptomTable(ImmutableArray<Symptom> Symptoms, ImmutableArray<Break> Unseen)
{
    private static readonly ImmutableArray<string> Widest = ["dead", "no-crank", "no-start", "rough"];

    /// <summary>Of all effects.</summary>
    public static SymptomTable Of(BreakEffects effects)
    {
        ArgumentNullException.ThrowIfNull(effects);
        var kinds = new SymptomKinds(effects);
        var rows = effects.All.SelectMany(e => kinds.Of(e).Select(s => (Effect: e, s.Id, s.Title, s.Sees))).ToList();
        var named = rows.Select(r => r.Effect).ToHashSet();
        return new(
            [
                .. rows.GroupBy(r => r.Id, StringComparer.Ordinal).Select(g => new Symptom(
                        g.Key, g.OrderByDescending(r => r.Effect.Break.Weight).First().Title, g.First().Sees, Ranked(effects, [.. g.Select(r => r.Effect)])))
                    .OrderBy(s => Widest.IndexOf(s.Id) is >= 0 and var i ? i : s.Id.StartsWith("code", StringComparison.Ordinal) ? 99 : s.Id.StartsWith("silent", StringComparison.Ordinal) ? 100 : 50)
                    .ThenBy(s => s.Id, NaturalOrder.Comparer),
            ],
            [.. effects.All.Where(e => !named.Contains(e)).Select(e => e.Break)]);
    }

    private static ImmutableArray<Suspect> Ranked(BreakEffects effects, ImmutableArray<BreakEffect> all)
    {
        var weights = all.Sum(e => e.Break.Weight);
        return [.. all.OrderByDescending(e => e.Break.Weight / e.Break.Minutes(effects.Loom)).ThenBy(e => e.Break.Id, NaturalOrder.Comparer)
            .Select(e => new Suspect(e.Break, e.Break.Weight / weights, Check(effects, e)))];
    }

    /// <summary>A look where looking tells; else the place and position at which the volts tell most.</summary>
    private static SuspectCheck Check(BreakEffects effects, BreakEffect effect)
    {
        if (effect.Break.Look(effects.Loom) is { } look)
        {
            return new(look, null, null, null, null);
        }

        WireEnd[] ends = [.. effect.Break.Ends(effects.Loom)];
        var places = ends.Where(e => !e.IsSplice).Select(e => e.Point).Concat(Beyond(effects.Loom, ends)).Distinct();
        var best = (
            from point in places
            from key in new[] { KeyPosition.On, KeyPosition.Start, KeyPosition.Running, KeyPosition.Off }
            let should = effects.Sound.Volts[(int)key].GetValueOrDefault(point, double.NaN)
            let broken = effect.Volts[(int)key].GetValueOrDefault(point, double.NaN)
            where Math.Abs(should - broken) > 0.2 * effects.Loom.SupplyVolts
            orderby Math.Round(Math.Abs(should - broken)) descending, key
            select new SuspectCheck(
                Words.Of($"{Upper(effects.Moments.InWords(effects.Moments.All[(int)key]))}, plugs on: measure {point} from behind against the battery’s negative post. {Say.Volts(should)} are right; {Say.Volts(broken)} if {effect.Break.Title(effects.Loom)}."),
                point, key, should, broken)).FirstOrDefault();
        return best ?? new(Words.Of($"Battery and both plugs off: measure the wire from end to end{(ends.Length == 2 ? $", {ends[0].Text} – {ends[1].Text}" : "")}. Under 1 Ω is right; over range if it is broken."), null, null, null, null);
    }

    /// <summary>Cavities that hang on the same splice.</summary>
    private static IEnumerable<ProbePoint> Beyond(Loom loom, WireEnd[] ends) =>
        ends.Where(e => e.IsSplice).SelectMany(e => loom.Wires.Where(w => w.From.Text == e.Text || w.To.Text == e.Text).SelectMany(w => new[] { w.From, w.To })).Where(e => !e.IsSplice).Select(e => e.Point).Take(12);

    private static string Upper(string text) => char.ToUpperInvariant(text[0]) + text[1..];
}
