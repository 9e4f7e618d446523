using System.Text.Json;
using System.Text.Json.Serialization;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Sightings;

/// <summary>A cavity as loom files write it: <c>INJ1:1</c>.</summary>
public sealed class PointAsText : JsonConverter<ProbePoint>
{
    /// <inheritdoc/>
    public override ProbePoint Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        reader.TokenType == JsonTokenType.String && ProbePoint.TryParse(reader.GetString(), out var point) ? point : throw new JsonException("A place is written CONNECTOR:CAVITY.");

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, ProbePoint value, JsonSerializerOptions options) => writer.WriteStringValue(value.ToString());
}
