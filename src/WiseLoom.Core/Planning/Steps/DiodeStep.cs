using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Serialization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning.Steps;

/// <summary>One direction of a diode that is plugged in, with the meter on its diode range.</summary>
/// <param name="Limits">What passes, volts; without an upper limit where the diode must block.</param>
/// <param name="Conducts">Whether the current flows in this direction.</param>
/// <inheritdoc cref="PlanStep"/>
public sealed record DiodeStep(int Number, ProbePoint Black, ProbePoint? Red, Limits Limits, double Seconds, string? Circuit, bool Conducts)
    : PlanStep(Number, Black, Red, Limits, Seconds, Circuit)
{
    /// <summary>The kind in files.</summary>
    public const string Word = "diode";

    /// <summary>How far a junction may be from its model: from part to part, and from the temperature of the model to that of the bench; volts.</summary>
    public const double SpreadVolts = 0.15;

    /// <summary>What a meter adds to a drop: one part in a hundred, and 3 mV.</summary>
    private const double MeterShare = 0.01, MeterVolts = 0.003;

    private const double MostVolts = 10;

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Kind => Word;

    /// <inheritdoc/>
    [JsonIgnore]
    public override string MustBe => Conducts ? "conducting, red to black" : "blocking, red to black";

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Sign => Conducts ? "▷" : "⊣";

    /// <inheritdoc/>
    [JsonIgnore]
    public override bool IsJoined => Conducts;

    /// <inheritdoc/>
    [JsonIgnore]
    public override ReadingUnit Unit => ReadingUnit.Volt;

    /// <inheritdoc/>
    [JsonIgnore]
    public override bool ByInstrument => false;

    /// <inheritdoc/>
    [JsonIgnore]
    public override StepPhase Phase => StepPhase.Fitted;

    /// <summary>False: which probe is red decides.</summary>
    [JsonIgnore]
    public override bool MayTurn => false;

    /// <inheritdoc/>
    public override Reading ReadingOf(double? shown) => shown is null or (>= -MostVolts and <= MostVolts)
        ? new(shown, ReadingUnit.Volt)
        : throw new ArgumentOutOfRangeException(nameof(shown), "A diode drops 0 to 10 V, or the meter shows over range.");

    /// <summary>Null: a diode lies in the way.</summary>
    public override Reading? AsPair(Reading reading) => null;

    /// <inheritdoc/>
    public override Verdict Judge(Reading reading, Meter meter)
    {
        if (reading.Value is not { } volts || volts >= FittedTable.MostTestVolts)
        {
            return Conducts ? Verdict.Fail : Verdict.Pass;
        }

        if (!Conducts)
        {
            return Verdict.Fail;
        }

        var unsure = (Math.Abs(volts) * MeterShare) + MeterVolts;
        return volts - unsure >= Limits.Least && volts + unsure <= Limits.Most ? Verdict.Pass
            : volts + unsure < Limits.Least || volts - unsure > Limits.Most ? Verdict.Fail
            : Verdict.CantTell;
    }

    /// <inheritdoc/>
    public override ImmutableArray<VerdictBand> Bands(Meter meter)
    {
        if (!Conducts)
        {
            return [new(0, FittedTable.MostTestVolts, Verdict.Fail), new(FittedTable.MostTestVolts, null, Verdict.Pass)];
        }

        double[] edges =
        [
            0, (Limits.Least - MeterVolts) / (1 + MeterShare), (Limits.Least + MeterVolts) / (1 - MeterShare),
            (Limits.Most - MeterVolts) / (1 + MeterShare), (Limits.Most + MeterVolts) / (1 - MeterShare),
        ];
        Verdict[] verdicts = [Verdict.Fail, Verdict.CantTell, Verdict.Pass, Verdict.CantTell, Verdict.Fail];
        return [.. verdicts.Select((v, i) => new VerdictBand(edges[i], i + 1 < edges.Length ? edges[i + 1] : null, v))];
    }

    /// <inheritdoc/>
    public override Ruler Ruler() => new(0.01, 100);

    /// <inheritdoc/>
    public override string Passes() => Conducts ? Say.Between(Say.Drop(Limits.Least), Say.Drop(Limits.Most)) : Words.Text("over range");

    /// <inheritdoc/>
    public override string? NoticedInWords() => null;

    /// <inheritdoc/>
    public override string? Setup() => $"meter on its diode range, red on {Red}: the diode must {(Conducts ? "conduct" : "block")}";

    /// <inheritdoc/>
    public override string? Because() => Conducts
        ? string.Create(CultureInfo.InvariantCulture, $"A meter’s diode range sends {FittedTable.TestAmps * 1000:0} mA. At that the junction and what lies in series with it drop {Passes()}, with {SpreadVolts:0.##} V either way for the part and its temperature.")
        : "In this direction the diode blocks, and no other way leads around it: the meter shows over range.";

    /// <inheritdoc/>
    public override string Complaint() => Conducts ? $"The diode between {Red} and {Black} does not conduct as it should" : $"The diode between {Red} and {Black} does not block";

    /// <inheritdoc/>
    public override bool AsksTheSameAs(PlanStep earlier) => earlier is DiodeStep && Probes == earlier.Probes;
}
