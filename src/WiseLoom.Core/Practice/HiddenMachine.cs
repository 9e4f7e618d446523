using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Practice;

/// <summary>What is wrong with a simulated engine and its controller, besides their loom.</summary>
/// <param name="Faults">Of the loom and its devices.</param>
/// <param name="Settings">Of the controller, by name: values that are not those the loom needs.</param>
/// <param name="Fuses">By ref of the fuse: the rating that really sits in its holder, amperes.</param>
/// <param name="Triggers">Of the toothed wheels.</param>
public sealed record HiddenMachine(
    ImmutableArray<Fault> Faults, ImmutableSortedDictionary<string, ControllerSetting> Settings, ImmutableSortedDictionary<string, double> Fuses, TriggerTrouble Triggers)
{
    /// <summary>Nothing is wrong.</summary>
    public static HiddenMachine Nothing { get; } = new([], ImmutableSortedDictionary<string, ControllerSetting>.Empty, ImmutableSortedDictionary<string, double>.Empty, default);

    /// <summary>Faults of the loom alone.</summary>
    public static HiddenMachine With(params IEnumerable<Fault> faults) => Nothing with { Faults = [.. faults] };

    /// <summary>Reads <c>{"faults":[…],"settings":{"cylinders":6},"fuses":{"fuse-a6":25},"camTeeth":1,"noise":0.02}</c>, or a plain list of faults.</summary>
    /// <returns>What is wrong with it; the machine is null when anything is.</returns>
    public static (HiddenMachine? Machine, string? Wrong) Read(string json, Loom loom)
    {
        ArgumentNullException.ThrowIfNull(loom);
        try
        {
            using var document = JsonDocument.Parse(json);
            var root = document.RootElement;
            if (root.ValueKind == JsonValueKind.Array)
            {
                return (With(FaultsOf(root)), null);
            }

            if (root.ValueKind != JsonValueKind.Object)
            {
                return (null, "A list of faults is needed, or an object with faults, settings, fuses, camTeeth and noise.");
            }

            var machine = new HiddenMachine(
                root.TryGetProperty("faults", out var faults) ? [.. FaultsOf(faults)] : [],
                root.TryGetProperty("settings", out var settings) ? settings.EnumerateObject().ToImmutableSortedDictionary(s => s.Name, s => Setting(s.Name, s.Value), StringComparer.Ordinal) : Nothing.Settings,
                root.TryGetProperty("fuses", out var fuses) ? fuses.EnumerateObject().ToImmutableSortedDictionary(f => f.Name, f => f.Value.GetDouble(), StringComparer.Ordinal) : Nothing.Fuses,
                new(root.TryGetProperty("camTeeth", out var cam) ? cam.GetDouble() : 0, root.TryGetProperty("noise", out var noise) ? noise.GetDouble() : 0));
            return machine.Fuses.Keys.FirstOrDefault(f => loom.Devices.All(d => d.Ref != f || d.Model is not FuseModel)) is { } stranger ? (null, $"This loom has no fuse '{stranger}'.") : (machine, null);
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException or FormatException)
        {
            return (null, $"The faults cannot be read: {e.Message}");
        }
    }

    private static List<Fault> FaultsOf(JsonElement list) => [.. list.EnumerateArray().Select(f => JsonSerializer.Deserialize<Fault>(f.GetRawText(), CoreJson.Options)!)];

    private static ControllerSetting Setting(string name, JsonElement value) =>
        value.ValueKind == JsonValueKind.Number ? ControllerSetting.Of(name, value.GetDouble()) : ControllerSetting.Of(name, value.GetString() ?? "");

    /// <summary>A rating as a fuse has it printed.</summary>
    internal static string Printed(double amps) => string.Create(CultureInfo.InvariantCulture, $"{amps:0.##} A");
}
