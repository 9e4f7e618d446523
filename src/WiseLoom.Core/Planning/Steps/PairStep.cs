using System.Collections.Immutable;
using System.Text.Json.Serialization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning.Steps;

/// <summary>The two conductors of a twisted pair against each other at one of its plugs, with what terminates them plugged in.</summary>
/// <param name="Expected">What the terminations and the copper explain, ohms; null when nothing joins the two.</param>
/// <param name="Group">Name of the pair in the loom.</param>
/// <param name="Terminations">Titles of what joins the two, in words; empty when nothing does.</param>
/// <inheritdoc cref="PlanStep"/>
public sealed record PairStep(
    int Number, ProbePoint Black, ProbePoint? Red, OhmRange? Expected, Limits Limits, double Seconds, string? Circuit, string Group, string Terminations)
    : PlanStep(Number, Black, Red, Limits, Seconds, Circuit)
{
    /// <summary>The kind in files.</summary>
    public const string Word = "pair";

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Kind => Word;

    /// <inheritdoc/>
    [JsonIgnore]
    public override string MustBe => Expected is null ? "apart" : "terminated";

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Sign => "∞";

    /// <inheritdoc/>
    [JsonIgnore]
    public override bool IsJoined => Expected is not null;

    /// <inheritdoc/>
    [JsonIgnore]
    public override StepPhase Phase => StepPhase.Fitted;

    /// <inheritdoc/>
    [JsonIgnore]
    public override OhmRange? Explained => Expected;

    /// <inheritdoc/>
    public override Reading ReadingOf(double? shown) => Resistance(shown);

    /// <summary>Null: what joins the two is a device, not metal.</summary>
    public override Reading? AsPair(Reading reading) => null;

    /// <inheritdoc/>
    public override string? NoticedInWords() => null;

    /// <inheritdoc/>
    public override string? Setup() => $"pair {Group}: {(Terminations.Length > 0 ? $"terminated by {Terminations}" : "nothing terminates it")}, everything without power";

    /// <inheritdoc/>
    public override string? Because() => Expected is { } expected
        ? $"{Terminations} and the copper of the pair add up to {Say.Ohms(expected.Nominal)}; their tolerances make that {Passes()}."
        : "Nothing that is plugged in joins the two conductors, so they must stand apart.";

    /// <inheritdoc/>
    public override string Complaint() => Expected is null ? $"The two conductors of {Group} should stand apart and do not" : $"Pair {Group} is not terminated as drawn";
}
