using System.Collections.Immutable;
using System.Text.Json.Serialization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning.Steps;

/// <summary>What an eye goes through at one place: a connector, a ring, a twisted pair. It is recorded, not computed.</summary>
/// <param name="Black">A cavity of the place.</param>
/// <param name="Place">What is looked at, in words.</param>
/// <param name="Things">One thing after another, each as it should be.</param>
/// <inheritdoc cref="PlanStep"/>
public sealed record LookStep(int Number, ProbePoint Black, ProbePoint? Red, Limits Limits, double Seconds, string? Circuit, string Place, ImmutableArray<string> Things)
    : PlanStep(Number, Black, Red, Limits, Seconds, Circuit)
{
    /// <summary>The kind in files.</summary>
    public const string Word = "look";

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Kind => Word;

    /// <inheritdoc/>
    [JsonIgnore]
    public override string MustBe => "as it should be";

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Sign => "◉";

    /// <inheritdoc/>
    [JsonIgnore]
    public override bool IsProbed => false;

    /// <inheritdoc/>
    [JsonIgnore]
    public override string? Subject => Place;

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Looks => Things;

    /// <inheritdoc/>
    [JsonIgnore]
    public override ReadingUnit Unit => ReadingUnit.Sight;

    /// <inheritdoc/>
    [JsonIgnore]
    public override bool ByInstrument => false;

    /// <inheritdoc/>
    [JsonIgnore]
    public override StepPhase Phase => StepPhase.Looks;

    /// <inheritdoc/>
    [JsonIgnore]
    public override string RedInWords => Place;

    /// <inheritdoc/>
    public override Reading ReadingOf(double? shown) => shown is 0 or 1
        ? new(shown, ReadingUnit.Sight)
        : throw new ArgumentOutOfRangeException(nameof(shown), "A look finds all as it should be, or not: 1 or 0.");

    /// <summary>Null: an eye does not measure.</summary>
    public override Reading? AsPair(Reading reading) => null;

    /// <inheritdoc/>
    public override Verdict Judge(Reading reading, Meter meter) => reading.Value > 0.5 ? Verdict.Pass : Verdict.Fail;

    /// <inheritdoc/>
    public override ImmutableArray<VerdictBand> Bands(Meter meter) => [new(0, 0.5, Verdict.Fail), new(0.5, null, Verdict.Pass)];

    /// <inheritdoc/>
    public override Ruler Ruler() => new(1, 10);

    /// <inheritdoc/>
    public override string Passes() => "as it should be";

    /// <inheritdoc/>
    public override string? NoticedInWords() => null;

    /// <inheritdoc/>
    public override string? Because() => "What an eye finds is recorded with who looked and when, and with its photos. It is not computed.";

    /// <inheritdoc/>
    public override string Complaint() => $"{Place}: not all is as it should be";

    /// <summary>When hands were in its plug: a seal may have rolled, a lock may stand open.</summary>
    public override bool ChangedBy(FixReach reach)
    {
        ArgumentNullException.ThrowIfNull(reach);
        return reach.InConnector(Black.Connector);
    }

    /// <inheritdoc/>
    public override bool AsksTheSameAs(PlanStep earlier) => earlier is LookStep look && look.Place == Place && look.Things.SequenceEqual(Things);

    /// <summary>Equal when every field is.</summary>
    public bool Equals(LookStep? other) => other is not null && base.Equals(other) && Place == other.Place && Things.SequenceEqual(other.Things);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(base.GetHashCode(), Place, Things.Length);
}
