using System.Text.Json;
using System.Text.Json.Serialization;

namespace WiseLoom.Core.Planning;

/// <summary>How plans, faults and packs are written as JSON: camel case, words for enumerations, <c>"Infinity"</c> for no upper limit.</summary>
public static class PlanJson
{
    public static JsonSerializerOptions Options { get; } = new(JsonSerializerDefaults.Web)
    {
        NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower) },
    };
}
