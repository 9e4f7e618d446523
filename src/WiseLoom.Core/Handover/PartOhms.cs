using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Handover;

/// <summary>What a part measures by itself, through its own plug: with the loom's plug off, an ohmmeter between two of the part's pins.</summary>
internal static class PartOhms
{
    /// <summary>Less is nothing for a customer’s meter, ohms.</summary>
    private const double LeastOhm = 1;

    /// <summary>By pin of the loom, in words: <c>12.0 Ω to INJ1:2</c>; pins whose part has no resistance that tells anything are left out.</summary>
    internal static Dictionary<ProbePoint, string> Of(Loom loom, double ambientC)
    {
        var at = new RestingState(ambientC, 0, new HashSet<string>(), WiperSetting.Rest);
        var found = new Dictionary<ProbePoint, List<string>>();
        foreach (var device in loom.Devices.Where(d => d.Model is LoadModel or NtcModel or PotModel or RelayModel && d.IsFitted))
        {
            foreach (var part in device.Model!.AtRest(at).Where(p => p.Diode is null && p.Middle is null))
            {
                if (ProbePoint.TryParse(device.Joint(part.From), out var a) && ProbePoint.TryParse(device.Joint(part.To), out var b) && a.Connector == b.Connector && a != b && part.Ohm.Nominal >= LeastOhm)
                {
                    Add(a, $"{Say.Ohms(part.Ohm.Nominal)} – {b}");
                    Add(b, $"{Say.Ohms(part.Ohm.Nominal)} – {a}");
                }
            }
        }

        return found.ToDictionary(f => f.Key, f => Words.Of($"the part itself, plug off: {string.Join(", ", f.Value.Distinct().Take(3))}"));

        void Add(ProbePoint point, string words)
        {
            if (!found.TryGetValue(point, out var all))
            {
                found[point] = all = [];
            }

            all.Add(words);
        }
    }
}
