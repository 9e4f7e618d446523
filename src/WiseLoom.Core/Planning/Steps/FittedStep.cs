using System.Text.Json.Serialization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning.Steps;

/// <summary>A reading through devices that are plugged in.</summary>
/// <param name="Expected">What copper, contacts and devices explain, ohms.</param>
/// <param name="Devices">Titles of the devices it reads through, in words.</param>
/// <param name="NoticedOhms">Smallest added resistance that the run's meter surely notices; null when it notices none.</param>
/// <inheritdoc cref="PlanStep"/>
public sealed record FittedStep(
    int Number, ProbePoint Black, ProbePoint? Red, OhmRange Expected, Limits Limits, double Seconds, double? NoticedOhms, string? Circuit, string Devices)
    : PlanStep(Number, Black, Red, Limits, Seconds, Circuit)
{
    /// <summary>The kind in files.</summary>
    public const string Word = "fitted";

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Kind => Word;

    /// <inheritdoc/>
    [JsonIgnore]
    public override string MustBe => $"through {Devices}";

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Sign => "≈";

    /// <inheritdoc/>
    [JsonIgnore]
    public override StepPhase Phase => StepPhase.Fitted;

    /// <inheritdoc/>
    [JsonIgnore]
    public override OhmRange? Explained => Expected;

    /// <inheritdoc/>
    [JsonIgnore]
    public override double? Noticed => NoticedOhms;

    /// <inheritdoc/>
    public override Reading ReadingOf(double? shown) => Resistance(shown);

    /// <summary>Null: a device lies in the way, so it tells nothing of the metal alone.</summary>
    public override Reading? AsPair(Reading reading) => null;

    /// <inheritdoc/>
    public override string? Setup() => $"{Devices} plugged in, everything without power";

    /// <inheritdoc/>
    public override string Complaint() => $"{Black} to {Red} does not read {Devices} as it should";
}
