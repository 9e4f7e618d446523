using System.Text.Json.Serialization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning.Steps;

/// <summary>No metal joins the pair, or one net and all others.</summary>
/// <inheritdoc cref="PlanStep"/>
public sealed record IsolationStep(int Number, ProbePoint Black, ProbePoint? Red, Limits Limits, double Seconds, string? Circuit)
    : PlanStep(Number, Black, Red, Limits, Seconds, Circuit)
{
    /// <summary>The kind in files.</summary>
    public const string Word = "apart";

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Kind => Word;

    /// <inheritdoc/>
    [JsonIgnore]
    public override string MustBe => "apart";

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Sign => "∤";

    /// <inheritdoc/>
    [JsonIgnore]
    public override bool IsJoined => false;

    /// <inheritdoc/>
    public override Reading ReadingOf(double? shown) => Resistance(shown);

    /// <inheritdoc/>
    public override string? NoticedInWords() => null;

    /// <inheritdoc/>
    public override string Complaint() => $"{Black} should stand apart from {Red?.ToString() ?? "every other circuit"} and does not";

    /// <summary>Between two nets, wherever they are measured: when hands were on one of them, and the other comes near a touched place. Against
    /// all others: when hands were on its net, or it stands beside touched places of a net that has no such step of its own.</summary>
    public override bool ChangedBy(FixReach reach)
    {
        ArgumentNullException.ThrowIfNull(reach);
        return Red is { } red
            ? (reach.InNets(Black) && reach.Near(red)) || (reach.InNets(red) && reach.Near(Black))
            : reach.InNets(Black) || reach.BesideUncovered(Black);
    }
}
