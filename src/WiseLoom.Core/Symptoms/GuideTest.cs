using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Symptoms;

/// <summary>Something that a reader can do, and what each break would answer to it.</summary>
/// <param name="Do">In words.</param>
/// <param name="Minutes">What it takes.</param>
/// <param name="Answers">By break: the answer, in words.</param>
internal sealed record GuideTest(string Do, double Minutes, Func<BreakEffect, string> Answers)
{
    /// <summary>Where a meter is held, and with the key where; null for what is looked at.</summary>
    internal (ProbePoint At, KeyPosition Key)? Measured { get; init; }
}

/// <summary>All that a reader can do about some suspects: press the plugs, look at the fuses and rings, see which one works, hold a meter somewhere.</summary>
internal sealed class GuideTests(BreakEffects effects)
{
    /// <summary>So many plugs are pressed in one go.</summary>
    private const int MostAtOnce = 12;

    private static readonly ImmutableArray<KeyPosition> Held = [KeyPosition.On, KeyPosition.Start, KeyPosition.Off];

    internal IEnumerable<GuideTest> For(IReadOnlyList<BreakEffect> suspects)
    {
        var loom = effects.Loom;
        foreach (var kind in suspects.Where(s => s.Break.Look(loom) is not null).GroupBy(s => Kind(s.Break)))
        {
            foreach (var some in kind.OrderByDescending(s => s.Break.Weight).Chunk(MostAtOnce))
            {
                yield return new(Looking(kind.Key, some), some.Sum(s => s.Break.Minutes(loom)) * 0.6, e => some.Contains(e) ? e.Break.Title(loom) : Words.Text("All are as they should be"));
            }
        }

        foreach (var key in new[] { KeyPosition.On, KeyPosition.Start, KeyPosition.Running })
        {
            var there = effects.There((int)key).ToList();
            foreach (var use in there.GroupBy(f => UseOf(f.Device)))
            {
                var devices = use.Select(f => f.Device).ToList();
                var verb = use.First().Function();
                yield return new(
                    $"{Turn(key)} {(devices.Count == 1 ? Words.Of($"Does {TitleOf(devices[0])} work?") : Words.Of($"Which of these do nothing: {string.Join(", ", devices.Select(TitleOf))}? {verb}"))}",
                    key == KeyPosition.Running ? 3 : 1,
                    e => Missing(devices, SymptomKinds.Lost(e, (int)key, effects)));
            }
        }

        foreach (var key in Held)
        {
            foreach (var place in suspects.SelectMany(s => s.Volts[(int)key].Where(v => Differs(v.Value, effects.Sound.Volts[(int)key].GetValueOrDefault(v.Key))).Select(v => v.Key)).Distinct().Order(ByName).Take(60))
            {
                yield return new(
                    $"{Turn(key)} {Words.Of($"Measure {place} from behind, plug on, against the battery’s negative post ({Say.Volts(effects.Sound.Volts[(int)key][place])} are right).")}", 4,
                    e => Class(e.Volts[(int)key].GetValueOrDefault(place))) { Measured = (place, key) };
            }
        }
    }

    private static Comparer<ProbePoint> ByName { get; } = Comparer<ProbePoint>.Create((a, b) => NaturalOrder.Comparer.Compare(a.ToString(), b.ToString()));

    private string Class(double volts) => volts > 0.65 * effects.Loom.SupplyVolts ? Words.Of($"More than {Say.Volts(0.65 * effects.Loom.SupplyVolts)}")
        : volts < 0.2 * effects.Loom.SupplyVolts ? Words.Of($"Less than {Say.Volts(0.2 * effects.Loom.SupplyVolts)}") : Words.Text("Something between");

    private bool Differs(double a, double b) => Class(a) != Class(b);

    private static string Turn(KeyPosition key) => key switch
    {
        KeyPosition.Off => Words.Text("Key off."),
        KeyPosition.On => Words.Text("Key on, engine still."),
        KeyPosition.Start => Words.Text("Gear out, nobody at the belts: key at start, three seconds."),
        _ => Words.Text("Let the engine run, if it does."),
    };

    private string Missing(List<string> devices, HashSet<string> lost)
    {
        var missing = devices.Where(lost.Contains).ToList();
        return missing.Count == 0 ? devices.Count == 1 ? Words.Text("It works") : Words.Text("All work") : missing.Count == devices.Count && devices.Count > 1 ? Words.Text("None works") : Words.Of($"Nothing from {string.Join(", ", missing.Select(TitleOf))}");
    }

    private string TitleOf(string device) => effects.Loom.Devices.First(d => d.Ref == device).Title;

    private string UseOf(string device) => effects.Loom.Devices.First(d => d.Ref == device).Model is LoadModel { Use: "injector" or "coil" } load ? load.Use : device;

    private string Kind(Break broken) => broken switch
    {
        Blown => "fuse",
        Exchanged => "exchanged",
        NotFitted => "relay",
        Unplugged off => effects.Loom.Connector(off.Connector).Family.Kind switch { HousingKind.Ring => "ring", HousingKind.Tail => "tail", _ => "plug" },
        _ => "other",
    };

    private string Looking(string kind, BreakEffect[] some)
    {
        if (kind == "exchanged")
        {
            return Words.Of($"Key off. Read the labels of {string.Join(", ", some.Select(s => string.Join('/', s.Break.Places)))}, and follow each to its place. Is each plug in its own?");
        }

        var names = string.Join(", ", some.SelectMany(s => s.Break.Places).Select(p => effects.Loom.Devices.FirstOrDefault(d => d.Ref == p)?.Title ?? p));
        return kind switch
        {
            "fuse" => Words.Of($"Key off. Pull and look through: {names}. Is each whole, and of the rating that the card says?"),
            "relay" => Words.Of($"Key off. Push home, then change for one of the same kind: {names}. Does it work with one of them?"),
            "ring" => Words.Of($"Key off. Try by hand and with a spanner: {names}. Is each tight on bare metal?"),
            "tail" => Words.Of($"Key off. Pull at the joints of {names}. Do they hold?"),
            _ => Words.Of($"Key off. Press and pull at {(some.Length == 1 ? Words.Text("plug") : Words.Text("the plugs"))} {names}. Home and latched?"),
        };
    }
}

/// <summary>How one notices that a group works.</summary>
internal static class Noticing
{
    internal static string Function(this States.FunctionState f) => f.Name.EndsWith("fires", StringComparison.Ordinal) ? Words.Text("A finger or a screwdriver at each feels or hears it.") : "";
}
