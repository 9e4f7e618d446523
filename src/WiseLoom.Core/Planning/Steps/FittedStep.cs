using System.Collections.Immutable;
using System.Text.Json.Serialization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning.Steps;

/// <summary>A reading through devices that are plugged in.</summary>
/// <param name="Expected">What copper, contacts and devices explain, ohms.</param>
/// <param name="Devices">Titles of the devices it reads through, in words.</param>
/// <param name="Wires">Ids of the wires on the way.</param>
/// <param name="NoticedOhms">Smallest added resistance that the run's meter surely notices; null when it notices none.</param>
/// <inheritdoc cref="PlanStep"/>
public sealed record FittedStep(
    int Number, ProbePoint Black, ProbePoint? Red, OhmRange Expected, Limits Limits, double Seconds, double? NoticedOhms, string? Circuit, string Devices, ImmutableArray<string> Wires)
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

    /// <summary>When hands were on any net that its way leads through.</summary>
    public override bool ChangedBy(FixReach reach)
    {
        ArgumentNullException.ThrowIfNull(reach);
        return base.ChangedBy(reach) || Wires.Any(reach.InNetOf);
    }

    /// <summary>Equal when every field is.</summary>
    public bool Equals(FittedStep? other) =>
        other is not null && base.Equals(other) && Expected == other.Expected && NoticedOhms.Equals(other.NoticedOhms) && Devices == other.Devices && Wires.SequenceEqual(other.Wires);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(base.GetHashCode(), Expected, Devices);

    /// <inheritdoc/>
    public override string? Because() => $"With {Devices} plugged in and everything without power, copper, contacts and devices on the way add up to {Say.Ohms(Expected.Nominal)}. Their tolerances, and the temperature of the bench, make that {Passes()}.";

    /// <inheritdoc/>
    public override string Complaint() => $"{Black} to {Red} does not read {Devices} as it should";
}
