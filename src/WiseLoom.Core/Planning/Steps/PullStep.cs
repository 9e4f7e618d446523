using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Serialization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning.Steps;

/// <summary>A crimp sample of one lot, pulled until it gives way. The sample is made beside the loom, with the same tool, wire and contact.</summary>
/// <param name="Black">A cavity of the loom with such a crimp.</param>
/// <param name="Limits">What passes, newtons.</param>
/// <param name="Lot">What the samples stand for: section and housing, in words.</param>
/// <param name="LotSize">How many crimps of the loom they stand for.</param>
/// <param name="Sample">Which sample, from 1.</param>
/// <param name="Samples">How many the lot needs.</param>
/// <inheritdoc cref="PlanStep"/>
public sealed record PullStep(int Number, ProbePoint Black, ProbePoint? Red, Limits Limits, double Seconds, string? Circuit, string Lot, int LotSize, int Sample, int Samples)
    : PlanStep(Number, Black, Red, Limits, Seconds, Circuit)
{
    /// <summary>The kind in files.</summary>
    public const string Word = "pull";

    private const double MostNewtons = 20_000;

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Kind => Word;

    /// <inheritdoc/>
    [JsonIgnore]
    public override string MustBe => "holding";

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Sign => "↕";

    /// <inheritdoc/>
    [JsonIgnore]
    public override bool IsProbed => false;

    /// <inheritdoc/>
    [JsonIgnore]
    public override string? Subject => $"{Lot}, sample {Sample} of {Samples}";

    /// <inheritdoc/>
    [JsonIgnore]
    public override ReadingUnit Unit => ReadingUnit.Newton;

    /// <inheritdoc/>
    [JsonIgnore]
    public override bool ByInstrument => false;

    /// <inheritdoc/>
    [JsonIgnore]
    public override StepPhase Phase => StepPhase.Samples;

    /// <inheritdoc/>
    [JsonIgnore]
    public override string RedInWords => Subject!;

    /// <inheritdoc/>
    public override Reading ReadingOf(double? shown) => shown is >= 0 and <= MostNewtons
        ? new(shown, ReadingUnit.Newton)
        : throw new ArgumentOutOfRangeException(nameof(shown), "A crimp gives way at 0 to 20,000 N.");

    /// <summary>Null: a force tells nothing of the metal.</summary>
    public override Reading? AsPair(Reading reading) => null;

    /// <inheritdoc/>
    public override Verdict Judge(Reading reading, Meter meter) => reading.Value >= Limits.Least ? Verdict.Pass : Verdict.Fail;

    /// <inheritdoc/>
    public override ImmutableArray<VerdictBand> Bands(Meter meter) => [new(0, Limits.Least, Verdict.Fail), new(Limits.Least, null, Verdict.Pass)];

    /// <inheritdoc/>
    public override Ruler Ruler() => new(1, 10_000);

    /// <inheritdoc/>
    public override string Passes() => Words.Of($"at least {Say.Newtons(Limits.Least)}");

    /// <inheritdoc/>
    public override string? NoticedInWords() => null;

    /// <inheritdoc/>
    public override string? Setup() => string.Create(CultureInfo.InvariantCulture, $"crimp a sample with the tool of this loom and pull it slowly until it gives way; it stands for {LotSize} {(LotSize == 1 ? "crimp" : "crimps")}");

    /// <inheritdoc/>
    public override string? Because() => string.Create(CultureInfo.InvariantCulture, $"The shop’s table asks {Passes()} of this section, and {Samples} {(Samples == 1 ? "sample" : "samples")} for a lot of {LotSize}.");

    /// <inheritdoc/>
    public override string Complaint() => $"Sample {Sample} of {Lot} gave way too early";

    /// <summary>Never: a sample tells of the tool, the wire and the contact, not of one place in the loom.</summary>
    public override bool ChangedBy(FixReach reach) => false;

    /// <inheritdoc/>
    public override bool AsksTheSameAs(PlanStep earlier) => earlier is PullStep pull && pull.Lot == Lot && pull.Sample == Sample;
}
