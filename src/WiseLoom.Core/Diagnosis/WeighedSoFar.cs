using WiseLoom.Core.Electrical;

namespace WiseLoom.Core.Diagnosis;

/// <summary>What was weighed by some readings, to go on from when one more comes.</summary>
/// <remarks>As long as the likeliest explains all, one more reading is held against what is left and nothing new is looked for: that finds what to measure next as well. Before
/// anything is said to be sure, or that nothing more would tell, all is weighed anew. Copper and leads stay as they were found meanwhile.</remarks>
/// <param name="Leaning">The loom as it leans by the readings that were weighed together.</param>
/// <param name="Singles">Single faults that those left are made of.</param>
/// <param name="Left">Falling by score.</param>
/// <param name="Times">How many readings came since all was weighed.</param>
internal sealed record WeighedSoFar(
    Suspects Suspects, Priors Priors, DrawnLoom Leaning, Evidence Evidence, IReadOnlyDictionary<string, Weighed> Singles, IReadOnlyList<Weighed> Left, int Times)
{
    /// <summary>After so many more readings all is weighed anew.</summary>
    private const int MostTimes = 3;

    /// <summary>So many are kept at most, none that is further behind.</summary>
    private const int Most = 300;

    private const double FarBehind = 50;

    /// <summary>What is left when all was weighed.</summary>
    internal static WeighedSoFar Of(Suspects suspects, Priors priors, DrawnLoom leaning, Evidence evidence, Reckoning reckoning, List<Weighed> falling)
    {
        List<Weighed> left = [.. falling.Take(Most).TakeWhile(w => w.Score > falling[0].Score - FarBehind)];
        return new(suspects, priors, leaning, evidence, reckoning.SinglesOf(left), left, 0);
    }

    /// <summary>Whether some readings are those that were weighed and one more.</summary>
    /// <param name="of">The suspects of the loom that is asked about.</param>
    internal bool IsBefore(Suspects of, IReadOnlyList<Observation> observations, Meter meter) =>
        ReferenceEquals(of, Suspects) && Times < MostTimes && observations.Count == Evidence.All.Count + 1 && Evidence.Meter == meter && Evidence.All.Zip(observations).All(o => o.First.IsSame(o.Second));

    /// <summary>Goes on with one more reading.</summary>
    /// <returns>That, and what is to be told by it; null where all has to be weighed anew.</returns>
    internal (WeighedSoFar Now, WaysBeside Ways, List<Weighed> Falling)? With(Observation more, CancellationToken cancel)
    {
        var evidence = new Evidence(Evidence, more);
        if (Nonsense.Of(evidence).Any() || Nonsense.LeadOff(evidence) is not null)
        {
            return null;
        }

        var ways = new WaysBeside(Leaning, evidence);
        var reckoning = new Reckoning(Leaning, evidence, Suspects, Priors, ways, Singles);
        return reckoning.Again(Left, cancel) is { } falling ? (Of(Suspects, Priors, Leaning, evidence, reckoning, falling) with { Times = Times + 1 }, ways, falling) : null;
    }
}
