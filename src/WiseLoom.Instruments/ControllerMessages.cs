using System.Text.Json;
using System.Text.Json.Nodes;
using WiseLoom.Core.Devices;
using WiseLoom.Core.PowerUp;

namespace WiseLoom.Instruments;

/// <summary>How the lines of a controller are written: one object each way, each on one line.</summary>
internal static class ControllerMessages
{
    /// <summary>Longest line either way, bytes.</summary>
    internal const int LongestLine = 1 << 20;

    internal static JsonObject Of(LiveValue value) => new()
    {
        ["channel"] = value.Channel, ["pin"] = value.Pin, ["volts"] = value.Volts, ["value"] = value.Value, ["unit"] = value.Unit,
    };

    internal static LiveValue Live(JsonObject o) => new(Text(o, "channel"), Text(o, "pin"), Number(o, "volts"), o["value"] is { } v ? v.GetValue<double>() : null, Text(o, "unit"));

    internal static JsonObject Of(ControllerSetting setting) => new() { ["name"] = setting.Name, ["value"] = setting.Number is { } n ? JsonValue.Create(n) : JsonValue.Create(setting.Text) };

    internal static ControllerSetting Setting(JsonObject o) => o["value"] is JsonValue value && value.GetValueKind() == JsonValueKind.Number
        ? ControllerSetting.Of(Text(o, "name"), value.GetValue<double>()) : ControllerSetting.Of(Text(o, "name"), Text(o, "value"));

    internal static string Text(JsonObject o, string field) => o[field] is JsonValue v && v.GetValueKind() == JsonValueKind.String ? v.GetValue<string>() : throw new ControllerException($"The controller’s answer has no text ‘{field}’.");

    internal static double Number(JsonObject o, string field) => o[field] is JsonValue v && v.GetValueKind() == JsonValueKind.Number ? v.GetValue<double>() : throw new ControllerException($"The controller’s answer has no number ‘{field}’.");

    internal static IEnumerable<JsonObject> Objects(JsonObject o, string field) => o[field] is JsonArray list ? list.OfType<JsonObject>() : throw new ControllerException($"The controller’s answer has no list ‘{field}’.");
}
