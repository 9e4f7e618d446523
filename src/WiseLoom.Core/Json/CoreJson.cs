using System.Text.Json;
using System.Text.Json.Serialization;

namespace WiseLoom.Core.Json;

/// <summary>How plans, events and packs are written as JSON: camel case, words for enumerations, <c>"Infinity"</c> for no upper limit.
/// A field may stand once only; <c>kind</c> may stand anywhere, since a database keeps no order of fields.</summary>
public static class CoreJson
{
    /// <summary>The one set of options.</summary>
    public static JsonSerializerOptions Options { get; } = new(JsonSerializerDefaults.Web)
    {
        NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        AllowOutOfOrderMetadataProperties = true,
        AllowDuplicateProperties = false,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower) },
    };
}
