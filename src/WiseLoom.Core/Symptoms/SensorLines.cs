using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Symptoms;

/// <summary>The metal between each sensor's pins and the controllers: a sensor without one of its lines tells nothing, whether or not any current says so.</summary>
internal sealed class SensorLines
{
    private readonly ImmutableArray<(string Sensor, ImmutableArray<string> Pins)> sensors;
    private readonly ImmutableArray<string> controllers;

    internal SensorLines(AsBuilt sound)
    {
        var loom = sound.Drawn;
        controllers = [.. loom.Devices.Where(d => d.Model is ControllerModel).SelectMany(d => d.Pins.Values).Select(p => p.ToString())];
        var joined = Joined(sound);
        sensors =
        [
            .. loom.Devices.Where(d => d.Trigger is not null || d.Model is TransducerModel or NtcModel or PotModel or LoadModel { Verb.Length: 0 })
                .Select(d => (d.Ref, Pins: d.Pins.Values.Select(p => p.ToString()).Where(p => Reaches(joined, p)).ToImmutableArray())).Where(s => !s.Pins.IsEmpty),
        ];
    }

    /// <summary>Sensors of which a line no longer reaches any controller.</summary>
    internal ImmutableArray<string> CutOffBy(AsBuilt broken)
    {
        var joined = Joined(broken);
        return [.. sensors.Where(s => s.Pins.Any(p => !Reaches(joined, p))).Select(s => s.Sensor)];
    }

    private bool Reaches(Dictionary<string, string> joined, string pin) => Root(joined, pin) is var root && controllers.Any(c => c != pin && Root(joined, c) == root);

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
