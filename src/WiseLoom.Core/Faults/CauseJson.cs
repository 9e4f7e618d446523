using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace WiseLoom.Core.Faults;

/// <summary>A cause as stored events keep it.</summary>
internal sealed class CauseJson : JsonConverter<Cause>
{
    /// <inheritdoc/>
    public override Cause Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        var kept = JsonSerializer.Deserialize<Kept>(ref reader, options) ?? throw new JsonException("A cause is an object with faults and a sentence.");
        return new(kept.Faults ?? (kept.Fault is { } one ? [one] : []), kept.Probability, kept.Sentence, kept.Places);
    }

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, Cause value, JsonSerializerOptions options) =>
        JsonSerializer.Serialize(writer, new Kept(value.Faults, value.Probability, value.Sentence, value.Places, null), options);

    /// <param name="Fault">Only in rows from before a cause could be two faults.</param>
    private sealed record Kept(
        ImmutableArray<Fault>? Faults, double? Probability, string Sentence, ImmutableArray<string> Places, [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] Fault? Fault);
}
