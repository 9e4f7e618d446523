using System.Text.Json.Serialization;

namespace WiseLoom.Core.Electrical;

/// <summary>What a reading is in.</summary>
public enum ReadingUnit
{
    /// <summary>Resistance, ohms.</summary>
    Ohm,

    /// <summary>A drop, volts.</summary>
    Volt,

    /// <summary>A force, newtons.</summary>
    Newton,

    /// <summary>What an eye found: 1 for as it should be, 0 for not.</summary>
    Sight,
}

/// <summary>How units are named in files and requests.</summary>
public static class ReadingUnits
{
    /// <summary>The field that a value in this unit stands in.</summary>
    public static string Field(this ReadingUnit unit) => unit switch { ReadingUnit.Volt => "volts", ReadingUnit.Newton => "newtons", ReadingUnit.Sight => "asItShould", _ => "ohms" };
}

/// <summary>What a meter, a gauge or an eye showed.</summary>
/// <param name="Value">In <paramref name="Unit"/>; null when a meter showed over range.</param>
/// <remarks>Written as JSON with <c>value</c> and <c>unit</c>; the older form, <c>ohms</c> with <c>volts</c> beside it for a drop, is read too.</remarks>
[JsonConverter(typeof(ReadingJson))]
public readonly record struct Reading(double? Value, ReadingUnit Unit = ReadingUnit.Ohm)
{
    /// <summary>The meter showed that the value is beyond its highest range.</summary>
    public static Reading OverRange => new(null);

    /// <summary>No value was shown.</summary>
    public bool IsOverRange => Value is null;

    /// <summary>The resistance, ohms; null for over range and for all that is no resistance.</summary>
    public double? Ohms => Unit == ReadingUnit.Ohm ? Value : null;

    /// <summary>As a person reads it; <c>over range</c> when the meter showed no value.</summary>
    public string InWords() => (Value, Unit) switch
    {
        (null, _) => Words.Text("over range"),
        ({ } volts, ReadingUnit.Volt) => Say.Drop(volts),
        ({ } newtons, ReadingUnit.Newton) => Say.Newtons(newtons),
        ({ } seen, ReadingUnit.Sight) => seen > 0.5 ? "as it should be" : "not as it should be",
        ({ } ohms, _) => Say.Ohms(ohms),
    };
}
