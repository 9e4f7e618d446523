using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Symptoms;

/// <summary>The metal between the pins of each sensor and switch and the controllers or rings: one without one of its lines tells nothing, whether or not any current says so.</summary>
internal sealed class SensorLines
{
    private readonly ImmutableArray<(string Sensor, ImmutableArray<string> Pins)> sensors;
    private readonly ImmutableArray<string> controllers, rings;

    internal SensorLines(AsBuilt sound)
    {
        var loom = sound.Drawn;
        controllers = [.. loom.Devices.Where(d => d.Model is ControllerModel).SelectMany(d => d.Pins.Values).Select(p => p.ToString())];
        rings = [.. loom.Connectors.Where(c => c.Family.Kind == HousingKind.Ring).SelectMany(c => c.Family.Cavities.Select(k => $"{c.Ref}:{k}"))];
        var joined = Joined(sound);
        sensors =
        [
            .. loom.Devices.Where(d => d.Trigger is not null || d.Model is TransducerModel or NtcModel or PotModel or SwitchModel or LoadModel { Verb.Length: 0 })
                .Select(d => (d.Ref, Pins: d.Pins.Values.Select(p => p.ToString()).ToList())).Where(s => s.Pins.Exists(p => Reaches(joined, p, controllers)))
                .Select(s => (s.Ref, s.Pins.Where(p => Reaches(joined, p)).ToImmutableArray())),
        ];
    }

    /// <summary>Whether a device is among those that tell a controller something.</summary>
    internal bool Has(string device) => sensors.Any(s => s.Sensor == device);

    /// <summary>Sensors of which a line no longer reaches any controller.</summary>
    internal ImmutableArray<string> CutOffBy(AsBuilt broken)
    {
        var joined = Joined(broken);
        return [.. sensors.Where(s => s.Pins.Any(p => !Reaches(joined, p))).Select(s => s.Sensor)];
    }

    private bool Reaches(Dictionary<string, string> joined, string pin) => Reaches(joined, pin, controllers) || Reaches(joined, pin, rings);

    private static bool Reaches(Dictionary<string, string> joined, string pin, ImmutableArray<string> ends) => Root(joined, pin) is var root && ends.Any(c => c != pin && Root(joined, c) == root);

    private static Dictionary<string, string> Joined(AsBuilt built)
    {
        var joined = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var metal in built.Conductors)
        {
            joined[Root(joined, metal.From)] = Root(joined, metal.To);
        }

        return joined;
    }

    private static string Root(Dictionary<string, string> joined, string place)
    {
        while (joined.TryGetValue(place, out var next) && next != place)
        {
            place = next;
        }

        return place;
    }
}
