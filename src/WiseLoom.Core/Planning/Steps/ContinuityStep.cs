using System.Text.Json.Serialization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning.Steps;

/// <summary>Metal joins the pair, with no more resistance than the copper explains.</summary>
/// <param name="Expected">What copper and contacts explain, ohms.</param>
/// <param name="NoticedOhms">Smallest added resistance that the run's meter surely notices; null when it notices none.</param>
/// <inheritdoc cref="PlanStep"/>
public sealed record ContinuityStep(
    int Number, ProbePoint Black, ProbePoint? Red, OhmRange Expected, Limits Limits, double Seconds, double? NoticedOhms, string? Circuit)
    : PlanStep(Number, Black, Red, Limits, Seconds, Circuit)
{
    /// <summary>The kind in files.</summary>
    public const string Word = "continuity";

    /// <summary>Where the limits come from, when not from the drawing: <c>learned from looms 12, 15 and 19</c>; null for computed ones.</summary>
    public string? Origin { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Kind => Word;

    /// <inheritdoc/>
    [JsonIgnore]
    public override string MustBe => "joined";

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Sign => "–";

    /// <inheritdoc/>
    [JsonIgnore]
    public override OhmRange? Explained => Expected;

    /// <inheritdoc/>
    [JsonIgnore]
    public override double? Noticed => NoticedOhms;

    /// <inheritdoc/>
    public override string? Because() => Origin is { } origin
        ? Words.Of($"These limits were {origin}: good looms read about {Say.Ohms(Expected.Nominal)} here, and a further good one reads {Limits.InWords()}.")
        : null;

    /// <inheritdoc/>
    public override Reading ReadingOf(double? shown) => Resistance(shown);
}
