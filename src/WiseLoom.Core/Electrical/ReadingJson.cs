using System.Text.Json;
using System.Text.Json.Serialization;

namespace WiseLoom.Core.Electrical;

/// <summary>A reading as stored events and packs keep it.</summary>
internal sealed class ReadingJson : JsonConverter<Reading>
{
    /// <inheritdoc/>
    public override Reading Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        var kept = JsonSerializer.Deserialize<Kept>(ref reader, options) ?? throw new JsonException("A reading is an object with value and unit.");
        return kept.Unit is { } unit ? new(kept.Value, unit)
            : kept.Volts is { } volts ? new(volts, ReadingUnit.Volt)
            : new(kept.Ohms);
    }

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, Reading value, JsonSerializerOptions options) =>
        JsonSerializer.Serialize(writer, new Kept(value.Value, value.Unit, null, null), options);

    /// <param name="Ohms">Only in rows from before readings had a unit.</param>
    /// <param name="Volts">The same, for a drop.</param>
    private sealed record Kept(double? Value, ReadingUnit? Unit, double? Ohms, double? Volts);
}
