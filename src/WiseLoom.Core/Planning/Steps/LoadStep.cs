using System.Collections.Immutable;
using System.Text.Json.Serialization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning.Steps;

/// <summary>A known current through the pair drops no more than the copper explains. It is read in volts, by eye.</summary>
/// <param name="Expected">What copper and contacts explain, ohms.</param>
/// <param name="Load">What draws the current, and what the pair then drops.</param>
/// <inheritdoc cref="PlanStep"/>
public sealed record LoadStep(
    int Number, ProbePoint Black, ProbePoint? Red, OhmRange Expected, Limits Limits, double Seconds, string? Circuit, LoadTest Load)
    : PlanStep(Number, Black, Red, Limits, Seconds, Circuit)
{
    /// <summary>The kind in files.</summary>
    public const string Word = "load";

    private const double MostVolts = 60;

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Kind => Word;

    /// <inheritdoc/>
    [JsonIgnore]
    public override string MustBe => "under load";

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Sign => "⇢";

    /// <inheritdoc/>
    [JsonIgnore]
    public override ReadingUnit Unit => ReadingUnit.Volt;

    /// <inheritdoc/>
    [JsonIgnore]
    public override bool ByInstrument => false;

    /// <inheritdoc/>
    [JsonIgnore]
    public override StepPhase Phase => StepPhase.UnderLoad;

    /// <inheritdoc/>
    [JsonIgnore]
    public override OhmRange? Explained => Expected;

    /// <inheritdoc/>
    [JsonIgnore]
    public override double? Noticed => Load.NoticedOhms;

    /// <summary>Lamp and millivolts, whatever the run's meter.</summary>
    public override Meter MeasuredWith(Meter meter) => Load.AsMeter();

    /// <inheritdoc/>
    public override Reading ReadingOf(double? shown) => shown switch
    {
        null => new(null, ReadingUnit.Volt),
        { } volts when Math.Abs(volts) <= MostVolts => new(volts, ReadingUnit.Volt),
        _ => throw new ArgumentOutOfRangeException(nameof(shown), "A drop lies between 0 and 60 V."),
    };

    /// <inheritdoc/>
    public override Reading? AsPair(Reading reading) => reading is { Unit: ReadingUnit.Volt, Value: { } volts } ? new(Load.OhmsOf(volts)) : new(reading.Ohms);

    /// <inheritdoc/>
    public override ImmutableArray<VerdictBand> Bands(Meter meter) =>
        [.. base.Bands(meter).Select(b => new VerdictBand(Load.DropAt(b.From), b.To is { } to ? Load.DropAt(to) : null, b.Verdict))];

    /// <inheritdoc/>
    public override Ruler Ruler() => Planning.Ruler.For(new(Load.LeastDropVolts, Load.MostDropVolts));

    /// <inheritdoc/>
    public override string Passes() => Say.Between(Say.Drop(Load.LeastDropVolts), Say.Drop(Load.MostDropVolts));

    /// <inheritdoc/>
    public override string? NoticedInWords() => Noticed is { } ohms ? $"This surely notices {Say.Ohms(ohms)} too much." : base.NoticedInWords();

    /// <inheritdoc/>
    public override string? Setup() => Red is { } red ? Load.Setup(Black, red) : null;

    /// <inheritdoc/>
    public override bool AsksTheSameAs(PlanStep earlier) => base.AsksTheSameAs(earlier) && earlier is LoadStep { Load: var load } && load == Load;
}
