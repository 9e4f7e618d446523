using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Sightings;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Runs;

/// <summary>A check of a power-up as a run keeps it: what it is about, and what it depends on.</summary>
/// <param name="Id">The same for the same check of the same loom.</param>
/// <param name="Stage">1 to 9.</param>
/// <param name="Title">What is done, in a sentence.</param>
/// <param name="Fingerprint">What was expected of which doing: another one is another check, and has to be done again.</param>
/// <param name="Touches">Wires, devices and cavities that it depends on.</param>
/// <param name="HasCautions">Whether something must be seen before it can be answered.</param>
public sealed record PlannedCheck(string Id, int Stage, string Title, string Fingerprint, ImmutableArray<string> Touches, bool HasCautions);

/// <summary>What a power-up is done by: where, with what fitted, which stages the shop asks for, and its checks.</summary>
/// <param name="School">Where the loom has its first power, as files write it.</param>
/// <param name="Required">Stages without which the loom is not released.</param>
/// <param name="SecondsDry">The longest first run without coolant, seconds.</param>
public sealed record PowerUpTerms(string School, BenchFit Fit, double AmbientC, ImmutableArray<int> Required, double SecondsDry, ImmutableArray<PlannedCheck> Checks)
{
    /// <summary>Stages in which this loom has nothing to look at: they need nobody’s word.</summary>
    public ImmutableArray<int> Vacant { get; init; } = [];

    /// <summary>Where the shop's template asks for the first power, as files write it; empty where the shop asks for no stage.</summary>
    public string AskedSchool { get; init; } = "";
}

/// <summary>A power-up was begun, or what is fitted or asked for was changed: what was answered stands where nothing else is expected now.</summary>
public sealed record PowerUpBegun(PowerUpTerms Terms) : RunEvent
{
    /// <inheritdoc/>
    public override string Fingerprint() => string.Create(CultureInfo.InvariantCulture,
        $"power-up {Terms.School} {string.Join(' ', Terms.Required)} {string.Join(' ', Terms.Fit.Changed.Select(c => $"{c.Key}={c.Value.InWords()}"))} {Terms.AmbientC:R}");
}

/// <summary>Something that an answer tells of the loom.</summary>
/// <param name="AsExpected">Whether the loom as drawn, with what is fitted, would show it.</param>
public sealed record CheckSighting(Sighting What, bool AsExpected);

/// <summary>What was seen at a check of a power-up.</summary>
/// <param name="Said">What was seen, in words.</param>
/// <param name="Expected">What should have been, in words.</param>
/// <param name="CautionsSeen">Whether its cautions were shown, and were seen by whoever answered.</param>
/// <param name="Note">What somebody wrote beside it; null for nothing.</param>
/// <param name="Seen">Number of the last event that its person had seen then.</param>
public sealed record CheckAnswered(string Check, string Said, string Expected, bool Passed, bool CautionsSeen, ImmutableArray<CheckSighting> Told, string? Note, long Seen) : RunEvent
{
    /// <inheritdoc/>
    public override string Fingerprint() => $"answer {Check} {Said} {Note}";
}

/// <summary>A lead let a stage pass that is not done, or not right; or somebody proposes that it cannot be done here.</summary>
/// <param name="NotDone">Whether it was not done at all; else it was, and what is left is accepted.</param>
/// <param name="Reason">The pack prints it.</param>
/// <param name="Word">By whose word.</param>
public sealed record StagePassed(int Stage, bool NotDone, string Reason, string Word) : RunEvent
{
    /// <summary>Whether a lead decided it. What anybody else says is a proposal: it unlocks nothing and releases nothing.</summary>
    public bool ByLead { get; init; }

    /// <inheritdoc/>
    public override string Fingerprint() => string.Create(CultureInfo.InvariantCulture, $"stage {Stage} {NotDone} {Reason} {Word}");
}

/// <summary>A photo of what a check looks at; its picture is kept under the event's key.</summary>
public sealed record CheckPhoto(string Check) : RunEvent
{
    /// <inheritdoc/>
    public override string Fingerprint() => $"check photo {Check}";
}
