using System.Collections.Immutable;
using WiseLoom.Core.Faults;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Of the likeliest two faults each exchanged for others of its kind in the same nets: what was placed beside one of these lies as well beside the others, and as long as that is not weighed one of them seems certain.</summary>
/// <param name="singles">Single faults that were weighed, by <see cref="FaultKeys"/>.</param>
internal sealed class Exchanging(Priors priors, Weighing weighing, IReadOnlyDictionary<string, Weighed> singles)
{
    /// <summary>So many of the likeliest are looked at for others, and so many are taken of each of the two.</summary>
    private const int MostLooked = 240, MostOthers = 8;

    /// <summary>Two that are this far behind say nothing of what else there may be.</summary>
    private const double FarBehind = 120;

    /// <param name="falling">By score.</param>
    /// <returns>None where the likeliest is not two faults.</returns>
    internal List<Supposition> Of(List<Weighed> falling)
    {
        if (falling[0] is not { Faults: [var one, var other] } top)
        {
            return [];
        }

        var some = falling.Take(MostLooked).Where(w => w.Faults.Length == 2 && w.Score > top.Score - FarBehind).SelectMany(w => w.Faults).DistinctBy(FaultKeys.Of).ToList();
        return [.. Instead(one, other), .. Instead(other, one)];

        IEnumerable<Supposition> Instead(Fault of, Fault beside)
        {
            var nets = weighing.NetsOf(of);
            return some.Where(f => f.GetType() == of.GetType() && FaultKeys.Of(f) != FaultKeys.Of(of) && FaultKeys.Of(f) != FaultKeys.Of(beside) && singles.ContainsKey(FaultKeys.Of(f)) && weighing.NetsOf(f).SetEquals(nets)).Take(MostOthers)
                .Select(f => new Supposition([FaultKeys.Unsized(f), FaultKeys.Unsized(beside)], singles[FaultKeys.Of(f)].LogPrior + PriorOf(beside, of, top) + priors.LogSecond));
        }
    }

    /// <summary>How likely one of two faults is before anything is read; a logarithm. A bridge that was placed beside another need not have been weighed by itself.</summary>
    internal double PriorOf(Fault one, Fault other, Weighed both) =>
        singles.GetValueOrDefault(FaultKeys.Of(one)) is { } known ? known.LogPrior
        : singles.GetValueOrDefault(FaultKeys.Of(other)) is { } second ? both.LogPrior - priors.LogSecond - second.LogPrior
        : (both.LogPrior - priors.LogSecond) / 2;
}
