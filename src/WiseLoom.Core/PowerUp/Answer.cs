using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace WiseLoom.Core.PowerUp;

/// <summary>What was seen at a check: the only thing that a person says.</summary>
/// <remarks>Written as JSON with <c>kind</c> and the fields of the record.</remarks>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(MeasuredAnswer), "measured")]
[JsonDerivedType(typeof(SeenAnswer), "seen")]
[JsonDerivedType(typeof(OthersAnswer), "others")]
public abstract record Answer;

/// <summary>A figure, in the unit of the check.</summary>
/// <param name="Value">Volts, amperes or ohms; null for over range.</param>
public sealed record MeasuredAnswer(double? Value) : Answer;

/// <summary>An outcome.</summary>
public sealed record SeenAnswer(Outcome Outcome) : Answer;

/// <summary>Other devices than the one that should have moved, or others besides.</summary>
/// <param name="Devices">Refs of those that moved; 1 to 40.</param>
public sealed record OthersAnswer(ImmutableArray<string> Devices) : Answer
{
    /// <summary>Equal when the same devices stand in it.</summary>
    public bool Equals(OthersAnswer? other) => other is not null && Devices.SequenceEqual(other.Devices);

    /// <inheritdoc/>
    public override int GetHashCode() => Devices.Length;
}
