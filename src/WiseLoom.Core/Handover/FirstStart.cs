using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Symptoms;

namespace WiseLoom.Core.Handover;

/// <summary>What the customer does before and at the first start, with what this loom then shows.</summary>
internal static class FirstStart
{
    internal static ImmutableArray<string> Of(BreakEffects effects)
    {
        string There(KeyPosition key)
        {
            var all = effects.There((int)key).ToList();
            var cylinders = all.Where(f => IsOfCylinder(effects, f.Device)).Select(f => f.Device).ToHashSet(StringComparer.Ordinal);
            return string.Join(", ", all.Where(f => !cylinders.Contains(f.Device)).Select(f => FunctionName.Of(effects.Loom.Devices.First(d => d.Ref == f.Device))).Concat(cylinders.Count > 0 ? [Words.Of($"all {cylinders.Count} injectors and coils work in their turn")] : []));
        }

        string Seen(KeyPosition key) => There(key) is { Length: > 0 } words ? Words.Of($"{words}. Nothing else does.") : Words.Text("nothing is seen yet.");
        return
        [
            Words.Text("Battery off. Every connector of the walk is home and latched, every ring is bolted to bare metal, every tail is joined or closed off."),
            Words.Text("Every fuse is in its holder with the rating of the card."),
            Words.Text("Fuel lines are tight, an extinguisher is at hand, nobody stands at belts, fan or propeller."),
            Words.Text("First power through a fuse of a few amperes, or a limited supply, with the key off: it must not blow, and nothing may work."),
            Words.Of($"Key on, engine still: {Seen(KeyPosition.On)}"),
            Words.Of($"Crank for three seconds with the fuel pump’s fuse out: {Seen(KeyPosition.Start)}"),
            Words.Text("Look at oil pressure, then put the pump’s fuse back, and look for leaks while it runs."),
            Words.Of($"Start. Running: {Seen(KeyPosition.Running)}"),
            Words.Text("Let it run short without coolant, then fill up and let it come to temperature. Look again at every connector near heat and belts."),
            Words.Text("Read the controller’s codes. Each that is stored has its reason in this pack, or is told to the shop."),
        ];
    }

    private static bool IsOfCylinder(BreakEffects effects, string device) => effects.Loom.Devices.Any(d => d.Ref == device && d.Model is LoadModel { Use: "injector" or "coil" });
}
