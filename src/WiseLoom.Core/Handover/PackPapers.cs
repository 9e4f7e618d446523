using System.Collections.Immutable;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Symptoms;

namespace WiseLoom.Core.Handover;

/// <summary>A suspect as a pack prints it.</summary>
/// <param name="Share">Of all suspects of its symptom, in whole percent.</param>
public sealed record PackSuspect(string Cause, string Check, int Share);

/// <summary>Something seen, with what may be behind it, as a pack prints it.</summary>
public sealed record PackSymptom(string Title, ImmutableArray<PackSuspect> Suspects);

/// <summary>A place in the guide as a pack holds it: a check with answers, or an end with its causes.</summary>
public sealed record PackGuide(string? Do, ImmutableArray<PackAnswer> Answers, ImmutableArray<string> Causes, string? Code)
{
    internal static PackGuide Of(Loom loom, GuideNode node) =>
        new(node.Do, [.. node.Answers.Select(a => new PackAnswer(a.Answer, Of(loom, a.Next)))], [.. node.Causes.Select(c => c.Title(loom))], node.Code);
}

/// <summary>An answer and where it leads.</summary>
public sealed record PackAnswer(string Answer, PackGuide Next);

/// <summary>Where the guide begins.</summary>
public sealed record PackGuideStart(string Title, PackGuide Begin);

/// <summary>What is computed for the customer, in words, as a pack freezes it.</summary>
/// <param name="LeftOff">By connector.</param>
/// <param name="Shows">By pin: what a meter and a test lamp show in each key position.</param>
/// <param name="Played">How the guide did when it was played.</param>
public sealed record PackPapers(
    ImmutableArray<LeftOff> LeftOff,
    ImmutableArray<PackSymptom> Symptoms,
    ImmutableArray<PackGuideStart> Guide,
    GuidePlay Played,
    ImmutableArray<HowItWorks> How,
    ImmutableArray<FuseRow> Fuses,
    ImmutableArray<ConnectRow> Connects,
    MinimumToRun Minimum,
    ImmutableArray<MixUp> MixUps,
    ImmutableArray<string> FirstStart,
    ImmutableSortedDictionary<string, string> Shows)
{
    /// <summary>So many suspects of one symptom are printed; the guide knows them all.</summary>
    private const int MostSuspects = 12;

    internal static PackPapers Of(Loom loom, CustomerPapers papers) => new(
        papers.LeftOff,
        [.. papers.Symptoms.Symptoms.Select(s => new PackSymptom(s.Title, [.. s.Suspects.Take(MostSuspects).Select(x => new PackSuspect(x.Break.Title(loom), x.Check.Do, (int)Math.Round(100 * x.Share)))]))],
        [.. papers.Guide.Starts.Select(s => new PackGuideStart(s.Symptom.Title, PackGuide.Of(loom, s.Begin)))],
        papers.Played,
        papers.How,
        papers.Fuses,
        papers.Connects,
        papers.Minimum,
        papers.MixUps,
        papers.FirstStart,
        papers.Shows.ToImmutableSortedDictionary(s => s.Key.ToString(), s => s.Value, NaturalOrder.Comparer));
}
